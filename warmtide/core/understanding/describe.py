"""A first description of a picture, made from the picture alone: phrases, each with how sure it is.

It measures, and knows no things: it says "dark mass at the lower left", never "boat". Each sign is one function; a
new one is a function in `_SIGNS`.
"""

import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass

import cv2
import numpy as np

from ..maths.arrays import AnyArray, Byte, Float, f32
from ..maths.colour import bytes_to_lab
from ..model.face import Face
from ..pictures.recolour import colours_of, from_hex
from .faces import find_faces
from .kind import Kind, guess_kind
from .subject import Subject, find_subject

_SIDE = 256
_LEAST_SURE = 0.25
# Named hues by their angle in OKLab, degrees.
_HUES = ((0, "pink"), (28, "red"), (55, "orange"), (95, "yellow"), (140, "green"), (195, "turquoise"), (255, "blue"),
         (305, "violet"), (345, "pink"))  # fmt: skip
_GREY = 0.025
_GATHERED = 0.2
_NUMBERS = ("no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten")


# Degrees within which a face looks ahead; share of a picture from which a person in it is a portrait.
_AHEAD, _PORTRAIT = 12, 0.25


@dataclass(frozen=True)
class Said:
    """One phrase of a description.

    Attributes
    ----------
    text : the phrase. sign : what it is about. sure : 0..1.
    """

    text: str
    sign: str
    sure: float


@dataclass(frozen=True)
class _Seen:
    """A picture as the signs look at it: small, in OKLab, with what is known of it."""

    rgb: Byte
    lab: Float
    kind: Kind
    faces: tuple[Face, ...]
    about: Subject

    @property
    def light(self) -> Float:
        return np.ascontiguousarray(self.lab[..., 0])

    @property
    def soft(self) -> Float:
        """Lightness without detail, for masses and light."""
        out: Float = cv2.GaussianBlur(self.light, (0, 0), 0.05 * min(self.light.shape))
        return out


def _ramp(value: float, low: float, high: float) -> float:
    """0 at `low`, 1 at `high`, also where high is below low."""
    return min(max((value - low) / (high - low), 0.0), 1.0)


def place_words(x: float, y: float) -> str:
    """A point in shares of the picture, in words: "upper left", "middle"."""
    row = "upper" if y < 0.38 else "lower" if y > 0.62 else ""
    column = "left" if x < 0.38 else "right" if x > 0.62 else ""
    if row and column:
        return f"{row} {column}"
    return {"upper": "top", "lower": "bottom"}.get(row, column) or "middle"


def colour_name(rgb: AnyArray) -> str:
    """A colour 0..255 in one or two words."""
    light, a, b = (float(v) for v in bytes_to_lab(np.array(rgb, np.uint8)[None, None])[0, 0])
    chroma = math.hypot(a, b)
    if chroma < _GREY:
        tones = ((0.22, "black"), (0.45, "dark grey"), (0.75, "grey"), (0.92, "pale grey"))
        return next((name for limit, name in tones if light < limit), "white")
    angle = math.degrees(math.atan2(b, a)) % 360
    hue = min(_HUES, key=lambda h: abs((angle - h[0] + 180) % 360 - 180))[1]
    if hue in ("orange", "red", "yellow") and light < 0.6 and chroma < 0.12:
        hue = "brown"
    prefix = "dark " if light < 0.35 else "pale " if light > 0.82 and chroma < 0.09 and hue != "yellow" else ""
    return ("greyish " if chroma < 0.05 and not prefix else prefix) + hue


def _what(seen: _Seen) -> Iterator[tuple[str, float]]:
    yield (
        {"photo": "photograph", "sketch": "line sketch", "render": "untextured render", "flat art": "flat art"}[
            seen.kind
        ],
        0.8,
    )


def _people(seen: _Seen) -> Iterator[tuple[str, float]]:
    count = len(seen.faces)
    if count:
        number = _NUMBERS[count] if count < len(_NUMBERS) else str(count)
        where = seen.faces[0]
        long_side = max(seen.lab.shape[:2])
        spot = place_words(where.x * long_side / seen.lab.shape[1], where.y * long_side / seen.lab.shape[0])
        yield (
            (f"one face at the {spot}".replace("at the middle", "in the middle") if count == 1 else f"{number} faces"),
            0.85,
        )
        told = [face.points.yaw for face in seen.faces if face.points is not None]
        if told:
            ways = {"ahead" if abs(yaw) < _AHEAD else "to the right" if yaw > 0 else "to the left" for yaw in told}
            if len(ways) == 1:
                yield f"looking {ways.pop()}", 0.75
    if "person" in seen.about.kinds:
        persons = "a person" if count < 2 else "people"
        share = float((seen.about.plane > 0.5).mean())
        yield f"portrait of {persons}" if share > _PORTRAIT else persons, 0.8


def _key(seen: _Seen) -> Iterator[tuple[str, float]]:
    mean, spread = float(seen.light.mean()), float(seen.light.std())
    yield "high key", _ramp(mean, 0.72, 0.88)
    yield "low light", _ramp(mean, 0.45, 0.28)
    yield "high contrast", _ramp(spread, 0.22, 0.32)
    yield "low contrast", _ramp(spread, 0.12, 0.06)


def _warmth(seen: _Seen) -> Iterator[tuple[str, float]]:
    weight = seen.light
    warm = float((seen.lab[..., 2] * weight).sum() / max(float(weight.sum()), 1e-6))
    chroma = float(np.hypot(seen.lab[..., 1], seen.lab[..., 2]).mean())
    yield "warm colours", _ramp(warm, 0.012, 0.045)
    yield "cool colours", _ramp(warm, -0.006, -0.035)
    yield "muted", _ramp(chroma, 0.045, 0.02) if chroma > 0.008 else 0.0
    yield "black and white", _ramp(chroma, 0.010, 0.004)
    yield "vivid", _ramp(chroma, 0.09, 0.14)


def _light_direction(seen: _Seen) -> Iterator[tuple[str, float]]:
    if seen.kind in ("flat art", "sketch"):
        return
    soft = seen.soft
    height, width = soft.shape
    across = np.linspace(-1, 1, width, dtype=f32)
    down = np.linspace(-1, 1, height, dtype=f32)
    spread = max(float(soft.std()), 0.02)
    sideways = float((soft * across).mean() * 3) / spread
    upright = float((soft * down[:, None]).mean() * 3) / spread
    yield "light from the left", _ramp(-sideways, 0.5, 1.6)
    yield "light from the right", _ramp(sideways, 0.5, 1.6)
    yield "light from below", _ramp(upright, 0.8, 1.8)
    # Bright all round a dark middle.
    middle = soft[height // 4 : -height // 4 or None, width // 4 : -width // 4 or None]
    yield "backlight", 0.8 * _ramp(float(soft.mean() - middle.mean()) / spread, 0.7, 1.4)


def _horizon(seen: _Seen) -> Iterator[tuple[str, float]]:
    if seen.kind in ("flat art", "sketch"):
        return
    small = cv2.resize(seen.lab, (48, 64), interpolation=cv2.INTER_AREA)
    scores = []
    for row in range(8, 56):
        above, below = small[row - 6 : row].mean(0), small[row : row + 6].mean(0)
        step = below - above
        mean = step.mean(0)
        size = float(np.linalg.norm(mean))
        # A horizon is the same step in every column.
        even = size / max(float(np.linalg.norm(step - mean, axis=1).mean()), 0.015)
        scores.append(min(size / 0.10, 1.0) * min(even / 2.2, 1.0))
    best = int(np.argmax(scores))
    share = (best + 8) / 64
    level = "high horizon" if share < 0.4 else "low horizon" if share > 0.6 else "horizon in the middle"
    yield level, _ramp(scores[best], 0.45, 0.95)


def _masses(seen: _Seen) -> Iterator[tuple[str, float]]:
    soft = seen.soft
    height, width = soft.shape
    for name, mask, away in (
        ("dark mass", soft < np.percentile(soft, 18), float(soft.mean() - np.percentile(soft, 9))),
        ("bright mass", soft > np.percentile(soft, 88), float(np.percentile(soft, 94) - soft.mean())),
    ):
        count, _, stats, centres = cv2.connectedComponentsWithStats(mask.astype(np.uint8))
        if count < 2:
            continue
        best = 1 + int(stats[1:, cv2.CC_STAT_AREA].argmax())
        whole = stats[best, cv2.CC_STAT_AREA] / max(int(mask.sum()), 1)
        spot = place_words(centres[best][0] / width, centres[best][1] / height)
        yield f"{name} {'in the' if spot == 'middle' else 'at the'} {spot}", 0.9 * _ramp(away, 0.1, 0.35) * whole


def _subject(seen: _Seen) -> Iterator[tuple[str, float]]:
    """Where the subject is; without one, where contrast and colour stand out from the border."""
    if seen.about.kinds:
        rows, columns = np.nonzero(seen.about.plane > 0.5)
        if len(rows):
            height, width = seen.about.plane.shape
            spot = place_words(float(columns.mean()) / width, float(rows.mean()) / height)
            yield f"subject {'in the' if spot == 'middle' else 'at the'} {spot}", 0.85
            return
    border = np.concatenate([seen.lab[:6].reshape(-1, 3), seen.lab[-6:].reshape(-1, 3), seen.lab[:, :6].reshape(-1, 3),
                             seen.lab[:, -6:].reshape(-1, 3)])  # fmt: skip
    apart = np.linalg.norm(seen.lab - np.median(border, 0), axis=-1).astype(f32)
    apart = cv2.GaussianBlur(apart, (0, 0), 0.03 * min(apart.shape))
    weight = np.maximum(apart - float(np.percentile(apart, 60)), 0)
    total = float(weight.sum())
    if total < 1e-3:
        return
    height, width = weight.shape
    x = float((weight.sum(0) * np.arange(width)).sum() / total / width)
    y = float((weight.sum(1) * np.arange(height)).sum() / total / height)
    wide = math.sqrt(float((weight.sum(0) * (np.arange(width) / width - x) ** 2).sum() / total))
    spot = place_words(x, y)
    # A subject that is everywhere is none.
    yield f"subject {'in the' if spot == 'middle' else 'at the'} {spot}", 0.9 * _ramp(wide, 0.27, 0.14)


def _colours(seen: _Seen) -> Iterator[tuple[str, float]]:
    rgba = np.dstack([seen.rgb, np.full(seen.rgb.shape[:2], 255, np.uint8)])
    parts = colours_of(rgba, 8)
    said: dict[str, float] = {}
    height, width = seen.lab.shape[:2]
    for part in parts:
        colour = from_hex(part.colour)
        name = colour_name(colour)
        near = np.linalg.norm(seen.lab - bytes_to_lab(colour.astype(np.uint8)[None, None])[0, 0], axis=-1) < 0.07
        if not near.any() or len(said) >= 5:
            continue
        rows, columns = np.nonzero(near)
        # Where it is gathered along an axis, its place on that axis says something.
        x = float(columns.mean()) / width if columns.std() < _GATHERED * width else 0.5
        y = float(rows.mean()) / height if rows.std() < _GATHERED * height else 0.5
        spot = place_words(x, y)
        small = columns.std() < _GATHERED * width and rows.std() < _GATHERED * height
        where = f" at the {spot}" if spot != "middle" else " in the middle" if small else ""
        text = f"{name}{where}"
        said[text] = max(said.get(text, 0.0), min(0.35 + 2.2 * part.share, 0.95))
    yield from said.items()


def _texture(seen: _Seen) -> Iterator[tuple[str, float]]:
    light = cv2.cvtColor(seen.rgb, cv2.COLOR_RGB2GRAY).astype(f32) / f32(255)
    fine = light - cv2.GaussianBlur(light, (0, 0), 1.5)
    energy = np.sqrt(np.maximum(cv2.blur(fine * fine, (9, 9)), 0))
    rough = float(np.percentile(energy, 40))
    if seen.kind in ("photo", "render"):
        yield "rough texture", _ramp(rough, 0.018, 0.04)
        yield "smooth", _ramp(float(np.percentile(energy, 70)), 0.012, 0.004)
    if seen.kind == "sketch":
        yield "fine lines", 0.7
    if seen.kind in ("photo", "render"):
        sharpest = float(np.percentile(np.abs(fine), 99.5)) / max(float(light.std()), 0.03)
        yield "blurred", _ramp(sharpest, 0.32, 0.16)
        # A sharp subject before a soft ground.
        top, bottom = float(np.percentile(energy, 97)), float(np.percentile(energy, 35))
        yield "soft background", 0.85 * _ramp(top / max(bottom, 1e-4), 14, 40) * _ramp(sharpest, 0.3, 0.5)


_SIGNS: dict[str, Callable[[_Seen], Iterator[tuple[str, float]]]] = {
    "kind": _what, "people": _people, "subject": _subject, "layout": _masses, "horizon": _horizon, "light": _key,
    "direction": _light_direction, "warmth": _warmth, "colours": _colours, "texture": _texture,
}  # fmt: skip


def describe(rgb: Byte, kind: Kind | None = None, faces: tuple[Face, ...] | None = None) -> list[Said]:
    """Describe a framed picture (h, w, 3) uint8. About 60 ms, and 200 more to look for faces.

    Parameters
    ----------
    kind : what the artist says it is; guessed when None. faces : where they are known.
    """
    scale = min(_SIDE / max(rgb.shape[:2]), 1.0)
    size = (max(round(rgb.shape[1] * scale), 32), max(round(rgb.shape[0] * scale), 32))
    small = cv2.resize(rgb, size, interpolation=cv2.INTER_AREA if scale < 1 else cv2.INTER_NEAREST)
    kind = kind or guess_kind(np.dstack([rgb, np.full(rgb.shape[:2], 255, np.uint8)]))
    known = find_faces(rgb) if faces is None else faces
    seen = _Seen(small, bytes_to_lab(small), kind, known, find_subject(small, known))
    found = [
        Said(text, sign, round(sure, 2))
        for sign, look in _SIGNS.items()
        for text, sure in look(seen)
        if sure >= _LEAST_SURE
    ]
    return found
