"""Faces are found once, held, and painted with finer tools."""

import unittest
from dataclasses import replace

import cv2
import numpy as np

from tests.pictures import disc_on_ground, harbour, keeper
from warmtide.core.job.take import restyle
from warmtide.core.looks.registry import looks
from warmtide.core.looks.shared.features import features
from warmtide.core.looks.shared.portrait import painted_by_parts
from warmtide.core.maths.arrays import Float
from warmtide.core.maths.colour import bytes_to_lab, lab_to_bytes
from warmtide.core.model.cache import SharedCache
from warmtide.core.model.face import Face
from warmtide.core.model.recipe import Recipe
from warmtide.core.model.sitting import Sitting
from warmtide.core.pictures.framing import Framing, frame, framed_points
from warmtide.core.readings.measure import measure
from warmtide.core.understanding.faces import face_mask, find_faces, moved_faces
from warmtide.core.understanding.people.cascade import cascade_faces


class Finding(unittest.TestCase):
    def test_a_face_is_found_at_its_place(self) -> None:
        for turn in (0, 22, -22):
            for size in (0.6, 1.4):
                with self.subTest(turn=turn, size=size):
                    faces = find_faces(keeper(turn=turn, size=size))
                    self.assertEqual(len(faces), 1)
                    self.assertAlmostEqual(faces[0].x, 0.5, delta=0.03)
                    self.assertAlmostEqual(faces[0].y, 0.48 * 0.75, delta=0.06)
                    self.assertAlmostEqual(faces[0].width, 0.25 * size * 1.25, delta=0.1)

    def test_two_faces_and_none(self) -> None:
        pair = np.hstack([keeper(200, 200, size=0.9), keeper(200, 200, turn=12, size=0.7)])
        left, right = sorted(find_faces(pair), key=lambda face: face.x)
        self.assertAlmostEqual(left.x, 0.25, delta=0.03)
        self.assertAlmostEqual(right.x, 0.75, delta=0.03)
        self.assertGreater(left.width, right.width)
        for other in (harbour(240, 360), disc_on_ground(200, 200), np.full((100, 100, 3), 200, np.uint8)):
            self.assertEqual(find_faces(other), ())

    def test_a_grey_picture_has_faces_too(self) -> None:
        grey = np.repeat(keeper().mean(-1, keepdims=True), 3, axis=-1).astype(np.uint8)
        self.assertEqual(len(find_faces(grey)), 1)

    def test_a_face_in_another_light_is_one_and_one_of_many_colours_is_none(self) -> None:
        lab = bytes_to_lab(keeper())
        for name, (light, chroma, warm) in {
            "dusk": (0.55, 1.0, 0.0), "pale": (1.0, 0.6, 0.0), "evening": (0.9, 1.2, 0.04), "vivid": (1.0, 1.6, 0.0)
        }.items():  # fmt: skip
            with self.subTest(name):
                lit = lab * np.array([light, chroma, chroma], np.float32) + np.array([0, 0.3 * warm, warm], np.float32)
                self.assertEqual(len(find_faces(lab_to_bytes(lit))), 1)
                self.assertEqual(len(cascade_faces(lab_to_bytes(lit))), 1)
        # Tanks, lamps and tools in a shed have the tones of a face, but colours here and there.
        ys, xs = np.mgrid[0 : lab.shape[0], 0 : lab.shape[1]]
        shed = lab.copy()
        shed[..., 1:] = np.where(((xs // 12 + ys // 12) % 2 == 0)[..., None], (0.17, 0.08), (0.0, 0.02))
        self.assertEqual(cascade_faces(lab_to_bytes(shed)), ())

    def test_the_mask_covers_the_face_and_little_else(self) -> None:
        picture = keeper()
        mask = face_mask(find_faces(picture), *picture.shape[:2])
        self.assertGreater(float(mask[100:140, 145:175].min()), 0.95)
        self.assertEqual(float(mask[:20].max()), 0)
        self.assertLess(float(mask.mean()), 0.25)

    def test_marks_lie_on_the_face_however_the_picture_is_framed(self) -> None:
        picture = np.ascontiguousarray(keeper(across=0.4)[:, :300])
        height, width = picture.shape[:2]
        face = find_faces(picture)[0]
        rgba = np.dstack([picture, np.full((height, width), 255, np.uint8)])
        for framing in (
            Framing(turn=90), Framing(flip=True), Framing(turn=270, flip=True, straighten=8),
            Framing(left=0.1, right=0.8, top=0.1, margin=0.2), Framing(scale=0.6, shift_x=0.2, shift_y=-0.1),
        ):  # fmt: skip
            with self.subTest(framing=framing):
                seen = frame(rgba, framing, 400)
                moved = moved_faces((face,), max(height, width), framed_points(height, width, framing))[0]
                # Turned by its angle the framed picture shows it upright, and it is found where it should be.
                about = (moved.x * 400, moved.y * 400)
                upright = cv2.warpAffine(
                    seen,
                    cv2.getRotationMatrix2D(about, moved.angle, 1),
                    seen.shape[1::-1],
                    borderMode=cv2.BORDER_REPLICATE,
                )
                found = find_faces(upright)[0]
                self.assertAlmostEqual(found.x * max(seen.shape[:2]) / 400, moved.x, delta=0.02)
                self.assertAlmostEqual(found.y * max(seen.shape[:2]) / 400, moved.y, delta=0.03)
                self.assertAlmostEqual(found.width / moved.width, 1, delta=0.25)

    def test_the_mask_leans_as_the_face_does(self) -> None:
        upright, leaning = (face_mask((Face(0.5, 0.5, 0.3, angle),), 200, 200) for angle in (0.0, 20.0))
        # A picture turned by 20 degrees has set this face upright; turned back, the upright mask leans like it.
        back = cv2.getRotationMatrix2D((100, 100), -20, 1)
        self.assertLess(float(np.abs(cv2.warpAffine(upright, back, (200, 200)) - leaning).mean()), 0.005)
        wrong = cv2.getRotationMatrix2D((100, 100), 20, 1)
        self.assertGreater(float(np.abs(cv2.warpAffine(upright, wrong, (200, 200)) - leaning).mean()), 0.01)


class Drawing(unittest.TestCase):
    """What is drawn of a face: the keeper's, whose features lie at known places."""

    def setUp(self) -> None:
        self.plain = keeper(300, 400, size=0.75)
        self.face = find_faces(self.plain)[0]
        # Half of it in hard shade, whose border runs down beside the nose.
        self.shaded = self.plain.copy()
        self.shaded[:, 208:] = (self.shaded[:, 208:] * 0.72).astype(np.uint8)

    def test_eyes_brows_and_mouth_are_ink_and_skin_is_paper(self) -> None:
        for name, picture in (("plain", self.plain), ("shaded", self.shaded), ("dark", self.plain // 4)):
            with self.subTest(picture=name):
                ink = features(bytes_to_lab(picture), self.face).ink
                for x, y in ((183, 137), (217, 137), (183, 125), (217, 125), (200, 176)):
                    self.assertGreater(float(ink[y - 2 : y + 3, x - 2 : x + 3].max()), 0.8, (x, y))
                self.assertLess(float(ink[148:168, 174:190].max()), 0.1, "cheek")
                self.assertLess(float(ink[146:157, 203:214].max()), 0.1, "border of the shade")

    def test_a_leaning_face_is_drawn_leaning(self) -> None:
        ink = features(bytes_to_lab(self.plain), self.face).ink
        centre = (self.face.x * 400, self.face.y * 400)
        turn = cv2.getRotationMatrix2D(centre, 20, 1)
        turned = cv2.warpAffine(self.plain, turn, (400, 300), borderMode=cv2.BORDER_REPLICATE)
        leaning = features(bytes_to_lab(turned), replace(self.face, angle=-20.0)).ink
        expected = cv2.warpAffine(ink, turn, (400, 300))
        near = face_mask((self.face,), 300, 400) > 0.5
        self.assertGreater(float(np.corrcoef(leaning[near], expected[near])[0, 1]), 0.85)

    def test_ink_is_as_sharp_as_the_sheet_is_large(self) -> None:
        lab = bytes_to_lab(self.plain)
        small, large = features(lab, self.face).ink, features(lab, self.face, (1600, 1200)).ink
        self.assertEqual(large.shape, (1200, 1600))
        back = cv2.resize(large, (400, 300), interpolation=cv2.INTER_AREA)
        self.assertGreater(float(np.corrcoef(back.ravel(), small.ravel())[0, 1]), 0.95)
        # Of all that is inked at all, far less lies between ink and paper.
        between = [float(((p > 0.1) & (p < 0.9)).sum() / (p > 0.1).sum()) for p in (small, large)]
        self.assertLess(between[1], 0.8 * between[0])

    def test_looks_of_lines_draw_no_border_of_light_on_skin(self) -> None:
        for look in ("line-art", "marker"):
            take = restyle(self.shaded, Recipe(look=look, strength=0.9, size=400)).mean(-1)
            with self.subTest(look=look):
                self.assertGreater(float(take[146:157, 203:214].min()), 150, "border of the shade")
                for x in (183, 217):
                    self.assertLess(float(take[132:142, x - 6 : x + 7].min()), 110, "eye")

    def test_an_inset_is_given_the_face_where_it_lies_in_it(self) -> None:
        seen: list[tuple[Face, int]] = []

        def paint(lab: Float, sitting: Sitting) -> Float:
            if sitting.inset:
                seen.append((sitting.faces[0], sitting.width))
                # Where it is said to be, it is found.
                around = find_faces(lab_to_bytes(lab))[0]
                self.assertAlmostEqual(around.x, sitting.faces[0].x, delta=0.05)
                self.assertAlmostEqual(around.y, sitting.faces[0].y, delta=0.05)
                self.assertAlmostEqual(around.width / sitting.faces[0].width, 1, delta=0.3)
            return lab

        for across in (0.3, 0.62):
            picture = keeper(300, 400, size=0.75, across=across)
            sitting = Sitting("any", 1, 300, 400, faces=find_faces(picture))
            painted_by_parts(paint, bytes_to_lab(picture), sitting, 0.5)
        self.assertEqual(len(seen), 2)


class Painting(unittest.TestCase):
    """A face of 60 px in a picture of 400 px at strength .7."""

    def setUp(self) -> None:
        self.source = keeper(300, 400, size=0.75)
        self.face = (slice(95, 190), slice(160, 240))

    def features(self, take) -> float:  # type: ignore[no-untyped-def]
        """How well light and dark of eyes, brows and mouth agree inside the face, -1..1."""
        first, second = (p[self.face].astype(float).mean(-1) for p in (self.source, take))
        return float(np.corrcoef(first.ravel(), second.ravel())[0, 1])

    def test_features_survive_in_every_look_that_paints_portraits(self) -> None:
        cache = SharedCache()
        for name, look in looks().items():
            if not look.handling.portrait:
                continue
            take = restyle(self.source, Recipe(look=name, strength=0.7, size=400), cache=cache)
            if name in ("line-art", "neon"):
                # Lines and tubes have no tone: there is more drawing at the eyes than on the cheeks.
                light = take.astype(float).mean(-1)
                self.assertGreater(light[125:140, 170:230].std(), 1.2 * light[152:167, 170:230].std(), name)
            else:
                self.assertGreater(self.features(take), 0.6, name)

    def test_the_hold_keeps_the_face_alone(self) -> None:
        cache = SharedCache()
        free, held = (
            restyle(
                self.source,
                Recipe(strength=0.9, holds={"lines": 0, "shapes": 0, "faces": f, "subject": 0}, size=400),
                cache=cache,
            )
            for f in (0, 0.9)
        )
        self.assertGreater(self.features(held), self.features(free) + 0.1)
        coat = (slice(230, 300), slice(100, 300))
        whole = [measure(self.source[coat], take[coat])["composition"] for take in (free, held)]
        self.assertLess(abs(whole[0] - whole[1]), 25)
