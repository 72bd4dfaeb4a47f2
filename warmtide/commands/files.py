"""Files that commands read and write, and what they say meanwhile."""

import sys
from pathlib import Path

from ..core.model.errors import BadInput
from ..core.pictures.image import Picture, decode


def read_picture(path: Path) -> Picture:
    try:
        return decode(path.read_bytes())
    except OSError as error:
        raise BadInput(f"{path} can't be read ({error.strerror}); name a picture file.") from None


def write_file(path: Path, data: bytes) -> None:
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_bytes(data)
    except OSError as error:
        raise BadInput(f"{path} can't be written ({error.strerror}); name a place that can.") from None


def say(done: int, steps: int) -> None:
    if sys.stderr.isatty():
        print(f"\r{done} of {steps}", end="" if done < steps else "\n", file=sys.stderr, flush=True)
