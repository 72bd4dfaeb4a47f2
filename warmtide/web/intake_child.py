"""Decodes files that may be hostile, one after another, with little memory and little time. Run by `intake`.

Asked on standard input: eight bytes of length, four of the long side that is enough, the file. Answers on standard
output: a line of JSON, {"refused": sentence} or the picture's facts, and then its pixels.
"""

import json
import resource
import signal
import struct
import sys
from pathlib import Path

from ..core.model.errors import BadInput
from ..core.pictures.image import decode

# 100 megapixels as the library holds them, and a file of 64 MB.
_MEGABYTES = 1000
_SECONDS = 5.0


def main() -> None:
    """Answer until nobody asks any more."""
    own = int(Path("/proc/self/statm").read_text().split()[0]) * resource.getpagesize()
    most = own + _MEGABYTES * 1_000_000
    resource.setrlimit(resource.RLIMIT_AS, (most, most))
    asked, answer = sys.stdin.buffer, sys.stdout.buffer
    while len(head := asked.read(12)) == 12:
        length, side = struct.unpack(">QI", head)
        data = asked.read(length)
        # Its own work, not the time that a busy machine takes for it; the signal ends the process.
        signal.setitimer(signal.ITIMER_PROF, _SECONDS)
        try:
            picture = decode(data, side)
        except BadInput as error:
            answer.write(json.dumps({"refused": str(error)}).encode() + b"\n")
        else:
            height, width = picture.rgba.shape[:2]
            facts = {
                "height": height, "width": width, "format": picture.format, "notes": picture.notes, "whole": picture.whole,
            }  # fmt: skip
            answer.write(json.dumps(facts).encode() + b"\n")
            answer.write(picture.rgba.tobytes())
        finally:
            signal.setitimer(signal.ITIMER_PROF, 0)
        answer.flush()
        del data


if __name__ == "__main__":
    main()
