"""How pixels are made at another size. A new way is a new line here; the frame panel follows."""

from typing import Annotated, NamedTuple

import cv2
from pydantic import AfterValidator, Field


class Resampling(NamedTuple):
    """One way: its title, what it is good for, and OpenCV's number for it; None for what the program chooses."""

    title: str
    says: str
    how: int | None


RESAMPLINGS = {
    "auto": Resampling("Automatic", "area when it shrinks, Lanczos when it grows", None),
    "area": Resampling("Area", "photos made smaller: no shimmer", cv2.INTER_AREA),
    "lanczos": Resampling("Lanczos", "crisp; a faint rim at hard edges", cv2.INTER_LANCZOS4),
    "bicubic": Resampling("Bicubic", "a little softer, hardly any rim", cv2.INTER_CUBIC),
    "bilinear": Resampling("Bilinear", "soft", cv2.INTER_LINEAR),
    "nearest": Resampling("Nearest", "pixel art: nothing is mixed", cv2.INTER_NEAREST),
}


def _known(name: str) -> str:
    if name not in RESAMPLINGS:
        raise ValueError(f"there is no resampling {name[:60]!r}; use one of {', '.join(RESAMPLINGS)}")
    return name


# The name of a way.
Way = Annotated[str, AfterValidator(_known), Field(json_schema_extra={"enum": list(RESAMPLINGS)})]


def interpolation(name: str, shrinks: bool) -> int:
    """OpenCV's number for a way; `shrinks` where there will be fewer pixels."""
    chosen = RESAMPLINGS[name].how
    if chosen is None:
        return cv2.INTER_AREA if shrinks else cv2.INTER_LANCZOS4
    return chosen
