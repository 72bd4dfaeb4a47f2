"""Scene words: which place, time and weather a prompt asks for, and what cannot be together."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from warmtide.core.model.scene import Asked
from warmtide.core.scenes.view import SKIES, TIMES
from warmtide.core.scenes.words import read_scene, runs, split
from warmtide.core.words.prompt import effect_of, scene_of, suggestions, understand


def asked(words: str) -> Asked:
    found = read_scene(words).asked
    assert found is not None, words
    return found


class Reading(unittest.TestCase):
    def test_places_are_found_among_other_words(self) -> None:
        for words, place in (
            ("a metal badge on a cliff edge, daylight, sea behind", "cliff"),
            ("neon on a wet street at night", "street"),
            ("floating in space", "space"),
            ("landscape with mountains and a lake", "lake"),
            ("snowy mountains", "alps"),
            ("on a wooden table with bokeh", "table"),
            ("in the harbour", "quay"),
        ):
            self.assertEqual(asked(words).place, place, words)

    def test_words_are_whole(self) -> None:
        for words in (
            "a sandwich",
            "ice cream",
            "seaweed crisps",
            "parking",
            "desktop",
            "landscape",
            "sky blue coat",
            "",
        ):
            self.assertIsNone(read_scene(words).asked, words)

    def test_time_weather_and_small_things(self) -> None:
        found = asked("beach at sunset, storm clouds behind, gulls, sailing boats")
        self.assertEqual((found.extras, found.sky), ({"birds", "boats"}, "storm"))
        self.assertEqual(asked("forest in the rain").sky, "overcast")
        self.assertTrue(asked("street, rain, night").wet)
        self.assertEqual(asked("park, cherry blossom").trees, "blossom")
        self.assertEqual(asked("neon signs over a street").time, "night")
        self.assertEqual(asked("space").time, "night")

    def test_conflicts_are_told_in_a_sentence(self) -> None:
        for words, said in (
            ("hills and outer space", "One picture shows one place: rolling hills is drawn, space is not."),
            ("beach, night, golden hour", "Night and golden hour cannot be together: it is night."),
            ("park, rain, clear sky", "Rain falls from clouds: the sky is overcast, not clear."),
            ("space, rain", "Space has no rain: it is left out."),
            ("lake, overcast, rays", "Rays need a sun: under this sky there are none."),
            ("park in summer, snowfall", "Snow does not fall in summer: it is winter."),
        ):
            self.assertIn(said, read_scene(words).conflicts, words)
        self.assertEqual(read_scene("lake with mountains, golden hour, mist").conflicts, ())

    def test_every_phrase_says_what_it_was_understood_as(self) -> None:
        reading = read_scene("cliff edge^1.3, sea behind, at dusk, three sailors")
        self.assertEqual(
            reading.understood,
            (
                ("cliff edge", ("cliff above the sea",)),
                ("sea behind", ("cliff above the sea",)),
                ("at dusk", ("dusk",)),
            ),
        )

    @given(st.text(max_size=60))
    def test_nothing_typed_can_break_it(self, text: str) -> None:
        found = read_scene(text).asked
        if found is not None:
            self.assertIn(found.time, TIMES)
            self.assertIn(found.sky, SKIES)
        words = split(text)
        self.assertTrue(all(0 <= first < last <= len(words) for first, last, _ in runs(words)))


class InAPrompt(unittest.TestCase):
    def test_a_colour_for_a_place_that_is_there_is_no_scene(self) -> None:
        for words in ("dark blue sea", "golden street", "red beach", "green forest"):
            self.assertIsNone(scene_of(words).asked, words)
        self.assertIsNotNone(scene_of("blue lake with mountains").asked)
        self.assertIsNotNone(scene_of("dark blue sea, hills").asked)

    def test_scene_words_are_understood_where_a_place_is_named(self) -> None:
        alone, with_place = understand("gulls")[0], understand("gulls, beach")[0]
        self.assertEqual((alone.scene, alone.unknown), ((), ("gulls",)))
        self.assertEqual((with_place.scene, with_place.unknown), (("birds",), ()))
        self.assertEqual(understand("cliff, sea behind, three sailors")[1].unknown, ())
        self.assertEqual(understand("beech wood, sandy beach")[1].scene, ("beach",))

    def test_a_wrong_spelling_is_offered_the_place(self) -> None:
        self.assertIn("skyline", suggestions(understand("skylnie of glass")[0]))

    def test_the_light_of_a_drawn_scene_is_not_laid_on_twice(self) -> None:
        alone = effect_of("lake, night", "", 7)
        self.assertLess(alone["light"], -0.1)
        self.assertAlmostEqual(effect_of("lake, night", "", 7, 0.5)["light"], alone["light"] / 2)
        self.assertEqual(effect_of("lake, night", "", 7, 1.0), {})
        # What is no part of the scene acts as ever.
        self.assertEqual(effect_of("lake, melancholy", "", 7, 1.0), effect_of("lake, melancholy", "", 7))
