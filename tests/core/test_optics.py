"""Clear bodies against the laws of optics, written out point by point."""

import math
import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from warmtide.core.looks.material.optics import gathered, seen_through
from warmtide.core.maths.arrays import Float, f32

SIDE = 48
FLAT = (np.zeros((SIDE, SIDE), f32), np.zeros((SIDE, SIDE), f32), np.ones((SIDE, SIDE), f32))
ALL = np.ones((SIDE, SIDE), f32)
GLASS = 1.5


def ramp() -> Float:
    """A ground whose brightness tells the column (red), the row (green) and neither (blue)."""
    ys, xs = np.mgrid[0:SIDE, 0:SIDE].astype(f32)
    return np.stack([xs, ys, np.full_like(xs, 7)], -1)


def tilted(angle: float) -> tuple[Float, Float, Float]:
    """Normals that lean by an angle in radians along x."""
    return (ALL * f32(math.sin(angle)), ALL * 0, ALL * f32(math.cos(angle)))


def refracted(way: Float, normal: Float, index: float) -> Float:
    """Snell's law by angles: into a denser medium, in the plane of the ray and the normal."""
    toward = -float(way @ normal)
    along = way + toward * normal
    length = float(np.linalg.norm(along))
    if length < 1e-9:
        return -normal
    inner = math.asin(length / index)
    return along / length * math.sin(inner) - normal * math.cos(inner)


class Through(unittest.TestCase):
    def test_seen_straight_on_a_slab_moves_nothing(self) -> None:
        behind = ramp()
        out = seen_through(behind, ALL * 5, FLAT, ALL, np.zeros_like(behind), 3, (GLASS,) * 3, view=0)
        np.testing.assert_allclose(out[2:-2, 2:-2], behind[2:-2, 2:-2], atol=1e-3)

    def test_colour_fades_along_the_path(self) -> None:
        behind = np.ones((SIDE, SIDE, 3), f32)
        absorbed = behind * np.array([0.0, 0.1, 0.3], f32)
        out = seen_through(behind, ALL * 5, FLAT, ALL, absorbed, 0, (GLASS,) * 3, view=0)
        np.testing.assert_allclose(out[20, 20], np.exp(-np.array([0, 0.5, 1.5])), rtol=1e-4)

    def test_where_nothing_covers_nothing_is_seen(self) -> None:
        cover = ALL.copy()
        cover[:, :24] = 0
        out = seen_through(ramp(), ALL * 5, FLAT, cover, np.zeros((SIDE, SIDE, 3), f32), 0)
        self.assertEqual(float(np.abs(out[:, :24]).max()), 0)
        self.assertGreater(float(out[:, 24:].max()), 1)

    @settings(max_examples=25, deadline=None)
    @given(angle=st.floats(-0.55, 0.55), height=st.floats(1, 6), index=st.floats(1.2, 1.7))
    def test_a_leaning_surface_bends_as_snell_says(self, angle: float, height: float, index: float) -> None:
        behind = ramp()
        out = seen_through(
            behind, ALL * f32(height), tilted(angle), ALL, np.zeros_like(behind), 0, (index,) * 3, view=0
        )
        normal = np.array([math.sin(angle), 0, math.cos(angle)])
        inside = refracted(np.array([0.0, 0, -1]), normal, index)
        moved = inside[0] / -inside[2] * height
        self.assertAlmostEqual(float(out[24, 24, 0]), 24 + moved, delta=0.02)
        # Nothing moves across the lean.
        self.assertAlmostEqual(float(out[24, 24, 1]), 24, delta=1e-3)

    def test_over_a_gap_light_bends_back(self) -> None:
        """Under the body the ray leaves it and runs flatter than in it: Snell's law once more."""
        behind, angle, gap = ramp(), 0.3, 4.0
        near = seen_through(behind, ALL * 2, tilted(angle), ALL, np.zeros_like(behind), 0, (GLASS,) * 3, view=0)
        far = seen_through(behind, ALL * 2, tilted(angle), ALL, np.zeros_like(behind), gap, (GLASS,) * 3, view=0)
        inside = refracted(np.array([0.0, 0, -1]), np.array([math.sin(angle), 0, math.cos(angle)]), GLASS)
        leaving = math.asin(GLASS * abs(inside[0]))
        self.assertAlmostEqual(
            float(far[24, 24, 0] - near[24, 24, 0]), math.copysign(math.tan(leaving), inside[0]) * gap, delta=0.02
        )

    def test_blue_bends_more_than_red(self) -> None:
        xs = ramp()[..., 0]
        behind = np.stack([xs, xs, xs], -1)
        out = seen_through(behind, ALL * 8, tilted(0.4), ALL, np.zeros_like(behind), 0)[24, 24]
        self.assertLess(abs(out[0] - 24), abs(out[1] - 24))
        self.assertLess(abs(out[1] - 24), abs(out[2] - 24))

    def test_light_that_can_not_leave_dims_the_ground(self) -> None:
        behind = np.ones((SIDE, SIDE, 3), f32)
        steep = seen_through(behind, ALL * 2, tilted(1.35), ALL, np.zeros_like(behind), 1, (1.8,) * 3, view=0)
        self.assertLess(float(steep[24, 24].max()), 0.5)


class Gathering(unittest.TestCase):
    down = np.array([0, 0, 1], f32)

    def test_a_slab_lets_through_all_but_what_its_face_throws_back(self) -> None:
        out = gathered(ALL * 5, FLAT, np.ones((SIDE, SIDE), bool), np.ones((SIDE, SIDE, 3), f32), self.down, 2)
        np.testing.assert_allclose(out[6:-6, 6:-6], 0.96, atol=0.01)

    def test_colour_of_the_body_colours_the_light(self) -> None:
        passes = np.ones((SIDE, SIDE, 3), f32) * np.array([1, 0.5, 0.1], f32)
        out = gathered(ALL * 5, FLAT, np.ones((SIDE, SIDE), bool), passes, self.down, 2)[24, 24]
        np.testing.assert_allclose(out / out[0], [1, 0.5, 0.1], rtol=1e-3)

    def test_a_lens_gathers_light_and_makes_none(self) -> None:
        ys, xs = np.mgrid[0:SIDE, 0:SIDE].astype(f32)
        x, y, radius = xs - 23.5, ys - 23.5, 26.0
        inside = np.hypot(x, y) < 18
        rise = np.sqrt(np.maximum(radius**2 - x**2 - y**2, 1))
        normal = ((x / radius).astype(f32), (y / radius).astype(f32), (rise / radius).astype(f32))
        height = np.where(inside, rise - rise[inside].min(), 0).astype(f32)
        out = gathered(height, normal, inside, np.ones((SIDE, SIDE, 3), f32), self.down, 6)[..., 0]
        self.assertGreater(float(out[21:27, 21:27].mean()), 1.3)
        self.assertLessEqual(float(out.sum()), float(inside.sum()))
        self.assertGreater(float(out.sum()), 0.8 * float(inside.sum()))
        # Light that the middle gathers is missing around it.
        ring = inside & (np.hypot(x, y) > 15)
        self.assertLess(float(out[ring].mean()), 0.9)

    def test_a_low_sun_throws_its_light_to_the_other_side(self) -> None:
        sun = np.array([0.5, 0, math.sqrt(0.75)], f32)
        inside = np.zeros((SIDE, SIDE), bool)
        inside[20:28, 20:28] = True
        out = gathered(ALL * 3, FLAT, inside, np.ones((SIDE, SIDE, 3), f32), sun, 8)[..., 0]
        xs = np.arange(SIDE)
        middle = float((out.sum(0) * xs).sum() / out.sum())
        self.assertLess(middle, 20)

    def test_turned_away_from_the_sun_nothing_passes(self) -> None:
        sun = np.array([0.95, 0, math.sqrt(1 - 0.95**2)], f32)
        out = gathered(ALL * 3, tilted(-0.8), np.ones((SIDE, SIDE), bool), np.ones((SIDE, SIDE, 3), f32), sun, 1)
        self.assertEqual(float(out.sum()), 0)
