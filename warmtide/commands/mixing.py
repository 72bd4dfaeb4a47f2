"""Pictures mixed into one from the command line."""

from pathlib import Path

from ..core.model.errors import BadInput
from ..core.model.recipe import SIZES
from ..core.model.sweep import parse_values
from ..core.pictures.framing import Framing, frame
from ..core.pictures.image import png
from ..core.pictures.mix import mix as mix_pictures
from .files import read_picture, write_file


def mix(pictures: list[Path], out: Path, weights: str, size: int) -> None:
    """Mix pictures, the later ones cropped to the first one's shape."""
    given = [float(v) for v in parse_values(weights, "weights")] if weights else [1.0] * len(pictures)
    if not SIZES[0] <= size <= SIZES[1]:
        raise BadInput(f"The size is {size}; it is the long side in pixels, from {SIZES[0]} to {SIZES[1]}.")
    framed = [frame(read_picture(path).rgba, Framing(), size) for path in pictures]
    mixed = mix_pictures(framed, given)
    write_file(out, png(mixed))
    print(f"{out}: {mixed.shape[1]} x {mixed.shape[0]}")
