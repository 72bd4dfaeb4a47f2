"""The plain ways: pixels between pixels, by the standard rules."""

from collections.abc import Callable

import cv2
import numpy as np

from ...maths.arrays import Byte
from ...pictures.resampling import interpolation
from .kind import Job, Way


def _resampled(name: str) -> Callable[[Job], Byte]:
    def of(job: Job) -> Byte:
        how = interpolation(name, shrinks=False)
        job.progress(0, 1)
        made = cv2.resize(job.picture, (job.width, job.height), interpolation=how)
        job.progress(1, 1)
        return np.asarray(made, np.uint8)

    return of


WAYS = (
    Way("lanczos", "Lanczos", "crisp; a faint rim at hard edges", _resampled("lanczos"), place=50),
    Way("bicubic", "Bicubic", "a little softer, hardly any rim", _resampled("bicubic"), place=51),
    Way("bilinear", "Bilinear", "soft", _resampled("bilinear"), place=52),
    Way("area", "Area", "every pixel a block, blocks mixed at their borders", _resampled("area"), place=53),
    Way("nearest", "Nearest", "pixel art: nothing is mixed", _resampled("nearest"), place=54),
)
