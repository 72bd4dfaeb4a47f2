"""A fixed amount of work to hold times against: machines and days differ, ratios less."""

import time

import cv2
import numpy as np


def reference_seconds() -> float:
    """Seconds for 200 five-level Laplacian pyramids of 512 x 512 x 3 float32, built and collapsed, on one core."""
    cv2.setNumThreads(1)
    picture = np.random.default_rng(0).random((512, 512, 3)).astype(np.float32)
    began = time.perf_counter()
    for _ in range(200):
        bands, current = [], picture
        for _ in range(5):
            down = cv2.pyrDown(current)
            bands.append(current - cv2.pyrUp(down, dstsize=(current.shape[1], current.shape[0])))
            current = down
        for band in bands[::-1]:
            current = band + cv2.pyrUp(current, dstsize=(band.shape[1], band.shape[0]))
    return time.perf_counter() - began
