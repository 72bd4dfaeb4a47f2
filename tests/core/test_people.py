"""Faces with their points, persons, and what a picture is about."""

import unittest
from dataclasses import replace

import cv2
import numpy as np

from tests import badges
from tests.people import Build, by_lot, cut_person, person, street
from tests.pictures import disc_on_ground, harbour
from warmtide.core.job.take import restyle
from warmtide.core.looks.shared.portrait import painted_by_parts
from warmtide.core.maths.arrays import Float
from warmtide.core.maths.colour import bytes_to_lab
from warmtide.core.model.cache import SharedCache
from warmtide.core.model.face import Face
from warmtide.core.model.recipe import Recipe
from warmtide.core.model.sitting import Sitting
from warmtide.core.readings.subject import subject_kept
from warmtide.core.understanding.faces import face_holds, find_faces, in_profile, pointed
from warmtide.core.understanding.networks import look, network_file
from warmtide.core.understanding.people.features import BROWS, CHIN, EYES, LIPS, NOSE_TIP, OUTLINES
from warmtide.core.understanding.people.persons import person_mask
from warmtide.core.understanding.subject import UNSAID, Subject, corrected, find_subject


class Faces(unittest.TestCase):
    def test_points_lie_on_the_features_that_were_drawn(self) -> None:
        picture = person(height=384, width=336)
        (face,) = find_faces(picture)
        assert face.points is not None
        places = face.points.places[:, :2] * 384
        # The head is drawn about the picture's middle, 384 / 3.3 pixels a unit, its middle 1.22 units from the top.
        unit, across, down = 384 / 3.3, 168, 1.22 * 384 / 3.3
        for name, points, (x, y) in (
            ("left eye", EYES[0][0] + EYES[0][1], (-0.205, 0.04)), ("right eye", EYES[1][0] + EYES[1][1], (0.205, 0.04)),
            ("brow", BROWS[0][0] + BROWS[0][1], (-0.20, 0.19)), ("mouth", LIPS[0] + LIPS[1], (0, -0.43)),
            ("nose", (NOSE_TIP,), (0, -0.2)), ("chin", (CHIN,), (0, -0.74)),
        ):  # fmt: skip
            with self.subTest(name):
                found = places[list(points)].mean(0)
                self.assertLess(float(np.hypot(*(found - (across + x * unit, down - y * unit)))), 0.11 * unit)

    def test_turned_tilted_and_of_every_skin(self) -> None:
        for number, (turn, tilt) in enumerate(((0.75, 0.0), (-0.75, 0.2), (0.0, 0.62), (0.3, -0.62), (0.0, 0.0))):
            with self.subTest(turn=turn, tilt=tilt):
                build = by_lot(number)._replace(turn=turn, tilt=tilt, nod=0.0, glasses=0.0)
                faces = find_faces(person(build))
                self.assertEqual(len(faces), 1)
                self.assertAlmostEqual(faces[0].angle, np.degrees(tilt), delta=16)
                assert faces[0].points is not None
                if abs(turn) > 0.5:
                    self.assertEqual(np.sign(faces[0].points.yaw), np.sign(turn))
                    self.assertGreater(abs(faces[0].points.yaw), 20)
                self.assertFalse(in_profile(faces[0].points))

    def test_far_turned_ones_are_found_too(self) -> None:
        for number, turn in ((100, 0.94), (103, -0.94)):
            self.assertEqual(len(find_faces(person(by_lot(number)._replace(turn=turn, tilt=0.0, hat=0.0)))), 1)

    def test_small_faces_of_a_large_picture_are_found_in_tiles(self) -> None:
        picture = street((Build(), 30, 0.2, 0.4), (by_lot(3), 44, 0.55, 0.5), (by_lot(9), 80, 0.85, 0.45))
        faces = find_faces(picture)
        self.assertEqual(len(faces), 3)
        for face, x in zip(sorted(faces, key=lambda f: f.x), (0.2, 0.55, 0.85), strict=True):
            self.assertAlmostEqual(face.x, x, delta=0.03)
            self.assertIsNotNone(face.points)

    def test_nobody_is_invented(self) -> None:
        texture = np.random.default_rng(2).integers(0, 255, (200, 300, 3), dtype=np.uint8)
        back = person(turn=3.14)
        for other in (
            harbour(240, 360),
            harbour(240, 360, 305),
            disc_on_ground(200, 200),
            texture,
            badges.picture(next(iter(badges.BADGES)), 300),
            back,
        ):
            self.assertEqual(find_faces(other), ())

    def test_a_mark_keeps_its_oval_and_gets_points_where_a_face_is(self) -> None:
        picture = person()
        (found,) = find_faces(picture)
        mark = Face(found.x + 0.01, found.y - 0.01, found.width * 0.9, found.angle + 4)
        on_face, on_coat = pointed(picture, (mark, Face(0.45, 0.85, 0.2)))
        self.assertEqual(on_face, mark)
        assert on_face.points is not None and found.points is not None
        moved = np.abs(on_face.points.places - found.points.places)[:, :2].max()
        self.assertLess(float(moved), 0.02)
        self.assertIsNone(on_coat.points)

    def test_features_are_held_wholly_and_skin_less(self) -> None:
        picture = person()
        faces = find_faces(picture)
        held = face_holds(faces, *picture.shape[:2])
        assert faces[0].points is not None
        places = np.round(faces[0].points.places[:, :2] * 256).astype(int)
        at = lambda i: float(held[places[i, 1], places[i, 0]])  # noqa: E731
        self.assertGreater(float(held[tuple(places[[EYES[0][0][4], EYES[0][1][4]]].mean(0).astype(int)[::-1])]), 0.9)
        self.assertGreater(at(13), 0.9)
        self.assertLess(at(50), 0.8)
        self.assertGreater(at(50), 0.6)
        self.assertEqual(float(held[-20:].max()), 0)
        # Without points an oval is held.
        self.assertGreater(float(face_holds((replace(faces[0], points=None),), 256, 224).max()), 0.99)

    def test_outlines_are_lines_of_points_that_there_are(self) -> None:
        self.assertLess(max(max(line) for line in OUTLINES), 468)
        self.assertTrue(all(line[0] == line[-1] for line in OUTLINES[:6]))

    def test_without_a_network_it_says_so(self) -> None:
        self.assertIsNotNone(network_file("face_landmark/face_landmark"))
        self.assertIsNone(network_file("face_landmark/of_nobody"))
        self.assertIsNone(look("face_landmark/of_nobody", np.zeros((8, 8, 3), np.float32)))


class Persons(unittest.TestCase):
    def test_the_mask_is_the_person_that_was_drawn(self) -> None:
        for build in (Build(), by_lot(2), by_lot(3)):
            with self.subTest(style=build.style):
                colours, cover = cut_person(build)
                ground = harbour(256, 224).astype(np.float32)
                picture = (ground * (1 - cover[..., None]) + colours * cover[..., None]).astype(np.uint8)
                mask = person_mask(picture, find_faces(picture))
                overlap = float(np.minimum(mask, cover).sum() / np.maximum(mask, cover).sum())
                self.assertGreater(overlap, 0.88)

    def test_nobody_is_an_empty_mask(self) -> None:
        self.assertEqual(float(person_mask(harbour(200, 300)).max()), 0)


class WhatItIsAbout(unittest.TestCase):
    def test_a_person_a_thing_and_nothing(self) -> None:
        picture = person()
        about = find_subject(picture, find_faces(picture))
        self.assertEqual(about.kinds[:2], ("face", "person"))
        _, cover = cut_person()
        self.assertGreater(float(about.plane[cover > 0.9].mean()), 0.7)
        self.assertLess(float(about.plane[cover < 0.1].mean()), 0.25)
        disc = disc_on_ground(200, 300)
        thing = find_subject(disc)
        self.assertEqual(thing.kinds, ("thing",))
        self.assertGreater(float(thing.plane[80:120, 130:170].min()), 0.5)
        noise = np.random.default_rng(1).normal(128, 40, (200, 300, 3)).clip(0, 255).astype(np.uint8)
        ys = np.linspace(0, 1, 200)[:, None, None]
        land = (np.where(ys < 0.45, (150, 190, 230), (90, 120, 60)) * np.ones((200, 300, 1))).astype(np.uint8)
        for nothing in (noise, land, np.full((200, 300, 3), 90, np.uint8)):
            self.assertEqual(find_subject(nothing).kinds, ())
            self.assertEqual(float(find_subject(nothing).plane.max()), 0)

    def test_strokes_win_over_what_was_found(self) -> None:
        plane = np.zeros((100, 100), np.float32)
        plane[20:60, 20:60] = 0.9
        strokes = np.full((100, 100), UNSAID, np.uint8)
        strokes[20:60, 20:30] = 0
        strokes[70:90, 70:90] = 255
        mended = corrected(Subject(plane, ("thing",)), strokes)
        self.assertLess(float(mended.plane[25:55, 21:28].max()), 0.1)
        self.assertGreater(float(mended.plane[75:85, 75:85].min()), 0.9)
        self.assertAlmostEqual(float(mended.plane[40, 45]), 0.9, places=5)
        strokes[:] = cv2.rectangle(strokes, (0, 0), (99, 99), 0, -1)
        self.assertEqual(corrected(Subject(plane, ("thing",)), strokes).kinds, ())


class Held(unittest.TestCase):
    def test_the_hold_on_the_subject_keeps_it_step_by_step_and_leaves_the_ground(self) -> None:
        picture = person(height=320, width=280)
        about = find_subject(picture, find_faces(picture)).plane
        cache = SharedCache()
        kept, ground = [], []
        for hold in (0.0, 0.35, 0.7, 1.0):
            holds = {"lines": 0, "shapes": 0, "colours": 0, "faces": 0, "subject": hold}
            take = restyle(picture, Recipe(look="oil", strength=0.9, holds=holds, size=320), cache=cache)
            told = subject_kept(picture, take, about)
            assert told is not None
            kept.append(told)
            ground.append(subject_kept(picture, take, 1 - about) or 0.0)
        self.assertEqual(kept, sorted(kept))
        self.assertGreater(kept[-1], kept[0] + 12)
        self.assertLess(ground[-1] - ground[0], 0.6 * (kept[-1] - kept[0]))

    def test_it_is_painted_finer_than_its_surroundings(self) -> None:
        picture = person(height=320, width=280)
        lab = bytes_to_lab(picture)
        about = find_subject(picture, find_faces(picture)).plane
        seen: list[tuple[tuple[int, int], float]] = []

        def paint(part: Float, sitting: Sitting) -> Float:
            seen.append((part.shape[:2], sitting.scale))
            return np.full_like(part, 1.0 if len(seen) == 1 else 0.0)

        sitting = Sitting("any", 1, 320, 280, subject=about)
        out = painted_by_parts(paint, lab, sitting, 0.0)
        self.assertEqual(len(seen), 2)
        self.assertLess(seen[1][1], 0.7 * seen[0][1])
        self.assertLess(float(out[about > 0.8].max()), 0.05)
        self.assertGreater(float(out[about < 0.1].min()), 0.95)
