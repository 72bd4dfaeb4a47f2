"""How exactly materials keep a badge's shape, and how long they take: `python -m bench.materials [--size N]`.

Times are ratios to the reference workload on one core. Exits 1 where a bound is missed.
"""

import argparse
import statistics
import sys

import cv2
import numpy as np

from bench.engine import seconds_of
from bench.reference import reference_seconds
from tests.badges import BADGES, cover, picture
from warmtide.core.job.take import restyle
from warmtide.core.looks.registry import looks
from warmtide.core.maths.colour import bytes_to_lab
from warmtide.core.model.cache import SharedCache
from warmtide.core.model.guides import Guides
from warmtide.core.model.recipe import Holds, Recipe
from warmtide.core.understanding.flat.art import take_apart

_MEDIAN, _WORST, _ANALYSIS, _LARGER, _SHAPE = 3.0, 6.0, 2.0, 4.5, 0.995
_TIMED = ("shield", "gear", "leaf")


def agreement(name: str, size: int) -> float:
    """Intersection over union of the cover that materials use and the badge's own."""
    true = cover(name, size).astype(np.float32) / 255
    art = take_apart(bytes_to_lab(picture(name, size)), true)
    found = cv2.resize(art.cover, (size, size), interpolation=cv2.INTER_AREA)
    return float(np.minimum(found, true).sum() / np.maximum(found, true).sum())


def seconds(look: str, name: str, size: int) -> float:
    """One take of a badge whose parts are known."""
    source, guides, cache = picture(name, size), Guides(cover=cover(name, size)), SharedCache()
    holds = Holds(lines=1, shapes=1, colours=0.5)
    recipe = Recipe(look=look, strength=0.9, steps=20, holds=holds, size=max(size, 64))
    restyle(source, recipe.changed(seed=99), cache=cache, guides=guides)
    return seconds_of(lambda: restyle(source, recipe, cache=cache, guides=guides), 1)


def main() -> None:
    given = argparse.ArgumentParser(description=__doc__)
    given.add_argument("--size", type=int, default=512)
    size = given.parse_args().size
    reference = reference_seconds()
    missed: list[str] = []

    def held(name: str, value: float, bound: float, least: bool = False) -> None:
        good = value >= bound if least else value <= bound
        print(f"{name:34} {value:7.3f}  ({'>=' if least else '<='} {bound}){'' if good else '  MISSED'}", flush=True)
        if not good:
            missed.append(name)

    for name in BADGES:
        held(f"shape: {name}", agreement(name, size), _SHAPE, True)
    for name in _TIMED:
        lab, alpha = bytes_to_lab(picture(name, size)), cover(name, size).astype(np.float32) / 255

        def known(lab=lab, alpha=alpha) -> None:  # type: ignore[no-untyped-def]
            art = take_apart(lab, alpha)
            _ = art.pillows, art.swelling, art.within, art.levels

        held(f"parts: {name}", seconds_of(known) / reference, _ANALYSIS)
    ratios, larger = [], []
    for look in (name for name, found in looks().items() if found.category == "material"):
        reference = reference_seconds()
        times = [seconds(look, name, size) for name in _TIMED]
        ratios += [t / reference for t in times]
        larger.append(seconds(look, _TIMED[0], 2 * size) / times[0])
        print(
            f"{look:16} {statistics.median(times) / reference:5.2f} references, twice as large {larger[-1]:4.2f}",
            flush=True,
        )
    held("median of all takes", statistics.median(ratios), _MEDIAN)
    held("slowest take", max(ratios), _WORST)
    held("1024 over 512 px, worst", max(larger), _LARGER)
    sys.exit(1 if missed else 0)


if __name__ == "__main__":
    main()
