"""What the reading of composition says of pictures whose change is known."""

import unittest

import cv2
import numpy as np

from tests.pictures import disc_on_ground, harbour
from warmtide.core.maths.arrays import Byte
from warmtide.core.readings.composition import Composition, composition_kept
from warmtide.core.readings.features import read_features


def compared(source: Byte, take: Byte, ground: "np.ndarray | None" = None) -> Composition:  # type: ignore[type-arg]
    return composition_kept(read_features(source), read_features(take), ground)


def shifted(picture: Byte, dx: int, dy: int = 0) -> Byte:
    move = np.array([[1, 0, dx], [0, 1, dy]], np.float32)
    out: Byte = cv2.warpAffine(picture, move, picture.shape[1::-1], borderMode=cv2.BORDER_REPLICATE)
    return out


class Kept(unittest.TestCase):
    def setUp(self) -> None:
        self.source = harbour(171, 256, 31)

    def test_a_picture_keeps_all_of_itself(self) -> None:
        found = compared(self.source, self.source)
        self.assertEqual((found.kept, found.gone, found.moved), (100, 0, 0))
        self.assertLess(found.added, 1)
        self.assertAlmostEqual(float(found.weight.sum()), 1, places=4)
        self.assertLess(float(found.loss.max()), 1e-3)

    def test_colour_tone_and_medium_cost_nothing(self) -> None:
        darker = (self.source * 0.55 + 12).astype(np.uint8)
        swapped = np.ascontiguousarray(self.source[..., ::-1])
        negative = 255 - self.source
        for name, take in (("darker", darker), ("swapped", swapped), ("negative", negative)):
            with self.subTest(name):
                self.assertGreater(compared(self.source, take).kept, 90)

    def test_another_picture_keeps_nothing(self) -> None:
        noise = np.random.default_rng(4).integers(0, 255, self.source.shape, dtype=np.uint8)
        for take in (np.ascontiguousarray(self.source[::-1, ::-1]), cv2.GaussianBlur(noise, (0, 0), 6), noise):
            found = compared(self.source, take)
            self.assertLess(found.kept, 25)
            self.assertGreater(found.added, 50)

    def test_what_has_moved_is_told_from_what_is_gone(self) -> None:
        moved = compared(self.source, shifted(self.source, 6))
        self.assertGreater(moved.moved, 10)
        self.assertGreater(moved.moved, moved.gone)
        # 6 of 256 pixels.
        self.assertAlmostEqual(moved.shift, 2.3, delta=0.8)
        blurred = compared(self.source, cv2.GaussianBlur(self.source, (0, 0), 24))
        self.assertGreater(blurred.gone, blurred.moved)

    def test_the_further_it_moved_the_less_is_kept(self) -> None:
        kept = [compared(self.source, shifted(self.source, dx)).kept for dx in (0, 2, 5, 9)]
        self.assertEqual(kept, sorted(kept, reverse=True))
        self.assertGreater(kept[0] - kept[-1], 25)

    def test_a_local_loss_lies_where_it_is(self) -> None:
        take = self.source.copy()
        take[60:120, 90:170] = 128
        found = compared(self.source, take)
        tall, wide = found.loss.shape
        inside = np.zeros((tall, wide), bool)
        inside[60 * tall // 171 : 120 * tall // 171, 90 * wide // 256 : 170 * wide // 256] = True
        self.assertGreater(float(found.loss[inside].sum()), 0.7 * float(found.loss.sum()))
        self.assertLess(found.kept, 97)

    def test_shapes_and_ranges(self) -> None:
        found = compared(self.source, np.ascontiguousarray(self.source[:, ::-1]))
        self.assertEqual(found.share.shape, found.weight.shape)
        self.assertLessEqual(float(found.share.max()), 1)
        for value in (found.kept, found.fine, found.mid, found.coarse, found.gone, found.added):
            self.assertTrue(0 <= value <= 100, value)


class Silhouettes(unittest.TestCase):
    def test_of_two_badges_with_one_outline_the_inside_must_stay_too(self) -> None:
        """Round badges share their outline: without a known ground that alone would count for much."""
        source = disc_on_ground(256, 256)
        take = source.copy()
        ys, xs = np.mgrid[0:256, 0:256]
        middle = np.hypot(xs - 128, ys - 128)
        radius = float(np.hypot(*(np.argwhere((source != source[0, 0]).any(-1)) - 128).T).max())
        source[middle < 0.6 * radius] = (250, 240, 60)
        source[(middle < 0.6 * radius) & (xs > 128)] = (20, 60, 160)
        take[(np.abs(xs - ys) < 14) & (middle < 0.7 * radius)] = (20, 60, 160)
        ground = (source == source[0, 0]).all(-1)
        self.assertLess(compared(source, take, ground).kept, compared(source, take).kept - 3)
        self.assertGreater(compared(source, source, ground).kept, 99)


class Blank(unittest.TestCase):
    def test_a_blank_source_loses_only_what_is_put_there(self) -> None:
        blank = np.full((128, 192, 3), 200, np.uint8)
        self.assertAlmostEqual(compared(blank, blank).kept, 100, places=4)
        self.assertLess(compared(blank, harbour(128, 192, 3)).kept, 30)

    def test_a_blank_take_keeps_nothing(self) -> None:
        source = harbour(128, 192, 3)
        found = compared(source, np.full_like(source, 128))
        self.assertLess(found.kept, 5)
        self.assertLess(found.moved, 5)
