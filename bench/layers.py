"""How long the Hand's layers take: `python -m bench.layers`.

30 cut-outs of 900 px, turned, over a picture of 2048 x 2048, and 30 layers as large as the whole; a hole of 100 px filled; and
beside them, as the reference, one turn of a 2048 px picture by the library.
"""

import sys
import time
from collections.abc import Callable

import cv2
import numpy as np

from warmtide.core.layers.compose import compose
from warmtide.core.layers.fill import filled
from warmtide.core.maths.arrays import Byte
from warmtide.core.model.stack import Layer, Place, Stack

SIDE, PART, COUNT = 2048, 900, 30
COMPOSED = 0.40


def _layers() -> tuple[Stack, Stack, dict[str, Byte]]:
    lot = np.random.default_rng(0)
    pictures = {f"{k:064x}": lot.integers(0, 255, (PART, PART, 4)).astype(np.uint8) for k in range(COUNT)}
    ground = lot.integers(0, 255, (SIDE, SIDE, 4)).astype(np.uint8)
    ground[..., 3] = 255
    pictures["f" * 64] = ground
    whole = Place(x=SIDE / 2, y=SIDE / 2, width=SIDE, height=SIDE)
    under = Layer(id="ground", name="ground", picture="f" * 64, place=whole)

    def turned(k: int) -> Place:
        x, y, turn = (float(v) for v in (*lot.uniform(200, SIDE - 200, 2), lot.uniform(-40, 40)))
        return Place(x=x, y=y, width=700, height=800, turn=turn)

    cut = tuple(Layer(id=f"l{k}", name="part", picture=f"{k:064x}", place=turned(k)) for k in range(COUNT))
    full = tuple(Layer(id=f"l{k}", name="whole", picture="f" * 64, place=whole) for k in range(COUNT))
    sizes = {"width": SIDE, "height": SIDE}
    return Stack(**sizes, layers=(under, *cut)), Stack(**sizes, layers=full), pictures


def _seconds(act: Callable[[], object]) -> float:
    act()
    times = []
    for _ in range(5):
        begun = time.perf_counter()
        act()
        times.append(time.perf_counter() - begun)
    return float(np.median(times))


def main() -> int:
    """Print the figures; 1 where composing takes longer than it may."""
    cut, full, pictures = _layers()
    ground = pictures["f" * 64]
    turn = np.array([[0.9, 0.2, 3], [-0.2, 0.9, 5.0]])
    reference = _seconds(lambda: cv2.warpAffine(ground, turn, (SIDE, SIDE)))
    small = np.ascontiguousarray(ground[:512, :512, :3])
    hole = np.zeros((512, 512), np.bool_)
    hole[200:300, 200:300] = True
    slowest = 0.0
    for name, act in (
        (f"{COUNT} turned cut-outs", lambda: compose(cut, pictures.__getitem__)),
        (f"{COUNT} whole layers", lambda: compose(full, pictures.__getitem__)),
    ):
        taken = _seconds(act)
        slowest = max(slowest, taken)
        print(f"{name}: {taken:.2f} s, {taken / reference:.0f} references (at most {COMPOSED} s)")
    taken = _seconds(lambda: filled(small, hole))
    print(f"a hole of 100 x 100 filled: {taken:.2f} s, {taken / reference:.0f} references of {reference * 1000:.0f} ms")
    return int(slowest > COMPOSED)


if __name__ == "__main__":
    sys.exit(main())
