"""A prompt is read with our own lexicon, says what it understood, and changes the take."""

import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from tests.pictures import harbour
from warmtide.core.job.costs import expected_seconds
from warmtide.core.job.looking import look_of, look_said, without_looks
from warmtide.core.job.take import restyle
from warmtide.core.looks.registry import look_named
from warmtide.core.maths.colour import bytes_to_lab, to_lab
from warmtide.core.model.cache import SharedCache
from warmtide.core.model.errors import BadInput
from warmtide.core.model.lexicon import NAMES, concepts, vocabulary
from warmtide.core.model.recipe import Recipe, recipe_from
from warmtide.core.words.effects import worded
from warmtide.core.words.prompt import effect_of, understand

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
        for title, concept in concepts().items():
            # The look that is chosen is not mixed into itself.
            if concept.look == Recipe().look:
                continue
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


class Media(unittest.TestCase):
    """Words that name a look mix it in."""

    def told(self, prompt: str, **values: object) -> list[str | None]:
        recipe = Recipe.model_validate({"guidance": 7, "look": "oil", "prompt": prompt, **values})
        said = [look_said(recipe, phrase) for phrase in understand(prompt)]
        return [one and ("" if one.acts else "nothing: ") + one.words for one in said]

    def test_every_named_look_is_one_that_is_here_and_can_be_mixed(self) -> None:
        named = [concept for concept in concepts().values() if concept.look]
        self.assertGreaterEqual(len(named), 15)
        for concept in named:
            self.assertFalse(look_named(str(concept.look)).handling.once, concept.title)
            self.assertEqual(concept.effect, (), concept.title)
        self.assertEqual(len({concept.look for concept in named}), len(named))

    def test_a_medium_is_the_second_look(self) -> None:
        by_word = taken(look="oil", prompt="charcoal drawing")
        by_hand = taken(look="oil", second_look="charcoal", second_share=0.5)
        np.testing.assert_array_equal(by_word, by_hand)
        lighter = taken(look="oil", prompt="charcoal drawing^0.4")
        np.testing.assert_array_equal(lighter, taken(look="oil", second_look="charcoal", second_share=0.2))

    def test_where_it_has_no_effect_it_is_said_and_changes_nothing(self) -> None:
        plain = taken(look="oil")
        for values in (
            {"prompt": "oil painting"}, {"avoid": "charcoal"}, {"prompt": "charcoal", "second_look": "gouache", "second_share": 0.0},
        ):  # fmt: skip
            with self.subTest(values=values):
                np.testing.assert_array_equal(taken(look="oil", **values), plain)
        self.assertEqual(apart(taken(guidance=1), taken(guidance=1, prompt="charcoal")), 0)
        self.assertEqual(self.told("oil painting"), ["the look itself"])
        self.assertEqual(
            self.told("charcoal", second_look="gouache", second_share=0.3), ["nothing: a second look is chosen already"]
        )
        self.assertEqual(self.told("charcoal", look="gold"), ["nothing: no paint is mixed into this look"])
        self.assertEqual(self.told("charcoal", guidance=1), ["nothing: guidance 1 leaves words out"])
        self.assertEqual(self.told("mist"), [None])
        self.assertIs(look_of(Recipe(look="gold", prompt="charcoal", guidance=7)), look_named("gold"))

    def test_the_heaviest_of_several_wins_and_guidance_scales_it(self) -> None:
        self.assertEqual(
            self.told("pencil, linocut^1.2, mist"),
            ["nothing: linocut is mixed in already", "linocut, 60 % of the look", None],
        )
        self.assertEqual(
            self.told("pencil, linocut"), ["pencil, 50 % of the look", "nothing: pencil is mixed in already"]
        )
        shares = []
        for guidance in (2, 5, 7, 15, 30):
            (said,) = self.told("pencil^2", guidance=guidance)
            shares.append(int(str(said).split(", ")[1].split(" %")[0]))
        self.assertEqual(shares, sorted(shares))
        # However hard it is pulled, the look that was chosen stays in it.
        self.assertEqual(shares[-1], 85)

    def test_two_painters_take_as_long_as_two(self) -> None:
        one, two = (expected_seconds(Recipe(prompt=prompt, guidance=7), 341, 512) for prompt in ("", "stitch"))
        self.assertAlmostEqual(two - one, look_named("stitch").seconds, delta=0.1)

    def test_a_look_is_never_said_to_act_at_a_place(self) -> None:
        (phrase,) = understand("watercolour sky")
        self.assertEqual((phrase.concepts, phrase.place, phrase.unknown), (("watercolour",), None, ("sky",)))
        (phrase,) = understand("misty charcoal background")
        self.assertEqual(phrase.place, "background")

    def test_other_words_of_the_phrase_still_act(self) -> None:
        (phrase,) = understand("misty watercolour^1.5")
        self.assertEqual(phrase.concepts, ("mist", "watercolour"))
        self.assertEqual(without_looks(phrase), ("mist",))
        self.assertEqual(effect_of("misty watercolour", "", 7), effect_of("misty", "", 7))
        self.assertEqual(self.told("misty watercolour^1.5"), ["watercolour, 75 % of the look"])
