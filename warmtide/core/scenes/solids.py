"""Convex solids: houses, walls, tables and boats as a few planes each, and which of them a ray meets.

Sources
-------
1. T. Kay, J. Kajiya, "Ray tracing complex scenes", 1986 (slabs).
2. E. Haines, "Fast ray-convex polyhedron intersection", Graphics Gems II, 1991.
"""

from dataclasses import dataclass
from typing import NamedTuple

import numpy as np

from ..maths.arrays import AnyArray, Float
from ..maths.jit import kernel

PLAIN, PLASTER, BRICK, BOARDS, SETTS, TILES, PLANKS, PANE, GRAVEL = range(9)
_MOST_PLANES = 8
# Columns of the packed numbers: a window's width, a floor's height, what is shed, which solid it is.
WINDOW, FLOOR, SHINE, WHICH = 3, 4, 5, 6


@dataclass(frozen=True)
class Solid:
    """A convex body.

    Attributes
    ----------
    planes : (k, 4) unit normals that point outward and their distances: inside n . p <= d. low, high : its box.
    material : one of the constants above. tint : linear colour. windows : width of a window's cell and height of a
    floor in metres, both 0 for a wall without windows. shine : what it sheds itself.
    """

    planes: AnyArray
    low: tuple[float, float, float]
    high: tuple[float, float, float]
    material: int
    tint: AnyArray
    windows: tuple[float, float] = (0.0, 0.0)
    shine: float = 0.0


def _axis(k: int, sign: float, d: float) -> list[float]:
    normal = [0.0, 0.0, 0.0]
    normal[k] = sign
    return [*normal, d]


def box(
    x: tuple[float, float], y: tuple[float, float], z: tuple[float, float], material: int, tint: AnyArray,
    windows: tuple[float, float] = (0.0, 0.0), shine: float = 0.0,
) -> Solid:  # fmt: skip
    """An upright box between pairs of coordinates."""
    planes = [
        _axis(k, s, s * side) for k, pair in enumerate((x, y, z)) for s, side in ((-1.0, pair[0]), (1.0, pair[1]))
    ]
    return Solid(np.array(planes), (x[0], y[0], z[0]), (x[1], y[1], z[1]), material, np.asarray(tint), windows, shine)


def gable(
    x: tuple[float, float], y: tuple[float, float], z: tuple[float, float], material: int, tint: AnyArray, along: str = "x",
) -> Solid:  # fmt: skip
    """A pitched roof from the eaves y[0] to the ridge y[1], whose ridge runs along x or z."""
    rise = y[1] - y[0]
    across, other = (z, x) if along == "x" else (x, z)
    half, middle = (across[1] - across[0]) / 2, (across[0] + across[1]) / 2
    norm = float(np.hypot(rise, half))
    planes = [_axis(1, -1.0, -y[0])]
    for s in (-1.0, 1.0):
        normal = [0.0, half / norm, 0.0]
        normal[2 if along == "x" else 0] = s * rise / norm
        at_ridge = [0.0, y[1], 0.0]
        at_ridge[2 if along == "x" else 0] = middle
        planes.append([*normal, float(np.dot(normal, at_ridge))])
    k = 0 if along == "x" else 2
    planes += [_axis(k, -1.0, -other[0]), _axis(k, 1.0, other[1])]
    return Solid(np.array(planes), (x[0], y[0], z[0]), (x[1], y[1], z[1]), material, np.asarray(tint))


def hull(x: float, y: float, z: float, long: float, wide: float, tall: float, along_x: bool, tint: AnyArray) -> Solid:
    """A boat's hull, narrower below and toward its ends; y is its waterline, x and z its middle."""
    half, side = long / 2, wide / 2
    planes: list[list[float]] = [_axis(1, 1.0, y + tall), _axis(1, -1.0, -(y - 0.2))]
    for a, b in ((1.0, 0.0), (-1.0, 0.0), (0.35, 1.0), (0.35, -1.0), (-0.28, 1.0), (-0.28, -1.0)):
        normal = np.array([a, -0.42 if b == 0 else -0.30, b])
        normal /= np.linalg.norm(normal)
        reach = np.array([half * np.sign(a) if b == 0 else half * 0.25 * np.sign(a), y + tall, side * b])
        if not along_x:
            normal, reach = normal[[2, 1, 0]], reach[[2, 1, 0]]
        planes.append([*normal, float(normal @ (reach + np.array([x, 0, z])))])
    size = (half, side) if along_x else (side, half)
    low, high = (x - size[0], y - 0.2, z - size[1]), (x + size[0], y + tall, z + size[1])
    return Solid(np.array(planes), low, high, BOARDS, np.asarray(tint))


class Hulls(NamedTuple):
    """The shapes of solids: planes (n, 8, 4), how many of each, boxes (n, 6). Apart, since every ray carries them."""

    planes: AnyArray
    counts: AnyArray
    boxes: AnyArray


class Packed(NamedTuple):
    """Solids as arrays for the kernels: their shapes, kinds (n,), and numbers (n, 8) whose columns are the tint and the
    constants above."""

    hulls: Hulls
    materials: AnyArray
    numbers: AnyArray


def packed(solids: list[Solid]) -> Packed:
    n = len(solids)
    planes, counts = np.zeros((n, _MOST_PLANES, 4)), np.zeros(n, np.int64)
    boxes, materials, numbers = np.zeros((n, 6)), np.zeros(n, np.int64), np.zeros((n, 8))
    for k, solid in enumerate(solids):
        counts[k] = len(solid.planes)
        planes[k, : counts[k]] = solid.planes
        boxes[k] = (*solid.low, *solid.high)
        materials[k] = solid.material
        numbers[k, :3] = solid.tint
        numbers[k, 3:5] = solid.windows
        numbers[k, 5] = solid.shine
        numbers[k, 6] = k
    return Packed(Hulls(planes, counts, boxes), materials, numbers)


@kernel
def _in_box(ox, oy, oz, dx, dy, dz, box, most):  # type: ignore[no-untyped-def]
    near = 0.0
    far = most
    for k in range(3):
        o = ox if k == 0 else (oy if k == 1 else oz)
        d = dx if k == 0 else (dy if k == 1 else dz)
        if abs(d) < 1e-9:
            if o < box[k] or o > box[3 + k]:
                return False
            continue
        a = (box[k] - o) / d
        b = (box[3 + k] - o) / d
        if a > b:
            a, b = b, a
        near = max(near, a)
        far = min(far, b)
        if near > far:
            return False
    return True


@kernel
def meet(ox, oy, oz, dx, dy, dz, most, hulls, hit):  # type: ignore[no-untyped-def]
    """The nearest solid a ray meets before `most`: hit = (index, plane); returns the distance, 1e9 for none."""
    best = 1e9
    hit[0] = -1
    for n in range(hulls.planes.shape[0]):
        if not _in_box(ox, oy, oz, dx, dy, dz, hulls.boxes[n], min(best, most)):
            continue
        near = -1e30
        far = 1e30
        which = -1
        for p in range(hulls.counts[n]):
            toward = hulls.planes[n, p, 0] * dx + hulls.planes[n, p, 1] * dy + hulls.planes[n, p, 2] * dz
            room = hulls.planes[n, p, 3] - (
                hulls.planes[n, p, 0] * ox + hulls.planes[n, p, 1] * oy + hulls.planes[n, p, 2] * oz
            )
            if abs(toward) < 1e-9:
                if room < 0:
                    near = 1e30
                    break
                continue
            t = room / toward
            if toward < 0:
                if t > near:
                    near = t
                    which = p
            else:
                far = min(far, t)
        if near <= far and 1e-4 < near < best and near < most:
            best = near
            hit[0] = n
            hit[1] = which
    return best


def light_points(corner: AnyArray, along: AnyArray, up: AnyArray, count: int) -> Float:
    """Points spread over a window, (count^2, 3): where its light is taken to come from."""
    steps = (np.arange(count) + 0.5) / count
    points = corner + steps[:, None, None] * along + steps[None, :, None] * up
    return np.ascontiguousarray(points.reshape(-1, 3), dtype=np.float32)
