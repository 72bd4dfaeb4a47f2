"""Draw `boathouse.png`: an untextured massing render of a boat-house on its slip."""

import sys

import cv2
import numpy as np

from .quay import finish
from .tracer import BOX, ROOF, Scene, camera, trace

_GREY = (0.62, 0.62, 0.62)
_SKY = np.array([0.80, 0.81, 0.83, 0.50, 0.55, 0.62, 0.9, 0.9, 0.9, 0.0, 0.0, 0.0, 0.0])


def scene() -> Scene:
    s = Scene()
    s.add(BOX, (0, -0.5, 0), (40, 0.5, 40), (0.66, 0.66, 0.66))
    # Two gabled halls with the ridge towards the water, and a lean-to between them and the slip.
    for x, height in ((-2.6, 2.3), (1.9, 2.9)):
        s.add(BOX, (x, height / 2, -1.5), (1.9, height / 2, 3.6), _GREY)
        s.add(ROOF, (x, height + 0.75, -1.5), (2.15, 0.75, 3.9), (0.54, 0.54, 0.54))
        s.add(BOX, (x, 0.95, 2.11), (1.15, 0.95, 0.04), (0.38, 0.38, 0.38))
        for k in range(5):
            s.add(BOX, (x - 0.92 + 0.46 * k, 0.95, 2.17), (0.03, 0.93, 0.03), (0.66, 0.66, 0.66))
        s.add(BOX, (x, height + 0.42, 2.12), (0.34, 0.30, 0.03), (0.30, 0.30, 0.30))
    for k in range(4):
        s.add(BOX, (3.83, 1.75, -4.0 + 1.5 * k), (0.03, 0.42, 0.42), (0.30, 0.30, 0.30))
    s.add(BOX, (5.0, 0.75, -2.6), (1.2, 0.75, 2.0), _GREY)
    s.add(BOX, (5.0, 1.58, -2.6), (1.35, 0.07, 2.15), (0.5, 0.5, 0.5))
    s.add(BOX, (4.9, 0.85, -0.57), (0.5, 0.38, 0.03), (0.30, 0.30, 0.30))
    for x in (-2.6, 1.9):
        for side in (-0.55, 0.55):
            s.add(BOX, (x + side, 0.05, 4.6), (0.09, 0.07, 2.5), (0.5, 0.5, 0.5))
    for k in range(6):
        s.add(BOX, (-5.2, 0.45, -3 + 1.7 * k), (0.08, 0.55, 0.08), (0.5, 0.5, 0.5))
    s.add(BOX, (-5.2, 0.86, 1.2), (0.05, 0.05, 4.3), (0.5, 0.5, 0.5))
    # A sun as a far lantern, for one clear direction of light.
    s.lantern((34, 30, 6), 2.6, (1.0, 0.98, 0.95), 640.0)
    return s


if __name__ == "__main__":
    width, samples = int(sys.argv[2]) if len(sys.argv) > 2 else 960, int(sys.argv[3]) if len(sys.argv) > 3 else 64
    shapes = scene()
    image = np.zeros((round(width / 1.5), width, 3))
    eye = (9.0, 3.6, 11.5)
    trace(np.array(shapes.rows), np.array(shapes.lights), _SKY, -1e9, False, 0.0, np.array(eye),
          camera(eye, (0.3, 1.2, -0.6), 0.48), 13.0, 0.0, image, samples, 3)  # fmt: skip
    cv2.imwrite(sys.argv[1], finish(image * 0.36, grain=0.0)[:, :, ::-1])
