"""SVG files drawn safely."""

import io
import subprocess
import sys
from functools import cache
from importlib.util import find_spec
from pathlib import Path

import numpy as np
from PIL import Image

from ..maths.arrays import Byte
from ..model.errors import BadInput
from .svg_child import SANS, SERIF
from .svg_text import COUNTED, SIDE_LEAST, checked, fonts_of, size_of

_DRAWN = (64, 8192)
_SECONDS, _MEGABYTES = 5, 1000
# On a busy machine its seconds of work last longer.
_PATIENCE_SECONDS = 20
_CHILD = Path(__file__).with_name("svg_child.py")
# Families that ship, as packages, and the weights of theirs that are drawn with.
_PACKAGES = {"font_source_sans_pro": "SourceSansPro", "font_source_serif_pro": "SourceSerifPro"}
_STYLES = ("Regular", "It", "Bold", "BoldIt")


def looks_like_svg(data: bytes) -> bool:
    """Whether bytes are an SVG's."""
    head = data[:4096].lstrip(b"\xef\xbb\xbf \t\r\n")
    return head.startswith(b"<") and b"<svg" in data[:65536]


@cache
def font_files() -> tuple[str, ...]:
    """The fonts that ship."""
    found = []
    for package, family in _PACKAGES.items():
        spec = find_spec(package)
        if spec is not None and spec.submodule_search_locations:
            folder = Path(spec.submodule_search_locations[0]) / "files"
            found += [str(path) for style in _STYLES if (path := folder / f"{family}-{style}.ttf").exists()]
    return tuple(found)


def font_notes(text: str) -> tuple[str, ...]:
    """What is said of fonts that an SVG asks for and that don't ship."""
    missing = [name for name in fonts_of(text) if name.lower() not in (SANS.lower(), SERIF.lower())]
    if not missing:
        return ()
    named = ", ".join(missing[:4]) + (" and others" if len(missing) > 4 else "")
    return (f"Words in {named} are drawn in {SANS}; turn them into outlines to keep their shapes.",)


def drawn_svg(data: bytes, side: int | None = None) -> tuple[Byte, tuple[int, int], tuple[str, ...]]:
    """Pixels (h, w, 4) uint8 of an SVG; the height and width that it counts as, with a long side of 2048; what is to be
    said of its fonts.

    `side` is the long side to draw at, 64 to 8192 px, 2048 when None: what is cropped or enlarged stays sharp.

    Drawn in a process of its own, with 5 s of work and 1 GB: the renderer may abort, hang or read local files named by an
    href. About .3 s.

    Raises
    ------
    BadInput : the SVG refers to other files, declares entities, has no size, or can't be drawn.
    """
    text = checked(data)
    whole = size_of(text)
    scale = min(max(side or COUNTED, _DRAWN[0]), _DRAWN[1]) / COUNTED
    width, height = (max(SIDE_LEAST, round(v * scale)) for v in whole)
    command = [sys.executable, str(_CHILD), *map(str, (width, height, _MEGABYTES, _SECONDS)), *font_files()]
    try:
        run = subprocess.run(command, input=text.encode(), capture_output=True, timeout=_PATIENCE_SECONDS, check=False)
    except subprocess.TimeoutExpired:
        raise BadInput(_TOO_LONG) from None
    if run.returncode or not run.stdout:
        # Ended by the limit of its seconds.
        late = run.returncode in (-9, -24)
        raise BadInput(
            _TOO_LONG if late else "The SVG could not be drawn; check it in a drawing program or save it as PNG."
        )
    image = Image.open(io.BytesIO(run.stdout), formats=("PNG",)).convert("RGBA")
    if image.size != (width, height):
        # The renderer rounds a size in millimetres to whole pixels first, and keeps that shape.
        image = image.convert("RGBa").resize((width, height), Image.Resampling.BICUBIC).convert("RGBA")
    return np.asarray(image).copy(), (whole[1], whole[0]), font_notes(text)


_TOO_LONG = "The SVG takes too long to draw; simplify it or save it as PNG."
