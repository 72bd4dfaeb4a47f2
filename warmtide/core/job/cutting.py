"""The subject of a picture cut out of it, as found and as the artist mended it."""

import numpy as np

from ..maths.arrays import Byte
from ..maths.sizes import smaller
from ..model.guides import Guides
from ..understanding.cut.cut_out import SURE_KINDS, WORKED, CutOut, cut_out
from ..understanding.subject import SAID, UNSAID


def cut_from(picture: Byte, guides: Guides) -> CutOut:
    """The subject of a picture (h, w, 3) as found, and as what was painted into it and out of it mends it; 1 to 3 s."""
    found = cut_out(picture)
    small = smaller(picture, WORKED)
    said = guides.at(*small.shape[:2]).subject
    if said is None:
        return found
    away = said.astype(np.int16) - UNSAID
    strokes = np.where(np.abs(away) > SAID, np.sign(away), 0)
    return cut_out(picture, strokes=strokes, known=found.mask if found.kind in SURE_KINDS else None)


def cut_pixels(found: CutOut) -> Byte:
    """A cut-out as a picture (h, w, 4) uint8."""
    alpha = np.clip(found.alpha * 255 + 0.5, 0, 255).astype(np.uint8)
    return np.dstack([found.colours, alpha])
