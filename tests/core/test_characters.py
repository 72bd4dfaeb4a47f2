"""A person becomes a character, and stays that person."""

import unittest

import cv2
import numpy as np

from demo.people.build import IRISES, SKINS
from tests.people import Build, by_lot, person
from tests.pictures import harbour
from warmtide.core.job.take import read_take, restyle
from warmtide.core.looks.character.form import Proportions, back_map, moved
from warmtide.core.looks.character.portrait import portrait_of
from warmtide.core.looks.character.wishes import wishes_in
from warmtide.core.looks.mixed import mixed_look
from warmtide.core.looks.registry import look_named
from warmtide.core.maths.arrays import Byte, Float
from warmtide.core.maths.colour import bytes_to_lab
from warmtide.core.model.cache import SharedCache
from warmtide.core.model.guides import Guides
from warmtide.core.model.recipe import Recipe
from warmtide.core.understanding.faces import find_faces
from warmtide.core.understanding.people.features import EYES, LIPS
from warmtide.core.understanding.people.outlines import filled
from warmtide.core.words.heard import as_heard, left_of
from warmtide.core.words.prompt import understand

CHARACTERS = ("character", "character-drawn", "character-clay")
_CACHE = SharedCache(300_000_000)


def taken(picture: Byte, look: str = "character", strength: float = 0.7, **changes: object) -> Byte:
    return restyle(picture, Recipe(look=look, strength=strength, **changes), cache=_CACHE)  # type: ignore[arg-type]


def portrait(number: int) -> Byte:
    return person(by_lot(number)._replace(turn=0.2, tilt=0.1), 320, 280)


def far(first: Byte, second: Byte) -> float:
    return float(np.abs(bytes_to_lab(first) - bytes_to_lab(second)).mean())


def eye_height(picture: Byte) -> float:
    """Height of the left eye in shares of the picture, by the points that a network sees."""
    (face,) = find_faces(picture)
    assert face.points is not None
    places = face.points.places[:, :2]
    return float(np.hypot(*(places[159] - places[145])))


class Character(unittest.TestCase):
    def test_features_are_where_the_form_has_put_them(self) -> None:
        # Undone, the change of form leaves the person's own places, within 6 % of the distance of the eyes.
        for number in (0, 2, 9):
            picture = portrait(number)
            read = portrait_of(picture, find_faces(picture))
            take = taken(picture)
            (face,) = find_faces(take)
            assert face.points is not None
            seen = face.points.places[:, :2] * max(take.shape[:2])
            back = back_map(seen, read.people, Proportions(0.9, 1.0, 1.0))
            own = read.people[0].head.xy
            eyes = float(np.hypot(*(own[263] - own[33])))
            for name, group in (
                ("left eye", EYES[0][0] + EYES[0][1]),
                ("right eye", EYES[1][0] + EYES[1][1]),
                ("mouth", LIPS[0] + LIPS[1]),
            ):
                with self.subTest(number=number, part=name):
                    off = (back - own)[list(group)].mean(0)
                    self.assertLess(float(np.hypot(*off)) / eyes, 0.06)

    def test_the_map_is_turned_round(self) -> None:
        picture = portrait(2)
        people = portrait_of(picture, find_faces(picture)).people
        form = Proportions(1.2, 1.4, 1.3, 0.5, 0.3)
        points = people[0].head.xy
        self.assertLess(float(np.abs(back_map(moved(points, people, form), people, form) - points).max()), 0.6)
        self.assertLess(float(np.abs(back_map(points, people, Proportions(0.0)) - points).max()), 1e-3)

    def test_skin_and_hair_keep_their_colour_light_and_dark(self) -> None:
        for number in (0, 1, 5, 9):
            picture = portrait(number)
            read = portrait_of(picture, find_faces(picture))
            take = bytes_to_lab(taken(picture, strength=0.75))
            before = bytes_to_lab(picture)
            for name, mask, most in (("skin", read.skin, 0.09), ("hair", read.hair, 0.10)):
                inside = cv2.erode((mask > 0.8).astype(np.uint8), np.ones((9, 9))) > 0
                if int(inside.sum()) < 60:
                    continue
                with self.subTest(number=number, part=name):
                    self.assertLess(
                        float(np.linalg.norm(np.median(take[inside], 0) - np.median(before[inside], 0))), most
                    )

    def test_eyes_keep_their_colour_on_light_and_dark_skin(self) -> None:
        # Hues against the skin's own share of the light: blue below, green away from red, brown beside it.
        for skin in (SKINS[0], SKINS[4]):
            for name, iris in (("brown", IRISES[0]), ("blue", IRISES[2]), ("green", IRISES[3]), ("grey", IRISES[4])):
                with self.subTest(skin=skin, iris=name):
                    picture = person(
                        by_lot(0)._replace(skin=skin, iris=iris, glasses=0.0, turn=0.2, tilt=0.1), 320, 280
                    )
                    _, red, yellow = portrait_of(picture, find_faces(picture)).people[0].states.iris
                    self.assertEqual(yellow > 0.05 and red > 0.02, name == "brown")
                    self.assertEqual(yellow < -0.04, name == "blue")
                    self.assertEqual(red < -0.03 and yellow > 0, name == "green")

    def test_zero_is_the_source_and_strength_goes_on(self) -> None:
        picture = portrait(2)
        for look in CHARACTERS:
            with self.subTest(look):
                self.assertTrue(np.array_equal(taken(picture, look, 0), picture))
                away = [far(picture, taken(picture, look, s)) for s in (0.2, 0.45, 0.7, 1.0)]
                self.assertEqual(away, sorted(away))
                self.assertGreater(away[2], 0.009)

    def test_guidance_weight_and_words_set_proportions(self) -> None:
        picture = portrait(9)
        usual = eye_height(taken(picture))
        self.assertGreater(usual, 1.2 * eye_height(picture))
        self.assertGreater(eye_height(taken(picture, guidance=10)), 1.03 * usual)
        self.assertLess(eye_height(taken(picture, guidance=1)), 0.97 * usual)
        self.assertGreater(eye_height(taken(picture, look_weight=1.5)), 1.04 * usual)
        self.assertLess(eye_height(taken(picture, prompt="small eyes")), 0.97 * usual)

    def test_words_set_colours_of_eyes_and_hair(self) -> None:
        picture = portrait(9)
        read = portrait_of(picture, find_faces(picture))
        inside = read.hair > 0.9
        for word, hue in (("red hair", 0.08), ("black hair", -0.2)):
            with self.subTest(word):
                plain, asked = (bytes_to_lab(taken(picture, prompt=p))[inside].mean(0) for p in ("", word))
                self.assertGreater(asked[1] - plain[1] if hue > 0 else plain[0] - asked[0], 0.03)
        iris = self._iris(taken(picture, prompt="blue eyes"))
        self.assertLess(iris[2], self._iris(taken(picture, prompt="amber eyes"))[2] - 0.05)

    def _iris(self, take: Byte) -> Float:
        (face,) = find_faces(take)
        assert face.points is not None
        places = face.points.places[:, :2] * max(take.shape[:2])
        rings = [np.concatenate([places[list(a)], places[list(b)][::-1]]) for a, b in EYES]
        lab = bytes_to_lab(take)[filled(take.shape[:2], rings) > 0.5]
        strong = np.hypot(lab[:, 1], lab[:, 2])
        return lab[strong > np.percentile(strong, 70)].mean(0)

    def test_seeds_differ_and_the_same_seed_does_not(self) -> None:
        picture = portrait(2)
        for look in CHARACTERS:
            with self.subTest(look):
                one, again, other = (taken(picture, look, seed=s) for s in (3, 3, 11))
                self.assertTrue(np.array_equal(one, again))
                self.assertGreater(far(one[60:220, 50:230], other[60:220, 50:230]), 0.001)

    def test_a_draft_foretells_and_a_large_one_is_the_same_picture(self) -> None:
        picture = portrait(2)
        large = cv2.resize(picture, None, fx=2, fy=2, interpolation=cv2.INTER_CUBIC)
        for look in CHARACTERS:
            with self.subTest(look):
                take = taken(picture, look)
                for other in (taken(picture, look, quality="draft"), taken(large, look)):
                    size = (96, 110)
                    a, b = (
                        cv2.resize(p, size, interpolation=cv2.INTER_AREA).astype(float).ravel() for p in (take, other)
                    )
                    self.assertGreater(float(np.corrcoef(a, b)[0, 1]), 0.98)

    def test_profile_and_nobody_are_said(self) -> None:
        for picture, said in (
            (person(Build(turn=1.5), 320, 280), {"profile", "nobody"}),
            (harbour(160, 240), {"nobody"}),
        ):
            recipe = Recipe(look="character", strength=0.7)
            reading = read_take(picture, restyle(picture, recipe, cache=_CACHE), recipe, _CACHE)
            self.assertTrue(said & set(reading.figures["warnings"]), reading.figures["warnings"])
        plain = Recipe(look="character", strength=0.7)
        warnings = read_take(portrait(2), taken(portrait(2)), plain, _CACHE).figures["warnings"]
        self.assertFalse({"profile", "nobody", "face"} & set(warnings), warnings)

    def test_outside_a_region_no_bit_changes(self) -> None:
        picture = portrait(2)
        region = np.zeros(picture.shape[:2], np.uint8)
        region[40:180, 60:220] = 255
        take = restyle(picture, Recipe(look="character", strength=0.8), cache=_CACHE, guides=Guides(region=region))
        self.assertTrue(np.array_equal(take[region == 0], picture[region == 0]))
        self.assertGreater(far(take[60:160, 90:200], picture[60:160, 90:200]), 0.01)

    def test_another_look_paints_the_character(self) -> None:
        picture = portrait(9)
        for one, two in (("character", "oil"), ("oil", "character")):
            with self.subTest(first=one):
                mixed = taken(picture, one, second_look=two, second_share=0.5)
                # The eyes are the character's, and the paint is oil's.
                self.assertGreater(eye_height(mixed), 1.1 * eye_height(picture))
                self.assertGreater(far(mixed, taken(picture)), 0.006)
        both = taken(picture, "character", second_look="character-clay", second_share=0.5)
        self.assertGreater(eye_height(both), 1.1 * eye_height(picture))

    def test_several_persons_all_become_characters(self) -> None:
        pair = np.hstack([portrait(2), portrait(9)])
        self.assertEqual(len(find_faces(pair)), 2)
        take = taken(pair)
        for half in (slice(0, 280), slice(280, 560)):
            self.assertGreater(
                eye_height(np.ascontiguousarray(take[:, half])), 1.1 * eye_height(np.ascontiguousarray(pair[:, half]))
            )

    def test_words_it_does_not_hear_act_as_on_any_picture(self) -> None:
        picture = portrait(9)
        plain, misty = taken(picture), taken(picture, prompt="mist")
        self.assertLess(float(bytes_to_lab(misty)[..., 0].std()), 0.97 * float(bytes_to_lab(plain)[..., 0].std()))
        recipe = Recipe(look="character", strength=0.7, prompt="mist")
        self.assertGreater(float(read_take(picture, misty, recipe, _CACHE).figures["look"]), 50)
        # What it hears by itself does not act twice.
        self.assertEqual(left_of("rim light^1.2, mist^0.5, blond hair", look_named("character")), "mist^0.5")
        (phrase,) = understand("big eyes")
        self.assertEqual(phrase.unknown, ("big", "eyes"))
        self.assertEqual(as_heard(phrase, look_named("character"))[0].unknown, ())
        self.assertEqual(as_heard(phrase, look_named("oil")), (phrase, ()))
        self.assertIsNotNone(mixed_look(look_named("oil"), look_named("character"), 0.5).hears)

    def test_what_is_heard_is_told(self) -> None:
        asked, heard = wishes_in("big eyes^0.5, blond hair, a castle, golden hour")
        self.assertEqual(heard, ("big eyes", "blond hair", "golden hour"))
        self.assertAlmostEqual(asked.get("eyes", 1), 1.15)
        self.assertIsNotNone(asked.hair)
        self.assertIsNone(asked.iris)
