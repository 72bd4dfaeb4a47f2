"""Files that commands read and write, and what they say meanwhile."""

import sys
from pathlib import Path

from ..core.maths.arrays import Byte
from ..core.model.errors import BadInput
from ..core.pictures.framing import Framing, frame, original_side
from ..core.pictures.image import Picture, decode

# Enough to learn how large a picture is.
_PEEK = 64


def read_picture(path: Path, side: int | None = None) -> Picture:
    """A picture file, with at least `side` pixels where that is enough."""
    try:
        return decode(path.read_bytes(), side)
    except OSError as error:
        raise BadInput(f"{path} can't be read ({error.strerror}); name a picture file.") from None


def read_framed(path: Path, framing: Framing, size: int) -> tuple[Picture, Byte]:
    """A picture with pixels enough for a size, and framed at it: as the program reads sources, so that pixels and keys are the same."""
    whole = read_picture(path, _PEEK).whole
    picture = read_picture(path, original_side(*whole, framing, size))
    return picture, frame(picture.rgba, framing, size, picture.whole)


def write_file(path: Path, data: bytes) -> None:
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_bytes(data)
    except OSError as error:
        raise BadInput(f"{path} can't be written ({error.strerror}); name a place that can.") from None


def say(done: int, steps: int) -> None:
    if sys.stderr.isatty():
        print(f"\r{done} of {steps}", end="" if done < steps else "\n", file=sys.stderr, flush=True)
