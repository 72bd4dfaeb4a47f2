"""SVG files: drawn safely, and their colours read and changed in their text."""

import io
import re
import subprocess
import sys

import numpy as np
from PIL import Image, ImageColor

from .arrays import Byte
from .errors import BadInput

_SVG_SIDE = 2048
_SIDE_LEAST = 8
_DRAWN = (64, 8192)


def looks_like_svg(data: bytes) -> bool:
    """Whether bytes are an SVG's."""
    head = data[:4096].lstrip(b"\xef\xbb\xbf \t\r\n")
    return head.startswith(b"<") and b"<svg" in data[:65536]


_RENDER = """
import sys, resvg_py
width, height = int(sys.argv[1]), int(sys.argv[2])
text = sys.stdin.buffer.read().decode('utf-8')
out = resvg_py.svg_to_bytes(svg_string=text, width=width, height=height, skip_system_fonts=True)
sys.stdout.buffer.write(bytes(out))
"""


def drawn_svg(data: bytes, side: int | None = None) -> tuple[Byte, tuple[int, int]]:
    """Pixels (h, w, 4) uint8 of an SVG, and the height and width that it counts as, with a long side of 2048.

    `side` is the long side to draw at, 64 to 8192 px, 2048 when None: what is cropped or enlarged stays sharp.

    Drawn in a process of its own: the renderer may abort, hang or read local files named by an href. About .3 s.

    Raises
    ------
    BadInput : the SVG refers to other files, declares entities, has no size, or can't be drawn.
    """
    try:
        text = data.decode("utf-8")
    except UnicodeDecodeError:
        raise BadInput("The SVG is not UTF-8 text; save it again as plain SVG.") from None
    if re.search(r"<!(DOCTYPE|ENTITY)[^>]*\[", text) or "<!ENTITY" in text:
        raise BadInput("The SVG declares entities, which are not read; save it as plain SVG.")
    for link in re.findall(r"href\s*=\s*[\"']\s*([^\"']*)", text):
        if not link.startswith(("#", "data:image/")):
            raise BadInput("The SVG refers to another file; embed its pictures and bring it in again.")
    whole = _svg_size(text)
    scale = min(max(side or _SVG_SIDE, _DRAWN[0]), _DRAWN[1]) / _SVG_SIDE
    width, height = (max(_SIDE_LEAST, round(v * scale)) for v in whole)
    try:
        run = subprocess.run(
            [sys.executable, "-c", _RENDER, str(width), str(height)],
            input=data, capture_output=True, timeout=20, check=False,
        )  # fmt: skip
    except subprocess.TimeoutExpired:
        raise BadInput("The SVG takes too long to draw; simplify it or save it as PNG.") from None
    if run.returncode or not run.stdout:
        raise BadInput("The SVG could not be drawn; check it in a drawing program or save it as PNG.")
    image = Image.open(io.BytesIO(run.stdout), formats=("PNG",)).convert("RGBA")
    return np.asarray(image).copy(), (whole[1], whole[0])


def _svg_size(text: str) -> tuple[int, int]:
    head = re.search(r"<svg\b[^>]*>", text, re.S)
    tag = head.group(0) if head else ""
    box = re.search(r"viewBox\s*=\s*[\"']\s*[-\d.e]+[\s,]+[-\d.e]+[\s,]+([\d.e]+)[\s,]+([\d.e]+)", tag)
    plain = [re.search(rf"\s{name}\s*=\s*[\"']\s*([\d.]+)", tag) for name in ("width", "height")]
    try:
        if box:
            width, height = float(box.group(1)), float(box.group(2))
        elif plain[0] and plain[1]:
            width, height = float(plain[0].group(1)), float(plain[1].group(1))
        else:
            width, height = 1.0, 1.0
        scale = _SVG_SIDE / max(width, height)
        return max(_SIDE_LEAST, round(width * scale)), max(_SIDE_LEAST, round(height * scale))
    except (ValueError, ZeroDivisionError, OverflowError):
        raise BadInput("The SVG has no usable size; give it a viewBox.") from None


_PAINT = re.compile(
    r"""(?P<before>(?<![-\w])(?:fill|stroke|stop-color|flood-color)\s*(?:=\s*["']|:)\s*)"""
    r"""(?P<colour>\#[0-9a-fA-F]{3,8}\b|rgb\([^)]*\)|[a-zA-Z]+)"""
)
_NO_COLOUR = {"none", "inherit", "currentcolor", "transparent", "url", "context"}


def _named(colour: str) -> str | None:
    """#rrggbb of a colour as SVG writes it, or None."""
    if colour.lower() in _NO_COLOUR:
        return None
    try:
        return "#" + "".join(f"{v:02x}" for v in ImageColor.getrgb(colour)[:3])
    except ValueError:
        return None


# Where paint is written: in tags and style sheets, not in the words of the picture.
_WRITTEN = re.compile(r"<style\b.*?</style>|<[^>]*>", re.S)


def svg_colours(data: bytes) -> list[str]:
    """Colours that an SVG's fills, strokes and gradients are written in, as #rrggbb, each once."""
    found = [
        _named(paint["colour"])
        for place in _WRITTEN.finditer(data.decode("utf-8", "replace"))
        for paint in _PAINT.finditer(place[0])
    ]
    return list(dict.fromkeys(colour for colour in found if colour is not None))


def svg_recoloured(data: bytes, changes: dict[str, str]) -> bytes:
    """The SVG with the written colours changed, old to new as #rrggbb."""

    def painted(paint: re.Match[str]) -> str:
        return paint["before"] + changes.get(_named(paint["colour"]) or "", paint["colour"])

    text = data.decode("utf-8", "replace")
    return _WRITTEN.sub(lambda place: _PAINT.sub(painted, place[0]), text).encode()
