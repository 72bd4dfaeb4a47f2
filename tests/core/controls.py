"""Pictures whose kept composition is known: media and recolourings that keep it, and changes that lose it."""

from collections.abc import Callable

import cv2
import numpy as np
from scipy.spatial import cKDTree

from warmtide.core.maths.arrays import Byte, Float
from warmtide.core.maths.gaussian import smooth_field

Control = Callable[[Byte], Byte]


def _bytes(picture: Float) -> Byte:
    return np.clip(np.asarray(picture) * 255 + 0.5, 0, 255).astype(np.uint8)


def _unit(picture: Byte) -> Float:
    return picture.astype(np.float32) / 255


def _field(picture: Byte, scale: float, seed: int) -> Float:
    return smooth_field(np.random.default_rng(seed), picture.shape[0], picture.shape[1], scale)


def _moved(picture: Byte, dx: Float, dy: Float) -> Byte:
    height, width = picture.shape[:2]
    xs, ys = np.meshgrid(np.arange(width, dtype=np.float32), np.arange(height, dtype=np.float32))
    moved = (xs + dx).astype(np.float32), (ys + dy).astype(np.float32)
    return cv2.remap(picture, *moved, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REFLECT)


def grey(picture: Byte) -> Byte:
    return cv2.cvtColor(cv2.cvtColor(picture, cv2.COLOR_RGB2GRAY), cv2.COLOR_GRAY2RGB)


def inverted(picture: Byte) -> Byte:
    return 255 - picture


def posterised(picture: Byte) -> Byte:
    return _bytes(np.floor(_unit(picture) * 3.999) / 3)


def blurred(picture: Byte) -> Byte:
    return cv2.GaussianBlur(picture, (0, 0), 2 * max(picture.shape[:2]) / 384)


def hatched(picture: Byte) -> Byte:
    """Parallel dark lines whose strength follows the tone."""
    unit = max(picture.shape[:2]) / 384
    ys, xs = np.mgrid[0 : picture.shape[0], 0 : picture.shape[1]] / unit
    phase = (xs * np.cos(0.7) + ys * np.sin(0.7)) * 2 * np.pi / 5 + 2 * _field(picture, 40 * unit, 0)
    line = (0.5 + 0.5 * np.sin(phase))[..., None]
    tone = _unit(picture)
    return _bytes(tone * (1 - 0.5 * line * (1.1 - tone)))


def on_paper(picture: Byte) -> Byte:
    unit = max(picture.shape[:2]) / 384
    grain = 0.6 * _field(picture, 3 * unit, 1) + 0.6 * _field(picture, 7 * unit, 2)
    return _bytes(_unit(picture) + 0.08 * grain[..., None])


def outlined(picture: Byte) -> Byte:
    """Nothing but thin lines on white."""
    unit = max(picture.shape[:2]) / 384
    light = cv2.cvtColor(_unit(picture), cv2.COLOR_RGB2GRAY)
    lines = cv2.GaussianBlur(light, (0, 0), unit) - cv2.GaussianBlur(light, (0, 0), 1.8 * unit)
    return np.repeat(_bytes(1 - np.clip(np.abs(lines) * 18, 0, 1))[..., None], 3, 2)


def stroked(picture: Byte) -> Byte:
    """Streaks along a smooth direction field, edges a little displaced: brush texture."""
    unit = max(picture.shape[:2]) / 384
    noise, turn = _field(picture, 2.5 * unit, 3), _field(picture, 90 * unit, 4) * 1.5
    height, width = picture.shape[:2]
    xs, ys = np.meshgrid(np.arange(width, dtype=np.float32), np.arange(height, dtype=np.float32))
    total = np.zeros((height, width), np.float32)
    for i in range(-8, 9):
        along = (xs + i * unit * np.cos(turn)).astype(np.float32), (ys + i * unit * np.sin(turn)).astype(np.float32)
        total += cv2.remap(noise, *along, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REFLECT)
    shaken = _moved(picture, 1.2 * unit * _field(picture, 8 * unit, 5), 1.2 * unit * _field(picture, 8 * unit, 6))
    return _bytes(_unit(shaken) + 0.12 * (total / total.std())[..., None])


def tiled(picture: Byte) -> Byte:
    """A mosaic of irregular cells with dark joints."""
    unit = max(picture.shape[:2]) / 384
    height, width = picture.shape[:2]
    cell = 9 * unit
    random = np.random.default_rng(7)
    gy, gx = np.mgrid[cell / 2 : height : cell, cell / 2 : width : cell]
    points = np.stack(
        [gx + random.uniform(-0.35, 0.35, gx.shape) * cell, gy + random.uniform(-0.35, 0.35, gy.shape) * cell], -1
    )
    ys, xs = np.mgrid[:height, :width]
    apart, index = cKDTree(points.reshape(-1, 2)).query(np.stack([xs, ys], -1).reshape(-1, 2), 2)
    nearest, count = index[:, 0], points.shape[0] * points.shape[1]
    size = np.bincount(nearest, minlength=count) + 1e-6
    means = np.stack([np.bincount(nearest, _unit(picture)[..., k].ravel(), count) / size for k in range(3)], -1)
    out = means[nearest].reshape(height, width, 3)
    out[(apart[:, 1] - apart[:, 0]).reshape(height, width) < 1.6 * unit] = 0.15
    return _bytes(cv2.GaussianBlur(out, (0, 0), 0.6 * unit))


def neon_lines(picture: Byte) -> Byte:
    """Glowing edges on a dark ground."""
    unit = max(picture.shape[:2]) / 384
    smooth = cv2.GaussianBlur(_unit(picture), (0, 0), 1.3 * unit)
    rim = np.hypot(cv2.Sobel(smooth, -1, 1, 0), cv2.Sobel(smooth, -1, 0, 1)).sum(-1)
    rim = np.clip(rim / np.percentile(rim, 97), 0, 1)
    glow = cv2.GaussianBlur(rim, (0, 0), 0.8 * unit) + 0.5 * cv2.GaussianBlur(rim, (0, 0), 5 * unit)
    return _bytes(0.08 + np.clip(glow, 0, 1)[..., None] * np.array([0.9, 0.5, 0.95]))


def turned(degrees: float) -> Control:
    """Every hue turned."""

    def apply(picture: Byte) -> Byte:
        hsv = cv2.cvtColor(picture, cv2.COLOR_RGB2HSV)
        hsv[..., 0] = (hsv[..., 0].astype(int) + round(degrees / 2)) % 180
        return cv2.cvtColor(hsv, cv2.COLOR_HSV2RGB)

    return apply


def wiped(picture: Byte, x: int, y: int, side: int) -> Byte:
    """What stood in a square is replaced by its smooth surroundings."""
    mask = np.zeros(picture.shape[:2], np.uint8)
    mask[y : y + side, x : x + side] = 255
    filled = cv2.inpaint(np.ascontiguousarray(picture), mask, 5, cv2.INPAINT_TELEA)
    return cv2.GaussianBlur(filled, (0, 0), side / 8) * (mask > 0)[..., None] + picture * (mask == 0)[..., None]


def melted(picture: Byte, x: float, y: float, width: float) -> Byte:
    """A face (shares of the long side) whose masses stay and whose features run."""
    side = max(picture.shape[:2])
    left, top, wide = int((x - 0.5 * width) * side), int((y - 0.6 * width) * side), int(width * side)
    rows, columns = slice(max(top, 0), top + int(1.2 * wide)), slice(max(left, 0), left + wide)
    out = picture.copy()
    face = np.ascontiguousarray(out[rows, columns])
    soft = cv2.GaussianBlur(face, (0, 0), wide * 0.12)
    run = _moved(soft, wide * 0.06 * _field(soft, wide * 0.4, 8), wide * 0.06 * _field(soft, wide * 0.4, 9))
    ys, xs = np.mgrid[-1 : 1 : run.shape[0] * 1j, -1 : 1 : run.shape[1] * 1j]
    share = np.clip(3 * (1.2 - np.hypot(xs, ys)), 0, 1)[..., None]
    out[rows, columns] = (face + share * (run.astype(float) - face)).astype(np.uint8)
    return out


def mirrored(picture: Byte) -> Byte:
    return np.ascontiguousarray(picture[:, ::-1])


def upside_down(picture: Byte) -> Byte:
    return np.ascontiguousarray(picture[::-1])


def shifted(share: float) -> Control:
    return lambda picture: _moved(picture, np.float32(share * max(picture.shape[:2])), np.float32(0))


def bent(share: float, seed: int = 0) -> Control:
    """A smooth warp of that mean displacement, as a share of the long side."""

    def apply(picture: Byte) -> Byte:
        reach = 0.3 * min(picture.shape[:2])
        amount = share * max(picture.shape[:2]) / 2**0.5
        return _moved(picture, amount * _field(picture, reach, seed), amount * _field(picture, reach, seed + 1))

    return apply


def scrambled(picture: Byte) -> Byte:
    """The same spectrum with random phases."""
    turn = np.angle(np.fft.fft2(np.random.default_rng(0).standard_normal(picture.shape[:2])))
    planes = []
    for k in range(3):
        spectrum = np.fft.fft2(_unit(picture)[..., k])
        planes.append(np.real(np.fft.ifft2(np.abs(spectrum) * np.exp(1j * (np.angle(spectrum) + turn)))))
    return _bytes(np.stack(planes, -1))


def noise(picture: Byte) -> Byte:
    unit = max(picture.shape[:2]) / 384
    return _bytes(0.5 + 0.2 * np.stack([_field(picture, 8 * unit, k) for k in range(3)], -1))


def blank(picture: Byte) -> Byte:
    return np.full_like(picture, 128)


def badge(seed: int, side: int = 384) -> Byte:
    """A made-up badge on a pale ground: one of four silhouettes, three to six plain figures in it."""
    random = np.random.default_rng(seed)
    large = side * 3
    picture = np.full((large, large, 3), (244, 240, 232), np.uint8)
    middle, reach = large // 2, int(large * 0.42)

    def colour() -> tuple[int, ...]:
        return tuple(int(v) for v in random.integers(20, 235, 3))

    if seed % 4 == 0:
        cv2.circle(picture, (middle, middle), reach, colour(), -1)
    elif seed % 4 == 1:
        angles = np.linspace(0, 2 * np.pi, int(random.integers(5, 9)), endpoint=False) + random.uniform(0, 1)
        points = np.stack([middle + reach * np.cos(angles), middle + reach * np.sin(angles)], 1)
        cv2.fillPoly(picture, [points.astype(np.int32)], colour())
    elif seed % 4 == 2:
        cv2.rectangle(
            picture, (middle - reach, middle - reach * 3 // 4), (middle + reach, middle + reach * 3 // 4), colour(), -1
        )
    else:
        shield = [[-1, -0.9], [1, -0.9], [1, 0.15], [0, 1], [-1, 0.15]]
        cv2.fillPoly(picture, [(middle + reach * np.array(shield)).astype(np.int32)], colour())
    for _ in range(int(random.integers(3, 7))):
        x, y = (int(v) for v in random.integers(int(large * 0.28), int(large * 0.72), 2))
        size, figure = int(random.uniform(0.05, 0.16) * large), random.integers(0, 3)
        if figure == 0:
            cv2.circle(picture, (x, y), size, colour(), -1)
        elif figure == 1:
            cv2.fillPoly(picture, [np.array([[x, y - size], [x + size, y + size], [x - size, y + size]])], colour())
        else:
            cv2.rectangle(picture, (x - size, y - size // 2), (x + size, y + size // 2), colour(), -1)
    return cv2.resize(picture, (side, side), interpolation=cv2.INTER_AREA)


KEEP: dict[str, Control] = {
    "grey": grey, "inverted": inverted, "posterised": posterised, "blurred": blurred, "hatched": hatched,
    "on paper": on_paper, "stroked": stroked, "tiled": tiled, "hue turned": turned(60),
}  # fmt: skip
# Nothing but lines is left: kept, but the eye has to work for it.
LINES: dict[str, Control] = {"outlined": outlined, "neon lines": neon_lines}
LOSE: dict[str, Control] = {
    "mirrored": mirrored, "upside down": upside_down, "shifted 12 %": shifted(0.12), "bent 16 %": bent(0.16),
    "scrambled": scrambled, "noise": noise, "blank": blank,
}  # fmt: skip
