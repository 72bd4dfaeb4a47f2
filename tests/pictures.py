"""Small pictures for tests, drawn here."""

import io

import cv2
import numpy as np
from PIL import Image

from warmtide.core.maths.arrays import Byte


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


def keeper(height: int = 240, width: int = 320, turn: float = 0.0, size: float = 1.0, across: float = 0.5) -> Byte:
    """The made-up lamp keeper: a plain frontal face, turned by some degrees, `size` times a fifth of the height."""
    big = np.empty((height * 4, width * 4, 3), np.float32)
    big[:] = (0.55, 0.60, 0.64)
    cx, cy, unit = int(width * 4 * across), int(height * 4 * 0.48), height * 4 * 0.2 * size

    def dab(
        x: float, y: float, wide: float, high: float, colour: tuple[float, ...], soft: float, amount: float = 1
    ) -> None:
        mask = np.zeros(big.shape[:2], np.float32)
        centre, axes = (int(cx + x * unit), int(cy + y * unit)), (max(int(wide * unit), 1), max(int(high * unit), 1))
        cv2.ellipse(mask, centre, axes, 0, 0, 360, 1, -1, cv2.LINE_AA)
        mask = amount * cv2.GaussianBlur(mask, (0, 0), soft * unit)[..., None]
        big[:] = big * (1 - mask) + mask * np.array(colour, np.float32)

    dab(0, 2.5, 1.7, 1.2, (0.15, 0.28, 0.36), 0.06)
    dab(0, 1.15, 0.45, 0.6, (0.62, 0.44, 0.35), 0.06)
    dab(0, -0.2, 1.0, 1.3, (0.25, 0.17, 0.12), 0.06)
    dab(0, 0.05, 0.82, 1.1, (0.83, 0.65, 0.54), 0.08)
    dab(0, -1.05, 0.85, 0.3, (0.25, 0.17, 0.12), 0.08)
    dab(0.62, 0.2, 0.25, 0.8, (0.66, 0.48, 0.39), 0.2, 0.6)
    for side in (-1, 1):
        dab(side * 0.37, -0.20, 0.30, 0.20, (0.48, 0.33, 0.27), 0.10, 0.85)
        dab(side * 0.37, -0.16, 0.17, 0.075, (0.20, 0.14, 0.12), 0.03)
        dab(side * 0.37, -0.42, 0.28, 0.05, (0.28, 0.19, 0.14), 0.04)
        dab(side * 0.42, 0.28, 0.24, 0.20, (0.92, 0.74, 0.64), 0.12, 0.8)
        dab(side * 0.12, 0.42, 0.05, 0.04, (0.30, 0.20, 0.17), 0.02)
    dab(0, 0.05, 0.09, 0.40, (0.92, 0.76, 0.66), 0.05, 0.8)
    dab(0, 0.72, 0.32, 0.05, (0.42, 0.20, 0.19), 0.03)
    dab(0, 0.80, 0.26, 0.07, (0.72, 0.42, 0.38), 0.05)
    dab(0, -0.62, 0.50, 0.22, (0.92, 0.75, 0.64), 0.15, 0.8)
    if turn:
        matrix = cv2.getRotationMatrix2D((cx, cy), turn, 1)
        big = cv2.warpAffine(big, matrix, (width * 4, height * 4), borderMode=cv2.BORDER_REPLICATE)
    small = cv2.resize(big, (width, height), interpolation=cv2.INTER_AREA)
    return (np.clip(small, 0, 1) * 255).astype(np.uint8)


def as_file(picture: Byte, kind: str = "PNG", **options: object) -> bytes:
    """The bytes of a picture file."""
    out = io.BytesIO()
    Image.fromarray(picture).save(out, kind, **options)
    return out.getvalue()


def lettering(height: int = 240, width: int = 360) -> Byte:
    """Lettering and hairlines, black on white."""
    picture = np.full((height * 2, width * 2, 3), 255, np.uint8)
    for row, scale in enumerate((1.2, 2.0, 3.0)):
        cv2.putText(
            picture,
            "Lantern Quay",
            (20, 90 + 140 * row),
            cv2.FONT_HERSHEY_DUPLEX,
            scale,
            (20, 20, 24),
            2 + row,
            cv2.LINE_AA,
        )
    for k in range(6):
        cv2.line(picture, (20 + 110 * k, 470), (110 + 110 * k, 400 - 6 * k), (0, 0, 0), 3, cv2.LINE_AA)
    return np.asarray(cv2.resize(picture, (width, height), interpolation=cv2.INTER_AREA), np.uint8)
