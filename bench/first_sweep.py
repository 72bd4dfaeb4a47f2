"""Whether a new study's first sweep tells the story: `python -m bench.first_sweep [FOLDER] [--kind KIND]`.

For every picture of the folder (the demo's without one) and six looks made for its kind, the sweep that a new study begins
with is painted and read: the composition is whole at its low end, lost at its high end, and a tip lies between. Prints a
line a picture and look, the shares by kind, and exits 1 where photos or sketches have too few tips.
"""

import argparse
import sys
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from pathlib import Path

import numpy as np

from bench.readings import pictures_in
from warmtide.core.job.take import restyle
from warmtide.core.looks.registry import looks
from warmtide.core.maths.arrays import Byte
from warmtide.core.model.cache import SharedCache
from warmtide.core.model.controls import CONTROLS
from warmtide.core.model.recipe import Holds, Recipe
from warmtide.core.pictures.framing import Framing, frame
from warmtide.core.pictures.image import decode
from warmtide.core.readings.measure import read
from warmtide.core.readings.pair import SourceReading
from warmtide.core.readings.tip import find_tip
from warmtide.core.understanding.faces import find_faces
from warmtide.core.understanding.kind import guess_kind, holds_for

_DEMO = Path(__file__).parent.parent / "demo" / "pictures"
_SIZE = 384
_LOOKS = 6
# Looks that mend a picture keep its composition at every strength, which is what they are for.
_NOT_PAINTED = ("restored",)
# What the sweep is to show: whole at its low end, lost at its high end.
_WHOLE, _LOST = 97.0, 70.0
_LEAST_TIPS = 80.0
_BOUND = ("photo", "sketch")


@dataclass(frozen=True)
class Swept:
    """One picture in one look."""

    picture: str
    kind: str
    look: str
    kept: tuple[float, ...]
    outcome: str
    tip: float | None

    @property
    def tells(self) -> bool:
        return self.outcome == "tip"


def strengths() -> list[float]:
    """Those of the sweep that a new study begins with."""
    span = next(control for control in CONTROLS if control.name == "strength").stretched
    assert span is not None
    return [round(float(s), 2) for s in np.linspace(span.from_, span.to, span.count)]


def looks_for(kind: str) -> list[str]:
    """Six looks made for a kind, spread over their families."""
    made = sorted(
        (look for look in looks().values() if kind in look.kinds and look.category not in _NOT_PAINTED),
        key=lambda look: look.category,
    )
    places = np.linspace(0, len(made) - 1, min(_LOOKS, len(made))).round().astype(int)
    return [made[int(p)].name for p in places]


def swept(job: tuple[Path, str | None, dict[str, float]]) -> list[Swept]:
    """A picture's first sweep in its looks."""
    path, given, held = job
    rgba = decode(path.read_bytes()).rgba
    kind = given or guess_kind(rgba)
    source: Byte = frame(rgba, Framing(), _SIZE)
    people = kind == "photo" and bool(find_faces(source))
    holds = Holds(**{**holds_for(kind, people).model_dump(), **held})
    known, cache = SourceReading(source), SharedCache()
    found = []
    for look in looks_for(kind):
        kept = []
        for strength in strengths():
            take = restyle(source, Recipe(look=look, strength=strength, holds=holds, size=_SIZE), cache=cache)
            kept.append(float(read(known, take).figures["composition"]))
        tip = find_tip(strengths(), [[k] for k in kept])
        assert tip is not None
        found.append(Swept(path.stem, kind, look, tuple(kept), tip.outcome, tip.strength))
    return found


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    parser.add_argument("folder", nargs="?", type=Path, default=_DEMO)
    parser.add_argument("--kind", help="what the pictures are, where the guess is not to be trusted")
    parser.add_argument("--only", nargs="*", help="names of pictures")
    for hold in ("lines", "shapes", "colours", "subject"):
        parser.add_argument(f"--{hold}", type=float, help="instead of what the kind begins with")
    options = parser.parse_args()
    held = {
        hold: value
        for hold in ("lines", "shapes", "colours", "subject")
        if (value := getattr(options, hold)) is not None
    }
    files = [path for path in pictures_in(options.folder) if not options.only or path.stem in options.only]
    with ProcessPoolExecutor(2) as pool:
        rows = [row for part in pool.map(swept, [(path, options.kind, held) for path in files]) for row in part]
    for row in rows:
        kept = " ".join(f"{k:3.0f}" for k in row.kept)
        print(f"{row.kind:8} {row.picture[:18]:18} {row.look:18} {kept}  {row.outcome} {row.tip or ''}")
    missed = False
    for kind in sorted({row.kind for row in rows}):
        own = [row for row in rows if row.kind == kind]
        tips = 100 * float(np.mean([row.tells for row in own]))
        whole = 100 * float(np.mean([row.kept[0] >= _WHOLE for row in own]))
        lost = 100 * float(np.mean([row.kept[-1] <= _LOST for row in own]))
        print(
            f"{kind}: {tips:.0f} % have a tip; {whole:.0f} % are whole at the low end, {lost:.0f} % lost at the high end ({len(own)})"
        )
        missed |= kind in _BOUND and tips < _LEAST_TIPS
    return int(missed)


if __name__ == "__main__":
    sys.exit(main())
