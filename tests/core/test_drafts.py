"""Drafts and glimpses foretell their take, and what a painter decides does not flip over a hair's breadth."""

import unittest
from itertools import pairwise

import cv2
import numpy as np

from tests.pictures import harbour
from warmtide.core.engine.draft import drafted, drafted_shape, octaves_left_out
from warmtide.core.job.take import restyle
from warmtide.core.looks.made.neon import _by_tube, _lights, _tube
from warmtide.core.looks.mixed import _own
from warmtide.core.looks.printed.linocut import _second_share, _two_hues
from warmtide.core.looks.registry import look_named
from warmtide.core.maths.arrays import Byte, Float, f32
from warmtide.core.maths.colour import bytes_to_lab
from warmtide.core.model.cache import SharedCache
from warmtide.core.model.recipe import Recipe
from warmtide.core.model.sitting import Sitting

# Looks whose glimpses once were another picture, and how far one agrees with its take. Where all is thin lines, one
# that comes or goes counts for much.
GLIMPSES = {
    "line-art": 0.75, "linocut": 0.9, "marker": 0.9, "mosaic": 0.95, "neon": 0.8, "risograph": 0.95, "watercolour": 0.95,
}  # fmt: skip


def low(picture: Byte) -> Float:
    """Lightness on a grid 32 wide."""
    return cv2.resize(picture, (32, 21), interpolation=cv2.INTER_AREA).astype(f32).mean(-1).ravel()


class Foretelling(unittest.TestCase):
    def test_small_and_quick_pictures_are_the_same_picture(self) -> None:
        source, cache = harbour(341, 512, 77), SharedCache()
        for look, least in GLIMPSES.items():
            found: dict[str, list[float]] = {"draft": [], "glimpse": []}
            for seed in (3, 4):
                recipe = Recipe(look=look, strength=0.9, seed=seed)
                take = low(restyle(source, recipe, cache=cache))
                for quality, kept in found.items():
                    small = low(restyle(source, recipe.changed(quality=quality), cache=cache))
                    kept.append(float(np.corrcoef(take, small)[0, 1]))
            with self.subTest(look=look):
                self.assertGreater(float(np.mean(found["draft"])), 0.87, found)
                self.assertGreater(float(np.mean(found["glimpse"])), least, found)

    def test_sizes_of_drafts(self) -> None:
        self.assertEqual(drafted_shape(341, 512, "draft"), (171, 256))
        self.assertEqual(drafted_shape(341, 512, "glimpse"), (86, 128))
        self.assertEqual(drafted_shape(341, 512, "full"), (341, 512))
        # A short side is never halved below what marks need.
        self.assertEqual(octaves_left_out(90, 1024, "glimpse"), 0)
        self.assertEqual(drafted_shape(100, 1024, "glimpse"), (50, 512))
        small, levels = drafted(harbour(128, 192, 5), "glimpse")
        self.assertEqual(small.shape, (64, 96, 3))
        # The octaves of the picture stay: one less halved away, one level less.
        self.assertEqual(levels, drafted(harbour(128, 192, 5), "full")[1] - 1)


class Marks(unittest.TestCase):
    def test_marks_follow_a_small_picture_as_far_as_the_look_says(self) -> None:
        self.assertEqual(Sitting("any", 1, 64, 96).scale, 0.28)
        self.assertEqual(Sitting("any", 1, 64, 96, least_scale=0.12).scale, 0.16)
        self.assertEqual(Sitting("any", 1, 40, 96, least_scale=0.12).scale, 0.12)
        self.assertEqual(Sitting("any", 1, 800, 900, least_scale=0.12).scale, 2.0)

    def test_each_of_two_mixed_looks_keeps_its_own_least_marks(self) -> None:
        for name in ("marker", "oil"):
            look = look_named(name)
            self.assertEqual(_own(Sitting("mixed", 1, 64, 96), look).least_scale, look.handling.least_scale)
        self.assertLess(look_named("marker").handling.least_scale, look_named("oil").handling.least_scale)


def greys(picture: Byte) -> Byte:
    return np.repeat(cv2.cvtColor(picture, cv2.COLOR_RGB2GRAY)[..., None], 3, -1)


def halves(first: tuple[float, float], second: tuple[float, float]) -> Float:
    """A picture of two hues: (chroma, hue) left and right."""
    picture = np.full((40, 60, 3), 0.6, f32)
    for side, (chroma, hue) in ((np.s_[:, :30], first), (np.s_[:, 30:], second)):
        picture[side][..., 1], picture[side][..., 2] = chroma * np.cos(hue), chroma * np.sin(hue)
    return picture


def hues_of(picture: Float) -> tuple[float, float]:
    return _two_hues(picture, np.hypot(picture[..., 1], picture[..., 2]))[:2]


class Blocks(unittest.TestCase):
    def test_the_second_block_takes_the_second_hue(self) -> None:
        first, second = hues_of(halves((0.15, 0.5), (0.10, 2.2)))
        self.assertAlmostEqual(first, 0.5, delta=0.06)
        self.assertAlmostEqual(second, 2.2, delta=0.06)

    def test_a_picture_of_one_hue_is_given_another_far_off(self) -> None:
        first, second = hues_of(halves((0.15, 0.5), (0.15, 0.51)))
        self.assertAlmostEqual(second - first, 2.5, delta=0.1)

    def test_the_second_hue_never_jumps(self) -> None:
        """From a second colour too faint to count to one that fully does, in small steps."""
        found = []
        for chroma in np.linspace(0.004, 0.08, 77):
            first, second = hues_of(halves((0.15, 0.5), (float(chroma), 1.1)))
            found.append(second - first)
        steps = np.abs(np.diff(found))
        self.assertGreater(max(found) - min(found), 1.2)
        self.assertLess(float(steps.max()), 0.35)

    def test_a_picture_in_greys_is_printed_in_greys(self) -> None:
        grey, coloured = (
            restyle(source, Recipe(look="linocut", strength=0.9, seed=seed), cache=SharedCache())
            for seed, source in ((3, greys(harbour(171, 256, 12))), (3, harbour(171, 256, 12)))
        )
        chroma = [
            float(np.percentile(np.hypot(*np.moveaxis(bytes_to_lab(p)[..., 1:], -1, 0)), 95)) for p in (grey, coloured)
        ]
        self.assertLess(chroma[0], 0.035)
        self.assertGreater(chroma[1], 0.08)

    def test_between_two_hues_both_blocks_print(self) -> None:
        hue = np.array([[0.5, 0.8, 1.0, 1.2, 1.5]], f32)
        share = _second_share(hue, 0.5, 1.5)[0]
        np.testing.assert_allclose(share, [0, 0, 0.5, 1, 1], atol=0.2)
        self.assertTrue((np.diff(share) >= 0).all())
        # Around the circle: what is nearer on the far side counts as nearer.
        self.assertGreater(float(_second_share(np.array([[-3.1]], f32), 1.0, 3.0)[0, 0]), 0.99)


class Tubes(unittest.TestCase):
    def test_greys_burn_white_and_colours_in_their_hue(self) -> None:
        colours = np.array([[0.8, 0, 0], [0.2, 0, 0], [0.6, 0.15, 0.04], [0.5, -0.02, -0.14]], f32)
        tubes = _tube(colours, 0.0)
        self.assertEqual(tubes[:2].tolist(), [0, 1])
        red, green, blue = _lights()[tubes[2]]
        self.assertTrue(red > green and red > blue)
        red, green, blue = _lights()[tubes[3]]
        self.assertTrue(blue > green and blue > red)

    def test_a_line_goes_over_to_another_tube_where_its_colour_does(self) -> None:
        picture = halves((0.15, 0.3), (0.15, -1.75))
        line = np.stack([np.arange(60), np.full(60, 20)], 1).astype(f32)
        runs = _by_tube(line, picture, 0.0, 0.5)
        self.assertEqual((runs[0][0], runs[-1][1]), (0, 60))
        self.assertEqual(len(runs), 2)
        self.assertLess(abs(runs[0][1] - 30), 6)
        self.assertNotEqual(runs[0][2], runs[1][2])

    def test_a_tube_is_not_cut_into_crumbs(self) -> None:
        picture = halves((0.15, 0.3), (0.15, -1.75))
        picture[:, ::3, 1:] *= -1
        line = np.stack([np.arange(60), np.full(60, 20)], 1).astype(f32)
        runs = _by_tube(line, picture, 0.0, 1.0)
        self.assertEqual((runs[0][0], runs[-1][1]), (0, 60))
        self.assertTrue(all(b == c for (_, b, _), (c, _, _) in pairwise(runs)))
        self.assertLessEqual(len(runs), 2)
