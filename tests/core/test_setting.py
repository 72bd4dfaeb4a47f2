"""The place that words put around an untextured building: what is read, where its ground lies, what is mirrored."""

import unittest
from functools import cache

import cv2
import numpy as np

from tests.buildings import Render, draw
from warmtide.core.engine.staging import asked_by, scene_asked
from warmtide.core.job.looking import look_of
from warmtide.core.job.take import read_take, restyle
from warmtide.core.looks.building.ground_plan import beside, depths, metres_of
from warmtide.core.looks.building.mirror import mirror_image
from warmtide.core.looks.building.setting import cast_on, place_around, setting_of, weather_of, without_stumps, yard_of
from warmtide.core.looks.registry import look_named
from warmtide.core.looks.shared.relight import developed, undeveloped
from warmtide.core.maths.arrays import Byte
from warmtide.core.maths.colour import bytes_to_lab
from warmtide.core.model.cache import SharedCache
from warmtide.core.model.recipe import Recipe
from warmtide.core.model.sitting import Original, Sitting
from warmtide.core.scenes.view import linear
from warmtide.core.understanding.building.parts import GROUND, SKY
from warmtide.core.understanding.building.perspective import Perspective
from warmtide.core.understanding.building.planes import Built, understand_building
from warmtide.core.words.prompt import understand

CACHE = SharedCache()
VIEW = Perspective(horizon=40.0, first=-80.0, second=220.0, focal=100.0, middle=80.0, sure=1.0)


@cache
def cottage() -> Render:
    return draw("cottage")


@cache
def understood() -> Built:
    return understand_building(np.ascontiguousarray(bytes_to_lab(cottage().picture)[..., 0]))


@cache
def painted(prompt: str, seed: int = 1) -> np.ndarray:
    source = cottage().picture
    lab = bytes_to_lab(source)
    height, width = source.shape[:2]
    sitting = Sitting("built", seed, height, width, cache=CACHE, original=Original(lab, "cottage"), prompt=prompt)
    found: np.ndarray = look_named("built").paint(lab, sitting)
    return found


class Words(unittest.TestCase):
    def test_what_walls_are_of_is_no_place(self) -> None:
        for prompt in ("brick walls, slate roof", "brick", "marble floor, stone walls", "timber walls, dusk", ""):
            self.assertIsNone(place_around(prompt).asked, prompt)

    def test_a_place_is_heard_beside_materials(self) -> None:
        for prompt, place in (
            ("brick walls, by a mountain lake", "lake"), ("timber walls, harbour at dusk", "quay"),
            ("paved yard, snow field", "snow"), ("oak door, forest", "forest"),
        ):  # fmt: skip
            asked = place_around(prompt).asked
            self.assertEqual(None if asked is None else asked.place, place, prompt)
        asked = place_around("timber walls, harbour at dusk").asked
        self.assertEqual(asked and asked.time, "dusk")

    def test_no_building_stands_in_a_room(self) -> None:
        reading = place_around("timber walls, workshop table")
        self.assertIsNone(reading.asked)
        self.assertIn("out of doors", reading.conflicts[0])

    def test_a_look_draws_its_place_by_itself(self) -> None:
        prompt = "brick walls, mountain lake"
        self.assertEqual(scene_asked(look_named("built"), prompt).asked, place_around(prompt).asked)
        self.assertIsNone(asked_by(Recipe(look="built", prompt=prompt), look_of(Recipe(look="built", prompt=prompt))))
        self.assertIsNotNone(asked_by(Recipe(look="oil", prompt=prompt), look_of(Recipe(look="oil", prompt=prompt))))
        # A look of one sheet hears none, and its chip says so.
        reading = scene_asked(look_named("blueprint"), prompt)
        self.assertIsNone(reading.asked)
        self.assertEqual(understand(prompt, reading)[1].scene, ())
        self.assertEqual(
            understand(prompt, scene_asked(look_named("built"), prompt))[1].scene, ("lake with mountains",)
        )


class Ground(unittest.TestCase):
    def setUp(self) -> None:
        self.built = understood()
        assert self.built.view is not None
        height, width = self.built.owner.shape
        self.rays = self.built.view.rays(height, width)
        self.deep = depths(self.built, self.rays)

    def test_walls_stand_where_they_meet_the_ground(self) -> None:
        assert self.built.view is not None
        thing = self.built.owner >= 0
        self.assertTrue(np.isinf(self.deep[~thing]).all())
        columns = np.flatnonzero(thing.sum(0) > 40)[5:-5]
        feet = len(thing) - 1 - thing[::-1].argmax(0)[columns]
        ground = self.built.view.focal / (feet + 1 - self.built.view.horizon)
        off = np.abs(self.deep[feet, columns] / ground - 1)
        self.assertLess(float(np.median(off)), 0.03)

    def test_a_cottage_is_as_tall_as_a_storey(self) -> None:
        metres = metres_of(self.built)
        # It was drawn with its eye at a man's height and walls of three.
        self.assertGreater(metres, 1.0)
        self.assertLess(metres, 4.0)

    def test_ground_lies_farther_out_the_farther_it_is(self) -> None:
        away = beside(self.built, self.rays, self.deep, metres_of(self.built))
        ground = self.built.owner == GROUND
        self.assertTrue(np.isinf(away[self.built.owner == SKY]).all())
        near = cv2.dilate((self.built.owner >= 0).astype(np.uint8), np.ones((7, 7), np.uint8)) > 0
        below = ground & np.isfinite(away)
        self.assertLess(float(np.median(away[below & near])), 1.0)
        self.assertGreater(float(np.median(away[below & ~near])), 2.0)
        column = away[:, int(np.median(np.nonzero(self.built.owner >= 0)[1]))]
        front = column[np.flatnonzero(self.built.owner[:, 0] == GROUND)[-1] - 8 :]
        self.assertTrue((np.diff(front[np.isfinite(front)]) >= -1e-3).all())

    def test_a_yard_ends_at_its_margin(self) -> None:
        away = np.linspace(-1, 8, 200, dtype=np.float32)[None].repeat(4, 0)
        crisp = np.ones(away.shape, bool)
        yard = yard_of(away, 3.0, np.ones_like(away), crisp)
        self.assertTrue((yard[away < 2.7] > 0.99).all() and (yard[away > 3.3] < 0.01).all())
        # Where it isn't crisp the edge follows the noise.
        ragged = yard_of(away, 3.0, np.ones_like(away), ~crisp)
        self.assertGreater(float(ragged.sum()), float(yard.sum()) * 1.1)

    def test_shadows_fade_and_light_stays(self) -> None:
        grey = np.full((60, 90), 0.5, np.float32)
        grey[20:30, 20:30] = 0.2
        ground = np.ones(grey.shape, bool)
        ground[:10] = False
        cast = cast_on(grey, ground, np.zeros_like(grey), 1.0)
        self.assertAlmostEqual(float(cast[25, 25]), 0.4, delta=0.05)
        self.assertAlmostEqual(float(cast[50, 70]), 1.0, delta=1e-3)
        self.assertAlmostEqual(float(cast[12, 70]), 1.0, delta=1e-3)
        self.assertEqual(float(cast_on(grey, ground, np.full_like(grey, 90), 1.0)[25, 25]), 1.0)


class Mirrors(unittest.TestCase):
    def test_a_wall_is_turned_over_at_its_foot(self) -> None:
        deep, light = np.full((160, 160), np.inf, np.float32), np.zeros((160, 160, 3), np.float32)
        # A wall four eye heights away meets the ground at row 40 + 100 / 4.
        deep[30:65, 50:90], light[30:65, 50:90] = 4.0, 0.2
        light[34:40, 60:70] = 0.9
        picture, cover = mirror_image(light, deep, VIEW)
        self.assertTrue((cover[66:100, 50:90] == 1).all())
        self.assertTrue((cover[:, :50] == 0).all() and (cover[:60] == 0).all())
        rows = np.flatnonzero(picture[:, 65, 0] > 0.5)
        self.assertEqual((rows.min(), rows.max()), (2 * 65 - 39, 2 * 65 - 34))
        lower, _ = mirror_image(light, deep, VIEW, drop=0.2)
        self.assertEqual(int(np.flatnonzero(lower[:, 65, 0] > 0.5).min()), rows.min() + round(2 * 100 * 0.2 / 4))

    def test_the_nearer_thing_hides_the_farther(self) -> None:
        deep, light = np.full((160, 160), np.inf, np.float32), np.zeros((160, 160, 3), np.float32)
        deep[20:50, 40:80], light[20:50, 40:80] = 10.0, 0.9
        deep[45:60, 40:80], light[45:60, 40:80] = 5.0, 0.1
        picture, _ = mirror_image(light, deep, VIEW)
        self.assertTrue((picture[61:75, 60, 0] < 0.2).all())


class Places(unittest.TestCase):
    def test_light_is_developed_back(self) -> None:
        shown = np.linspace(0.01, 0.97, 60, dtype=np.float32).reshape(20, 1, 3)
        again = developed(undeveloped(shown))
        np.testing.assert_allclose(again, bytes_to_lab((shown * 255).astype(np.uint8)), atol=0.008)
        self.assertLess(float(undeveloped(shown)[0, 0, 0]), float(linear(0.2)))

    def test_the_scene_has_the_renders_horizon_and_water(self) -> None:
        built = understood()
        assert built.view is not None
        setting = setting_of(built, Original(bytes_to_lab(cottage().picture), "cottage"), "mountain lake", 3, CACHE)
        assert setting is not None
        rows = np.nonzero(setting.water)[0]
        self.assertGreater(float(setting.water.mean()), 0.1)
        self.assertGreater(int(np.percentile(rows, 1)), built.view.horizon - 4)
        self.assertIsNone(setting_of(built, Original(bytes_to_lab(cottage().picture), "cottage"), "dusk", 3, CACHE))

    def test_the_building_stays_and_what_is_around_it_changes(self) -> None:
        built = understood()
        alone, placed = painted("plaster walls, zinc roof"), painted("plaster walls, zinc roof, mountain lake")
        off = np.abs(placed - alone).sum(-1)
        inner = cv2.erode((built.owner >= 0).astype(np.uint8), np.ones((5, 5), np.uint8)) > 0
        glass = np.zeros(inner.shape, np.uint8)
        for opening in built.openings:
            cv2.fillPoly(glass, [np.round(opening.corners).astype(np.int32)], 1)
        walls = inner & (cv2.dilate(glass, np.ones((7, 7), np.uint8)) == 0)
        self.assertLess(float(np.percentile(off[walls], 95)), 0.03)
        self.assertGreater(float(off[built.owner == SKY].mean()), 0.05)

    def test_another_seed_is_another_view_of_it(self) -> None:
        sky = understood().owner == SKY
        one, other = painted("plaster walls, mountain lake", 1), painted("plaster walls, mountain lake", 2)
        self.assertGreater(float(np.abs(one - other)[sky].mean()), 0.02)

    def test_hour_and_snow_follow_the_place(self) -> None:
        built = understood()
        roof = np.isin(built.owner, [k for k, face in built.faces.items() if face.kind == "roof"])
        day, night = painted("plaster walls, snow"), painted("plaster walls, snow, night")
        self.assertGreater(float(day[roof][:, 0].mean()), float(painted("plaster walls, slate roof, snow")[roof][:, 0].mean()) + 0.15)  # fmt: skip
        self.assertGreater(float(day[..., 0].mean()), float(night[..., 0].mean()) + 0.2)

    def test_a_place_that_was_asked_for_is_the_look_reached(self) -> None:
        recipe = Recipe(look="built", prompt="plaster walls, snow, night", strength=0.9, seed=1)

        def reached(strength: float) -> float:
            take = restyle(cottage().picture, recipe.changed(strength=strength), cache=CACHE)
            reading = read_take(cottage().picture, take, recipe, CACHE)
            return float(reading.figures["look"])

        self.assertGreater(reached(0.9), 80)
        self.assertLess(reached(0.15), 50)

    def test_weather_falls_before_the_building_too(self) -> None:
        thing = cv2.erode((understood().owner >= 0).astype(np.uint8), np.ones((9, 9), np.uint8)) > 0
        for weather in ("snowing", "rain", "snowing, meadow"):
            dry = painted("slate roof, stone walls, overcast" + (", meadow" if "meadow" in weather else ""))
            off = (painted(f"slate roof, stone walls, overcast, {weather}") - dry)[..., 0][thing]
            self.assertGreater(float((off > 0.05).mean()), 0.01, weather)
        near, far = (painted(f"brick walls, overcast{mist}") for mist in ("", ", dense fog"))
        self.assertLess(float(far[thing][:, 0].std()), 0.85 * float(near[thing][:, 0].std()))
        self.assertIsNone(weather_of("brick walls, golden hour"))

    def test_a_tree_whose_crown_is_hidden_has_no_foot(self) -> None:
        light = np.full((60, 80, 3), 0.8, np.float32)
        trees, kept = np.zeros((60, 80), bool), np.zeros((60, 80), bool)
        trees[30:50, 20:24], trees[10:50, 60:64], kept[20:30, 10:40] = True, True, True
        light[trees] = 0.05
        found = without_stumps(light, trees, kept)
        self.assertTrue((found[30:50, 20:24] == np.float32(0.8)).all())
        # One that stands free stays, and so does a whole wood.
        self.assertTrue((found[10:50, 60:64] == np.float32(0.05)).all())
        trees[30:, 5:45] = True
        self.assertIs(without_stumps(light, trees, kept), light)

    def test_any_shape_of_picture(self) -> None:
        lake, street = "timber walls, mountain lake, misty morning", "brick, rainy street at night"
        for height, width, prompt in ((20, 64, lake), (64, 20, street), (80, 240, lake)):
            source = draw("cottage", height, width).picture
            take = restyle(source, Recipe(look="built", prompt=prompt, strength=0.9, steps=4), cache=CACHE)
            self.assertEqual(take.shape, source.shape)

    def test_a_picture_without_planes_gets_no_place(self) -> None:
        blob: Byte = np.full((160, 240, 3), 190, np.uint8)
        blob[110:] = 150
        cv2.circle(blob, (120, 90), 40, (90, 90, 90), -1, cv2.LINE_AA)
        lab = bytes_to_lab(blob)

        def found(prompt: str) -> np.ndarray:
            sitting = Sitting("built", 1, 160, 240, cache=CACHE, original=Original(lab, "blob"), prompt=prompt)
            made: np.ndarray = look_named("built").paint(lab, sitting)
            return made

        np.testing.assert_array_equal(found("mountain lake"), found(""))
        # What may be a wall stays as even as it is.
        self.assertLess(float(found("")[10:40, 10:-10, 0].std()), 0.02)


if __name__ == "__main__":
    unittest.main()
