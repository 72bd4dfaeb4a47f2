"""Shapes as SVG text: smooth outlines, limbs, leaves."""

import math
from collections.abc import Iterable, Sequence

import numpy as np

Point = tuple[float, float]


def number(value: float) -> str:
    return f"{value:.1f}".rstrip("0").rstrip(".")


def line(points: Sequence[Point], closed: bool = False) -> str:
    """A path through points, straight."""
    return "M" + "L".join(f"{number(x)} {number(y)}" for x, y in points) + ("Z" if closed else "")


def smooth(points: Sequence[Point], closed: bool = True) -> str:
    """A path through points that turns softly (Catmull-Rom as cubic Bezier curves)."""
    count = len(points)
    at = (lambda k: points[k % count]) if closed else (lambda k: points[min(max(k, 0), count - 1)])
    out = f"M{number(points[0][0])} {number(points[0][1])}"
    for k in range(count if closed else count - 1):
        (ax, ay), (bx, by), (cx, cy), (dx, dy) = at(k - 1), at(k), at(k + 1), at(k + 2)
        first, second = (bx + (cx - ax) / 6, by + (cy - ay) / 6), (cx - (dx - bx) / 6, cy - (dy - by) / 6)
        out += "C" + " ".join(f"{number(x)} {number(y)}" for x, y in (first, second, (cx, cy)))
    return out + ("Z" if closed else "")


def shape(path: str, colour: str, opacity: float = 1.0) -> str:
    more = "" if opacity >= 1 else f' opacity="{number(opacity)}"'
    return f'<path d="{path}" fill="{colour}"{more}/>'


def limb(points: Sequence[Point], width: float, colour: str) -> str:
    """A round-ended stroke: an arm, a leg, a branch."""
    path = smooth(points, closed=False) if len(points) > 2 else line(points)
    return f'<path d="{path}" fill="none" stroke="{colour}" stroke-width="{number(width)}" stroke-linecap="round" stroke-linejoin="round"/>'


def disc(x: float, y: float, radius: float, colour: str, tall: float = 1.0) -> str:
    return f'<ellipse cx="{number(x)}" cy="{number(y)}" rx="{number(radius)}" ry="{number(radius * tall)}" fill="{colour}"/>'


def blob(x: float, y: float, radius: float, lot: np.random.Generator, rough: float = 0.18, points: int = 9) -> str:
    """A closed outline that is nearly round."""
    turn = lot.uniform(0, math.tau)
    reach = radius * (1 + rough * lot.normal(0, 1, points).clip(-1.6, 1.6))
    angles = turn + np.arange(points) / points * math.tau
    return smooth(
        [(float(x + r * math.cos(a)), float(y + r * math.sin(a))) for r, a in zip(reach, angles, strict=True)]
    )


def shaded(colour: str, share: float) -> str:
    """A colour lighter (share above 0) or darker."""
    rgb = [int(colour[i : i + 2], 16) for i in (1, 3, 5)]
    to = 255 if share > 0 else 0
    return "#" + "".join(f"{round(v + (to - v) * abs(share)):02x}" for v in rgb)


def whole(parts: Iterable[str], width: int, height: int) -> str:
    """A drawing on clear ground."""
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{width}" height="{height}" viewBox="0 0 {width} {height}">'
        + "".join(parts)
        + "</svg>\n"
    )
