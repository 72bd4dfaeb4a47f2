"""The demo's pictures are what its programs draw, and its studies can be loaded."""

import unittest
from pathlib import Path

import cv2
import numpy as np

from demo.badge import svg
from demo.goods import draw as kettle
from demo.load import PICTURES, STUDIES
from demo.massing import NET_STORE
from demo.massing import draw as massing
from demo.people.__main__ import KEEPER
from demo.people.render import portrait, traced
from demo.quay import SKY, finish
from demo.quay import scene as quay
from demo.sketch import curve, draw
from warmtide.core.looks.registry import looks
from warmtide.core.model.recipe import Recipe
from warmtide.core.model.sweep import Span, expand
from warmtide.core.pictures.framing import Framing, frame
from warmtide.core.pictures.image import decode
from warmtide.core.understanding.faces import find_faces


class Pictures(unittest.TestCase):
    def test_the_badge_is_what_its_program_draws(self) -> None:
        self.assertEqual((PICTURES / "badge.svg").read_text(), svg())
        vector, pixels = (decode((PICTURES / name).read_bytes()).rgba for name in ("badge.svg", "badge.png"))
        both = [frame(rgba, Framing(), 256).astype(int) for rgba in (vector, pixels)]
        self.assertLess(float(np.abs(both[0] - both[1]).mean()), 2)
        self.assertEqual(int(pixels[0, 0, 3]), 0)

    def test_the_sketch_is_what_its_program_draws(self) -> None:
        kept = decode((PICTURES / "sketch.png").read_bytes()).rgba[..., :3].astype(int)
        self.assertLess(float(np.abs(kept - draw()).mean()), 0.5)

    def test_the_net_store_is_what_its_program_draws(self) -> None:
        kept = decode((PICTURES / "massing.png").read_bytes()).rgba[..., :3].astype(int)
        self.assertLess(float(np.abs(kept - massing(NET_STORE, 640, 960).picture).mean()), 0.5)

    def test_the_kettle_is_what_its_program_draws(self) -> None:
        kept = decode((PICTURES / "kettle.png").read_bytes()).rgba[..., :3].astype(int)
        small = cv2.resize(kept.astype(np.uint8), (320, 240), interpolation=cv2.INTER_AREA).astype(int)
        self.assertLess(float(np.abs(small - kettle("kettle", 240, 320).picture).mean()), 1.5)

    def test_the_people_are_what_their_program_draws(self) -> None:
        kept = decode((PICTURES / "keeper.jpg").read_bytes()).rgba[..., :3]
        small = cv2.resize(kept, (208, 256), interpolation=cv2.INTER_AREA).astype(int)
        drawn = portrait(KEEPER, 256, 208, 2)
        # Grain and lanterns are drawn anew at each size.
        person = traced(KEEPER, 256, 208)[..., 3] > 0.95
        self.assertLess(float(np.abs(small - drawn.astype(int))[person].mean()), 6)
        for name, faces in (("keeper.jpg", 1), ("fisher.jpg", 1)):
            picture = decode((PICTURES / name).read_bytes()).rgba[..., :3]
            found = find_faces(np.ascontiguousarray(picture))
            self.assertEqual(len(found), faces)
            self.assertIsNotNone(found[0].points)

    def test_photo_and_render_have_light_and_shade(self) -> None:
        for name, least in (("quay.jpg", 40), ("boathouse.png", 15)):
            rgb = decode((PICTURES / name).read_bytes()).rgba[..., :3]
            self.assertGreater(float(rgb.std()), least, name)
            self.assertGreaterEqual(max(rgb.shape), 960, name)
        grey = decode((PICTURES / "boathouse.png").read_bytes()).rgba[..., :3].astype(int)
        self.assertLess(int(np.ptp(grey, axis=-1).max()), 40)

    def test_the_quay_has_its_lanterns(self) -> None:
        shapes = quay()
        self.assertGreater(len(shapes.lights), 10)
        self.assertTrue(all(len(row) == 12 for row in shapes.rows))
        self.assertEqual(SKY.shape, (13,))

    def test_developing_keeps_black_black_and_does_not_clip_to_nothing(self) -> None:
        light = np.zeros((60, 90, 3))
        light[:, 45:] = 4.0
        out = finish(light, grain=0.0)
        self.assertLess(int(out[:, :20].max()), 90)
        self.assertGreater(int(out[:, 70:].min()), 200)

    def test_curves_pass_through_their_points(self) -> None:
        points = ((0.0, 0.0), (10.0, 5.0), (20.0, 0.0))
        line = curve(*points)
        for point in points:
            self.assertLess(float(np.hypot(*(line - point).T).min()), 0.3)


class Studies(unittest.TestCase):
    def test_every_study_can_be_planned(self) -> None:
        for name, picture, values, spans, marks in STUDIES:
            with self.subTest(name=name):
                self.assertTrue((Path(PICTURES) / picture).is_file())
                recipe = Recipe.model_validate(values)
                self.assertIn(recipe.look, looks())
                count = len(expand(recipe, [Span(control=c, values=v) for c, v in spans.items()]))
                self.assertTrue(all(position < count for position in marks))
                self.assertTrue({value for value, _ in marks.values()} <= {"keep", "maybe", "drop"})

    def test_one_study_is_a_finished_sweep_of_strength_by_seed_with_marks(self) -> None:
        found = [
            s
            for s in STUDIES
            if set(s[3]) == {"strength", "seed"} and {"keep", "drop"} <= {m[0] for m in s[4].values()}
        ]
        self.assertEqual(len(found), 1)
