"""Where things stand: metres, depths, and how far from a building its ground lies."""

from itertools import pairwise

import numpy as np

from ...maths.arrays import Float, Mask, f32
from ...understanding.building.outlines import ray_of
from ...understanding.building.parts import GROUND
from ...understanding.building.planes import Built, Face
from .surfaces import Place

_STOREY = 3.0
# What stands nearer than this share of the foot of its column is a plane told wrongly.
_NEARER = 0.97
# Shares of a building's points that lie within its plan.
_WITHIN = (2.0, 98.0)


def metres_of(built: Built) -> float:
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


def placed(face: Face, rays: Float, mask: Mask, metres: float) -> Place:
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


def depths(built: Built, rays: Float) -> Float:
    """How far away (h, w) everything that is built lies, in eye heights along the view; infinite elsewhere.

    A face lies in its plane; what has none stands where its column of the picture meets the ground.
    """
    assert built.view is not None
    thing = built.owner >= 0
    height = len(thing)
    feet = np.where(thing.any(0), height - thing[::-1].argmax(0), height)
    contact = built.view.focal / np.maximum(feet - built.view.horizon, 1e-3)
    found = np.where(thing, contact[None], np.inf)
    for k, face in built.faces.items():
        mask = built.owner == k
        if face.kind != "loose" and face.distance < 0 and mask.any():
            own = face.distance / np.minimum(rays[mask] @ face.normal, -2e-3)
            found[mask] = np.maximum(own, _NEARER * np.broadcast_to(contact, thing.shape)[mask])
    return found.astype(f32)


def beside(built: Built, rays: Float, deep: Float, metres: float) -> Float:
    """How far outside the rectangle that a building stands in every place of the ground lies, metres; infinite elsewhere.

    Parameters
    ----------
    rays : (h, w, 3), see `Perspective.rays`. deep : see `depths`.
    """
    assert built.view is not None
    first, second = (built.view.way(k)[[0, 2]] for k in (0, 1))
    faces = [k for k, face in built.faces.items() if face.kind != "loose"]
    known = np.isin(built.owner, faces) & np.isfinite(deep)
    below = (built.owner == GROUND) & (rays[..., 1] < -2e-3)
    out = np.full(below.shape, np.inf, f32)
    if not known.any():
        return out
    far = deep[known]
    seen = np.stack([rays[..., 0][known] * far, far], 1)
    reach = 1 / -rays[..., 1][below]
    lying = np.stack([rays[..., 0][below] * reach, reach], 1)
    sides = []
    for way in (first, second):
        low, high = np.percentile(seen @ way, _WITHIN)
        sides.append(np.abs(lying @ way - (low + high) / 2) - (high - low) / 2)
    out[below] = np.maximum(*sides) * metres
    return out
