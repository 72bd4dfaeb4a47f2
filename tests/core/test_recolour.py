"""The colours of flat art, read and changed."""

import unittest

import cv2
import numpy as np

from tests.pictures import as_file
from warmtide.core.maths.arrays import Byte
from warmtide.core.model.errors import BadInput
from warmtide.core.pictures.image import decode
from warmtide.core.pictures.recolour import colours_of, from_hex, opened, parts_of, recoloured
from warmtide.core.pictures.svg_text import svg_colours, svg_recoloured

RED, BLUE, CREAM = "#c03028", "#2848a0", "#f0e6d0"
SVG = f"""<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 40 40">
<style>.sail {{ fill: {BLUE}; stroke:rgb(10, 20, 30) }}</style>
<rect width="40" height="40" fill="{CREAM}"/><circle cx="20" cy="20" r="12" fill="{RED.upper()}"/>
<path class="sail" d="M20 4 L30 34 L10 34Z" stroke-width="1"/><text fill="none">fill: red</text></svg>""".encode()


def badge(side: int = 160) -> Byte:
    """A red disc with a blue band on transparency, its edges smoothed."""
    big = np.zeros((side * 4, side * 4, 4), np.uint8)
    big[..., :3] = from_hex(RED).astype(np.uint8)
    mask = np.zeros(big.shape[:2], np.uint8)
    cv2.circle(mask, (side * 2, side * 2), side * 2 - 40, 255, -1)
    big[..., 3] = mask
    big[side * 3 // 2 : side * 5 // 2, :, :3] = from_hex(BLUE).astype(np.uint8)
    return cv2.resize(big, (side, side), interpolation=cv2.INTER_AREA)


class Parts(unittest.TestCase):
    def test_parts_are_found_with_their_shares(self) -> None:
        found = {part.colour: part.share for part in colours_of(badge())}
        self.assertEqual(set(found), {RED, BLUE})
        self.assertAlmostEqual(sum(found.values()), 1, delta=0.05)
        self.assertGreater(found[RED], found[BLUE])

    def test_noise_does_not_make_parts(self) -> None:
        noisy = badge()
        random = np.random.default_rng(3)
        noisy[..., :3] = np.clip(noisy[..., :3] + random.normal(0, 3, noisy[..., :3].shape), 0, 255)
        self.assertLessEqual(len(colours_of(noisy)), 4)

    def test_nothing_seen_has_no_parts(self) -> None:
        self.assertEqual(colours_of(np.zeros((20, 20, 4), np.uint8)), [])

    def test_an_svg_names_the_colours_that_are_written(self) -> None:
        self.assertEqual(svg_colours(SVG), [BLUE, "#0a141e", CREAM, RED])
        parts = parts_of(SVG, decode(SVG))
        self.assertEqual({p.colour for p in parts}, {BLUE, "#0a141e", CREAM, RED})
        self.assertEqual(parts[0].colour, CREAM)


class Recoloured(unittest.TestCase):
    def test_each_part_gets_its_new_colour_and_the_rest_stays(self) -> None:
        before = badge()
        after = recoloured(before, ((RED, "#20a060"),))
        np.testing.assert_array_equal(after[..., 3], before[..., 3])
        self.assertEqual(after[80, 40, :3].tolist(), before[80, 40, :3].tolist())
        self.assertLess(np.abs(after[30, 80, :3].astype(int) - from_hex("#20a060")).max(), 3)

    def test_no_rim_of_the_old_colour_stays(self) -> None:
        before = badge()
        after = recoloured(before, ((RED, BLUE),))
        seen = before[..., 3] > 250
        # All of one colour now: whatever is left of red would stand out.
        self.assertLess(np.abs(after[..., :3][seen].astype(int) - from_hex(BLUE)).max(), 14)

    def test_shading_stays(self) -> None:
        shaded = np.zeros((60, 60, 4), np.uint8)
        shaded[..., 3] = 255
        shaded[..., :3] = from_hex("#808080") + np.linspace(-6, 6, 60)[None, :, None]
        after = recoloured(shaded, ((colours_of(shaded)[0].colour, "#b06040"),))
        self.assertGreater(int(after[30, 55, 0]) - int(after[30, 5, 0]), 8)

    def test_the_same_colours_change_nothing(self) -> None:
        self.assertIs(recoloured(before := badge(), ((RED, RED),)), before)

    def test_an_svg_is_changed_in_its_text(self) -> None:
        changed = svg_recoloured(SVG, {RED: "#00ff00", BLUE: "#111111"})
        self.assertNotIn(RED.upper().encode(), changed)
        self.assertIn(b"fill: #111111", changed)
        self.assertIn(b'fill="none"', changed)
        # No pixel looks like the old colour, not even where it met another.
        picture = opened(SVG, ((RED, "#00ff00"),)).rgba[..., :3].astype(int)
        self.assertGreater(np.abs(picture - from_hex(RED)).sum(-1).min(), 60)

    def test_a_pixel_file_is_opened_in_its_new_colours(self) -> None:
        data = as_file(badge())
        picture = opened(data, ((RED, "#ffffff"),))
        self.assertGreater(picture.rgba[30, 80, :3].min(), 250)
        self.assertEqual(opened(data, ()).rgba[30, 80, :3].tolist(), from_hex(RED).tolist())

    def test_a_damaged_file_is_refused_in_colours_too(self) -> None:
        with self.assertRaises(BadInput):
            opened(as_file(badge())[:60], ((RED, BLUE),))
