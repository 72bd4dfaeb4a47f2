"""The first readings order pictures as an eye does."""

import unittest

import cv2
import numpy as np

from tests.pictures import harbour
from warmtide.core.errors import BadInput
from warmtide.core.readings.measure import measure


class Composition(unittest.TestCase):
    def setUp(self) -> None:
        self.source = harbour(192, 288)

    def read(self, take) -> float:  # type: ignore[no-untyped-def]
        return float(measure(self.source, take)["composition"])

    def test_the_source_keeps_everything(self) -> None:
        readings = measure(self.source, self.source)
        self.assertEqual((readings["composition"], readings["colour"]), (100, 100))

    def test_an_unrelated_picture_keeps_nothing(self) -> None:
        noise = np.random.default_rng(0).integers(0, 255, self.source.shape, dtype=np.uint8)
        for other in (harbour(192, 288, seed=40)[:, ::-1], noise, np.full_like(self.source, 128)):
            self.assertLess(self.read(np.ascontiguousarray(other)), 35)

    def test_recolouring_keeps_the_composition(self) -> None:
        self.assertGreater(self.read(255 - self.source), 85)
        self.assertGreater(self.read(np.ascontiguousarray(self.source[..., ::-1])), 80)
        grey = cv2.cvtColor(cv2.cvtColor(self.source, cv2.COLOR_RGB2GRAY), cv2.COLOR_GRAY2RGB)
        # Houses of one lightness and different hues do lose their borders in grey.
        self.assertGreater(self.read(grey), 70)

    def test_moving_it_loses_it_bit_by_bit(self) -> None:
        kept = [self.read(np.roll(self.source, shift, axis=1)) for shift in (0, 4, 10, 30)]
        self.assertEqual(kept, sorted(kept, reverse=True))
        self.assertLess(kept[-1], kept[0] / 2)

    def test_size_hardly_matters(self) -> None:
        take = cv2.GaussianBlur(self.source, (0, 0), 3)
        small = [cv2.resize(p, (216, 144), interpolation=cv2.INTER_AREA) for p in (self.source, take)]
        self.assertAlmostEqual(self.read(take), measure(*small)["composition"], delta=8)

    def test_different_sizes_are_refused(self) -> None:
        with self.assertRaisesRegex(BadInput, "same size"):
            measure(self.source, harbour())


class Colour(unittest.TestCase):
    def test_the_more_hue_is_turned_the_less_is_kept(self) -> None:
        source = harbour(192, 288)
        hsv = cv2.cvtColor(source, cv2.COLOR_RGB2HSV)
        kept = []
        for turn in (0, 15, 40, 80):
            turned = hsv.copy()
            turned[..., 0] = (turned[..., 0].astype(int) + turn) % 180
            kept.append(measure(source, cv2.cvtColor(turned, cv2.COLOR_HSV2RGB))["colour"])
        self.assertEqual(kept, sorted(kept, reverse=True))
        self.assertGreater(kept[0], 95)
        self.assertLess(kept[-1], 80)
