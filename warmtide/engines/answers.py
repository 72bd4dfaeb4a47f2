"""What engines answer, read as what it may be: hostile."""

import io

import numpy as np
from PIL import Image
from pydantic import ValidationError

from ..core.maths.arrays import Byte
from ..core.model.engine import About
from ..core.model.errors import BadInput
from ..core.model.recipe import BUILT_IN
from .protocol import PROTOCOL, SENTENCE

_PNG = b"\x89PNG\r\n\x1a\n"
_MODES = {"RGB", "L", "P"}


def about_from(data: bytes) -> About:
    """What an engine says of itself, or `BadInput` with what is wrong with it, to stand behind the engine's address."""
    try:
        about = About.model_validate_json(data)
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(str(part) for part in first["loc"])
        raise BadInput(
            f"says of itself what can't be read: {where + ': ' if where else ''}{first['msg'].removeprefix('Value error, ')}"
        ) from None
    if about.protocol != PROTOCOL:
        raise BadInput(f"speaks version {about.protocol} of the protocol; this program speaks {PROTOCOL}")
    if about.name == BUILT_IN:
        raise BadInput(f"calls itself {BUILT_IN!r}, which is the program's own engine; give it another name")
    return about


def sentence_from(text: str) -> str:
    """A failure's sentence as it may be shown: one line, not too long, with a full stop."""
    line = " ".join("".join(c if c.isprintable() else " " for c in text).split())
    line = line if len(line) <= SENTENCE else f"{line[: SENTENCE - 4]} ..."
    return line if line.endswith((".", "!", "?")) else f"{line}."


def picture_from(kind: str, data: bytes, height: int, width: int) -> Byte:
    """The picture (height, width, 3) uint8 that an engine has answered with, or `BadInput` with what is wrong with it.

    Only the header is read before type and size are known to be right, so that no small file unpacks to a large one.
    """
    if kind.partition(";")[0].strip().lower() != "image/png" or not data.startswith(_PNG):
        raise BadInput(f"answered with {kind or 'something'} that is no PNG")
    try:
        image = Image.open(io.BytesIO(data), formats=("PNG",))
    except Exception:
        raise BadInput("answered with a PNG that can't be read") from None
    if image.size != (width, height):
        raise BadInput(f"answered with {image.width} x {image.height} px; {width} x {height} were asked for")
    if image.mode not in _MODES or "transparency" in image.info:
        raise BadInput(
            f"answered with a picture of the kind {image.mode}; 8 bit RGB without transparency is what is read"
        )
    try:
        return np.ascontiguousarray(np.asarray(image.convert("RGB"), np.uint8))
    except Exception:
        raise BadInput("answered with a PNG that is damaged or cut short") from None
