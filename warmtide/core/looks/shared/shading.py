"""Light on a height field: shadows, and what a surface throws back of lamp and surroundings.

Sources
-------
1. B. Walter et al., "Microfacet models for refraction through rough surfaces", 2007 (the lobe of the lamp).
2. C. Schlick, "An inexpensive BRDF model for physically-based rendering", 1994 (Fresnel).
"""

import math
from dataclasses import dataclass

import numpy as np

from ...maths.arrays import AnyArray, Float, f32
from ...maths.jit import kernel
from ...maths.relief import normals, openness

Value = Float | float


@kernel
def bilinear(plane, x, y):  # type: ignore[no-untyped-def]
    """A plane between its points, clamped at its border."""
    h, w = plane.shape
    x = min(max(x, f32(0)), f32(w - 1.001))
    y = min(max(y, f32(0)), f32(h - 1.001))
    i, j = int(x), int(y)
    a, b = x - f32(i), y - f32(j)
    top = plane[j, i] + (plane[j, i + 1] - plane[j, i]) * a
    low = plane[j + 1, i] + (plane[j + 1, i + 1] - plane[j + 1, i]) * a
    return top + (low - top) * b


@kernel
def _shadow(height, sun, soft, reach, most, out):  # type: ignore[no-untyped-def]
    """How much of a soft lamp every point sees, by marching toward it over the heights."""
    h, w = height.shape
    level = math.sqrt(sun[0] * sun[0] + sun[1] * sun[1])
    dx, dy, rise = f32(sun[0] / level), f32(sun[1] / level), f32(sun[2] / level)
    for y in range(h):
        for x in range(w):
            own = height[y, x] + f32(0.4)
            hidden = f32(-1)
            # Starts differ from point to point, so that steps do not show as bands.
            t = f32(1.5) + f32(0.1) * f32((x * 7 + y * 13) % 5)
            while t < reach:
                px, py = f32(x) + dx * t, f32(y) + dy * t
                if px < 0 or py < 0 or px > w - 1 or py > h - 1:
                    break
                ray = own + t * rise
                if ray - t * soft > most:
                    break
                over = (bilinear(height, px, py) - ray) / (t * soft + f32(0.6))
                if over > hidden:
                    hidden = over
                    if hidden > 1:
                        break
                t += f32(1) + t * f32(0.07)
            seen = min(max(f32(0.5) - f32(0.5) * hidden, f32(0)), f32(1))
            out[y, x] = seen * seen * (f32(3) - f32(2) * seen)


@kernel
def _look(room, x, y, z, level, out):  # type: ignore[no-untyped-def]
    """Light from a direction, softened by level."""
    count, h, w, _ = room.shape
    u = (math.atan2(x, z) * f32(0.15915494) + f32(0.5)) * f32(w) - f32(0.5)
    v = (math.asin(min(max(y, f32(-1)), f32(1))) * f32(0.31830989) + f32(0.5)) * f32(h) - f32(0.5)
    v = min(max(v, f32(0)), f32(h - 1.001))
    if u < 0:
        u += f32(w)
    i = int(u)
    a = u - f32(i)
    i0, i1 = i % w, (i + 1) % w
    j = int(v)
    b = v - f32(j)
    level = min(max(level, f32(0)), f32(count - 1.001))
    n = int(level)
    c = level - f32(n)
    for k in range(3):
        near = (room[n, j, i0, k] * (f32(1) - a) + room[n, j, i1, k] * a) * (f32(1) - b)
        near += (room[n, j + 1, i0, k] * (f32(1) - a) + room[n, j + 1, i1, k] * a) * b
        far = (room[n + 1, j, i0, k] * (f32(1) - a) + room[n + 1, j, i1, k] * a) * (f32(1) - b)
        far += (room[n + 1, j + 1, i0, k] * (f32(1) - a) + room[n + 1, j + 1, i1, k] * a) * b
        out[k] = near + (far - near) * c


@kernel
def _shade(nx, ny, nz, albedo, rough, metal, base, coat, lit, open_, room, sun, lamp, ambient, view, out):  # type: ignore[no-untyped-def]  # fmt: skip
    h, w = nx.shape
    around, seen = np.zeros(3, np.float32), np.zeros(3, np.float32)
    for y in range(h):
        for x in range(w):
            a, b, c = nx[y, x], ny[y, x], nz[y, x]
            r, m, s, o = rough[y, x], metal[y, x], lit[y, x], open_[y, x]
            # The eye is near: a flat face mirrors a little more of the room from point to point.
            vx, vy = -(f32(x) / f32(w) - f32(0.5)) * view, -(f32(y) / f32(h) - f32(0.5)) * view
            vz = f32(1) / math.sqrt(vx * vx + vy * vy + f32(1))
            vx, vy = vx * vz, vy * vz
            facing = max(a * vx + b * vy + c * vz, f32(0.02))
            rx, ry, rz = f32(2) * facing * a - vx, f32(2) * facing * b - vy, f32(2) * facing * c - vz
            grazing = (f32(1) - facing) ** 5
            _look(room, a, b, c, f32(4.9), around)
            toward = max(a * sun[0] + b * sun[1] + c * sun[2], f32(0))
            _look(room, rx, ry, rz, r * f32(5), seen)
            hx, hy, hz = sun[0] + vx, sun[1] + vy, sun[2] + vz
            half = max((a * hx + b * hy + c * hz) / math.sqrt(hx * hx + hy * hy + hz * hz), f32(0))
            alpha = max(r * r, f32(0.02))
            alpha = alpha * alpha
            bend = half * half * (alpha - f32(1)) + f32(1)
            lobe = alpha / (f32(3.14159265) * bend * bend + f32(1e-7))
            mirror = min(f32(1), o * o + (f32(1) - r) * f32(0.3)) * (f32(0.45) + f32(0.55) * s)
            above = min(max(f32(1.2) + rz * f32(1.8), f32(0.25)), f32(1))
            for k in range(3):
                colour = albedo[y, x, k]
                f = base[y, x] * (f32(1) - m) + colour * m
                f = f + (f32(1) - f) * grazing * (f32(1) - f32(0.7) * r)
                dull = colour * (f32(1) - m) * (lamp[k] * toward * s + ambient * around[k] * o)
                shine = f * seen[k] * mirror * above
                shine += f * lobe * f32(0.06) * lamp[k] * toward * s * min(f32(1), r * f32(3))
                out[y, x, k] = dull * (f32(1) - f * (f32(1) - m)) + shine
            if coat[y, x] > 0:
                _look(room, rx, ry, rz, f32(0.25), seen)
                f = (f32(0.04) + f32(0.96) * grazing) * coat[y, x]
                for k in range(3):
                    gloss = seen[k] * (f32(0.35) + f32(0.65) * o) * (f32(0.6) + f32(0.4) * s) * above
                    out[y, x, k] = out[y, x, k] * (f32(1) - f) + f * gloss


@dataclass(frozen=True)
class Lamp:
    """What lights a thing: direction to the lamp (x right, y down, z toward the eye), its colour, the surroundings.

    room : see `environment`. ambient : how much the surroundings light what does not shine. soft : width of the
    half shadow over the distance of what throws it.
    """

    sun: AnyArray
    colour: tuple[float, float, float]
    room: Float
    ambient: float = 1.0
    soft: float = 0.16


@dataclass(frozen=True)
class Surface:
    """What light falls on; every plane (h, w) or one number for all.

    Attributes
    ----------
    height : (h, w) in grid points. albedo : (h, w, 3) linear. rough : 0 a mirror, 1 chalk. metal : 0..1.
    base : share that is thrown back head on. coat : 0..1 of clear lacquer over all. normal : of the height when None.
    """

    height: Float
    albedo: Float
    rough: Value
    metal: Value = 0.0
    base: Value = 0.04
    coat: Value = 0.0
    normal: tuple[Float, Float, Float] | None = None


def shadow(height: Float, lamp: Lamp, reach: float) -> Float:
    """How much of the lamp each point of a height field sees, 0..1; `reach` in points. .1 to .3 s at 1 MP."""
    out = np.ones(height.shape, f32)
    _shadow(height, np.asarray(lamp.sun, f32), f32(lamp.soft), f32(reach), f32(height.max()), out)
    return out


def shade(
    surface: Surface, lamp: Lamp, unit: float, shut: float = 1.0, view: float = 0.35,
    lit: Float | None = None, seen: Float | None = None, reach: float = 260.0,
) -> Float:  # fmt: skip
    """Linear light (h, w, 3) that comes from a surface. About .5 s at 1 MP with shadow.

    Parameters
    ----------
    unit : grid points to a thousandth of the picture. shut : how much grooves lose of the surroundings. view : how
    near the eye is. lit, seen : share of lamp and of surroundings, computed when None. reach : of shadows, in units.
    """
    height = np.ascontiguousarray(surface.height, dtype=f32)
    if lit is None:
        lit = shadow(height, lamp, reach * unit)
    if seen is None:
        seen = openness(height, unit, shut)
    normal = surface.normal or normals(height)

    def plane(value: Value) -> Float:
        return np.ascontiguousarray(np.broadcast_to(np.asarray(value, f32), height.shape))

    out = np.empty((*height.shape, 3), f32)
    _shade(
        *normal, np.ascontiguousarray(surface.albedo, dtype=f32), plane(surface.rough), plane(surface.metal),
        plane(surface.base), plane(surface.coat), lit, seen, lamp.room, np.asarray(lamp.sun, f32),
        np.asarray(lamp.colour, f32), f32(lamp.ambient), f32(view), out,
    )  # fmt: skip
    return out
