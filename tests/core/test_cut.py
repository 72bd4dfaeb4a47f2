"""A subject cut out of its picture."""

import unittest

import cv2
import numpy as np

from bench.cut import overlap
from tests import badges
from tests.people import Build, by_lot, cut_person
from tests.pictures import harbour
from warmtide.core.maths.arrays import AnyArray, Byte, Float, Mask
from warmtide.core.maths.edge_aware import guided_by_colour, guided_plane
from warmtide.core.maths.sizes import smaller
from warmtide.core.understanding.cut.alpha import edges_of
from warmtide.core.understanding.cut.cut_out import WORKED, cut_out
from warmtide.core.understanding.cut.masks import mended, states_of_line, without_crumbs


def composed(build: Build, seed: int = 3) -> tuple[Byte, Float, Byte]:
    """A person over another picture, how solid it is, and its own colours."""
    colours, cover = cut_person(build)
    ground = harbour(256, 224, seed)
    return (ground * (1 - cover[..., None]) + colours * cover[..., None]).astype(np.uint8), cover, colours


def stroke(mask: Mask, truth: Mask) -> AnyArray:
    """What an artist would draw first: a dab in the middle of the largest mistake."""
    wrong = (mask != truth).astype(np.uint8)
    count, parts, sizes, _ = cv2.connectedComponentsWithStats(wrong)
    said = np.zeros(mask.shape, np.int8)
    if count < 2:
        return said
    piece = (parts == 1 + int(np.argmax(sizes[1:, 4]))).astype(np.uint8)
    depth = cv2.distanceTransform(piece, cv2.DIST_L2, 3)
    y, x = np.unravel_index(int(depth.argmax()), depth.shape)
    dab = cv2.circle(np.zeros(mask.shape, np.uint8), (int(x), int(y)), max(int(0.6 * depth[y, x]), 1), 1, -1)
    said[dab > 0] = 1 if truth[y, x] else -1
    return said


class CutOut(unittest.TestCase):
    def test_persons_in_one_go_and_after_three_strokes(self) -> None:
        first, last = [], []
        for number in (2, 5, 9, 12):
            picture, cover, _ = composed(by_lot(number))
            cut = cut_out(picture)
            self.assertEqual(cut.kind, "person")
            first.append(overlap(cut.alpha, cover))
            said = np.zeros(cut.mask.shape, np.int8)
            for _ in range(3):
                new = stroke(cut.mask, cover > 0.5)
                said = np.where(new != 0, new, said)
                cut = cut_out(picture, strokes=said, known=cut.mask)
            last.append(overlap(cut.alpha, cover))
        self.assertGreater(float(np.mean(first)), 0.95, first)
        self.assertGreater(float(np.mean(last)), 0.975, last)
        self.assertGreaterEqual(min(last), min(first))

    def test_flat_art_comes_off_its_ground_exactly(self) -> None:
        # What is enclosed is not ground by itself: rings keep their middle until a stroke takes it out.
        for name in ("gear", "leaf", "shield", "fish", "letters"):
            with self.subTest(name):
                cut = cut_out(badges.picture(name, 300))
                self.assertEqual(cut.kind, "flat")
                self.assertGreater(overlap(cut.alpha, badges.cover(name, 300) / 255), 0.97)

    def test_colours_at_edges_are_free_of_the_ground(self) -> None:
        picture, cover, own = composed(by_lot(9))
        cut = cut_out(picture)
        edge = (cover > 0.3) & (cover < 0.8) & (cut.alpha > 0.1)
        wanted = own[edge].astype(float)
        self.assertGreater(int(edge.sum()), 100)
        self.assertLess(
            float(np.abs(cut.colours[edge] - wanted).mean()), 0.75 * float(np.abs(picture[edge] - wanted).mean())
        )

    def test_nothing_and_what_is_asked_for(self) -> None:
        noise = np.random.default_rng(1).normal(128, 40, (200, 300, 3)).clip(0, 255).astype(np.uint8)
        self.assertEqual(cut_out(noise).kind, "none")
        self.assertEqual(float(cut_out(noise).alpha.max()), 0)
        badge = badges.picture(next(iter(badges.BADGES)), 200)
        self.assertEqual(cut_out(badge, "person").kind, "none")
        self.assertEqual(cut_out(composed(Build())[0], "flat").kind, "none")

    def test_a_large_picture_is_cut_at_its_own_size(self) -> None:
        picture, cover, _ = composed(by_lot(9))
        large = cv2.resize(picture, None, fx=4, fy=4, interpolation=cv2.INTER_CUBIC)
        cut = cut_out(large)
        self.assertEqual(cut.alpha.shape, large.shape[:2])
        self.assertEqual(cut.mask.shape, smaller(large, WORKED).shape[:2])
        whole = cv2.resize(cover, large.shape[1::-1], interpolation=cv2.INTER_LINEAR)
        self.assertGreater(overlap(cut.alpha, whole), 0.94)

    def test_a_rough_line_around_it_is_enough(self) -> None:
        picture, cover, _ = composed(by_lot(9))
        outline = max(
            cv2.findContours((cover > 0.5).astype(np.uint8), cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_SIMPLE)[0], key=len
        )[:, 0]
        middle = outline.mean(0)
        rough = (middle + 1.06 * (outline - middle))[::8]
        self.assertGreater(overlap(cut_out(picture, line=rough).alpha, cover), 0.93)


class Parts(unittest.TestCase):
    def test_strokes_change_only_what_they_touch(self) -> None:
        picture = np.full((120, 200, 3), 90, np.uint8)
        picture[30:90, 20:80], picture[30:90, 120:180] = (200, 60, 40), (200, 60, 40)
        picture = np.clip(picture + np.random.default_rng(1).normal(0, 5, picture.shape), 0, 255).astype(np.uint8)
        mask = np.zeros((120, 200), bool)
        mask[30:90, 20:80] = True
        said = np.zeros((120, 200), np.int8)
        said[55:65, 140:160] = 1
        grown = mended(picture, mask, said)
        self.assertTrue(np.array_equal(grown[:, :100], mask[:, :100]))
        self.assertGreater(float(grown[32:88, 122:178].mean()), 0.95)
        said[:] = 0
        said[55:65, 40:60] = -1
        left = mended(picture, grown, said)
        self.assertLess(float(left[32:88, 22:78].mean()), 0.05)
        self.assertTrue(np.array_equal(left[:, 100:], grown[:, 100:]))

    def test_a_stroke_on_another_thing_means_that_thing(self) -> None:
        # The person is found first; the stroke lies on a ball beside them, and means the ball alone.
        picture, _, _ = composed(by_lot(2))
        wide = np.concatenate([picture, harbour(256, 160, 4)], 1)
        truth = cv2.circle(np.zeros(wide.shape[:2], np.float32), (304, 120), 46, 1.0, -1, cv2.LINE_AA)
        ball = np.array([40, 150, 60]) + 12 * np.sin(np.arange(wide.shape[1]) / 3)[None, :, None]
        wide = (wide * (1 - truth[..., None]) + ball * truth[..., None]).astype(np.uint8)
        said = np.zeros(wide.shape[:2], np.int8)
        said[90:150, 292:316] = 1
        cut = cut_out(wide, strokes=said)
        self.assertGreater(overlap(cut.alpha, truth), 0.85)
        self.assertLess(float(cut.alpha[:, :200].max()), 0.05)

    def test_crumbs_and_holes_go(self) -> None:
        mask = np.zeros((100, 100), bool)
        mask[20:80, 20:80] = True
        mask[50, 50], mask[5, 5] = False, True
        calm = without_crumbs(mask)
        self.assertTrue(calm[50, 50])
        self.assertFalse(calm[5, 5])
        self.assertEqual(int(calm.sum()), 3600)

    def test_half_covered_pixels_get_half_an_alpha(self) -> None:
        truth = np.clip((np.arange(120)[None, :] - 57) / 6, 0, 1) * np.ones((80, 1))
        red, blue = np.array([210, 60, 40]), np.array([40, 70, 190])
        picture = (red * truth[..., None] + blue * (1 - truth[..., None])).astype(np.uint8)
        found = edges_of(picture, truth > 0.5, widen=False)
        self.assertLess(float(np.abs(found.alpha - truth)[5:-5].mean()), 0.01)
        mixed = (truth > 0.2) & (truth < 0.8)
        self.assertLess(float(np.abs(found.colours[mixed] * 255 - red).mean()), 8)

    def test_a_line_leaves_belts_open(self) -> None:
        states = states_of_line((100, 100), np.array([(20, 20), (80, 20), (80, 80), (20, 80)], float))
        self.assertEqual(int(states[50, 50]), cv2.GC_FGD)
        self.assertEqual(int(states[22, 50]), cv2.GC_PR_FGD)
        self.assertEqual(int(states[2, 2]), cv2.GC_BGD)

    def test_guided_planes_follow_the_guide(self) -> None:
        guide = np.where(np.arange(80)[None, :] < 40, 0.2, 0.8).astype(np.float32) * np.ones((60, 1), np.float32)
        rough = cv2.GaussianBlur((guide > 0.5).astype(np.float32), (0, 0), 4)
        plain = guided_plane(guide, rough, 8, 1e-4)
        colour = guided_by_colour(np.dstack([guide, 1 - guide, guide * 0.5]).astype(np.float32), rough, 8, 1e-4)
        for found in (plain, colour):
            self.assertGreater(float(found[30, 41] - found[30, 38]), 0.6)
            self.assertLess(float(rough[30, 41] - rough[30, 38]), 0.35)
