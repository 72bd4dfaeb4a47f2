"""Built: an untextured building in its materials, at an hour of the day, with glass in its windows.

Where it can't be told how a building's faces lie, nothing is drawn on them: it stays a pale model in the hour's light.
"""

from itertools import pairwise

import cv2
import numpy as np

from ..arrays import AnyArray, Float, f32
from ..renders.look import building, built_of
from ..renders.outlines import ray_of
from ..renders.parts import GROUND, SKY
from ..renders.planes import Built, Face
from ..renders.relight import HOURS, Hour, developed, glow_of, hour_of, lit_share, sky_of, worded_as
from ..renders.surfaces import SURFACES, Place, asked_for
from ..scenes.noise import blur, step
from .base import Original, Sitting

_WALLS, _ROOFS, _YARDS = (
    ("plaster", "boards", "brick", "stone", "concrete"),
    ("zinc", "tiles", "slate"),
    ("paving", "gravel", "grass"),
)
_STOREY, _PLINTH = 3.0, 0.55


def _scale(built: Built) -> float:
    """Metres to an eye height: a storey of the largest wall that stands on the ground is three metres."""
    assert built.view is not None
    walls = [k for k, face in built.faces.items() if face.kind == "wall" and face.distance < 0]
    k = max(walls, key=lambda w: float((built.owner == w).sum()))
    face = built.faces[k]
    mask = built.owner == k
    columns = np.flatnonzero(mask.any(0))
    tops, feet = mask.argmax(0)[columns], mask.shape[0] - mask[::-1].argmax(0)[columns]
    heights = []
    for x, *ys in zip(columns[::4], tops[::4], feet[::4], strict=True):
        rays = [ray_of(np.array([x, y]), built.view) for y in ys]
        up = [float(r[1] * face.distance / min(float(face.normal @ r), -1e-4)) for r in rays]
        heights.append(up[0] - up[1])
    rows = sorted(float(o.corners[:, 1].mean()) for o in built.openings if o.face == k)
    storeys = 1 + sum(b - a > 0.09 * (feet.max() - tops.min()) for a, b in pairwise(rows))
    # A gable rises above the storey, a door is cut out of it.
    return float(np.clip(_STOREY * storeys / max(float(np.median(heights)), 0.2), 0.5, 30))


def _placed(face: Face, rays: Float, mask: AnyArray, metres: float) -> Place:
    """Plane coordinates of a face's pixels."""
    along = face.along.astype(f32)
    up = np.cross(face.normal, face.along).astype(f32)
    up = up if up[1] > 0 or (abs(up[1]) < 1e-3 and up[2] > 0) else -up
    seen = rays[mask]
    facing = np.minimum(seen @ face.normal, -2e-3)
    points = seen * (face.distance / facing)[:, None] * f32(metres)
    far = np.abs(points[:, 2])
    span = far / f32(rays.shape[1]) / np.maximum(-facing / np.linalg.norm(seen, axis=1), 0.06)
    return Place((points @ along).astype(f32), (points @ up).astype(f32), span.astype(f32))


def _chosen(built: Built, prompt: str, random: np.random.Generator) -> dict[str, str]:
    """Material by part: what words ask for, else what goes together."""
    found = {
        "wall": str(random.choice(_WALLS)), "roof": str(random.choice(_ROOFS)), "ground": str(random.choice(_YARDS)),
        "door": "boards", "plinth": "",
    }  # fmt: skip
    return found | asked_for(prompt)


def _textured(built: Built, chosen: dict[str, str], random: np.random.Generator, height: int, width: int) -> Float:
    """Albedo (h, w, 3) of everything that is built, and of the ground."""
    out = np.full((height, width, 3), 0.55, f32)
    seeds = {name: int(random.integers(1 << 60)) for name in sorted(SURFACES)}

    def surface(name: str, place: Place) -> Float:
        return SURFACES[name](place, np.random.default_rng(seeds[name]), None)

    def plain(name: str) -> Float:
        # One mean colour: what a pattern is from far away.
        far = Place(*(np.zeros((1, 64), f32) + v for v in (0, np.linspace(0, 9, 64, dtype=f32)[None], 99)))
        return surface(name, far).reshape(-1, 3).mean(0)

    if not built.sure or built.view is None:
        # Which grey is wall and which is ground can't be told: all of it stays one pale model, in its light.
        out[built.owner != SKY] = plain("plaster")
        return out
    for k in [*range(built.parts.count), GROUND]:
        mask = built.owner == k
        if not mask.any():
            continue
        face = built.faces.get(k)
        kind = "ground" if k == GROUND else "roof" if face is not None and face.kind in ("roof", "flat") else "wall"
        out[mask] = plain(chosen[kind])
    rays, metres = built.view.rays(height, width), _scale(built)
    below = (built.owner == GROUND) & (rays[..., 1] < -2e-3)
    if below.any():
        level = Face("flat", np.array([0, 1, 0], f32), built.view.way(0), -1.0)
        out[below] = surface(chosen["ground"], _placed(level, rays, below, metres))
    for k, face in built.faces.items():
        mask = built.owner == k
        if face.kind == "loose" or not mask.any():
            continue
        place = _placed(face, rays, mask, metres)
        own = surface(chosen["roof" if face.kind in ("roof", "flat") else "wall"], place)
        if face.kind == "wall" and chosen["plinth"]:
            foot = place.v - np.percentile(place.v, 0.5)
            own = np.where((foot < _PLINTH)[:, None], surface(chosen["plinth"], place), own)
        out[mask] = own
    return out


def _glazed(built: Built, hour: Hour, out: Float, sky: Float, random: np.random.Generator, unit: float) -> Float:
    """Windows with frames and glass that mirrors the sky or is lit from within; doors of boards."""
    height, width = out.shape[:2]
    for opening in built.openings:
        mask = np.zeros((height * 2, width * 2), np.uint8)
        cv2.fillPoly(mask, [np.round(opening.corners * 2).astype(np.int32)], 255)
        cover = cv2.resize(mask, (width, height), interpolation=cv2.INTER_AREA).astype(f32) / 255
        ys, xs = np.nonzero(cover > 0)
        view = np.s_[ys.min() : ys.max() + 1, xs.min() : xs.max() + 1]
        share = cover[view][..., None]
        if opening.kind == "door":
            out[view] = out[view] * (1 - share) + share * out[view] * np.array((0.66, 0.58, 0.52), f32)
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
        wood = np.maximum(
            np.clip(frame - edge + 0.5, 0, 1), np.clip(0.4 * frame - bar + 0.5, 0, 1) * (wide > 12 * unit)
        )
        mirror = sky[max(int(0.25 * height), 1)].mean(0) * (0.55 - 0.35 * down[..., None]) + 0.01
        lit = random.random() < hour.windows
        warm = np.array((1.9, 1.15, 0.48), f32) * float(random.uniform(0.55, 1.1)) * (1.05 - 0.45 * down[..., None])
        glass = 0.25 * mirror + warm if lit else mirror
        shade = np.clip(
            1 - 1.6 * np.exp(-np.maximum(np.minimum(down * tall, across * wide * 2), 0) / (2.2 * unit + 1)), 0.45, 1
        )
        pane = glass * (shade[..., None] if not lit else 1)
        framed = pane + (0.55 * np.array(hour.shade, f32) * 0.8 + 0.04 - pane) * wood[..., None]
        out[view] = out[view] * (1 - share) + framed.astype(f32) * share
    return out


def paint(lab: Float, sitting: Sitting) -> Float:
    """Render an untextured building (h, w, 3) OKLab as built. About .5 s at 512 px, .6 s more once for its planes."""
    original = sitting.original or Original(lab, None)
    light = np.ascontiguousarray(original.lab[..., 0])

    built = built_of(original, sitting.cache)
    height, width = light.shape
    unit = built.parts.unit
    hour = HOURS[hour_of(sitting.prompt)]
    random = sitting.random("built")
    chosen = _chosen(built, sitting.prompt, random)
    grey = (light**3).astype(f32)
    thing = (built.owner >= 0).astype(f32)
    share, bright = lit_share(blur(grey, 0.8 * unit), thing)
    albedo = _textured(built, chosen, sitting.random("surfaces"), height, width)
    factor = np.array(hour.shade, f32) + (np.array(hour.lit, f32) - np.array(hour.shade, f32)) * share[..., None]
    horizon = built.view.horizon if built.view is not None else 0.5 * height
    sky = sky_of(hour, height, width, float(np.clip(horizon, 0.15 * height, 0.9 * height)), sitting.random("sky"))
    # The render's own light and shade stay, with the eaves' and corners' darkness in them.
    out = albedo * (bright ** (0.75 + 0.25 * min(sitting.guidance / 7, 1.6)))[..., None] * factor * f32(0.92)
    far = step(0.0, 1.0, np.clip(1 - np.abs(np.arange(height, dtype=f32)[:, None] - horizon) / (0.16 * height), 0, 1))
    ground = built.owner == GROUND
    out = np.where(ground[..., None], out + (sky - out) * (0.55 * far)[..., None], out)
    above = blur((built.owner == SKY).astype(f32), 0.6)[..., None]
    out = (out + (sky - out) * above).astype(f32)
    if built.sure:
        out = _glazed(built, hour, out, sky, sitting.random("windows"), unit)
    out = out + glow_of(out, unit)
    # The hour is in it already; other words are not.
    return (developed(out) + worded_as(lab, original.lab, 0.2, 0.4)).astype(f32)


LOOK = building(
    "built",
    "Built",
    "An untextured building in its materials, with glass in its windows, at an hour of the day. Say them: timber walls, "
    "zinc roof, brick plinth, gravel yard, dusk. Where its planes can't be told it stays a pale model in that light.",
    paint,
    0.6,
)
