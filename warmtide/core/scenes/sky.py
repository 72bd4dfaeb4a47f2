"""The sky of a place: where the sun stands, the colour of the air, sun or moon and stars, clouds."""

import math
from dataclasses import dataclass, replace

import cv2
import numpy as np

from ..maths.arrays import AnyArray, Float, f32
from ..maths.blur import blur
from ..maths.noise import fractal, part, soft_texture
from ..maths.steps import smoothstep
from .atmosphere import dome_light, scattered, sunlight
from .clouds import Deck, over
from .view import Camera, Light

_GRID = 48
# Elevation of the sun in radians, from and to; of the moon by night.
_ELEVATIONS = {
    "day": (0.55, 0.95), "morning": (0.16, 0.30), "golden": (0.07, 0.14), "sunset": (0.015, 0.05),
    "dusk": (-0.035, -0.02), "night": (0.16, 0.34),
}  # fmt: skip
_MOON, _SUN = 0.026, 0.0135
_FAIR = (0.26, 0.46)
_COVER = {"clear": 0.0, "overcast": 0.85, "storm": 0.75}


@dataclass(frozen=True)
class Sky:
    """A sky drawn: the picture reaches `above` rows over the camera's upper edge, for mirrors."""

    picture: Float
    light: Light
    above: int
    cover: float


def _directions(camera: Camera, height: int, horizon: float) -> AnyArray:
    x = (np.linspace(0, 1, _GRID) * camera.width - camera.middle) / camera.focal
    y = (horizon - np.linspace(0, 1, _GRID) * height) / camera.focal
    ways = np.stack(np.broadcast_arrays(x[None], y[:, None], np.float64(1)), -1)
    return np.asarray(ways / np.linalg.norm(ways, axis=-1, keepdims=True))


def _place_sun(
    camera: Camera, time: str, random: np.random.Generator, azimuth: float | None, elevation: float | None
) -> tuple[AnyArray, tuple[float, float] | None, float]:
    drawn = random.uniform(*_ELEVATIONS[time])
    elevation = drawn if elevation is None else elevation
    half = math.atan(camera.width / 2 / camera.focal)
    side = random.choice([-1, 1])
    seen = random.uniform(0.3, 0.75) * half * side
    aside = random.uniform(1.0, 2.2) * side
    if azimuth is None:
        azimuth = aside if time in ("day", "morning") else seen
    sun = np.array(
        [math.sin(azimuth) * math.cos(elevation), math.sin(elevation), math.cos(azimuth) * math.cos(elevation)]
    )
    if math.cos(azimuth) <= 0.1:
        return sun, None, elevation
    x = camera.middle + camera.focal * math.tan(azimuth)
    y = camera.horizon - camera.focal * math.tan(elevation) / max(math.cos(azimuth), 0.05)
    return sun, (x, y), elevation


def stars(height: int, width: int, random: np.random.Generator, density: float = 1.0, rays: bool = False) -> Float:
    """Stars of all magnitudes, thicker along a band; (h, w, 3) linear."""
    out = np.zeros((height, width, 3), f32)
    count = int(height * width / 380 * density)
    band = fractal(height, width, width * 0.5, random, 3)
    x, y = random.random(count) * width, random.random(count) * height
    bright = np.clip(random.pareto(1.5, count) * 0.05 + 0.02, 0, 2.2)
    warm, luck = random.random(count), random.random(count)
    colours = np.stack([1.1 - 0.4 * warm, np.full(count, 0.92), 0.75 + 0.6 * warm], 1)
    scale = max(height / 512, 0.7)
    for k in np.nonzero(luck < 0.55 + 0.25 * band[y.astype(int), x.astype(int)])[0]:
        radius = 0.5 + 0.28 * math.sqrt(bright[k]) * scale
        reach = int(radius * 3 + 1)
        i, j = int(x[k]), int(y[k])
        rows, columns = slice(max(j - reach, 0), j + reach + 1), slice(max(i - reach, 0), i + reach + 1)
        yy, xx = np.mgrid[rows.start : min(rows.stop, height), columns.start : min(columns.stop, width)]
        spot = np.exp(-((xx - x[k]) ** 2 + (yy - y[k]) ** 2) / (1.25 * radius * radius))
        out[rows, columns] += (bright[k] * spot)[..., None] * colours[k]
        if rays and bright[k] > 0.9:
            arm = max(int(10 * bright[k] * height / 512), 1)
            fade = np.exp(-np.abs(np.arange(-arm, arm + 1)) / arm * 3) * bright[k] * 0.5
            for d, amount in zip(range(-arm, arm + 1), fade, strict=True):
                if 0 <= i + d < width:
                    out[j, i + d] += amount * colours[k]
                if 0 <= j + d < height:
                    out[j + d, i] += amount * colours[k]
    return out


def _night_air(ways: AnyArray, sun: AnyArray) -> Float:
    rise = np.clip(ways[..., 1], 0, 1)[..., None]
    toward = np.clip((ways @ sun)[..., None], 0, 1)
    low, high = np.array([0.020, 0.034, 0.075]), np.array([0.004, 0.009, 0.030])
    air = low * np.exp(-rise * 5) + high * (1 - np.exp(-rise * 5))
    return np.asarray(air + np.array([0.018, 0.027, 0.048]) * toward**12, f32)


def _add_disc(sky: Float, camera: Camera, horizon: float, light: Light) -> None:
    """Sun or moon, and the glow around it."""
    assert light.disc is not None
    height, width = sky.shape[:2]
    x, y = light.disc[0], light.disc[1] + horizon - camera.horizon
    yy, xx = np.mgrid[0:height, 0:width].astype(f32)
    away = np.hypot(xx - x, yy - y) / camera.focal
    if light.time == "night":
        u, v = (xx - x) / camera.focal / _MOON, (yy - y) / camera.focal / _MOON
        seas = soft_texture()[np.clip(v * 60 + 200, 0, 511).astype(int), np.clip(u * 60 + 150, 0, 511).astype(int)]
        face = (0.8 + 0.17 * np.clip(seas, -1.6, 1.2)) * np.sqrt(np.clip(1 - u * u - v * v, 0, 1)) ** 0.35
        disc = np.clip((_MOON - away) * camera.focal / 1.5 + 0.5, 0, 1)
        sky += (disc * face)[..., None] * np.array([1.25, 1.2, 1.08], f32)
        glow = 0.081 * np.exp(-away / 0.05) + 0.045 * np.exp(-away / 0.17)
        sky += glow[..., None] * np.array([0.55, 0.7, 1.0], f32)
        return
    colour = np.asarray(light.colour, f32)
    disc = np.clip((_SUN - away) * camera.focal / 2 + 0.5, 0, 1) * 22
    sky += disc[..., None] * colour / colour.max()
    sky += (1.6 * np.exp(-away / 0.035) + 0.35 * np.exp(-away / 0.16))[..., None] * colour * f32(0.11)


def _even_horizon(sky: Float, horizon: float, focal: float, gain: float) -> None:
    """Under a closed deck the air at the horizon is one pale band."""
    height, width = sky.shape[:2]
    row = int(np.clip(horizon - 0.03 * focal, 0, height - 1))
    band = blur(np.repeat(sky[max(row - 6, 0) : row + 1].mean(0)[None], 3, 0), width * 0.05)[1]
    share = smoothstep(horizon - 0.11 * focal, horizon - 0.02 * focal, np.arange(height))[:, None, None]
    sky[:] = sky * (1 - share) + share * band[None] * f32(gain)


# Long: one sky; sun, moon, stars and clouds share its light.
def make_sky(
    camera: Camera,
    time: str,
    weather: str,
    random: np.random.Generator,
    above: int = 0,
    azimuth: float | None = None,
    elevation: float | None = None,
    without_stars: bool = False,
) -> Sky:
    """Draw a sky.

    Parameters
    ----------
    above : rows drawn over the camera's upper edge. azimuth : of the sun, radians from straight ahead; by the
    time of day and the seed when None. elevation : radians, likewise.

    About .25 s at 512 px with clouds.
    """
    height, horizon = camera.height + above, camera.horizon + above
    width = camera.width
    dull, night = weather in ("overcast", "storm"), time == "night"
    lowered = (0.7 if weather == "overcast" else 0.6) if dull and time in ("day", "morning") else elevation
    sun, disc, high = _place_sun(camera, time, random, azimuth, lowered)
    ways = _directions(camera, height, horizon)
    if night:
        air = _night_air(ways, sun)
        colour, ambient = np.array([0.144, 0.18, 0.27]), np.array([0.0216, 0.0336, 0.0696])
    else:
        air = scattered(ways, sun)
        colour = sunlight(high) * (0.1 if time == "dusk" else 1)
        ambient = dome_light(sun)
    if dull:
        grey = air.mean(-1, keepdims=True)
        air = (grey * np.array([0.92, 0.98, 1.06], f32) * 0.8 + air * 0.2).astype(f32)
        ambient = np.array([0.95, 1.0, 1.06]) * colour.mean() * (0.055 if not night else 0.5)
        colour = colour * 0.10
    picture = np.maximum(cv2.resize(air, (width, height), interpolation=cv2.INTER_CUBIC), 0)
    # By dusk the sun is gone; what is left of its glow lies along the horizon.
    hidden = dull or time == "dusk"
    light = Light(time, weather, sun, colour, ambient, np.zeros((width, 3), f32), None if hidden else disc)
    # The random numbers are drawn whether they are used or not, so that weather leaves the land alone.
    own = part(random)
    field = stars(height, width, own, 1.3) if night and not without_stars else None
    cover = random.uniform(*_FAIR)
    base, top = random.uniform(1100, 1500), random.uniform(2300, 2900)
    shift = random.uniform(0, 9e4), random.random(), random.uniform(0, 9e4)
    size = random.uniform(6500, 9500)
    if light.disc is not None:
        _add_disc(picture, camera, horizon, light)
    if field is not None and not dull:
        rise = np.clip((horizon - np.arange(height)) / camera.focal, 0, 1)[:, None, None]
        picture += field * f32(0.5) * smoothstep(0.0, 0.22, rise)
    cover = _COVER.get(weather, cover)
    if night and weather == "fair":
        cover *= 0.45
    if cover > 0.02:
        deck = Deck(cover, base, top, size, 0.0075, 0.42, shift)
        if dull:
            deck = deck._replace(base=900.0, top=1700.0, density=0.01125, frayed=0.5)
        from_sky = ambient * (1.2 if night else 0.95)
        if time in ("sunset", "golden"):
            from_sky = from_sky * 0.55 + 0.03 * picture[max(int(horizon) - 6, 0)].mean(0)
        direct = colour * (0.45 if night else 0.333 if dull else 0.37)
        over(picture, replace(camera, height=height, horizon=horizon), light, deck, from_sky, direct)
    if dull:
        _even_horizon(picture, horizon, camera.focal, 1.25 if weather == "storm" else 1.1)
    row = int(np.clip(horizon - 0.012 * camera.focal, 0, height - 1))
    along = blur(np.repeat(np.maximum(picture[row], 0)[None], 3, 0), width * 0.06)[1]
    return Sky(np.maximum(picture, 0).astype(f32), replace(light, horizon=along), above, cover)
