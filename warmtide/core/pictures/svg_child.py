"""Draws one SVG in a process of its own, which has little memory and little time. Run as a program by `svg`.

Arguments: width, height, megabytes, seconds, the fonts' files; the SVG comes on standard input, the PNG goes to standard
output.
"""

import resource
import sys
from pathlib import Path

DPI = 96
SANS, SERIF = "Source Sans Pro", "Source Serif Pro"


def main(width: int, height: int, megabytes: int, seconds: int, fonts: list[str]) -> None:
    """Draw, or end without a picture."""
    import resvg_py

    own = int(Path("/proc/self/statm").read_text().split()[0]) * resource.getpagesize()
    most = own + megabytes * 1_000_000
    resource.setrlimit(resource.RLIMIT_AS, (most, most))
    resource.setrlimit(resource.RLIMIT_CPU, (seconds, seconds))
    drawn = resvg_py.svg_to_bytes(
        svg_string=sys.stdin.buffer.read().decode("utf-8"), width=width, height=height, dpi=DPI, skip_system_fonts=True,
        font_files=fonts, font_family=SANS, sans_serif_family=SANS, cursive_family=SANS, fantasy_family=SANS,
        monospace_family=SANS, serif_family=SERIF,
    )  # fmt: skip
    sys.stdout.buffer.write(bytes(drawn))


if __name__ == "__main__":
    width, height, megabytes, seconds = (int(text) for text in sys.argv[1:5])
    main(width, height, megabytes, seconds, sys.argv[5:])
