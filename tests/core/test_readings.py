"""The readings order pictures as an eye does; controls have a known truth."""

import unittest

import cv2
import numpy as np

from tests.core import controls
from tests.pictures import disc_on_ground, harbour
from warmtide.core.errors import BadInput
from warmtide.core.readings.features import read_features
from warmtide.core.readings.heat import heat, worst_region
from warmtide.core.readings.measure import measure, read


class Composition(unittest.TestCase):
    def setUp(self) -> None:
        self.source = harbour(256, 384)
        self.features = read_features(self.source)

    def kept(self, take) -> float:  # type: ignore[no-untyped-def]
        return float(read(self.features, take).figures["composition"])

    def test_the_source_keeps_everything(self) -> None:
        readings = measure(self.source, self.source)
        self.assertEqual((readings["composition"], readings["colour"]), (100, 100))
        self.assertIsNone(readings["worst"])

    def test_another_medium_keeps_it_and_another_layout_loses_it(self) -> None:
        high = {name: self.kept(control(self.source)) for name, control in controls.KEEP.items()}
        low = {name: self.kept(control(self.source)) for name, control in controls.LOSE.items()}
        low["another picture"] = self.kept(np.ascontiguousarray(np.rot90(harbour(384, 256, seed=40))))
        self.assertGreater(min(high.values()), 75, high)
        # Upside down, a row of houses still has its horizon and its upright walls.
        self.assertLess(max(low.values()), 50, low)
        self.assertLess(float(np.median(list(low.values()))), 15, low)

    def test_outlines_alone_keep_more_than_half(self) -> None:
        self.assertGreater(self.kept(controls.outlined(self.source)), 50)

    def test_moving_or_bending_loses_it_bit_by_bit(self) -> None:
        for make in (controls.shifted, controls.bent):
            kept = [self.kept(make(share)(self.source)) for share in (0, 0.01, 0.03, 0.06)]
            self.assertEqual(kept, sorted(kept, reverse=True))
            self.assertGreater(kept[1], 80)
            self.assertLess(kept[-1], 25)

    def test_what_moved_is_told_from_what_is_gone(self) -> None:
        moved = read(self.features, controls.shifted(0.03)(self.source)).figures["parts"]
        gone = read(self.features, controls.blank(self.source)).figures["parts"]
        self.assertGreater(moved["moved"], 2 * moved["gone"])
        self.assertAlmostEqual(moved["shift"], 3, delta=1)
        self.assertGreater(gone["gone"], 90)
        self.assertGreater(read(self.features, controls.noise(self.source)).figures["parts"]["added"], 50)

    def test_size_hardly_matters(self) -> None:
        for control in (controls.blurred, controls.hatched, controls.bent(0.03)):
            take = control(self.source)
            small = [cv2.resize(p, (288, 192), interpolation=cv2.INTER_AREA) for p in (self.source, take)]
            self.assertAlmostEqual(self.kept(take), measure(*small)["composition"], delta=3)

    def test_the_heat_finds_local_damage(self) -> None:
        for x, y in ((40, 70), (200, 110), (290, 60)):
            take = self.source.copy()
            take[y : y + 60, x : x + 60] = cv2.GaussianBlur(take[y : y + 60, x : x + 60], (0, 0), 20)
            composition = read(self.features, take).composition
            warm = heat(composition)
            row, column = (int(v) for v in np.unravel_index(warm.argmax(), warm.shape))
            height, width = warm.shape
            self.assertTrue(x - 8 <= column / width * 384 <= x + 68, (x, column / width * 384))
            self.assertTrue(y - 8 <= row / height * 256 <= y + 68, (y, row / height * 256))
            region = worst_region(composition)
            assert region is not None
            self.assertTrue(region.left * 384 < x + 30 < region.right * 384, region)
            self.assertTrue(region.top * 256 < y + 30 < region.bottom * 256, region)
            self.assertLess(region.kept, composition.kept)

    def test_a_lost_emblem_is_lost(self) -> None:
        source = disc_on_ground(192, 192)
        self.assertLess(measure(source, np.full_like(source, 230))["composition"], 5)
        self.assertEqual(measure(np.full_like(source, 230), np.full_like(source, 230))["composition"], 100)

    def test_different_sizes_are_refused(self) -> None:
        with self.assertRaisesRegex(BadInput, "same size"):
            measure(self.source, harbour())


class Colour(unittest.TestCase):
    def test_the_more_hue_is_turned_the_less_is_kept(self) -> None:
        source = harbour(192, 288)
        hsv = cv2.cvtColor(source, cv2.COLOR_RGB2HSV)
        kept = []
        for turn in (0, 8, 20, 60):
            turned = hsv.copy()
            turned[..., 0] = (turned[..., 0].astype(int) + turn) % 180
            kept.append(measure(source, cv2.cvtColor(turned, cv2.COLOR_HSV2RGB))["colour"])
        self.assertEqual(kept, sorted(kept, reverse=True))
        self.assertGreater(kept[0], 95)
        self.assertLess(kept[-1], 50)

    def test_grey_keeps_no_saturation(self) -> None:
        source = harbour(192, 288)
        readings = measure(source, controls.grey(source))
        self.assertLess(readings["parts"]["saturation"], 0.1)
        self.assertLess(readings["colour"], 60)
