"""Trees, shrubs, grasses and rocks: leaves in clusters, light from the upper left."""

import math

import numpy as np

from .svg import Point, blob, limb, line, shaded, shape, smooth

_BARK = "#5b4635"


def _trunk(x: float, ground: float, top: float, width: float, lot: np.random.Generator) -> list[str]:
    lean = float(lot.normal(0, 0.04)) * (ground - top)
    left = [
        (x - width * 0.8, ground),
        (x - width * 0.42, ground - 0.12 * (ground - top)),
        (x - width * 0.25 + lean, top),
    ]
    right = [
        (x + width * 0.25 + lean, top),
        (x + width * 0.42, ground - 0.12 * (ground - top)),
        (x + width * 0.8, ground),
    ]
    shade = [(x + width * 0.05, ground), (x + width * 0.05 + lean, top), *right]
    return [shape(line([*left, *right], True), _BARK), shape(line(shade, True), shaded(_BARK, -0.3))]


def _leaves(
    clusters: list[tuple[float, float, float]], colour: str, lot: np.random.Generator, fine: float
) -> list[str]:
    """Clusters of leaves in three tones: shade below, light above and to the left."""
    parts = []
    for share, dx, dy, count, size in (
        (-0.34, 0.12, 0.2, 9, 0.52),
        (0.0, 0.0, 0.0, 11, 0.42),
        (0.22, -0.22, -0.26, 8, 0.3),
    ):
        for x, y, radius in clusters:
            path = ""
            for _ in range(count):
                angle, far = lot.uniform(0, math.tau), radius * math.sqrt(lot.uniform(0, 1)) * 0.75
                path += blob(x + dx * radius + far * math.cos(angle), y + dy * radius + far * math.sin(angle) * 0.85, radius * size * lot.uniform(0.6, 1.1) * fine, lot, 0.22, 8)  # fmt: skip
            parts.append(shape(path, shaded(colour, share + float(lot.normal(0, 0.03)))))
    return parts


def broad_tree(width: int, height: int, seed: int, colour: str, bare: float = 0.3) -> list[str]:
    """A broad tree that fills its picture; `bare` is the share of the trunk below its crown."""
    lot = np.random.default_rng([seed, 11])
    middle, ground, crown = width / 2, height * 0.985, height * (1 - bare)
    parts = _trunk(middle, ground, crown * 0.55, width * 0.045, lot)
    for side in (-1, 1, -1, 1):
        base = (middle, ground - (ground - crown) * float(lot.uniform(0.8, 1.3)))
        tip = (middle + side * width * float(lot.uniform(0.12, 0.3)), crown * float(lot.uniform(0.4, 0.75)))
        parts.append(
            limb(
                [base, ((base[0] + tip[0]) / 2, (base[1] + tip[1]) / 2 + height * 0.02), tip],
                width * 0.022,
                shaded(_BARK, -0.15),
            )
        )
    clusters = []
    for _ in range(11):
        angle, far = lot.uniform(0, math.tau), math.sqrt(lot.uniform(0, 1))
        x = middle + math.cos(angle) * far * width * 0.31
        y = crown * 0.52 + math.sin(angle) * far * crown * 0.33
        clusters.append((float(x), float(y), float(width * lot.uniform(0.11, 0.17))))
    clusters.sort(key=lambda c: -c[1])
    return parts + _leaves(clusters, colour, lot, 0.62)


def conifer(width: int, height: int, seed: int, colour: str, slim: float = 1.0) -> list[str]:
    """A conifer in hanging tiers."""
    lot = np.random.default_rng([seed, 12])
    middle, ground, top = width / 2, height * 0.985, height * 0.02
    parts = _trunk(middle, ground, height * 0.4, width * 0.035, lot)
    tiers = 11
    for k in range(tiers):
        share = 1 - k / tiers
        y = top + (ground - top) * (0.16 + 0.74 * share)
        reach = width * 0.47 * slim * share**0.85 * float(lot.uniform(0.9, 1.08)) + width * 0.03
        rise = height * 0.155
        for tone, inset, left, right in ((-0.3, 0.0, -1.0, 1.0), (0.0, 0.06, -0.95, 0.55), (0.2, 0.2, -0.85, 0.1)):
            points: list[Point] = [(middle, y - rise * (1 - inset))]
            teeth = 7
            for t in range(teeth + 1):
                f = right + (left - right) * t / teeth
                droop = abs(f) ** 1.4 * height * 0.03
                points.append(
                    (middle + f * reach, y + droop - inset * rise * 0.5 + float(lot.normal(0, height * 0.004)))
                )
                if t < teeth:
                    g = right + (left - right) * (t + 0.5) / teeth
                    points.append((middle + g * reach * 0.9, y - rise * 0.2 - inset * rise * 0.4))
            parts.append(shape(line(points, True), shaded(colour, tone + float(lot.normal(0, 0.02)))))
    return parts


def shrub(width: int, height: int, seed: int, colour: str, flowers: str | None = None) -> list[str]:
    """A low shrub, with flowers if they have a colour."""
    lot = np.random.default_rng([seed, 13])
    clusters = [
        (float(width * (0.16 + 0.68 * k / 6)), float(height * (0.68 - 0.26 * math.sin(math.pi * k / 6)) + lot.normal(0, height * 0.03)), float(height * 0.25))
        for k in range(7)
    ]  # fmt: skip
    clusters += [(float(width * (0.18 + 0.16 * k)), height * 0.76, float(height * 0.22)) for k in range(5)]
    parts = _leaves(clusters, colour, lot, 0.6)
    if flowers:
        path = "".join(
            blob(float(lot.uniform(0.12, 0.88)) * width, float(lot.uniform(0.3, 0.8)) * height, height * 0.028, lot)
            for _ in range(26)
        )
        parts.append(shape(path, flowers))
    return parts


def grasses(width: int, height: int, seed: int, colours: tuple[str, ...], ears: bool = False) -> list[str]:
    """A tuft of blades."""
    lot = np.random.default_rng([seed, 14])
    parts = []
    for k in range(64):
        x = width * float(lot.uniform(0.28, 0.72))
        bend, tall = float(lot.normal(0, 0.22)) * width, height * float(lot.uniform(0.45, 0.95))
        tip = (x + bend, height - tall)
        middle = (x + bend * 0.3, height - tall * 0.55)
        half = width * 0.011
        blade = smooth(
            [(x - half, height), (middle[0] - half, middle[1]), tip, (middle[0] + half, middle[1]), (x + half, height)]
        )
        parts.append(shape(blade, colours[k % len(colours)]))
        if ears and k % 3 == 0:
            parts.append(limb([tip, (tip[0] + bend * 0.08, tip[1] + height * 0.09)], width * 0.024, "#b89a62"))
    return parts


def rock(width: int, height: int, seed: int, colour: str) -> list[str]:
    """A boulder with a lit and a shaded side."""
    lot = np.random.default_rng([seed, 15])
    xs = np.linspace(0.03, 0.97, 8)
    tops = [
        (float(x * width), float(height * (0.95 - 0.85 * math.sin(math.pi * x) ** 0.6 * lot.uniform(0.72, 1))))
        for x in xs
    ]
    outline = [(tops[0][0], height * 0.97), *tops, (tops[-1][0], height * 0.97)]
    ridge = [(p[0] * 0.55 + width * 0.2, p[1] + height * 0.24) for p in tops[2:6]]
    parts = [shape(line(outline, True), colour), shape(line([*tops[4:], (tops[-1][0], height * 0.97), (width * 0.5, height * 0.97), ridge[2]], True), shaded(colour, -0.32))]  # fmt: skip
    parts.append(shape(line([*tops[1:4], ridge[1], ridge[0]], True), shaded(colour, 0.25)))
    return parts
