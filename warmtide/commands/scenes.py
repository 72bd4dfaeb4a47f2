"""What `warmtide scene` does."""

import json
import re
import sys
import time
from pathlib import Path

import numpy as np

from ..core.model.errors import BadInput
from ..core.pictures.image import decode, png
from ..core.scenes.layout import layout_of
from ..core.scenes.registry import places
from ..core.scenes.scene import draw_scene
from ..core.scenes.words import read_scene

_SIZES = (64, 2048)


def _size(text: str) -> tuple[int, int]:
    """Width and height from `768x512`, or one number for a square."""
    found = re.fullmatch(r"(\d+)(?:x(\d+))?", text.strip())
    if found is None:
        raise BadInput(f"{text!r} is not a size; write width x height in pixels, like 768x512.")
    width, height = int(found[1]), int(found[2] or found[1])
    if not all(_SIZES[0] <= side <= _SIZES[1] for side in (width, height)):
        raise BadInput(f"{width} x {height} is out of reach; both sides go from {_SIZES[0]} to {_SIZES[1]} pixels.")
    return width, height


def scene(words: str, out: Path, size: str, seed: int, layout: Path | None, as_json: bool) -> None:
    """Draw a scene and write it as PNG."""
    width, height = _size(size)
    if seed < 0:
        raise BadInput(f"The seed is {seed}; it is a whole number from 0.")
    reading = read_scene(words)
    if reading.asked is None:
        named = ", ".join(place.words[0] for place in places().values())
        raise BadInput(f"No place is named in {words!r}; name one, such as {named}.")
    guide = None
    if layout is not None:
        try:
            rgba = decode(layout.read_bytes(), max(width, height)).rgba.astype(np.float32) / 255
        except OSError as error:
            raise BadInput(f"{layout} can't be read ({error.strerror}); name a picture file.") from None
        guide = layout_of((rgba[..., :3] * rgba[..., 3:] + (1 - rgba[..., 3:])).astype(np.float32))
    began = time.monotonic()
    drawn = draw_scene(reading.asked, height, width, seed, guide)
    seconds = time.monotonic() - began
    try:
        out.parent.mkdir(parents=True, exist_ok=True)
        out.write_bytes(png(drawn.bytes()))
    except OSError as error:
        raise BadInput(f"{out} can't be written ({error.strerror}); name a place that can.") from None
    if as_json:
        said = {
            "place": reading.asked.place, "time": reading.asked.time, "sky": reading.asked.sky, "seconds": round(seconds, 3),
            "attempts": drawn.attempts, "understood": {phrase: list(means) for phrase, means in reading.understood},
            "conflicts": list(reading.conflicts),
        }  # fmt: skip
        print(json.dumps(said))
        return
    for phrase, means in reading.understood:
        print(f"{phrase} = {', '.join(means)}", file=sys.stderr)
    for conflict in reading.conflicts:
        print(conflict, file=sys.stderr)
