"""Descriptions of pictures whose truth is known, since a program made them."""

import unittest

import cv2
import numpy as np

from tests.pictures import disc_on_ground, harbour
from warmtide.core.maths.arrays import Byte
from warmtide.core.understanding.describe import colour_name, describe, place_words
from warmtide.core.words.prompt import acts

H, W = 240, 320


def lit(direction: tuple[float, float]) -> Byte:
    """A rough wall whose light comes from a side."""
    ys, xs = np.mgrid[0:H, 0:W] / (H, W)[0]
    slope = 120 + 90 * (direction[0] * (xs / (W / H) - 0.5) + direction[1] * (ys - 0.5)) * 2
    noise = np.random.default_rng(5).normal(0, 9, (H, W))
    return np.repeat(np.clip(slope + noise, 0, 255)[..., None], 3, 2).astype(np.uint8)


def said(picture: Byte, **known: object) -> dict[str, float]:
    return {phrase.text: phrase.sure for phrase in describe(picture, **known)}  # type: ignore[arg-type]


class Described(unittest.TestCase):
    def test_light_and_its_side(self) -> None:
        for way, words in (
            ((-1, 0), "light from the left"),
            ((1, 0), "light from the right"),
            ((0, 1), "light from below"),
        ):
            with self.subTest(words):
                found = said(lit(way), kind="photo", faces=())
                self.assertGreater(found.get(words, 0), 0.5)
                others = {"light from the left", "light from the right", "light from below"} - {words}
                self.assertEqual({o: found.get(o, 0) for o in others if o in found}, {})

    def test_key_and_contrast(self) -> None:
        self.assertIn("high key", said(np.full((H, W, 3), 235, np.uint8), kind="photo", faces=()))
        self.assertIn("low light", said(np.full((H, W, 3), 30, np.uint8), kind="photo", faces=()))
        split = np.zeros((H, W, 3), np.uint8)
        split[:, W // 2 :] = 255
        self.assertIn("high contrast", said(split, kind="photo", faces=()))

    def test_the_horizon_and_the_colours_beside_it(self) -> None:
        picture = np.empty((H, W, 3), np.uint8)
        picture[:80] = (120, 160, 220)
        picture[80:] = (70, 110, 40)
        found = said(picture, kind="photo", faces=())
        self.assertGreater(found["high horizon"], 0.8)
        self.assertTrue(any(text.startswith("blue") and "top" in text for text in found), found)
        self.assertTrue(any("green" in text for text in found), found)

    def test_the_subject_and_its_place(self) -> None:
        picture = disc_on_ground(240, 240)
        rolled = np.roll(np.roll(picture, 60, 1), -60, 0)
        self.assertIn("subject in the middle", said(picture))
        self.assertIn("subject at the upper right", said(rolled))
        self.assertIn("flat art", said(picture))

    def test_sharp_and_blurred(self) -> None:
        sharp = np.random.default_rng(2).integers(0, 255, (H, W, 3)).astype(np.uint8)
        self.assertIn("rough texture", said(sharp, kind="photo", faces=()))
        soft = cv2.GaussianBlur(cv2.GaussianBlur(sharp, (0, 0), 8), (0, 0), 6)
        soft = cv2.normalize(soft, None, 0, 255, cv2.NORM_MINMAX)  # type: ignore[call-overload]
        found = said(soft, kind="photo", faces=())
        self.assertIn("blurred", found)
        self.assertNotIn("rough texture", found)

    def test_phrases_say_whether_they_would_act(self) -> None:
        found = {phrase.text: acts(phrase.text) for phrase in describe(harbour(240, 320))}
        self.assertFalse(
            any(found.get(text) for text in ("photograph", "horizon in the middle", "subject in the middle"))
        )
        self.assertTrue(any(found.values()))

    def test_every_confidence_is_a_share_and_nothing_is_said_twice(self) -> None:
        for picture in (harbour(240, 320), lit((1, 0)), np.zeros((64, 64, 3), np.uint8)):
            found = describe(picture)
            self.assertTrue(all(0.25 <= phrase.sure <= 1 for phrase in found))
            self.assertEqual(len({phrase.text for phrase in found}), len(found))


class Names(unittest.TestCase):
    def test_colours(self) -> None:
        for rgb, name in (
            ((220, 30, 30), "red"), ((240, 140, 30), "orange"), ((250, 220, 60), "yellow"), ((40, 150, 60), "green"),
            ((40, 90, 220), "blue"), ((110, 60, 170), "violet"), ((255, 255, 255), "white"), ((8, 8, 8), "black"),
            ((128, 128, 128), "grey"), ((110, 70, 40), "brown"),
        ):  # fmt: skip
            with self.subTest(rgb=rgb):
                self.assertIn(name, colour_name(np.array(rgb)))

    def test_places(self) -> None:
        self.assertEqual(place_words(0.1, 0.1), "upper left")
        self.assertEqual(place_words(0.5, 0.9), "bottom")
        self.assertEqual(place_words(0.5, 0.5), "middle")
        self.assertEqual(place_words(0.9, 0.5), "right")
