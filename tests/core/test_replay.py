"""Saved pictures made again from themselves: every kind of step."""

import unittest
from typing import Any

import numpy as np

from tests.pictures import as_file, harbour, keeper
from warmtide.core.finish.enlarge.kind import Job
from warmtide.core.finish.enlarge.registry import enlarged
from warmtide.core.job.replay import MOST_STEPS, SourceMissing, replay
from warmtide.core.job.take import restyle
from warmtide.core.job.told import original_key, told, way_of
from warmtide.core.maths.arrays import Byte
from warmtide.core.model.errors import BadInput
from warmtide.core.model.face import Face
from warmtide.core.model.guides import Guides
from warmtide.core.model.recipe import Recipe
from warmtide.core.pictures.framing import Framing, frame
from warmtide.core.pictures.image import decode, png

FIRST = Recipe(look="ink-comic", size=96, strength=0.5, steps=8)
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
        return made, told(made, FIRST, "k", "quay.png", original_key(self.original), framing, **led)

    def test_a_take_in_its_framing_and_with_marked_faces(self) -> None:
        made, inside = self.first(Framing(left=0.1, flip=True, ground="#203040", margin=0.1))
        again = replay(inside, self.find)
        np.testing.assert_array_equal(again.picture, made)
        self.assertEqual((again.steps, again.same), (1, True))
        self.original = as_file(keeper(120, 180))
        made, inside = self.first(
            guides=Guides(faces=(Face(0.3, 0.3, 0.2),)), faces=[{"x": 0.3, "y": 0.3, "width": 0.2, "angle": 0.0}]
        )
        self.assertTrue(replay(inside, self.find).same)

    def test_a_take_of_a_take_and_what_was_made_larger(self) -> None:
        made, inside = self.first()
        data = png(made, inside)
        before = way_of(data)
        self.assertEqual(before, inside)
        second = restyle(frame(decode(data).rgba, Framing(), SECOND.size), SECOND)
        told_of = told(second, SECOND, "k2", "quay 2.png", original_key(data), Framing(), before)
        again = replay(told_of, self.find)
        np.testing.assert_array_equal(again.picture, second)
        self.assertEqual((again.steps, again.same), (2, True))
        large = enlarged(Job(second, 128, 192), "edges")
        larger = replay({**told_of, "enlarged": {"way": "edges", "width": 192, "height": 128}}, self.find)
        np.testing.assert_array_equal(larger.picture, large)
        self.assertEqual(larger.steps, 3)

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
        with self.assertRaisesRegex(BadInput, "region"):
            replay({**inside, "guides": ["region"]}, self.find)
        nested: dict[str, Any] = dict(inside)
        for _ in range(MOST_STEPS + 1):
            nested = {**inside, "from": nested}
        with self.assertRaisesRegex(BadInput, "steps"):
            replay(nested, self.find)
        for wrong in ({}, {**inside, "recipe": 3}, {**inside, "recipe": {"strength": 7}}):
            with self.assertRaises(BadInput):
                replay(wrong, self.find)
