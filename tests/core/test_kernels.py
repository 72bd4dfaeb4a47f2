"""Kernels that skip what they cannot reach do what the plain sum over everything does."""

import unittest
from itertools import pairwise

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from scipy.linalg import solve

from tests.pictures import harbour
from warmtide.core.looks.shared.brush import Brush, Strokes, lay
from warmtide.core.looks.shared.flatten import smooth_within
from warmtide.core.looks.shared.hatching import hatch
from warmtide.core.looks.shared.owners import owners
from warmtide.core.looks.shared.pen import lenses, pen
from warmtide.core.looks.shared.thread import sew
from warmtide.core.maths.arrays import AnyArray, Float, f32
from warmtide.core.maths.bilateral import bilateral
from warmtide.core.maths.colour import bytes_to_lab
from warmtide.core.maths.nearest import from_nearest
from warmtide.core.maths.octaves import NOISE, PRIOR_LIGHT, REFERENCE_SIDE, TRUST, at_octave, octave_of
from warmtide.core.understanding.palette import CHANNELS, colour_labels, palette


def near_path(points: AnyArray, height: int, width: int) -> AnyArray:
    """Distance (h, w) of every pixel to a polyline."""
    ys, xs = np.mgrid[0:height, 0:width].astype(float)
    best = np.full((height, width), np.inf)
    for (ax, ay), (bx, by) in pairwise(points):
        length = max((bx - ax) ** 2 + (by - ay) ** 2, 1e-9)
        t = np.clip(((xs - ax) * (bx - ax) + (ys - ay) * (by - ay)) / length, 0, 1)
        best = np.minimum(best, np.hypot(xs - ax - t * (bx - ax), ys - ay - t * (by - ay)))
    return best


def bent(x: float, y: float, angle: float, stride: float) -> AnyArray:
    """A path of seven points that turns a little at each."""
    turns = angle + 0.25 * np.arange(6)
    steps = stride * np.stack([np.cos(turns), np.sin(turns)], 1)
    return np.concatenate([[(x, y)], np.array([x, y]) + np.cumsum(steps, 0)])


paths = st.builds(bent, st.floats(-4, 64), st.floats(-4, 44), st.floats(0, 6.2), st.floats(0.4, 7))


class Marks(unittest.TestCase):
    @given(paths, st.floats(0.5, 9), st.booleans())
    def test_a_brush_reaches_as_far_as_its_hairs(self, path: AnyArray, radius: float, square: bool) -> None:
        canvas, relief = np.full((40, 60, 3), 0.9, f32), np.zeros((40, 60), f32)
        strokes = Strokes(path[None].astype(f32), np.zeros(1, np.int32), np.full(1, 6, np.int32))
        # No hair is dry: what is not painted was not reached.
        brush = Brush(opacity=1, bristle=0, dry=0, square=square, streak=0)
        colour = np.array([[0.2, 0.1, -0.1]], f32)
        lay(canvas, relief, strokes, colour, np.array([radius]), np.array([7]), brush, np.zeros_like(relief))
        distance = near_path(path, 40, 60)
        painted = np.abs(canvas - f32(0.9)).max(-1) > 0
        # Flat brushes leave their path by half a bristle at both ends; beside the path none goes farther than its radius.
        self.assertFalse(painted[distance > (2.0 * radius + 1.5 if square else radius + 0.51)].any())
        if not square and radius > 2:
            ends = np.minimum(*(np.hypot(*(np.indices((40, 60))[::-1] - path[k][:, None, None])) for k in (0, 6)))
            inside = (distance < 0.7 * radius - 0.6) & (ends > 1.5 * radius)
            self.assertTrue(painted[inside].all())

    @given(paths, st.floats(0.8, 4))
    def test_a_thread_covers_what_lies_under_it(self, path: AnyArray, radius: float) -> None:
        canvas, height = np.full((40, 60, 3), 0.1, f32), np.zeros((40, 60), f32)
        strokes = Strokes(path[None].astype(f32), np.zeros(1, np.int32), np.full(1, 6, np.int32))
        sew(canvas, height, strokes, np.array([[0.8, 0, 0]], f32), np.array([radius]), np.zeros(1), 0.5)
        distance = near_path(path, 40, 60)
        self.assertFalse((height[distance > radius + 0.51] > 0).any())
        self.assertTrue((height[distance < radius - 0.51] > 0.2).all())

    @given(st.floats(8, 52), st.floats(8, 32), st.floats(0, 3), st.floats(0.9, 7))
    def test_a_pencil_leaves_the_sum_of_its_dabs(self, x: float, y: float, angle: float, width: float) -> None:
        tone, deposit, far = np.ones((40, 60), f32), np.zeros((40, 60), f32), np.zeros((40, 60), f32)

        def stroke(into: Float, wide: float) -> None:
            xs, ys, angles, lengths, bends, widths, pressures = (
                np.array([value], f32) for value in (x, y, angle, 10, 0, wide, 1)
            )
            hatch(into, tone, xs, ys, angles, lengths, bends, widths, pressures, np.array([3]), 0.0, 0.5)  # type: ignore[no-untyped-call]

        stroke(deposit, width)
        # Graphite lies within the bell of a dab, a square, which is at most a hand's waver off the line.
        line = np.array([(x + t * np.cos(angle), y + t * np.sin(angle)) for t in (-5, 5)])
        self.assertFalse((deposit[near_path(line, 40, 60) > 2 * width + 0.9] > 0).any())
        self.assertGreater(float(deposit.max()), 0)
        # All of a dab is laid: as much as a bell of that width holds, whatever the width.
        stroke(far, 3.0)
        if 1.5 < width < 3.5 and 14 < x < 46 and 14 < y < 26:
            self.assertAlmostEqual(float(deposit.sum() / far.sum()), width / 3.0, delta=0.12)

    @given(paths, st.floats(0.4, 5))
    def test_a_pen_inks_to_its_radius(self, path: AnyArray, radius: float) -> None:
        cover = np.zeros((40, 60), f32)
        pen(cover, path, radius)
        distance = near_path(path, 40, 60)
        expected = np.clip(radius + 0.5 - distance, 0, 1)
        # Nibs are set down half a pixel apart, the last one short of the end.
        ends = np.hypot(*(np.indices((40, 60))[::-1] - path[6][:, None, None])) < radius + 1.5
        self.assertLess(float(np.abs(cover - expected)[~ends].max(initial=0)), 0.26)
        self.assertFalse((cover[distance > radius + 0.5] > 0).any())

    @given(paths, st.floats(0.6, 4), st.floats(0.6, 1.4), st.floats(0.5, 1.2))
    def test_a_gouge_is_as_wide_as_its_profile(self, path: AnyArray, depth: float, skew: float, power: float) -> None:
        cover = np.zeros((40, 60), f32)
        strokes = Strokes(path[None].astype(f32), np.zeros(1, np.int32), np.full(1, 6, np.int32))
        lenses(cover, strokes, np.array([depth]), skew, power, 1.0)
        line = path.astype(f32).astype(float)
        radii = depth * np.maximum(np.sin(np.pi * (np.arange(7) / 6) ** skew), 0) ** power
        ys, xs = np.mgrid[0:40, 0:60].astype(float)
        expected = np.zeros((40, 60))
        for (ax, ay), (bx, by), one, other in zip(line, line[1:], radii, radii[1:], strict=False):
            length = (bx - ax) ** 2 + (by - ay) ** 2
            t = np.clip(((xs - ax) * (bx - ax) + (ys - ay) * (by - ay)) / length, 0, 1)
            distance = np.hypot(xs - ax - t * (bx - ax), ys - ay - t * (by - ay))
            expected = np.maximum(expected, np.clip(one + t * (other - one) + 0.5 - distance, 0, 1))
        self.assertLess(float(np.abs(cover - expected).max()), 0.02)


class Planes(unittest.TestCase):
    @given(st.integers(2, 12), st.integers(2, 12), st.floats(0.01, 40), st.integers(0, 99))
    def test_the_smoother_solves_rows_and_columns(self, rows: int, columns: int, strength: float, seed: int) -> None:
        random = np.random.default_rng(seed)
        values = random.random((rows, columns, 3)).astype(f32)
        across, down = (random.random((rows, columns)).astype(f32) for _ in range(2))

        def solved(line: AnyArray, ties: AnyArray, weight: float) -> AnyArray:
            n = len(line)
            matrix = np.eye(n)
            for k in range(n - 1):
                tie = weight * ties[k]
                matrix[k : k + 2, k : k + 2] += [[tie, -tie], [-tie, tie]]
            found: AnyArray = solve(matrix, line)
            return found

        expected = values.astype(float)
        for share in (0.762, 0.190, 0.048):
            weight = 1.5 * strength * share
            expected = np.stack([solved(expected[y], across[y], weight) for y in range(rows)])
            expected = np.stack([solved(expected[:, x], down[:, x], weight) for x in range(columns)], 1)
        found = smooth_within(values, across, down, strength)
        self.assertLess(float(np.abs(found - expected).max()), 2e-4)

    @given(st.integers(0, 99), st.integers(1, 2), st.integers(1, 2))
    def test_every_pixel_has_the_nearest_stone_of_its_area(self, seed: int, step: int, reach: int) -> None:
        random = np.random.default_rng(seed)
        height, width, stone = 36, 48, 6.0
        xs, ys = (a.ravel().astype(f32) for a in np.meshgrid(np.arange(3, 48, 6), np.arange(3, 36, 6)))
        xs, ys = (np.clip(a + random.uniform(-2, 2, len(a)), 0, None).astype(f32) for a in (xs, ys))
        turned = random.uniform(0, 3, len(xs)).astype(f32)
        areas = (np.mgrid[0:height, 0:width][1] > 23).astype(np.int32)
        belongs = areas[ys.astype(int), xs.astype(int)]
        owner, edge = owners(xs, ys, turned, belongs, areas, stone, step, reach)
        rows, columns = np.mgrid[0:height:step, 0:width:step]
        dx, dy = (at[..., None] - middle for at, middle in ((columns, xs), (rows, ys)))
        u = np.abs(dx * np.cos(turned) + dy * np.sin(turned))
        v = np.abs(dy * np.cos(turned) - dx * np.sin(turned))
        d = np.maximum(u, v) + 0.15 * np.minimum(u, v) + 2 * stone * (belongs != areas[::step, ::step, None])
        # Only stones of the cells around are asked.
        for at, of in ((columns, xs), (rows, ys)):
            d[np.abs((at // stone)[..., None] - (of // stone)) > reach] = np.inf
        two = np.sort(d, -1)[..., :2]
        clear = two[..., 1] - two[..., 0] > 1e-3
        np.testing.assert_array_equal(owner[clear], d.argmin(-1)[clear])
        np.testing.assert_allclose(edge[clear], (two[..., 1] - two[..., 0])[clear], atol=1e-3)


class Smoothing(unittest.TestCase):
    @given(st.integers(1, 3), st.integers(1, 2), st.floats(0.02, 0.5), st.floats(0.8, 4), st.integers(0, 99))
    def test_a_bilateral_is_the_weighted_mean_of_its_disc(
        self, radius: int, dilation: int, spread: float, reach: float, seed: int
    ) -> None:
        random, border = np.random.default_rng(seed), radius * dilation
        stack = random.random((3, 14, 19)).astype(f32)
        padded = np.pad(stack, ((0, 0), (border, border), (border, border)), mode="symmetric")
        total, weights = np.zeros((3, 14, 19)), np.zeros((14, 19))
        for j in range(-radius, radius + 1):
            for i in range(-radius, radius + 1):
                if i * i + j * j > radius * radius + 0.5:
                    continue
                y, x = border + j * dilation, border + i * dilation
                seen = padded[:, y : y + 14, x : x + 19]
                apart = np.abs(seen - stack).sum(0)
                weight = np.maximum(1 - apart**2 / (8 * spread**2), 0) ** 4
                weight = weight * np.exp(-(i * i + j * j) * dilation**2 / (2 * reach**2))
                total += weight * seen
                weights += weight
        np.testing.assert_allclose(bilateral(stack, radius, dilation, spread, reach), total / weights, atol=2e-5)

    @given(st.floats(-3, 10), st.integers(48, 2048))
    def test_constants_follow_octaves_of_the_picture(self, octave: float, side: int) -> None:
        # A table's entries at whole octaves, between them in between.
        for table in (PRIOR_LIGHT, TRUST, NOISE):
            whole = min(max(int(octave), 0), len(table) - 1)
            self.assertAlmostEqual(at_octave(table, whole), table[whole], places=6)
            inside = min(max(octave, 0.0), len(table) - 1.0)
            low, high = sorted((table[int(inside)], table[min(int(inside) + 1, len(table) - 1)]))
            self.assertTrue(low - 1e-9 <= at_octave(table, inside) <= high + 1e-9)
        # The second band of a picture twice as large shows what the first of this one does.
        self.assertAlmostEqual(octave_of(1, 2 * side, 3 * side), octave_of(0, side, 2 * side), places=9)
        self.assertAlmostEqual(octave_of(0, REFERENCE_SIDE, 512), 0)


class Nearest(unittest.TestCase):
    @given(st.integers(1, 20), st.integers(1, 20), st.integers(0, 99), st.booleans())
    def test_values_come_from_the_nearest_kept_pixel(self, height: int, width: int, seed: int, colours: bool) -> None:
        random = np.random.default_rng(seed)
        kept = random.random((height, width)) < 0.2
        kept[random.integers(height), random.integers(width)] = True
        # Each value tells where it is from.
        values = np.arange(height * width, dtype=np.int32).reshape(height, width)
        found, distance = from_nearest(np.dstack([values] * 3) if colours else values, kept)
        self.assertEqual(found.shape, (height, width, 3) if colours else (height, width))
        found = found[..., 1] if colours else found
        self.assertTrue(kept.ravel()[found].all())
        np.testing.assert_array_equal(found[kept], values[kept])
        rows, columns = np.indices((height, width))
        away = np.hypot(rows - found // width, columns - found % width)
        ys, xs = np.nonzero(kept)
        least = np.hypot(rows[..., None] - ys, columns[..., None] - xs).min(-1)
        # Steps of a 5 x 5 mask are within 3 percent of a circle's.
        np.testing.assert_array_less(away, 1.03 * least + 0.3)
        np.testing.assert_allclose(distance, least, atol=0.3, rtol=0.03)


class Colours(unittest.TestCase):
    def setUp(self) -> None:
        self.lab = bytes_to_lab(harbour(120, 180))

    def test_centres_are_means_of_what_belongs_to_them(self) -> None:
        colours = palette(self.lab, 6)
        self.assertEqual(colours[:, 0].tolist(), sorted(colours[:, 0].tolist()))
        apart = (((self.lab * CHANNELS)[:, :, None] - colours * CHANNELS) ** 2).sum(-1)
        # Every pixel has a colour near it, and every colour pixels.
        self.assertLess(float(np.sqrt(apart.min(-1)).mean()), 0.08)
        self.assertEqual(len(np.unique(apart.argmin(-1))), len(colours))

    def test_a_palette_hardly_moves_when_the_picture_hardly_does(self) -> None:
        other = self.lab + np.random.default_rng(1).normal(0, 0.001, self.lab.shape).astype(f32)
        one, two = palette(self.lab, 8), palette(other, 8)
        self.assertEqual(len(one), len(two))
        self.assertLess(float(np.abs(one - two).max()), 0.02)

    def test_without_smoothing_the_cheapest_colour_wins(self) -> None:
        colours = palette(self.lab, 5)
        apart = (((self.lab * CHANNELS)[:, :, None] - colours * CHANNELS) ** 2).sum(-1)
        labels = colour_labels(self.lab, colours, 0.1, rounds=1)
        two = np.sort(apart, -1)
        clear = two[..., 1] - two[..., 0] > 1e-5
        np.testing.assert_array_equal(labels[clear], apart.argmin(-1)[clear])


if __name__ == "__main__":
    unittest.main()
