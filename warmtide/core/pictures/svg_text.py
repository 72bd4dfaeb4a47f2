"""What an SVG's text says: its size, its fonts, its colours. Every search takes one walk over the text."""

import re
from collections.abc import Callable, Iterator

from PIL import ImageColor

from ..model.errors import BadInput

# Long sides that an SVG counts as, and its short side at least, px.
COUNTED = 2048
SIDE_LEAST = 8
# Pictures within it included.
TEXT_LIMIT = 16 * 1024 * 1024
_TAG_LIMIT = 65536
_DOTS = {"": 1.0, "px": 1.0, "in": 96.0, "cm": 96 / 2.54, "mm": 96 / 25.4, "q": 96 / 101.6, "pt": 96 / 72, "pc": 16.0, "em": 16.0, "rem": 16.0, "ex": 8.0}  # fmt: skip
_NUMBER = r"[-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?"
_LENGTH = re.compile(rf"\s*({_NUMBER})\s*([a-zA-Z]*|%)\s*$")


def checked(data: bytes) -> str:
    """The text of an SVG that stands by itself.

    Raises
    ------
    BadInput : it is too long or no UTF-8, declares entities, or refers to other files.
    """
    if len(data) > TEXT_LIMIT:
        raise BadInput(
            f"The SVG has {len(data) / 1e6:.0f} MB; at most {TEXT_LIMIT // 1024**2} can be drawn. Save it as PNG."
        )
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError:
        raise BadInput("The SVG is not UTF-8 text; save it again as plain SVG.") from None
    if "<!ENTITY" in text or _declares(text):
        raise BadInput("The SVG declares entities, which are not read; save it as plain SVG.")
    for link in re.finditer(r"href\s{0,9}=\s{0,9}[\"']\s{0,99}([^\"']{0,12})", text):
        if not link[1].startswith(("#", "data:image/")):
            raise BadInput("The SVG refers to another file; embed its pictures and bring it in again.")
    return text


def _declares(text: str) -> bool:
    """Whether a document type has a part of its own. There is one at most in a sound file."""
    begin = text.find("<!DOCTYPE")
    if begin < 0:
        return False
    end = text.find(">", begin)
    return "[" in text[begin : end if end >= 0 else len(text)] or text.find("<!DOCTYPE", begin + 1) >= 0


def size_of(text: str) -> tuple[int, int]:
    """Width and height that an SVG counts as, with a long side of 2048; lengths in mm, cm, in, pt and pc are 96 dots an inch.

    Raises
    ------
    BadInput : it has no usable size.
    """
    tag = _first_tag(text)
    attributes = {
        name.lower(): value for name, _, value in re.findall(r"\s([\w:]{1,40})\s{0,9}=\s{0,9}([\"'])(.*?)\2", tag)
    }
    box = [_number(part) for part in re.split(r"[\s,]+", attributes.get("viewbox", "").strip()) if part]
    sides = [_length(attributes.get(name, "")) for name in ("width", "height")]
    try:
        if len(box) == 4 and None not in box:
            width, height = float(box[2] or 0), float(box[3] or 0)
        else:
            width, height = sides[0] or sides[1] or 1.0, sides[1] or sides[0] or 1.0
        if not (width > 0 and height > 0):
            raise ValueError
        scale = COUNTED / max(width, height)
        return max(SIDE_LEAST, round(width * scale)), max(SIDE_LEAST, round(height * scale))
    except (ValueError, ZeroDivisionError, OverflowError):
        raise BadInput("The SVG has no usable size; give it a viewBox.") from None


def _first_tag(text: str) -> str:
    """The tag of the picture itself."""
    begin = -1
    while (begin := text.find("<svg", begin + 1)) >= 0:
        if not text[begin + 4 : begin + 5].isalnum():
            end = text.find(">", begin)
            return text[begin : min(end if end >= 0 else len(text), begin + _TAG_LIMIT)]
    return ""


def _number(text: str) -> float | None:
    return float(text) if re.fullmatch(_NUMBER, text) else None


def _length(text: str) -> float | None:
    """A length in pixels, None where it is none by itself: a share of something, or nothing."""
    found = _LENGTH.match(text)
    return float(found[1]) * _DOTS[found[2].lower()] if found and found[2].lower() in _DOTS else None


_FAMILY = re.compile(
    r"font-family\s{0,9}(?:=\s{0,9}(?P<quote>[\"'])(?P<quoted>[^<>]{0,200}?)(?P=quote)|:\s{0,9}(?P<plain>[^;{}<>]{0,200}))"
)
_GENERIC = {"serif", "sans-serif", "monospace", "cursive", "fantasy", "system-ui", "inherit", "initial", ""}


def fonts_of(text: str) -> list[str]:
    """First families that an SVG asks for where it has words, each once."""
    if "<text" not in text:
        return []
    found = []
    for match in _FAMILY.finditer(text):
        said = match["quoted"] if match["quoted"] is not None else match["plain"] or ""
        first = said.split(",")[0].strip().strip("\"'").replace("&quot;", "").strip()
        if first.lower() not in _GENERIC:
            found.append(first[:60])
    return list(dict.fromkeys(found))


_PAINT = re.compile(
    r"""(?P<before>(?<![-\w])(?:fill|stroke|stop-color|flood-color)\s{0,9}(?:=\s{0,9}["']|:)\s{0,9})"""
    r"""(?P<colour>\#[0-9a-fA-F]{3,8}\b|rgb\([^)<>;"']{0,40}\)|[a-zA-Z]{1,30})"""
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


def _written(text: str) -> Iterator[tuple[int, int]]:
    """Where paint is written, from and to: in tags and style sheets, not in the words of the picture."""
    at = 0
    while (begin := text.find("<", at)) >= 0:
        if text.startswith("<!--", begin):
            end = text.find("-->", begin)
            at = len(text) if end < 0 else end + 3
            continue
        closing = "</style" if text.startswith("<style", begin) else ">"
        end = text.find(closing, begin)
        at = len(text) if end < 0 else end + 1
        yield begin, at


def svg_colours(data: bytes) -> list[str]:
    """Colours that an SVG's fills, strokes and gradients are written in, as #rrggbb, each once."""
    text = data.decode("utf-8", "replace")
    found = [_named(paint["colour"]) for begin, end in _written(text) for paint in _PAINT.finditer(text, begin, end)]
    return list(dict.fromkeys(colour for colour in found if colour is not None))


def svg_recoloured(data: bytes, changes: dict[str, str]) -> bytes:
    """The SVG with the written colours changed, old to new as #rrggbb."""
    text = data.decode("utf-8", "replace")
    return "".join(
        _pieces(text, lambda paint: paint["before"] + changes.get(_named(paint["colour"]) or "", paint["colour"]))
    ).encode()


def _pieces(text: str, painted: "Callable[[re.Match[str]], str]") -> Iterator[str]:
    last = 0
    for begin, end in _written(text):
        yield text[last:begin]
        yield _PAINT.sub(painted, text[begin:end])
        last = end
    yield text[last:]
