"""People and animals: jointed limbs under coats, seen from a little way off."""

import math

from .svg import Point, disc, limb, line, shaded, shape, smooth

SKINS = ("#e2b08e", "#b97f58", "#7c4f35", "#f0c9ab", "#59372a")
HAIRS = ("#2b211c", "#6b4226", "#a8703a", "#8d8a86", "#191514")


def _joint(at: Point, length: float, angle: float) -> Point:
    """The end of a bone: 0 hangs down, to the right is positive."""
    return at[0] + length * math.sin(math.radians(angle)), at[1] + length * math.cos(math.radians(angle))


def _limb(at: Point, lengths: Point, angles: Point, width: float, colour: str) -> tuple[str, Point]:
    middle = _joint(at, lengths[0], angles[0])
    end = _joint(middle, lengths[1], angles[1])
    return limb([at, middle], width, colour) + limb([middle, end], width * 0.86, colour), end


def person(
    x: float, ground: float, tall: float, *, coat: str, trousers: str, skin: str, hair: str, stride: float = 18,
    side: int = 1, skirt: bool = False, hat: str | None = None, scarf: str | None = None, bag: str | None = None,
    lantern: bool = False, seated: bool = False,
) -> list[str]:  # fmt: skip
    """One figure whose feet stand on `ground`; `side` 1 walks to the right, -1 to the left."""
    u = tall / 8
    leg = (1.95 * u, 1.9 * u)
    hip = (x, ground - (2.3 if seated else 3.85) * u)
    neck = (x + side * 0.12 * u, hip[1] - 2.75 * u)
    shoulder = (neck[0], neck[1] + 0.35 * u)
    parts: list[str] = []
    far, near = ((76, 4), (82, -2)) if seated else ((-stride, -stride - 14), (stride * 1.1, stride * 0.35))
    far_leg, far_foot = _limb(hip, leg, (side * far[0], side * far[1]), 0.8 * u, shaded(trousers, -0.25))
    near_leg, near_foot = _limb(hip, leg, (side * near[0], side * near[1]), 0.85 * u, trousers)
    swing = 16 if seated else stride
    far_arm, _ = _limb(shoulder, (1.5 * u, 1.35 * u), (side * swing, side * (swing + 14)), 0.6 * u, shaded(coat, -0.25))
    parts += [far_arm, far_leg, _shoe(far_foot, u, side), near_leg, _shoe(near_foot, u, side)]
    hem = hip[1] + (1.2 * u if skirt and not seated else 0.5 * u)
    wide = 1.25 * u if skirt else 0.92 * u
    body = [
        (neck[0] - 0.75 * u, neck[1] + 0.25 * u), (neck[0] + 0.75 * u, neck[1] + 0.25 * u), (x + 0.82 * u, hip[1] - 1.2 * u),
        (x + wide, hem), (x, hem + 0.12 * u), (x - wide, hem), (x - 0.82 * u, hip[1] - 1.2 * u),
    ]  # fmt: skip
    parts.append(shape(smooth(body), coat))
    # Light comes from the upper left: the right side lies in shade.
    parts.append(shape(smooth([(p[0] if p[0] > x else x + 0.25 * u, p[1]) for p in body]), shaded(coat, -0.16), 0.8))
    near_arm, hand = _limb(
        shoulder, (1.5 * u, 1.35 * u), (-side * swing, -side * (swing - 10)), 0.62 * u, shaded(coat, 0.08)
    )
    if lantern:
        near_arm, hand = _limb(shoulder, (1.5 * u, 1.3 * u), (side * 28, side * 72), 0.62 * u, shaded(coat, 0.08))
    if bag:
        parts.append(shape(line([(hand[0] - 0.6 * u, hand[1] + 0.2 * u), (hand[0] + 0.6 * u, hand[1] + 0.2 * u), (hand[0] + 0.7 * u, hand[1] + 1.2 * u), (hand[0] - 0.7 * u, hand[1] + 1.2 * u)], True), bag))  # fmt: skip
    parts += [near_arm, disc(hand[0], hand[1], 0.3 * u, skin)]
    if lantern:
        parts += [limb([hand, (hand[0], hand[1] + 0.5 * u)], 0.1 * u, "#3a3128"), disc(hand[0], hand[1] + 0.95 * u, 0.48 * u, "#ffd27a", 1.15), disc(hand[0], hand[1] + 0.95 * u, 0.26 * u, "#fff2c9")]  # fmt: skip
    return parts + _head(neck, u, side, skin, hair, hat, scarf)


def _shoe(foot: Point, u: float, side: int) -> str:
    return limb(
        [(foot[0] - side * 0.1 * u, foot[1] + 0.12 * u), (foot[0] + side * 0.5 * u, foot[1] + 0.16 * u)],
        0.4 * u,
        "#2a2522",
    )


def _head(neck: Point, u: float, side: int, skin: str, hair: str, hat: str | None, scarf: str | None) -> list[str]:
    x, y = neck[0] + side * 0.1 * u, neck[1] - 0.55 * u
    parts = [limb([neck, (x, y)], 0.45 * u, shaded(skin, -0.18)), disc(x, y, 0.5 * u, skin, 1.2)]
    cap = [(x - 0.55 * u, y + 0.1 * u), (x - 0.45 * u, y - 0.55 * u), (x, y - 0.75 * u), (x + 0.45 * u, y - 0.5 * u), (x + 0.5 * u * (0.6 if side > 0 else 1), y - 0.1 * u), (x - side * 0.1 * u, y - 0.25 * u)]  # fmt: skip
    parts.append(shape(smooth(cap), hat or hair))
    if hat:
        parts.append(limb([(x - 0.5 * u, y - 0.3 * u), (x + 0.55 * u, y - 0.3 * u)], 0.2 * u, shaded(hat, -0.2)))
    if scarf:
        parts.append(
            limb([(neck[0] - 0.5 * u, neck[1] + 0.1 * u), (neck[0] + 0.5 * u, neck[1] + 0.12 * u)], 0.42 * u, scarf)
        )
        parts.append(limb([(neck[0] - side * 0.4 * u, neck[1] + 0.2 * u), (neck[0] - side * 0.7 * u, neck[1] + 1.3 * u)], 0.34 * u, shaded(scarf, -0.12)))  # fmt: skip
    return parts


def dog(x: float, ground: float, tall: float, coat: str, side: int = 1, tail_up: bool = True) -> list[str]:
    """A dog from the side; `tall` to its back."""
    u = tall
    back, chest = (x - side * 0.75 * u, ground - 0.95 * u), (x + side * 0.6 * u, ground - 0.95 * u)
    parts = []
    for at, lean, tone in ((back, -6, -0.3), (chest, 10, -0.3), (back, 10, 0), (chest, -6, 0)):
        leg, _ = _limb((at[0] + side * lean * 0.012 * u, at[1]), (0.45 * u, 0.45 * u), (side * lean, -side * lean * 0.6), 0.2 * u, shaded(coat, tone))  # fmt: skip
        parts.append(leg)
    parts.append(limb([back, (x, ground - 0.88 * u), chest], 0.5 * u, coat))
    parts.append(
        limb([(chest[0], chest[1] - 0.05 * u), (chest[0] + side * 0.35 * u, chest[1] - 0.5 * u)], 0.36 * u, coat)
    )
    head = (chest[0] + side * 0.45 * u, chest[1] - 0.6 * u)
    parts += [disc(*head, 0.28 * u, coat), limb([head, (head[0] + side * 0.42 * u, head[1] + 0.1 * u)], 0.24 * u, shaded(coat, 0.08))]  # fmt: skip
    parts += [disc(head[0] + side * 0.58 * u, head[1] + 0.06 * u, 0.07 * u, "#16120f"), disc(head[0] + side * 0.12 * u, head[1] - 0.08 * u, 0.05 * u, "#16120f")]  # fmt: skip
    parts.append(
        limb(
            [(head[0] - side * 0.1 * u, head[1] - 0.15 * u), (head[0] - side * 0.22 * u, head[1] + 0.25 * u)],
            0.18 * u,
            shaded(coat, -0.3),
        )
    )
    end = (back[0] - side * 0.55 * u, back[1] - (0.5 if tail_up else -0.35) * u)
    parts.append(
        limb([(back[0] - side * 0.2 * u, back[1]), (back[0] - side * 0.45 * u, back[1] - 0.1 * u), end], 0.14 * u, coat)
    )
    return parts


def bird(x: float, y: float, span: float, flying: bool, colour: str = "#e9e6df") -> list[str]:
    """A gull on the wing, or standing."""
    u = span
    if flying:
        wing = [(x - u / 2, y - 0.22 * u), (x - 0.2 * u, y - 0.1 * u), (x, y), (x - 0.22 * u, y - 0.02 * u)]
        other = [(2 * x - px, py) for px, py in wing]
        tips = [limb([(x - u / 2, y - 0.22 * u), (x - 0.4 * u, y - 0.18 * u)], 0.03 * u, "#3a3d40"), limb([(x + u / 2, y - 0.22 * u), (x + 0.4 * u, y - 0.18 * u)], 0.03 * u, "#3a3d40")]  # fmt: skip
        return [shape(smooth(wing), shaded(colour, -0.14)), shape(smooth(other), colour), disc(x, y + 0.02 * u, 0.1 * u, colour, 0.5), *tips]  # fmt: skip
    body = smooth(
        [
            (x - 0.4 * u, y - 0.3 * u),
            (x, y - 0.42 * u),
            (x + 0.3 * u, y - 0.5 * u),
            (x + 0.25 * u, y - 0.2 * u),
            (x - 0.1 * u, y - 0.12 * u),
        ]
    )
    legs = [limb([(x + k * u, y - 0.2 * u), (x + k * u, y)], 0.03 * u, "#d08a3a") for k in (0.02, 0.1)]
    wing = smooth(
        [(x - 0.45 * u, y - 0.27 * u), (x, y - 0.38 * u), (x + 0.12 * u, y - 0.28 * u), (x - 0.1 * u, y - 0.2 * u)]
    )
    return [*legs, shape(body, colour), shape(wing, "#8d949b"), disc(x + 0.3 * u, y - 0.56 * u, 0.11 * u, colour), limb([(x + 0.38 * u, y - 0.55 * u), (x + 0.48 * u, y - 0.53 * u)], 0.05 * u, "#e0a13c"), disc(x + 0.33 * u, y - 0.58 * u, 0.02 * u, "#16120f")]  # fmt: skip
