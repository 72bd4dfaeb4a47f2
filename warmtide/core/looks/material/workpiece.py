"""What every material starts from: the art in its parts, their colours, the light, what lies under it, the words."""

import math
from dataclasses import dataclass
from functools import cached_property

import cv2
import numpy as np

from ...maths.arrays import AnyArray, Float, f32
from ...maths.blur import blur
from ...maths.colour import to_lab
from ...maths.light import linear_of, lit
from ...maths.light import shown as encoded_of
from ...maths.relief import broad
from ...model.cache import SharedCache
from ...model.scene import Backdrop
from ...model.sitting import Original, Sitting
from ...understanding.flat.art import FlatArt, fineness, from_areas, is_flat, take_apart
from ..shared.areas import enlarged_labels, few_labels, shapes
from ..shared.environment import mirrored, room
from ..shared.grounds import GROUNDS, Ground
from ..shared.shading import Lamp, Surface, shade
from ..shared.texture import clouded, grain, over

# The lamp stands to the upper left, nearer to the eye than to the side.
_SUN = (-0.52, -0.62, 0.60)
_TURN = 0.35
# A part keeps its colour apart from the others of its kind only when words have changed it alone.
_OWN_COLOUR = 0.07
_PLAIN_LIGHT, _PLAIN_CHROMA = 0.80, 0.035


def _film(light: AnyArray) -> AnyArray:
    x = np.maximum(light, 0)
    return np.asarray((x * (2.51 * x + 0.03)) / (x * (2.43 * x + 0.59) + 0.14))


def _unfilmed(shown: AnyArray) -> AnyArray:
    """The light that the film curve shows as `shown` (0..1)."""
    y = np.clip(shown, 0, 0.98)
    a, b, c = 2.43 * y - 2.51, 0.59 * y - 0.03, 0.14 * y
    return np.asarray((-b - np.sqrt(np.maximum(b * b - 4 * a * c, 0))) / (2 * a))


@dataclass
class Workpiece:
    """One piece of work on the grid of its art.

    Attributes
    ----------
    art : parts and outlines. colours : (n, 3) OKLab by part, as the sampler has them now. around : OKLab colour
    that the ground has now. sitting : seed, words, size. backdrop : a scene behind, or None.
    """

    art: FlatArt
    colours: Float
    around: Float
    sitting: Sitting
    backdrop: Backdrop | None = None

    @property
    def height(self) -> int:
        return self.art.shape[0]

    @property
    def width(self) -> int:
        return self.art.shape[1]

    @property
    def unit(self) -> float:
        return self.art.unit

    def word(self, name: str) -> float:
        """How much words ask for something of the finish, -1..1."""
        return float(np.clip(self.sitting.words.get(name, 0.0), -1, 1))

    @property
    def thick(self) -> float:
        """Factor on heights: strength and guidance make a thing more of a thing, and so do words."""
        grown = (0.45 + 0.6 * self.sitting.strength) * (self.sitting.guidance / 7) ** 0.3
        return float(np.clip(grown * math.exp(0.6 * self.word("thick")), 0.25, 2.2))

    def rough(self, own: float) -> float:
        """How rough a surface is that is `own` without words."""
        return float(np.clip(own * math.exp(-1.1 * self.word("polish") + 0.8 * max(self.word("rough"), 0)), 0.02, 1.0))

    def random(self, name: str) -> np.random.Generator:
        return self.sitting.random(name)

    def noise(self, name: str, along: float, across: float | None = None, angle: float = 0.0) -> Float:
        """Grain with features of so many units."""
        u = self.unit
        return grain(
            self.height, self.width, along * u, self.random(name), None if across is None else across * u, angle
        )

    def clouds(self, name: str, along: float, octaves: int = 4, gain: float = 0.55) -> Float:
        return clouded(self.height, self.width, along * self.unit, self.random(name), octaves, gain)

    def albedo(self, chroma: float = 1.0, low: float = 0.02, high: float = 0.85) -> Float:
        """(n, 3) linear colours by part, within what a surface can be."""
        lab = self.colours.copy()
        lab[:, 1:] *= f32(chroma)
        return np.clip(linear_of(lab), low, high).astype(f32)

    def painted(self, values: AnyArray, soft: float = 0.8) -> Float:
        """A map from one value or colour a part, soft over `soft` units at borders; on the ground as at the border."""
        whole = self.art.by_part(values)
        share = self.art.solid.astype(f32)
        sigma = max(soft * self.unit, 0.6)
        weight = np.maximum(blur(share, sigma), 1e-4)
        spread = blur(whole, sigma)
        return np.asarray(spread / (weight[..., None] if spread.ndim == 3 else weight), f32)

    @cached_property
    def sun(self) -> AnyArray:
        """Direction to the lamp, x right, y down, z toward the eye; the seed turns it a little."""
        if self.backdrop is not None:
            x, y, z = (float(v) for v in self.backdrop.sun)
            found = np.array([x, -max(y, 0.25), max(-z, 0.5)])
        else:
            turn, lift = self.random("lamp").normal(0, 1, 2).clip(-2, 2)
            angle = math.atan2(_SUN[1], _SUN[0]) + _TURN * turn
            level = math.hypot(_SUN[0], _SUN[1])
            found = np.array([level * math.cos(angle), level * math.sin(angle), _SUN[2] * math.exp(0.12 * lift)])
        return np.asarray(found / np.linalg.norm(found), f32)

    def lamp(
        self, kind: str, colour: tuple[float, float, float] = (2.2, 2.1, 1.95), ambient: float = 1.0, soft: float = 0.16
    ) -> Lamp:
        """Lamp and surroundings: a room, or the scene behind."""
        if self.backdrop is None:
            return Lamp(self.sun, colour, room(kind), ambient, soft)
        own = np.asarray(self.backdrop.colour, np.float64)
        own = own / max(float(own.max()), 1e-6)
        bright = float(np.clip(0.45 + 1.3 * self.backdrop.bare.mean(), 0.4, 1.1))
        tinted = tuple(float(c * t * bright) for c, t in zip(colour, 0.4 + 0.6 * own, strict=True))
        bare = self.backdrop.bare
        assert self.sitting.original is not None
        key = ("mirrored", self.sitting.original.key)
        around = self.sitting.cache.get(key, lambda: mirrored(lit(bare)))
        return Lamp(self.sun, tinted, around, ambient, soft)  # type: ignore[arg-type]

    def ground(self, usual: str, colour: str | None = None) -> Ground:
        """The ground that words ask for, or the material's usual one; a coloured ground of the source's keeps its colour."""
        asked = {name: amount for name, amount in self.sitting.words.items() if name in GROUNDS and amount > 0}
        kind = max(asked, key=lambda name: asked[name]) if asked else usual
        light, chroma = float(self.around[0]), float(np.hypot(self.around[1], self.around[2]))
        plain = light > _PLAIN_LIGHT and chroma < _PLAIN_CHROMA
        tint = None
        if not plain and not asked:
            # Something of the artist's own colour lies there: paper takes any, and says it best.
            kind = kind if kind in ("linen", "denim", "paper") else "paper"
            tint = np.clip(linear_of(self.around[None])[0], 0.012, 0.85).astype(f32)
        elif colour is not None and not asked:
            tint = np.array([int(colour[i : i + 2], 16) / 255 for i in (0, 2, 4)], f32) ** f32(2.2)
        key = (
            "material ground",
            kind,
            self.sitting.seed,
            self.height,
            self.width,
            None if tint is None else tint.tobytes(),
        )
        return self.sitting.cache.get(
            key, lambda: GROUNDS[kind](self.height, self.width, self.random("ground"), self.unit, tint)
        )

    def shaded(
        self, thing: Surface, ground: Ground, lamp: Lamp, shut: float = 1.0, view: float = 0.35, reach: float = 260.0
    ) -> Float:
        """Light from the thing on its ground; the thing's planes count where the art is."""
        cover = self.art.cover
        bare = f32(1) - cover

        def joined(own: AnyArray | float, below: float) -> Float:
            return (np.asarray(own, f32) * cover + f32(below) * bare).astype(f32)

        whole = Surface(
            height=(ground.height * bare + thing.height).astype(f32),
            albedo=over(ground.albedo, thing.albedo, cover),
            rough=joined(thing.rough, ground.rough),
            metal=joined(thing.metal, 0),
            base=joined(thing.base, 0.03),
            coat=joined(thing.coat, 0.5 if ground.rough < 0.3 else 0),
        )
        return shade(whole, lamp, self.unit, shut, view, reach=reach)

    def behind(self, exposure: float) -> Float:
        """The backdrop as light that `finished` shows as it is."""
        assert self.backdrop is not None
        size = (self.width, self.height)
        picture = cv2.resize(self.backdrop.picture, size, interpolation=cv2.INTER_CUBIC)
        return (_unfilmed(lit(np.clip(picture, 0, 1))) / exposure).astype(f32)

    def finished(
        self, light: Float, exposure: float = 0.8, glow: float = 0.06, shade_corners: float = 0.16, chroma: float = 1.0
    ) -> Float:
        """The picture (h, w, 3) in OKLab at the take's size: exposed, with bloom, on a filmic curve."""
        height, width, u = self.height, self.width, self.unit
        shown = light
        if glow:
            bright = np.clip(light - 1, 0, 6)
            shown = shown + f32(glow) * (
                blur(bright, 6 * u) + 1.2 * broad(bright, 22 * u) + 0.8 * broad(bright, 60 * u)
            )
        if self.backdrop is None and shade_corners:
            xs = np.linspace(-0.46, 0.54, width, dtype=f32)[None]
            ys = np.linspace(-0.44, 0.56, height, dtype=f32)[:, None]
            shown = shown * (1 - f32(shade_corners) * ((xs**2 + ys**2) * 2.2))[..., None]
        size = (self.sitting.width, self.sitting.height)
        shown = cv2.resize(np.asarray(shown, f32), size, interpolation=cv2.INTER_AREA) * f32(exposure)
        grey = np.maximum(shown @ np.array([0.2126, 0.7152, 0.0722], f32), 1e-5)[..., None]
        # Channel by channel colours burn to white, together they never do: something of both.
        kept = np.clip(np.maximum(shown, 0) * (_film(grey) / grey), 0, 1.25)
        shown = np.clip(0.68 * _film(shown) + 0.32 * kept, 0, 1)
        encoded = encoded_of(shown)
        encoded = encoded + f32(0.3) * (encoded - blur(encoded, 0.9))
        if self.backdrop is not None:
            cover = cv2.resize(self.art.cover, size, interpolation=cv2.INTER_AREA)
            encoded = over(self.backdrop.picture, encoded, cover)
        lab = to_lab(np.clip(encoded, 0, 1).astype(f32))
        lab[..., 1:] *= f32(chroma)
        return lab


def colours_now(art: FlatArt, lab: Float) -> tuple[Float, Float]:
    """Colours by part (n, 3) and of the ground (3,), as a picture (h, w, 3) OKLab has them."""
    size = (lab.shape[1], lab.shape[0])
    parts = cv2.resize(art.parts, size, interpolation=cv2.INTER_NEAREST)
    inner = cv2.resize(art.within, size, interpolation=cv2.INTER_NEAREST) > 1.5 * art.factor
    ids, pixels = parts[inner], lab[inner]

    def means(numbers: AnyArray, values: AnyArray, count: int) -> tuple[AnyArray, AnyArray]:
        many = np.bincount(numbers, minlength=count)
        return np.stack([np.bincount(numbers, values[:, k], count) for k in range(3)], 1) / np.maximum(many, 1)[
            :, None
        ], many

    by_colour, seen = means(art.colour_of[ids], pixels, len(art.colours))
    by_colour = np.where((seen >= 6)[:, None], by_colour, art.colours)
    own, seen = means(ids, pixels, art.count)
    usual = by_colour[art.colour_of]
    apart = np.abs(own - usual).sum(1)
    colours = np.where(((seen >= 12) & (apart > _OWN_COLOUR))[:, None], own, usual)
    outside = parts < 0
    far = cv2.resize(art.away, size, interpolation=cv2.INTER_NEAREST) > 2 * art.factor
    ground = np.median(lab[outside & far], axis=0) if (outside & far).sum() > 20 else art.ground
    return colours.astype(f32), np.asarray(ground, f32)


def _areas(lab: Float, sitting: Sitting) -> FlatArt:
    """The areas that the sampler leaves of a picture that is no flat art, as parts."""
    areas = shapes(lab, sitting, 12, 1.8, 90, 0.05)
    factor = fineness(*lab.shape[:2])
    size = round(lab.shape[1] * factor), round(lab.shape[0] * factor)
    return from_areas(lab, enlarged_labels(few_labels(areas.ids), 1.2 * areas.scale, size))


def known_parts(original: Original, cache: SharedCache) -> FlatArt | None:
    """The parts of flat art, once a source; None of a picture that is no flat art."""
    if original.cover is None and not cache.get(("flat?", original.key), lambda: is_flat(original.lab)):
        return None
    return cache.get(("apart", original.key), lambda: take_apart(original.lab, original.cover))


def workpiece(lab: Float, sitting: Sitting) -> Workpiece:
    """Begin a piece: `lab` (h, w, 3) OKLab gives its colours, the sitting's original its shapes."""
    original = sitting.original or Original(lab, None)
    # Without a key nothing may be kept for the next source.
    cache = SharedCache() if original.key is None else sitting.cache
    art = known_parts(original, cache) or _areas(lab, sitting)
    colours, around = colours_now(art, lab)
    return Workpiece(art, colours, around, sitting, original.backdrop)
