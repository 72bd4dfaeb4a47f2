"""A subject before a scene: where it stands, its shadow and mirror, the light of the place on it.

Its shape is never touched: inside its outline every pixel keeps its place.

Sources
-------
1. T. Porter, T. Duff, "Compositing digital images", 1984.
"""

import math
from dataclasses import dataclass

import cv2
import numpy as np

from ..maths.arrays import AnyArray, Float, Mask, f32
from ..maths.blur import blur
from ..maths.nearest import from_nearest
from ..model.scene import Backdrop
from .scene import Scene

_RIM = 0.22


@dataclass(frozen=True)
class Spot:
    """Where a subject is put: centre x and lower edge y, 0..1 of the picture; its height, 0..1 of the picture's."""

    x: float
    y: float
    tall: float


@dataclass(frozen=True)
class Subject:
    """A subject cut out of its flat ground: colours (h, w, 3) sRGB 0..1, cover (h, w) 0..1."""

    picture: Float
    cover: Float

    @property
    def box(self) -> tuple[int, int, int, int]:
        """Left, top, right, bottom of what is covered, px; right and bottom outside."""
        rows, columns = np.nonzero(self.cover.max(1) > 0.5)[0], np.nonzero(self.cover.max(0) > 0.5)[0]
        if not len(rows) or not len(columns):
            return 0, 0, self.cover.shape[1], self.cover.shape[0]
        return int(columns[0]), int(rows[0]), int(columns[-1]) + 1, int(rows[-1]) + 1


def cut_out(picture: Float, ground: Mask) -> Subject:
    """Cut a subject out of its flat ground; pixels on its outline are parted into subject and ground.

    Parameters
    ----------
    picture : (h, w, 3) sRGB 0..1. ground : (h, w) pixels of the ground around the subject.
    """
    solid = (~ground).astype(np.uint8)
    behind = np.median(picture[ground], 0) if ground.any() else np.zeros(3, f32)
    inner = cv2.erode(solid, np.ones((3, 3), np.uint8))
    if not inner.any():
        return Subject(picture, solid.astype(f32))
    # Every pixel near the outline takes its colour from the nearest that is surely subject.
    own, _ = from_nearest(picture, inner > 0)
    toward = own - behind
    share = ((picture - behind) * toward).sum(-1) / np.maximum((toward**2).sum(-1), 1e-4)
    rim = (cv2.dilate(solid, np.ones((3, 3), np.uint8)) > 0) & (inner == 0)
    # A hairline has no inside: where the nearest sure colour is unlike, what is there is kept as it is.
    thin = solid.astype(bool) & (np.abs(own - picture).sum(-1) > 0.25) & (share < 0.9)
    thin &= cv2.dilate(inner, np.ones((5, 5), np.uint8)) == 0
    cover = np.where(rim, np.clip(share, 0, 1), solid).astype(f32)
    cover[thin] = 1
    colours = np.where((rim & ~thin)[..., None], own, picture)
    return Subject(colours.astype(f32), cover)


def with_cover(picture: Float, cover: Float) -> Subject:
    """A subject whose cover is known, freed of the ground that shines through its rim.

    Parameters
    ----------
    picture : (h, w, 3) sRGB 0..1, laid on a ground. cover : (h, w) 0..1.
    """
    bare = cover < 0.02
    behind = np.median(picture[bare], 0) if bare.any() else np.ones(3, f32)
    share = np.maximum(cover, 0.1)[..., None]
    own = np.clip((picture - (1 - cover[..., None]) * behind) / share, 0, 1)
    return Subject(np.where(cover[..., None] > 0.1, own, picture).astype(f32), cover.astype(f32))


def moved(subject: Subject, spot: Spot) -> Subject:
    """The subject at a spot, enlarged or reduced as a whole."""
    height, width = subject.cover.shape
    left, top, right, bottom = subject.box
    factor = spot.tall * height / max(bottom - top, 1)
    x, y = spot.x * width, spot.y * height
    turn = np.array([[factor, 0, x - factor * (left + right) / 2], [0, factor, y - factor * bottom]], np.float64)
    whole = np.dstack([subject.picture * subject.cover[..., None], subject.cover])
    if factor < 0.8:
        whole = blur(whole, 0.35 / factor)
    placed = cv2.warpAffine(whole, turn, (width, height), flags=cv2.INTER_CUBIC)
    cover = np.clip(placed[..., 3], 0, 1)
    colours = placed[..., :3] / np.maximum(cover, 1e-3)[..., None]
    return Subject(np.clip(colours, 0, 1).astype(f32), cover.astype(f32))


def stance_of(scene: Scene, wanted: str = "auto") -> str:
    """How a subject is held in a scene: on its ground, against its wall, or in the open."""
    if wanted != "auto":
        return wanted
    if scene.ground is not None:
        return "stands"
    return "hangs" if scene.wall else "floats"


def _cast(cover: Float, sun: AnyArray, box: tuple[int, int, int, int], horizon: float, dull: bool) -> Float:
    """The silhouette laid on the ground away from the sun, and the dark line where it touches."""
    height, width = cover.shape
    left, _, right, bottom = box
    wide, tall = right - left, max(bottom - box[1], 1)
    level = math.hypot(float(sun[0]), float(sun[2])) + 1e-6
    long = float(np.clip(level / max(float(sun[1]), 0.2), 0.2, 2.2))
    down = (0.20 if sun[2] > 0 else -0.16) * long
    aside = -float(sun[0]) / level * 0.55 * long
    # The foot stays; the head lands `down` heights below or above it and `aside` heights away.
    turn = np.array([[1, -aside, aside * bottom], [0, -down, bottom * (1 + down) - 2]], np.float64)
    shadow = cv2.warpAffine(cover, turn, (width, height), flags=cv2.INTER_LINEAR) * (0.18 if dull else 0.52)
    shadow = blur(shadow, max(wide * 0.018, 0.6))
    shadow[: max(int(horizon) + 3, 0)] = 0
    # Only what reaches down to the ground touches it: feet, not the width of the whole.
    reach = max(int(tall * 0.03), 2)
    feet = np.nonzero(cover[max(bottom - reach, 0) : bottom].max(0) > 0.5)[0]
    touch = np.zeros((height, width), f32)
    if len(feet):
        middle, half = float(feet.mean()), max((feet.max() - feet.min()) / 2 * 1.04, wide * 0.06)
        cv2.ellipse(
            touch, (int(middle), bottom - 1), (int(half), max(int(wide * 0.022), 2)), 0, 0, 360, 1.0, -1, cv2.LINE_AA
        )
    return np.maximum(shadow, blur(touch, max(wide * 0.02, 0.8)) * 0.85).astype(f32)


def _on_wall(cover: Float, sun: AnyArray, wide: int) -> Float:
    """A soft shadow on a wall just behind."""
    off = max(wide * 0.035, 1.5)
    height, width = cover.shape
    turn = np.array([[1, 0, -math.copysign(off, float(sun[0]))], [0, 1, off]], np.float64)
    near, far = (blur(cv2.warpAffine(cover, turn, (width, height)), wide * k) for k in (0.012, 0.045))
    return np.asarray(0.35 * near + 0.3 * far, f32)


def _lit(subject: Subject, scene: Scene) -> Float:
    """The subject in the light of the place: its colour, how bright it is, and what spills around the edge."""
    light = scene.light
    colour = np.asarray(light.colour, np.float64) * 0.5 + np.asarray(light.ambient, np.float64) * 1.6
    colour = colour / max(float(colour.max()), 1e-6)
    bright = float(np.clip(0.62 + scene.picture.mean() * 0.75, 0.55, 1.05))
    tint = (0.78 + 0.22 * colour / max(float(colour.mean()), 1e-6)) * bright
    wide = subject.box[2] - subject.box[0]
    around = blur(scene.picture, max(wide * 0.06, 1.5))
    edge = subject.cover * (1 - blur(subject.cover, max(wide * 0.02, 1.0)))
    lit = subject.picture * tint
    return np.asarray(lit + (around - lit) * (_RIM * np.clip(edge * 2, 0, 1))[..., None], f32)


def _behind(subject: Subject, scene: Scene, stance: str, lit: Float) -> Float:
    """The scene with the subject's shadow and mirror, without the subject."""
    held = stance_of(scene, stance)
    out = scene.picture.copy()
    box = subject.box
    wide, bottom = box[2] - box[0], box[3]
    height = out.shape[0]
    sun = np.asarray(scene.light.sun, np.float64)
    if held == "stands":
        if scene.gloss > 0 and bottom < height:
            rows = np.arange(height)
            source = np.clip(2 * bottom - 1 - rows, 0, height - 1)
            fade = np.clip(1 - (rows - bottom) / max(bottom - box[1], 1), 0, 1) ** 1.3 * (rows >= bottom) * scene.gloss
            mirror = cv2.GaussianBlur(lit[source], (0, 0), sigmaX=1.2, sigmaY=max(height * 0.012, 0.8))
            share = cv2.GaussianBlur(subject.cover[source], (0, 0), sigmaX=1.2, sigmaY=max(height * 0.012, 0.8))
            out += (mirror - out) * (share * fade[:, None])[..., None]
        dull = scene.light.dull or scene.light.time == "night"
        shadow = _cast(subject.cover, sun, box, scene.camera.horizon, dull)
        out = out * (1 - 0.8 * shadow[..., None]) + 0.8 * shadow[..., None] * np.array([0.02, 0.03, 0.07], f32)
    elif held == "hangs":
        shadow = _on_wall(subject.cover, sun, wide)
        out = out * (1 - 0.8 * shadow[..., None])
    return np.asarray(out, f32)


def composed(subject: Subject, scene: Scene, stance: str = "auto") -> Float:
    """The subject before the scene, (h, w, 3) sRGB 0..1, the same size as both. About 40 ms at 512 px."""
    lit, cover = _lit(subject, scene), subject.cover[..., None]
    return np.clip(_behind(subject, scene, stance, lit) * (1 - cover) + lit * cover, 0, 1).astype(f32)


def backdrop_of(subject: Subject, scene: Scene, stance: str = "auto") -> Backdrop:
    """What is behind a subject that is made anew there."""
    picture = np.clip(_behind(subject, scene, stance, _lit(subject, scene)), 0, 1)
    return Backdrop(picture, scene.picture, np.asarray(scene.light.sun, f32), np.asarray(scene.light.colour, f32))
