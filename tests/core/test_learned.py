"""Looks learned from reference pictures."""

import io
import json
import unittest
import zipfile

import cv2
import numpy as np

from tests.pictures import harbour
from warmtide.core.job.take import restyle
from warmtide.core.looks.learned.dictionary import Dictionary, element_size, learn, read, written
from warmtide.core.looks.learned.match import first_field, search, vote
from warmtide.core.looks.learned.painter import look_from, paint_with
from warmtide.core.looks.learned.transport import moved, toned
from warmtide.core.looks.registry import add, look_named
from warmtide.core.maths.arrays import Byte
from warmtide.core.maths.colour import bytes_to_lab
from warmtide.core.model.errors import BadInput
from warmtide.core.model.recipe import Holds, Recipe
from warmtide.core.model.sitting import Sitting


def hatched(side: int = 200, spacing: int = 6, ink: tuple[int, int, int] = (40, 45, 60)) -> Byte:
    """Diagonal strokes on pale paper, denser towards one corner: a reference with plain marks and two colours."""
    picture = np.full((side, side, 3), (236, 230, 214), np.uint8)
    random = np.random.default_rng(4)
    for k in range(-side, side, spacing):
        for x in range(0, side, 14):
            if random.uniform() < 0.25 + 0.75 * (x + k + side) / (3 * side):
                start = (x, x + k)
                cv2.line(picture, start, (x + 11, x + k + 11), ink, 2, cv2.LINE_AA)
    return picture


def diagonal(picture: Byte) -> float:
    """How much of the fine direction lies along the falling diagonal rather than the rising one, -1 to 1."""
    light = cv2.cvtColor(picture, cv2.COLOR_RGB2GRAY).astype(np.float32)
    dx, dy = cv2.Sobel(light, cv2.CV_32F, 1, 0), cv2.Sobel(light, cv2.CV_32F, 0, 1)
    return -float((2 * dx * dy).sum() / ((dx * dx + dy * dy).sum() + 1e-6))


class Learning(unittest.TestCase):
    @classmethod
    def setUpClass(cls) -> None:
        cls.dictionary = learn([hatched()], "Hatched")
        cls.look = add(look_from(cls.dictionary))

    def test_takes_carry_marks_and_palette_of_the_reference(self) -> None:
        source = harbour(192, 288)
        take = restyle(source, Recipe(look=self.look.name, strength=0.8, holds=Holds(colours=0)))
        self.assertGreater(diagonal(take), diagonal(source) + 0.15)

        def chroma(picture: Byte) -> float:
            return float(np.hypot(*np.moveaxis(bytes_to_lab(picture)[..., 1:], 2, 0)).mean())

        wanted = chroma(hatched())
        self.assertLess(abs(chroma(take) - wanted), 0.5 * abs(chroma(source) - wanted) + 0.004)

    def test_composition_is_kept_with_holds(self) -> None:
        from warmtide.core.readings.measure import measure

        source = harbour(192, 288)
        take = restyle(source, Recipe(look=self.look.name, strength=0.6))
        self.assertGreater(measure(source, take)["composition"], 80)

    def test_same_pixels_again_and_strength_nought_is_the_source(self) -> None:
        source = harbour(96, 144)
        recipe = Recipe(look=self.look.name, strength=0.7)
        np.testing.assert_array_equal(restyle(source, recipe), restyle(source, recipe))
        np.testing.assert_array_equal(restyle(source, recipe.changed(strength=0.0)), source)
        other = restyle(source, recipe.changed(seed=8))
        self.assertGreater(np.abs(other.astype(int) - restyle(source, recipe)).mean(), 1)

    def test_a_references_motif_is_not_copied(self) -> None:
        reference = hatched()
        cv2.circle(reference, (100, 100), 30, (200, 40, 30), -1)
        look = add(look_from(learn([reference], "Motif")))
        grey = np.linspace(90, 200, 216 * 144).reshape(144, 216).astype(np.uint8)
        source = np.ascontiguousarray(np.dstack([grey] * 3))
        take = restyle(source, Recipe(look=look.name, strength=0.75, holds=Holds(colours=0)))
        lab = bytes_to_lab(take)
        red = (lab[..., 1] > 0.12).astype(np.uint8)
        # Specks may come along; a disc of the motif's size may not.
        self.assertEqual(cv2.erode(red, np.ones((13, 13), np.uint8)).sum(), 0)

    def test_an_object_of_one_colour_stays_one_colour(self) -> None:
        source = np.full((120, 160, 3), (90, 140, 180), np.uint8)
        source[30:90, 40:120] = (190, 60, 50)
        noise = np.random.default_rng(0).normal(0, 5, source.shape)
        lab = bytes_to_lab(np.clip(source + noise, 0, 255).astype(np.uint8))
        colours = np.array([[0.3, 0.0, -0.1], [0.6, 0.1, 0.1], [0.65, -0.1, 0.08], [0.9, 0.0, 0.02]], np.float32)
        out = moved(lab, colours, np.full(4, 0.25, np.float32))
        inside, outside = out[36:84, 46:114], out[:24]
        self.assertLess(float(inside[..., 1:].std((0, 1)).max()), 0.03)
        self.assertGreater(float(np.abs(inside.mean((0, 1)) - outside.mean((0, 1))).max()), 0.05)

    def test_tones_move_toward_the_looks_and_keep_their_order(self) -> None:
        light = np.tile(np.linspace(0.3, 0.6, 90, dtype=np.float32), (60, 1))
        lab = np.dstack([light, 0 * light, 0 * light])
        out = toned(lab, np.linspace(0.05, 0.95, 33).astype(np.float32))[..., 0]
        self.assertGreater(float(np.ptp(out)), float(np.ptp(light)) * 1.3)
        self.assertTrue((np.diff(out[0]) >= 0).all())

    def test_larger_marks_have_larger_elements(self) -> None:
        random = np.random.default_rng(1)
        sizes = []
        for blob in (1.0, 6.0):
            field = cv2.GaussianBlur(random.standard_normal((300, 300)).astype(np.float32), (0, 0), blob)
            sizes.append(element_size(field / field.std() * 0.1 + 0.5))
        self.assertGreater(sizes[1], 2 * sizes[0])

    def test_any_size_and_ten_references(self) -> None:
        look = add(look_from(learn([hatched(150 + 10 * k) for k in range(10)], "Ten")))
        for height, width in ((64, 64), (70, 300)):
            self.assertEqual(restyle(harbour(height, width), Recipe(look=look.name)).shape, (height, width, 3))

    def test_flat_source(self) -> None:
        flat = np.full((96, 96, 3), 180, np.uint8)
        lab = bytes_to_lab(flat)
        out = paint_with(self.dictionary, lab, Sitting(self.look.name, 1, 96, 96))
        self.assertTrue(np.isfinite(out).all())

    def test_what_can_not_be_learned_is_refused(self) -> None:
        for pictures, words in (
            ([], "one to 10"),
            ([hatched()] * 11, "one to 10"),
            ([hatched()[:40]], "at least 64"),
            ([np.full((100, 100, 3), 9, np.uint8)], "one single colour"),
        ):
            with self.subTest(words=words), self.assertRaisesRegex(BadInput, words):
                learn(pictures, "x")
        with self.assertRaisesRegex(BadInput, "learn it again or bring in its file"):
            look_named("learned-000000000000")


class Files(unittest.TestCase):
    def setUp(self) -> None:
        self.dictionary = learn([hatched(96), hatched(128, 8)], "Two hatched")
        self.data = written(self.dictionary)

    def changed(self, **changes: object) -> bytes:
        """The file with some header fields or arrays replaced."""
        with np.load(io.BytesIO(self.data)) as arrays:
            kept = {name: arrays[name] for name in arrays.files}
        header = json.loads(kept["header"].tobytes())
        for name, value in changes.items():
            if name in kept:
                kept[name] = value  # type: ignore[assignment]
            else:
                header[name] = value
        kept["header"] = np.frombuffer(json.dumps(header).encode(), np.uint8)
        out = io.BytesIO()
        np.savez_compressed(out, **kept)  # type: ignore[arg-type]
        return out.getvalue()

    def test_there_and_back(self) -> None:
        found = read(self.data)
        self.assertEqual((found.id, found.name), (self.dictionary.id, "Two hatched"))
        np.testing.assert_array_equal(found.references[1], self.dictionary.references[1])
        self.assertLess(len(self.data), 15_000_000)

    def test_the_name_is_not_part_of_the_id(self) -> None:
        renamed = Dictionary(
            "Other", *(getattr(self.dictionary, n) for n in ("references", "finer", "element", "colours", "mass"))
        )
        self.assertEqual(renamed.id, self.dictionary.id)

    def test_hostile_files_are_refused_with_one_sentence(self) -> None:
        bomb = io.BytesIO()
        with zipfile.ZipFile(bomb, "w", zipfile.ZIP_DEFLATED) as archive:
            archive.writestr("header.npy", bytes(80_000_000))
        pickled = io.BytesIO()
        np.savez(pickled, header=np.array([{"a": 1}], dtype=object))
        for data, words in (
            (b"", "can't|not a learned look"),
            (b"PK\x03\x04 nothing", "not a learned look"),
            (self.data[: len(self.data) // 2], "not a learned look"),
            (bomb.getvalue(), "not a learned look"),
            (pickled.getvalue(), "not a learned look"),
            (self.changed(format="other"), "not a learned look"),
            (self.changed(version=9), "version 9"),
            (self.changed(references=40), "not a learned look"),
            (self.changed(element=1e9), "not a learned look"),
            (self.changed(colours=np.full((3, 3), np.nan)), "not a learned look"),
            (self.changed(reference_0=np.zeros((50, 50), np.uint8)), "not a learned look"),
            (self.changed(id="0" * 12), "does not match"),
            (self.changed(id="../../etc/pas"), "does not match"),
        ):
            with self.subTest(words=words, size=len(data)), self.assertRaisesRegex(BadInput, words):
                read(data)


class Matching(unittest.TestCase):
    def test_search_finds_what_is_there(self) -> None:
        random = np.random.default_rng(2)
        ref = cv2.GaussianBlur(random.standard_normal((60, 70, 4)).astype(np.float32), (0, 0), 2)
        valid = np.zeros((60, 70), np.bool_)
        valid[4:-4, 4:-4] = True
        query = np.ascontiguousarray(ref[10:40:2, 12:42:2])
        field = first_field((30, 30), valid, 1)
        found = search(query, ref, np.ones(4, np.float32), valid, field, 8, 0.0, 0.0, 5, True)
        true = np.stack(np.meshgrid(np.arange(10, 40, 2), np.arange(12, 42, 2), indexing="ij"), -1)
        self.assertGreater(float((np.abs(found - true).max(-1) <= 1).mean()), 0.9)

    def test_votes_of_the_true_matches_give_the_picture_back(self) -> None:
        random = np.random.default_rng(3)
        picture = cv2.GaussianBlur(random.standard_normal((48, 48, 3)).astype(np.float32), (0, 0), 1.5)
        field = np.stack(np.meshgrid(np.arange(0, 48, 2), np.arange(0, 48, 2), indexing="ij"), -1).astype(np.int32)
        mean = cv2.boxFilter(picture, -1, (7, 7))
        out = vote(picture, mean, field, mean, (0.5, 0.5), 1.2, (48, 48))
        np.testing.assert_allclose(out[3:-3, 3:-3], picture[3:-3, 3:-3], atol=1e-5)
