"""Framing: turned, flipped, straightened, cropped, padded, stretched, sized."""

import unittest

import cv2
import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from tests.pictures import harbour
from warmtide.core.maths.arrays import Byte
from warmtide.core.pictures.framing import Framing, frame, framed_natural, framed_points, framed_shape
from warmtide.core.pictures.resampling import RESAMPLINGS


def rgba(picture: Byte) -> Byte:
    return np.dstack([picture, np.full(picture.shape[:2], 255, np.uint8)])


def corners(height: int = 60, width: int = 100) -> Byte:
    """Red at the top left, green at the top right, blue at the bottom left, white at the bottom right."""
    picture = np.zeros((height, width, 3), np.uint8)
    y, x = height // 2, width // 2
    picture[:y, :x], picture[:y, x:], picture[y:, :x], picture[y:, x:] = (
        (250, 0, 0),
        (0, 250, 0),
        (0, 0, 250),
        (250, 250, 250),
    )
    return rgba(picture)


class Frames(unittest.TestCase):
    def test_turns_and_flips(self) -> None:
        for framing, colour in (
            (Framing(turn=90), (0, 0, 250)),
            (Framing(turn=180), (250, 250, 250)),
            (Framing(turn=270), (0, 250, 0)),
            (Framing(flip=True), (0, 250, 0)),
            (Framing(turn=90, flip=True), (250, 0, 0)),
        ):
            with self.subTest(framing=framing):
                out = frame(corners(), framing, 100)
                self.assertEqual(out.shape, (100, 60, 3) if framing.turn in (90, 270) else (60, 100, 3))
                self.assertEqual(tuple(out[3, 3]), colour)

    @given(
        turn=st.sampled_from([0, 90, 180, 270]), flip=st.booleans(), straighten=st.floats(-15, 15),
        crop=st.tuples(st.floats(0, 0.2), st.floats(0.8, 1)), margin=st.floats(0, 0.3),
        shape=st.sampled_from([None, 0.7, 1.6]), fit=st.sampled_from(["pad", "stretch"]),
        scale=st.floats(0.7, 1.2), shift=st.floats(-0.1, 0.1),
    )  # fmt: skip
    def test_points_go_where_their_pixels_do(
        self,
        turn,
        flip,
        straighten,
        crop,
        margin,
        shape,
        fit,
        scale,
        shift,  # type: ignore[no-untyped-def]
    ) -> None:
        framing = Framing(
            turn=turn, flip=flip, straighten=straighten, left=crop[0], right=crop[1], top=crop[0] / 2, margin=margin,
            shape=shape, fit=fit, scale=scale, shift_x=shift, shift_y=-shift, ground="#000000",
        )  # fmt: skip
        picture = np.zeros((180, 300, 3), np.uint8)
        cv2.circle(picture, (140, 80), 7, (255, 255, 255), -1)
        out = frame(rgba(picture), framing, 400)[..., 0].astype(float)
        seen = np.array(
            [(out.sum(0) * (np.arange(out.shape[1]) + 0.5)).sum(), (out.sum(1) * (np.arange(out.shape[0]) + 0.5)).sum()]
        )
        expected = framed_points(180, 300, framing) @ (140.5, 80.5, 1) * 400
        np.testing.assert_allclose(seen / out.sum(), expected, atol=1.5)

    def test_a_crop_is_those_pixels(self) -> None:
        picture = harbour(100, 200)
        out = frame(rgba(picture), Framing(left=0.25, top=0.2, right=0.75, bottom=0.8), 100)
        np.testing.assert_array_equal(out, picture[20:80, 50:150])

    def test_margin_and_shape_add_ground_and_never_distort(self) -> None:
        framing = Framing(margin=0.25, ground="#204060")
        out = frame(corners(), framing, 150)
        self.assertEqual(out.shape, (110, 150, 3))
        self.assertEqual(tuple(out[2, 2]), (0x20, 0x40, 0x60))
        self.assertEqual(tuple(out[55 - 20, 75 - 30]), (250, 0, 0))
        square = frame(corners(), Framing(shape=1.0, ground="#204060"), 100)
        self.assertEqual(square.shape, (100, 100, 3))
        self.assertEqual(tuple(square[5, 50]), (0x20, 0x40, 0x60))
        self.assertEqual([tuple(square[y, 5]) for y in (30, 70)], [(250, 0, 0), (0, 0, 250)])

    def test_stretch_fills_and_is_never_the_default(self) -> None:
        self.assertEqual(Framing().fit, "pad")
        out = frame(corners(), Framing(shape=1.0, fit="stretch"), 80)
        self.assertEqual(out.shape, (80, 80, 3))
        self.assertEqual(
            [tuple(out[y, x]) for y, x in ((2, 2), (2, 77), (77, 2))], [(250, 0, 0), (0, 250, 0), (0, 0, 250)]
        )

    def test_straightening_levels_a_tilted_line(self) -> None:
        picture = np.full((120, 160, 3), 240, np.uint8)
        cv2.line(picture, (0, 60 - 14), (159, 60 + 14), (20, 20, 20), 3)
        out = frame(rgba(picture), Framing(straighten=10, left=0.15, right=0.85, top=0.15, bottom=0.85), 112).astype(
            int
        )
        dark = [int(column.sum(-1).argmin()) for column in (out[:, 6], out[:, -7])]
        self.assertLess(abs(dark[0] - dark[1]), 4)

    def test_corners_of_a_straightened_picture_are_ground(self) -> None:
        out = frame(rgba(np.full((80, 80, 3), 10, np.uint8)), Framing(straighten=15, ground="#f0f0f0"), 80)
        self.assertEqual(tuple(out[0, 0]), (0xF0, 0xF0, 0xF0))
        self.assertLess(out[40, 40, 0], 14)

    def test_resamplings_differ_and_nearest_invents_nothing(self) -> None:
        picture = rgba(harbour(100, 150))
        made = {how: frame(picture, Framing(resampling=how), 67) for how in RESAMPLINGS}
        self.assertEqual({p.shape for p in made.values()}, {(45, 67, 3)})
        own = {tuple(c) for c in picture[..., :3].reshape(-1, 3)}
        self.assertTrue({tuple(c) for c in made["nearest"].reshape(-1, 3)} <= own)
        self.assertGreater(np.abs(made["lanczos"].astype(int) - made["area"]).mean(), 0.5)
        np.testing.assert_array_equal(made["auto"], made["area"])

    @given(
        height=st.integers(8, 90), width=st.integers(8, 90), turn=st.sampled_from([0, 90, 180, 270]), flip=st.booleans(),
        left=st.floats(0, 0.6), top=st.floats(0, 0.6), margin=st.floats(0, 0.5), straighten=st.floats(-20, 20),
        shape=st.one_of(st.none(), st.floats(0.2, 5)), fit=st.sampled_from(["pad", "stretch"]), size=st.integers(16, 120),
    )  # fmt: skip
    def test_any_framing_gives_the_size_that_was_told(self, height, width, size, **given_) -> None:  # type: ignore[no-untyped-def]
        framing = Framing(**given_)
        out = frame(rgba(harbour(height, width)), framing, size)
        self.assertEqual(max(out.shape[:2]), size)
        tall, wide = framed_natural(height, width, framing)
        wanted = framed_shape(tall, wide, size)
        self.assertLessEqual(
            max(abs(a - b) for a, b in zip(out.shape, wanted, strict=False)), 2 + size // min(height, width)
        )

    def test_what_leaves_nothing_is_refused(self) -> None:
        for wrong in (
            {"left": 0.5, "right": 0.5},
            {"turn": 45},
            {"margin": 0.9},
            {"straighten": 90},
            {"shape": 0},
            {"ground": "red"},
        ):
            with self.subTest(wrong=wrong), self.assertRaises(ValidationError):
                Framing.model_validate(wrong)
