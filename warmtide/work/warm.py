"""Compile kernels before a take is waited for: `python -m warmtide.work.warm [--share K/N] [LOOK ...]`.

With looks it compiles what they need, without any whatever is missing, the first look of a new study first.
"""

import argparse
import hashlib
import sys
from collections.abc import Callable, Iterable
from contextlib import suppress
from functools import cache
from pathlib import Path

from ..core.maths.jit.kept import machine_folder
from ..core.model.recipe import Recipe

_CORE = Path(__file__).resolve().parent.parent / "core"
_SIDE = 64
Step = Callable[[], object]


@cache
def _sources() -> str:
    """A hash of all that kernels are compiled from."""
    told = hashlib.blake2b(digest_size=12)
    for path in sorted(_CORE.rglob("*.py")):
        told.update(path.read_bytes())
    return told.hexdigest()


def _stamp(part: str) -> Path:
    return machine_folder() / f"whole-{part}-{_sources()}"


def is_whole(part: str = "0-1") -> bool:
    """Whether a share of the kernels, or all of them, have been compiled as they are now."""
    return _stamp("0-1").exists() or _stamp(part).exists()


def warm_looks(names: Iterable[str]) -> None:
    """Render a thumbnail in every look named: 50 ms each where their kernels are there."""
    for name in names:
        _look(name)


def _look(name: str) -> None:
    import numpy as np

    from ..core.job.take import restyle

    noise = np.random.default_rng(0).integers(0, 255, (_SIDE, _SIDE, 3), dtype=np.uint8)
    restyle(noise, Recipe(look=name, strength=0.9, steps=6))


def _place(name: str) -> None:
    from ..core.scenes.registry import place_named
    from ..core.scenes.scene import draw_scene
    from ..core.scenes.words import read_scene

    for more in ("", ", night", ", rain", ", snow"):
        asked = read_scene(place_named(name).words[0] + more).asked
        if asked is not None:
            draw_scene(asked, _SIDE, _SIDE, 1)


def _learned() -> None:
    import numpy as np

    from ..core.job.take import restyle
    from ..core.looks.learned.dictionary import learn
    from ..core.looks.learned.painter import look_from
    from ..core.looks.registry import add

    noise = np.random.default_rng(0).integers(0, 255, (2, 2 * _SIDE, 2 * _SIDE, 3), dtype=np.uint8)
    look = add(look_from(learn([noise[0]], "Warming")))
    restyle(noise[1], Recipe(look=look.name, strength=0.9, steps=6))


def steps() -> list[Step]:
    """All that needs kernels, the first look of a new study first, then looks, then places."""
    from ..core.looks.registry import looks
    from ..core.scenes.registry import places

    first = Recipe().look
    names = [first, *(name for name in looks() if name != first)]
    return [
        *((lambda name=name: _look(name)) for name in names),
        _learned,
        *((lambda name=name: _place(name)) for name in places()),
    ]


def warm(
    share: int = 0,
    of: int = 1,
    told: Callable[[int, int], None] | None = None,
    give_way: Callable[[], None] | None = None,
) -> None:
    """Compile every kernel that is missing, or one of `of` shares of them; a minute or two of work in all. `give_way` is
    called before each step."""
    part = f"{share}-{of}"
    if is_whole(part):
        return
    own = steps()[share::of]
    for done, step in enumerate(own, 1):
        if give_way is not None:
            give_way()
        step()
        if told is not None:
            told(done, len(own))
    # Where nothing can be kept, the next process compiles again.
    with suppress(OSError):
        for old in machine_folder().glob(f"whole-{part}-*"):
            old.unlink(missing_ok=True)
        _stamp(part).touch()


def main(arguments: list[str]) -> None:
    given = argparse.ArgumentParser(description=__doc__)
    given.add_argument("looks", nargs="*")
    given.add_argument("--share", default="0/1", help="K/N: this one of so many processes, from 0")
    chosen = given.parse_args(arguments)
    if chosen.looks:
        warm_looks(chosen.looks)
        return
    share, of = (int(number) for number in chosen.share.split("/"))

    def told(done: int, total: int) -> None:
        print(
            f"\rCompiling kernels: {100 * done // total} %",
            end="" if done < total else "\n",
            file=sys.stderr,
            flush=True,
        )

    warm(share, of, told if sys.stderr.isatty() and share == 0 else None)


if __name__ == "__main__":
    main(sys.argv[1:])
