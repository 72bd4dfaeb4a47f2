"""Areas of a picture: parting, joining, numbering, enlarging, and the lines along their borders."""

import unittest

import cv2
import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import ndimage

from tests.pictures import harbour
from warmtide.core.looks.graphic.flat_shapes import designed
from warmtide.core.looks.shared.areas import edges_within, enlarged_labels, few_labels, outlines, shapes
from warmtide.core.looks.shared.pen import placed, tapered
from warmtide.core.maths.arrays import AnyArray, Float, Int, f32
from warmtide.core.maths.colour import bytes_to_lab
from warmtide.core.model.sitting import Sitting
from warmtide.core.understanding.areas import merged, parts
from warmtide.core.understanding.palette import colour_labels

maps = st.builds(
    lambda height, width, count, seed: np.random.default_rng(seed).integers(0, count, (height, width)).astype(np.int32),
    st.integers(3, 24), st.integers(3, 24), st.integers(1, 4), st.integers(0, 999),
)  # fmt: skip


def neighbours(ids: Int) -> set[tuple[int, int]]:
    """Pairs of different ids that lie beside or above each other."""
    pairs = np.concatenate([
        np.stack([ids[:, :-1].ravel(), ids[:, 1:].ravel()], 1), np.stack([ids[:-1].ravel(), ids[1:].ravel()], 1)
    ])  # fmt: skip
    return {(int(min(a, b)), int(max(a, b))) for a, b in pairs if a != b}


def coarser(fine: AnyArray, coarse: AnyArray) -> bool:
    """Whether each part of one map lies within one part of the other."""
    return all(len(np.unique(coarse[fine == k])) == 1 for k in np.unique(fine))


class Parts(unittest.TestCase):
    @settings(max_examples=40, deadline=None)
    @given(labels=maps)
    def test_parts_are_the_connected_pieces_of_each_label(self, labels: Int) -> None:
        ids, count = parts(labels)
        self.assertEqual(set(np.unique(ids)), set(range(count)))
        expected = sum(ndimage.label(labels == k)[1] for k in np.unique(labels))
        self.assertEqual(count, expected)
        for k in np.unique(labels):
            found, _ = ndimage.label(labels == k)
            inside = labels == k
            self.assertTrue(coarser(found[inside], ids[inside]) and coarser(ids[inside], found[inside]))

    @settings(max_examples=40, deadline=None)
    @given(labels=maps)
    def test_neighbours_never_share_a_number(self, labels: Int) -> None:
        ids, _ = parts(labels)
        numbers = few_labels(ids)
        self.assertTrue(coarser(ids, numbers))
        for a, b in neighbours(ids):
            self.assertNotEqual(numbers[ids == a][0], numbers[ids == b][0])
        # Greedy colouring of what lies in a plane: a handful.
        self.assertLess(int(numbers.max()), 8)

    def test_one_part_has_one_number(self) -> None:
        self.assertEqual(int(few_labels(np.zeros((7, 9), np.int32)).max()), 0)


class Joining(unittest.TestCase):
    def setUp(self) -> None:
        random = np.random.default_rng(8)
        self.lab = cv2.GaussianBlur(random.normal(0.5, 0.4, (48, 64, 3)).astype(f32), (0, 0), 3)
        colours = np.quantile(self.lab.reshape(-1, 3), (0.1, 0.4, 0.6, 0.9), axis=0).astype(f32)
        self.ids, self.count = parts(colour_labels(self.lab, colours, 0.6))

    def test_parts_are_only_ever_joined(self) -> None:
        for edges in (False, True):
            ids = merged(self.ids, self.lab, 0.05, 12, edges=edges)
            self.assertTrue(coarser(self.ids, ids))
            self.assertEqual(set(np.unique(ids)), set(range(int(ids.max()) + 1)))
            self.assertLess(int(ids.max()) + 1, self.count)
            # What is joined is one piece.
            self.assertEqual(parts(ids)[1], int(ids.max()) + 1)

    def test_nothing_alike_and_nothing_small_stays_as_it_is(self) -> None:
        np.testing.assert_array_equal(merged(self.ids, self.lab, -1, 0), self.ids)

    def test_the_more_alike_may_join_the_fewer_are_left(self) -> None:
        left = [int(merged(self.ids, self.lab, alike, 0, rounds=60).max()) for alike in (0.01, 0.06, 0.2, 5.0)]
        self.assertEqual(left, sorted(left, reverse=True))
        self.assertEqual(left[-1], 0)

    def test_small_parts_go_unless_they_are_worth_it(self) -> None:
        lab = np.full((40, 40, 3), 0.3, f32)
        lab[10:13, 10:13], lab[20:36, 20:36] = 0.9, 0.6
        ids, count = parts((lab[..., 0] * 10).astype(np.int32))
        self.assertEqual(count, 3)
        self.assertEqual(int(merged(ids, lab, 0.01, 20).max()), 1)
        worth = np.ones((40, 40), f32)
        worth[10:13, 10:13] = 5
        self.assertEqual(int(merged(ids, lab, 0.01, 20, worth).max()), 2)


class Enlarging(unittest.TestCase):
    def test_borders_lie_where_they_lay(self) -> None:
        ys, xs = np.mgrid[0:30, 0:40]
        labels = (np.hypot(xs - 20, ys - 15) < 9).astype(np.int32)
        large = enlarged_labels(labels, 1.0, (160, 120))
        self.assertEqual(large.shape, (120, 160))
        ys, xs = np.mgrid[0:120, 0:160]
        round_ = np.hypot((xs + 0.5) / 4 - 0.5 - 20, (ys + 0.5) / 4 - 0.5 - 15) < 8.75
        self.assertGreater(float((large == round_).mean()), 0.985)
        # Smooth: as few steps along the border as a circle drawn at that size has.
        self.assertLess(int((np.diff(large, axis=1) != 0).sum()), 1.1 * int((np.diff(round_, axis=1) != 0).sum()))

    @settings(max_examples=20, deadline=None)
    @given(labels=maps, zoom=st.integers(1, 4))
    def test_only_what_was_there_comes_out(self, labels: Int, zoom: int) -> None:
        size = (labels.shape[1] * zoom, labels.shape[0] * zoom)
        self.assertLessEqual(set(np.unique(enlarged_labels(labels, 0.5, size))), set(np.unique(labels)))


class Shapes(unittest.TestCase):
    def setUp(self) -> None:
        self.picture = harbour(171, 256, 5)
        self.sitting = Sitting("areas", 3, 171, 256)
        self.found = shapes(bytes_to_lab(self.picture), self.sitting, 9, 2.0, 120, 0.05)

    def test_every_area_has_one_colour_of_the_palette(self) -> None:
        found = self.found
        self.assertEqual(found.ids.shape, found.labels.shape)
        self.assertTrue(coarser(found.ids, found.labels))
        self.assertLessEqual(int(found.labels.max()), len(found.colours) - 1)
        self.assertLessEqual(len(found.colours), 9)
        self.assertTrue((np.diff(found.colours[:, 0]) >= 0).all(), "from dark to light")

    def test_the_same_areas_at_twice_the_size(self) -> None:
        large = cv2.resize(self.picture, (512, 342), interpolation=cv2.INTER_CUBIC)
        twice = shapes(bytes_to_lab(large), Sitting("areas", 3, 342, 512), 9, 2.0, 120, 0.05)
        self.assertEqual((twice.ids.shape, twice.zoom), (self.found.ids.shape, 2.0))
        edge = [np.diff(f.ids, axis=1) != 0 for f in (self.found, twice)]
        near = [cv2.dilate(e.astype(np.uint8), np.ones((5, 5), np.uint8)) > 0 for e in edge]
        self.assertGreater(float((edge[0] & near[1]).sum() / edge[0].sum()), 0.8)
        self.assertGreater(float((edge[1] & near[0]).sum() / edge[1].sum()), 0.8)

    def test_outlines_run_along_edges_and_know_how_firm_they_are(self) -> None:
        lab = np.full((120, 160, 3), (0.4, 0, 0), f32)
        lab[30:90, 20:70, 0], lab[30:90, 90:140, 0] = 0.9, 0.55
        chains, contrast = outlines(lab, Sitting("areas", 3, 120, 160), 60, 0.05, 10)
        self.assertGreater(len(chains), 1)
        points = np.concatenate(chains)
        for x, y in points:
            beside = min(
                max(abs(x - (left + right) / 2) - (right - left) / 2, abs(y - 60) - 30)
                for left, right in ((20, 70), (90, 140))
            )
            self.assertLess(abs(beside), 6, (x, y))
        self.assertEqual(contrast.shape, (120, 160))
        self.assertGreater(float(contrast[55:65, 16:24].max()), 1.5 * float(contrast[55:65, 136:144].max()))
        self.assertEqual(float(contrast[60, 45]), 0)

    def test_edges_are_found_whether_or_not_an_area_ends_there(self) -> None:
        lab = np.full((120, 160, 3), (0.3, 0, 0), f32)
        lab[:, :, 0] += np.linspace(0, 0.25, 160, dtype=f32)
        # A ring on a slope, a little darker than what lies around it.
        ys, xs = np.mgrid[0:120, 0:160]
        away = np.hypot(xs - 80, ys - 60)
        lab[np.abs(away - 30) < 5, 0] -= 0.18
        found = shapes(lab, Sitting("areas", 3, 120, 160), 8, 2.0, 60, 0.085, edges=True)
        lines = edges_within(found, 14, 0.08)
        self.assertTrue(lines)
        points = np.concatenate([chain for chain, _ in lines])
        off = np.abs(np.hypot(*(points - (80, 60)).T) - 30)
        # Both rims of the ring, all the way round, and nothing on the slope.
        self.assertLess(float(np.abs(off - 5).max()), 2.5)
        turns = np.arctan2(points[:, 1] - 60, points[:, 0] - 80)
        self.assertGreater(len(np.unique(np.round(turns * 6))), 34)
        # Quiet tones are brought out before they are parted: .18 is more by then, but not three times as much.
        self.assertTrue(all(0.1 < risen < 0.54 for _, risen in lines), [risen for _, risen in lines])
        self.assertEqual(edges_within(found, 14, 0.6), [])
        self.assertEqual(edges_within(found, 1000, 0.08), [])

    def test_a_designed_palette_is_spread_and_more_coloured(self) -> None:
        colours = np.array([[0.40, 0.02, 0.03], [0.45, 0.05, -0.04], [0.5, 0.01, 0.0], [0.55, -0.05, 0.03]], f32)
        out = designed(colours, self.sitting)
        self.assertGreater(float(np.ptp(out[:, 0])), 2 * float(np.ptp(colours[:, 0])))
        chroma = [np.hypot(c[:, 1], c[:, 2]) for c in (colours, out)]
        self.assertTrue((chroma[1][[1, 3]] > chroma[0][[1, 3]]).all())
        self.assertLess(float(chroma[1].max()), 0.21)
        self.assertEqual(list(np.argsort(out[:, 0])), [0, 1, 2, 3])


class Chains(unittest.TestCase):
    @settings(max_examples=20, deadline=None)
    @given(zoom=st.floats(0.5, 4), count=st.integers(8, 60))
    def test_a_chain_of_another_size_lies_in_its_place(self, zoom: float, count: int) -> None:
        line: Float = np.stack([np.linspace(3, 3 + count - 1, count), np.full(count, 7)], 1).astype(f32)
        out = placed(line, zoom)
        # Middles of pixels, not their corners, are what lies in the same place.
        np.testing.assert_allclose(out[0], ((3 + 0.5) * zoom - 0.5, 7.5 * zoom - 0.5), atol=1e-3)
        np.testing.assert_allclose(out[-1, 0], (3 + count - 0.5) * zoom - 0.5, atol=1e-3)
        self.assertLess(abs(len(out) - count * zoom), 4)

    def test_pressure_falls_off_at_both_ends_only(self) -> None:
        press = tapered(50, 8)
        np.testing.assert_allclose(press, press[::-1])
        self.assertEqual(float(press[0]), 0)
        np.testing.assert_array_equal(press[8:-8], 1)
        self.assertTrue((np.diff(press[:9]) > 0).all())
