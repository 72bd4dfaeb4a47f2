"""How a recipe fits an engine that is not the built-in one, and that the built-in one stands behind the same interface."""

import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from tests.pictures import harbour
from warmtide.core.job.engine import engine_of, engines
from warmtide.core.job.take import render
from warmtide.core.model.engine import About, fitted, said
from warmtide.core.model.errors import BadInput
from warmtide.core.model.recipe import BUILT_IN, ENGINE_VERSION, HOLDS, Recipe, recipe_from, take_key

PLAIN = {
    "protocol": 1, "name": "studio", "title": "Studio", "version": "3", "looks": [{"name": "wash", "title": "Wash"}],
    "controls": [{"name": "strength", "low": 0, "high": 1}, {"name": "guidance", "low": 1, "high": 10}], "holds": ["lines"], "sizes": [64, 1024],
}  # fmt: skip


def about(**changes: object) -> About:
    return About.model_validate(PLAIN | changes)


class Fitting(unittest.TestCase):
    def test_what_an_engine_has_is_left_as_it_is(self) -> None:
        recipe = Recipe(
            engine="studio",
            look="wash",
            strength=0.4,
            guidance=7,
            holds={"lines": 0.6, **dict.fromkeys(HOLDS[1:], 0.0)},
        )  # type: ignore[arg-type]
        fit = fitted(about(), recipe)
        self.assertEqual((fit.recipe, fit.lacks), (recipe, ()))

    def test_what_it_lacks_is_told_and_goes_back_to_the_beginning(self) -> None:
        recipe = Recipe(
            engine="studio", look="oil", prompt="mist", seed=9, second_look="neon", second_share=0.4, sampler="euler"
        )
        fit = fitted(about(), recipe)
        self.assertEqual(
            (fit.recipe.look, fit.recipe.prompt, fit.recipe.seed, fit.recipe.second_look), ("wash", "", 7, None)
        )
        self.assertEqual(fit.recipe.holds.model_dump(), {**dict.fromkeys(HOLDS, 0.0), "lines": 0.7})
        sentence = said(about(), fit.lacks)
        for lacking in (
            "look oil (it makes Wash)",
            "no seed",
            "no second look neon",
            "no prompt",
            "hold on shapes, colours, faces or subject",
            "sampler euler",
        ):
            self.assertIn(lacking, sentence)
        self.assertNotIn("depth", sentence, "nothing was held by it")

    def test_takes_that_would_be_the_same_have_one_key(self) -> None:
        keys = {
            take_key("pixels", fitted(about(), Recipe(engine="studio", look="wash", seed=seed)).recipe)
            for seed in range(4)
        }
        self.assertEqual(len(keys), 1, "it hears no seed")

    def test_amounts_and_sizes_out_of_its_range_are_refused(self) -> None:
        for changes, words in (
            ({"guidance": 12}, "guidance goes from 1 to 10"),
            ({"size": 2048}, "of 64 to 1024 px"),
        ):
            with self.assertRaisesRegex(BadInput, words):
                fitted(about(), recipe_from({"engine": "studio", "look": "wash", **changes}))

    @given(st.floats(0, 1), st.integers(1, 30), st.sampled_from(["oil", "wash", "neon"]), st.sampled_from(["", "mist"]))
    def test_a_fitted_recipe_fits(self, strength: float, guidance: int, look: str, prompt: str) -> None:
        recipe = Recipe(engine="studio", look=look, strength=strength, guidance=min(guidance, 10), prompt=prompt)
        again = fitted(about(), fitted(about(), recipe).recipe)
        self.assertEqual(again.lacks, ())

    def test_what_can_not_be_is_refused_as_an_engine(self) -> None:
        for wrong in (
            {"sizes": [512, 64]}, {"looks": []}, {"name": "Studio A"}, {"controls": [{"name": "strength", "low": 1, "high": 0}]},
            {"looks": [{"name": "a", "title": "A"}] * 2}, {"holds": ["hands"]}, {"version": "1 2"}, {"at_once": 0},
        ):  # fmt: skip
            with self.subTest(wrong), self.assertRaises(ValidationError):
                about(**wrong)
        self.assertEqual(about(more="of a later version").tag, "studio 3")


class BuiltIn(unittest.TestCase):
    def test_recipes_that_name_no_engine_mean_it_and_keep_their_keys(self) -> None:
        self.assertEqual(Recipe().engine, BUILT_IN)
        self.assertNotIn("engine", Recipe().canonical())
        self.assertIn("engine", Recipe(engine="studio").canonical())
        # As it was before there were others.
        text = f"{ENGINE_VERSION}\npixels\n{Recipe().canonical()}"
        import hashlib

        self.assertEqual(take_key("pixels", Recipe()), hashlib.sha256(text.encode()).hexdigest())

    def test_it_says_of_itself_what_the_recipe_can_have(self) -> None:
        own = engines()[BUILT_IN].about
        self.assertEqual((own.tag, own.holds), (ENGINE_VERSION, HOLDS))
        self.assertIn("watercolour", [look.name for look in own.looks])

    def test_an_engine_that_is_not_here_is_one_sentence(self) -> None:
        with self.assertRaisesRegex(BadInput, "no engine 'gone' here; there is built-in"):
            engine_of(Recipe(engine="gone"))

    def test_names_of_engines_are_plain(self) -> None:
        for name in ("Studio", "a b", "../x", "", "1a"):
            with self.subTest(name), self.assertRaisesRegex(BadInput, "An engine is named with small letters"):
                recipe_from({"engine": name})

    def test_a_take_is_read_whoever_makes_it(self) -> None:
        rendered = render(harbour(96, 144), Recipe(size=144, steps=4, strength=0.6))
        self.assertEqual(rendered.picture.shape, (96, 144, 3))
        self.assertIsNotNone(rendered.reading.figures["look"])
        self.assertGreater(float(np.abs(rendered.picture.astype(int) - harbour(96, 144)).mean()), 1)
