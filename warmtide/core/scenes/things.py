"""Things that words bring into a region: trees, shrubs, grass, rocks, sand, water, walkers, birds, boats, lamps.

Each stands where the artist marked it or painted it roughly, as tall as the mark, in the light, sharpness and grain of the
picture around.
"""

from collections.abc import Callable
from dataclasses import dataclass

import cv2
import numpy as np

from ..maths.arrays import AnyArray, Byte, Float, Mask, f32
from ..maths.blur import blur
from ..maths.noise import fractal, lattice, part, rng, soft_texture
from .figures import boat_sprite, flock, walker
from .foliage import LEAVES, tree
from .rough import Mark, marks_in
from .view import encoded, linear, paint
from .wanted import Thing

# From which share of a region's height on a ground lies under what stands there.
_GROUND_FROM = 0.72


@dataclass(frozen=True)
class Surroundings:
    """The light of a picture: sun, its colour, what comes from the sky; linear."""

    sun: AnyArray
    colour: AnyArray
    ambient: AnyArray


def surroundings(picture: Float, region: Byte) -> Surroundings:
    """Guess the light of a picture (h, w, 3), linear: the brighter side is where it comes from."""
    height, width = picture.shape[:2]
    outside = region == 0
    grey = np.where(outside, picture.mean(-1), np.nan)
    upper = grey[: max(height * 2 // 3, 1)]
    left, right = (
        float(np.nanmean(half)) if np.isfinite(half).any() else 0.5
        for half in (upper[:, : width // 2], upper[:, width // 2 :])
    )
    side = 1.0 if right >= left else -1.0
    pixels = picture[outside] if outside.any() else picture.reshape(-1, 3)
    bright = float(np.percentile(pixels.mean(-1), 70))
    sky = (
        picture[: max(height // 6, 1)][outside[: max(height // 6, 1)]]
        if outside[: max(height // 6, 1)].any()
        else pixels
    )
    tint = sky.mean(0) / max(float(sky.mean()), 1e-4)
    sun = np.array([side * 0.6, 0.7, -0.4])
    return Surroundings(
        sun / np.linalg.norm(sun), np.array([1.0, 0.95, 0.86]) * bright * 4.5, (0.5 + 0.5 * tint) * bright * 1.1
    )


def _put(picture: Float, colours: AnyArray, cover: AnyArray, left: int, top: int) -> None:
    height, width = picture.shape[:2]
    rows = slice(max(top, 0), min(top + cover.shape[0], height))
    columns = slice(max(left, 0), min(left + cover.shape[1], width))
    if rows.stop <= rows.start or columns.stop <= columns.start:
        return
    inner = slice(rows.start - top, rows.stop - top), slice(columns.start - left, columns.stop - left)
    share = cover[inner][..., None]
    picture[rows, columns] = picture[rows, columns] * (1 - share) + colours[inner] * share


Box = tuple[int, int, int, int]


def _tree(kind: str, picture: Float, box: Box, light: Surroundings, random: np.random.Generator) -> None:
    x, y, wide, tall = box
    slim = 0.42 if kind == "conifer" else 1.5 if kind == "bush" else 0.9
    count = max(1, round(wide / (tall * slim)))
    for q in sorted(range(count), key=lambda _: random.random()):
        middle = x + (q + 0.5) * wide / count + (random.normal(0, 0.08 * wide / count) if count > 1 else 0)
        high = max(int(tall * random.uniform(0.88, 1.0)), 6)
        sprite = tree(kind, part(random), light.sun, high)[0]
        cover = sprite[..., 0]
        shaded, bright = (paint(code) * random.uniform(0.85, 1.2) for code in LEAVES[kind])
        safe = np.maximum(cover, 1e-3)
        t = np.clip(0.5 + 0.5 * sprite[..., 3] / safe, 0, 1)[..., None]
        wood = (sprite[..., 4] / safe)[..., None]
        own = (shaded * (1 - t) + bright * t) * (1 - wood) + paint("2c231b") * wood
        lit = own * (
            light.colour * (sprite[..., 1] / safe)[..., None] + light.ambient * (sprite[..., 2] / safe)[..., None]
        )
        foot = y + tall
        _contact(picture, middle, foot, high * 0.22, light)
        _put(picture, lit, np.clip(cover, 0, 1), int(middle - cover.shape[1] / 2), foot - high)


def _contact(picture: Float, x: float, foot: float, half: float, light: Surroundings) -> None:
    """A soft dark patch where something stands, drawn out away from the sun."""
    height, width = picture.shape[:2]
    shade = np.zeros((height, width), f32)
    at = int(x - light.sun[0] * half * 0.8), int(foot - 1)
    cv2.ellipse(shade, at, (max(int(half * 1.5), 1), max(int(half * 0.22), 1)), 0, 0, 360, 1.0, -1, cv2.LINE_AA)
    picture *= 1 - 0.55 * blur(shade, max(half * 0.12, 0.7))[..., None]


def _rocks(picture: Float, box: Box, light: Surroundings, random: np.random.Generator) -> None:
    x, y, wide, tall = box
    count = max(1, round(wide / (tall * 1.3)))
    for q in sorted(range(count), key=lambda _: random.random()):
        high = max(int(tall * random.uniform(0.65, 1.0)), 5)
        broad = max(int(high * random.uniform(1.2, 1.7)), 6)
        yy, xx = np.mgrid[0:high, 0:broad].astype(f32)
        u, v = (xx + 0.5) / broad * 2 - 1, 1 - (yy + 0.5) / high
        rough = fractal(high, broad, high * 0.8, random, 5, 0.55)
        angle = np.arctan2(v, u)
        edge = 1 + 0.16 * np.interp(angle, np.linspace(-0.1, 3.3, 9), random.normal(0, 1, 9))
        inside = edge - np.hypot(u / 0.96, v / 0.94)
        cover = np.clip(inside * high * 0.5 + 0.5, 0, 1)
        relief = np.sqrt(np.clip(inside, 0, 1)) * high * 0.5 + rough * high * 0.05
        gx, gy = np.gradient(relief, axis=1), np.gradient(relief, axis=0)
        norm = 1 / np.sqrt(1 + gx * gx + gy * gy)
        facing = np.clip((-gx * light.sun[0] + gy * light.sun[1] + 0.35) * norm, 0, 1.2)
        stone = paint(("8d867a", "77736c", "9a8c78")[int(random.integers(3))]) * (1 + 0.14 * rough)[..., None]
        lit = stone * (light.colour * (0.75 * facing)[..., None] + light.ambient * (0.35 + 0.5 * v)[..., None])
        middle = x + (q + 0.5) * wide / count
        _contact(picture, middle, y + tall, broad * 0.4, light)
        _put(picture, lit, cover, int(middle - broad / 2), y + tall - high)


def _water(picture: Float, mask: AnyArray, light: Surroundings, random: np.random.Generator) -> None:
    """A level surface that mirrors what lies above its upper edge."""
    height, width = mask.shape
    rows = np.arange(height)
    top = np.where(mask.any(0), mask.argmax(0), height)
    line = int(np.median(top[top < height]))
    drift = int(random.integers(512))
    ripple = soft_texture()[np.ix_((rows * 9 + drift) % 512, np.arange(width) * 3 % 512)]
    depth = np.clip((rows - line) / max(height - line, 1), 0, 1)[:, None]
    source_y = np.clip(2 * line - rows[:, None] + ripple * (2 + 10 * depth), 0, height - 1)
    source_x = np.clip(np.arange(width)[None] + ripple * (1 + 3 * depth), 0, width - 1)
    mirror = cv2.remap(picture, source_x.astype(f32), source_y.astype(f32), cv2.INTER_LINEAR)
    mirror = cv2.blur(mirror, (3, 5))
    deep = paint("12343c") * (light.ambient.mean() + 0.2 * light.colour.mean())
    shown = mirror * (0.82 - 0.3 * depth)[..., None] + deep * (0.18 + 0.3 * depth)[..., None]
    share = blur(mask.astype(f32), 1.2)[..., None]
    picture[:] = picture * (1 - share) + shown * share


def _people(picture: Float, box: Box, light: Surroundings, random: np.random.Generator) -> None:
    x, y, wide, tall = box
    for q in range(max(1, round(wide / (tall * 0.6)))):
        sprite = walker(max(tall, 8), random, False)
        middle = x + (q + 0.5) * wide / max(1, round(wide / (tall * 0.6)))
        across = np.linspace(-1, 1, sprite.shape[1])[None, :, None]
        shade = np.clip(0.55 + 0.4 * across * np.sign(light.sun[0]), 0.1, 1)
        own = sprite[..., :3] / np.maximum(sprite[..., 3:], 1e-3)
        _contact(picture, middle, y + tall, tall * 0.12, light)
        lit = own * (light.colour * 0.28 * shade + light.ambient * 0.6)
        _put(picture, lit, sprite[..., 3], int(middle - sprite.shape[1] / 2), y + tall - sprite.shape[0])


def _boats(picture: Float, box: Box, light: Surroundings, random: np.random.Generator) -> None:
    x, y, wide, tall = box
    count = max(1, round(wide / (tall * 0.9)))
    for q in range(count):
        sprite = boat_sprite(tall / 1.12, random, light.ambient * 0.8, light.colour * 0.25)
        line = int(sprite.shape[0] * 0.80)
        left = int(x + (q + 0.5) * wide / count - sprite.shape[1] / 2)
        own = sprite[..., :3] / np.maximum(sprite[..., 3:], 1e-3)
        _put(picture, own[:line], sprite[:line, :, 3], left, y + tall - line)


def _birds(picture: Float, box: Box, _: Surroundings, random: np.random.Generator) -> None:
    x, y, wide, tall = box
    cover = flock(picture.shape[:2], (x + wide / 2, y + tall / 2), (wide * 0.22, tall * 0.22), wide * 0.05, random)
    picture[:] = picture * (1 - cover[..., None]) + cover[..., None] * picture.mean((0, 1)) * 0.12


def _oval(plane: Float, x: float, y: float, wide: float, high: float, first: int = 0) -> None:
    """An oval, or from `first` degrees on a part of it, drawn into a plane."""
    axes = max(round(wide), 1), max(round(high), 1)
    cv2.ellipse(plane, (round(x), round(y)), axes, 0, first, 360, 1.0, -1, cv2.LINE_AA)


def _lamps(picture: Float, box: Box, light: Surroundings, random: np.random.Generator) -> None:
    """Posts with a lantern whose light lies on what is around."""
    x, y, wide, tall = box
    count = max(1, round(wide / (tall * 0.9)))
    height, width = picture.shape[:2]
    for q in range(count):
        middle, foot = x + (q + 0.5) * wide / count, y + tall
        _contact(picture, middle, foot, tall * 0.05, light)
        iron, glass, glow = (np.zeros((height, width), f32) for _ in range(3))
        across = max(tall * 0.03, 1.0)
        top = (round(middle), round(foot - tall * 0.86))
        cv2.line(iron, (round(middle), foot), top, 1.0, max(round(across * 0.8), 1), cv2.LINE_AA)
        _oval(iron, middle, foot, across * 1.4, across * 0.6)
        _oval(iron, top[0], top[1] - tall * 0.11, across * 1.6, across * 0.7, first=180)
        _oval(glass, top[0], top[1] - tall * 0.05, across * 1.3, tall * 0.055)
        cv2.circle(glow, (top[0], top[1] - round(tall * 0.05)), max(round(tall * 0.2), 2), 1.0, -1)
        picture *= 1 - iron[..., None] * (1 - 0.06)
        picture += blur(glow, tall * 0.14)[..., None] * paint("ffb860") * 0.22
        picture[:] = picture * (1 - glass[..., None]) + glass[..., None] * paint("ffdf9e") * 1.1


_BLADES = ("4f6d35", "6d8a42", "8aa552", "5b7a38")


def _grass(picture: Float, mask: Mask, light: Surroundings, random: np.random.Generator) -> None:
    """Blades over the whole mark, longer towards its lower edge, where they are nearer."""
    ys, xs = np.nonzero(mask)
    top, tall = int(ys.min()), int(np.ptp(ys)) + 1
    ground = paint("46592f") * (light.colour * 0.1 + light.ambient * 0.35)
    share = blur(mask.astype(f32), 1.0)[..., None]
    picture[:] = picture * (1 - 0.85 * share) + 0.85 * share * ground
    count = int(np.clip(len(ys) / 9, 40, 9000))
    order = np.sort(random.integers(0, len(ys), count))
    laid = picture.copy()
    for k in order:
        near = (ys[k] - top) / tall
        long = (0.03 + 0.09 * near) * tall * random.uniform(0.6, 1.3)
        bend = random.normal(0, 0.3) * long
        tint = paint(_BLADES[int(random.integers(len(_BLADES)))]) * (
            light.colour * random.uniform(0.1, 0.3) + light.ambient * 0.5
        )
        ends = (int(xs[k]), int(ys[k])), (int(xs[k] + bend), int(ys[k] - long))
        cv2.line(laid, *ends, tint.tolist(), 1, cv2.LINE_AA)
    picture[:] = picture + (laid - picture) * blur(cv2.dilate(mask.astype(f32), np.ones((3, 3))), 0.7)[..., None]


def _sand(picture: Float, mask: Mask, light: Surroundings, random: np.random.Generator) -> None:
    """Dry sand with ripples that lie closer far away."""
    height, width = mask.shape
    rows = np.nonzero(mask.any(1))[0]
    near = np.clip((np.arange(height) - rows[0]) / max(np.ptp(rows), 1), 0, 1)[:, None]
    rough = fractal(height, width, 0.12 * width, random, 5, 0.55)
    ripple = np.sin((np.log1p(near * 9) * 26 + rough * 1.6 + np.arange(width)[None] / width * 3) * 2.2) * (
        0.35 + 0.65 * near
    )
    tone = 1 + 0.06 * rough + 0.05 * ripple + 0.02 * random.normal(0, 1, mask.shape)
    lit = paint("cfb78a") * (light.colour * 0.22 + light.ambient * 0.6) * tone[..., None]
    share = blur(mask.astype(f32), 1.2)[..., None]
    picture[:] = picture * (1 - share) + lit * share


_DRAWN: dict[str, Callable[[Float, Box, Surroundings, np.random.Generator], None]] = {
    "rocks": _rocks, "people": _people, "boats": _boats, "birds": _birds, "lamps": _lamps,
}  # fmt: skip
# What covers its whole mark instead of standing on its lower edge.
_GROUNDS: dict[str, Callable[[Float, Mask, Surroundings, np.random.Generator], None]] = {
    "water": _water, "grass": _grass, "sand": _sand,
}  # fmt: skip


def _sharpness(picture: Float, where: AnyArray) -> float:
    """Finest against coarser detail, where it counts; a soft picture has little of the finest."""
    grey = picture.mean(-1)
    fine = np.abs(grey - blur(grey, 0.8))
    coarse = np.abs(blur(grey, 0.8) - blur(grey, 2.2))
    strong = where & (coarse > np.percentile(coarse[where], 70)) if where.any() else where
    return float(fine[strong].mean() / max(float(coarse[strong].mean()), 1e-5)) if strong.any() else 1.0


def _grain(picture: Float, where: AnyArray) -> float:
    """Standard deviation of a picture's grain (J. Immerkaer, "Fast noise variance estimation", 1996), by the median."""
    kernel = np.array([[1, -2, 1], [-2, 4, -2], [1, -2, 1]], f32) / 6
    seen = np.abs(cv2.filter2D(picture.mean(-1), -1, kernel))[where]
    return float(np.median(seen) / 0.6745) if seen.size else 0.0


def bring_in(source: Float, region: Byte, things: tuple[Thing, ...], seed: int, onto: Float | None = None) -> Float:
    """Bring things into a region of a picture.

    Parameters
    ----------
    source : (h, w, 3) sRGB 0..1. region : (h, w) uint8, 255 where something may change: a mark for each thing, or
        for a row of them; where rough colour was painted in it, that is the mark, and goes. things : see `wanted.things_in`;
        grounds take the region, the others the marks in turn, largest first. onto : a picture of the same size that they
        are drawn into, in its light, where the source says only where.

    Returns
    -------
    (h, w, 3) sRGB; outside the region the source itself, or `onto`. About .2 s at 512 px.
    """
    random = rng(seed, 61, 7)
    standing = [thing for thing in things if thing.name not in _GROUNDS]
    marks, cleared = marks_in(source, region) if standing else ([], source)
    whole = source if onto is None else onto
    picture = linear(cleared if onto is None else onto)
    light = surroundings(picture, region)
    marked = region > 127
    for thing in things:
        if thing.name in _GROUNDS and marked.any():
            _GROUNDS[thing.name](picture, marked & _below(region, marked, bool(standing)), light, random)
    by_size = sorted(range(len(marks)), key=lambda k: -marks[k].area)
    thing_of = {k: standing[i % len(standing)] for i, k in enumerate(by_size)}
    # Far things first: what stands lower in the picture stands before.
    for k in sorted(thing_of, key=lambda k: marks[k].top + marks[k].tall):
        for box in boxes_of(thing_of[k], marks[k], len(marks), random):
            _stand(thing_of[k].name, picture, box, light, random)
    return _settled(whole, region, encoded(picture), random)


def without_marks(source: Float, region: Byte, things: tuple[Thing, ...]) -> Float:
    """A source without the rough colour that says where things stand."""
    return marks_in(source, region)[1] if any(thing.name not in _GROUNDS for thing in things) else source


def _below(region: Byte, marked: Mask, standing: bool) -> Mask:
    """Where a ground lies: all of the region, or its lower part where something stands on it."""
    if not standing:
        return marked
    rows = np.nonzero(marked.any(1))[0]
    return np.broadcast_to(np.arange(region.shape[0])[:, None] > rows[0] + _GROUND_FROM * np.ptp(rows), marked.shape)


def boxes_of(thing: Thing, mark: Mark, marks: int, random: np.random.Generator) -> list[Box]:
    """Where each of a thing stands in a mark: as many as words say, else as the mark's shape has it."""
    tall = max(round(mark.tall * thing.height), 6)
    top = mark.top + mark.tall - tall
    if thing.count is None or marks > 1:
        return [(mark.left, top, mark.wide, tall)]
    each = mark.wide / thing.count
    out = []
    for k in range(thing.count):
        own = max(round(tall * random.uniform(0.85, 1.0)), 6)
        # As wide as one of its kind: a box that is wider would hold two.
        wide = max(min(round(each), round(own * 0.6)), 4)
        middle = mark.left + (k + 0.5) * each + (random.normal(0, 0.06 * each) if thing.count > 1 else 0)
        out.append((round(middle - wide / 2), mark.top + mark.tall - own, wide, own))
    return out


def _stand(name: str, picture: Float, box: Box, light: Surroundings, random: np.random.Generator) -> None:
    if name in LEAVES:
        _tree(name, picture, box, light, random)
    else:
        _DRAWN[name](picture, box, light, random)


def _settled(source: Float, region: Byte, out: Float, random: np.random.Generator) -> Float:
    """What was drawn, as sharp and as grainy as the picture around it, in the region alone."""
    inside, outside = region > 127, region <= 127
    wanted = _sharpness(source, outside)
    for sigma in (0.0, 0.5, 0.7, 0.9, 1.2, 1.6):
        softer = blur(out, sigma)
        if _sharpness(softer, inside) <= wanted * 1.05:
            break
    height, width = region.shape
    grain = _grain(source, outside) - _grain(softer, inside)
    softer = softer + max(grain, 0.0) * lattice(int(random.integers(1 << 62)), height, width)[..., None]
    share = blur(region.astype(f32) / 255, 0.8)[..., None] * (region > 0)[..., None]
    return np.clip(source + (softer - source) * share, 0, 1).astype(f32)
