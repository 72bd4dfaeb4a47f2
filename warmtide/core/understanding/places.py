"""Where in a picture a phrase belongs: "red sail", "golden sky", "dark water".

Nothing here knows what a sail is. A few places can be told by where they lie and how they look; for any other
thing that is named together with a colour, the phrase belongs where the picture has that colour.
"""

from collections.abc import Callable
from dataclasses import dataclass

import cv2
import numpy as np

from ..maths.arrays import AnyArray, Byte, Float, Int, Mask, f32
from ..maths.blur import quick_blur
from ..maths.colour import bytes_to_lab
from ..model.face import Face
from .areas import parts
from .faces import face_mask, find_faces
from .ground import flat_ground
from .palette import colour_labels, palette

# Words for places that can be told from the picture.
PLACE_WORDS = {
    "sky": ("sky", "skies", "heaven", "heavens", "clouds", "cloud"),
    "water": ("water", "sea", "ocean", "lake", "river", "pond", "waves", "harbour water", "reflections"),
    "ground": ("ground", "floor", "street", "road", "path", "grass", "lawn", "field", "sand", "beach", "table", "pavement"),
    "foliage": ("foliage", "leaves", "leaf", "trees", "tree", "bushes", "hedge", "plants", "forest"),
    "subject": ("subject", "figure", "object", "person", "foreground"),
    "background": ("background", "backdrop", "behind", "surroundings"),
    "skin": ("skin", "face", "faces", "cheeks"),
    "clothes": ("clothes", "coat", "jacket", "dress", "shirt", "jumper", "sweater", "robe", "uniform", "suit"),
    "lit parts": ("highlights", "windows", "window", "lamps", "lanterns glow", "lit windows"),
    "shadows": ("shadows", "shadow", "dark parts"),
}  # fmt: skip
_HUE = "hue "
_SIDE = 256
_LEAST = 0.004
_COLOURS = 8


def of_hue(angle: float) -> str:
    """The place "where the picture has this hue" (radians in OKLab)."""
    return f"{_HUE}{angle:.2f}"


def said(place: str) -> str:
    """A place in words."""
    if place.startswith(_HUE):
        return "where the picture has it"
    return "on the skin" if place == "skin" else f"in the {place}"


@dataclass
class _View:
    """A small picture in its parts."""

    lab: Float
    ids: Int
    count: int
    faces: tuple[Face, ...]
    ground: Mask | None

    def of_parts(self, chosen: AnyArray) -> Float:
        picked: Float = chosen.astype(f32)[self.ids]
        return picked

    def mean(self, values: AnyArray) -> AnyArray:
        numbers = self.ids.ravel()
        size = np.maximum(np.bincount(numbers, minlength=self.count), 1)
        return np.bincount(numbers, values.ravel(), minlength=self.count) / size

    def touching(self, edge: Int) -> AnyArray:
        """Share of an edge of the picture that each part holds."""
        return np.bincount(edge.ravel(), minlength=self.count) / edge.size

    @property
    def size(self) -> AnyArray:
        return np.bincount(self.ids.ravel(), minlength=self.count) / self.ids.size

    @property
    def rows(self) -> AnyArray:
        height, width = self.ids.shape
        return np.repeat(np.linspace(0, 1, height), width).reshape(height, width)


def _sky(view: _View) -> Float:
    texture = view.mean(np.abs(cv2.Laplacian(np.ascontiguousarray(view.lab[..., 0]), cv2.CV_32F)))
    high = view.mean(view.rows)
    top = view.touching(view.ids[:2])
    calm = texture < 0.03
    begun = (top > 0.04) & (high < 0.45) & calm
    if not begun.any():
        return np.zeros(view.ids.shape, f32)
    # Clouds do not touch the edge: light, calm parts above what the sky reaches belong to it.
    reach = float(view.rows[view.of_parts(begun) > 0].max())
    light = view.mean(view.lab[..., 0])
    within = (high < 0.7 * reach) & calm & (light > 0.9 * float(light[begun].mean())) & (view.size < 0.1)
    return view.of_parts(begun | within)


def _low(view: _View, watery: bool) -> Float:
    sky = _sky(view)
    low = view.mean(view.rows)
    bottom = view.touching(view.ids[-2:])
    a, b = view.mean(view.lab[..., 1]), view.mean(view.lab[..., 2])
    free = view.mean(sky) < 0.5
    # Water is blue, green or as grey as what it mirrors; ground is warmer or greener.
    cool = (b < 0.012) & (a < 0.02)
    if sky.any():
        seen = view.lab[sky > 0].mean(0)
        cool |= np.hypot(a - seen[1], b - seen[2]) < 0.025
    lies = free & (low > 0.5) & ((bottom > 0.02) | (view.size > 0.02))
    return view.of_parts(lies & (cool if watery else ~cool & ((bottom > 0.02) | (low > 0.75))))


def _foliage(view: _View) -> Float:
    a, b = view.lab[..., 1], view.lab[..., 2]
    green = (a < -0.012) & (b > 0.008)
    return cv2.morphologyEx(green.astype(np.uint8), cv2.MORPH_OPEN, np.ones((2, 2), np.uint8)).astype(f32)


def _subject(view: _View) -> Float:
    if view.ground is not None:
        return (~view.ground).astype(f32)
    height, width = view.ids.shape
    ys, xs = np.mgrid[-1 : 1 : height * 1j, -1 : 1 : width * 1j]
    border = np.concatenate(
        [view.ids[:2].ravel(), view.ids[-2:].ravel(), view.ids[:, :2].ravel(), view.ids[:, -2:].ravel()]
    )
    rim = np.bincount(border, minlength=view.count) / border.size
    colours = np.stack([view.mean(view.lab[..., k]) for k in range(3)], 1)
    around = (rim[:, None] * colours).sum(0)
    apart = np.sqrt((((colours - around) * [1, 1.8, 1.8]) ** 2).sum(1))
    central = view.mean(np.exp(-(xs**2 + ys**2) / 0.5))
    score = (apart / (apart.max() + 1e-6) + central) - 6 * rim
    for face in view.faces:
        inside = view.mean(face_mask((face,), height, width))
        score += 2 * inside
    return view.of_parts(score > 0.75)


def _skin(view: _View) -> Float:
    if not view.faces:
        return np.zeros(view.ids.shape, f32)
    height, width = view.ids.shape
    face = face_mask(view.faces, height, width) > 0.6
    tone = np.median(view.lab[face][:, 1:], axis=0)
    near = np.hypot(view.lab[..., 1] - tone[0], view.lab[..., 2] - tone[1]) < 0.035
    around = face_mask(view.faces, height, width, 2.6) > 0
    return (near & around).astype(f32)


def _clothes(view: _View) -> Float:
    if not view.faces:
        return np.zeros(view.ids.shape, f32)
    height, width = view.ids.shape
    long_side = max(height, width)
    below = np.zeros((height, width), f32)
    for face in view.faces:
        x, y, w = face.x * long_side, face.y * long_side, face.width * long_side
        top, bottom = int(y + 0.75 * w), int(min(y + 3.5 * w, height))
        below[max(top, 0) : max(bottom, 0), max(int(x - 1.0 * w), 0) : int(x + 1.0 * w)] = 1
    share = view.mean(below)
    return view.of_parts((share > 0.15) & (view.size < 0.45)) * (1 - face_mask(view.faces, height, width, 1.2))


def _toned(view: _View, bright: bool) -> Float:
    light = view.lab[..., 0]
    low, high = float(np.percentile(light, 12)), float(np.percentile(light, 95))
    t = (light - (high - 0.08)) / 0.08 if bright else (low + 0.12 - light) / 0.12
    return np.clip(t, 0, 1).astype(f32)


def _hued(view: _View, angle: float) -> Float:
    a, b = view.lab[..., 1], view.lab[..., 2]
    chroma = np.hypot(a, b)
    apart = np.abs(np.angle(np.exp(1j * (np.arctan2(b, a) - angle))))
    near = np.clip((0.60 - apart) / 0.20, 0, 1) * np.clip((chroma - 0.035) / 0.02, 0, 1)
    return near.astype(f32)


_FINDERS: dict[str, Callable[[_View], Float]] = {
    "sky": _sky,
    "water": lambda view: _low(view, True),
    "ground": lambda view: _low(view, False),
    "foliage": _foliage,
    "subject": _subject,
    "background": lambda view: 1 - _subject(view),
    "skin": _skin,
    "clothes": _clothes,
    "lit parts": lambda view: _toned(view, True),
    "shadows": lambda view: _toned(view, False),
}


def find_places(
    lab: Float, names: tuple[str, ...], faces: tuple[Face, ...] = (), ground: Mask | None = None
) -> dict[str, Float]:
    """Soft masks (h, w) 0..1 of places in an OKLab picture (h, w, 3); only those that are there. About 40 ms.

    Parameters
    ----------
    names : of `PLACE_WORDS`, or made by `of_hue`. faces, ground : what is known of the picture.
    """
    height, width = lab.shape[:2]
    scale = min(_SIDE / max(height, width), 1.0)
    size = (max(round(width * scale), 8), max(round(height * scale), 8))
    small = np.ascontiguousarray(cv2.resize(lab, size, interpolation=cv2.INTER_AREA))
    labels = colour_labels(small, palette(small, _COLOURS), 1.2, rounds=3)
    ids, count = parts(labels)
    calm = None
    if ground is not None:
        calm = cv2.resize(ground.astype(np.uint8), size, interpolation=cv2.INTER_NEAREST) > 0
    view = _View(small, ids, count, faces, calm)
    found = {}
    for name in names:
        mask = _hued(view, float(name.removeprefix(_HUE))) if name.startswith(_HUE) else _FINDERS[name](view)
        if float(mask.mean()) < _LEAST:
            continue
        soft = cv2.resize(quick_blur(mask, 1.2), (width, height), interpolation=cv2.INTER_LINEAR)
        found[name] = np.clip(soft, 0, 1).astype(f32)
    return found


def places_in(rgb: Byte, names: tuple[str, ...]) -> frozenset[str]:
    """Which places that words speak of a framed source has. About 40 ms and a look for faces; none for no names."""
    if not names:
        return frozenset()
    lab = bytes_to_lab(rgb)
    return frozenset(find_places(lab, names, find_faces(rgb), flat_ground(lab)))
