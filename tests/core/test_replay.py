"""Saved pictures made again from themselves: every kind of step."""

import unittest
from typing import Any
from unittest.mock import patch

import numpy as np

from tests.pictures import as_file, harbour, keeper
from warmtide.core.finish.enlarge.kind import Job
from warmtide.core.finish.enlarge.registry import enlarged
from warmtide.core.job.replay import MOST_STEPS, SourceMissing, replay
from warmtide.core.job.take import restyle
from warmtide.core.job.told import Origin, original_key, told, told_mix, way_of
from warmtide.core.maths.arrays import Byte
from warmtide.core.model.errors import BadInput
from warmtide.core.model.face import Face
from warmtide.core.model.guides import Guides
from warmtide.core.model.recipe import Recipe
from warmtide.core.pictures.framing import Framing, frame
from warmtide.core.pictures.image import decode, png
from warmtide.core.pictures.mix import mix

FIRST = Recipe(look="watercolour", size=128, strength=0.5, steps=8)
SECOND = Recipe(look="pencil", size=96, strength=0.4, steps=8)


class Replayed(unittest.TestCase):
    def setUp(self) -> None:
        self.original = as_file(harbour(120, 180, 6))

    def find(self, key: str, name: str) -> bytes | None:
        return self.original if key == original_key(self.original) else None

    def first(
        self, framing: Framing | None = None, guides: Guides | None = None, **led: Any
    ) -> tuple[Byte, dict[str, Any]]:
        framing = framing or Framing()
        source = frame(decode(self.original).rgba, framing, FIRST.size)
        made = restyle(source, FIRST, guides=guides or Guides())
        return made, told(made, FIRST, "k", Origin("quay.png", original_key(self.original), framing, **led))

    def test_a_take_in_its_framing_and_with_marked_faces(self) -> None:
        made, inside = self.first(Framing(left=0.1, flip=True, ground="#203040", margin=0.1))
        again = replay(inside, self.find)
        np.testing.assert_array_equal(again.picture, made)
        self.assertEqual((again.steps, again.same), (1, True))

    def test_faces_that_were_marked_and_faces_that_were_struck(self) -> None:
        self.original = as_file(keeper(240, 320))
        marked = {"x": 0.7, "y": 0.2, "width": 0.2, "angle": 0.0}
        for faces, told_of in (((Face(0.7, 0.2, 0.2),), [marked]), ((), [])):
            _, inside = self.first(guides=Guides(faces=faces), faces=told_of)
            self.assertTrue(replay(inside, self.find).same, told_of)
            # They are what the take hangs on: looked for, others are found.
            looked_for = {name: value for name, value in inside.items() if name != "faces"}
            self.assertFalse(replay(looked_for, self.find).same, told_of)

    def test_a_take_of_a_take_and_what_was_made_larger(self) -> None:
        made, inside = self.first()
        data = png(made, inside)
        before = way_of(data)
        self.assertEqual(before, inside)
        second = restyle(frame(decode(data).rgba, Framing(), SECOND.size), SECOND)
        told_of = told(second, SECOND, "k2", Origin("quay 2.png", original_key(data), Framing(), before))
        again = replay(told_of, self.find)
        np.testing.assert_array_equal(again.picture, second)
        self.assertEqual((again.steps, again.same), (2, True))
        large = enlarged(Job(second, 128, 192), "edges")
        larger = replay({**told_of, "enlarged": {"way": "edges", "width": 192, "height": 128}}, self.find)
        np.testing.assert_array_equal(larger.picture, large)
        self.assertEqual(larger.steps, 3)

    def test_steps_that_several_branches_share_are_made_once(self) -> None:
        made, inside = self.first()
        data = png(made, inside)
        source = frame(decode(data).rgba, Framing(), SECOND.size)
        branches, pictures = [], []
        for seed in (1, 2):
            recipe = SECOND.changed(seed=seed)
            pictures.append(restyle(source, recipe))
            branches.append(told(pictures[-1], recipe, "k", Origin("2.png", original_key(data), Framing(), inside)))
        mixed = mix(pictures, [2.0, 1.0])
        with patch("warmtide.core.job.replay.restyle", wraps=restyle) as made_again:
            again = replay(told_mix(mixed, branches, [2.0, 1.0]), self.find)
        np.testing.assert_array_equal(again.picture, mixed)
        self.assertEqual((again.same, again.steps, made_again.call_count), (True, 4, 3))

    def test_other_pixels_are_told(self) -> None:
        made, inside = self.first()
        self.assertFalse(replay({**inside, "recipe": FIRST.changed(seed=9).model_dump()}, self.find).same)
        touched = made.copy()
        touched[0, 0] ^= 1
        # A file that was touched by others has no way of its own any more.
        self.assertIsNone(way_of(png(touched, inside)))

    def test_what_can_not_be_followed_is_one_sentence(self) -> None:
        _, inside = self.first()
        with self.assertRaisesRegex(SourceMissing, "quay.png.*SHA-256"):
            replay(inside, lambda key, name: None)
        for led in (["region"], {"region": None}):
            with self.assertRaisesRegex(BadInput, "region"):
                replay({**inside, "guides": led}, self.find)
        with self.assertRaisesRegex(SourceMissing, "made by hand"):
            replay({**inside, "guides": {"region": "0" * 64}}, self.find)
        with self.assertRaisesRegex(BadInput, "damaged"):
            replay({**inside, "parts": {"0" * 64: "QUJD"}}, self.find)
        nested: dict[str, Any] = dict(inside)
        for _ in range(MOST_STEPS + 1):
            nested = {**inside, "from": nested}
        with self.assertRaisesRegex(BadInput, "steps"):
            replay(nested, self.find)
        larger = {"way": "edges", "width": 10**9, "height": 10**9}
        for wrong in (
            {}, {**inside, "recipe": 3}, {**inside, "recipe": {"strength": 7}}, {**inside, "framing": {"left": "far"}}, {**inside, "framing": 3},
            {**inside, "faces": [{"x": 1}]}, {**inside, "faces": 7}, {**inside, "enlarged": larger}, {**inside, "enlarged": {"way": "edges"}},
            {"mixed": 3}, {"mixed": []}, {"mixed": [{"of": inside, "weight": "much"}]}, {"stacked": {}}, {"cut": {}}, {"cut": 1, "of": 2},
            {"side": 10**9, "original": original_key(self.original)}, {**inside, "guides": 7}, {**inside, "parts": {"x": 1}},
            {**inside, "enlarged": {**larger, "width": -3}}, {**inside, "enlarged": {"way": "magic", "width": 99, "height": 99}},
        ):  # fmt: skip
            with self.subTest(wrong=str(wrong)[-60:]), self.assertRaises(BadInput):
                replay(wrong, self.find)
