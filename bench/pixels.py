"""Hashes of pixels, to be the same before and after a change that promises so.

`python -m bench.pixels -o BEFORE.json` writes them, `python -m bench.pixels --against BEFORE.json` compares and exits 1
where one differs: takes of every look on every kind of picture at three strengths, and every place as a scene.
"""

import argparse
import hashlib
import json
import sys
from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path

import numpy as np

from warmtide.core.job.take import restyle
from warmtide.core.looks.registry import looks
from warmtide.core.maths.arrays import Byte
from warmtide.core.model.cache import SharedCache
from warmtide.core.model.recipe import Recipe
from warmtide.core.pictures.framing import Framing, frame
from warmtide.core.pictures.image import decode
from warmtide.core.scenes.registry import places
from warmtide.core.scenes.scene import draw_scene
from warmtide.core.scenes.words import read_scene

_DEMO = Path(__file__).parent.parent / "demo" / "pictures"
_PICTURES = ("quay.jpg", "boathouse.png", "massing.png", "kettle.png", "sketch.png", "badge.png", "block.png")
_STRENGTHS = (0.35, 0.65, 0.95)
_SIDE = 192


def _hash(picture: Byte) -> str:
    return hashlib.blake2b(np.ascontiguousarray(picture).tobytes(), digest_size=8).hexdigest()


def takes_of(look: str) -> dict[str, str]:
    """Hashes of one look's takes by picture and strength."""
    found = {}
    for name in _PICTURES:
        source = frame(decode((_DEMO / name).read_bytes()).rgba, Framing(), _SIDE)
        cache = SharedCache()
        for strength in _STRENGTHS:
            take = restyle(source, Recipe(look=look, strength=strength, size=_SIDE), cache=cache)
            found[f"{look} {name} {strength}"] = _hash(take)
    return found


def scene_hash(place: str) -> dict[str, str]:
    """Hash of one place as a small scene."""
    asked = read_scene(places()[place].words[0]).asked
    assert asked is not None
    return {f"scene {place}": _hash(draw_scene(asked, 120, 160, 3, None).bytes())}


def _work() -> Iterator[tuple[object, str]]:
    yield from ((takes_of, name) for name in looks())
    yield from ((scene_hash, name) for name in places())


def _one(job: tuple[object, str]) -> dict[str, str]:
    do, name = job
    return do(name)  # type: ignore[operator, no-any-return]


def main() -> int:
    given = argparse.ArgumentParser(description=__doc__)
    given.add_argument("-o", type=Path, help="the file to write")
    given.add_argument("--against", type=Path, help="a file written before")
    chosen = given.parse_args()
    found: dict[str, str] = {}
    with ProcessPoolExecutor() as pool:
        for part in pool.map(_one, list(_work())):
            found |= part
    if chosen.o:
        chosen.o.write_text(json.dumps(found, indent=0, sort_keys=True))
    print(f"{len(found)} pictures")
    if not chosen.against:
        return 0
    before = json.loads(chosen.against.read_text())
    differing = [name for name in sorted(before | found) if before.get(name) != found.get(name)]
    for name in differing[:40]:
        print(f"differs: {name}")
    print(f"{len(differing)} differ")
    return 1 if differing else 0


if __name__ == "__main__":
    sys.exit(main())
