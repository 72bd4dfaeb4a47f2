"""Curves as an SVG: tidy groups with names, one colour each."""

from dataclasses import dataclass
from xml.sax.saxutils import escape, quoteattr

from ...maths.arrays import AnyArray
from .curves import Curve


@dataclass(frozen=True)
class Shape:
    """One shape: rings of curves, a hole where one lies in another; or a line, where it has a width."""

    rings: tuple[tuple[Curve, ...], ...]
    width: float | None = None


@dataclass(frozen=True)
class Group:
    """Shapes of one colour under a name."""

    name: str
    colour: str
    shapes: tuple[Shape, ...]


@dataclass(frozen=True)
class Drawing:
    """What was traced, in pixels of the picture that it came from; `joints` lie under all and are no shapes of their own."""

    width: int
    height: int
    groups: tuple[Group, ...]
    title: str = ""
    joints: tuple[Group, ...] = ()

    @property
    def nodes(self) -> int:
        return sum(
            curve.nodes for group in self.groups for shape in group.shapes for ring in shape.rings for curve in ring
        )

    @property
    def colours(self) -> list[str]:
        return [group.colour for group in self.groups]


def _number(value: float) -> str:
    text = f"{value:.2f}".rstrip("0").rstrip(".")
    return "0" if text in ("-0", "") else text


def _point(point: AnyArray) -> str:
    return f"{_number(float(point[0]))} {_number(float(point[1]))}"


def path_of(shape: Shape) -> str:
    """A shape as the text of an SVG path."""
    parts: list[str] = []
    for ring in shape.rings:
        parts.append(f"M{_point(ring[0].pieces[0, 0])}")
        for curve in ring:
            for piece, straight in zip(curve.pieces, curve.straight, strict=True):
                parts.append(f"L{_point(piece[3])}" if straight else f"C{' '.join(_point(p) for p in piece[1:])}")
        if shape.width is None:
            parts.append("Z")
    return "".join(parts)


def svg_of(drawing: Drawing, shown: dict[str, str] | None = None) -> str:
    """A drawing as SVG; `shown` gives some of its colours others."""
    size = f'width="{drawing.width}" height="{drawing.height}" viewBox="0 0 {drawing.width} {drawing.height}"'
    out = [f'<svg xmlns="http://www.w3.org/2000/svg" {size}>']
    if drawing.title:
        out.append(f"<title>{escape(drawing.title)}</title>")
    for group in (*drawing.joints, *drawing.groups):
        colour = (shown or {}).get(group.colour, group.colour)
        lines = bool(group.shapes) and group.shapes[0].width is not None
        paint = (
            f'fill="none" stroke="{colour}" stroke-linecap="round" stroke-linejoin="round"' if lines
            else f'fill="{colour}" fill-rule="evenodd"'
        )  # fmt: skip
        out.append(f"<g id={quoteattr(group.name)} {paint}>")
        for shape in group.shapes:
            wide = f' stroke-width="{_number(shape.width)}"' if shape.width is not None else ""
            out.append(f'<path{wide} d="{path_of(shape)}"/>')
        out.append("</g>")
    out.append("</svg>")
    return "\n".join(out) + "\n"
