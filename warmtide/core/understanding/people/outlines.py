"""A face's features as masks, drawn from its points."""

import cv2
import numpy as np

from ...maths.arrays import AnyArray, Float, f32
from ...maths.blur import blur
from ...model.face import Face
from .features import BROWS, EYES, LIPS, NOSTRILS, OVAL

# Parts of a face that are told apart.
PARTS = ("left eye", "right eye", "brows", "nose", "mouth", "outline")
_SHIFT = 4


def filled(shape: tuple[int, int], rings: list[AnyArray]) -> Float:
    """How far pixels lie within closed lines of points (n, 2) in pixels, (h, w) 0..1, smooth at their edges."""
    plane = np.zeros(shape, np.uint8)
    for ring in rings:
        whole = np.round(np.asarray(ring) * (1 << _SHIFT)).astype(np.int32)
        cv2.fillPoly(plane, [whole], 255, lineType=cv2.LINE_AA, shift=_SHIFT)
    return plane.astype(f32) / f32(255)


def ring_of(lines: tuple[tuple[int, ...], tuple[int, ...]], places: AnyArray, grown: float = 1.0) -> AnyArray:
    """The closed line of two lines of points that share their ends, grown about its middle."""
    ring = np.concatenate([places[list(lines[0])], places[list(lines[1])][::-1]])
    return ring.mean(0) + grown * (ring - ring.mean(0))


def rings_of(places: AnyArray, grown: float = 1.0) -> dict[str, list[AnyArray]]:
    """Closed lines around each feature from a face's places (468, 2)."""
    nose = np.concatenate([places[[168]], places[list(NOSTRILS)][::-1]])
    return {
        "left eye": [ring_of(EYES[0], places, grown)],
        "right eye": [ring_of(EYES[1], places, grown)],
        "brows": [ring_of(brow, places, grown) for brow in BROWS],
        "nose": [nose.mean(0) + grown * (nose - nose.mean(0))],
        "mouth": [ring_of(LIPS, places, grown)],
    }


# Skin between the features is held this much as firmly as they are, so that a look reaches it.
_SKIN = 0.7
_GROWN, _SOFT = 1.5, 0.03


def hold_mask(face: Face, height: int, width: int) -> Float | None:
    """How firmly each place of a face is held, (h, w) 0..1: features wholly, skin less; None for a face without points."""
    if face.points is None:
        return None
    long_side = max(height, width)
    places = face.points.places[:, :2] * long_side
    size = face.width * long_side
    oval = places[list(OVAL)]
    # Wide enough that the outline itself is held.
    skin = filled((height, width), [oval.mean(0) + 1.1 * (oval - oval.mean(0))])
    features = filled((height, width), [ring for rings in rings_of(places, _GROWN).values() for ring in rings])
    return np.maximum(blur(skin, _SOFT * size) * f32(_SKIN), blur(features, _SOFT * size))
