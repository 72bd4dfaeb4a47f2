"""Faces of a source, found once: where a painter must take finer tools and the seed may not bend.

Networks look where they are installed: one for faces in the picture and its tiles, one for the points of each. Where the
two don't quite agree, a cascade is asked; where none is installed, the cascade alone says.
"""

import math
from dataclasses import replace
from typing import Any

import numpy as np

from ..maths.arrays import AnyArray, Byte, Float, f32
from ..maths.steps import eased
from ..model.face import Face, FacePoints
from ..pictures.framing import Framing, framed_natural, framed_points
from .people.cascade import cascade_faces
from .people.detector import Window, windows
from .people.features import CHIN, EARS, EYES, FOREHEAD, OVAL
from .people.mesh import Mesh, meshed
from .people.outlines import hold_mask

_MOST = 24
# How sure detector and points must be: either clearly, or the detector fairly and the points wholly.
_CLEAR, _POINTS_CLEAR = 0.75, 0.5
_FAIR, _POINTS_FAIR = 0.62, 0.95
# Points that are this sure on less than that are worth asking the cascade about.
_DOUBT = 0.2
_SAME = 0.5
# Faces that lean more than this are coins and hubs.
_MOST_TILT = 70
# The cascade looks at a doubtful face in a crop of this many widths.
_CROP = 3.0
# Degrees from which a face is in profile, whose points are guessed.
_PROFILE = 50
# An oval of a face is this wide in widths between its ears.
_OVAL_WIDTH = 1.12


def find_faces(rgb: Byte) -> tuple[Face, ...]:
    """Faces of a picture (h, w, 3), the largest first, at most twenty-four, with their points. .1 to .3 s at any size.

    Found from about a fortieth of the long side on, tilted by up to about 40 degrees and turned by up to about 60; a face
    in profile, covered or upside down is not. Without the networks only frontal ones of at least a thirteenth.
    """
    seen = windows(rgb)
    if seen is None:
        return cascade_faces(rgb)
    found: list[Face] = []
    for window in seen:
        mesh = meshed(rgb, window)
        if mesh is None or not _believed(rgb, window, mesh):
            continue
        face = face_of(mesh, max(rgb.shape[:2]))
        if all(math.hypot(face.x - o.x, face.y - o.y) > _SAME * max(face.width, o.width) for o in found):
            found.append(face)
    return tuple(sorted(found, key=lambda face: -face.width)[:_MOST])


def _believed(rgb: Byte, window: Window, mesh: Mesh) -> bool:
    across = mesh.points[EYES[1][0][0], :2] - mesh.points[EYES[0][0][0], :2]
    if abs(math.degrees(math.atan2(across[1], across[0]))) > _MOST_TILT:
        return False
    clear = window.sure >= _CLEAR and mesh.sure >= _POINTS_CLEAR
    if clear or (window.sure >= _FAIR and mesh.sure >= _POINTS_FAIR):
        return True
    if mesh.sure < _DOUBT:
        return False
    reach = max(round(_CROP * window.width / 2), 1)
    left, top = max(round(window.x) - reach, 0), max(round(window.y) - reach, 0)
    crop = np.ascontiguousarray(rgb[top : round(window.y) + reach, left : round(window.x) + reach])
    side = max(crop.shape[:2])
    return any(
        math.hypot(face.x * side - window.x + left, face.y * side - window.y + top) < _SAME * window.width
        for face in cascade_faces(crop)
    )


def face_of(mesh: Mesh, long_side: float) -> Face:
    """The face that points lie on, as an oval and its points, in shares of the long side of their picture."""
    points = mesh.points / f32(long_side)
    across = points[EYES[1][0][0], :2] - points[EYES[0][0][0], :2]
    ears = points[EARS[1]] - points[EARS[0]]
    x, y = points[list(OVAL), :2].mean(0)
    width = _OVAL_WIDTH * float(np.hypot(np.hypot(ears[0], ears[1]), ears[2]))
    return Face(
        float(x), float(y), width, math.degrees(math.atan2(across[1], across[0])), FacePoints(points, *_gaze(points))
    )


def _gaze(points: Float) -> tuple[float, float]:
    """Where a face looks, in degrees to the right of the picture and up."""
    ears = points[EARS[1]] - points[EARS[0]]
    tall = points[CHIN] - points[FOREHEAD]
    yaw = math.atan2(ears[2], math.hypot(ears[0], ears[1]))
    pitch = math.atan2(tall[2], math.hypot(tall[0], tall[1]))
    return round(math.degrees(yaw), 1), round(math.degrees(pitch), 1)


def in_profile(points: FacePoints) -> bool:
    """Whether a face is turned so far that its points are guessed: no feature should be drawn or judged by them."""
    return abs(points.yaw) >= _PROFILE


def pointed(rgb: Byte, faces: tuple[Face, ...]) -> tuple[Face, ...]:
    """Faces with the points that a picture (h, w, 3) shows in them; ovals stay as they were marked. 12 ms a face."""
    long_side = max(rgb.shape[:2])
    found = []
    for face in faces:
        window = Window(face.x * long_side, face.y * long_side, face.width * long_side, math.radians(face.angle), 1.0)
        mesh = meshed(rgb, window) if window.width > 8 else None
        near = face_of(mesh, long_side) if mesh is not None and mesh.sure >= _POINTS_CLEAR else None
        same = near is not None and math.hypot(near.x - face.x, near.y - face.y) < _SAME * face.width
        points = near.points if near is not None and same else None
        found.append(Face(face.x, face.y, face.width, face.angle, points))
    return tuple(found)


def face_mask(faces: tuple[Face, ...], height: int, width: int, grown: float = 1.0) -> Float:
    """1 inside the ovals of faces, soft at the rim, (h, w); `grown` enlarges them."""
    ys, xs = np.mgrid[0:height, 0:width].astype(f32)
    mask = np.zeros((height, width), f32)
    long_side = max(height, width)
    for face in faces:
        side = face.width * long_side * grown
        dx, dy = xs - f32(face.x * long_side), ys - f32(face.y * long_side)
        # Turning the picture by `angle` set the face upright, so the face leans the other way.
        lean = math.radians(face.angle)
        u, v = dx * math.cos(lean) + dy * math.sin(lean), dy * math.cos(lean) - dx * math.sin(lean)
        distance = np.hypot(u / (0.50 * side), v / (0.66 * side))
        t = np.clip((1.18 - distance) / 0.36, 0, 1)
        np.maximum(mask, eased(t), out=mask)
    return mask


def face_holds(faces: tuple[Face, ...], height: int, width: int) -> Float:
    """How firmly faces are held, (h, w) 0..1: eyes, brows, nose and mouth wholly, skin less; ovals where points are missing."""
    out = np.zeros((height, width), f32)
    for face in faces:
        own = hold_mask(face, height, width)
        np.maximum(out, face_mask((face,), height, width) if own is None else own, out=out)
    return out


def moved_faces(faces: tuple[Face, ...], long_side: float, points: AnyArray) -> tuple[Face, ...]:
    """Faces of one picture as they lie in another.

    Parameters
    ----------
    long_side : of the picture that they were measured in. points : (2, 3), what makes of its pixels shares of the
    other one's long side, such as `framing.framed_points`. What leaves the other picture stays, outside of it. A face's
    own points go along, except their numbering: mirrored, left is right.
    """
    moved = []
    for face in faces:
        lean = math.radians(face.angle)
        x, y = points @ (face.x * long_side, face.y * long_side, 1.0)
        across, down = points[:, :2] @ (math.sin(lean), -math.cos(lean))
        scale = math.sqrt(abs(float(np.linalg.det(points[:, :2])))) * long_side
        angle = math.degrees(math.atan2(across, -down))
        own = None
        if face.points is not None:
            there = face.points.places * f32(long_side)
            flat = there[:, :2] @ points[:, :2].T + points[:, 2]
            own = replace(face.points, places=np.column_stack([flat, there[:, 2] * scale / long_side]).astype(f32))
        moved.append(Face(float(x), float(y), face.width * scale, round(angle, 3) + 0.0, own))
    return tuple(moved)


def framed_faces(faces: list[Any] | None, height: int, width: int, framing: Framing) -> tuple[Face, ...] | None:
    """Faces marked on an original (height, width) as they lie in it framed, without those that the frame cuts off;
    None where none were marked."""
    if faces is None:
        return None
    marked = tuple(Face(**face) for face in faces)
    tall, wide = framed_natural(height, width, framing)
    bottom, right = tall / max(tall, wide), wide / max(tall, wide)
    moved = moved_faces(marked, max(height, width), framed_points(height, width, framing))
    return tuple(face for face in moved if 0 <= face.x <= right and 0 <= face.y <= bottom)
