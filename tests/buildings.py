"""Ten untextured buildings whose faces and windows are known, all in sight while openings were made; any number drawn by
lot; and how well one was understood."""

import math

import cv2
import numpy as np

from demo.massing import Building, Render
from demo.massing import draw as draw_building
from warmtide.core.arrays import Float
from warmtide.core.renders.planes import Built

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


def by_lot(seed: int, count: int) -> list[Building]:
    """Buildings of any size, roof, turn and windows, near and far."""
    lot = np.random.default_rng(seed)
    return [
        Building(
            wide=lot.uniform(6, 14), deep=lot.uniform(5, 9), tall=lot.uniform(3.2, 8), roof=float(lot.choice([0, 1.8, 2.4])),
            turn=float(lot.choice([-1, 1]) * lot.uniform(22, 42)), away=lot.uniform(17, 27),
            windows=(int(lot.integers(1, 3)), int(lot.integers(2, 6)), int(lot.integers(1, 4))),
            door=bool(lot.random() < 0.7), wing=bool(lot.random() < 0.2), eye=float(lot.choice([1.7, 1.7, 6.0])),
        )
        for _ in range(count)
    ]  # fmt: skip


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
    """How many windows there are, how many of them were found, and how many are claimed where there is none."""
    shape = render.faces.shape
    windows = [o.corners for o in built.openings if o.kind == "window"]
    found = sum(any(shared(w, o, shape) > 0.6 for o in windows) for w in render.windows)
    claimed = sum(all(shared(w, o, shape) < 0.3 for w in render.windows) for o in windows)
    return len(render.windows), found, claimed
