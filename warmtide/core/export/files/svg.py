"""SVG: the picture traced."""

import numpy as np

from ...finish.trace.drawing import svg_of
from ...finish.trace.trace import LONGEST, flattened, traced
from ...maths.arrays import Byte
from ...maths.sizes import smaller
from .kind import Format, Page


def _svg(page: Page) -> bytes:
    picture: Byte = page.eight
    rgb = flattened(picture) if picture.shape[2] == 4 else np.ascontiguousarray(picture)
    # Curves have no size.
    return svg_of(traced(np.ascontiguousarray(smaller(rgb, LONGEST)), title=page.title)).encode()


FORMAT = Format(
    "svg", "SVG", "traced: areas or lines as curves", "svg", "image/svg+xml", _svg, dpi=False, sized=False, place=7
)
