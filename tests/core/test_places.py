"""Colour and light tied to a place of the picture; what kind of picture a source is."""

import unittest

import cv2
import numpy as np

from demo import badge, boathouse, sketch
from tests.pictures import disc_on_ground, harbour, keeper
from warmtide.core.engine.source import prepare
from warmtide.core.job.take import restyle
from warmtide.core.maths.arrays import Byte
from warmtide.core.maths.colour import bytes_to_lab
from warmtide.core.model.recipe import Recipe
from warmtide.core.understanding.kind import guess_kind, holds_for
from warmtide.core.understanding.places import find_places, of_hue, places_in, said
from warmtide.core.words.effects import places_of
from warmtide.core.words.prompt import effect_of, understand


def view(height: int = 120, width: int = 180) -> Byte:
    """Pale sky, a green bank, blue water, a red sail."""
    picture = np.zeros((height, width, 3), np.uint8)
    picture[: height // 2] = (196, 206, 218)
    picture[height // 2 : height * 2 // 3] = (70, 110, 60)
    picture[height * 2 // 3 :] = (50, 90, 140)
    cv2.fillPoly(picture, [np.array([[90, 20], [90, 85], [125, 85]])], (150, 85, 80), cv2.LINE_AA)
    grain = np.random.default_rng(0).normal(0, 2, picture.shape)
    return np.clip(picture + grain, 0, 255).astype(np.uint8)


def chroma_and_hue(picture: Byte) -> tuple[float, float]:
    _, a, b = bytes_to_lab(picture).reshape(-1, 3).mean(0)
    return float(np.hypot(a, b)), float(np.arctan2(b, a))


class Understanding(unittest.TestCase):
    def test_a_place_ties_what_is_said_to_it(self) -> None:
        for text, place in (
            ("golden sky", "sky"),
            ("dark water", "water"),
            ("violet coat", "clothes"),
            ("misty background", "background"),
            ("red sail", of_hue(0.45)),
            ("golden", None),
            ("misty harbour", None),
            ("sunset sky", None),
        ):
            with self.subTest(text=text):
                self.assertEqual(understand(text)[0].place, place)

    def test_a_place_alone_says_nothing(self) -> None:
        phrase = understand("sky")[0]
        self.assertEqual((phrase.concepts, phrase.place, phrase.unknown), ((), None, ("sky",)))
        self.assertEqual(effect_of("sky, trees", "", 7), {})

    def test_places_are_kept_apart(self) -> None:
        effect = effect_of("golden sky, blue water, misty", "", 7)
        self.assertEqual(places_of(effect), ("sky", "water"))
        self.assertIn("haze", effect)
        self.assertNotEqual(effect["sky/toward2"], effect["water/toward2"])

    def test_in_words(self) -> None:
        self.assertEqual(
            [said(p) for p in ("sky", "skin", of_hue(1))], ["in the sky", "on the skin", "where the picture has it"]
        )


class Finding(unittest.TestCase):
    def test_places_lie_where_they_were_drawn(self) -> None:
        masks = find_places(prepare(view()).lab, ("sky", "water", "foliage", of_hue(0.45)))
        for name, inside, outside in (
            ("sky", np.s_[5:50, 5:80], np.s_[85:, :]),
            ("water", np.s_[90:, 5:170], np.s_[:55, :]),
            ("foliage", np.s_[64:76, 5:80], np.s_[:55, :]),
            (of_hue(0.45), np.s_[60:80, 94:108], np.s_[:, :80]),
        ):
            with self.subTest(place=name):
                self.assertGreater(float(masks[name][inside].mean()), 0.8)
                self.assertLess(float(masks[name][outside].mean()), 0.1)

    def test_what_the_picture_has_not_is_not_found(self) -> None:
        self.assertEqual(places_in(view(), ("skin", "clothes", of_hue(1.75))), frozenset())
        self.assertEqual(places_in(view(), ()), frozenset())

    def test_the_subject_of_flat_art_is_all_that_is_not_ground(self) -> None:
        source = prepare(disc_on_ground())
        masks = find_places(source.lab, ("subject", "background"), ground=source.ground)
        self.assertGreater(float(masks["subject"][48, 48]), 0.95)
        self.assertLess(float(masks["subject"][4, 4]), 0.05)
        self.assertGreater(float(masks["background"][4, 4]), 0.95)

    def test_skin_lies_in_the_face(self) -> None:
        source = prepare(keeper())
        self.assertTrue(source.faces)
        mask = find_places(source.lab, ("skin",), source.faces)["skin"]
        face = source.faces[0]
        x, y = int(face.x * 320), int(face.y * 320)
        self.assertGreater(float(mask[y + 8, x - 12 : x + 12].mean()), 0.6)
        self.assertEqual(float(mask[:, :40].max()), 0)


class Takes(unittest.TestCase):
    def test_a_colour_word_changes_its_place_and_leaves_the_rest(self) -> None:
        source = view()
        recipe = Recipe(look="watercolour", strength=0.6, guidance=7)
        plain, worded = restyle(source, recipe), restyle(source, recipe.changed(prompt="pink sky"))
        sky, water = np.s_[5:50, 5:80], np.s_[90:115, 5:170]
        changed = float(np.abs(bytes_to_lab(worded[sky]).mean((0, 1)) - bytes_to_lab(plain[sky]).mean((0, 1))).max())
        kept = float(np.abs(bytes_to_lab(worded[water]).mean((0, 1)) - bytes_to_lab(plain[water]).mean((0, 1))).max())
        self.assertGreater(changed, 0.02)
        self.assertLess(kept, changed / 3)

    def test_a_coloured_thing_takes_the_colour_where_the_picture_has_it(self) -> None:
        source = view()
        recipe = Recipe(look="gouache", strength=0.6, guidance=7)
        plain, worded = restyle(source, recipe), restyle(source, recipe.changed(prompt="red sail^2"))
        sail, sky = np.s_[60:80, 94:106], np.s_[5:50, 5:80]
        self.assertGreater(chroma_and_hue(worded[sail])[0], chroma_and_hue(plain[sail])[0] + 0.01)
        self.assertLess(abs(chroma_and_hue(worded[sky])[0] - chroma_and_hue(plain[sky])[0]), 0.01)


class Kinds(unittest.TestCase):
    def of(self, picture: Byte) -> str:
        alpha = np.full((*picture.shape[:2], 1), 255, np.uint8)
        return guess_kind(picture if picture.shape[2] == 4 else np.dstack([picture, alpha]))

    def test_kinds_of_drawn_pictures(self) -> None:
        random = np.random.default_rng(1)
        noise = cv2.GaussianBlur(random.uniform(0, 255, (200, 300, 3)).astype(np.float32), (0, 0), 2)
        texture = np.clip((noise - 127) * 4 + 127, 0, 255).astype(np.uint8)
        strokes = np.full((240, 320, 3), (240, 232, 215), np.uint8)
        for k in range(14):
            cv2.polylines(
                strokes,
                [random.integers(20, 220, (5, 2)).astype(np.int32)],
                False,
                (60, 58, 62),
                1 + k % 2,
                cv2.LINE_AA,
            )
        ys, xs = np.mgrid[0:240, 0:320]
        solid = np.dstack([np.clip(150 + 0.25 * xs - 0.1 * ys, 0, 255)] * 3).astype(np.uint8)
        solid[80:180, 60:200] = (90, 91, 92)
        for picture, kind in (
            (harbour(200, 300), "photo"),
            (texture, "photo"),
            (strokes, "sketch"),
            (solid, "render"),
            (disc_on_ground(), "flat art"),
            (keeper(), "photo"),
        ):
            with self.subTest(kind=kind):
                self.assertEqual(self.of(picture), kind)

    def test_kinds_of_the_demo(self) -> None:
        from pathlib import Path

        from warmtide.core.pictures.image import decode

        folder = Path(badge.__file__).parent / "pictures"
        self.assertTrue(sketch and boathouse)
        for name, kind in (
            ("quay.jpg", "photo"), ("sketch.png", "sketch"), ("boathouse.png", "render"), ("badge.svg", "flat art"),
        ):  # fmt: skip
            with self.subTest(name=name):
                self.assertEqual(guess_kind(decode((folder / name).read_bytes()).rgba), kind)

    def test_defaults_by_kind(self) -> None:
        self.assertGreater(holds_for("flat art").lines, holds_for("photo").lines)
        self.assertGreater(holds_for("photo", people=True).faces, holds_for("photo").faces)
