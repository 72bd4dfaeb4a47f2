"""Seconds a take for each look at 256 and 512 px on one core: `python -m bench.takes`."""

import statistics
import time
from pathlib import Path

from bench.reference import reference_seconds
from warmtide.core.job.take import restyle
from warmtide.core.looks.registry import looks
from warmtide.core.model.cache import SharedCache
from warmtide.core.model.recipe import Recipe
from warmtide.core.pictures.framing import Framing, frame
from warmtide.core.pictures.image import decode
from warmtide.core.readings.measure import measure

_PICTURE = Path(__file__).parent.parent / "demo" / "pictures" / "quay.jpg"
_RUNS = 3


def median_seconds(source, recipe: Recipe, cache: SharedCache | None) -> float:  # type: ignore[no-untyped-def]
    """Median of some runs; with a cache, another strength of the same sweep has filled it."""
    found = []
    for _ in range(_RUNS):
        began = time.perf_counter()
        restyle(source, recipe, cache=cache)
        found.append(time.perf_counter() - began)
    return statistics.median(found)


def main() -> None:
    original = decode(_PICTURE.read_bytes()).rgba
    unit = min(reference_seconds() for _ in range(3))
    print(f"reference {unit:.3f} s; times in seconds, in brackets in references\n")
    print("| look | size | strength .7, cold | strength 1, cold | strength .7, in a sweep |")
    print("|---|---|---|---|---|")
    for name in looks():
        for size in (256, 512):
            source = frame(original, Framing(), size)
            base = Recipe(look=name, size=size, strength=0.7)
            restyle(source, base)
            cache = SharedCache()
            restyle(source, base.changed(guidance=6), cache=cache)
            cells = [
                median_seconds(source, base, None),
                median_seconds(source, base.changed(strength=1), None),
                median_seconds(source, base, cache),
            ]
            row = " | ".join(f"{t:.3f} ({t / unit:.2f})" for t in cells)
            print(f"| {name} | {source.shape[1]} x {source.shape[0]} | {row} |", flush=True)
    source = frame(original, Framing(), 512)
    take = restyle(source, Recipe())
    began = time.perf_counter()
    for _ in range(20):
        measure(source, take)
    print(f"\nreadings of a take at 512 px: {(time.perf_counter() - began) / 20 * 1000:.0f} ms")


if __name__ == "__main__":
    main()
