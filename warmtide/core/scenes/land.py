"""From the plan of a land to its picture: sky, ground, trees, water, grass, in one camera."""

from collections.abc import Callable
from dataclasses import dataclass, replace

import cv2
import numpy as np

from ..maths.arrays import Byte, Float, f32
from ..maths.blur import blur
from ..maths.noise import rng, soft_texture
from ..maths.steps import smoothstep
from .erosion import sunlit
from .given import Lit, lit_by
from .grass import Sward, grow
from .planting import Wood, below_line, grown
from .sky import Sky, make_sky
from .surface import Ground, colours_of, cover_of, shade
from .terrain import LandPlan, hollows, slopes
from .view import SKY, WATER, Camera, Drawn, Light, Task, paint, reduced
from .walk import heights_of, walked
from .water import Mirror, Sea, flood, make_waves

Planner = Callable[[np.random.Generator, Task], LandPlan]

_FINER = 1.5
_ATTEMPTS = 6
# Long side of the walk that tells what a plan would show.
_OUTLOOK = 96
_MIRROR = 0.5
_PETALS = (("f4e04d", "ffffff", "e8503a"), ("b78be0", "ffffff", "f0c23a"), ("e84a5f", "fff4c0", "f0a030"))
_BLADES = 46_000
# Metres before one's feet that no drawn skyline changes.
_OWN_GROUND = 30.0


def _fitted(plan: LandPlan, camera: Camera, eye: float, skyline: Float) -> LandPlan:
    """Lift or lower the far land until its skyline meets a drawn one, column by column.

    Heights change by an angle times their distance: scaling them would raise pillars, and shadows and mirrors
    would not agree.
    """
    small = camera.scaled(0.5)
    g = plan.grid
    columns = np.clip(small.middle + small.focal * g.x / np.maximum(g.z, 1), 0, small.width - 1)
    weight = smoothstep(plan.shape_from, plan.shape_to, g.z) * g.z
    wanted = cv2.resize(skyline[None].astype(f32) * small.height, (small.width, 1))[0]
    steep = np.interp(columns.ravel(), np.arange(small.width), (small.horizon - wanted) / small.focal)
    # Nothing nearer may stand before the drawn line either.
    highest = np.where(g.z > _OWN_GROUND, eye + steep.reshape(columns.shape) * g.z, np.inf)
    highest = np.maximum(highest, plan.water - 1)
    far = np.minimum(plan.far, highest).astype(f32)
    for turn in range(4):
        _, labels = walked(replace(plan, far=far), small, eye, stride=0.007)
        top = np.where(labels.any(0), (labels > 0).argmax(0), small.horizon)
        rise = blur(np.repeat(((top - wanted) / small.focal)[None], 3, 0), 2.0 if turn else 5.0)[1]
        lifted = np.interp(columns.ravel(), np.arange(small.width), rise).reshape(columns.shape)
        far = np.ascontiguousarray(np.minimum(far + lifted * weight, highest), dtype=f32)
    return replace(plan, far=far)


def _prepared(plan: LandPlan, sky: Sky, task: Task, random: np.random.Generator, cover: float) -> Ground:
    g, light = plan.grid, sky.light
    sun_share = np.ones_like(plan.far)
    drift = int(random.integers(512))
    if not light.dull:
        sun_share = sunlit(plan.far, g.cell, light.sun)
        if cover > 0.2 and light.time in ("day", "morning"):
            shadows = cv2.resize(
                np.roll(soft_texture(), drift, 0)[:256, :256],
                (g.x.shape[1], g.x.shape[0]),
                interpolation=cv2.INTER_CUBIC,
            )
            sun_share = sun_share * (
                1 - 0.55 * smoothstep(0.1, 0.9, shadows) * smoothstep(0.2, 0.4, cover) * (g.z > 300)
            )
    haze = plan.haze * (1.6 if light.time in ("golden", "sunset") else 1.0)
    haze_height = 900.0
    if task.asked.mist > 0:
        haze, haze_height = plan.mist * task.asked.mist, plan.mist_height
    season = task.asked.season
    palette = plan.surface.palette
    if season in ("spring", "summer", "autumn") and palette in ("spring", "summer", "autumn", "moor", "dry", "lawn"):
        palette = season if palette != "lawn" or season == "autumn" else palette
    slope_x, slope_z = slopes(plan.far, g.cell)
    near_x, near_z = slopes(plan.near, 0.25)
    return Ground(
        slope_x, slope_z, near_x, near_z, sun_share.astype(f32), hollows(plan.far, g.cell), np.zeros_like(plan.near),
        colours_of(palette), cover_of(plan.surface, 0.8 if season == "winter" else 0.0), haze, haze_height,
    )  # fmt: skip


def _mirror(
    plan: LandPlan, camera: Camera, eye: float, sky: Sky, ground: Ground, wood: Wood, seen: Float, labels: Byte,
    lit: Lit, air: Float,
) -> Mirror:  # fmt: skip
    """What the water shows, at half size."""
    small = camera.scaled(_MIRROR)
    small = replace(small, height=int((camera.horizon + 2) * _MIRROR), horizon=camera.horizon * _MIRROR)
    above = int(sky.above * _FINER * _MIRROR)
    size = small.width, int(sky.picture.shape[0] * _FINER * _MIRROR)
    mirror = cv2.resize(sky.picture, size, interpolation=cv2.INTER_AREA)
    # Each column begins where its water does, or the near shore would stand before its own mirror.
    nearest = np.where(labels == WATER, seen, 1e9).min(0)
    nearest = nearest[np.minimum((np.arange(small.width) / _MIRROR).astype(int), camera.width - 1)]
    first = np.where(nearest < 1e8, nearest, 30).astype(f32)
    from scipy.ndimage import maximum_filter1d, median_filter

    first = (maximum_filter1d(median_filter(first, 21), max(int(small.width * 0.03), 1)) * 1.2 + 3).astype(f32)
    if plan.stand is not None or plan.surface.sand > 0:
        first = np.maximum(first, f32(140))
    far, marks = walked(plan, small, eye, mirrored=True, stride=0.007, first=first)
    rows = min(small.height, mirror.shape[0] - above)
    small = replace(small, height=rows)
    part = np.ascontiguousarray(mirror[above : above + rows])
    far, marks = np.ascontiguousarray(far[:rows]), np.ascontiguousarray(marks[:rows])
    own_air = cv2.resize(air[None], (small.width, 1))[0]
    shade(plan, small, far, marks, ground, lit_by(lit.sun, lit.colour, lit.ambient, own_air), part)
    wood.draw(plan, small, eye, ground, lit.colour, lit.ambient, own_air, part, far, marks, mirrored=True)
    mirror[above : above + rows] = part
    return Mirror(mirror, above / _MIRROR, _MIRROR)


def _sward(plan: LandPlan, ground: Ground, camera: Camera, random: np.random.Generator, flowery: bool) -> Sward:
    petals = np.stack([paint(code) for code in _PETALS[int(random.integers(3))]]).astype(np.float64)
    count = int(_BLADES * plan.grass * min(1.3, camera.width * camera.height / (768 * 640)))
    flowers, spread = (max(plan.flowers, 0.2) * 2.5, 0.6) if flowery else (plan.flowers, plan.flower_spread)
    return Sward(
        count, plan.blade, ground.colours[0] * 0.70, ground.colours[1] * 0.92, petals, flowers, spread,
        random.uniform(-0.5, 0.5), int(random.integers(1 << 28)),
    )  # fmt: skip


@dataclass(frozen=True)
class Outlook:
    """What a plan would show, told from a small walk: labels (h, w), and the row of the horizon."""

    labels: Byte
    horizon: float

    def share(self, label: int, part: tuple[float, float] = (0, 1)) -> float:
        """Share of pixels with a label, between two heights of the picture (0 top, 1 bottom)."""
        rows = self.labels[int(part[0] * len(self.labels)) : int(part[1] * len(self.labels))]
        return float((rows == label).mean())

    @property
    def skyline(self) -> Float:
        """Where land or water begins in every column, 0..1."""
        return ((self.labels != SKY).argmax(0) / len(self.labels)).astype(f32)


Promise = Callable[[Outlook], bool]


@dataclass(frozen=True)
class _Prepared:
    plan: LandPlan
    base: Camera
    eye: float
    random: np.random.Generator
    attempts: int


def _planned(task: Task, planner: Planner, stream: int, promise: Promise | None) -> _Prepared:
    """The first plan that keeps its promise, or the last of six."""
    layout = task.layout
    for attempt in range(_ATTEMPTS):
        random = rng(task.seed, 11, stream, attempt)
        plan = planner(random, task)
        drawn_horizon = random.uniform(*plan.horizon)
        horizon = (layout.horizon if layout.horizon is not None else drawn_horizon) * task.height
        focal = random.uniform(0.85, 1.15) * max(task.width, task.height * 1.1)
        base = Camera(task.width, task.height, focal, horizon, plan.eye)
        stand = plan.stand if plan.stand is not None else max(plan.ground(0, 2), plan.water)
        eye = stand + (float(plan.near[8, plan.near.shape[1] // 2]) if plan.stand is None else 0.0) + plan.eye
        # A drawn skyline says what is to be seen; the promise is for what the seed alone decides.
        if promise is None or layout.skyline is not None or attempt == _ATTEMPTS - 1:
            break
        small = base.scaled(_OUTLOOK / max(task.width, task.height))
        if promise(Outlook(walked(plan, small, eye, stride=0.007)[1], small.horizon)):
            break
    return _Prepared(plan, base, eye, random, attempt + 1)


def draw_land(task: Task, planner: Planner, stream: int, promise: Promise | None = None) -> Drawn:
    """Draw a land at 1.5 times the size and reduce it; .4 to 1 s at 512 px.

    Parameters
    ----------
    planner : makes a plan from random numbers. stream : tells one land's numbers from another's. promise : whether what
        a plan would show is what its place promises; otherwise another is made, at most six.
    """
    layout, asked = task.layout, task.asked
    prepared = _planned(task, planner, stream, promise)
    plan, base, eye, random = prepared.plan, prepared.base, prepared.eye, prepared.random
    camera, horizon = base.scaled(_FINER), base.horizon
    if layout.skyline is not None:
        plan = _fitted(plan, camera, eye, layout.skyline)
    watery = bool((plan.far < plan.water).any())
    winter = asked.season == "winter" or plan.surface.snow > 0
    above = int(max(0.0, task.height - 2 * horizon) + 0.06 * task.height) if watery else 0
    azimuth = elevation = None
    if plan.sun_side is not None and asked.time in ("day", "morning", "golden"):
        azimuth, elevation = plan.side * random.uniform(*plan.sun_side), plan.sun_height
    sky = make_sky(base, asked.time, asked.sky, random, above, azimuth, elevation if asked.time == "day" else None)
    light, night = sky.light, asked.time == "night"
    colour = light.colour * (0.5 if night else 0.42)
    ambient = light.ambient * (1.6 if night else 1.2) * (1.5 if asked.time in ("sunset", "golden", "dusk") else 1.0)
    air = np.ascontiguousarray(cv2.resize(light.horizon[None], (camera.width, 1))[0]) * f32(1.0 if night else 0.74)
    ground = _prepared(plan, sky, task, random, sky.cover)
    seen, labels = walked(plan, camera, eye)
    sheet = cv2.resize(sky.picture[above:], (camera.width, camera.height), interpolation=cv2.INTER_CUBIC)
    picture = np.ascontiguousarray(np.maximum(sheet, 0), dtype=f32)
    trees = grown(plan, camera, ground, random, asked.trees, winter, asked.season, layout.plants, seen)
    if layout.skyline is not None:
        trees = [tree for tree in trees if below_line(tree, plan, camera, eye, layout.skyline)]
    wood = Wood(trees, camera, light.sun, random)
    shadowed = ground.near_shade
    if not light.dull:
        shadowed = wood.shadows(plan, light.sun, random, ground.near_shade)
    ground = ground._replace(near_shade=shadowed)
    lit = lit_by(light.sun, colour, ambient, air)
    shade(plan, camera, seen, labels, ground, lit, picture)
    wood.draw(plan, camera, eye, ground, colour, ambient, air, picture, seen, labels)
    if watery and (labels == WATER).any():
        mirror = _mirror(plan, camera, eye, sky, ground, wood, seen, labels, lit, air)
        own = rng(task.seed, 77)
        stormy = asked.sky == "storm"
        steep = plan.waves if plan.waves is not None else 0.2 if stormy else 0.03
        steep *= (1.7 if stormy else 1.0) * own.uniform(0.7, 1.4)
        waves = make_waves(own, plan.wave_size, steep, 0.95 if steep > 0.2 else 0.45 if steep > 0.09 else 0.0)
        deep = paint(plan.deep).astype(np.float64) * 1.3
        sea = Sea(plan.water, deep, sun_seen(light, camera, labels), ground.haze * 0.5)
        bright = lit_by(light.sun, colour * 2.2, ambient, air)
        flood(camera, eye, heights_of(plan), seen, labels, mirror, bright, sea, waves, picture)
    sward = _sward(plan, ground, camera, random, "flowers" in asked.extras)
    if sward.many and not winter:
        grow(plan, camera, eye, sward, ground.near_shade, lit, picture, seen, labels)
    return reduced(
        picture, seen, labels, replace(base, eye=plan.eye), light,
        exposure=plan.exposure if not night and asked.time not in ("sunset", "golden") else None,
        ground=None if watery and plan.surface.sand <= 0 and plan.stand is None else 0.88,
        gloss=0.0 if not asked.wet else 0.3, attempts=prepared.attempts,
    )  # fmt: skip


def sun_seen(light: Light, camera: Camera, labels: Byte) -> float:
    """Share of the sun or moon that stands before the sky and not behind the land, 0..1; 1 when it is out of view."""
    if light.disc is None:
        return 1.0
    x, y = (int(c * _FINER) for c in light.disc)
    reach = max(int(0.014 * camera.focal), 1)
    if not (reach <= x < camera.width - reach and reach <= y < camera.height - reach):
        return 1.0
    return float((labels[y - reach : y + reach + 1, x - reach : x + reach + 1] == SKY).mean())
