"""A small path tracer for the demo's pictures: boxes, ellipsoids, gable roofs, water, lanterns, haze.

Analytic intersections, next-event estimation towards spherical lanterns, two to four bounces, thin lens.

Sources
-------
1. J. Kajiya, "The rendering equation", 1986.
2. P. Shirley, C. Wang, K. Zimmerman, "Monte Carlo techniques for direct lighting calculations", 1996.
"""

import math
from dataclasses import dataclass, field

import numpy as np
from numba import njit, prange

BOX, ELLIPSOID, ROOF = 0, 1, 2
DIFFUSE, EMITTER, WATER, COBBLE, BRICK, PLANKS = 0, 1, 2, 3, 4, 5


@dataclass
class Scene:
    """Shapes as rows: kind, centre 3, half size 3, colour 3, material, glow."""

    rows: list[list[float]] = field(default_factory=list)
    lights: list[list[float]] = field(default_factory=list)

    def add(self, kind, centre, half, colour, material=DIFFUSE, glow=0.0):  # type: ignore[no-untyped-def]
        self.rows.append([kind, *centre, *half, *colour, material, glow])

    def lantern(self, centre, radius, colour, glow):  # type: ignore[no-untyped-def]
        self.add(ELLIPSOID, centre, (radius, radius * 1.15, radius), colour, EMITTER, glow)
        self.lights.append([*centre, radius, *[c * glow for c in colour]])


@njit(cache=True)
def _hash(x, y, z):  # type: ignore[no-untyped-def]
    n = (x * 374761393 + y * 668265263 + z * 2147483647) & 0x7FFFFFFF
    n = ((n ^ (n >> 13)) * 1274126177) & 0x7FFFFFFF
    return ((n ^ (n >> 16)) & 0xFFFF) / 65535.0


@njit(cache=True)
def _noise(x, y, seed):  # type: ignore[no-untyped-def]
    i, j = math.floor(x), math.floor(y)
    u, v = x - i, y - j
    u, v = u * u * (3 - 2 * u), v * v * (3 - 2 * v)
    a, b = _hash(int(i), int(j), seed), _hash(int(i) + 1, int(j), seed)
    c, d = _hash(int(i), int(j) + 1, seed), _hash(int(i) + 1, int(j) + 1, seed)
    return (a * (1 - u) + b * u) * (1 - v) + (c * (1 - u) + d * u) * v


@njit(cache=True)
def _fbm(x, y, seed):  # type: ignore[no-untyped-def]
    total, gain = 0.0, 0.5
    for k in range(5):
        total += gain * _noise(x, y, seed + k)
        x, y, gain = x * 2.03, y * 2.03, gain * 0.5
    return total


@njit(cache=True)
def _hit(rows, ox, oy, oz, dx, dy, dz, limit, out):  # type: ignore[no-untyped-def]
    """Nearest shape along a ray; index or -1. `out` takes distance and normal."""
    best, which = limit, -1
    for i in range(rows.shape[0]):
        cx, cy, cz = ox - rows[i, 1], oy - rows[i, 2], oz - rows[i, 3]
        a, b, c = rows[i, 4], rows[i, 5], rows[i, 6]
        if rows[i, 0] == ELLIPSOID:
            px, py, pz, qx, qy, qz = cx / a, cy / b, cz / c, dx / a, dy / b, dz / c
            qq = qx * qx + qy * qy + qz * qz
            pq = px * qx + py * qy + pz * qz
            disc = pq * pq - qq * (px * px + py * py + pz * pz - 1)
            if disc <= 0:
                continue
            root = math.sqrt(disc)
            t = (-pq - root) / qq
            if t < 1e-4:
                t = (-pq + root) / qq
            if 1e-4 < t < best:
                nx, ny, nz = (px + t * qx) / a, (py + t * qy) / b, (pz + t * qz) / c
                length = math.sqrt(nx * nx + ny * ny + nz * nz)
                best, which = t, i
                out[1], out[2], out[3] = nx / length, ny / length, nz / length
            continue
        near, far = -1e9, 1e9
        nnx, nny, nnz, fnx, fny, fnz = 0.0, 0.0, 0.0, 0.0, 0.0, 0.0
        planes = 6 if rows[i, 0] == BOX else 5
        missed = False
        for k in range(planes):
            # Outward normals; a roof is a prism along z with two slopes and a flat underside.
            if planes == 6:
                nx = (1.0 if k == 0 else -1.0) if k < 2 else 0.0
                ny = (1.0 if k == 2 else -1.0) if 2 <= k < 4 else 0.0
                nz = (1.0 if k == 4 else -1.0) if k >= 4 else 0.0
                off = a if k < 2 else (b if k < 4 else c)
            else:
                s = 1 / math.sqrt(a * a + 4 * b * b)
                if k < 2:
                    sign = 1.0 if k == 0 else -1.0
                    nx, ny, nz, off = sign * 2 * b * s, a * s, 0.0, a * b * s
                elif k == 2:
                    nx, ny, nz, off = 0.0, -1.0, 0.0, b
                else:
                    nx, ny, nz, off = 0.0, 0.0, (1.0 if k == 3 else -1.0), c
            denom = nx * dx + ny * dy + nz * dz
            dist = off - (nx * cx + ny * cy + nz * cz)
            if abs(denom) < 1e-9:
                if dist < 0:
                    missed = True
                    break
                continue
            t = dist / denom
            if denom < 0:
                if t > near:
                    near, nnx, nny, nnz = t, nx, ny, nz
            elif t < far:
                far, fnx, fny, fnz = t, nx, ny, nz
            if near > far:
                missed = True
                break
        if missed or far < 1e-4:
            continue
        t = near
        if near < 1e-4:
            t, nnx, nny, nnz = far, fnx, fny, fnz
        if 1e-4 < t < best:
            best, which = t, i
            out[1], out[2], out[3] = nnx, nny, nnz
    out[0] = best
    return which


@njit(cache=True)
def _sky(dx, dy, dz, sky, out):  # type: ignore[no-untyped-def]
    """Gradient from horizon to zenith with lit clouds. sky: horizon 3, zenith 3, cloud 3, cover, glow 3."""
    up = max(dy, 0.0) ** 0.55
    for k in range(3):
        out[k] = sky[k] * (1 - up) + sky[3 + k] * up
    warm = math.exp(-max(dy, 0.0) * 9) * math.exp(-((dx + 0.45) ** 2) * 3.0)
    for k in range(3):
        out[k] += sky[10 + k] * warm
    if dy > 0.02 and sky[9] > 0:
        cover = _fbm(dx / dy * 0.9 + 7, dz / dy * 0.35, 11)
        m = min(max((cover - (1 - sky[9])) * 4, 0.0), 1.0) * min(dy * 7, 1.0)
        for k in range(3):
            out[k] += (sky[6 + k] * (0.7 + 0.5 * cover) - out[k]) * m * 0.75


@njit(cache=True)
def _texture(material, x, y, z, nx, ny, nz, colour):  # type: ignore[no-untyped-def]
    """Scale a base colour by the pattern of its material."""
    u, v = (x, z) if abs(ny) > 0.7 else ((z, y) if abs(nx) > 0.7 else (x, y))
    shade = 0.85 + 0.3 * _fbm(u * 3, v * 3, 5)
    if material == COBBLE:
        row = math.floor(v * 5.0)
        cell = u * 5.0 + 0.5 * (row % 2)
        fu, fv = cell - math.floor(cell), v * 5.0 - row
        edge = min(min(fu, 1 - fu), min(fv, 1 - fv))
        shade *= (0.45 + 0.55 * min(edge * 6, 1.0)) * (0.7 + 0.6 * _hash(math.floor(cell), int(row), 3))
    elif material == BRICK and abs(ny) < 0.7:
        row = math.floor(v * 7.0)
        cell = u * 3.2 + 0.5 * (row % 2)
        fu, fv = cell - math.floor(cell), v * 7.0 - row
        joint = fu < 0.05 or fv < 0.12
        shade *= 1.25 if joint else 0.75 + 0.5 * _hash(math.floor(cell), int(row), 9)
    elif material == PLANKS:
        board = math.floor((v if abs(ny) < 0.7 else u) * 4.5)
        f = (v if abs(ny) < 0.7 else u) * 4.5 - board
        shade *= (0.35 if f < 0.06 else 1.0) * (0.75 + 0.5 * _hash(int(board), 4, 7))
    for k in range(3):
        colour[k] *= shade


@njit(cache=True)
def _radiance(rows, lights, sky, water, textured, haze, o, d, bounces, out):  # type: ignore[no-untyped-def]
    ox, oy, oz, dx, dy, dz = o[0], o[1], o[2], d[0], d[1], d[2]
    through = np.ones(3)
    hit = np.empty(4)
    colour = np.empty(3)
    out[:] = 0.0
    seen_lights = True
    travelled = 0.0
    for bounce in range(bounces + 1):
        limit = 1e9
        on_water = False
        if water > -1e8 and dy < -1e-6 and oy > water:
            limit = (water - oy) / dy
            on_water = True
        i = _hit(rows, ox, oy, oz, dx, dy, dz, limit, hit)
        t = hit[0]
        if i < 0 and not on_water:
            _sky(dx, dy, dz, sky, colour)
            out += through * colour
            return
        if bounce == 0 or not seen_lights or travelled < 1e6:
            travelled += t
        # Haze takes the colour of the horizon.
        clear = math.exp(-t * haze)
        for k in range(3):
            out[k] += through[k] * (1 - clear) * (sky[k] * 0.9)
            through[k] *= clear
        px, py, pz = ox + t * dx, oy + t * dy, oz + t * dz
        if i < 0:
            # Ripples shorten with distance, so that they never alias.
            amp = 0.05 / (1 + 0.03 * t)
            e = 0.02
            h = _fbm(px * 1.3, pz * 2.6, 21)
            nx = -(_fbm((px + e) * 1.3, pz * 2.6, 21) - h) / e * amp
            nz = -(_fbm(px * 1.3, (pz + e) * 2.6, 21) - h) / e * amp
            ny = 1.0
            length = math.sqrt(nx * nx + 1 + nz * nz)
            nx, ny, nz = nx / length, ny / length, nz / length
            cosine = max(-(dx * nx + dy * ny + dz * nz), 0.02)
            fresnel = 0.03 + 0.97 * (1 - cosine) ** 5
            deep = np.array([0.006, 0.016, 0.022])
            for k in range(3):
                out[k] += through[k] * (1 - fresnel) * deep[k] * 1.6
                through[k] *= fresnel
            dot = dx * nx + dy * ny + dz * nz
            dx, dy, dz = dx - 2 * dot * nx, abs(dy - 2 * dot * ny), dz - 2 * dot * nz
            ox, oy, oz = px, water + 1e-3, pz
            seen_lights = True
            continue
        material = int(rows[i, 10])
        if material == EMITTER:
            if seen_lights:
                for k in range(3):
                    out[k] += through[k] * rows[i, 7 + k] * rows[i, 11]
            return
        nx, ny, nz = hit[1], hit[2], hit[3]
        if nx * dx + ny * dy + nz * dz > 0:
            nx, ny, nz = -nx, -ny, -nz
        for k in range(3):
            colour[k] = rows[i, 7 + k]
        if textured:
            _texture(material, px, py, pz, nx, ny, nz, colour)
        through *= colour
        ox, oy, oz = px + nx * 1e-3, py + ny * 1e-3, pz + nz * 1e-3
        for k in range(lights.shape[0]):
            # A point on the lantern, at random.
            while True:
                rx, ry, rz = np.random.random() * 2 - 1, np.random.random() * 2 - 1, np.random.random() * 2 - 1
                if rx * rx + ry * ry + rz * rz <= 1:
                    break
            r = lights[k, 3]
            lx, ly, lz = lights[k, 0] + rx * r - ox, lights[k, 1] + ry * r - oy, lights[k, 2] + rz * r - oz
            dist2 = lx * lx + ly * ly + lz * lz
            dist = math.sqrt(dist2)
            lx, ly, lz = lx / dist, ly / dist, lz / dist
            facing = nx * lx + ny * ly + nz * lz
            if facing <= 0 or dist < r:
                continue
            power = facing * r * r / dist2
            if power * lights[k, 4] < 2e-4:
                continue
            j = _hit(rows, ox, oy, oz, lx, ly, lz, dist - 1.6 * r, hit)
            if j < 0:
                for c in range(3):
                    out[c] += through[c] * lights[k, 4 + c] * power
        seen_lights = False
        if bounce > 1:
            keep = max(through[0], through[1], through[2])
            if np.random.random() > keep:
                return
            through /= max(keep, 1e-3)
        u, phi = np.random.random(), 2 * math.pi * np.random.random()
        radius, height = math.sqrt(u), math.sqrt(1 - u)
        ax = 0.0 if abs(nx) > 0.9 else 1.0
        tx, ty, tz = 0.0 * nz - (1 - ax) * nz * 0 + (ny * 0), 0.0, 0.0
        if ax == 1.0:
            tx, ty, tz = 0.0, nz, -ny
        else:
            tx, ty, tz = -nz, 0.0, nx
        length = math.sqrt(tx * tx + ty * ty + tz * tz)
        tx, ty, tz = tx / length, ty / length, tz / length
        bx, by, bz = ny * tz - nz * ty, nz * tx - nx * tz, nx * ty - ny * tx
        cp, sp = radius * math.cos(phi), radius * math.sin(phi)
        dx = tx * cp + bx * sp + nx * height
        dy = ty * cp + by * sp + ny * height
        dz = tz * cp + bz * sp + nz * height


@njit(cache=True, parallel=True)
def trace(rows, lights, sky, water, textured, haze, eye, frame, focus, aperture, image, samples, bounces):  # type: ignore[no-untyped-def]
    """Fill `image` (h, w, 3) with linear light. frame: right, up, forward with the half width in right."""
    h, w = image.shape[:2]
    for y in prange(h):
        np.random.seed(y * 7919 + 13)
        o, d, got = np.empty(3), np.empty(3), np.empty(3)
        for x in range(w):
            total = np.zeros(3)
            for _ in range(samples):
                u = (x + np.random.random()) / w * 2 - 1
                v = (1 - (y + np.random.random()) / h * 2) * h / w
                angle, r = 2 * math.pi * np.random.random(), aperture * math.sqrt(np.random.random())
                a, b = r * math.cos(angle), r * math.sin(angle)
                length = 0.0
                size = math.sqrt(frame[0, 0] ** 2 + frame[0, 1] ** 2 + frame[0, 2] ** 2)
                for k in range(3):
                    o[k] = eye[k] + a * frame[0, k] / size + b * frame[1, k] / size
                    target = eye[k] + focus * (frame[2, k] + u * frame[0, k] + v * frame[1, k])
                    d[k] = target - o[k]
                    length += d[k] * d[k]
                d /= math.sqrt(length)
                _radiance(rows, lights, sky, water, textured, haze, o, d, bounces, got)
                for k in range(3):
                    total[k] += min(got[k], 6.0)
            for k in range(3):
                image[y, x, k] = total[k] / samples


def camera(eye, target, half_width):  # type: ignore[no-untyped-def]
    """Right (scaled), up (scaled), forward for `trace`."""
    forward = np.array(target, float) - np.array(eye, float)
    forward /= np.linalg.norm(forward)
    right = np.cross(forward, [0.0, 1.0, 0.0])
    right /= np.linalg.norm(right)
    up = np.cross(right, forward)
    return np.array([right * half_width, up * half_width, forward])
