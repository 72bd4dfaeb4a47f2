"""Every look on every kind of picture, and on pictures that nobody would choose: a take, or one clear sentence."""

import math
import unittest
import warnings
from dataclasses import replace

import cv2
import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from demo.load import PICTURES
from tests.pictures import harbour, keeper
from warmtide.core.engine.staging import takes_cover
from warmtide.core.job.looking import look_of
from warmtide.core.job.take import render
from warmtide.core.looks.registry import looks
from warmtide.core.maths.arrays import Byte
from warmtide.core.model.cache import SharedCache
from warmtide.core.model.errors import BadInput
from warmtide.core.model.guides import NO_GUIDES
from warmtide.core.model.recipe import Recipe
from warmtide.core.pictures.framing import Framing, frame, framed_cover
from warmtide.core.pictures.image import decode

_SIDE = 64
# A take whose lightest place is darker than this shows nothing.
_BLACK = 8


def rgba(rgb: Byte, alpha: int | Byte = 255) -> Byte:
    out = np.empty((*rgb.shape[:2], 4), np.uint8)
    out[..., :3], out[..., 3] = rgb, alpha
    return out


def plain(height: int, width: int, colour: tuple[int, int, int]) -> Byte:
    return np.full((height, width, 3), colour, np.uint8)


def noise(height: int, width: int, coarse: int = 1) -> Byte:
    small = np.random.default_rng(height * 31 + width).integers(
        0, 256, (height // coarse, width // coarse, 3), dtype=np.uint8
    )
    return cv2.resize(small, (width, height), interpolation=cv2.INTER_NEAREST)


def kinds() -> dict[str, Byte]:
    """What artists bring: photo, by night, portrait, sketch, render, flat art with and without a ground."""
    named = {
        name: decode((PICTURES / file).read_bytes(), 512).rgba
        for name, file in (
            ("photo", "quay.jpg"), ("render", "massing.png"), ("sketch", "sketch.png"), ("flat art", "badge.png"),
        )
    }  # fmt: skip
    badge = named["flat art"]
    share = badge[..., 3:] / 255
    return {
        **named,
        "night": rgba((named["photo"][..., :3] * 0.18).astype(np.uint8)),
        "portrait": rgba(keeper()),
        "flat art on a ground": rgba((badge[..., :3] * share + 240 * (1 - share)).astype(np.uint8)),
    }


def extremes() -> dict[str, Byte]:
    """What nobody would choose."""
    bits = np.where(np.random.default_rng(1).random((96, 128, 1)) > 0.5, 255, 0).astype(np.uint8)
    return {
        "1 x 1": rgba(noise(1, 1)),
        "3 x 5000": rgba(noise(5000, 3)),
        "2000 x 64": rgba(noise(64, 2000, 8)),
        "black": rgba(plain(96, 128, (0, 0, 0))),
        "white": rgba(plain(96, 128, (255, 255, 255))),
        "one colour": rgba(plain(96, 128, (200, 60, 30))),
        "clear": rgba(plain(96, 128, (200, 60, 30)), 0),
        "noise": rgba(noise(96, 128)),
        "1 bit": rgba(np.repeat(bits, 3, 2)),
    }


class EveryLook(unittest.TestCase):
    def taken(self, look: str, picture: Byte, cache: SharedCache | None = None, **more: object) -> None:
        """Render and read; whatever comes of it must be whole. What is known of a source is kept in `cache`."""
        size, cache = _SIDE, cache or SharedCache()
        recipe = Recipe(look=look, size=size, steps=3, **more)  # type: ignore[arg-type]
        source = frame(picture, Framing(), size)
        cover = framed_cover(picture, Framing(), size) if takes_cover(recipe, look_of(recipe)) else None
        with warnings.catch_warnings():
            warnings.simplefilter("error", RuntimeWarning)
            try:
                found = render(source, recipe, None, cache, replace(NO_GUIDES, cover=cover))
            except BadInput as error:
                self.assertTrue(str(error).endswith("."))
                return
        self.assertEqual((found.picture.shape, found.picture.dtype), (source.shape, np.uint8))
        figures = found.reading.figures
        for name in ("composition", "colour", "look"):
            self.assertTrue(figures[name] is None or 0 <= figures[name] <= 100, figures)
        self.assertTrue(all(math.isfinite(value) for value in figures["parts"].values()), figures)
        if found.picture.max() < _BLACK <= source.max():
            self.assertTrue(figures["warnings"], "a black take without a word")

    def test_every_kind_of_picture(self) -> None:
        self.every_look(kinds(), 0.8)

    def test_pictures_that_nobody_would_choose(self) -> None:
        self.every_look(extremes(), 1.0)

    def every_look(self, pictures: dict[str, Byte], strength: float) -> None:
        for name, picture in pictures.items():
            cache = SharedCache()
            for look in looks():
                with self.subTest(look=look, picture=name):
                    self.taken(look, picture, cache, strength=strength)

    @settings(max_examples=60)
    @given(
        look=st.sampled_from(sorted(looks())),
        sides=st.tuples(st.integers(1, 90), st.integers(1, 90)),
        colours=st.lists(st.tuples(*[st.integers(0, 255)] * 4), min_size=1, max_size=6),
        strength=st.sampled_from((0.0, 0.2, 0.6, 1.0)),
        guidance=st.sampled_from((1.0, 7.0, 30.0)),
        seed=st.integers(0, 2**32 - 1),
    )
    def test_drawn_pictures(
        self,
        look: str,
        sides: tuple[int, int],
        colours: list[tuple[int, ...]],
        strength: float,
        guidance: float,
        seed: int,
    ) -> None:
        lot = np.random.default_rng(seed)
        picture = np.empty((*sides, 4), np.uint8)
        picture[:] = colours[0]
        for colour in colours[1:]:
            ends = np.sort(lot.integers(0, np.add(sides, 1), (2, 2)), axis=0)
            picture[ends[0, 0] : ends[1, 0], ends[0, 1] : ends[1, 1]] = colour
        self.taken(look, picture, strength=strength, guidance=guidance, seed=seed)


class Wide(unittest.TestCase):
    def test_a_picture_wider_than_eight_to_one_is_read(self) -> None:
        """On a plane so low the search for what has moved once ended the whole process."""
        for height, width in ((62, 512), (51, 512), (16, 256), (512, 40)):
            source = harbour(height, width)
            found = render(source, Recipe(size=max(height, width), strength=0.6, steps=4))
            self.assertEqual(found.picture.shape, source.shape)


if __name__ == "__main__":
    unittest.main()
