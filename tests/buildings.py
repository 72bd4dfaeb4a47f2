"""Ten untextured buildings whose faces and windows are known, all in sight while openings were made; any number drawn by
lot; and how well one was understood."""

import math

import cv2
import numpy as np

from demo.massing import Building, Render
from demo.massing import draw as draw_building
from warmtide.core.maths.arrays import Float
from warmtide.core.understanding.building.planes import Built

BUILDINGS: dict[str, Building] = {
    "cottage": Building(),
    "long barn": Building(wide=14, deep=6, tall=3.4, roof=2.6, turn=-28, away=22, windows=(1, 5, 1)),
    "box": Building(roof=0, turn=40, windows=(1, 3, 2)),
    "two storeys": Building(tall=6.4, roof=2.0, turn=25, away=20, windows=(2, 4, 2)),
    "office": Building(wide=11, deep=8, tall=9.5, roof=0, turn=-36, away=27, windows=(3, 5, 3), door=True),
    "narrow house": Building(wide=5, deep=8, tall=7, roof=2.4, turn=-40, away=20, windows=(2, 2, 3)),
    "with a wing": Building(turn=30, wing=True, away=20),
    "blank shed": Building(wide=9, deep=7, tall=4, roof=1.6, turn=36, windows=(0, 0, 0), door=False),
    "seen from above": Building(turn=33, away=24, eye=9.0),
    "low hall": Building(wide=16, deep=9, tall=4.2, roof=1.4, turn=-24, away=26, windows=(1, 6, 2)),
}


def draw(name: str, height: int = 420, width: int = 640) -> Render:
    """Draw one of `BUILDINGS`."""
    return draw_building(BUILDINGS[name], height, width)


# Metres of wall that two rows of windows need; a window less than this many pixels wide can't be told from a line.
_TWO_STOREYS, _WIDE = 4.8, 4.0


def by_lot(seed: int, count: int) -> list[Building]:
    """Buildings of any size, roof, turn and windows below their eaves, as near as the lens asks for."""
    lot, lenses = np.random.default_rng(seed), np.random.default_rng((seed, 1)).uniform(0.75, 1.7, count)
    drawn = []
    for lens in lenses:
        tall = lot.uniform(3.2, 8)
        rows = int(lot.integers(1, 3)) if tall > _TWO_STOREYS else 1
        wide, deep, roof = lot.uniform(6, 14), lot.uniform(5, 9), float(lot.choice([0, 1.8, 2.4]))
        turn, away = float(lot.choice([-1, 1]) * lot.uniform(22, 42)), lot.uniform(17, 27) * lens / 1.15
        windows = rows, int(lot.integers(2, 6)), int(lot.integers(1, 4))
        door, wing, eye = bool(lot.random() < 0.7), bool(lot.random() < 0.2), float(lot.choice([1.7, 1.7, 6.0]))
        drawn.append(Building(wide, deep, tall, roof, turn, away, windows, door, wing, eye, float(lens)))
    return drawn


def off(a: Float, b: Float) -> float:
    """Angle between two directions, degrees, whichever way they point."""
    return math.degrees(math.acos(min(1.0, abs(float(a @ b)))))


def walls_off(render: Render, built: Built) -> list[float]:
    """How far off each of the two largest walls' normals is; 90 for what is none."""
    walls = sorted(
        (k for k, f in built.faces.items() if f.kind == "wall"), key=lambda k: -int((built.owner == k).sum())
    )
    found = []
    for k in walls[:2]:
        ids, counts = np.unique(render.faces[built.owner == k], return_counts=True)
        true = int(ids[counts.argmax()])
        found.append(off(render.normals[true], built.faces[k].normal) if true > 1 else 90.0)
    return found or [90.0]


def shared(a: Float, b: Float, shape: tuple[int, ...]) -> float:
    """Intersection over union of two quads."""
    first, second = np.zeros(shape, np.uint8), np.zeros(shape, np.uint8)
    for mask, quad in ((first, a), (second, b)):
        cv2.fillPoly(mask, [np.round(quad).astype(np.int32)], 1)
    return float((first & second).sum() / max((first | second).sum(), 1))


def windows_told(render: Render, built: Built) -> tuple[int, int, int]:
    """How many windows there are that can be seen, how many of them were found, and how many are claimed where there is none."""
    shape = render.faces.shape
    true = [w for w in render.windows if np.ptp(w[:, 0]) >= _WIDE]
    windows = [o.corners for o in built.openings if o.kind == "window"]
    found = sum(any(shared(w, o, shape) > 0.6 for o in windows) for w in true)
    claimed = sum(all(shared(w, o, shape) < 0.3 for w in render.windows) for o in windows)
    return len(true), found, claimed
