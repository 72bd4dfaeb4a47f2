"""The place that words put around an untextured building: "by a mountain lake", "harbour at dusk".

The scene is drawn to the render's own horizon with its sun on the building's lit side. Near the building its yard
stays; beyond it lies the place, and what stands there is mirrored where there is water.
"""

import re
from dataclasses import dataclass, replace

import cv2
import numpy as np

from ...maths.arrays import Byte, Float, Int, Mask, f32
from ...maths.blur import blur
from ...maths.nearest import from_nearest
from ...maths.steps import smoothstep
from ...model.cache import SharedCache
from ...model.scene import Asked, SceneReading
from ...model.sitting import Original
from ...scenes.registry import place_named
from ...scenes.scene import Scene, draw_scene
from ...scenes.view import TREE, WATER, Layout
from ...scenes.weather import rain, snowfall
from ...scenes.words import read_scene
from ...understanding.building.parts import GROUND, SKY
from ...understanding.building.perspective import Perspective
from ...understanding.building.planes import Built
from ..shared.relight import Hour, undeveloped
from ..shared.texture import clouded
from .ground_plan import beside, depths, metres_of
from .mirror import mirror_image, rippled
from .vocabulary import part_words

_HOURS = {"day": "day", "morning": "golden", "golden": "golden", "sunset": "golden", "dusk": "dusk", "night": "night"}
_SNOWY = ("snow", "alps")
# Where weather without a place is read as over open land, and metres at which mist hides most.
_OPEN, _MIST = "hills", 200.0
# Metres from a building to where its yard ends, without and with a word for it, and from there down to water.
_YARD, _PAVED, _DROP = 2.4, 4.5, 0.5
# How far a building's shadows reach, metres.
_SHADOWS = 12.0
# Metres between the courses of a wall above water.
_COURSE = 0.25
# Largest share of the picture that the foot of one tree takes up.
_STUMP = 0.02
# How much water mirrors that is looked at from straight above.
_MIRRORED = 0.55


@dataclass(frozen=True)
class Setting:
    """A place around a building.

    Attributes
    ----------
    light : (h, w, 3) linear, as the building's own before it is developed. water, trees : (h, w). hour : of `relight.HOURS`.
    gloss : how much its ground mirrors, 0..1. snowy : whether snow lies. asked : what it was drawn from.
    """

    light: Float
    water: Mask
    trees: Mask
    hour: str
    gloss: float
    snowy: bool
    asked: Asked


def place_around(prompt: str) -> SceneReading:
    """The scene that a prompt asks for around a building: brick is what its walls are of, not where it stands."""
    phrases = []
    for phrase in re.split(r"[,;\n]", prompt):
        words = set(re.findall(r"[a-z]+", phrase.lower()))
        asked = read_scene(phrase).asked
        if asked is not None and words & part_words() and not place_named(asked.place).outdoors:
            continue
        phrases.append(phrase)
    reading = read_scene(", ".join(phrases))
    if reading.asked is None or place_named(reading.asked.place).outdoors:
        return reading
    title = place_named(reading.asked.place).title.capitalize()
    return replace(reading, asked=None, conflicts=(f"{title} is no place for a building, which stands out of doors: it is left out.",))  # fmt: skip


def hour_of_place(asked: Asked) -> str:
    """The hour of `relight.HOURS` that a scene is lit by."""
    hour = _HOURS[asked.time]
    return "overcast" if hour == "day" and (asked.sky in ("overcast", "storm") or asked.mist > 0.5) else hour


def _lit_from(built: Built, light: Float) -> float:
    """Whether a render is lit from the left (-1) or the right (1) by its walls, 0 where that can't be told."""
    said = 0.0
    walls = [k for k, face in built.faces.items() if face.kind == "wall"]
    if len(walls) < 2:
        return 0.0
    sizes = [float((built.owner == k).mean()) for k in walls]
    greys = [float(light[built.owner == k].mean()) for k in walls]
    mean = float(np.average(greys, weights=sizes))
    for k, size, grey in zip(walls, sizes, greys, strict=True):
        said += size * (grey - mean) * float(built.faces[k].normal[0])
    return 0.0 if abs(said) < 1e-4 else float(np.sign(said))


def _fitted(rows: Float, own: float, wanted: float, height: int) -> Float:
    """Rows of a scene for the rows of a picture whose horizon lies elsewhere."""
    above = rows * (own / max(wanted, 1.0))
    below = own + (rows - wanted) * ((height - 1 - own) / max(height - 1 - wanted, 1.0))
    return np.where(rows < wanted, above, below).astype(f32)


def _seen(scene: Scene, horizon: float, flipped: bool) -> tuple[Float, Byte]:
    """A scene's picture and what its pixels show, to a horizon."""
    height, width = scene.labels.shape
    ys, xs = np.mgrid[0:height, 0:width].astype(f32)
    if flipped:
        xs = xs[:, ::-1]
    ys = _fitted(ys, scene.camera.horizon, horizon, height)
    xs = np.ascontiguousarray(xs)
    picture = cv2.remap(scene.picture, xs, ys, cv2.INTER_CUBIC, borderMode=cv2.BORDER_REPLICATE)
    labels = cv2.remap(scene.labels, xs, ys, cv2.INTER_NEAREST, borderMode=cv2.BORDER_REPLICATE)
    return np.clip(picture, 0, 1).astype(f32), labels


def setting_of(built: Built, original: Original, prompt: str, seed: int, cache: SharedCache) -> Setting | None:
    """The place that a prompt puts around a building that is understood, drawn once a seed (.1 to 1.2 s at 512 px); None without one."""
    asked = place_around(prompt).asked
    if asked is None:
        return None
    height, width = built.owner.shape
    assert built.view is not None
    horizon = built.view.horizon

    def draw() -> Setting:
        # What falls from the sky falls before the building too.
        dry = replace(asked, rain=0.0, snowfall=0.0)
        scene = draw_scene(dry, height, width, seed, Layout(horizon=float(np.clip(horizon / height, 0.05, 0.95))))
        lit = _lit_from(built, original.lab[..., 0])
        flipped = lit * float(scene.light.sun[0]) < 0 and not scene.light.dull
        picture, labels = _seen(scene, horizon, flipped)
        snowy = asked.season == "winter" or asked.place in _SNOWY or asked.snowfall > 0
        return Setting(
            undeveloped(picture), labels == WATER, labels == TREE, hour_of_place(asked), scene.gloss, snowy, asked
        )

    key = ("setting", original.key, asked, seed, built.owner.shape)
    return draw() if original.key is None else cache.get(key, draw)


def before(behind: Float, out: Float, owner: Int) -> Float:
    """A building's light (h, w, 3) before what is behind it; only its own edge pixels are shared with that."""
    sky = owner == SKY
    share = np.where(sky, 1, blur(sky.astype(f32), 0.6) * (owner >= 0))
    return (out + (behind - out) * share[..., None]).astype(f32)


def yard_of(away: Float, margin: float, ragged: Float, crisp: Mask) -> Float:
    """How much of the ground (h, w) belongs to the building's yard, 0..1: up to `margin` metres from it.

    Parameters
    ----------
    away : (h, w) metres, see `ground_plan.beside`. ragged : (h, w) noise that the edge follows where it isn't crisp.
    """
    edge = np.where(crisp, 0, ragged * 0.45 * margin)
    soft = np.where(crisp, 0.04, 0.30) * margin
    return smoothstep(0.0, 1.0, np.clip((margin + edge - away) / np.maximum(2 * soft, 1e-3) + 0.5, 0, 1)).astype(f32)


def cast_on(grey: Float, ground: Mask, away: Float, unit: float) -> Float:
    """Shadows (h, w) that a render has on its ground, as a factor: 1 in the light and far from the building."""
    if not ground.any():
        return np.ones_like(grey)
    lit = float(np.percentile(grey[ground], 80))
    # What lies beside the ground is no shadow on it.
    own = blur(grey * ground, 0.8 * unit) / np.maximum(blur(ground.astype(f32), 0.8 * unit), 1e-3)
    near = smoothstep(0.0, 1.0, np.clip(2 - away / _SHADOWS, 0, 1))
    return np.where(ground, 1 + (np.clip(own / max(lit, 1e-3), 0.3, 1.0) - 1) * near, 1).astype(f32)


def weather_of(prompt: str) -> Asked | None:
    """The weather that a prompt asks for, with a place or without one; None where it asks for none."""
    asked = place_around(prompt).asked or place_around(f"{prompt}, {_OPEN}").asked
    return asked if asked is not None and (asked.rain or asked.snowfall or asked.mist) else None


def in_weather(out: Float, built: Built, asked: Asked, behind: Float, bare: bool, random: np.random.Generator) -> Float:
    """A building's light (h, w, 3) through mist, rain and falling snow. About .1 s at 512 px where it rains.

    Parameters
    ----------
    behind : (h, w, 3) light of what is behind it. bare : without a place, whose ground has its own air.
    """
    if asked.mist > 0 and built.sure and built.view is not None:
        rays = built.view.rays(*built.owner.shape)
        deep = depths(built, rays)
        if bare:
            ground = built.owner == GROUND
            deep[ground] = -1 / np.minimum(rays[..., 1][ground], -1e-4)
        deep = deep * f32(metres_of(built))
        row = int(np.clip(built.view.horizon, 0, len(out) - 1))
        through = np.where(np.isfinite(deep), np.exp(-((deep * asked.mist / _MIST) ** 0.75)), 1)[..., None]
        out = (out * through + behind[row].mean(0) * (1 - through)).astype(f32)
    if asked.rain > 0:
        out = rain(out, asked.rain, random)
    return snowfall(out, asked.snowfall, random) if asked.snowfall > 0 else out


def without_stumps(light: Float, trees: Mask, kept: Mask) -> Float:
    """A place's light (h, w, 3) without the feet of trees whose crowns are hidden by what is kept (h, w)."""
    count, ids, stats, _ = cv2.connectedComponentsWithStats(trees.astype(np.uint8))
    below = np.zeros_like(kept)
    below[4:] = kept[:-4]
    cut = np.unique(ids[trees & (below | (cv2.dilate(kept.astype(np.uint8), np.ones((5, 5), np.uint8)) > 0))])
    small = [k for k in range(1, count) if k in cut and stats[k, cv2.CC_STAT_AREA] < _STUMP * trees.size]
    hidden = cv2.dilate(np.isin(ids, small).astype(np.uint8), np.ones((5, 5), np.uint8)) > 0
    if not hidden.any() or (hidden | kept).all():
        return light
    # Each pixel takes the light of the nearest ground beside it.
    out = light.copy()
    out[hidden] = from_nearest(light, ~(hidden | kept))[0][hidden]
    return out


def _wall_below(yard: Float, water: Mask, view: Perspective, drop: float) -> tuple[Float, Float]:
    """Where the wall is seen (h, w) that a yard ends in above water, and how far below the yard, in eye heights."""
    rows = np.arange(len(yard), dtype=f32)[:, None]
    solid = yard > 0.5
    edge = np.zeros_like(water)
    edge[1:] = solid[:-1] & ~solid[1:] & water[1:]
    begins = np.maximum.accumulate(np.where(edge, rows, 0), axis=0)
    # A row as many eye heights further down, at the depth of the edge above it.
    down = (rows - begins) / np.maximum(begins - view.horizon, 1)
    wall = water & ~solid & (begins > 0) & (down <= drop)
    return wall.astype(f32), np.where(wall, down, 0).astype(f32)


def laid_around(
    out: Float, built: Built, setting: Setting, hour: Hour, grey: Float, random: np.random.Generator, paved: bool
) -> Float:
    """A building's light (h, w, 3) with its place around it: behind it, on its ground, and mirrored there. About .1 s.

    Parameters
    ----------
    grey : (h, w) linear light of the render. paved : whether words asked for a yard.
    """
    height, width = grey.shape
    unit = built.parts.unit
    ground = built.owner == GROUND
    assert built.view is not None
    view, rays, metres = built.view, built.view.rays(height, width), metres_of(built)
    deep = depths(built, rays)
    drop = _DROP / metres
    crisp = cv2.dilate(setting.water.astype(np.uint8), np.ones((9, 9), np.uint8)) > 0
    margin = _PAVED if paved else _YARD
    ragged = clouded(height, width, 60 * unit, random, 4, 0.6, 14 * unit)
    away = beside(built, rays, deep, metres)
    yard = yard_of(away, margin, ragged, crisp | np.full_like(crisp, paved))
    wall, down = _wall_below(yard, setting.water & ground, view, drop)
    cast = np.where(setting.water, 1, cast_on(grey, ground, away, unit))
    feet = setting.trees & ground & (yard < 0.5)
    around = without_stumps(setting.light, feet, (built.owner >= 0) | (yard > 0.5)) * cast[..., None]
    waves = clouded(height, width, 22 * unit, random, 3, 0.7, 3 * unit)
    steep = np.abs(rays[..., 1]) / np.linalg.norm(rays, axis=-1)
    seen = _MIRRORED + (1 - _MIRRORED) * (1 - steep) ** 5
    picture, cover = rippled(*mirror_image(out, deep, view, drop), view, unit, 0.75, waves)
    around = around + (picture - around) * (cover * seen * setting.water)[..., None]
    stone = np.array((0.15, 0.14, 0.13), f32) * (np.array(hour.shade, f32) + 0.15 * np.array(hour.lit, f32))
    course = 1 - 0.45 * np.exp(-(((down * metres / _COURSE + 0.5) % 1 - 0.5) ** 2) / 0.012)
    # A cap of paler stone, and darker where the water wets it.
    tone = (course + 1.0 * (down * metres < 0.09)) * (1 - 0.5 * down / drop) * (1 + 0.12 * np.clip(ragged, -1, 1))
    around = around + (stone * tone[..., None] - around) * blur(wall, 0.6)[..., None]
    out = np.where(ground[..., None], around + (out - around) * yard[..., None], out)
    if setting.gloss > 0:
        picture, cover = rippled(*mirror_image(out, deep, view), view, unit, 0.55, waves)
        wet = cover * seen * setting.gloss * (ground & ~setting.water)
        out = out + (picture - out) * wet[..., None]
    return before(setting.light, out, built.owner)
