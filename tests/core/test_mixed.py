"""Two looks mixed, what holds keep as a picture, and pictures read no larger than needed."""

import unittest
from dataclasses import fields

import numpy as np

from tests.pictures import as_file, disc_on_ground, harbour
from warmtide.core.engine.hold_map import hold_map
from warmtide.core.engine.source import prepare
from warmtide.core.engine.staging import scene_asked
from warmtide.core.job.take import restyle
from warmtide.core.looks.mixed import joined, look_for
from warmtide.core.looks.registry import look_named
from warmtide.core.model.errors import BadInput
from warmtide.core.model.face import Face
from warmtide.core.model.guides import Guides
from warmtide.core.model.look import Handling
from warmtide.core.model.recipe import Recipe, recipe_from
from warmtide.core.model.sweep import Span, expand
from warmtide.core.pictures.framing import Framing, frame, framed_natural, framed_shape, original_side
from warmtide.core.pictures.image import decode
from warmtide.core.understanding.kind import KINDS, hold_ranges, holds_for


def mean_apart(a: np.ndarray, b: np.ndarray) -> float:  # type: ignore[type-arg]
    return float(np.abs(a.astype(float) - b).mean())


class Mixed(unittest.TestCase):
    def test_the_ends_are_the_looks_themselves(self) -> None:
        source = harbour(96, 144)
        base = {"look": "oil", "strength": 0.7, "steps": 8, "size": 144}
        oil = restyle(source, recipe_from(base))
        pencil = restyle(source, recipe_from({**base, "look": "pencil"}))
        for share, same in ((0.0, oil), (1.0, pencil)):
            mixed = restyle(source, recipe_from({**base, "second_look": "pencil", "second_share": share}))
            np.testing.assert_array_equal(mixed, same)

    def test_the_share_moves_a_take_from_one_look_to_the_other(self) -> None:
        source = harbour(96, 144)
        base = recipe_from({"look": "oil", "second_look": "pencil", "strength": 0.7, "steps": 8, "size": 144})
        takes = [restyle(source, base.changed(second_share=share)) for share in (0, 0.3, 0.7, 1)]
        away = [mean_apart(take, takes[0]) for take in takes]
        self.assertEqual(away, sorted(away))
        self.assertGreater(away[1], 2)
        np.testing.assert_array_equal(takes[1], restyle(source, base.changed(second_share=0.3)))

    def test_marks_keep_their_energy(self) -> None:
        random = np.random.default_rng(1)
        flat = np.full((64, 64, 3), 0.5, np.float32)
        first, second = (flat + random.normal(0, 0.05, flat.shape).astype(np.float32) for _ in range(2))
        kept = float(joined(first, second, 0.5)[..., 0].std() / first[..., 0].std())
        self.assertGreater(kept, 0.85)
        self.assertLess(kept, 1.15)

    def test_everything_in_which_two_looks_differ_is_mixed(self) -> None:
        line_art, pencil = look_named("line-art"), look_named("pencil")
        mixed = look_for("line-art", "pencil", 0.02)
        # Paper left bare stays bare: only a fiftieth of the way to pencil's own figure.
        own, other = line_art.handling.bare_push, pencil.handling.bare_push
        self.assertAlmostEqual(mixed.handling.bare_push, own + 0.02 * (other - own))
        for field in fields(Handling):
            ends = [getattr(look_for("line-art", "pencil", share).handling, field.name) for share in (1e-9, 1 - 1e-9)]
            if field.name not in ("portrait", "once", "least_scale"):
                self.assertAlmostEqual(ends[0], getattr(line_art.handling, field.name), 6, field.name)
                self.assertAlmostEqual(ends[1], getattr(pencil.handling, field.name), 6, field.name)
        blueprint = look_for("blueprint", "card-model", 0.3)
        self.assertFalse(blueprint.placed)

    def test_a_thing_with_paint_mixed_in_still_lies_on_what_words_name(self) -> None:
        for share in (0.0, 0.3, 0.8):
            self.assertIsNone(scene_asked(look_for("gold", "watercolour", share), "on marble").asked, share)
        self.assertIsNotNone(scene_asked(look_for("gold", "watercolour", 1.0), "on marble").asked)

    def test_an_unknown_second_look_is_refused(self) -> None:
        with self.assertRaisesRegex(BadInput, "no look 'fog'"):
            look_for("oil", "fog", 0.5)
        with self.assertRaisesRegex(BadInput, "share goes from 0 to 1"):
            recipe_from({"second_share": 1.4})

    def test_shares_and_prompts_can_be_swept(self) -> None:
        base = recipe_from({"look": "oil", "second_look": "pencil"})
        recipes = expand(
            base, [Span(control="prompt", values=("mist", "")), Span(control="second_share", values=(0.2, 0.8))]
        )
        self.assertEqual(
            [(r.prompt, r.second_share) for r in recipes], [("mist", 0.2), ("mist", 0.8), ("", 0.2), ("", 0.8)]
        )


class Shown(unittest.TestCase):
    def test_lines_are_tinted_at_edges_and_not_on_the_ground(self) -> None:
        shown = hold_map(prepare(disc_on_ground(160, 160)), "lines")[..., 3].astype(int)
        self.assertGreater(shown.max(), 150)
        self.assertLess(shown[5:15, 5:15].max(), 20)

    def test_shapes_are_broader_than_lines(self) -> None:
        source = prepare(harbour(160, 240))
        lines, shapes = (hold_map(source, hold)[..., 3] > 60 for hold in ("lines", "shapes"))
        self.assertGreater(shapes.mean(), lines.mean())

    def test_faces_are_tinted_where_they_are(self) -> None:
        picture = harbour(160, 240)
        self.assertEqual(hold_map(prepare(picture, faces=()), "faces")[..., 3].max(), 0)
        shown = hold_map(prepare(picture, faces=(Face(0.25, 0.3, 0.12),)), "faces")[..., 3]
        ys, xs = np.nonzero(shown > 120)
        self.assertAlmostEqual(float(xs.mean()) / 240, 0.25, delta=0.03)
        self.assertAlmostEqual(float(ys.mean()) / 240, 0.3, delta=0.05)

    def test_colours_and_depth_are_pictures(self) -> None:
        source = prepare(harbour(160, 240))
        broad = hold_map(source, "colours")
        self.assertEqual((broad.shape, int(broad[..., 3].min())), ((160, 240, 4), 255))
        with self.assertRaisesRegex(BadInput, "depth"):
            hold_map(source, "depth")
        ramp = np.tile(np.linspace(0, 255, 240).astype(np.uint8), (160, 1))
        shown = hold_map(source, "depth", Guides(depth=ramp))
        self.assertLess(np.abs(shown[..., 0].astype(int) - ramp).max(), 3)

    def test_ranges_hold_the_usual_value(self) -> None:
        for kind in KINDS:
            for name, (low, high) in hold_ranges(kind).items():
                value = getattr(holds_for(kind), name)
                self.assertTrue(low <= value <= high and 0 <= low <= high <= 1, (kind, name))


class ReadSmaller(unittest.TestCase):
    def test_a_large_jpeg_is_read_no_larger_than_needed_and_framed_alike(self) -> None:
        large = np.repeat(np.repeat(harbour(200, 301), 8, 0), 8, 1)
        data = as_file(large, "JPEG", quality=95)
        whole, small = decode(data), decode(data, 600)
        self.assertEqual((whole.whole, small.whole), ((1600, 2408), (1600, 2408)))
        self.assertEqual(whole.rgba.shape[:2], (1600, 2408))
        self.assertTrue(600 <= max(small.rgba.shape[:2]) < 1300)
        framing = Framing(left=0.1, right=0.93, top=0.05, bottom=0.81, turn=90, margin=0.1)
        one, other = frame(whole.rgba, framing, 256), frame(small.rgba, framing, 256, small.whole)
        self.assertEqual(one.shape, other.shape)
        self.assertEqual(one.shape[:2], framed_shape(*framed_natural(1600, 2408, framing), 256))
        self.assertLess(mean_apart(one, other), 2.5)

    def test_a_turned_camera_picture_keeps_its_sides(self) -> None:
        from PIL import Image

        exif = Image.Exif()
        exif[274] = 6
        data = as_file(np.repeat(np.repeat(harbour(100, 150), 8, 0), 8, 1), "JPEG", exif=exif, quality=90)
        small = decode(data, 300)
        self.assertEqual(small.whole, (1200, 800))
        self.assertGreater(small.rgba.shape[0], small.rgba.shape[1])

    def test_a_crop_asks_for_more_of_the_original(self) -> None:
        whole = original_side(4000, 6000, Framing(), 512)
        self.assertEqual(whole, 1024)
        self.assertEqual(original_side(4000, 6000, Framing(right=0.5, bottom=0.5), 512), 2048)


class Placed(unittest.TestCase):
    def test_a_cut_out_is_scaled_and_moved_on_its_ground(self) -> None:
        rgba = np.zeros((40, 40, 4), np.uint8)
        rgba[..., 0], rgba[..., 3] = 200, 255
        framed = frame(rgba, Framing(ground="#0000ff", scale=0.5, shift_x=0.25, shift_y=-0.25), 80)
        red = framed[..., 0] > 100
        ys, xs = np.nonzero(red)
        self.assertEqual((xs.min(), xs.max(), ys.min(), ys.max()), (40, 79, 0, 39))
        self.assertTrue((framed[~red] == (0, 0, 255)).all())

    def test_what_reaches_over_the_edge_is_cut(self) -> None:
        rgba = np.full((30, 60, 4), 255, np.uint8)
        self.assertEqual(frame(rgba, Framing(scale=3, shift_x=1), 64).shape, (32, 64, 3))
        gone = frame(rgba, Framing(ground="#102030", scale=0.1, shift_x=1, shift_y=1), 64)
        self.assertTrue((gone == (16, 32, 48)).all())

    def test_recolouring_is_checked(self) -> None:
        for bad in ({"part": "red", "now": "#ffffff"}, {"part": "#ffffff"}):
            with self.assertRaises(ValueError):
                Framing.model_validate({"recolour": [bad]})
        framing = Framing.model_validate({"recolour": [{"part": "#FFFFFF", "now": "#000000"}]})
        self.assertEqual(framing.new_colours, (("#ffffff", "#000000"),))
        self.assertEqual(Recipe().second_look, None)
