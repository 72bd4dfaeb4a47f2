"""A face kept: whether eyes, nose and mouth are still where they were, read at the face's own size.

The composition's figure is too kind to a face: its masses stay while its features run.

Sources
-------
1. J. Lewis, "Fast normalized cross-correlation", 1995.
"""

from typing import TYPE_CHECKING

import cv2
import numpy as np

from ..maths.arrays import Byte, Float, f32
from ..maths.colour import bytes_to_lab
from ..model.face import Face
from ..understanding.faces import in_profile
from .face_parts import FaceKept, kept_by_points
from .kind import ReadingKind

if TYPE_CHECKING:
    from .pair import Pair

# A face is read this many pixels wide; features lie between these two blurs.
_WIDE = 72
_FINE, _BROAD = 1.4, 5.5
# How far features may have moved, in pixels of the reading.
_SLACK = 4
# Features with this share of the source's contrast count in full: a wash is paler than a photo.
_CONTRAST = 0.45
# Correlation of two different faces, and one that is as good as any.
_CHANCE, _FULL = 0.25, 0.80
_CHANCE_THERE, _FULL_THERE = 0.45, 0.88


def _box(rgb: Byte, face: Face) -> Float:
    """Lightness of an upright face, `_WIDE` px wide and a fifth taller."""
    side = max(rgb.shape[:2])
    wide, tall = _WIDE + 2 * _SLACK, round(1.2 * _WIDE) + 2 * _SLACK
    scale = face.width * side / _WIDE
    turn = cv2.getRotationMatrix2D((0, 0), -face.angle, scale)
    turn[:, 2] = np.array([face.x, face.y]) * side - turn[:, :2] @ np.array([wide / 2, tall / 2])
    light = np.ascontiguousarray(bytes_to_lab(rgb)[..., 0])
    if scale > 1.5:
        light = cv2.GaussianBlur(light, (0, 0), 0.4 * scale)
    flags = cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP
    return cv2.warpAffine(light, turn, (wide, tall), flags=flags, borderMode=cv2.BORDER_REPLICATE)


def _features(box: Float) -> Float:
    fine = cv2.GaussianBlur(box, (0, 0), _FINE, borderType=cv2.BORDER_REFLECT)
    return (fine - cv2.GaussianBlur(box, (0, 0), _BROAD, borderType=cv2.BORDER_REFLECT)).astype(f32)


def face_kept(source: Byte, take: Byte, face: Face) -> FaceKept:
    """What a take has kept of a face: by its points, and without them (a mark on something else, a profile) as a whole.

    Parameters
    ----------
    source, take : (h, w, 3) uint8 of one shape.
    """
    told = None if face.points is None or in_profile(face.points) else kept_by_points(source, take, face)
    return told or FaceKept(_as_a_whole(source, take, face), {}, 0.0)


def _as_a_whole(source: Byte, take: Byte, face: Face) -> float:
    """How much of a face's features a take has kept, 0..100. About 3 ms."""
    first, second = _features(_box(source, face)), _features(_box(take, face))
    inside = np.s_[_SLACK:-_SLACK, _SLACK:-_SLACK]
    core, oval = np.ascontiguousarray(first[inside]), _oval()
    had, has = _contrast(core, oval), _contrast(second[inside], oval)
    if had < 0.004:
        return 100.0
    if has < 1e-5:
        return 0.0
    # A negative has its features too, and where only lines are left they lie where the features were.
    match = float(np.abs(_matches(second, core, oval)).max())
    there = float(_matches(_marked(second), _marked(core), oval).max())
    kept = max((match - _CHANCE) / (_FULL - _CHANCE), (there - _CHANCE_THERE) / (_FULL_THERE - _CHANCE_THERE))
    seen = min(has / (_CONTRAST * had), 1.0)
    return 100 * float(np.clip(kept, 0, 1)) * seen


def _oval() -> Float:
    """Brows to chin: hair, ears and the rim of the face stay where a face has melted."""
    height, width = round(1.2 * _WIDE), _WIDE
    ys, xs = np.mgrid[0:height, 0:width].astype(f32)
    distance = np.hypot((xs - width / 2) / (0.36 * width), (ys - 0.52 * height) / (0.34 * height))
    return np.clip((1.15 - distance) / 0.3, 0, 1).astype(f32)


def _contrast(features: Float, oval: Float) -> float:
    total = float(oval.sum())
    mean = float((oval * features).sum()) / total
    return float(np.sqrt((oval * (features - mean) ** 2).sum() / total))


def _matches(where: Float, core: Float, oval: Float) -> Float:
    found: Float = cv2.matchTemplate(where, core, cv2.TM_CCOEFF_NORMED, mask=oval)
    return np.nan_to_num(found, nan=0.0, posinf=0.0, neginf=0.0)


def _marked(features: Float) -> Float:
    """Where there is something, whatever its tone."""
    return cv2.GaussianBlur(np.abs(features), (0, 0), 2.0, borderType=cv2.BORDER_REFLECT)


def _least(pair: "Pair") -> dict[str, float]:
    """The parts of the least kept face, for those that have points."""
    told = [kept for kept in pair.faces if kept.parts]
    if not told:
        return {}
    least = min(told, key=lambda kept: kept.whole)
    eyes = [least.parts[name] for name in ("left eye", "right eye") if name in least.parts]
    parts = {name: value for name, value in least.parts.items() if not name.endswith("eye")}
    return ({"eyes": min(eyes)} if eyes else {}) | parts | {"feature shift": least.shift}


READING = ReadingKind(
    "faces",
    "Faces kept",
    "Whether eyes, brows, nose and mouth of the least kept face still look like themselves, and are where they were.",
    of=lambda pair: min(kept.whole for kept in pair.faces) if pair.faces else None,
    parts=_least,
    goes="the face",
    part_names=("eyes", "brows", "nose", "mouth", "feature shift"),
    place=4,
    within=True,
)
