"""Draw `quay.jpg`: Lantern Quay at dusk on the evening of the winter lantern walk."""

import sys

import cv2
import numpy as np

from .tracer import BOX, BRICK, COBBLE, ELLIPSOID, EMITTER, PLANKS, ROOF, Scene, camera, trace

_WALLS = ((0.62, 0.55, 0.45), (0.50, 0.20, 0.15), (0.30, 0.40, 0.45), (0.70, 0.66, 0.58), (0.58, 0.38, 0.20))
_WARM = (1.0, 0.55, 0.18)


def _house(scene: Scene, x: float, width: float, height: float, z: float, colour, lit) -> None:  # type: ignore[no-untyped-def]
    depth = 2.4
    brick = BRICK if colour[0] > colour[2] * 1.6 else 0
    scene.add(BOX, (x, 0.6 + height / 2, z), (width / 2, height / 2, depth), colour, brick)
    scene.add(ROOF, (x, 0.6 + height + 0.8, z), (width / 2 + 0.15, 0.8, depth + 0.2), (0.16, 0.13, 0.13), PLANKS)
    scene.add(BOX, (x + width * 0.28, 0.6 + height + 1.3, z + 0.5), (0.18, 0.6, 0.18), (0.35, 0.17, 0.12), BRICK)
    front = z + depth
    for row in range(max(1, int(height / 1.35))):
        for column in (-1, 1):
            cx, cy = x + column * width * 0.24, 1.75 + row * 1.3
            on = lit[(row * 2 + (column > 0)) % len(lit)]
            glow = (1.0, 0.62, 0.24) if on else (0.10, 0.13, 0.17)
            scene.add(BOX, (cx, cy, front + 0.02), (0.27, 0.38, 0.03), glow, EMITTER if on else 0, 1.6)
            scene.add(BOX, (cx, cy, front + 0.06), (0.30, 0.02, 0.02), (0.75, 0.72, 0.66))
            scene.add(BOX, (cx, cy, front + 0.06), (0.02, 0.40, 0.02), (0.75, 0.72, 0.66))
            scene.add(BOX, (cx, cy - 0.42, front + 0.08), (0.36, 0.04, 0.10), (0.6, 0.58, 0.54))
    scene.add(BOX, (x, 1.15, front + 0.02), (0.28, 0.55, 0.03), (0.12, 0.20, 0.18), PLANKS)


def _walker(scene: Scene, x: float, z: float, size: float, coat) -> None:  # type: ignore[no-untyped-def]
    scene.add(ELLIPSOID, (x, 0.6 + 0.62 * size, z), (0.24 * size, 0.64 * size, 0.20 * size), coat)
    scene.add(ELLIPSOID, (x, 0.6 + 1.36 * size, z), (0.14 * size, 0.17 * size, 0.14 * size), (0.55, 0.38, 0.30))
    scene.add(ELLIPSOID, (x, 0.6 + 1.46 * size, z - 0.02), (0.16 * size, 0.12 * size, 0.16 * size), (0.35, 0.10, 0.08))
    scene.add(BOX, (x + 0.3 * size, 0.6 + 1.35 * size, z + 0.1), (0.015, 0.55 * size, 0.015), (0.3, 0.2, 0.1))
    scene.lantern((x + 0.3 * size, 0.6 + 1.75 * size, z + 0.25), 0.13 * size, _WARM, 6.0)


def _boat(scene: Scene, x: float, z: float, colour) -> None:  # type: ignore[no-untyped-def]
    scene.add(ELLIPSOID, (x, 0.18, z), (1.7, 0.42, 0.62), colour, PLANKS)
    scene.add(BOX, (x, 0.48, z), (1.28, 0.05, 0.42), (0.42, 0.30, 0.18), PLANKS)
    scene.add(BOX, (x - 0.5, 0.78, z), (0.45, 0.30, 0.32), (0.72, 0.68, 0.60))
    scene.add(BOX, (x - 0.5, 1.10, z), (0.52, 0.04, 0.38), (0.20, 0.30, 0.32))
    scene.add(BOX, (x + 0.45, 1.7, z), (0.035, 1.3, 0.035), (0.35, 0.24, 0.14))
    scene.add(BOX, (x + 0.05, 1.25, z), (0.42, 0.03, 0.03), (0.35, 0.24, 0.14))
    scene.lantern((x + 0.45, 3.08, z), 0.12, _WARM, 7.0)


def scene() -> Scene:
    s = Scene()
    s.add(BOX, (0, 0.0, -6.5), (30, 0.6, 5.0), (0.36, 0.33, 0.30), COBBLE)
    s.add(BOX, (0, 0.66, -1.62), (30, 0.07, 0.14), (0.48, 0.45, 0.41), COBBLE)
    widths, x = (2.6, 2.2, 3.0, 2.4, 2.8, 2.2, 2.6), -9.6
    heights = (2.9, 4.1, 3.2, 4.6, 3.0, 3.7, 2.8)
    for k, (width, height) in enumerate(zip(widths, heights, strict=True)):
        x += width / 2
        lit = [(k * 5 + j * 3) % 4 < 2 for j in range(7)]
        _house(s, x, width, height, -7.6 - 0.25 * (k % 2), _WALLS[k % len(_WALLS)], lit)
        x += width / 2 + 0.06
    # The harbour light on its mole, and hills behind the town.
    s.add(BOX, (12.5, 2.2, -11), (0.55, 2.4, 0.55), (0.75, 0.72, 0.68))
    s.lantern((12.5, 5.0, -11), 0.42, (1.0, 0.75, 0.4), 7.0)
    for hx, hy, hz, size in ((-14, -3, -42, 13), (4, -7, -50, 17), (24, -5, -46, 14)):
        s.add(ELLIPSOID, (hx, hy, hz), (size * 1.6, size, size), (0.10, 0.13, 0.13))
    for k, px in enumerate((-7.2, -3.6, 0.0, 3.6, 7.2)):
        s.add(BOX, (px, 1.55, -2.1), (0.045, 0.95, 0.045), (0.16, 0.17, 0.17))
        s.lantern((px, 2.62, -2.1), 0.17, _WARM, 7.5)
        s.add(ELLIPSOID, (px + 1.6, 0.86, -1.7), (0.15, 0.22, 0.15), (0.13, 0.14, 0.15))
        if k % 2:
            s.add(BOX, (px + 0.9, 0.85, -3.2), (0.34, 0.26, 0.3), (0.42, 0.29, 0.17), PLANKS)
    coats = ((0.14, 0.18, 0.28), (0.40, 0.12, 0.10), (0.20, 0.26, 0.18), (0.34, 0.26, 0.14), (0.16, 0.14, 0.20))
    for k, (wx, size) in enumerate(((-5.4, 1.0), (-4.5, 0.72), (-1.6, 1.05), (1.7, 0.98), (2.5, 0.7), (5.6, 1.0))):
        _walker(s, wx, -3.1 - 0.3 * (k % 3), size, coats[k % len(coats)])
    _boat(s, -3.4, 1.1, (0.10, 0.24, 0.30))
    _boat(s, 3.2, 0.4, (0.46, 0.12, 0.09))
    return s


SKY = np.array([0.30, 0.26, 0.30, 0.045, 0.085, 0.19, 0.24, 0.19, 0.24, 0.50, 0.75, 0.34, 0.12])


def draw(width: int, samples: int) -> "np.ndarray[tuple[int, ...], np.dtype[np.uint8]]":
    """The picture as 8 bit sRGB, with lens fall-off and the grain of a fast film."""
    s = scene()
    height = round(width / 1.5)
    image = np.zeros((height, width, 3))
    eye = (0.6, 2.5, 9.8)
    trace(np.array(s.rows), np.array(s.lights), SKY, 0.0, True, 0.006, np.array(eye),
          camera(eye, (-0.1, 1.75, -3), 0.52), 12.2, 0.05, image, samples, 4)  # fmt: skip
    return finish(image * 1.5, grain=0.012)


def finish(light: "np.ndarray", grain: float) -> "np.ndarray[tuple[int, ...], np.dtype[np.uint8]]":  # type: ignore[type-arg]
    """Bloom, film curve, fall-off, grain, sRGB."""
    light = light.astype(np.float32)
    height, width = light.shape[:2]
    bright = np.maximum(light - 1.0, 0)
    bloom = sum(cv2.GaussianBlur(bright, (0, 0), width * r) for r in (0.004, 0.012, 0.035)) * 0.10
    light = light + bloom
    ys, xs = np.mgrid[-1 : 1 : height * 1j, -1 : 1 : width * 1j]
    light *= (1 - 0.16 * (xs**2 + ys**2))[..., None]
    curve = light * (2.51 * light + 0.03) / (light * (2.43 * light + 0.59) + 0.14)
    srgb = np.where(curve <= 0.0031308, curve * 12.92, 1.055 * np.maximum(curve, 1e-6) ** (1 / 2.4) - 0.055)
    if grain == 0:
        return (np.clip(srgb, 0, 1) * 255 + 0.5).astype(np.uint8)
    # What is left of the tracer's own noise goes, before the film's grain comes.
    clean = cv2.fastNlMeansDenoisingColored((np.clip(srgb, 0, 1) * 255).astype(np.uint8), None, 4, 6, 5, 15)
    srgb = clean.astype(np.float32) / 255
    noise = np.random.default_rng(4).standard_normal((height, width, 3)) * np.array([1, 0.85, 1.15])
    srgb = srgb + grain * cv2.GaussianBlur(noise, (0, 0), 0.7) * 1.6 * (1.1 - srgb)
    return (np.clip(srgb, 0, 1) * 255 + 0.5).astype(np.uint8)


if __name__ == "__main__":
    out = draw(int(sys.argv[2]) if len(sys.argv) > 2 else 1080, int(sys.argv[3]) if len(sys.argv) > 3 else 40)
    cv2.imwrite(sys.argv[1], out[:, :, ::-1], [cv2.IMWRITE_JPEG_QUALITY, 92])
