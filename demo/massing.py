"""Draw `massing.png`: the net store by the quay, untextured; a small rasteriser, grey, with sun, sky and a shadow.

Metres; x right, y up, z away from the eye, which stands at (0, eye, 0) and looks level, turned by nothing: the
building is turned instead. What is drawn is also told: how faces lie, and where windows are.
"""

import math
import sys
from dataclasses import dataclass, field
from pathlib import Path

import cv2
import numpy as np

from warmtide.core.maths.arrays import Byte, Float, Int
from warmtide.core.pictures.image import png

_FINER = 3
# What hides more of a window than this leaves is no window that can be seen.
_SEEN = 0.6
_SUN = np.array([-0.45, 0.75, -0.48])
_SUN = _SUN / np.linalg.norm(_SUN)


@dataclass(frozen=True)
class Building:
    """wide, deep, tall : of the body. roof : its rise, 0 for flat. turn : degrees. away : to its middle. windows : rows
    and columns on the front, and columns on the side. door : on the front. wing : a lower flat body beside it. lens : its
    focal length in widths of the picture."""

    wide: float = 8.0
    deep: float = 6.0
    tall: float = 4.0
    roof: float = 2.2
    turn: float = 32.0
    away: float = 17.0
    windows: tuple[int, int, int] = (1, 3, 2)
    door: bool = True
    wing: bool = False
    eye: float = 1.7
    lens: float = 1.15


@dataclass
class Render:
    """A render (h, w, 3) and its truth.

    Attributes
    ----------
    faces : (h, w) number of the face that is seen, 0 sky, 1 ground. normals : by face number, x right, y up, z away.
    windows : quads in the picture of those that are not hidden, (4, 2) px. focal : px.
    """

    picture: Byte
    faces: Int
    normals: dict[int, Float]
    windows: list[Float] = field(default_factory=list)
    focal: float = 0.0


def _quad(a: np.ndarray, along: np.ndarray, up: np.ndarray, x0: float, x1: float, y0: float, y1: float) -> np.ndarray:
    return np.array([a + along * x + up * y for x, y in ((x0, y0), (x1, y0), (x1, y1), (x0, y1))])


def _body(wide: float, deep: float, tall: float, roof: float, at: np.ndarray, turn: float) -> list[np.ndarray]:
    """Faces of a body: front, right, back, left, then roofs; the ridge runs along the front."""
    c, s = math.cos(turn), math.sin(turn)

    def place(x: float, y: float, z: float) -> np.ndarray:
        return at + np.array([x * c + z * s, y, -x * s + z * c])

    w, d = wide / 2, deep / 2
    low = [place(x, 0, z) for x, z in ((-w, -d), (w, -d), (w, d), (-w, d))]
    top = [p + np.array([0, tall, 0]) for p in low]
    faces = [np.array([low[i], low[(i + 1) % 4], top[(i + 1) % 4], top[i]]) for i in range(4)]
    if roof <= 0:
        return [*faces, np.array(top)]
    left, right = place(-w, tall + roof, 0), place(w, tall + roof, 0)
    for side, peak in ((1, right), (3, left)):
        a, b, c_, d_ = faces[side]
        faces[side] = np.array([a, b, c_, peak, d_])
    return [*faces, np.array([top[0], top[1], right, left]), np.array([top[2], top[3], left, right])]


def draw(b: Building, height: int = 420, width: int = 640) -> Render:
    """Draw a building."""
    focal = b.lens * width
    horizon = height * (0.56 if b.eye < 4 else 0.30)
    fine_h, fine_w = height * _FINER, width * _FINER
    shade = np.zeros((fine_h, fine_w), np.float32)
    faces = np.zeros((fine_h, fine_w), np.int32)
    depth = np.full((fine_h, fine_w), 1e9)
    ys, xs = np.mgrid[0:fine_h, 0:fine_w]
    rays = np.stack([(xs / _FINER - width / 2) / focal, -(ys / _FINER - horizon) / focal, np.ones(xs.shape)], -1)
    shade[:] = 0.80 - 0.10 * ys / fine_h
    ground = rays[..., 1] < -1e-4
    far = np.where(ground, b.eye / np.maximum(-rays[..., 1], 1e-4), 1e9)
    shade = np.where(ground, 0.56 + 0.06 * np.exp(-far / 30), shade).astype(np.float32)
    faces[ground], depth[ground] = 1, far[ground]
    normals: dict[int, Float] = {1: np.array([0, 1, 0], np.float32)}
    eye = np.array([0, b.eye, 0])

    def project(points: np.ndarray) -> np.ndarray:
        seen = points - eye
        return np.stack([seen[:, 0] / seen[:, 2] * focal + width / 2, horizon - seen[:, 1] / seen[:, 2] * focal], 1)

    panes = np.zeros((fine_h, fine_w), np.int32)

    def fill(points: np.ndarray, grey: float, number: int, lift: float = 0.0, pane: int = 0) -> None:
        normal = np.cross(points[1] - points[0], points[2] - points[0])
        normal = normal / np.linalg.norm(normal)
        mask = np.zeros((fine_h, fine_w), np.uint8)
        cv2.fillPoly(mask, [np.round(project(points) * _FINER).astype(np.int32)], 1)
        along = rays @ normal
        t = (float((points[0] - eye) @ normal) / np.where(np.abs(along) < 1e-9, 1e-9, along)) - lift
        seen = (mask > 0) & (t < depth) & (t > 0.1)
        shade[seen], faces[seen], depth[seen], panes[seen] = grey, number, t[seen], pane

    turn, at = math.radians(b.turn), np.array([0.0, 0, b.away])
    bodies = [(_body(b.wide, b.deep, b.tall, b.roof, at, turn), True)]
    if b.wing:
        side = at + np.array([math.cos(turn), 0, -math.sin(turn)]) * (b.wide / 2 + 2.2)
        bodies.append((_body(4.4, 4, 2.8, 0, side, turn), False))
    for body, _ in bodies:
        points = np.concatenate(body)
        fallen = points - _SUN * (points[:, 1:2] / _SUN[1])
        spot = cv2.convexHull(np.round(project(fallen[fallen[:, 2] > 2]) * _FINER).astype(np.int32))
        mask = np.zeros((fine_h, fine_w), np.uint8)
        cv2.fillConvexPoly(mask, spot, 1)
        shade[(mask > 0) & (faces == 1)] = 0.31
    windows: list[Float] = []
    number = 2
    for body, main in bodies:
        middle = np.concatenate(body).mean(0)
        for k, face in enumerate(body):
            normal = np.cross(face[1] - face[0], face[2] - face[0])
            normal = normal / np.linalg.norm(normal)
            if (face.mean(0) - middle) @ normal < 0:
                normal = -normal
            grey = 0.28 + 0.16 * (normal[1] + 1) / 2 + 0.50 * max(float(normal @ _SUN), 0)
            fill(face, grey, number)
            normals[number] = normal.astype(np.float32)
            if main and k in (0, 1, 3) and normal @ (face.mean(0) - eye) < 0:
                along = (face[1] - face[0]) / np.linalg.norm(face[1] - face[0])
                long = float(np.linalg.norm(face[1] - face[0]))
                rows, columns = b.windows[0], b.windows[1] if k == 0 else b.windows[2]
                for row in range(rows):
                    base = 1.1 + row * (b.tall - 0.6) / max(rows, 1)
                    for column in range(columns):
                        if k == 0 and b.door and row == 0 and column == columns // 2:
                            continue
                        x = long * (column + 0.5) / columns
                        pane = _quad(face[0], along, np.array([0, 1.0, 0]), x - 0.55, x + 0.55, base, base + 1.35)
                        windows.append(project(pane).astype(np.float32))
                        fill(pane, grey * 0.42, number, 0.01, len(windows))
                if k == 0 and b.door and columns:
                    x = long * (columns // 2 + 0.5) / columns
                    fill(
                        _quad(face[0], along, np.array([0, 1.0, 0]), x - 0.6, x + 0.6, 0, 2.2), grey * 0.6, number, 0.01
                    )
            number += 1
    small = cv2.resize(shade, (width, height), interpolation=cv2.INTER_AREA)
    small = small + np.random.default_rng(1).normal(0, 0.004, small.shape)
    grey_picture = (np.clip(small, 0, 1) * 255 + 0.5).astype(np.uint8)
    shown = np.bincount(panes.ravel(), minlength=len(windows) + 1)[1:] / _FINER**2
    windows = [w for w, area in zip(windows, shown, strict=True) if area > _SEEN * cv2.contourArea(w)]
    seen = faces[_FINER // 2 :: _FINER, _FINER // 2 :: _FINER]
    return Render(np.dstack([grey_picture] * 3), seen[:height, :width].astype(np.int32), normals, windows, focal)


NET_STORE = Building(wide=10, deep=7, tall=5.8, roof=2.6, turn=33, away=30, windows=(2, 4, 2))

if __name__ == "__main__":
    Path(sys.argv[1]).joinpath("massing.png").write_bytes(png(draw(NET_STORE, 640, 960).picture))
