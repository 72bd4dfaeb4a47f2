"""Built: an untextured building in its materials, with glass in its windows, at an hour of the day and in a place.

Where it can't be told how a building's faces lie, nothing is drawn on them: it stays a pale model in the hour's light.
"""

import cv2
import numpy as np

from ...maths.arrays import Float, f32
from ...maths.blur import blur
from ...maths.steps import smoothstep
from ...model.sitting import Original, Sitting
from ...understanding.building.parts import GROUND
from ...understanding.building.planes import Built, Face, built_of
from ..shared.relight import HOURS, Hour, developed, glow_of, hour_of, lit_share, sky_of, worded_as
from ..shared.wishes import Wish, paint_of, said
from .ground_plan import metres_of, placed
from .look import building
from .setting import before, in_weather, laid_around, place_around, setting_of, weather_of
from .surfaces import SURFACES, Place
from .wishes import building_wishes

_WALLS, _ROOFS, _YARDS = (
    ("plaster", "boards", "brick", "stone", "concrete"),
    ("zinc", "tiles", "slate"),
    ("paving", "gravel", "grass"),
)
_PLINTH = 0.55
# Window frames: painted white, or of what words say.
_WHITE_FRAME = 0.6
_FRAMES = {"zinc": (0.03, 0.032, 0.035), "boards": (0.26, 0.14, 0.07), "concrete": (0.4, 0.4, 0.39)}
# Share of a small area's rim that is ground where it lies on it.
_LYING = 0.3


def _chosen(wishes: dict[str, Wish], random: np.random.Generator, snowy: bool) -> dict[str, Wish]:
    """Material and colour by part: what words ask for, else what goes together."""
    found = {
        "wall": str(random.choice(_WALLS)), "roof": str(random.choice(_ROOFS)), "ground": str(random.choice(_YARDS)),
        "door": "boards", "plinth": "",
    }  # fmt: skip
    snow = {"roof": "snow", "ground": "snow"} if snowy else {}
    found |= snow
    return {part: Wish((wish := wishes.get(part, Wish())).finish or own, wish.colour) for part, own in found.items()}


def _lying(built: Built) -> set[int]:
    """Small areas that lie on the ground, or on what lies on it: steps, kerbs, slabs."""
    found: set[int] = set()
    horizon = built.view.horizon if built.view is not None else 0.0
    for _ in range(2):
        low = [GROUND, *found]
        for k in np.unique(built.owner):
            mask = built.owner == k
            if k < 0 or int(k) in built.faces or int(k) in found or np.flatnonzero(mask.any(1))[0] < horizon:
                continue
            rim = built.owner[(cv2.dilate(mask.astype(np.uint8), np.ones((3, 3), np.uint8)) > 0) & ~mask]
            if np.isin(rim, low).mean() > _LYING:
                found.add(int(k))
    return found


def _textured(built: Built, chosen: dict[str, Wish], random: np.random.Generator, height: int, width: int) -> Float:
    """Albedo (h, w, 3) of everything that is built, and of the ground."""
    out = np.full((height, width, 3), 0.55, f32)
    seeds = {name: int(random.integers(1 << 60)) for name in sorted(SURFACES)}

    def surface(wish: Wish, place: Place) -> Float:
        return SURFACES[str(wish.finish)](place, np.random.default_rng(seeds[str(wish.finish)]), paint_of(wish))

    def plain(wish: Wish) -> Float:
        # One mean colour: what a pattern is from far away.
        far = Place(*(np.zeros((1, 64), f32) + v for v in (0, np.linspace(0, 9, 64, dtype=f32)[None], 99)))
        return surface(wish, far).reshape(-1, 3).mean(0)

    if not built.sure or built.view is None:
        # Which grey is wall and which is ground can't be told: all of it stays one pale model, in its light.
        out[:] = plain(Wish("plaster"))
        return out
    lying = _lying(built)
    for k in [*range(built.parts.count), GROUND]:
        mask = built.owner == k
        if not mask.any():
            continue
        face = built.faces.get(k)
        kind = "roof" if face is not None and face.kind in ("roof", "flat") else "wall"
        kind = "ground" if k == GROUND or k in lying else kind
        out[mask] = plain(chosen[kind])
    rays, metres = built.view.rays(height, width), metres_of(built)
    below = (built.owner == GROUND) & (rays[..., 1] < -2e-3)
    if below.any():
        level = Face("flat", np.array([0, 1, 0], f32), built.view.way(0), -1.0)
        out[below] = surface(chosen["ground"], placed(level, rays, below, metres))
    for k, face in built.faces.items():
        mask = built.owner == k
        if face.kind == "loose" or not mask.any():
            continue
        place = placed(face, rays, mask, metres)
        own = surface(chosen["roof" if face.kind in ("roof", "flat") else "wall"], place)
        if face.kind == "wall" and chosen["plinth"].finish:
            foot = place.v - np.percentile(place.v, 0.5)
            own = np.where((foot < _PLINTH)[:, None], surface(chosen["plinth"], place), own)
        out[mask] = own
    for opening in built.openings:
        face = built.faces.get(opening.face)
        if opening.kind == "door" and face is not None and face.kind != "loose":
            leaf = np.zeros((height, width), np.uint8)
            cv2.fillPoly(leaf, [np.round(opening.corners).astype(np.int32)], 1)
            mask = (leaf > 0) & (built.owner == opening.face)
            if mask.any():
                out[mask] = surface(chosen["door"], placed(face, rays, mask, metres))
    return out


def _frame_of(wish: Wish | None) -> Float:
    """Linear colour of window frames: white, or as words ask."""
    if wish is None:
        return np.full(3, _WHITE_FRAME, f32)
    own = paint_of(wish)
    return np.array(_FRAMES.get(wish.finish or "", (_WHITE_FRAME,) * 3), f32) if own is None else own


def _glazed(
    built: Built, hour: Hour, out: Float, mirrored: Float, wood: Float, random: np.random.Generator, unit: float
) -> Float:
    """Windows with frames of a colour, and glass that mirrors what is before it (h, w, 3) or is lit from within."""
    height, width = out.shape[:2]
    for opening in built.openings:
        mask = np.zeros((height * 2, width * 2), np.uint8)
        cv2.fillPoly(mask, [np.round(opening.corners * 2).astype(np.int32)], 255)
        cover = cv2.resize(mask, (width, height), interpolation=cv2.INTER_AREA).astype(f32) / 255
        ys, xs = np.nonzero(cover > 0)
        if not len(ys):
            # Beside the picture, or narrower than a pixel.
            continue
        view = np.s_[ys.min() : ys.max() + 1, xs.min() : xs.max() + 1]
        share = cover[view][..., None]
        if opening.kind == "door":
            # Set back in its wall: a little darker, most at its rim.
            inner = cv2.erode(cover[view], np.ones((3, 3), np.uint8))[..., None]
            out[view] = out[view] * (1 - share * (0.45 - 0.25 * inner))
            continue
        a, b, c, d = opening.corners.astype(f32)
        # Where in its own quad a pixel lies: across and down, 0..1.
        turn = cv2.getPerspectiveTransform(np.stack([a, b, c, d]), np.array([[0, 0], [1, 0], [1, 1], [0, 1]], f32))
        grid = np.stack(
            np.meshgrid(np.arange(xs.min(), xs.max() + 1) + 0.5, np.arange(ys.min(), ys.max() + 1) + 0.5), -1
        )
        at = cv2.perspectiveTransform(grid.reshape(1, -1, 2).astype(f32), turn).reshape(*grid.shape)
        across, down = at[..., 0], at[..., 1]
        wide, tall = max(float(np.hypot(*(b - a))), 1), max(float(np.hypot(*(d - a))), 1)
        frame = max(1.1 * unit, 0.055 * min(wide, tall))
        edge = np.minimum(np.minimum(across, 1 - across) * wide, np.minimum(down, 1 - down) * tall)
        bar = np.minimum(np.abs(across - 0.5) * wide, np.abs(down - 0.38) * tall * (1.0 if tall > 14 * unit else 99))
        bars = np.maximum(
            np.clip(frame - edge + 0.5, 0, 1), np.clip(0.4 * frame - bar + 0.5, 0, 1) * (wide > 12 * unit)
        )
        mirror = mirrored[view] * (0.55 - 0.35 * down[..., None]) + 0.01
        lit = random.random() < hour.windows
        warm = np.array((1.9, 1.15, 0.48), f32) * float(random.uniform(0.55, 1.1)) * (1.05 - 0.45 * down[..., None])
        glass = 0.25 * mirror + warm if lit else mirror
        shade = np.clip(
            1 - 1.6 * np.exp(-np.maximum(np.minimum(down * tall, across * wide * 2), 0) / (2.2 * unit + 1)), 0.45, 1
        )
        pane = glass * (shade[..., None] if not lit else 1)
        framed = pane + (wood * np.array(hour.shade, f32) * 0.8 + 0.04 * wood.mean() - pane) * bars[..., None]
        out[view] = out[view] * (1 - share) + framed.astype(f32) * share
    return out


def _under(sky: Float, out: Float, built: Built, horizon: float) -> Float:
    """A building's light (h, w, 3) before a sky, its ground fading into the haze of the horizon."""
    height = len(out)
    far = smoothstep(
        0.0, 1.0, np.clip(1 - np.abs(np.arange(height, dtype=f32)[:, None] - horizon) / (0.16 * height), 0, 1)
    )
    ground = built.owner == GROUND
    out = np.where(ground[..., None], out + (sky - out) * (0.55 * far)[..., None], out)
    return before(sky, out, built.owner)


def paint(lab: Float, sitting: Sitting) -> Float:
    """Render an untextured building (h, w, 3) OKLab as built. About .5 s at 512 px; once a source .6 s more for its
    planes, once a seed .1 to 1.2 s for a place that words put around it."""
    original = sitting.original or Original(lab, None)
    light = np.ascontiguousarray(original.lab[..., 0])

    built = built_of(original, sitting.cache)
    height, width = light.shape
    unit = built.parts.unit
    # Where planes can't be told, what was taken for sky may be a wall: no place, and no sky.
    setting = setting_of(built, original, sitting.prompt, sitting.seed, sitting.cache) if built.sure else None
    hour = HOURS[setting.hour if setting else hour_of(sitting.prompt)]
    wishes = building_wishes(sitting.prompt)
    chosen = _chosen(wishes, sitting.random("built"), setting is not None and setting.snowy)
    grey = (light**3).astype(f32)
    share, bright = lit_share(blur(grey, 0.8 * unit), (built.owner >= 0).astype(f32))
    albedo = _textured(built, chosen, sitting.random("surfaces"), height, width)
    factor = np.array(hour.shade, f32) + (np.array(hour.lit, f32) - np.array(hour.shade, f32)) * share[..., None]
    # The render's own light and shade stay, with the eaves' and corners' darkness in them.
    out = albedo * (bright ** (0.75 + 0.25 * min(sitting.guidance / 7, 1.6)))[..., None] * factor * f32(0.92)
    sky = out
    if setting is None:
        horizon = built.view.horizon if built.view is not None else 0.5 * height
        sky = sky_of(hour, height, width, float(np.clip(horizon, 0.15 * height, 0.9 * height)), sitting.random("sky"))
        out = _under(sky, out, built, horizon) if built.sure else out
        mirrored = np.broadcast_to(sky[max(int(0.25 * height), 1)].mean(0), out.shape)
    else:
        mirrored = np.minimum(blur(setting.light[:, ::-1], 2.5 * unit), 1.2)
    if built.sure:
        out = _glazed(built, hour, out, mirrored, _frame_of(wishes.get("frame")), sitting.random("windows"), unit)
    if setting is not None:
        out = laid_around(out, built, setting, hour, grey, sitting.random("around"), "ground" in wishes)
    weather = weather_of(sitting.prompt)
    if weather is not None:
        out = in_weather(
            out, built, weather, sky if setting is None else setting.light, setting is None, sitting.random("weather")
        )
    shining = out if setting is None else out * (built.owner >= 0)[..., None]
    out = out + glow_of(shining, unit)
    # The hour is in it already; other words are not.
    return (developed(out) + worded_as(lab, original.lab, 0.2, 0.4)).astype(f32)


LOOK = building(
    "built",
    "Built",
    "An untextured building in its materials, with glass in its windows, at an hour and in a place. Say them: timber walls, "
    "zinc roof, brick plinth, green door, gravel yard, dusk; by a lake, harbour, in snow. Where its planes can't be told it "
    "stays a pale model in that light.",
    paint,
    0.6,
    place_around,
    lambda phrase: said(building_wishes(phrase)),
)
