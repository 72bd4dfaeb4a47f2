"""What hardly shows in a render: joins of one grey, windows of the wall's own grey, halves of one wall."""

import unittest
from functools import cache
from pathlib import Path

import cv2
import numpy as np

from warmtide.core.maths.colour import bytes_to_lab
from warmtide.core.understanding.building.faint import faint_joins
from warmtide.core.understanding.building.frames import filled, frames_of
from warmtide.core.understanding.building.parts import GROUND, SKY, Parts
from warmtide.core.understanding.building.perspective import Perspective
from warmtide.core.understanding.building.planes import Built, understand_building, with_bays

_VIEW = Perspective(horizon=150.0, first=-700.0, second=1200.0, focal=800.0, middle=320.0, sure=1.0)


def _below_line(toward: tuple[float, float], start: tuple[float, float], width: int, height: int) -> np.ndarray:
    """1 below the line from a point toward another."""
    xs, ys = np.meshgrid(np.arange(width), np.arange(height))
    slope = (toward[1] - start[1]) / (toward[0] - start[0])
    return np.clip(ys - (start[1] + (xs - start[0]) * slope) + 0.5, 0, 1).astype(np.float32)


@cache
def _boathouse() -> tuple[np.ndarray, Built]:
    picture = cv2.imread(str(Path(__file__).parents[2] / "demo/pictures/boathouse.png"))
    scale = 512 / min(picture.shape[:2])
    small = cv2.resize(picture, None, fx=scale, fy=scale, interpolation=cv2.INTER_AREA)[..., ::-1]
    light = np.ascontiguousarray(bytes_to_lab(np.ascontiguousarray(small))[..., 0])
    return light, understand_building(light)


class Joins(unittest.TestCase):
    def test_a_foot_of_less_than_a_grey_level_is_found_in_grain(self) -> None:
        random = np.random.default_rng(4)
        below = _below_line((_VIEW.second, _VIEW.horizon), (200, 340), 640, 420)
        light = 0.86 - 0.0042 * below + random.normal(0, 0.0022, below.shape).astype(np.float32)
        found = faint_joins(light.astype(np.float32), _VIEW, 420 / 512)
        self.assertGreater(len(found), 0)
        slope = (_VIEW.horizon - 340) / (_VIEW.second - 200)
        away = [abs(y - (340 + (x - 200) * slope)) for line in found for x, y in (line[:2], line[2:])]
        self.assertLess(float(np.median(away)), 1.5)
        self.assertGreater(float(np.hypot(*(found[:, 2:] - found[:, :2]).T).sum()), 300)

    def test_neither_grain_nor_steps_of_eight_bits_are_joins(self) -> None:
        random = np.random.default_rng(4)
        grainy = (0.7 + random.normal(0, 0.004, (420, 640))).astype(np.float32)
        banded = np.round((0.6 + 0.0001 * np.mgrid[0:420, 0:640][0]) * 255).astype(np.float32) / 255
        for light in (grainy, banded):
            found = faint_joins(light, _VIEW, 420 / 512)
            self.assertLess(float(np.hypot(*(found[:, 2:] - found[:, :2]).T).sum()), 120)

    def test_a_white_wall_on_white_ground(self) -> None:
        _, built = _boathouse()
        self.assertTrue(built.sure)
        # Its long side, right of the corner: one wall, with ground in front and the hut beside.
        side = int(built.owner[320, 500])
        self.assertEqual(built.faces[side].kind, "wall")
        for y, x in ((210, 500), (300, 540), (230, 620)):
            self.assertEqual(int(built.owner[y, x]), side, (y, x))
        self.assertEqual(int(built.owner[420, 500]), GROUND)
        self.assertEqual(int(built.owner[60, 600]), SKY)
        self.assertGreaterEqual(sum(o.face == side for o in built.openings), 3)

    def test_sky_and_ground_are_seen_through_an_open_bay(self) -> None:
        ids = np.full((200, 300), SKY, np.int32)
        ids[120:] = GROUND
        light = np.where(ids == SKY, 0.9, 0.8).astype(np.float32)
        # A porch: frame 0, its bay above and below the horizon 1 and 2; beside it a wall of the sky's grey, 3.
        for number, view, grey in ((0, np.s_[60:170, 80:180], 0.5), (1, np.s_[70:120, 90:170], 0.905), (2, np.s_[120:170, 90:170], 0.795), (3, np.s_[60:170, 200:260], 0.9)):  # fmt: skip
            ids[view], light[view] = number, grey
        areas = np.array([int((ids == k).sum()) for k in range(4)])
        parts = Parts(
            ids,
            np.array([0.5, 0.905, 0.795, 0.9]),
            areas,
            200 / 512,
            np.zeros_like(ids, np.uint8),
            *[np.zeros((0, 4))] * 2,
        )
        found = with_bays(parts, light).ids
        self.assertEqual({int(v) for v in np.unique(found[75:115, 95:165])}, {SKY})
        self.assertEqual({int(v) for v in np.unique(found[125:165, 95:165])}, {GROUND})
        self.assertEqual((int(found[65, 100]), int(found[100, 230])), (0, 3))

    def test_a_gable_faces_as_the_wall_below(self) -> None:
        _, built = _boathouse()
        gable, wall, roof = (int(built.owner[y, x]) for y, x in ((130, 350), (200, 330), (120, 450)))
        self.assertEqual(built.faces[gable].kind, "wall")
        self.assertGreater(float(built.faces[gable].normal @ built.faces[wall].normal), 0.99)
        self.assertEqual(built.faces[roof].kind, "roof")


class Frames(unittest.TestCase):
    def window(self, edges: np.ndarray, x: int, y: int, wide: int, tall: int) -> None:
        cv2.rectangle(edges, (x, y), (x + wide, y + tall), 1, 3)
        cv2.line(edges, (x + wide // 2, y), (x + wide // 2, y + tall), 1, 3)

    def setUp(self) -> None:
        self.edges = np.zeros((210, 400), np.uint8)
        self.wall = np.ones((210, 400), np.uint8)

    def test_windows_with_bars_and_joined_sills(self) -> None:
        for x in (50, 150, 250):
            self.window(self.edges, x, 40, 60, 90)
        cv2.line(self.edges, (40, 131), (330, 131), 1, 5)
        found = sorted(frames_of(self.edges, self.wall))
        self.assertEqual(len(found), 3)
        for (x, y, wide, tall), left in zip(found, (50, 150, 250), strict=True):
            self.assertLessEqual(max(abs(x - left), abs(y - 40), abs(wide - 60), abs(tall - 90)), 6)

    def test_a_side_may_be_lost_but_not_two(self) -> None:
        self.window(self.edges, 50, 40, 60, 90)
        self.edges[60:110, 45:55] = 0
        self.assertEqual(len(frames_of(self.edges, self.wall)), 1)
        self.edges[:60, :] = 0
        self.assertEqual(frames_of(self.edges, self.wall), [])

    def test_a_slanting_shadow_is_no_frame(self) -> None:
        cv2.line(self.edges, (60, 40), (160, 150), 1, 3)
        cv2.line(self.edges, (160, 150), (260, 60), 1, 3)
        self.assertEqual(frames_of(self.edges, self.wall), [])

    def test_holes_are_filled(self) -> None:
        mask = self.wall.copy()
        mask[50:90, 60:100] = 0
        self.assertTrue(filled(mask).all())
