"""Pictures whose kept composition is known: media and recolourings that keep it, and changes that lose it."""

from collections.abc import Callable

import cv2
import numpy as np

from warmtide.core.arrays import Byte, Float
from warmtide.core.engine.noise import smooth_field

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


KEEP: dict[str, Control] = {
    "grey": grey, "inverted": inverted, "posterised": posterised, "blurred": blurred, "hatched": hatched,
    "on paper": on_paper,
}  # fmt: skip
LOSE: dict[str, Control] = {
    "mirrored": mirrored, "upside down": upside_down, "shifted 12 %": shifted(0.12), "bent 16 %": bent(0.16),
    "scrambled": scrambled, "noise": noise, "blank": blank,
}  # fmt: skip
