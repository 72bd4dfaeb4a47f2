"""A prompt is read with our own lexicon, says what it understood, and changes the take."""

import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from tests.pictures import harbour
from warmtide.core.colour import bytes_to_lab, to_lab
from warmtide.core.engine.cache import SharedCache
from warmtide.core.engine.restyle import restyle
from warmtide.core.errors import BadInput
from warmtide.core.recipe import Recipe, recipe_from
from warmtide.core.words.effects import NAMES, worded
from warmtide.core.words.understanding import concepts, effect_of, understand, vocabulary

SOURCE = harbour(144, 216)
CACHE = SharedCache()


def taken(**values):  # type: ignore[no-untyped-def]
    return restyle(SOURCE, Recipe.model_validate({"strength": 0.6, "guidance": 7, **values}), cache=CACHE)


def apart(a, b) -> float:  # type: ignore[no-untyped-def]
    return float(np.abs(a.astype(float) - b.astype(float)).mean() / 255)


class Reading(unittest.TestCase):
    def test_the_lexicon_is_large_and_has_no_doubles(self) -> None:
        words = [w for c in concepts().values() for w in {*c.words, c.title}]
        self.assertGreater(len(set(words)), 400)
        self.assertEqual(len(vocabulary()), len({" ".join(k) for k in vocabulary()}))
        for concept in concepts().values():
            with self.subTest(concept=concept.title):
                self.assertTrue({name.rstrip("12") for name, _ in concept.effect} <= set(NAMES))
                self.assertTrue(all(understand(word)[0].concepts == (concept.title,) for word in concept.words))

    def test_phrases_weights_and_what_is_not_understood(self) -> None:
        mist, boat, small = understand("misty morning^1.4, a wooden boat, in the")
        self.assertEqual((mist.concepts, mist.weight, mist.unknown), (("mist",), 1.4, ("morning",)))
        self.assertEqual((boat.concepts, boat.unknown), (("wood",), ("boat",)))
        self.assertEqual((small.concepts, small.unknown), ((), ()))
        self.assertEqual(understand(""), ())

    def test_typing_errors_are_forgiven_and_told(self) -> None:
        (phrase,) = understand("goldn hour")
        self.assertEqual((phrase.concepts, phrase.corrected), (("golden hour",), (("goldn", "golden"),)))
        self.assertEqual(understand("nigth")[0].concepts, ("night",))
        self.assertEqual(understand("pastell")[0].concepts, ("pastel",))
        # A word is not taken for another that merely begins alike.
        self.assertEqual(understand("sandwich")[0].concepts, ())
        self.assertEqual(understand("dogs")[0].unknown, ("dogs",))

    def test_bad_weights_are_refused_in_one_sentence(self) -> None:
        for text, words in (("mist^much", "not a number"), ("mist^3", "0.1 to 2"), ("mist^0", "0.1 to 2")):
            with self.subTest(text=text), self.assertRaisesRegex(BadInput, words):
                understand(text)
            with self.subTest(recipe=text), self.assertRaisesRegex(BadInput, words):
                recipe_from({"prompt": text})

    @given(st.text(max_size=60).filter(lambda text: "^" not in text))
    def test_any_text_is_read(self, text: str) -> None:
        for phrase in understand(text):
            self.assertTrue(phrase.text)
            self.assertTrue(set(phrase.concepts) <= set(concepts()))


class Effects(unittest.TestCase):
    def test_guidance_weight_and_avoid_scale(self) -> None:
        one = effect_of("fog", "", 7)["haze"]
        self.assertAlmostEqual(effect_of("fog^0.5", "", 7)["haze"], one / 2)
        self.assertEqual(effect_of("fog", "", 1), {})
        self.assertGreater(effect_of("fog", "", 12)["haze"], one)
        self.assertAlmostEqual(effect_of("", "fog", 7)["haze"], -one)
        self.assertEqual(effect_of("fog", "fog", 7), {})
        self.assertAlmostEqual(effect_of("fog, mist", "", 7)["haze"], one + effect_of("mist", "", 7)["haze"])

    def test_two_colours_meet_between_them(self) -> None:
        both = effect_of("red, yellow", "", 7)["toward2"]
        self.assertTrue(0.45 < both < 1.75)

    def test_words_do_what_they_say(self) -> None:
        lab = to_lab(SOURCE.astype(np.float32) / 255)

        def seen(prompt: str, avoid: str = "") -> np.ndarray:
            return worded(lab, effect_of(prompt, avoid, 7), 3)

        self.assertLess(seen("night")[..., 0].mean(), lab[..., 0].mean() - 0.08)
        self.assertGreater(seen("golden hour")[..., 2].mean(), lab[..., 2].mean() + 0.01)
        self.assertLess(np.hypot(*np.moveaxis(seen("monochrome")[..., 1:], -1, 0)).mean(), 0.02)
        self.assertLess(seen("fog")[..., 0].std(), 0.8 * lab[..., 0].std())
        self.assertGreater(seen("high contrast")[..., 0].std(), 1.15 * lab[..., 0].std())
        self.assertLess(seen("", "high contrast")[..., 0].std(), 0.9 * lab[..., 0].std())
        self.assertLess(seen("blue")[..., 2].mean(), lab[..., 2].mean() - 0.01)
        self.assertIs(worded(lab, {}, 3), lab)

    @given(st.lists(st.sampled_from(sorted(concepts())), max_size=8), st.floats(1, 30), st.booleans())
    def test_any_pile_of_words_leaves_a_picture(self, titles: list[str], guidance: float, avoided: bool) -> None:
        text = ", ".join(titles)
        lab = to_lab(harbour(48, 72).astype(np.float32) / 255)
        out = worded(lab, effect_of("" if avoided else text, text if avoided else "", guidance), 1)
        self.assertTrue(np.isfinite(out).all())
        self.assertTrue(out[..., 0].min() >= 0 and out[..., 0].max() <= 1 and np.abs(out[..., 1:]).max() < 0.5)


class Takes(unittest.TestCase):
    def test_every_concept_changes_the_take_visibly(self) -> None:
        plain = taken()
        for title in concepts():
            with self.subTest(concept=title):
                self.assertGreater(apart(plain, taken(prompt=title)), 0.006)

    def test_avoiding_changes_it_too_and_the_other_way(self) -> None:
        plain, dark, light = taken(), taken(prompt="night"), taken(avoid="night")
        means = [float(bytes_to_lab(p)[..., 0].mean()) for p in (dark, plain, light)]
        self.assertEqual(means, sorted(means))
        self.assertGreater(means[2] - means[0], 0.1)

    def test_unknown_words_and_guidance_one_change_nothing(self) -> None:
        self.assertEqual(apart(taken(), taken(prompt="zebra crossing")), 0)
        self.assertEqual(apart(taken(guidance=1), taken(prompt="night", guidance=1)), 0)
