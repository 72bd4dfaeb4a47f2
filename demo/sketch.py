"""Draw `sketch.png`: a pencil sketch of a fishing boat, with a wobbling hand, hatching and paper."""

import sys

import cv2
import numpy as np

_SIZE = (900, 1200)


class Hand:
    """Strokes of graphite on a sheet; the same seed draws the same sheet."""

    def __init__(self, seed: int) -> None:
        self.random = np.random.default_rng(seed)
        self.graphite = np.zeros(_SIZE, np.float32)

    def stroke(self, points: "np.ndarray", width: float = 1.6, pressure: float = 0.8, wobble: float = 1.6) -> None:  # type: ignore[type-arg]
        """A line through points, resampled, shaken, pressed harder in its middle."""
        points = np.asarray(points, float)
        lengths = np.r_[0, np.cumsum(np.hypot(*np.diff(points, axis=0).T))]
        count = max(8, int(lengths[-1] / 4))
        at = np.linspace(0, lengths[-1], count)
        path = np.stack([np.interp(at, lengths, points[:, k]) for k in (0, 1)], 1)
        shake = self.random.standard_normal((count, 2))
        shake = cv2.GaussianBlur(shake, (1, 31), 0.01, sigmaY=7) * 4.2
        path += shake * wobble
        force = pressure * (0.55 + 0.45 * np.sin(np.linspace(0.25, np.pi - 0.25, count)))
        for k in range(count - 1):
            layer = (int(path[k, 0] * 16), int(path[k, 1] * 16)), (int(path[k + 1, 0] * 16), int(path[k + 1, 1] * 16))
            thick = max(1, round(width * (0.7 + 0.5 * force[k])))
            canvas = self._patch(layer)
            cv2.line(canvas[0], canvas[1], canvas[2], float(force[k]), thick, cv2.LINE_AA, 4)
            region = self.graphite[canvas[3]]
            np.maximum(region, canvas[0], out=region)

    def _patch(self, ends):  # type: ignore[no-untyped-def]
        xs, ys = [e[0] // 16 for e in ends], [e[1] // 16 for e in ends]
        x0, x1 = max(min(xs) - 6, 0), min(max(xs) + 7, _SIZE[1])
        y0, y1 = max(min(ys) - 6, 0), min(max(ys) + 7, _SIZE[0])
        shape = (max(y1 - y0, 1), max(x1 - x0, 1))
        moved = [(e[0] - x0 * 16, e[1] - y0 * 16) for e in ends]
        return np.zeros(shape, np.float32), moved[0], moved[1], (slice(y0, y0 + shape[0]), slice(x0, x0 + shape[1]))

    def twice(self, points: "np.ndarray", width: float = 1.8, pressure: float = 0.85) -> None:  # type: ignore[type-arg]
        """A searching line: drawn lightly, then again."""
        self.stroke(points, width, pressure * 0.55, 2.4)
        self.stroke(points, width, pressure, 1.2)

    def hatch(self, corners, spacing: float, pressure: float, angle: float = -0.9) -> None:  # type: ignore[no-untyped-def]
        """Parallel strokes within a polygon."""
        polygon = np.array(corners, np.int32)
        mask = cv2.fillPoly(np.zeros(_SIZE, np.uint8), [polygon], 1)
        direction = np.array([np.cos(angle), np.sin(angle)])
        normal = np.array([-direction[1], direction[0]])
        middle = polygon.mean(0)
        for offset in np.arange(-500, 500, spacing):
            line = (
                middle
                + normal * (offset + self.random.normal(0, spacing * 0.2))
                + np.linspace(-600, 600, 400)[:, None] * direction
            )
            inside = [(0 <= x < _SIZE[1] and 0 <= y < _SIZE[0] and mask[int(y), int(x)] > 0) for x, y in line]
            runs = np.flatnonzero(np.diff(np.r_[0, inside, 0]))
            for first, last in zip(runs[::2], runs[1::2], strict=True):
                if last - first > 3:
                    self.stroke(line[[first, last - 1]], 1.1, pressure * self.random.uniform(0.7, 1.1), 0.7)


def curve(*points: tuple[float, float]) -> "np.ndarray":  # type: ignore[type-arg]
    """A smooth line through points (Catmull-Rom)."""
    p = np.array([points[0], *points, points[-1]], float)
    out = []
    for k in range(1, len(p) - 2):
        for t in np.linspace(0, 1, 24, endpoint=False):
            a, b, c, d = p[k - 1 : k + 3]
            out.append(
                0.5 * (2 * b + (c - a) * t + (2 * a - 5 * b + 4 * c - d) * t**2 + (3 * b - a - 3 * c + d) * t**3)
            )
    return np.array([*out, p[-2]])


def draw() -> "np.ndarray[tuple[int, ...], np.dtype[np.uint8]]":
    """The sheet as 8 bit grey-white paper, (900, 1200, 3)."""
    h = Hand(12)
    sheer = curve((210, 470), (380, 540), (600, 565), (820, 540), (1010, 440))
    keel = curve((240, 560), (300, 640), (480, 690), (700, 690), (880, 640), (985, 520))
    h.twice(sheer, 2.2, 0.95)
    h.twice(keel, 2.2, 0.95)
    h.twice(curve((210, 470), (218, 515), (240, 560)), 2.2)
    h.twice(curve((1010, 440), (1005, 480), (985, 520)), 2.2)
    h.stroke(curve((222, 500), (390, 572), (600, 597), (815, 572), (1002, 474)), 1.4, 0.6)
    h.stroke(curve((232, 535), (400, 615), (610, 640), (830, 612), (992, 502)), 1.3, 0.5)
    cabin = [(395, 545), (395, 385), (610, 378), (612, 566)]
    h.twice(np.array([*cabin]), 2.0)
    h.twice(np.array([(372, 388), (380, 362), (630, 352), (640, 376), (372, 388)]), 2.0)
    for x in (418, 482, 546):
        h.twice(np.array([(x, 410), (x + 46, 408), (x + 46, 462), (x, 464), (x, 410)]), 1.6)
    h.twice(np.array([(455, 352), (455, 300), (490, 298), (490, 350)]), 1.8)
    h.twice(np.array([(720, 556), (716, 120)]), 2.4)
    h.twice(np.array([(716, 500), (905, 330)]), 2.0)
    for ends in (
        ((716, 128), (1006, 440)),
        ((716, 128), (905, 330)),
        ((716, 128), (222, 472)),
        ((716, 128), (600, 565)),
    ):
        h.stroke(np.array(ends), 1.2, 0.55, 1.0)
    h.twice(curve((716, 180), (760, 200), (800, 178), (716, 150)), 1.4, 0.6)
    h.twice(curve((880, 352), (866, 372), (880, 396), (894, 372), (880, 352)), 1.8)
    h.stroke(np.array([(880, 330), (880, 352)]), 1.4)
    for k in range(6):
        x = 660 + 52 * k
        h.stroke(np.array([(x, 560 - 3 * k - k * k), (x, 526 - 3 * k - k * k)]), 1.4, 0.6)
    h.stroke(curve((650, 528), (760, 520), (880, 496), (960, 462)), 1.4, 0.6)
    h.hatch(
        [(235, 552), (400, 625), (610, 650), (830, 622), (986, 520), (880, 640), (700, 688), (480, 688), (300, 640)],
        7,
        0.55,
    )
    h.hatch([(560, 380), (610, 378), (612, 562), (560, 556)], 6, 0.5, -1.2)
    h.hatch([(418, 410), (464, 408), (464, 462), (418, 464)], 6, 0.5)
    for k in range(11):
        y = 668 + 15 * k
        x = 120 + 60 * ((k * 37) % 11)
        h.stroke(curve((x, y), (x + 70, y - 5), (x + 150, y + 4), (x + 230, y)), 1.4, 0.45, 1.5)
    h.hatch([(330, 700), (880, 700), (820, 780), (400, 790)], 13, 0.35, 0.02)
    h.stroke(np.array([(60, 400), (205, 400)]), 1.1, 0.35)
    h.stroke(curve((1020, 395), (1080, 372), (1150, 360)), 1.1, 0.35)
    h.stroke(curve((60, 398), (110, 380), (170, 388), (205, 400)), 1.1, 0.35)

    random = np.random.default_rng(3)
    tooth = cv2.GaussianBlur(random.standard_normal(_SIZE), (0, 0), 0.9)
    tooth /= tooth.std()
    dark = h.graphite * np.clip(0.88 + 0.30 * tooth, 0.1, 1.2)
    smudge = cv2.GaussianBlur(h.graphite, (0, 0), 6) * 0.06
    ys, xs = np.mgrid[-1 : 1 : _SIZE[0] * 1j, -1 : 1 : _SIZE[1] * 1j]
    sheet = 0.955 + 0.006 * tooth - 0.03 * (xs * 0.6 + ys * 0.5) * 0.5
    light = sheet - (0.72 * dark + smudge)
    colour = light[..., None] * np.array([1.0, 0.992, 0.968])
    return (np.clip(colour, 0, 1) * 255 + 0.5).astype(np.uint8)


if __name__ == "__main__":
    cv2.imwrite(sys.argv[1], draw()[:, :, ::-1])
