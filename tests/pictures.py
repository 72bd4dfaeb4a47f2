"""Small pictures for tests, drawn here."""

import io

import cv2
import numpy as np
from PIL import Image

from warmtide.core.arrays import Byte


def harbour(height: int = 96, width: int = 144, seed: int = 1) -> Byte:
    """A made-up view: graded sky, water, a hull, houses with windows, some grain."""
    big = np.zeros((height * 4, width * 4, 3), np.float32)
    ys, _ = np.mgrid[0 : 1 : height * 4j, 0 : 1 : width * 4j]
    big[:] = np.stack([0.55 + 0.35 * ys, 0.60 + 0.2 * ys, 0.75 - 0.15 * ys], -1)
    random = np.random.default_rng(seed)
    h, w = big.shape[:2]
    x = 0
    while x < w:
        wide = int(w * random.uniform(0.10, 0.18))
        top = int(h * random.uniform(0.22, 0.45))
        colour = random.uniform(0.2, 0.8, 3)
        cv2.rectangle(big, (x, top), (x + wide, int(h * 0.66)), colour.tolist(), -1)
        for k in range(3):
            left = x + wide * (2 * k + 1) // 8
            cv2.rectangle(big, (left, top + h // 16), (left + wide // 10, top + h // 9), (0.95, 0.85, 0.5), -1)
        x += wide + 4
    big[int(h * 0.66) :] *= np.array([0.35, 0.5, 0.55])
    cv2.ellipse(big, (int(w * 0.4), int(h * 0.76)), (w // 6, h // 14), 0, 0, 180, (0.7, 0.15, 0.1), -1)
    cv2.line(big, (int(w * 0.4), int(h * 0.76)), (int(w * 0.4), int(h * 0.2)), (0.15, 0.1, 0.08), 6)
    small = cv2.resize(big, (width, height), interpolation=cv2.INTER_AREA)
    small += random.normal(0, 0.015, small.shape)
    return (np.clip(small, 0, 1) * 255).astype(np.uint8)


def disc_on_ground(height: int = 96, width: int = 96) -> Byte:
    """A two-coloured disc on a calm ground."""
    picture = np.full((height, width, 3), (238, 232, 220), np.uint8)
    cv2.circle(picture, (width // 2, height // 2), height // 4, (30, 90, 110), -1, cv2.LINE_AA)
    cv2.circle(picture, (width // 2, height // 2), height // 9, (230, 150, 40), -1, cv2.LINE_AA)
    return picture


def as_file(picture: Byte, kind: str = "PNG", **options: object) -> bytes:
    """The bytes of a picture file."""
    out = io.BytesIO()
    Image.fromarray(picture).save(out, kind, **options)
    return out.getvalue()
