"""A town of boxes on a grid: which one a ray meets, and what its front looks like.

Buildings are not stored: height, setbacks, material and windows of a block follow from its place in the grid.

Sources
-------
1. J. Amanatides, A. Woo, "A fast voxel traversal algorithm for ray tracing", 1987.
"""

import math
from typing import NamedTuple

from ..maths.jit import kernel
from ..maths.sampling import chance, tiled


class Blocks(NamedTuple):
    """Blocks `block` m wide with `gap` between them, columns x0..x1, rows z0..z1; `street` : column 0 is one.

    row, column, reach, most, least : where the town's middle is, how far it reaches in blocks, its tallest and least
    height in m.
    """

    block: float
    gap: float
    x0: int
    x1: int
    z0: int
    z1: int
    seed: int
    street: bool
    row: float
    column: float
    reach: float
    most: float
    least: float


# Parts of a building.
BODY, SETBACK, ROOF, MAST = range(4)
# Axes of a face that is met.
_X, _Y, _Z = range(3)


@kernel
def _tall(i, j, grid):  # type: ignore[no-untyped-def]
    """Height of a block: the middle of the town stands tallest."""
    d = math.sqrt((i - grid.column) ** 2 + ((j - grid.row) * 0.8) ** 2) / grid.reach
    own = grid.least * (0.6 + 0.9 * chance(i, j, grid.seed))
    return own + grid.most * math.exp(-d * d) * (0.25 + 0.75 * chance(i, j, grid.seed + 5) ** 1.6)


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


# Long: a walk from block to block whose state is in a dozen numbers.
@kernel
def cast(ox, oy, oz, dx, dy, dz, grid, hit):  # type: ignore[no-untyped-def]
    """Walk a ray through the grid; hit: distance, axis, column, row, part (0 body, 1 setback, 2 roof, 3 mast), height."""
    best = 1e9
    hit[0] = 1e9
    i = int(math.floor(ox / grid.block))
    j = int(math.floor(oz / grid.block))
    t = 0.0
    if j < grid.z0 and dz > 0:
        t = (grid.z0 * grid.block - oz) / dz + 1e-3
        i = int(math.floor((ox + dx * t) / grid.block))
        j = grid.z0
    sx = 1 if dx > 0 else -1
    sz = 1 if dz > 0 else -1
    step_x = abs(grid.block / dx) if abs(dx) > 1e-9 else 1e9
    step_z = abs(grid.block / dz) if abs(dz) > 1e-9 else 1e9
    px = ox + dx * t
    pz = oz + dz * t
    tx = t + ((i + (1 if dx > 0 else 0)) * grid.block - px) / dx if abs(dx) > 1e-9 else 1e9
    tz = t + ((j + (1 if dz > 0 else 0)) * grid.block - pz) / dz if abs(dz) > 1e-9 else 1e9
    for _ in range(130):
        if j >= grid.z1 or (i < grid.x0 and sx < 0) or (i >= grid.x1 and sx > 0):
            break
        if grid.x0 <= i < grid.x1 and grid.z0 <= j < grid.z1 and not (grid.street and i == 0):
            h = _tall(i, j, grid)
            side = grid.gap * 0.5
            if not grid.street:
                side += 0.10 * grid.block * chance(i, j, grid.seed + 9)
            style = chance(i, j, grid.seed + 11)
            body = h * (1.0 if style < 0.4 else 0.45 + 0.4 * chance(i, j, grid.seed + 13))
            for part in range(4):
                low = 0.0
                high = body
                inset = side
                if part == SETBACK:
                    if style < 0.4:
                        continue
                    low = body
                    high = h * 0.92
                    inset = side + grid.block * 0.10
                elif part == ROOF:
                    if style < 0.4:
                        low = h
                        high = h + 3.0 + 3 * chance(i, j, grid.seed + 14)
                        inset = side + grid.block * 0.28
                    else:
                        low = h * 0.92
                        high = h
                        inset = side + grid.block * 0.2
                elif part == MAST:
                    if chance(i, j, grid.seed + 17) < 0.72 or h < 60:
                        continue
                    low = h
                    high = h * 1.22
                    inset = grid.block * 0.485
                inset_z = 0.25 if grid.street and part == BODY else inset
                d, axis = _box(
                    ox, oy, oz, dx, dy, dz, i * grid.block + inset, low, j * grid.block + inset_z, i * grid.block + grid.block - inset, high,
                    j * grid.block + grid.block - inset_z,
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


# Shops reach up to so many metres.
_SHOPS = 4.6


@kernel
def _shop(u, py, which, seed, a, ambient, night, soft, out):  # type: ignore[no-untyped-def]
    """A shop's window and sign, `u` m along the front and `py` m up, over what is in `out`."""
    shop = int(math.floor(u / 7.0))
    su = u / 7.0 - math.floor(u / 7.0)
    open_shop = chance(shop, which, seed + 45)
    tint = _shop_colour(chance(shop, which, seed + 47))
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


# Long: wall, window and what shines behind it share a dozen numbers.
@kernel
def front(px, py, pz, hit, dx, dy, dz, grid, lit, night, foot, soft, out):  # type: ignore[no-untyped-def]
    """Colour of what a ray met: out[0:3] in the light that falls on it, out[3:6] what it sheds itself."""
    axis = int(hit[1])
    i = int(hit[2])
    j = int(hit[3])
    part = int(hit[4])
    kind = chance(i, j, grid.seed + 21)
    a = _stone(kind, chance(i, j, grid.seed + 23))
    glass = kind >= 0.72
    nx = 0.0
    ny = 0.0
    nz = 0.0
    u = px
    if axis == _X:
        nx = -1.0 if dx > 0 else 1.0
        u = pz
    elif axis == _Z:
        nz = -1.0 if dz > 0 else 1.0
    else:
        ny = 1.0 if dy < 0 else -1.0
    for c in range(6):
        out[c] = 0.0
    facing = max(0.0, nx * lit.sun[0] + ny * lit.sun[1] + nz * lit.sun[2])
    grime = 1 + 0.10 * tiled(soft, u * 1.7 + i * 37, py * 0.7)
    if axis == _Y or part == MAST:
        for c in range(3):
            out[c] = a[c] * 0.75 * (lit.colour[c] * facing + lit.ambient[c]) * grime
        return
    floor = 3.4 + 0.8 * chance(i, j, grid.seed + 27)
    wide = 1.6 + 2.4 * chance(i, j, grid.seed + 29) if not glass else 1.5 + 0.8 * chance(i, j, grid.seed + 29)
    v = py / floor
    q = u / wide
    fi = math.floor(v)
    qi = math.floor(q)
    fv = v - fi
    fq = q - qi
    jamb = 0.22 if not glass else 0.05
    sill = 0.28 if not glass else 0.12
    lintel = 0.88 if not glass else 0.96
    if chance(i, j, grid.seed + 31) < 0.2 and not glass:
        jamb = -0.1
    # Windows finer than a pixel become their mean.
    aw = min(foot / wide, 1.0)
    ah = min(foot / floor, 1.0)
    in_x = min(1.0, max(0.0, min(fq - jamb, 1 - jamb - fq) / max(aw, 0.04) + 0.5))
    in_y = min(1.0, max(0.0, min(fv - sill, lintel - fv) / max(ah, 0.03) + 0.5))
    far = min(1.0, max(0.0, (max(aw, ah) - 0.5) * 2.5))
    window = in_x * in_y * (1 - far) + (1 - 2 * max(jamb, 0.0)) * (lintel - sill) * far
    if part == ROOF and not glass:
        window = 0.0
    own = chance(int(qi) * 7 + int(fi) * 131, int(fi) * 3 + i * 17 + j * 29, grid.seed + 33)
    recess = 1 - 0.35 * in_x * (1.0 if lintel - fv < 0.12 else 0.0) * (1 - far) if not glass else 1.0
    for c in range(3):
        wall = a[c] * (lit.colour[c] * facing + lit.ambient[c] * (0.65 + 0.35 * min(py / 30.0, 1.0))) * grime
        pane = lit.ambient[c] * (
            0.25 + 0.385 * chance(int(qi), int(fi) + i * 7, grid.seed + 35) + (0.55 if glass else 0.0)
        )
        pane += 0.05 * lit.colour[c] * facing
        out[c] = wall * (1 - window) + pane * 0.55 * window * recess
    if night > 0:
        on_here = chance(int(fi) * 11 + i, j * 5 + int(qi / 3.0), grid.seed + 37) * 0.5 + own * 0.5
        on = 1.0 if on_here > 0.62 - 0.14 * chance(i, j, grid.seed + 39) else 0.0
        on = on * (1 - far) + far * 0.32
        if on > 0:
            glow = (0.30 + 1.05 * chance(int(qi) * 3, int(fi) * 5 + i, grid.seed + 41) ** 2) * on * window
            glow *= 0.42 if grid.street else 1.05
            glow *= 0.65 + 0.6 * min(max((fv - sill) / (lintel - sill), 0.0), 1.0)
            lamp = _lamp_colour(chance(i, int(fi) + j * 3, grid.seed + 43) * 0.55 + own * 0.45)
            for c in range(3):
                out[3 + c] += glow * lamp[c] * night
    if grid.street and py < _SHOPS:
        _shop(u, py, i * 3 + j, grid.seed, a, lit.ambient, night, soft, out)
