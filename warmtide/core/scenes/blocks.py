"""A town of boxes on a grid: which one a ray meets, and what its front looks like.

Buildings are not stored: height, setbacks, material and windows of a block follow from its place in the grid.

Sources
-------
1. J. Amanatides, A. Woo, "A fast voxel traversal algorithm for ray tracing", 1987.
"""

import math

from ..maths.jit import kernel
from ..maths.sampling import chance, tiled


@kernel
def _tall(i, j, seed, row, column, reach, most, least):  # type: ignore[no-untyped-def]
    """Height of a block: the middle of the town stands tallest."""
    d = math.sqrt((i - column) ** 2 + ((j - row) * 0.8) ** 2) / reach
    own = least * (0.6 + 0.9 * chance(i, j, seed))
    return own + most * math.exp(-d * d) * (0.25 + 0.75 * chance(i, j, seed + 5) ** 1.6)


@kernel
def _box(ox, oy, oz, dx, dy, dz, ax, ay, az, bx, by, bz):  # type: ignore[no-untyped-def]
    """Distance to a box and the axis of the face met; -1 when it is missed."""
    near = -1e30
    far = 1e30
    axis = -1
    for k in range(3):
        o = ox if k == 0 else (oy if k == 1 else oz)
        d = dx if k == 0 else (dy if k == 1 else dz)
        a = ax if k == 0 else (ay if k == 1 else az)
        b = bx if k == 0 else (by if k == 1 else bz)
        if abs(d) < 1e-9:
            if o < a or o > b:
                return -1.0, 0
            continue
        t0 = (a - o) / d
        t1 = (b - o) / d
        if t0 > t1:
            t0, t1 = t1, t0
        if t0 > near:
            near = t0
            axis = k
        far = min(far, t1)
    if near > far or far <= 0 or near <= 1e-4:
        return -1.0, 0
    return near, axis


@kernel
def cast(ox, oy, oz, dx, dy, dz, block, gap, x0, x1, z0, z1, seed, street, form, hit):  # type: ignore[no-untyped-def]
    """Walk a ray through the grid; hit: distance, axis, column, row, part (0 body, 1 setback, 2 roof, 3 mast), height."""
    best = 1e9
    hit[0] = 1e9
    i = int(math.floor(ox / block))
    j = int(math.floor(oz / block))
    t = 0.0
    if j < z0 and dz > 0:
        t = (z0 * block - oz) / dz + 1e-3
        i = int(math.floor((ox + dx * t) / block))
        j = z0
    sx = 1 if dx > 0 else -1
    sz = 1 if dz > 0 else -1
    step_x = abs(block / dx) if abs(dx) > 1e-9 else 1e9
    step_z = abs(block / dz) if abs(dz) > 1e-9 else 1e9
    px = ox + dx * t
    pz = oz + dz * t
    tx = t + ((i + (1 if dx > 0 else 0)) * block - px) / dx if abs(dx) > 1e-9 else 1e9
    tz = t + ((j + (1 if dz > 0 else 0)) * block - pz) / dz if abs(dz) > 1e-9 else 1e9
    for _ in range(130):
        if j >= z1 or (i < x0 and sx < 0) or (i >= x1 and sx > 0):
            break
        if x0 <= i < x1 and z0 <= j < z1 and not (street and i == 0):
            h = _tall(i, j, seed, form[0], form[1], form[2], form[3], form[4])
            side = gap * 0.5
            if not street:
                side += 0.10 * block * chance(i, j, seed + 9)
            style = chance(i, j, seed + 11)
            body = h * (1.0 if style < 0.4 else 0.45 + 0.4 * chance(i, j, seed + 13))
            for part in range(4):
                low = 0.0
                high = body
                inset = side
                if part == 1:
                    if style < 0.4:
                        continue
                    low = body
                    high = h * 0.92
                    inset = side + block * 0.10
                elif part == 2:
                    if style < 0.4:
                        low = h
                        high = h + 3.0 + 3 * chance(i, j, seed + 14)
                        inset = side + block * 0.28
                    else:
                        low = h * 0.92
                        high = h
                        inset = side + block * 0.2
                elif part == 3:
                    if chance(i, j, seed + 17) < 0.72 or h < 60:
                        continue
                    low = h
                    high = h * 1.22
                    inset = block * 0.485
                inset_z = 0.25 if street and part == 0 else inset
                d, axis = _box(
                    ox, oy, oz, dx, dy, dz, i * block + inset, low, j * block + inset_z, i * block + block - inset, high,
                    j * block + block - inset_z,
                )  # fmt: skip
                if 0 < d < best:
                    best = d
                    hit[0] = d
                    hit[1] = axis
                    hit[2] = i
                    hit[3] = j
                    hit[4] = part
                    hit[5] = h
            if best < min(tx, tz):
                break
        if tx < tz:
            tx += step_x
            i += sx
        else:
            tz += step_z
            j += sz
    return best


@kernel
def _lamp_colour(u):  # type: ignore[no-untyped-def]
    if u < 0.68:
        return 1.0, 0.58, 0.22
    if u < 0.86:
        return 0.92, 0.90, 0.80
    return 0.55, 0.80, 1.0


@kernel
def _shop_colour(u):  # type: ignore[no-untyped-def]
    if u < 0.4:
        return 1.0, 0.72, 0.38
    if u < 0.6:
        return 1.0, 0.92, 0.78
    if u < 0.72:
        return 0.35, 0.85, 1.0
    if u < 0.84:
        return 1.0, 0.28, 0.42
    return 0.5, 1.0, 0.6


@kernel
def _stone(u, tone):  # type: ignore[no-untyped-def]
    k = 0.6 + 0.7 * tone
    if u < 0.25:
        return 0.42 * k, 0.37 * k, 0.30 * k
    if u < 0.5:
        return 0.30 * k, 0.17 * k, 0.12 * k
    if u < 0.72:
        return 0.33 * k, 0.33 * k, 0.34 * k
    return 0.10 * k, 0.13 * k, 0.17 * k


@kernel
def front(px, py, pz, hit, dx, dy, dz, seed, night, sun, colour, ambient, foot, shops, soft, out):  # type: ignore[no-untyped-def]
    """Colour of what a ray met: out[0:3] in the light that falls on it, out[3:6] what it sheds itself."""
    axis = int(hit[1])
    i = int(hit[2])
    j = int(hit[3])
    part = int(hit[4])
    kind = chance(i, j, seed + 21)
    a = _stone(kind, chance(i, j, seed + 23))
    glass = kind >= 0.72
    nx = 0.0
    ny = 0.0
    nz = 0.0
    u = px
    if axis == 0:
        nx = -1.0 if dx > 0 else 1.0
        u = pz
    elif axis == 2:
        nz = -1.0 if dz > 0 else 1.0
    else:
        ny = 1.0 if dy < 0 else -1.0
    for c in range(6):
        out[c] = 0.0
    facing = max(0.0, nx * sun[0] + ny * sun[1] + nz * sun[2])
    grime = 1 + 0.10 * tiled(soft, u * 1.7 + i * 37, py * 0.7)
    if axis == 1 or part == 3:
        for c in range(3):
            out[c] = a[c] * 0.75 * (colour[c] * facing + ambient[c]) * grime
        return
    floor = 3.4 + 0.8 * chance(i, j, seed + 27)
    wide = 1.6 + 2.4 * chance(i, j, seed + 29) if not glass else 1.5 + 0.8 * chance(i, j, seed + 29)
    v = py / floor
    q = u / wide
    fi = math.floor(v)
    qi = math.floor(q)
    fv = v - fi
    fq = q - qi
    jamb = 0.22 if not glass else 0.05
    sill = 0.28 if not glass else 0.12
    lintel = 0.88 if not glass else 0.96
    if chance(i, j, seed + 31) < 0.2 and not glass:
        jamb = -0.1
    # Windows finer than a pixel become their mean.
    aw = min(foot / wide, 1.0)
    ah = min(foot / floor, 1.0)
    in_x = min(1.0, max(0.0, min(fq - jamb, 1 - jamb - fq) / max(aw, 0.04) + 0.5))
    in_y = min(1.0, max(0.0, min(fv - sill, lintel - fv) / max(ah, 0.03) + 0.5))
    far = min(1.0, max(0.0, (max(aw, ah) - 0.5) * 2.5))
    window = in_x * in_y * (1 - far) + (1 - 2 * max(jamb, 0.0)) * (lintel - sill) * far
    if part == 2 and not glass:
        window = 0.0
    own = chance(int(qi) * 7 + int(fi) * 131, int(fi) * 3 + i * 17 + j * 29, seed + 33)
    recess = 1 - 0.35 * in_x * (1.0 if lintel - fv < 0.12 else 0.0) * (1 - far) if not glass else 1.0
    for c in range(3):
        wall = a[c] * (colour[c] * facing + ambient[c] * (0.65 + 0.35 * min(py / 30.0, 1.0))) * grime
        pane = ambient[c] * (0.25 + 0.385 * chance(int(qi), int(fi) + i * 7, seed + 35) + (0.55 if glass else 0.0))
        pane += 0.05 * colour[c] * facing
        out[c] = wall * (1 - window) + pane * 0.55 * window * recess
    if night > 0:
        lit = chance(int(fi) * 11 + i, j * 5 + int(qi / 3.0), seed + 37) * 0.5 + own * 0.5
        on = 1.0 if lit > 0.62 - 0.14 * chance(i, j, seed + 39) else 0.0
        on = on * (1 - far) + far * 0.32
        if on > 0:
            glow = (0.30 + 1.05 * chance(int(qi) * 3, int(fi) * 5 + i, seed + 41) ** 2) * on * window
            glow *= 0.42 if shops else 1.05
            glow *= 0.65 + 0.6 * min(max((fv - sill) / (lintel - sill), 0.0), 1.0)
            lamp = _lamp_colour(chance(i, int(fi) + j * 3, seed + 43) * 0.55 + own * 0.45)
            for c in range(3):
                out[3 + c] += glow * lamp[c] * night
    if shops and py < 4.6:
        shop = int(math.floor(u / 7.0))
        su = u / 7.0 - math.floor(u / 7.0)
        open_shop = chance(shop, i * 3 + j, seed + 45)
        tint = _shop_colour(chance(shop, i * 3 + j, seed + 47))
        inside = 1.0 if 0.06 < su < 0.94 else 0.0
        if 0.5 < py < 3.3 and open_shop > 0.22:
            goods = 0.65 + 0.21 * tiled(soft, u * 30.0, py * 30.0)
            goods += 0.25 * math.sin(su * 37.0) * (1 if py < 1.7 else 0)
            bars = min(abs(su - 0.5) / 0.015, min(abs(su - 0.25), abs(su - 0.75)) / 0.012)
            pane = 1.0 if bars > 1 else 0.15
            for c in range(3):
                out[c] *= 0.4
                out[3 + c] += (
                    inside * max(goods, 0.1) * pane * (0.4 + 0.75 * tint[c]) * 0.8 * night * (0.5 + 0.8 * open_shop)
                )
                if night <= 0:
                    out[c] = ambient[c] * (0.12 + 0.125 * max(goods, 0.0)) + 0.5 * inside * a[c] * ambient[c] * 0.2
        elif 3.3 <= py < 4.3:
            letters = 1.0 if tiled(soft, u * 55.0, 9.0) > 0.1 and 3.55 < py < 4.1 and 0.15 < su < 0.85 else 0.0
            for c in range(3):
                out[c] = out[c] * 0.3 + ambient[c] * tint[c] * 0.25
                shine = 0.10 * tint[c] + letters * tint[c] * 2.4
                out[3 + c] += inside * shine * night * (1.0 if open_shop > 0.3 else 0.1)
