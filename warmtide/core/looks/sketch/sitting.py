"""What every look for sketches starts from: the sketch understood, its colours, its light."""

import math
from dataclasses import dataclass

import numpy as np

from ...maths.arrays import AnyArray, Float, f32
from ...maths.blur import blur
from ...maths.steps import smoothstep
from ...model.cache import SharedCache
from ...model.look import Look, Painter, shape_keeping
from ...model.sitting import Original, Sitting
from ...understanding.sketch.form import Sketch, understand_sketch
from ..shared.texture import clouded, grain

_SUN = (-0.52, -0.62, 0.60)
# Sets of colours (OKLab) that go together: the first for what is largest, the last for accents.
_SETS = (
    ((0.58, 0.13, 0.08), (0.90, 0.0, 0.035), (0.45, -0.02, -0.07), (0.72, 0.03, 0.10), (0.62, -0.02, -0.02), (0.80, 0.01, 0.13)),
    ((0.55, -0.05, -0.05), (0.86, 0.01, 0.05), (0.40, 0.0, -0.05), (0.66, 0.10, 0.08), (0.70, -0.02, 0.0), (0.62, 0.15, 0.09)),
    ((0.70, 0.02, 0.06), (0.48, 0.03, 0.04), (0.88, 0.0, 0.02), (0.50, -0.06, 0.01), (0.60, -0.02, -0.04), (0.64, 0.14, 0.11)),
    ((0.47, 0.0, -0.11), (0.78, -0.01, -0.03), (0.92, 0.0, 0.01), (0.62, 0.01, -0.02), (0.36, 0.01, -0.05), (0.76, 0.05, 0.14)),
    ((0.63, -0.07, 0.07), (0.90, -0.01, 0.05), (0.52, 0.05, 0.05), (0.42, -0.04, 0.02), (0.74, 0.01, 0.06), (0.66, 0.16, 0.06)),
)  # fmt: skip
_ACCENT, _OWN_CHROMA = 0.012, 0.03


@dataclass
class Board:
    """A sketch on the drawing board.

    Attributes
    ----------
    sketch : strokes, areas, form. colours : (n + 1, 3) OKLab by area, the paper first. sitting : seed, words, size.
    """

    sketch: Sketch
    colours: Float
    sitting: Sitting

    @property
    def height(self) -> int:
        return self.sitting.height

    @property
    def width(self) -> int:
        return self.sitting.width

    @property
    def unit(self) -> float:
        return self.sketch.unit

    def noise(self, name: str, along: float, across: float | None = None, angle: float = 0.0) -> Float:
        """Grain with features of so many units."""
        u = self.unit
        random = self.sitting.random(name)
        return grain(self.height, self.width, along * u, random, None if across is None else across * u, angle)

    def clouds(self, name: str, along: float, octaves: int = 4) -> Float:
        return clouded(self.height, self.width, along * self.unit, self.sitting.random(name), octaves)

    @property
    def sun(self) -> AnyArray:
        """Direction to the light: from the upper left, or the upper right by one seed in three."""
        random = self.sitting.random("lamp")
        side = -1.0 if random.random() < 0.33 else 1.0
        turn = float(random.normal(0, 0.15))
        x = _SUN[0] * side
        return np.array(
            [x * math.cos(turn) - _SUN[1] * math.sin(turn), x * math.sin(turn) + _SUN[1] * math.cos(turn), _SUN[2]]
        )

    def tone(self) -> Float:
        """How much light falls on every place, 0 in the dark and 1 where it falls square; the paper is 1."""
        sketch, sun = self.sketch, self.sun
        nx, ny, nz = sketch.normal
        facing = nx * sun[0] + ny * sun[1] + nz * sun[2]
        guided = (self.sitting.guidance / 7) ** 0.35 * (0.6 + 0.45 * self.sitting.strength)
        light = 0.62 + guided * 1.15 * (facing - 0.58)
        # What lies deeper is darker where it meets its neighbours.
        light = light - 0.16 * guided * np.exp(-sketch.border / (5 * self.unit))
        fallen = self._fallen() * guided
        return np.where(sketch.areas > 0, np.clip(light - 0.20 * fallen, 0, 1), 1).astype(f32)

    def _fallen(self) -> Float:
        """The shadow that round things throw on what is beside them."""
        height, u = self.sketch.height, self.unit
        sun = self.sun
        away = int(-sun[0] * 14 * u), int(-sun[1] * 14 * u)
        above = np.roll(height, (away[1], away[0]), (0, 1)) - height
        return blur(smoothstep(4 * u, 22 * u, above), 2.5 * u)

    def ground_shadow(self) -> Float:
        """Where the thing shades what it stands on, 0..1."""
        rows, columns = np.nonzero(self.sketch.areas > 0)
        if not len(rows):
            return np.zeros((self.height, self.width), f32)
        low, left, right = float(np.percentile(rows, 99.7)), float(columns.min()), float(columns.max())
        ys, xs = np.mgrid[0 : self.height, 0 : self.width].astype(f32)
        middle = (left + right) / 2 - float(self.sun[0]) * 0.09 * (right - left)
        wide, flat = max((right - left) * 0.52, 4), max(self.height * 0.026, 2)
        shape = np.exp(-((((xs - middle) / wide) ** 2 + ((ys - low) / flat) ** 2) ** 1.2))
        return np.asarray(shape * (self.sketch.areas == 0), f32)

    def by_area(self, values: AnyArray, soft: float = 0.8) -> Float:
        """A map from one value or colour an area, soft at borders."""
        return blur(np.asarray(values, f32)[self.sketch.areas], max(soft * self.unit, 0.5))


def _palette(sketch: Sketch, random: np.random.Generator) -> Float:
    """Colours by area: the sketch's own where it has any, else of one set; things alike are coloured alike."""
    chosen = np.array(_SETS[int(random.integers(len(_SETS)))], f32)
    area = np.bincount(sketch.areas.ravel(), minlength=sketch.count + 1)[: sketch.count + 1]
    out = np.zeros((sketch.count + 1, 3), f32)
    out[0] = (0.96, 0.0, 0.004)
    groups: list[tuple[float, float, int]] = []
    for k in sorted(range(1, sketch.count + 1), key=lambda k: -area[k]):
        alike = next((g for s, f, g in groups if abs(area[k] - s) < 0.16 * s and abs(f - sketch.flat[k]) < 0.5), None)
        if alike is None:
            alike = len({g for _, _, g in groups})
            groups.append((float(area[k]), float(sketch.flat[k]), alike))
        small = area[k] < _ACCENT * sketch.areas.size
        out[k] = chosen[-1 - alike % 2] if small else chosen[alike % (len(chosen) - 1)]
        own = sketch.colours[k]
        if np.hypot(own[1], own[2]) > _OWN_CHROMA:
            out[k] = (np.clip(0.95 + own[0], 0.25, 0.95), own[1] * 1.15, own[2] * 1.15)
    return out


def _worded(sketch: Sketch, now: Float, before: Float) -> Float:
    """What words and seed have changed of every area's colour (n + 1, 3)."""
    clear = sketch.strokes.ink < 0.3
    ids, change = sketch.areas[clear], (now - before)[clear]
    size = np.maximum(np.bincount(ids, minlength=sketch.count + 1), 1)
    means = [np.bincount(ids, change[:, k], sketch.count + 1) / size for k in range(3)]
    return (np.stack(means, 1) * (0.6, 1.6, 1.6)).astype(f32)


def _coloured(colours: Float, sketch: Sketch, sitting: Sitting) -> None:
    """A colour in the prompt is the colour of what is largest, and of what is like it; in place."""
    pull, hue = sitting.words.get("toward1", 0.0), sitting.words.get("toward2", 0.0)
    if pull <= 0 or not sketch.count:
        return
    main = colours[int(np.bincount(sketch.areas.ravel())[1:].argmax()) + 1].copy()
    alike = np.abs(colours - main).sum(1) < 1e-3
    chroma = max(float(np.hypot(main[1], main[2])), min(pull, 0.15))
    colours[alike, 0] = np.clip(main[0], 0.35, 0.75)
    colours[alike, 1], colours[alike, 2] = chroma * math.cos(hue), chroma * math.sin(hue)


def known_sketch(original: Original, cache: SharedCache) -> Sketch:
    """The sketch understood, once a source."""
    if original.key is None:
        return understand_sketch(original.lab)
    return cache.get(("sketch", original.key), lambda: understand_sketch(original.lab))


def _remarks(original: Original, cache: SharedCache) -> list[str]:
    return [] if known_sketch(original, cache).count else ["open"]


def board(lab: Float, sitting: Sitting) -> Board:
    """Put a sketch on the board: `lab` (h, w, 3) OKLab is what the sampler has now, the original gives the strokes."""
    original = sitting.original or Original(lab, None)
    sketch = known_sketch(original, sitting.cache)
    colours = _palette(sketch, sitting.random("palette"))
    _coloured(colours, sketch, sitting)
    colours[1:] += _worded(sketch, lab, original.lab)[1:]
    colours[:, 0] = np.clip(colours[:, 0], 0.12, 0.97)
    return Board(sketch, colours.astype(f32), sitting)


def concept(name: str, title: str, description: str, paint: Painter, seconds: float, own_colour: bool = False) -> Look:
    """A look for sketches: it keeps the artist's strokes, and paints once."""
    return shape_keeping(
        name,
        title,
        "concept",
        "sketch",
        description,
        paint,
        seconds,
        _remarks,
        own_colour,
        push=0.3,
        strengths=(0.5, 0.95),
    )
