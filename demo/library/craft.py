"""What stands and floats at Lantern Quay: boats, a bicycle, lamps, a bench, a cart."""

import math

from .svg import Point, disc, limb, line, shaded, shape, smooth


def _hull(x: float, y: float, length: float, deep: float, colour: str) -> list[str]:
    left, right = x - length / 2, x + length / 2
    rim: list[Point] = [
        (left, y - 0.12 * deep),
        (x - 0.2 * length, y + 0.05 * deep),
        (x + 0.2 * length, y + 0.03 * deep),
        (right, y - 0.35 * deep),
    ]
    keel: list[Point] = [(right - 0.1 * length, y + 0.65 * deep), (x, y + deep), (left + 0.12 * length, y + 0.8 * deep)]
    parts = [shape(smooth([*rim, *keel]), colour)]
    parts.append(shape(smooth([(left + 0.06 * length, y + 0.45 * deep), (x, y + 0.62 * deep), (right - 0.06 * length, y + 0.4 * deep), *keel]), shaded(colour, -0.3)))  # fmt: skip
    parts.append(limb(rim, 0.1 * deep, shaded(colour, 0.35)))
    return parts


def rowing_boat(width: int, height: int, colour: str) -> list[str]:
    x, y = width / 2, height * 0.4
    hull = _hull(x, y, width * 0.94, height * 0.48, colour)
    oars = [
        limb(
            [(x - 0.1 * width, y - 0.02 * height), (x + s * 0.32 * width, y + 0.42 * height)], height * 0.03, "#a98353"
        )
        for s in (-1, 1)
    ]
    return [
        *hull,
        limb([(x - 0.2 * width, y + 0.06 * height), (x - 0.05 * width, y + 0.08 * height)], height * 0.06, "#c7a577"),
        *oars,
    ]


def sailing_boat(width: int, height: int, colour: str, sail: str) -> list[str]:
    x, y = width * 0.46, height * 0.78
    mast = limb([(x, y), (x, height * 0.03)], width * 0.014, "#6d5138")
    main = [
        (x + 0.02 * width, height * 0.05),
        (x + 0.02 * width, y - 0.06 * height),
        (x + 0.42 * width, y - 0.07 * height),
        (x + 0.28 * width, height * 0.36),
    ]
    fore = [
        (x - 0.02 * width, height * 0.12),
        (x - 0.38 * width, y - 0.05 * height),
        (x - 0.02 * width, y - 0.07 * height),
    ]
    lit = [
        shape(smooth(main), sail),
        shape(line([main[0], main[1], (x + 0.16 * width, y - 0.06 * height)], True), shaded(sail, 0.3), 0.7),
    ]
    return [
        mast,
        *lit,
        shape(line(fore, True), shaded(sail, -0.12)),
        *_hull(width / 2, y, width * 0.9, height * 0.17, colour),
    ]


def fishing_boat(width: int, height: int, colour: str) -> list[str]:
    x, y = width / 2, height * 0.62
    house = [
        (x - 0.3 * width, y),
        (x - 0.3 * width, height * 0.34),
        (x - 0.02 * width, height * 0.34),
        (x + 0.02 * width, y),
    ]
    parts = [limb([(x + 0.18 * width, y), (x + 0.18 * width, height * 0.06)], width * 0.014, "#4a3b2d"), limb([(x + 0.18 * width, height * 0.1), (x + 0.44 * width, y)], width * 0.005, "#4a3b2d")]  # fmt: skip
    parts += [shape(line(house, True), "#e8e2d4"), shape(line([(x - 0.33 * width, height * 0.34), (x - 0.31 * width, height * 0.29), (x, height * 0.29), (x + 0.02 * width, height * 0.34)], True), "#6b3a2e")]  # fmt: skip
    for k in range(2):
        left = x - 0.26 * width + k * 0.11 * width
        parts.append(shape(line([(left, height * 0.4), (left + 0.08 * width, height * 0.4), (left + 0.08 * width, height * 0.5), (left, height * 0.5)], True), "#f2c46a"))  # fmt: skip
    return [
        *parts,
        *_hull(x, y, width * 0.95, height * 0.33, colour),
        disc(x + 0.18 * width, height * 0.08, width * 0.018, "#ffd27a"),
    ]


def bicycle(width: int, height: int, colour: str) -> list[str]:
    radius = height * 0.3
    back, front = (width * 0.23, height * 0.67), (width * 0.77, height * 0.67)
    parts = []
    for x, y in (back, front):
        spokes = "".join(
            line([(x, y), (x + radius * math.cos(a), y + radius * math.sin(a))])
            for a in [k * math.pi / 6 for k in range(12)]
        )
        parts.append(
            f'<circle cx="{x:.1f}" cy="{y:.1f}" r="{radius:.1f}" fill="none" stroke="#25282a" stroke-width="{height * 0.028:.1f}"/>'
        )
        parts.append(f'<path d="{spokes}" stroke="#8b9094" stroke-width="{height * 0.006:.1f}" fill="none"/>')
    crank, seat, head = (width * 0.45, height * 0.68), (width * 0.38, height * 0.3), (width * 0.68, height * 0.27)
    for points in ((back, seat, crank, back), (crank, head, seat), (head, front)):
        parts.append(limb(list(points) if len(points) == 2 else [*points], height * 0.03, colour) if len(points) == 2 else f'<path d="{line(list(points))}" fill="none" stroke="{colour}" stroke-width="{height * 0.03:.1f}" stroke-linejoin="round"/>')  # fmt: skip
    parts += [limb([seat, (seat[0] - width * 0.01, height * 0.22)], height * 0.025, "#25282a"), limb([(seat[0] - 0.06 * width, height * 0.21), (seat[0] + 0.06 * width, height * 0.22)], height * 0.045, "#3a2a20")]  # fmt: skip
    parts += [limb([head, (head[0] - 0.01 * width, height * 0.16), (head[0] + 0.07 * width, height * 0.13)], height * 0.025, "#25282a"), disc(*crank, height * 0.06, "#8b9094")]  # fmt: skip
    return parts


def lamp(width: int, height: int, lit: bool) -> list[str]:
    x, iron = width / 2, "#2b3236"
    parts = [limb([(x, height * 0.97), (x, height * 0.22)], width * 0.09, iron), shape(line([(x - 0.2 * width, height * 0.99), (x - 0.1 * width, height * 0.9), (x + 0.1 * width, height * 0.9), (x + 0.2 * width, height * 0.99)], True), iron)]  # fmt: skip
    glass = [
        (x - 0.16 * width, height * 0.2),
        (x - 0.26 * width, height * 0.08),
        (x + 0.26 * width, height * 0.08),
        (x + 0.16 * width, height * 0.2),
    ]
    parts.append(shape(line(glass, True), "#ffd887" if lit else "#b9c2c4"))
    if lit:
        parts.append(disc(x, height * 0.14, width * 0.1, "#fff6d8", 1.3))
    roof = [(x - 0.3 * width, height * 0.08), (x, height * 0.015), (x + 0.3 * width, height * 0.08)]
    bars = [
        limb([(x + s * 0.21 * width, height * 0.08), (x + s * 0.13 * width, height * 0.2)], width * 0.03, iron)
        for s in (-1, 1)
    ]
    return [
        *parts,
        shape(line(roof, True), iron),
        *bars,
        limb([(x - 0.17 * width, height * 0.205), (x + 0.17 * width, height * 0.205)], width * 0.06, iron),
    ]


def bench(width: int, height: int, colour: str) -> list[str]:
    iron = "#2b3236"
    legs = [limb([(width * f, height * 0.55), (width * f, height * 0.96)], width * 0.025, iron) for f in (0.14, 0.86)]
    slats = [
        limb([(width * 0.06, height * y), (width * 0.94, height * y)], height * 0.09, shaded(colour, s))
        for y, s in ((0.12, 0.15), (0.27, 0), (0.42, -0.12), (0.58, 0.1), (0.68, -0.2))
    ]
    posts = [limb([(width * f, height * 0.08), (width * f, height * 0.58)], width * 0.02, iron) for f in (0.14, 0.86)]
    return [*legs, *posts, *slats]


def cart(width: int, height: int, colour: str) -> list[str]:
    """A handcart with a striped awning and lanterns."""
    parts = []
    for k in range(8):
        left, right = width * (0.1 + 0.09 * k), width * (0.1 + 0.09 * (k + 1))
        parts.append(shape(line([(left, height * 0.2), (right, height * 0.2), (right, height * 0.32), ((left + right) / 2, height * 0.36), (left, height * 0.32)], True), colour if k % 2 else "#f0e8d8"))  # fmt: skip
    roof = [
        (width * 0.1, height * 0.2),
        (width * 0.18, height * 0.06),
        (width * 0.74, height * 0.06),
        (width * 0.82, height * 0.2),
    ]
    posts = [
        limb([(width * f, height * 0.3), (width * f, height * 0.6)], width * 0.02, "#5c4632") for f in (0.14, 0.78)
    ]
    box = [
        (width * 0.1, height * 0.56),
        (width * 0.82, height * 0.56),
        (width * 0.8, height * 0.8),
        (width * 0.12, height * 0.8),
    ]
    wheel = [f'<circle cx="{width * 0.3:.1f}" cy="{height * 0.82:.1f}" r="{height * 0.15:.1f}" fill="#3a2d22"/>', disc(width * 0.3, height * 0.82, height * 0.1, "#8a6a45"), disc(width * 0.3, height * 0.82, height * 0.03, "#2b2119")]  # fmt: skip
    lights = [disc(width * f, height * 0.43, height * 0.045, "#ffd27a", 1.2) for f in (0.28, 0.46, 0.64)]
    return [*posts, shape(line(roof, True), shaded(colour, -0.15)), *parts, *lights, shape(line(box, True), "#8f6f4a"), shape(line([box[3], box[2], (width * 0.8, height * 0.72), (width * 0.12, height * 0.72)], True), "#6e5336"), limb([(width * 0.8, height * 0.66), (width * 0.97, height * 0.58)], height * 0.03, "#5c4632"), limb([(width * 0.72, height * 0.8), (width * 0.72, height * 0.96)], height * 0.03, "#5c4632"), *wheel]  # fmt: skip
