"""How long the looks for renders, sketches and old photographs take: `python -m bench.things [--size N]`.

Times are ratios to the reference workload on one core. What a source is made of is worked out once: the first take less
a second one. Exits 1 where a bound is missed.
"""

import argparse
import statistics
import sys
from collections.abc import Callable

import cv2

from bench.engine import seconds_of
from bench.reference import reference_seconds
from demo.goods import draw as good
from tests.buildings import draw as building
from tests.pictures import harbour
from tests.sketches import SKETCHES, sketch
from warmtide.core.job.take import restyle
from warmtide.core.looks.registry import looks
from warmtide.core.maths.arrays import Byte
from warmtide.core.model.cache import SharedCache
from warmtide.core.model.recipe import Holds, Recipe

_MEDIAN, _WORST, _ANALYSIS, _LARGER = 3.0, 6.0, 2.0, 4.5


def _square(picture: Byte, size: int) -> Byte:
    return cv2.resize(picture, (size, size), interpolation=cv2.INTER_AREA)


SOURCES: dict[str, list[Callable[[int], Byte]]] = {
    "building": [lambda s, n=n: building(n, s, s).picture for n in ("cottage", "office")],  # type: ignore[misc]
    "product": [lambda s, n=n: good(n, s, s).picture for n in ("mug", "vase")],  # type: ignore[misc]
    "concept": [lambda s, n=n: _square(sketch(n, s).picture, s) for n in list(SKETCHES)[:2]],  # type: ignore[misc]
    "restored": [lambda s: harbour(s, s)],
}


def seconds(look: str, source: Byte) -> tuple[float, float]:
    """A take of a source that is known, and how much longer the first one took."""
    holds = Holds(lines=0.75, shapes=0.75, colours=0.3)
    recipe = Recipe(look=look, strength=0.9, steps=20, holds=holds, size=max(source.shape[0], 64))
    restyle(source, recipe, cache=SharedCache())
    firsts, seconds_ = [], []
    for _ in range(2):
        # The less of two: a neighbour on the machine only ever adds.
        cache = SharedCache()
        firsts.append(seconds_of(lambda c=cache: restyle(source, recipe.changed(seed=99), cache=c), 1))  # type: ignore[misc]
        seconds_.append(seconds_of(lambda c=cache: restyle(source, recipe, cache=c), 1))  # type: ignore[misc]
    return min(seconds_), max(min(firsts) - min(seconds_), 0.0)


def main() -> None:
    given = argparse.ArgumentParser(description=__doc__)
    given.add_argument("--size", type=int, default=512)
    size = given.parse_args().size
    ratios, analyses, larger = [], [], []
    for name, look in looks().items():
        if look.category not in SOURCES:
            continue
        reference = reference_seconds()
        times = [seconds(name, draw(size)) for draw in SOURCES[look.category]]
        ratios += [take / reference for take, _ in times]
        analyses += [once / reference for _, once in times]
        larger.append(seconds(name, SOURCES[look.category][0](2 * size))[0] / times[0][0])
        print(
            f"{name:22} {max(t for t, _ in times) / reference:5.2f} references, once a source "
            f"{max(o for _, o in times) / reference:5.2f}, twice as large {larger[-1]:4.2f}",
            flush=True,
        )
    missed = False
    for what, value, bound in (
        ("median of all takes", statistics.median(ratios), _MEDIAN),
        ("slowest take", max(ratios), _WORST),
        ("slowest source", max(analyses), _ANALYSIS),
        ("1024 over 512 px, worst", max(larger), _LARGER),
    ):
        print(f"{what:26} {value:6.2f}  (<= {bound}){'' if value <= bound else '  MISSED'}")
        missed |= value > bound
    sys.exit(1 if missed else 0)


if __name__ == "__main__":
    main()
