"""Light of a time of day on an untextured render, and a sky to it."""

from dataclasses import dataclass

import numpy as np

from ...maths.arrays import Float, f32
from ...maths.blur import blur
from ...maths.colour import to_lab
from ...maths.light import lit, shown
from ...maths.relief import broad
from ...maths.steps import smoothstep
from .texture import clouded

_TIMES = {
    "golden": ("golden hour", "golden light", "sunset", "evening sun", "late sun", "low sun", "sunrise", "dawn"),
    "dusk": ("dusk", "twilight", "blue hour", "nightfall", "evening", "lit windows"),
    "night": ("night", "midnight", "moonlight"),
    "overcast": ("overcast", "cloudy", "grey sky", "rain", "mist", "fog", "drizzle", "dull"),
}


@dataclass(frozen=True)
class Hour:
    """Light of a time: factors on lit and on shaded places, sky from above to the horizon (linear), share of windows lit."""

    lit: tuple[float, float, float]
    shade: tuple[float, float, float]
    high: tuple[float, float, float]
    low: tuple[float, float, float]
    windows: float
    clouds: float


HOURS = {
    "day": Hour((1.16, 1.10, 1.00), (0.86, 0.93, 1.06), (0.16, 0.34, 0.68), (0.62, 0.74, 0.86), 0.0, 0.8),
    "golden": Hour((1.42, 1.06, 0.70), (0.58, 0.60, 0.76), (0.20, 0.30, 0.50), (0.95, 0.58, 0.30), 0.15, 0.9),
    "dusk": Hour((0.40, 0.42, 0.56), (0.24, 0.28, 0.44), (0.035, 0.075, 0.20), (0.48, 0.30, 0.30), 0.9, 0.5),
    "night": Hour((0.15, 0.17, 0.25), (0.09, 0.11, 0.18), (0.006, 0.010, 0.028), (0.035, 0.045, 0.085), 0.8, 0.3),
    "overcast": Hour((0.94, 0.97, 1.02), (0.84, 0.89, 0.96), (0.50, 0.54, 0.58), (0.70, 0.73, 0.75), 0.0, 0.6),
}  # fmt: skip


def hour_of(prompt: str) -> str:
    """The time that a prompt asks for; day where it asks for none."""
    text = prompt.lower()
    return next((name for name, words in _TIMES.items() if any(word in text for word in words)), "day")


def lit_share(light: Float, thing: Float) -> tuple[Float, Float]:
    """How much every place is in the sun, 0..1, and how bright it is under a white that is 1.

    Parameters
    ----------
    light : (h, w) linear light of the render. thing : (h, w) True on what was built.
    """
    inside = light[thing > 0.5]
    low, high = np.percentile(inside, (12, 92)) if len(inside) > 50 else (0.1, 0.7)
    share = smoothstep(float(low + 0.30 * (high - low)), float(low + 0.75 * (high - low)) + 1e-3, light)
    return share, (light / max(float(high), 0.05)).astype(f32)


def sky_of(hour: Hour, height: int, width: int, horizon: float, random: np.random.Generator) -> Float:
    """A sky (h, w, 3) linear down to a horizon row, and haze below it."""
    rows = np.arange(height, dtype=f32)[:, None]
    up = np.clip((horizon - rows) / max(horizon, 0.35 * height), 0, 1) ** 0.7
    sky = np.array(hour.low, f32) + (np.array(hour.high, f32) - np.array(hour.low, f32)) * up[..., None]
    sky = np.broadcast_to(sky, (height, width, 3)).astype(f32)
    flat = max(float(width), 64.0)
    cloud = clouded(height, width, 0.45 * flat, random, 5, 0.55, 0.11 * flat, -0.04)
    cover = smoothstep(0.1, 1.5, cloud) * hour.clouds * np.clip(up * 2.2, 0, 1)
    bright = np.array(hour.low, f32) * 1.05 + 0.10 * np.array(hour.lit, f32)
    return (sky + (bright - sky) * (0.75 * cover)[..., None]).astype(f32)


def glow_of(light: Float, unit: float) -> Float:
    """What shines spreads around itself."""
    bright = np.clip(light - 0.9, 0, 6)
    return (0.25 * blur(bright, 3 * unit) + 0.25 * broad(bright, 12 * unit) + 0.2 * broad(bright, 36 * unit)).astype(
        f32
    )


def developed(light: Float) -> Float:
    """Linear light (h, w, 3) on a filmic curve, as OKLab."""
    screen = np.clip((light * (2.51 * light + 0.03)) / (light * (2.43 * light + 0.59) + 0.14), 0, 1)
    return to_lab(shown(screen))


def undeveloped(shown: Float) -> Float:
    """The linear light (h, w, 3) that `developed` shows as an sRGB picture 0..1."""
    s = np.clip(shown, 0, 0.995)
    s = lit(s)
    a, b, c = 2.51 - 2.43 * s, 0.03 - 0.59 * s, -0.14 * s
    return ((-b + np.sqrt(b * b - 4 * a * c)) / (2 * a)).astype(f32)


def worded_as(now: Float, before: Float, light: float, colour: float, most: float = 0.12) -> Float:
    """What words and seed do to a whole picture (h, w, 3): its mean change, so much of it in light and in colour."""
    change = (now - before).reshape(-1, 3).mean(0)
    return np.array((light, colour, colour), f32) * np.clip(change, -most, most)
