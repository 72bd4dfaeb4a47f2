"""The painters' shared tools, each on pictures with a known answer."""

import unittest
from itertools import pairwise

import cv2
import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from warmtide.core.looks.shared.brush import CLOSEST, Brush, Strokes, at, lay, scattered, traced
from warmtide.core.looks.shared.flatten import crisp, smooth_within
from warmtide.core.looks.shared.flow import turned_toward
from warmtide.core.looks.shared.pen import chains, cornered, lenses, pen, runs, smoothed, tapered
from warmtide.core.looks.shared.thread import sew, weave
from warmtide.core.maths.arrays import f32
from warmtide.core.model.face import Face
from warmtide.core.model.sitting import Sitting
from warmtide.core.understanding.areas import merged, parts
from warmtide.core.understanding.palette import _densities, colour_labels, palette

THREE = np.array([[0.2, 0.0, -0.05], [0.5, 0.12, 0.05], [0.9, 0.0, 0.08]], f32)


def stripes(height: int = 60, width: int = 90) -> np.ndarray:
    """Three upright stripes in three colours."""
    picture = np.empty((height, width, 3), f32)
    for k in range(3):
        picture[:, k * width // 3 : (k + 1) * width // 3] = THREE[k]
    return picture


class Colours(unittest.TestCase):
    def test_a_palette_finds_the_colours_from_dark_to_light(self) -> None:
        self.assertLess(float(np.abs(palette(stripes(), 3) - THREE).max()), 0.02)
        self.assertLessEqual(len(palette(stripes(), 12)), 12)
        self.assertEqual(len(palette(np.full((40, 40, 3), 0.5, f32), 6)), 1)

    def test_a_slightly_other_picture_has_a_slightly_other_palette(self) -> None:
        random = np.random.default_rng(5)
        picture = cv2.GaussianBlur(random.normal(0.5, 1.2, (120, 160, 3)).astype(f32), (0, 0), 6)
        for count in (6, 9, 12):
            first = palette(picture, count)
            for _ in range(4):
                other = palette(picture + random.normal(0, 0.002, picture.shape).astype(f32), count)
                self.assertEqual(first.shape, other.shape)
                self.assertLess(float(np.abs(first - other).max()), 0.02)

    def test_a_small_accent_gets_a_colour_of_its_own(self) -> None:
        random = np.random.default_rng(0)
        picture = np.full((120, 120, 3), (0.6, 0, 0), f32)
        picture[..., 0] += random.normal(0, 0.05, (120, 120)).astype(f32)
        picture[50:58, 50:58] = (0.6, 0.2, 0.1)
        found = palette(picture, 5)
        self.assertLess(float(np.abs(found - np.array([0.6, 0.2, 0.1], f32)).sum(1).min()), 0.03)

    def test_density_is_the_bell_of_all_around(self) -> None:
        random = np.random.default_rng(1)
        bins, mass = random.uniform(0, 0.5, (80, 3)), random.random(80)
        density = np.zeros(80)
        _densities(bins, mass, 0.05, density)  # type: ignore[no-untyped-call]
        squared = ((bins[:, None] - bins[None]) ** 2).sum(-1)
        np.testing.assert_allclose(density, np.exp(-squared / (2 * 0.05**2)) @ mass, rtol=1e-5, atol=1e-7)

    def test_labels_follow_areas_and_drop_specks(self) -> None:
        picture = stripes()
        # Nearer to its neighbour's colour, but not by much: a speck. One of plain contrast is an accent and stays.
        picture[30, 12] = 0.45 * THREE[0] + 0.55 * THREE[1]
        picture[20, 12] = THREE[2]
        labels = colour_labels(picture, THREE, 1.5)
        self.assertEqual((labels[30, 12], labels[20, 12]), (0, 2))
        labels[20, 12] = 0
        for k in range(3):
            self.assertTrue((labels[5:-5, k * 30 + 4 : k * 30 + 26] == k).all())

    def test_parts_and_merging(self) -> None:
        labels = np.zeros((40, 60), np.int32)
        labels[:, 30:] = 1
        labels[10:13, 10:13] = 1
        ids, count = parts(labels)
        self.assertEqual(count, 3)
        self.assertEqual(len({int(ids[0, 0]), int(ids[11, 11]), int(ids[0, 50])}), 3)
        picture = THREE[labels]
        without_islands = merged(ids, picture, 0.02, 20)
        self.assertEqual(int(without_islands.max()), 1)
        self.assertEqual(without_islands[11, 11], without_islands[0, 0])
        self.assertEqual(int(merged(ids, picture, 9.0, 0).max()), 0)
        self.assertEqual(int(merged(ids, picture, 0.02, 0).max()), 2)
        # Where a place counts for more, a small part stays.
        worth = np.ones((40, 60), f32)
        worth[10:13, 10:13] = 10
        self.assertEqual(int(merged(ids, picture, 0.02, 20, worth).max()), 2)

    def test_a_soft_edge_becomes_crisp_and_flats_stay(self) -> None:
        ramp = np.clip((np.arange(60) - 25) / 10, 0, 1).astype(f32)
        picture = np.zeros((40, 60, 3), f32)
        picture[..., 0] = 0.2 + 0.6 * ramp
        sharp = crisp(picture, 2.0, 4)
        steepest = [float(np.abs(np.diff(p[20, :, 0])).max()) for p in (picture, sharp)]
        self.assertGreater(steepest[1], 2.5 * steepest[0])
        self.assertTrue(np.allclose(sharp[:, :15], picture[:, :15], atol=1e-3))

    def test_smoothing_stops_where_nothing_ties(self) -> None:
        random = np.random.default_rng(1)
        picture = stripes() + random.normal(0, 0.05, (60, 90, 3)).astype(f32)
        across, down = np.ones((60, 90), f32), np.ones((60, 90), f32)
        across[:, 29] = across[:, 59] = 0
        smooth = smooth_within(picture, across, down, 400)
        for k in range(3):
            here = smooth[:, k * 30 : (k + 1) * 30]
            self.assertLess(float(here.std((0, 1)).max()), 0.01)
            self.assertLess(float(np.abs(here.mean((0, 1)) - THREE[k]).max()), 0.02)


class Brushes(unittest.TestCase):
    @given(st.integers(20, 90), st.integers(20, 90), st.floats(2, 12))
    def test_scattered_places_cover_the_picture(self, height: int, width: int, spacing: float) -> None:
        xs, ys = scattered(height, width, spacing, np.random.default_rng(0))
        self.assertTrue(xs.min() >= 0 and xs.max() <= width - 1 and ys.min() >= 0 and ys.max() <= height - 1)
        empty = np.ones((height, width), np.uint8)
        empty[ys.astype(int), xs.astype(int)] = 0
        self.assertLess(float(cv2.distanceTransform(empty, cv2.DIST_L2, 5).max()), 2.0 * spacing + 1)

    def test_marks_are_no_closer_than_can_be_told_apart(self) -> None:
        xs, _ = scattered(40, 60, 0.3, np.random.default_rng(0))
        self.assertEqual(len(xs), len(scattered(40, 60, CLOSEST, np.random.default_rng(0))[0]))
        self.assertLess(len(xs), 1.1 * 40 * 60 / CLOSEST**2)

    def test_a_path_around_a_middle_is_a_circle(self) -> None:
        ys, xs = np.mgrid[0:90, 0:90].astype(f32)
        around = np.arctan2(ys - 45, xs - 45) + f32(np.pi / 2)
        plain = np.zeros((90, 90, 3), f32)
        strokes = traced(around.astype(f32), plain, np.array([70.0], f32), np.array([45.0], f32), 12, 2.0, 0.2)
        path = strokes.paths[0, strokes.first[0] : strokes.last[0] + 1]
        self.assertEqual(len(path), 25)
        self.assertLess(float(np.abs(np.hypot(*(path - 45).T) - 25).max()), 3.0)
        # The hand turns a little late, so that the circle opens; each step is a stride long, and both ends go their own way round.
        steps = np.hypot(*np.diff(path, axis=0).T)
        np.testing.assert_allclose(steps, 2.0, atol=0.01)
        self.assertGreater(float(np.hypot(*(path[0] - path[-1]))), 35)

    def test_paths_follow_the_angles_and_end_at_a_border(self) -> None:
        angles = np.zeros((60, 90), f32)
        strokes = traced(angles, stripes(), np.array([15.0], f32), np.array([30.0], f32), 10, 3.0, 0.2)
        path = strokes.paths[0, strokes.first[0] : strokes.last[0] + 1]
        self.assertTrue(np.allclose(path[:, 1], 30, atol=0.1))
        self.assertTrue(path[:, 0].max() < 31 and path[:, 0].max() > 24)
        upright = traced(angles + np.pi / 2, stripes(), np.array([15.0], f32), np.array([30.0], f32), 5, 3.0, 0.2)
        self.assertTrue(np.allclose(upright.paths[0, upright.first[0] : upright.last[0] + 1, 0], 15, atol=0.1))

    def test_turning_lines_goes_the_short_way(self) -> None:
        first, second = np.array([0.05], f32), np.array([np.pi - 0.05], f32)
        half = float(turned_toward(first, second, np.array([0.5], f32))[0])
        self.assertAlmostEqual(np.sin(half), 0, places=3)
        self.assertAlmostEqual(float(turned_toward(first, second, np.array([0.0], f32))[0]), 0.05, places=5)

    def one(self, y: float = 20.0) -> Strokes:
        paths = np.array([[[10, y], [20, y], [30, y], [40, y]]], f32)
        return Strokes(paths, np.zeros(1, np.int32), np.full(1, 3, np.int32))

    def test_a_brush_paints_its_path_and_nothing_else(self) -> None:
        for square in (False, True):
            canvas, relief = np.full((40, 50, 3), 0.9, f32), np.zeros((40, 50), f32)
            brush = Brush(1.0, 0.3, 0.2, square)
            colour = np.array([[0.3, 0.1, 0.0]], f32)
            lay(canvas, relief, self.one(), colour, np.array([4.0]), np.array([5]), brush, np.zeros_like(relief))
            self.assertLess(float(np.abs(canvas[20, 18:32] - colour).max()), 0.08)
            self.assertTrue((canvas[:13] == 0.9).all() and (canvas[28:] == 0.9).all())
            self.assertGreater(float(relief[20, 18:32].min()), 0)
            self.assertEqual(float(relief[:12].max()), 0)

    def test_a_later_stroke_covers_an_earlier_one(self) -> None:
        canvas, relief = np.full((40, 50, 3), 0.9, f32), np.zeros((40, 50), f32)
        both = Strokes(np.repeat(self.one().paths, 2, 0), np.zeros(2, np.int32), np.full(2, 3, np.int32))
        colours = np.array([[0.2, 0, 0], [0.7, 0, 0]], f32)
        lay(
            canvas,
            relief,
            both,
            colours,
            np.array([4.0, 4.0]),
            np.array([5, 6]),
            Brush(1.0, 0.2, 0.0),
            np.zeros_like(relief),
        )
        self.assertGreater(float(canvas[20, 20:30, 0].mean()), 0.6)

    def test_threads_are_lit_and_stand_above_the_cloth(self) -> None:
        cloth = weave(40, 50, 2.2, np.array([0.4, 0, 0], f32))
        canvas, relief = cloth.copy(), np.zeros((40, 50), f32)
        sew(canvas, relief, self.one(), np.array([[0.6, 0.1, 0.1]], f32), np.array([3.0]), np.array([0.0]), 1.0)
        # Light comes from the upper left.
        self.assertGreater(float(canvas[18, 15:35, 0].mean()), float(canvas[22, 15:35, 0].mean()))
        self.assertGreater(float(relief[20, 15:35].min()), 0.5)
        self.assertTrue((canvas[:12] == cloth[:12]).all())


class Lines(unittest.TestCase):
    def test_a_line_is_cut_at_its_corners_and_nowhere_else(self) -> None:
        there, back = np.arange(30.0), np.zeros(30)
        bent = np.concatenate([np.stack([there, back], 1), np.stack([back[1:] + 29, there[1:]], 1)]).astype(f32)
        pieces = cornered(bent, 4)
        self.assertEqual(len(pieces), 2)
        self.assertLess(float(np.abs(pieces[0][-1] - (29, 0)).max()), 1.5)
        np.testing.assert_array_equal(pieces[0][-1], pieces[1][0])
        turn = np.linspace(0, np.pi, 120)
        bow = np.stack([40 * np.cos(turn), 40 * np.sin(turn)], 1).astype(f32)
        self.assertEqual(len(cornered(bow, 5)), 1)

    def test_a_ring_is_one_closed_chain_and_a_cross_goes_straight_on(self) -> None:
        ring = np.zeros((80, 80), np.uint8)
        cv2.circle(ring, (40, 40), 25, 1, 3)
        found = chains(ring > 0, 10)
        self.assertEqual(len(found), 1)
        line, closed = smoothed(found[0], 3)
        self.assertTrue(closed)
        self.assertLess(float(np.abs(np.hypot(line[:, 0] - 40, line[:, 1] - 40) - 25).max()), 1.5)
        cross = np.zeros((80, 80), bool)
        cross[40, 10:70] = True
        cross[10:70, 40] = True
        longest = max(chains(cross, 5), key=len)
        self.assertGreater(len(longest), 50)
        self.assertEqual(chains(np.zeros((20, 20), bool), 3), [])

    @given(st.lists(st.booleans(), max_size=30))
    def test_runs_are_the_stretches_that_are_true(self, along: list[bool]) -> None:
        found = runs(np.array(along, bool))
        again = np.zeros(len(along), bool)
        for first, end in found:
            again[first:end] = True
        self.assertEqual(again.tolist(), along)
        # Between two of them something isn't.
        self.assertTrue(all(one[1] < other[0] for one, other in pairwise(found)))

    def test_a_pen_has_the_width_it_is_given(self) -> None:
        for radius in (1.0, 2.5, 4.0):
            cover = np.zeros((40, 60), f32)
            pen(cover, np.array([[10, 20], [50, 20]], f32), radius)
            self.assertAlmostEqual(float(cover[:, 30].sum()), 2 * radius + 0.5, delta=0.8)
            self.assertEqual(float(cover[:, 3].max()), 0)

    def test_lenses_are_widest_inside_and_pointed(self) -> None:
        cover = np.zeros((60, 120), f32)
        paths = np.stack([np.linspace(5, 55, 11), np.full(11, 15.0)], 1)[None].astype(f32)
        strokes = Strokes(paths, np.zeros(1, np.int32), np.full(1, 10, np.int32))
        lenses(cover, strokes, np.array([3.0]), 1.0, 1.0, 2.0)
        widths = cover.sum(0)
        self.assertAlmostEqual(float(widths[60]), 12, delta=1.5)
        self.assertLess(float(widths[14]), 0.5 * float(widths[60]))

    def test_pressure_thins_at_both_ends(self) -> None:
        press = tapered(40, 10)
        self.assertEqual((float(press[0]), float(press[-1])), (0, 0))
        self.assertTrue((press[10:30] == 1).all() and (np.diff(press[:10]) > 0).all())


class Components(unittest.TestCase):
    """Connected parts are those that another labeller finds."""

    def test_parts_are_connected_and_apart(self) -> None:
        random = np.random.default_rng(4)
        for shape, count in (((1, 1), 1), ((1, 30), 3), ((40, 1), 2), ((37, 53), 2), ((64, 48), 5)):
            labels = random.integers(0, count, shape).astype(np.int32)
            ids, total = parts(labels)
            expected, n = np.zeros(shape, int), 0
            for k in np.unique(labels):
                found, here = cv2.connectedComponents((labels == k).astype(np.uint8), connectivity=4)
                expected = np.where(here > 0, here - 1 + n, expected)
                n += found - 1
            self.assertEqual(total, n)
            # The same parts, whatever their numbers.
            self.assertEqual(len(np.unique(ids * (n + 1) + expected)), n)
            self.assertEqual(set(ids.ravel()), set(range(n)))


class Sittings(unittest.TestCase):
    def test_an_inset_is_told_what_the_whole_decided(self) -> None:
        whole = Sitting("oil", 3, 100, 200, marks=1.2)
        self.assertEqual(whole.decided("tone", lambda: 0.25), 0.25)
        face = Face(0.5, 0.4, 0.5)
        inset = whole.closer(80, face)
        self.assertEqual(inset.decided("tone", lambda: 0.9), 0.25)
        self.assertEqual((inset.height, inset.width, inset.inset, inset.marks), (80, 80, True, 1.2))
        self.assertEqual(inset.faces, (face,))
        self.assertFalse(inset.flat)
        calm = Sitting("oil", 3, 100, 200, ground=np.ones((100, 200), bool))
        self.assertTrue(calm.flat and calm.closer(80, face).flat)
        self.assertEqual(whole.random("a").random(), inset.random("a").random())

    def test_values_are_read_at_the_nearest_pixel(self) -> None:
        image = np.arange(12, dtype=f32).reshape(3, 4)
        self.assertEqual(at(image, np.array([1.2, 99], f32), np.array([2.4, -5], f32)).tolist(), [9, 3])
