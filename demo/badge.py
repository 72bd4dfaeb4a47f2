"""Draw `badge.svg` and `badge.png`: the badge of the lantern walk, with a transparent ground."""

import math
import sys
from pathlib import Path

import resvg_py


def svg() -> str:
    """A lantern over the tide inside a scalloped ring."""
    deep, teal, lamp, glow, paper = "#14323a", "#2f8a86", "#eda84a", "#fbe0a8", "#f7f0e0"
    scallops = "".join(
        f'<circle cx="{256 + 206 * math.cos(a):.1f}" cy="{256 + 206 * math.sin(a):.1f}" r="27" fill="{deep}"/>'
        for a in (2 * math.pi * k / 24 for k in range(24))
    )
    rays = "".join(
        f'<path d="M256 196 L{256 + 172 * math.cos(a - 0.05):.1f} {196 + 172 * math.sin(a - 0.05):.1f} '
        f'L{256 + 172 * math.cos(a + 0.05):.1f} {196 + 172 * math.sin(a + 0.05):.1f} Z" fill="{glow}" opacity="0.55"/>'
        for a in (2 * math.pi * k / 16 for k in range(16))
    )
    wave = "M60 {y} c40 -34 78 -34 118 0 s78 34 118 0 s78 -34 118 0 s40 20 60 12 V480 H60 Z"
    return f"""<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 512 512">
<defs><clipPath id="disc"><circle cx="256" cy="256" r="184"/></clipPath></defs>
{scallops}<circle cx="256" cy="256" r="212" fill="{deep}"/>
<circle cx="256" cy="256" r="196" fill="{lamp}"/>
<g clip-path="url(#disc)"><rect x="60" y="60" width="392" height="392" fill="{paper}"/>{rays}
<path d="{wave.format(y=338)}" fill="{teal}"/><path d="{wave.format(y=378)}" fill="{deep}"/></g>
<path d="M238 96 h36 v22 h-36 z" fill="{deep}"/><path d="M206 118 h100 l22 34 h-144 z" fill="{deep}"/>
<path d="M190 152 h132 l-14 134 h-104 z" fill="{lamp}"/>
<path d="M220 164 h72 l-8 110 h-56 z" fill="{glow}"/>
<path d="M256 184 c26 34 20 62 0 76 c-20 -14 -26 -42 0 -76 z" fill="#d9542b"/>
<path d="M196 286 h120 v24 h-120 z" fill="{deep}"/></svg>
"""


if __name__ == "__main__":
    folder = Path(sys.argv[1])
    folder.joinpath("badge.svg").write_text(svg())
    drawn = resvg_py.svg_to_bytes(svg_string=svg(), width=768, height=768, skip_system_fonts=True)
    folder.joinpath("badge.png").write_bytes(bytes(drawn))
