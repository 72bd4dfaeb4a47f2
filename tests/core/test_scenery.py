"""A scene in a take: behind flat art, or as what strength leads to."""

import unittest
from itertools import pairwise

import cv2
import numpy as np

from tests.core.test_scenes import block_in
from tests.pictures import disc_on_ground, harbour
from warmtide.core.engine.scenery import BEGINS, WHOLE, scene_share
from warmtide.core.engine.staging import box_before, stage
from warmtide.core.job.looking import look_of
from warmtide.core.job.take import read_take, restyle
from warmtide.core.maths.arrays import Byte, Float, f32
from warmtide.core.maths.colour import bytes_to_lab
from warmtide.core.model.cache import SharedCache
from warmtide.core.model.errors import BadInput
from warmtide.core.model.guides import NO_GUIDES, Guides
from warmtide.core.model.recipe import Recipe, recipe_from
from warmtide.core.model.scene import Asked
from warmtide.core.pictures.framing import Framing, frame, framed_cover
from warmtide.core.scenes.behind import Spot, cut_out, moved, stance_of
from warmtide.core.scenes.layout import layout_of
from warmtide.core.scenes.scene import draw_scene
from warmtide.core.scenes.things import bring_in
from warmtide.core.scenes.wanted import Thing, things_in, words_of_things
from warmtide.core.understanding.ground import flat_ground

CACHE = SharedCache()
FREE = {"lines": 0, "shapes": 0, "colours": 0, "faces": 0, "subject": 0}


def staged(source: Byte, recipe: Recipe, cache: SharedCache, guides: Guides = NO_GUIDES) -> Byte:
    """A source as it is restyled."""
    return stage(source, recipe, look_of(recipe), cache, guides).picture


def taken(source: Byte, **values: object) -> Byte:
    return restyle(source, Recipe.model_validate(values), cache=CACHE)


def apart(a: Byte, b: Byte) -> float:
    return float(np.abs(a.astype(float) - b.astype(float)).mean() / 255)


def shape_apart(cover: "np.ndarray[tuple[int, int], np.dtype[np.float32]]", truth: Byte) -> float:
    """1 - intersection over union of a silhouette with the true one."""
    found, true = cover > 0.5, truth > 127
    return 1 - float((found & true).sum() / (found | true).sum())


class AsContent(unittest.TestCase):
    def test_without_a_place_nothing_changes(self) -> None:
        source = harbour()
        self.assertTrue(np.array_equal(staged(source, Recipe(prompt="night, rain"), CACHE), source))
        plain = taken(source, strength=0.9, prompt="golden street", holds=FREE)
        self.assertGreater(apart(plain, taken(source, strength=0.9, prompt="street", holds=FREE)), 0.05)

    def test_the_share_rises_from_nothing_to_all(self) -> None:
        shares = [scene_share(k / 20) for k in range(21)]
        self.assertTrue(all(b >= a for a, b in pairwise(shares)))
        self.assertEqual((scene_share(BEGINS), scene_share(WHOLE)), (0.0, 1.0))
        source = harbour()
        for strength in (0.2, BEGINS):
            # A word that is known to the scene alone: below where it begins the take is the same bit for bit.
            self.assertTrue(
                np.array_equal(taken(source, strength=strength, prompt="skyline"), taken(source, strength=strength))
            )

    def test_strength_one_leads_to_the_scene(self) -> None:
        source = cv2.resize(harbour(144, 216), (216, 144))
        for place in ("space", "dunes", "skyline"):
            layout = layout_of(source.astype(f32) / 255, (0, 0))
            scene = draw_scene(Asked(place, "night" if place == "space" else "day"), 144, 216, 7, layout)
            grids = [
                cv2.resize(p.astype(f32).mean(-1), (12, 8), interpolation=cv2.INTER_AREA).ravel()
                for p in (scene.picture * 255, taken(source, look="oil", strength=1, prompt=place, holds=FREE))
            ]
            self.assertGreater(float(np.corrcoef(*grids)[0, 1]), 0.75, place)

    def test_composition_falls_smoothly_on_the_way(self) -> None:
        source = harbour(144, 216)
        kept = []
        for k in range(1, 11):
            recipe = Recipe.model_validate({"strength": k / 10, "prompt": "lake with mountains", "holds": FREE})
            figures = read_take(source, restyle(source, recipe, cache=CACHE), recipe, CACHE).figures
            kept.append(float(figures["composition"]))
        self.assertTrue(all(b < a + 2 for a, b in pairwise(kept)), kept)
        self.assertLess(kept[-1], 30, kept)
        self.assertLess(max(a - b for a, b in pairwise(kept)), 0.4 * (kept[0] - kept[-1]), kept)

    def test_holds_keep_the_source_in_the_scene(self) -> None:
        source = harbour(144, 216)
        free, held = (
            taken(source, strength=0.95, prompt="beach", holds={"lines": h, "shapes": h, "colours": 0})
            for h in (0, 0.85)
        )
        self.assertLess(apart(held, source), 0.8 * apart(free, source))

    def test_a_block_in_keeps_its_skyline(self) -> None:
        picture, line = block_in(11, 144, 216)
        take = taken(picture, look="gouache", strength=1, prompt="hills", holds=FREE).astype(float).mean(-1)
        above, below = zip(
            *((take[: int(y) - 8, x].mean(), take[int(y) + 8 :, x].mean()) for x, y in enumerate(line) if 16 < y < 128),
            strict=True,
        )
        self.assertGreater(float(np.mean(above)) - float(np.mean(below)), 25)

    def test_outside_a_region_nothing_changes(self) -> None:
        source = harbour()
        region = np.zeros(source.shape[:2], np.uint8)
        region[30:80, 50:110] = 255
        recipe = Recipe(prompt="forest", strength=0.9)
        take = restyle(source, recipe, cache=CACHE, guides=Guides(region=region))
        self.assertTrue(np.array_equal(take[region == 0], source[region == 0]))
        self.assertGreater(apart(take[40:70, 60:100], source[40:70, 60:100]), 0.02)


class Behind(unittest.TestCase):
    def test_flat_art_is_told_from_pictures(self) -> None:
        box = box_before(disc_on_ground())
        assert box is not None
        np.testing.assert_allclose(box, (0.25, 0.25, 0.75, 0.75), atol=0.02)
        for other in (harbour(), np.full((64, 64, 3), 200, np.uint8), block_in(2, 96, 144)[0]):
            self.assertIsNone(box_before(other))

    def test_a_cut_out_has_the_shape_of_its_subject(self) -> None:
        for k, draw in enumerate((self._disc, self._letter, self._ring, self._thin)):
            truth = np.zeros((160, 160), np.uint8)
            draw(truth)
            share = (truth / 255)[..., None]
            picture = ((1 - share) * (240, 238, 230) + share * (30, 90, 110)).astype(np.uint8)
            ground = flat_ground(bytes_to_lab(picture))
            assert ground is not None
            subject = cut_out(picture.astype(f32) / 255, ground)
            self.assertLess(shape_apart(subject.cover, truth), 0.01, k)
            # Its rim has its own colour and nothing of the ground's.
            rim = (subject.cover > 0.3) & (subject.cover < 0.95)
            if rim.any():
                self.assertLess(float(np.abs(subject.picture[rim] - np.array((30, 90, 110)) / 255).mean()), 0.06, k)

    @staticmethod
    def _disc(plane: Byte) -> None:
        cv2.circle(plane, (80, 80), 50, 255, -1, cv2.LINE_AA)

    @staticmethod
    def _letter(plane: Byte) -> None:
        cv2.putText(plane, "K", (35, 120), cv2.FONT_HERSHEY_DUPLEX, 4, 255, 14, cv2.LINE_AA)

    @staticmethod
    def _ring(plane: Byte) -> None:
        cv2.ellipse(plane, (80, 80), (60, 40), 20, 30, 330, 255, 12, cv2.LINE_AA)

    @staticmethod
    def _thin(plane: Byte) -> None:
        cv2.rectangle(plane, (40, 60), (120, 130), 255, -1)
        cv2.line(plane, (80, 60), (80, 20), 255, 2)

    def test_a_transparent_hole_shows_the_scene(self) -> None:
        rgba = np.zeros((128, 128, 4), np.uint8)
        cv2.putText(rgba, "O", (22, 100), cv2.FONT_HERSHEY_DUPLEX, 3.4, (200, 40, 30, 255), 14, cv2.LINE_AA)
        source, cover = frame(rgba, Framing(), 128), framed_cover(rgba, Framing(), 128)
        assert cover is not None
        recipe = Recipe(prompt="night sky over the sea")
        closed, hollow = (staged(source, recipe, CACHE, Guides(cover=c)).astype(float) for c in (None, cover))
        middle = slice(60, 70), slice(52, 62)
        self.assertGreater(closed[middle].mean(), 150)
        self.assertLess(hollow[middle].mean(), 100)
        # No pale rim of the ground that it was laid on is left around it.
        rim = (cover > 60) & (cover < 200)
        self.assertLess(float(np.percentile(hollow[rim].min(-1), 90)), 90)
        self.assertIsNone(framed_cover(np.full((8, 8, 4), 255, np.uint8), Framing(), 8))
        self.assertNotEqual(Guides(cover=cover).key, "")
        self.assertEqual(Guides(cover=cover).at(64, 64).cover.shape, (64, 64))  # type: ignore[union-attr]

    def test_the_subject_keeps_its_shape_and_the_ground_becomes_the_scene(self) -> None:
        source = disc_on_ground(128, 128)
        ground = flat_ground(bytes_to_lab(source))
        assert ground is not None
        for words in ("cliff", "street, night", "space", "brick wall"):
            out = staged(source, Recipe(prompt=words), CACHE)
            self.assertEqual(out.shape, source.shape)
            self.assertGreater(apart(out[ground], source[ground]), 0.08, words)
            inner = cv2.erode((~ground).astype(np.uint8), np.ones((5, 5))) > 0
            # In the light of the place, but in its own order of light and dark at every place.
            grey = [p[inner].astype(float).mean(-1) for p in (source, out)]
            self.assertGreater(float(np.corrcoef(*grey)[0, 1]), 0.97, words)

    def test_strength_zero_and_guidance_one_leave_the_source_alone(self) -> None:
        source = disc_on_ground()
        for values in ({"strength": 0.0}, {"guidance": 1.0}):
            recipe = Recipe.model_validate({"prompt": "beach", **values})
            self.assertTrue(np.array_equal(staged(source, recipe, CACHE), source))
        self.assertTrue(np.array_equal(taken(source, prompt="beach", strength=0), source))

    def test_a_placement_moves_the_whole(self) -> None:
        source = disc_on_ground(128, 128)
        ground = flat_ground(bytes_to_lab(source))
        assert ground is not None
        subject = moved(cut_out(source.astype(f32) / 255, ground), Spot(0.25, 0.75, 0.25))
        left, top, right, bottom = subject.box
        self.assertAlmostEqual((left + right) / 2, 32, delta=1.5)
        self.assertAlmostEqual(bottom, 96, delta=1.5)
        self.assertAlmostEqual(bottom - top, 32, delta=1.5)
        self.assertAlmostEqual(right - left, 32, delta=1.5)
        with self.assertRaisesRegex(BadInput, "height goes from 0.05 to 2"):
            recipe_from({"placement": {"tall": 9}})

    def test_what_it_stands_on(self) -> None:
        for place, stance in (("beach", "stands"), ("space", "floats"), ("brick", "hangs"), ("sea", "floats")):
            self.assertEqual(stance_of(draw_scene(Asked(place), 64, 96, 1)), stance, place)

    def test_standing_casts_a_shadow_where_it_touches(self) -> None:
        source = disc_on_ground(128, 128)
        recipes = [
            Recipe.model_validate({"prompt": "paper studio, seamless paper", "placement": {"x": 0.5, "y": 0.8, "tall": 0.4, "stance": s}})
            for s in ("stands", "floats")
        ]  # fmt: skip
        stands, floats = (staged(source, recipe, CACHE).astype(float) for recipe in recipes)
        foot = slice(101, 106), slice(58, 70)
        self.assertLess(stands[foot].mean(), floats[foot].mean() - 15)

    def test_a_take_is_read_against_the_picture_before_the_scene(self) -> None:
        source = disc_on_ground(128, 128)
        recipe = Recipe.model_validate({"prompt": "beach", "strength": 0.3, "look": "gouache"})
        take = restyle(source, recipe, cache=CACHE)
        self.assertGreater(float(read_take(source, take, recipe, CACHE).figures["composition"]), 75)


class InARegion(unittest.TestCase):
    def setUp(self) -> None:
        self.source = harbour(128, 192)
        self.region = np.zeros((128, 192), np.uint8)
        cv2.ellipse(self.region, (50, 80), (20, 28), 0, 0, 360, 255, -1)
        cv2.ellipse(self.region, (140, 100), (26, 14), 0, 0, 360, 255, -1)

    def test_words_for_things_are_whole_and_in_order(self) -> None:
        found = things_in("rocks by the water, two small pine trees, three tall lamps")
        self.assertEqual(found, (Thing("rocks"), Thing("water"), Thing("conifer", 2, 0.55), Thing("lamps", 3)))
        self.assertEqual(things_in("a watermelon, treetops, rocking chair"), ())
        self.assertEqual(words_of_things("three tall pines at dusk"), {"three", "tall", "pines"})

    def test_rough_paint_becomes_the_thing_and_goes(self) -> None:
        plain = np.full((128, 192, 3), 0.72, f32)
        painted = plain.copy()
        cv2.ellipse(painted, (60, 50), (16, 26), 0, 0, 360, (0.25, 0.45, 0.2), -1)
        cv2.ellipse(painted, (130, 50), (16, 26), 0, 0, 360, (0.25, 0.45, 0.2), -1)
        region = np.zeros((128, 192), np.uint8)
        region[10:110, 20:172] = 255
        out = bring_in(painted, region, things_in("two pines"), 3)
        leaves = out[..., 0] < 0.55
        # A tree where each blob was, none between them, and paint no longer where a tree is slimmer.
        self.assertTrue(leaves[30:78, 50:70].mean() > 0.2 and leaves[30:78, 120:140].mean() > 0.2)
        self.assertLess(float(leaves[20:80, 85:105].mean()), 0.02)
        self.assertLess(float(np.abs(out[30:40, 44:47] - 0.72).mean()), 0.08)

    def test_as_many_as_words_say(self) -> None:
        plain, region = np.full((128, 256, 3), 0.75, f32), np.zeros((128, 256), np.uint8)
        region[20:110, 20:236] = 255
        for count, word in ((1, "one"), (3, "three")):
            dark = bring_in(plain, region, things_in(f"{word} pines"), 5)[40:108, :, 0] < 0.5
            solid = cv2.morphologyEx(dark.astype(np.uint8), cv2.MORPH_CLOSE, np.ones((7, 7), np.uint8))
            stems, _ = cv2.connectedComponents(cv2.morphologyEx(solid, cv2.MORPH_OPEN, np.ones((9, 9), np.uint8)))
            self.assertEqual(stems - 1, count)

    def test_each_thing_stands_in_its_mark_and_nowhere_else(self) -> None:
        plain = self.source.astype(f32) / 255
        for thing in (
            "conifer",
            "broad",
            "bush",
            "rocks",
            "water",
            "grass",
            "sand",
            "people",
            "boats",
            "birds",
            "lamps",
        ):
            with self.subTest(thing=thing):
                out = bring_in(plain, self.region, (Thing(thing),), 3)
                self.assertTrue(np.array_equal(out[self.region == 0], plain[self.region == 0]))
                for part in (slice(20, 80), slice(110, 170)):
                    changed = np.abs(out - plain)[:, part].sum(-1) > 0.1
                    self.assertGreater(int(changed.sum()), 4)

    def test_things_come_in_order_largest_mark_first_and_differ_by_seed(self) -> None:
        plain = self.source.astype(f32) / 255
        both = bring_in(plain, self.region, (Thing("broad"), Thing("rocks")), 3)
        self.assertFalse(np.array_equal(both, bring_in(plain, self.region, (Thing("broad"), Thing("rocks")), 4)))
        tree = both[60:100, 40:60]
        # The larger mark holds the tree, whose leaves are green; the smaller one grey stones.
        self.assertGreater(float(tree[..., 1].mean() - tree[..., 0].mean()), 0.01)
        stones = both[95:112, 125:155]
        self.assertLess(float(np.abs(stones[..., 1] - stones[..., 0]).mean()), 0.09)

    def test_a_soft_picture_gets_soft_things_and_a_grainy_one_grain(self) -> None:
        soft = cv2.GaussianBlur(self.source.astype(f32) / 255, (0, 0), 2.5)
        inner = cv2.erode(self.region, np.ones((9, 9))) > 0

        def finest(picture: Float) -> float:
            grey = picture.mean(-1)
            return float(np.abs(grey - cv2.GaussianBlur(grey, (0, 0), 0.8))[inner].mean())

        sharp = finest(bring_in(self.source.astype(f32) / 255, self.region, (Thing("broad"),), 3))
        self.assertLess(finest(bring_in(soft, self.region, (Thing("broad"),), 3)), 0.75 * sharp)

    def test_in_a_take(self) -> None:
        guides = Guides(region=self.region)
        recipes = [Recipe.model_validate({"prompt": p, "strength": 0.4, "guidance": 7}) for p in ("pine trees", "")]
        with_trees, without = (restyle(self.source, recipe, cache=CACHE, guides=guides) for recipe in recipes)
        self.assertTrue(np.array_equal(with_trees[self.region == 0], self.source[self.region == 0]))
        inside = self.region > 200
        self.assertGreater(apart(with_trees[inside], without[inside]), 0.04)
        # Without a region there is nowhere to bring them.
        self.assertTrue(np.array_equal(staged(self.source, recipes[0], CACHE), self.source))
