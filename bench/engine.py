"""How fast the engine is, and whether drafts and sizes agree: `python -m bench.engine [--prototype FOLDER]`.

Times are ratios to the reference workload, timed again before every look, on one core. Exits 1 where a bound is
missed. With the folder of the research prototype its takes are timed in the same run.
"""

import argparse
import re
import statistics
import subprocess
import sys
import time
from collections.abc import Callable
from pathlib import Path

import cv2
import numpy as np
from scipy.stats import spearmanr

from bench.reference import reference_seconds
from warmtide.core.engine.draft import drafted
from warmtide.core.job.take import restyle
from warmtide.core.looks.registry import add, looks
from warmtide.core.maths.arrays import Byte
from warmtide.core.model.cache import SharedCache
from warmtide.core.model.look import Handling, Look
from warmtide.core.model.recipe import Holds, Recipe
from warmtide.core.pictures.framing import Framing, frame
from warmtide.core.pictures.image import decode
from warmtide.core.readings.measure import measure

_QUAY = Path(__file__).parent.parent / "demo" / "pictures" / "quay.jpg"
_HOLDS = Holds(lines=0.6, shapes=0.6)
_FREE = Holds(lines=0, shapes=0, colours=0, faces=0, subject=0)
_MEDIAN, _WORST, _SAMPLER, _LARGER, _APART, _MEMORY = 0.8, 1.6, 0.25, 4.5, 5.0, 700
_DRAFTS = {"draft": 0.15, "glimpse": 0.06}
_AGREE = 0.9
# A recipe's own seed, and two more.
_SEEDS = (Recipe().seed, 1, 2)
_PROTOTYPE_LOOKS = ("watercolor", "oil", "comic", "pencil")


def framed(size: int) -> Byte:
    return frame(decode(_QUAY.read_bytes()).rgba, Framing(), size)


def seconds_of(work: Callable[[], object], times: int = 2) -> float:
    """The quicker of some runs."""
    found = []
    for _ in range(times):
        began = time.perf_counter()
        work()
        found.append(time.perf_counter() - began)
    return min(found)


def recipe_of(look: str, size: int = 512, quality: str = "full", holds: Holds = _HOLDS) -> Recipe:
    return Recipe.model_validate(
        {"look": look, "strength": 1, "guidance": 7, "steps": 20, "holds": holds, "size": size, "quality": quality}
    )


def agreement(full: Byte, draft: Byte) -> float:
    """Correlation of two takes' lightness on a grid 32 wide."""
    grids = [
        cv2.resize(p, (32, 21), interpolation=cv2.INTER_AREA).astype(float).mean(-1).ravel() for p in (full, draft)
    ]
    return float(np.corrcoef(*grids)[0, 1])


def timed(look: str) -> dict[str, float]:
    """Ratios and agreements of one look."""
    source = framed(512)
    cache = SharedCache()
    restyle(source, recipe_of(look).changed(guidance=6.0), cache=cache)
    unit = min(reference_seconds() for _ in range(2))
    warm = seconds_of(lambda: restyle(source, recipe_of(look), cache=cache)) / unit
    found = {"unit": unit, "warm": warm, "cold": seconds_of(lambda: restyle(source, recipe_of(look)), 1) / unit}
    for quality in _DRAFTS:
        restyle(source, recipe_of(look, quality=quality).changed(guidance=6.0), cache=cache)
        found[quality] = seconds_of(lambda q=quality: restyle(source, recipe_of(look, quality=q), cache=cache)) / unit  # type: ignore[misc]
        for name, holds in (("r", _HOLDS), ("free r", _FREE)):
            recipes = [recipe_of(look, holds=holds).changed(seed=seed) for seed in _SEEDS]
            pairs = [(r, r.changed(quality=quality)) for r in recipes]
            found[f"{quality} {name}"] = statistics.median(
                agreement(*(restyle(source, r, cache=cache) for r in pair)) for pair in pairs
            )
    return found


def foretold(look: str) -> float:
    """Rank correlation of the composition that drafts and full takes keep, over strengths and seeds."""
    source, cache = framed(512), SharedCache()
    kept: dict[str, list[float]] = {"full": [], "draft": []}
    for strength in (0.3, 0.5, 0.7, 0.85, 1.0):
        for seed in _SEEDS[1:]:
            for quality, found in kept.items():
                take = restyle(
                    source, recipe_of(look, quality=quality).changed(strength=strength, seed=seed), cache=cache
                )
                found.append(float(measure(drafted(source, quality)[0], take)["composition"]))
    return float(spearmanr(kept["full"], kept["draft"]).statistic)


def sizes(look: str) -> tuple[float, list[float]]:
    """Time at 1024 px over that at 512, and composition kept at strength .6 at 256, 512 and 1024 px."""
    spent, kept = [], []
    for size in (256, 512, 1024):
        source, cache = framed(size), SharedCache()
        recipe = recipe_of(look, size)
        if size > 256:
            restyle(source, recipe.changed(guidance=6.0), cache=cache)
            spent.append(seconds_of(lambda s=source, r=recipe, c=cache: restyle(s, r, cache=c), 1))  # type: ignore[misc]
        take = restyle(source, recipe.changed(strength=0.6), cache=cache)
        kept.append(float(measure(source, take)["composition"]))
    return spent[1] / spent[0], kept


def memory(look: str) -> int:
    """Megabytes that a fresh process needs for two takes of a look at 1024 px; the kernel's own high-water mark, since
    a child's `ru_maxrss` begins with its parent's."""
    code = (
        "import re; from bench.engine import *; s = framed(1024); c = SharedCache();"
        f"[restyle(s, recipe_of({look!r}, 1024).changed(guidance=float(g)), cache=c) for g in (6, 7)];"
        "print(int(re.search(r'VmHWM:\\s+(\\d+)', open('/proc/self/status').read())[1]) // 1024)"
    )
    return int(subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True).stdout)


def prototype(folder: Path) -> None:
    """Time the prototype's takes: the second of two in one process, as it prints them."""
    for look in _PROTOTYPE_LOOKS:
        unit = reference_seconds()
        run = subprocess.run(
            [sys.executable, "run.py", str(_QUAY), look, "/tmp/prototype.png", "strength=1", "g=7", "hold=.6", "paints=1"],
            cwd=folder / "fast", capture_output=True, text=True, check=False,
        )  # fmt: skip
        spent = [float(s) for s in re.findall(r"([\d.]+) s", run.stdout)]
        print(f"prototype {look:12} {f'{spent[-1] / unit:.2f}' if spent else 'did not run'}")


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--looks", help="names by comma; all by default")
    parser.add_argument("--prototype", type=Path)
    given = parser.parse_args()
    names = given.looks.split(",") if given.looks else list(looks())
    missed: list[str] = []

    def bound(name: str, value: float, most: float) -> None:
        if value > most:
            missed.append(f"{name} {value:.2f} > {most}")

    print("look          warm  cold  draft    r free  glimpse   r free  rank 1024/512  composition at 256 512 1024")
    warm, drafts, glimpses, ranks = [], [], [], []
    for name in names:
        found = timed(name)
        larger, kept = sizes(name)
        ranks.append(foretold(name))
        warm.append(found["warm"])
        drafts.append(found["draft"])
        glimpses.append(found["glimpse"])
        print(
            f"{name:12} {found['warm']:5.2f} {found['cold']:5.2f}  {found['draft']:5.2f} {found['draft r']:5.2f}{found['draft free r']:5.2f} "
            f"{found['glimpse']:6.2f} {found['glimpse r']:5.2f}{found['glimpse free r']:5.2f} {ranks[-1]:5.2f} {larger:6.1f}     "
            + " ".join(f"{k:5.0f}" for k in kept),
            flush=True,
        )
        bound(f"{name} 1024/512", larger, _LARGER)
        bound(f"{name} sizes apart", max(kept) - min(kept), _APART)
        bound(f"{name} draft disagrees", _AGREE, found["draft r"])
        bound(f"{name} readings of drafts", _AGREE, ranks[-1])
    bare = add(
        Look("bare", "Bare", "none", (), "", (0, 1), lambda lab, sitting: lab, handling=Handling(portrait=False))
    )
    source, cache = framed(512), SharedCache()
    restyle(source, recipe_of(bare.name).changed(guidance=6.0), cache=cache)
    sampler = seconds_of(lambda: restyle(source, recipe_of(bare.name), cache=cache), 3) / reference_seconds()
    megabytes = memory(names[0])
    print(f"median {statistics.median(warm):.2f}, worst {max(warm):.2f}; sampler alone {sampler:.2f}; draft median "
          f"{statistics.median(drafts):.2f}, glimpse {statistics.median(glimpses):.2f}; {megabytes} MB at 1024 px")  # fmt: skip
    bound("median", statistics.median(warm), _MEDIAN)
    bound("worst", max(warm), _WORST)
    bound("sampler", sampler, _SAMPLER)
    bound("draft", statistics.median(drafts), _DRAFTS["draft"])
    bound("glimpse", statistics.median(glimpses), _DRAFTS["glimpse"])
    bound("megabytes", megabytes, _MEMORY)
    if given.prototype:
        prototype(given.prototype)
    for line in missed:
        print("MISSED", line)
    return 1 if missed else 0


if __name__ == "__main__":
    sys.exit(main())
