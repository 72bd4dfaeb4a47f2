"""Scenes: how fast they are drawn, and whether a blocked-in skyline is met: `python -m bench.scenes [--sheet OUT.png]`.

Times are ratios to the reference workload, timed again before every place, on one core. Exits 1 where a bound is
missed. --sheet draws every place by day, as docs/scenes.md shows them.
"""

import argparse
import statistics
import sys
import time
from pathlib import Path

import cv2
import numpy as np

from bench.reference import reference_seconds
from tests.core.test_scenes import block_in
from warmtide.core.job.take import restyle
from warmtide.core.maths.arrays import f32
from warmtide.core.model.cache import SharedCache
from warmtide.core.model.recipe import Recipe
from warmtide.core.model.scene import Asked
from warmtide.core.pictures.image import png
from warmtide.core.scenes.layout import layout_of
from warmtide.core.scenes.registry import places
from warmtide.core.scenes.scene import draw_scene
from warmtide.core.scenes.view import SKY
from warmtide.core.scenes.words import read_scene

_MEDIAN, _WORST, _LARGER = 2.5, 5.0, 4.5
_BLOCK_INS, _SEEDS = 10, (1, 2, 3, 4)
_LANDS = ("lake with mountains", "hills", "mountains, golden hour", "snow field")
_TITLE = (224, 220, 210)
_CELL = (132, 198)


def seconds(place: str, size: int, seeds: tuple[int, ...] = (1, 2)) -> float:
    """Mean seconds of a place in a square of `size` px over seeds."""
    asked = Asked(place, places()[place].presumed)
    began = time.perf_counter()
    for seed in seeds:
        draw_scene(asked, size, size, seed)
    return (time.perf_counter() - began) / len(seeds)


def _least(place: str, size: int) -> float:
    """The less of two runs: small scenes are over before the machine has found its pace."""
    return min(seconds(place, size, (1,)) for _ in range(2))


def speed() -> list[str]:
    """A line a place; what was missed."""
    ratios, larger, missed = {}, {}, []
    for name in places():
        seconds(name, 128, (1,))
        unit = min(reference_seconds() for _ in range(2))
        at_512 = seconds(name, 512)
        ratios[name] = at_512 / unit
        larger[name] = _least(name, 1024) / _least(name, 512)
        print(f"{name:12} {at_512:5.2f} s  {ratios[name]:5.2f} references  1024 px x {larger[name]:.2f}", flush=True)
    median, worst, most = statistics.median(ratios.values()), max(ratios.values()), max(larger.values())
    print(f"median {median:.2f}, worst {worst:.2f} references; 1024 over 512 px at most {most:.2f}")
    for found, bound, what in (
        (median, _MEDIAN, "median"),
        (worst, _WORST, "worst"),
        (most, _LARGER, "1024 over 512 px"),
    ):
        if found > bound:
            missed.append(f"{what} {found:.2f} > {bound}")
    return missed


def sweep() -> list[str]:
    """A scene is drawn once for a sweep of strengths, not once a take."""
    source, cache = block_in(3)[0], SharedCache()
    recipe = Recipe(look="watercolour", prompt="lake with mountains", strength=0.9)
    restyle(source, recipe.changed(seed=1), cache=cache)
    times = []
    for strength in (0.7, 0.8, 0.9, 1.0):
        began = time.perf_counter()
        restyle(source, recipe.changed(strength=strength), cache=cache)
        times.append(time.perf_counter() - began)
    print("takes of one sweep:", " ".join(f"{t:.2f}" for t in times), "s (the first draws the scene)")
    return [] if max(times[1:]) < times[0] else ["later takes of a sweep cost as much as the first"]


def skylines() -> list[str]:
    """Apart from the drawn line, px of 512: medians and ninth deciles of ten block-ins and four seeds."""
    medians, deciles = [], []
    for k in range(20, 20 + _BLOCK_INS):
        picture, line = block_in(k)
        layout = layout_of(picture.astype(f32) / 255)
        asked = read_scene(_LANDS[k % len(_LANDS)]).asked
        assert asked is not None
        apart = []
        for seed in _SEEDS:
            sky = draw_scene(asked, *picture.shape[:2], seed, layout).labels == SKY
            top = np.where(sky.all(0), sky.shape[0], np.argmax(~sky, 0))
            apart.append(np.abs(top - np.floor(line)))
        medians.append(max(float(np.median(a)) for a in apart))
        deciles.append(max(float(np.percentile(a, 90)) for a in apart))
    print("skyline, worst of four seeds, median:", " ".join(f"{m:.1f}" for m in medians))
    print("skyline, worst of four seeds, 90 %:  ", " ".join(f"{d:.1f}" for d in deciles))
    missed = []
    if max(medians) > 1:
        missed.append(f"skyline median {max(medians):.1f} > 1 px")
    if sum(d <= 6 for d in deciles) < 9:
        missed.append("skyline ninth decile above 6 px in more than one block-in")
    return missed


def sheet(out: Path) -> None:
    """Every place by day and, outdoors, at another time; each with its name."""
    cells = []
    for k, place in enumerate(places().values()):
        other = ("golden", "sunset", "night")[k % 3] if place.outdoors else place.presumed
        for seed, time_ in ((1, place.presumed), (2, other)):
            drawn = draw_scene(Asked(place.name, time_), 2 * _CELL[0], 2 * _CELL[1], seed).bytes()
            cell = cv2.resize(drawn, _CELL[::-1], interpolation=cv2.INTER_AREA)
            strip = np.full((18, _CELL[1], 3), 40, np.uint8)
            text = f"{place.title}, {time_}" if place.outdoors else place.title
            cv2.putText(strip, text, (5, 13), cv2.FONT_HERSHEY_SIMPLEX, 0.36, _TITLE, 1, cv2.LINE_AA)
            cells.append(np.vstack([cell, strip]))
    columns = 6
    while len(cells) % columns:
        cells.append(np.full_like(cells[0], 40))
    rows = [np.hstack(cells[i : i + columns]) for i in range(0, len(cells), columns)]
    out.write_bytes(png(np.vstack(rows)))


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--sheet", type=Path)
    chosen = parser.parse_args()
    if chosen.sheet:
        sheet(chosen.sheet)
        return 0
    missed = speed() + sweep() + skylines()
    print("missed: " + "; ".join(missed) if missed else "no bound is missed")
    return 1 if missed else 0


if __name__ == "__main__":
    sys.exit(main())
