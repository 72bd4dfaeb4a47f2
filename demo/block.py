"""Draw `block.png`: a composition blocked in with a few flat colours, hills over the inlet behind Lantern Quay."""

import sys
from pathlib import Path

import cv2
import numpy as np

WIDTH, HEIGHT = 768, 512


def picture() -> np.ndarray:  # type: ignore[type-arg]
    """(512, 768, 3) uint8: evening sky, a far ridge, a near slope with two trees, water."""
    sky, ridge, slope, tree, water = (238, 196, 150), (112, 122, 140), (92, 124, 66), (38, 66, 34), (96, 132, 150)
    out = np.empty((HEIGHT, WIDTH, 3), np.uint8)
    out[:] = sky
    x = np.arange(WIDTH)
    far = 210 - 92 * np.exp(-(((x - 250) / 120) ** 2)) - 58 * np.exp(-(((x - 520) / 150) ** 2)) + 6 * np.sin(x / 31)
    near = 300 - 100 * np.clip((x - 430) / 338, 0, 1) ** 1.4
    for line, colour in ((far, ridge), (np.maximum(near, 0), slope)):
        for column in range(WIDTH):
            out[int(line[column]) :, column] = colour
    out[300:] = water
    out[300:, 560:] = np.where(
        (np.arange(HEIGHT - 300)[:, None] < (x[560:] - 560)[None] * 0.5)[..., None], slope, water
    )
    for at, size in ((610, 44), (690, 58)):
        cv2.circle(out, (at, int(near[at]) - size // 2), size // 2, tree, -1, cv2.LINE_AA)
    return out


if __name__ == "__main__":
    cv2.imwrite(str(Path(sys.argv[1]) / "block.png"), picture()[..., ::-1])
