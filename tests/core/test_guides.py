"""What leads a take beside its source: a region, depth, faces marked by hand; drafts and mixes."""

import unittest

import cv2
import numpy as np

from tests.pictures import disc_on_ground, harbour, keeper
from warmtide.core.engine.draft import drafted, drafted_shape, octaves_left_out
from warmtide.core.engine.region import laid_in, seam_width
from warmtide.core.job.take import render, restyle
from warmtide.core.maths.arrays import Byte
from warmtide.core.model.cache import SharedCache
from warmtide.core.model.errors import BadInput
from warmtide.core.model.face import Face
from warmtide.core.model.guides import Guides
from warmtide.core.model.recipe import Holds, Recipe, take_key
from warmtide.core.model.sampling import DRAFT_STEPS
from warmtide.core.pictures.guide import guide_plane
from warmtide.core.pictures.mix import mix
from warmtide.core.understanding.flat.depth import inflated_depth

FREE = Holds(lines=0, shapes=0, colours=0, faces=0, subject=0)


def disc(height: int, width: int, radius: float) -> Byte:
    region = np.zeros((height, width), np.uint8)
    cv2.circle(region, (width // 2, height // 2), int(radius), 255, -1)
    return region


def apart(a: Byte, b: Byte) -> float:
    return float(np.abs(a.astype(float) - b).mean())


class Regions(unittest.TestCase):
    def test_outside_not_one_bit_differs_and_inside_changes(self) -> None:
        source = harbour(120, 160)
        region = disc(120, 160, 40)
        for look in ("oil", "linocut"):
            take = restyle(source, Recipe(look=look, strength=0.8, holds=FREE), guides=Guides(region=region))
            np.testing.assert_array_equal(take[region == 0], source[region == 0])
            well_inside = cv2.erode(region, np.ones((15, 15), np.uint8)) > 0
            self.assertGreater(apart(take[well_inside], source[well_inside]), 4)

    def test_no_seam_at_a_hard_rim(self) -> None:
        grey = np.full((120, 120, 3), 128, np.uint8)
        painted = np.full((120, 120, 3), 200, np.uint8)
        region = disc(120, 120, 40)
        out = laid_in(grey, painted, region)[60, :, 0].astype(int)
        self.assertLess(np.abs(np.diff(out)).max(), 45)
        self.assertGreater(out[60], 185)
        rim = 60 - 40
        self.assertLess(abs(int(out[rim + 1]) - 128), 72 / 3)

    def test_a_soft_region_changes_by_its_share(self) -> None:
        grey, painted = np.full((96, 96, 3), 100, np.uint8), np.full((96, 96, 3), 180, np.uint8)
        full = laid_in(grey, painted, np.full((96, 96), 255, np.uint8))
        half = laid_in(grey, painted, np.full((96, 96), 128, np.uint8))
        self.assertGreater(full.min(), 177)
        self.assertTrue(125 < half.mean() < 155)
        np.testing.assert_array_equal(laid_in(grey, painted, np.zeros((96, 96), np.uint8)), grey)

    def test_content_beside_the_region_is_continued_into_it(self) -> None:
        source = np.full((128, 192, 3), 90, np.uint8)
        source[64:] = 200
        region = np.zeros((128, 192), np.uint8)
        region[:, 64:128] = 255
        take = restyle(source, Recipe(look="gouache", strength=0.9, holds=FREE), guides=Guides(region=region))
        near = slice(64 + round(seam_width(128, 192)) + 1, 74)
        self.assertGreater(take[100:, near].mean() - take[:28, near].mean(), 25)

    def test_region_of_another_size_is_fitted_and_stays_closed_outside(self) -> None:
        guides = Guides(region=disc(60, 80, 20)).at(120, 160)
        assert guides.region is not None
        self.assertEqual(guides.region.shape, (120, 160))
        self.assertEqual(guides.region[:20].max(), 0)
        self.assertEqual(guides.region[60, 80], 255)

    def test_guides_are_part_of_the_key(self) -> None:
        source, recipe = harbour(64, 96), Recipe(strength=0.3, steps=4)
        keys = {
            render(source, recipe, guides=g).key
            for g in (Guides(), Guides(region=disc(64, 96, 20)), Guides(region=disc(64, 96, 21)), Guides(faces=()))
        }
        self.assertEqual(len(keys), 4)
        self.assertEqual(take_key("a", recipe), take_key("a", recipe, Guides().key))

    def test_a_guide_of_one_tone_is_refused(self) -> None:
        with self.assertRaisesRegex(BadInput, "one single tone"):
            guide_plane(np.full((10, 10, 4), 255, np.uint8), "depth")
        everywhere = guide_plane(np.full((10, 10, 4), 255, np.uint8), "region")
        self.assertEqual(everywhere.min(), 255)
        cut = np.full((10, 10, 4), 255, np.uint8)
        cut[:5, :, 3] = 0
        self.assertEqual(guide_plane(cut, "region")[0, 0], 0)


class Depth(unittest.TestCase):
    def setUp(self) -> None:
        """A flat grey scene whose only shape is in its depth and in a faint step."""
        self.source = np.full((128, 160, 3), 120, np.uint8)
        self.source[32:96, 48:112] = 150
        self.source[::8] = np.clip(self.source[::8].astype(int) + 25, 0, 255).astype(np.uint8)
        self.depth = np.zeros((128, 160), np.uint8)
        self.depth[32:96, 48:112] = 255

    def steps(self, hold: float, guide: Byte | None) -> float:
        """How far the box still stands out of what surrounds it."""
        total = 0.0
        for seed in (1, 2, 3):
            holds = Holds(lines=0, shapes=0, colours=0, faces=0, subject=0, depth=hold)
            take = restyle(
                self.source, Recipe(look="charcoal", strength=0.95, seed=seed, holds=holds), guides=Guides(depth=guide)
            ).astype(float)
            inside, outside = take[36:92, 52:108].mean(), np.r_[take[:28].ravel(), take[100:].ravel()].mean()
            total += inside - outside
        return total / 3

    def test_the_hold_keeps_the_steps_of_the_guide(self) -> None:
        free, held = self.steps(0, self.depth), self.steps(1, self.depth)
        self.assertGreater(held, free + 6)

    def test_without_a_guide_a_photo_is_refused_with_a_sentence(self) -> None:
        with self.assertRaisesRegex(BadInput, "grey guide"):
            restyle(harbour(), Recipe(strength=0.5, holds=Holds(depth=0.5)))

    def test_flat_art_needs_no_guide(self) -> None:
        take = restyle(disc_on_ground(), Recipe(look="charcoal", strength=0.7, holds=Holds(depth=0.8)))
        self.assertEqual(take.shape, (96, 96, 3))

    def test_inflated_depth_is_round_and_zero_on_the_ground(self) -> None:
        labels = np.zeros((61, 61), np.int32)
        cv2.circle(labels, (30, 30), 20, 1, -1)
        depth = inflated_depth(labels, labels == 0)
        self.assertEqual(depth[0, 0], 0)
        self.assertGreater(depth[30, 30], 0.95)
        self.assertTrue((np.diff(depth[30, 11:30]) >= -1e-6).all())


class MarkedFaces(unittest.TestCase):
    def test_a_marked_face_is_held_where_nothing_was_found(self) -> None:
        source = harbour(128, 192)
        recipe = Recipe(look="watercolour", strength=0.8, holds=Holds(lines=0, shapes=0, colours=0, faces=1, subject=0))
        face = Face(0.5, 0.33, 0.2)
        marked = restyle(source, recipe, guides=Guides(faces=(face,)))
        plain = restyle(source, recipe, guides=Guides(faces=()))
        self.assertGreater(apart(marked[50:80, 80:112], plain[50:80, 80:112]), 3)

    def test_no_faces_can_be_said(self) -> None:
        source = keeper()
        recipe = Recipe(look="watercolour", strength=0.8)
        self.assertGreater(apart(restyle(source, recipe), restyle(source, recipe, guides=Guides(faces=()))), 0.5)


class Drafts(unittest.TestCase):
    def test_sizes(self) -> None:
        self.assertEqual(octaves_left_out(341, 512, "draft"), 1)
        self.assertEqual(drafted_shape(341, 512, "draft"), (171, 256))
        self.assertEqual(octaves_left_out(171, 256, "draft"), 0)
        self.assertEqual(octaves_left_out(64, 2048, "glimpse"), 0)
        self.assertEqual(drafted(harbour(340, 512), "glimpse")[0].shape, (85, 128, 3))

    def test_a_draft_is_the_same_seeds_picture(self) -> None:
        source = harbour(240, 360)
        cache = SharedCache()

        def low(quality: str, seed: int) -> np.ndarray:  # type: ignore[type-arg]
            recipe = Recipe(look="oil", strength=1, guidance=6, seed=seed, holds=FREE, quality=quality)
            small = cv2.resize(restyle(source, recipe, cache=cache), (24, 16), interpolation=cv2.INTER_AREA)
            return small.astype(float).mean(-1).ravel()

        full, draft, other = low("full", 3), low("draft", 3), low("draft", 4)
        same = float(np.corrcoef(full, draft)[0, 1])
        self.assertGreater(same, 0.85)
        self.assertGreater(same, float(np.corrcoef(full, other)[0, 1]) + 0.15)

    def test_drafts_of_every_kind_of_look_predict(self) -> None:
        """Sides that halve to fractions, where seeds once bent drafts another way."""
        source, cache = harbour(257, 389), SharedCache()
        for look in ("watercolour", "marker", "ink-comic", "flat-shapes"):
            for seed in (1, 2):
                recipe = Recipe(look=look, strength=1, seed=seed, holds=Holds(lines=0.6, shapes=0.6))
                rows = [
                    cv2.resize(restyle(source, recipe.changed(quality=q), cache=cache), (32, 21), interpolation=cv2.INTER_AREA)
                    for q in ("full", "draft", "glimpse")
                ]  # fmt: skip
                full, draft, glimpse = (r.astype(float).mean(-1).ravel() for r in rows)
                self.assertGreater(float(np.corrcoef(full, draft)[0, 1]), 0.95, (look, seed))
                self.assertGreater(float(np.corrcoef(full, glimpse)[0, 1]), 0.88, (look, seed))

    def test_a_draft_is_small_takes_few_steps_and_is_read(self) -> None:
        source, steps = harbour(240, 360), []
        recipe = Recipe(look="pencil", strength=0.5, steps=60, quality="draft")
        rendered = render(source, recipe, lambda done, of: steps.append(of))
        self.assertEqual(rendered.picture.shape, (120, 180, 3))
        self.assertEqual(max(steps), recipe.steps_run)
        self.assertLessEqual(recipe.steps_run, DRAFT_STEPS["draft"])
        self.assertGreater(rendered.reading.figures["composition"], 50)
        nothing = recipe.changed(strength=0.0)
        np.testing.assert_array_equal(restyle(source, nothing), drafted(source, "draft")[0])


class Mixes(unittest.TestCase):
    def test_the_heavier_gives_the_layout(self) -> None:
        dark_left, dark_top = np.full((96, 144, 3), 200, np.uint8), np.full((96, 144, 3), 200, np.uint8)
        dark_left[:, :72], dark_top[:48] = 60, 60
        for weights, across in (((0.75, 0.25), True), ((0.25, 0.75), False)):
            mixed = mix([dark_left, dark_top], list(weights)).astype(float)
            sideways = mixed[:, 80:].mean() - mixed[:, :64].mean()
            downwards = mixed[56:].mean() - mixed[:40].mean()
            self.assertEqual(sideways > downwards, across)

    def test_one_heavy_picture_is_that_picture(self) -> None:
        a, b = harbour(96, 144, 1), harbour(96, 144, 2)
        np.testing.assert_array_equal(mix([a, b], [1, 0]), a)
        np.testing.assert_array_equal(mix([a, b], [0, 2]), b)

    def test_other_shapes_are_cropped_and_three_can_be_mixed(self) -> None:
        mixed = mix([harbour(96, 144), disc_on_ground(96, 96), harbour(200, 100)], [1, 1, 1])
        self.assertEqual(mixed.shape, (96, 144, 3))

    def test_what_makes_no_mix_is_refused(self) -> None:
        a = harbour()
        for pictures, weights, words in (
            ([a], [1.0], "two or three"),
            ([a] * 4, [1.0] * 4, "two or three"),
            ([a, a], [1.0], "one weight a picture"),
            ([a, a], [0.0, 0.0], "not all 0"),
            ([a, a], [1.0, -1.0], "not negative"),
        ):
            with self.subTest(words=words), self.assertRaisesRegex(BadInput, words):
                mix(pictures, weights)
