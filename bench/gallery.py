"""One sheet a look: every picture x strengths x holds: `python -m bench.gallery [-o FOLDER] [PICTURE ...]`.

Without pictures the demo's are used; each look shows the kinds of source that it is made for.
"""

import argparse
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path

import cv2
import numpy as np

from warmtide.core.job.take import restyle
from warmtide.core.looks.registry import look_named, looks
from warmtide.core.maths.arrays import Byte
from warmtide.core.model.cache import SharedCache
from warmtide.core.model.recipe import Recipe
from warmtide.core.pictures.framing import Framing, frame
from warmtide.core.pictures.image import decode, png

_DEMO = Path(__file__).parent.parent / "demo" / "pictures"
_KINDS = {"quay.jpg": "photo", "boathouse.png": "render", "sketch.png": "sketch", "badge.png": "flat art"}
# What is made for one kind of render is shown on that.
_RENDERS = {"building": ("massing.png", "boathouse.png"), "product": ("kettle.png",)}
_STRENGTHS = (0.3, 0.5, 0.7, 0.9)
_HELD, _FREE = {"lines": 0.7, "shapes": 0.7}, {"lines": 0, "shapes": 0, "faces": 0}
_GAP = 4


def _row(pictures: list[Byte]) -> Byte:
    height = max(p.shape[0] for p in pictures)
    padded = [
        cv2.copyMakeBorder(p, 0, height - p.shape[0] + _GAP, 0, _GAP, cv2.BORDER_CONSTANT, value=(119,) * 3)
        for p in pictures
    ]
    return np.hstack(padded)


def sheet(look: str, files: list[Path], size: int) -> Byte:
    """Rows: pictures; columns: the source, then each strength held, then each strength free."""
    rows = []
    for file in files:
        source = frame(decode(file.read_bytes()).rgba, Framing(), size)
        cache = SharedCache()
        takes = [
            restyle(source, Recipe(look=look, strength=strength, holds=holds, size=size), cache=cache)
            for holds in (_HELD, _FREE)
            for strength in _STRENGTHS
        ]
        rows.append(_row([source, *takes]))
    width = max(row.shape[1] for row in rows)
    return np.vstack(
        [cv2.copyMakeBorder(r, 0, 0, 0, width - r.shape[1], cv2.BORDER_CONSTANT, value=(119,) * 3) for r in rows]
    )


def _write(job: tuple[str, list[Path], int, Path]) -> str:
    look, files, size, folder = job
    path = folder / f"{look}.png"
    path.write_bytes(png(sheet(look, files, size)))
    return str(path)


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("pictures", nargs="*", type=Path)
    parser.add_argument("-o", "--out", type=Path, default=Path("gallery"))
    parser.add_argument("--size", type=int, default=320)
    parser.add_argument("--looks", help="names by comma; all by default")
    given = parser.parse_args()
    given.out.mkdir(parents=True, exist_ok=True)
    jobs = []
    for look in given.looks.split(",") if given.looks else looks():
        chosen = look_named(look)
        by_kind = tuple(name for name, kind in _KINDS.items() if kind in chosen.kinds)
        demo = [_DEMO / name for name in _RENDERS.get(chosen.category, by_kind)]
        jobs.append((look, given.pictures or demo, given.size, given.out))
    with ProcessPoolExecutor(2) as pool:
        for path in pool.map(_write, jobs):
            print(path, flush=True)


if __name__ == "__main__":
    main()
