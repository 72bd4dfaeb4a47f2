"""Whether the readings agree with controls of known truth: `python -m bench.readings [FOLDER]`.

Without a folder the demo's pictures are used; any folder of pictures will do. Prints the table of docs/readings.md
and exits 1 where a bound is missed.
"""

import argparse
import itertools
import sys
import time
from collections.abc import Callable
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, field
from pathlib import Path

import cv2
import numpy as np

from tests.core import controls
from warmtide.core.job.take import restyle
from warmtide.core.maths.arrays import Byte
from warmtide.core.model.cache import SharedCache
from warmtide.core.model.errors import BadInput
from warmtide.core.model.recipe import Holds, Recipe
from warmtide.core.pictures.framing import Framing, cropped_to, frame
from warmtide.core.pictures.image import decode
from warmtide.core.readings.face import face_kept
from warmtide.core.readings.heat import heat
from warmtide.core.readings.measure import read
from warmtide.core.readings.pair import SourceReading
from warmtide.core.readings.tip import find_tip
from warmtide.core.readings.warnings import FACE_LOST
from warmtide.core.understanding.faces import find_faces
from warmtide.core.understanding.kind import guess_kind

_DEMO = Path(__file__).parent.parent / "demo" / "pictures"
_SIZE = 384
# Tiles and brushes wider than a pencil line do away with it.
_NOT_KEPT = {("sketch", "tiled"), ("sketch", "stroked")}
_SHIFTS, _BENDS = (0.03, 0.06, 0.12), (0.01, 0.02, 0.04, 0.08)


@dataclass
class Found:
    """Figures of one picture."""

    name: str
    high: dict[str, float] = field(default_factory=dict)
    lines: dict[str, float] = field(default_factory=dict)
    low: dict[str, float] = field(default_factory=dict)
    shifts: list[float] = field(default_factory=list)
    bends: list[float] = field(default_factory=list)
    hits: list[bool] = field(default_factory=list)
    sizes: float = 0.0
    faces: list[tuple[float, float]] = field(default_factory=list)
    milliseconds: float = 0.0


def pictures_in(folder: Path) -> list[Path]:
    """Files of a folder that are pictures with something in them."""
    found = []
    for path in sorted(folder.iterdir()):
        if not path.is_file():
            continue
        try:
            picture = frame(decode(path.read_bytes()).rgba, Framing(), 64)
        except BadInput:
            continue
        if float(picture.std()) > 8:
            found.append(path)
    return found


def framed(path: Path, size: int = _SIZE) -> Byte:
    return frame(decode(path.read_bytes()).rgba, Framing(), size)


def measured(job: tuple[Path, list[Path]]) -> Found:
    """All controls of one picture; the others are its unrelated ones."""
    path, others = job
    source = framed(path)
    known = SourceReading(source)
    features = known.features

    def kept(take: Byte) -> float:
        return float(read(known, take).figures["composition"])

    found = Found(path.stem)
    kind = guess_kind(decode(path.read_bytes()).rgba)
    found.high = {
        name: kept(control(source)) for name, control in controls.KEEP.items() if (kind, name) not in _NOT_KEPT
    }
    found.lines = {name: kept(control(source)) for name, control in controls.LINES.items()}
    found.low = {name: kept(control(source)) for name, control in controls.LOSE.items()}
    height, width = source.shape[:2]
    for other in others:
        found.low[f"unrelated {other.stem}"] = kept(cropped_to(framed(other), height, width))
    found.shifts = [kept(controls.shifted(s)(source)) for s in _SHIFTS]
    found.bends = [kept(controls.bent(s)(source)) for s in _BENDS]
    side = round(0.16 * max(height, width))
    salient = cv2.blur(cv2.resize(features.salience[0], (width, height)), (side, side))
    for row, column in itertools.product((0.25, 0.5, 0.75), repeat=2):
        x, y = int(column * width - side / 2), int(row * height - side / 2)
        if salient[y + side // 2, x + side // 2] < 0.5 * float(salient.max()):
            continue
        take = controls.wiped(source, x, y, side)
        warm = heat(read(known, take).composition)
        peak = np.unravel_index(int(warm.argmax()), warm.shape)
        py, px = peak[0] / warm.shape[0] * height, peak[1] / warm.shape[1] * width
        slack = 0.02 * width
        found.hits.append(bool(x - slack <= px <= x + side + slack and y - slack <= py <= y + side + slack))
    take = controls.stroked(source)
    small = [cv2.resize(p, (width * 2 // 3, height * 2 // 3), interpolation=cv2.INTER_AREA) for p in (source, take)]
    found.sizes = abs(kept(take) - float(read(SourceReading(small[0]), small[1]).figures["composition"]))
    for face in find_faces(source):
        lost = controls.melted(source, face.x, face.y, face.width)
        found.faces.append((face_kept(source, take, face).whole, face_kept(source, lost, face).whole))
    large = cv2.resize(source, (512, round(512 * height / width)))
    known = SourceReading(large)
    read(known, large)
    began = time.perf_counter()
    for _ in range(5):
        read(known, large)
    found.milliseconds = (time.perf_counter() - began) * 200
    return found


def badges(count: int = 12) -> tuple[float, float, float]:
    """Composition kept between unrelated badges: mean, mean of those with one silhouette, mean of a badge's own media."""
    drawn = [controls.badge(k) for k in range(count)]
    known = [SourceReading(p, ()) for p in drawn]
    kept = np.array([[read(k, p).figures["composition"] for p in drawn] for k in known])
    index = np.arange(count)
    other = index[:, None] != index[None]
    alike = other & (index[:, None] % 4 == index[None] % 4)
    media = [read(k, controls.KEEP[name](p)).figures["composition"] for k, p in zip(known, drawn, strict=True)
             for name in ("grey", "hatched", "stroked")]  # fmt: skip
    return float(kept[other].mean()), float(kept[alike].mean()), float(np.mean(media))


def seed_spread() -> list[float]:
    """Standard deviation of composition kept over five seeds of an oil take, at strengths .4, .6 and .8."""
    source, cache = framed(_DEMO / "quay.jpg", 256), SharedCache()
    known = SourceReading(source, ())
    spread = []
    for strength in (0.4, 0.6, 0.8):
        recipes = [
            Recipe(look="oil", strength=strength, seed=s, holds=Holds(lines=0, shapes=0, subject=0)) for s in range(5)
        ]
        kept = [read(known, restyle(source, r, cache=cache)).figures["composition"] for r in recipes]
        spread.append(float(np.std(kept, ddof=1)))
    return spread


def auc(high: list[float], low: list[float]) -> float:
    """Chance that a picture that keeps its composition reads higher than one that doesn't."""
    a, b = np.array(high)[:, None], np.array(low)[None]
    return float(((a > b) + 0.5 * (a == b)).mean())


def tip_errors(points: int, seeds: int, trials: int = 60) -> tuple[float, float]:
    """Mean error of the tip on simulated series with a known break, and how often a gentle series has one."""
    random = np.random.default_rng(points * 10 + seeds)
    errors, false = [], 0
    for _ in range(trials):
        s = np.linspace(0.1, 1.0, points)
        at, width = random.uniform(0.35, 0.8), random.uniform(0.04, 0.12)
        plateau, floor = random.uniform(85, 98), random.uniform(5, 30)

        def curve(
            x: np.ndarray, at: float = at, width: float = width, top: float = plateau, low: float = floor
        ) -> np.ndarray:  # type: ignore[type-arg]
            return low + (top - low) / (1 + np.exp((x - at) / width))

        def series(values: np.ndarray) -> list[list[float]]:  # type: ignore[type-arg]
            return [[float(v + random.normal(0, 2.5)) for _ in range(seeds)] for v in values]

        fine = np.linspace(0, 1, 2001)
        true = float(fine[np.argmax(curve(fine) < plateau - 12)])
        tip = find_tip(list(s), series(curve(s)))
        errors.append(abs(tip.strength - true) if tip and tip.strength is not None else 0.3)
        calm = find_tip(list(s), series(np.linspace(96, 90, points)))
        false += bool(calm and calm.outcome == "tip")
    return float(np.mean(errors)), false / trials


def _pool(select: Callable[[Found], dict[str, float]], found: list[Found]) -> list[float]:
    return [value for one in found for value in select(one).values()]


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("folder", nargs="?", type=Path, default=_DEMO)
    files = pictures_in(parser.parse_args().folder)
    jobs = [(path, [o for o in files if o.stem != path.stem][:6]) for path in files]
    with ProcessPoolExecutor(2) as pool:
        found = list(pool.map(measured, jobs))
    missed = []

    def row(name: str, value: float, good: bool, digits: int = 1) -> None:
        print(f"  {name:52} {value:8.{digits}f} {'' if good else 'MISSED'}")
        if not good:
            missed.append(name)

    print(f"{len(found)} pictures")
    print("  kept by another medium, mean and least:")
    for control in controls.KEEP | controls.LINES:
        values = [v for one in found for name, v in (one.high | one.lines).items() if name == control]
        worst = min((v, one.name) for one in found for name, v in (one.high | one.lines).items() if name == control)[1]
        print(f"    {control:20} {np.mean(values):6.0f} {min(values):6.0f}   {worst}")
    print("  kept by another layout, mean and most:")
    for control in controls.LOSE:
        values = [one.low[control] for one in found]
        print(f"    {control:20} {np.mean(values):6.0f} {max(values):6.0f}   {found[int(np.argmax(values))].name}")
    high = _pool(lambda one: one.high, found)
    low = [v for one in found for name, v in one.low.items() if name not in ("mirrored", "upside down")]
    unrelated = [v for one in found for name, v in one.low.items() if name.startswith("unrelated")]
    lines = [one.lines["outlined"] for one in found]
    row("AUC of high against low", auc(high, low), auc(high, low) >= 0.9995, 3)
    row("5th percentile of high", float(np.percentile(high, 5)), float(np.percentile(high, 5)) >= 70)
    row("95th percentile of low", float(np.percentile(low, 95)), float(np.percentile(low, 95)) <= 19)
    row("unrelated, mean", float(np.mean(unrelated or [0])), float(np.mean(unrelated or [0])) <= 8)
    row("outlines, mean", float(np.mean(lines)), float(np.mean(lines)) >= 70)
    row("outlines, least", min(lines), min(lines) >= 45)
    print("  shift 3, 6, 12 %:  ", *(f"{np.mean([o.shifts[i] for o in found]):.0f}" for i in range(3)))
    print("  warp 1, 2, 4, 8 %: ", *(f"{np.mean([o.bends[i] for o in found]):.0f}" for i in range(4)))
    # A pattern that repeats fits itself again further on.
    rises = [b - a for o in found for series in (o.shifts, o.bends) for a, b in itertools.pairwise(series)]
    ordered = float(np.mean([rise <= 2 for rise in rises]))
    row("steps of shift and warp series that fall", ordered, ordered >= 0.97, 2)
    hits = [hit for one in found for hit in one.hits]
    row(f"heat's peak inside the damage, of {len(hits)}", float(np.mean(hits)), float(np.mean(hits)) >= 0.9, 2)
    row("two sizes apart, most", max(o.sizes for o in found), max(o.sizes for o in found) <= 6)
    faces = [pair for one in found for pair in one.faces]
    if faces:
        row(f"faces whole, least of {len(faces)}", min(a for a, _ in faces), min(a for a, _ in faces) >= FACE_LOST)
        row("faces melted, most", max(b for _, b in faces), max(b for _, b in faces) < FACE_LOST)
    unrelated_badges, alike, own = badges()
    row("unrelated badges, mean", unrelated_badges, unrelated_badges <= 15)
    row("  those of one silhouette", alike, True)
    row("a badge in other media, mean", own, own >= 85)
    print("  scatter over seeds at strength .4 .6 .8, free:", *(f"{s:.1f}" for s in seed_spread()))
    row("milliseconds a take at 512 px, median", float(np.median([o.milliseconds for o in found])), True)
    for points, seeds in ((5, 1), (6, 1), (6, 3), (8, 1), (12, 1), (12, 3)):
        error, false = tip_errors(points, seeds)
        row(f"tip's error, {points} points, {seeds} seeds", error, error <= (0.055 if points < 8 else 0.04), 3)
        row("  tips told where there is none, of 1", false, false <= 0.02, 2)
    return 1 if missed else 0


if __name__ == "__main__":
    sys.exit(main())
