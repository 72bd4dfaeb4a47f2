"""What single painters put on paper: inks apart, screens, glazes, strokes, markers, each on a picture with a known answer."""

import unittest

import cv2
import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from warmtide.core.looks.drawn import charcoal, marker, pencil
from warmtide.core.looks.graphic import soft_toon
from warmtide.core.looks.painted import gouache, oil, watercolour
from warmtide.core.looks.printed import ink_comic, risograph
from warmtide.core.looks.shared.flow import directions
from warmtide.core.maths.arrays import Float, f32
from warmtide.core.model.sitting import Sitting

HEIGHT, WIDTH = 160, 220


def sitting(look: str, seed: int = 3) -> Sitting:
    return Sitting(look, seed, HEIGHT, WIDTH)


def plain(value: float) -> Float:
    return np.full((HEIGHT, WIDTH), value, f32)


def plain_colour(light: float, a: float = 0.0, b: float = 0.0) -> Float:
    return np.full((HEIGHT, WIDTH, 3), (light, a, b), f32)


def disc(radius: float = 50, inside: float = 0.3, outside: float = 0.9) -> Float:
    """A dark disc in the middle of a light ground."""
    ys, xs = np.mgrid[0:HEIGHT, 0:WIDTH]
    picture = plain_colour(outside)
    picture[np.hypot(xs - WIDTH / 2, ys - HEIGHT / 2) < radius, 0] = inside
    return picture


class Inks(unittest.TestCase):
    inks = np.array(risograph._SETS[0], f32)

    def overprinted(self, amounts: Float) -> Float:
        """Colour of amounts of ink, one over the other."""
        colour: Float = np.exp(-amounts @ -np.log(np.clip(self.inks, 0.06, 0.97))).astype(f32)
        return colour

    @settings(max_examples=40, deadline=None)
    @given(st.lists(st.floats(0, 1), min_size=3, max_size=3))
    def test_what_three_inks_give_is_taken_apart_into_them(self, amounts: list[float]) -> None:
        given_ = np.array(amounts, f32)[None, None]
        found = risograph._separated(self.overprinted(given_), self.inks)
        self.assertTrue((found >= 0).all())
        self.assertLess(float(np.abs(self.overprinted(found) - self.overprinted(given_)).max()), 0.03)

    def test_no_ink_for_white_and_none_below_nothing_for_what_they_cannot_give(self) -> None:
        self.assertLess(float(risograph._separated(np.ones((1, 1, 3), f32), self.inks).max()), 1e-3)
        green = np.array([[[0.1, 1.0, 0.1]]], f32)
        found = risograph._separated(green, self.inks)
        self.assertTrue((found >= 0).all())
        # No better amounts lie beside those found.
        wanted, densities = -np.log(np.clip(green, 0.02, 1)), -np.log(np.clip(self.inks, 0.06, 0.97))

        def off(amounts: Float) -> float:
            return float(((amounts @ densities - wanted) ** 2).sum())

        for k in range(3):
            for step in (-0.2, 0.2):
                beside = found.copy()
                beside[0, 0, k] = max(beside[0, 0, k] + step, 0)
                self.assertGreaterEqual(off(beside), off(found) - 1e-3)

    def test_a_drum_prints_more_the_more_it_is_given_and_nothing_for_nothing(self) -> None:
        relief = plain(0)
        for drum in range(3):
            covers = [
                float(risograph._printed(plain(v), drum, relief, sitting("risograph")).mean())
                for v in (0, 0.2, 0.5, 0.8, 1)
            ]
            self.assertEqual(covers[0], 0)
            self.assertTrue((np.diff(covers) > 0.03).all(), (drum, covers))
            self.assertGreater(covers[-1], 0.75)

    def test_two_screens_stand_at_angles_of_their_own(self) -> None:
        found = []
        for drum, (angle, _) in enumerate(risograph._DRUMS[:2]):
            screen = risograph._screen(drum, angle, sitting("risograph"))
            self.assertEqual(screen.shape, (2 * HEIGHT, 2 * WIDTH))
            power = np.abs(np.fft.fft2(screen - screen.mean()))
            y, x = np.unravel_index(int(power.argmax()), power.shape)
            way = np.arctan2(np.fft.fftfreq(2 * HEIGHT)[y], np.fft.fftfreq(2 * WIDTH)[x])
            found.append(float(way % (np.pi / 2)))
            self.assertLess(abs(((found[-1] - (angle or 0)) + np.pi / 4) % (np.pi / 2) - np.pi / 4), 0.06)
        self.assertGreater(abs(found[0] - found[1]), 0.4)


class Tones(unittest.TestCase):
    def test_dots_of_a_comic_grow_with_the_shadow(self) -> None:
        covers = [float(ink_comic._dots(plain(v), 1.0).mean()) for v in (0.9, 0.46, 0.40, 0.34, 0.26, 0.1)]
        self.assertEqual(covers[:2], [0, 0])
        self.assertTrue((np.diff(covers[1:5]) > 0.03).all(), covers)
        self.assertEqual(covers[4], covers[5])

    def test_a_comic_cuts_tones_at_edges_only(self) -> None:
        _, xs = np.mgrid[0:HEIGHT, 0:WIDTH].astype(f32)
        slope = np.dstack([0.2 + 0.6 * xs / WIDTH, plain(0), plain(0)]).astype(f32)
        labels = np.clip((slope[..., 0] * ink_comic._TONES).astype(np.int32), 0, ink_comic._TONES - 1)
        runs = ink_comic._flat_colour(slope, slope[..., 0], labels, 1.0)[..., 0]
        steps = slope.copy()
        steps[..., 0] = (labels + 0.5) / ink_comic._TONES
        cut = ink_comic._flat_colour(steps, steps[..., 0], labels, 1.0)[..., 0]
        middle = HEIGHT // 2
        self.assertGreater(float(np.abs(np.diff(cut[middle])).max()), 1.7 * float(np.abs(np.diff(runs[middle])).max()))

    def test_glazes_lie_one_over_the_other_where_it_is_dark(self) -> None:
        tones = []
        for light in (0.97, 0.85, 0.6, 0.3, 0.05):
            tone, rims = watercolour._glaze(plain(light), plain(0), plain(0.2), sitting("watercolour"))
            tones.append(float(tone.mean()))
            # A rim may be a little paler than the wash, hardly more.
            self.assertGreater(float(rims.min()), -0.03)
        self.assertGreater(tones[0], 0.95)
        self.assertTrue((np.diff(tones) < -0.05).all(), tones)

    def test_pigment_gathers_at_the_rim_of_a_glaze(self) -> None:
        light = np.ascontiguousarray(disc(inside=0.3, outside=1.0)[..., 0])
        _, rims = watercolour._glaze(light, plain(0), plain(0.0), sitting("watercolour"))
        ys, xs = np.mgrid[0:HEIGHT, 0:WIDTH]
        away = np.hypot(xs - WIDTH / 2, ys - HEIGHT / 2)
        at_rim, within, beyond = (
            float(rims[where].mean()) for where in (np.abs(away - 49) < 2, away < 35, (away > 62) & (away < 75))
        )
        self.assertGreater(at_rim, 2 * within)
        self.assertGreater(at_rim, 5 * beyond)

    def test_gouache_has_no_black_and_more_colour(self) -> None:
        colours = np.array([[0.0, 0, 0], [0.5, 0.06, -0.02], [1.0, 0, 0]], f32)
        mixed = gouache._mixed(colours)
        self.assertAlmostEqual(float(mixed[0, 0]), 0.10, places=5)
        self.assertLess(float(mixed[2, 0]), 0.97)
        self.assertTrue((np.diff(mixed[:, 0]) > 0).all())
        self.assertGreater(float(np.hypot(*mixed[1, 1:])), float(np.hypot(*colours[1, 1:])))
        # Lights are warm, darks cool.
        self.assertGreater(float(mixed[2, 2]), 0)
        self.assertLess(float(mixed[0, 2]), 0)


class Forms(unittest.TestCase):
    def test_light_does_not_spread_over_walls(self) -> None:
        picture = disc()
        ids = (picture[..., 0] < 0.5).astype(np.int32)
        across, down = soft_toon._walls(picture, ids, 1.0)
        for ties, axis in ((across, 1), (down, 0)):
            border = np.diff(ids, axis=axis, append=np.take(ids, [-1], axis)) != 0
            self.assertLess(float(ties[border].max()), 0.01)
            self.assertAlmostEqual(float(ties[~border].min()), 1, places=5)
        # A border without a step still holds most of it back.
        level, _ = soft_toon._walls(plain_colour(0.5), ids, 1.0)
        self.assertAlmostEqual(float(level.min()), 0.03, places=5)

    def test_forms_swell_away_from_their_outlines(self) -> None:
        picture = disc()
        distance, height = soft_toon._volume(picture, plain(0), plain(0), 1.0)
        middle = HEIGHT // 2, WIDTH // 2
        self.assertGreater(float(distance[middle]), 40)
        self.assertLess(float(distance[middle[0], middle[1] + 50]), 3)
        row = height[middle[0], middle[1] : middle[1] + 46]
        self.assertGreater(float(row[0]), float(row[-1]) + 8)
        endless, _ = soft_toon._volume(plain_colour(0.5), plain(0), plain(0), 1.0)
        self.assertEqual(float(endless.min()), 1000)


class Strokes(unittest.TestCase):
    def test_a_pencil_leaves_more_where_it_is_darker_along_its_slant(self) -> None:
        calm = plain(0)
        deposits = [pencil._hatching(plain(v), calm, calm, sitting("pencil")) for v in (0.0, 0.3, 0.6, 0.95)]
        self.assertEqual(float(deposits[0].max()), 0)
        self.assertTrue((np.diff([float(d.mean()) for d in deposits]) > 0.02).all())
        # The first layer alone runs one way: the hand's.
        light = pencil._hatching(plain(0.2), calm, calm, sitting("pencil"))
        grey = np.dstack([1 - light / max(float(light.max()), 1e-6)] * 3).astype(f32)
        angles, coherence, _ = directions(grey, 30.0)
        doubled = (np.exp(2j * angles) * coherence).mean()
        self.assertLess(abs(float(np.angle(doubled / np.exp(2j * pencil._SLANT)))) / 2, 0.25)

    def test_charcoal_catches_on_shade_and_not_on_light(self) -> None:
        flat = plain_colour(0.5)
        covers = [float(charcoal._strokes(plain(v), flat, sitting("charcoal")).mean()) for v in (0.0, 0.3, 0.6, 1.0)]
        self.assertEqual(covers[0], 0)
        self.assertTrue((np.diff(covers) > 0.05).all(), covers)

    def test_a_layer_of_oil_covers_and_a_finer_one_leaves_what_is_right(self) -> None:
        picture, detail = plain_colour(0.6, 0.05, 0.02), plain(0)
        canvas, relief = plain_colour(0.2), plain(0)
        oil._lay_layer(0, picture, detail, canvas, relief, 1.0, sitting("oil"))
        inner = canvas[10:-10, 10:-10, 0]
        self.assertGreater(float((np.abs(inner - 0.6) < 0.08).mean()), 0.9)
        self.assertGreater(float(relief.mean()), 0.2)
        for k in (2, 3):
            right = picture.copy()
            oil._lay_layer(k, picture, detail, right, plain(0), 1.0, sitting("oil"))
            self.assertEqual(float(np.abs(right - picture).max()), 0, k)

    def test_a_finer_layer_goes_where_the_paint_beneath_is_wrong(self) -> None:
        picture, detail, canvas = disc(30), plain(1), plain_colour(0.9)
        oil._lay_layer(2, picture, detail, canvas, plain(0), 1.0, sitting("oil"))
        ys, xs = np.mgrid[0:HEIGHT, 0:WIDTH]
        away = np.hypot(xs - WIDTH / 2, ys - HEIGHT / 2)
        changed = np.abs(canvas[..., 0] - 0.9) > 0.15
        self.assertGreater(float(changed[np.abs(away - 26) < 3].mean()), 0.5)
        self.assertLess(float(changed[away > 50].mean()), 0.05)


class Markers(unittest.TestCase):
    def test_a_marker_stays_about_where_it_is_asked_for(self) -> None:
        mask = np.zeros((HEIGHT, WIDTH), bool)
        mask[40:120, 60:160] = True
        laid = marker._laid(mask, -0.6, 0.8, 10, "tone", sitting("marker"))
        self.assertGreater(float(laid[50:110, 70:150].mean()), 0.4)
        far = cv2.dilate(mask.astype(np.uint8), np.ones((25, 25), np.uint8)) == 0
        self.assertEqual(float(laid[far].max()), 0)
        specks = np.zeros_like(mask)
        specks[::20, ::20] = True
        self.assertEqual(float(marker._laid(specks, -0.6, 0.8, 10, "tone", sitting("marker")).max()), 0)

    def test_the_subject_is_what_the_border_is_not(self) -> None:
        subject = marker._subject(disc(), 0.4)
        self.assertGreater(float(subject[HEIGHT // 2, WIDTH // 2]), 0.95)
        self.assertLess(float(subject[5:20, 5:20].max()), 0.1)
        # Where the middle is as the border there is no subject, and all of it counts.
        self.assertTrue((marker._subject(plain_colour(0.5), 0.4) > 0.99).all())

    def test_the_accent_is_the_subjects_most_telling_hue(self) -> None:
        picture = plain_colour(0.6)
        picture[30:60, 30:200, 1:] = 0.15 * np.array((np.cos(0.5), np.sin(0.5)), f32)
        picture[90:120, 30:80, 1:] = 0.10 * np.array((np.cos(-2.0), np.sin(-2.0)), f32)
        hue, where = marker._accent(picture, picture, plain(1))
        self.assertLess(abs(hue - 0.5), 0.02)
        self.assertTrue(where[35:55, 40:190].all())
        self.assertFalse(where[90:120].any())
        # What is not the subject's does not count, however loud it is.
        behind = plain(1)
        behind[:75] = 0
        hue, where = marker._accent(picture, picture, behind)
        self.assertLess(abs(hue + 2.0), 0.02)
        self.assertFalse(where[:70].any())

    def test_a_sketched_line_overshoots_both_ends(self) -> None:
        line = np.stack([np.linspace(60, 160, 100), np.full(100, 80.0)], 1)
        cover = marker._Cover(plain(0), 1)
        marker._sketched(line, 1.0, 0.9, 20, 0.1, cover, 1.0, np.random.default_rng(0))
        rows, columns = np.nonzero(cover.plane > 0.05)
        self.assertLess(int(columns.min()), 50)
        self.assertGreater(int(columns.max()), 170)
        self.assertTrue(columns.min() > 40 - 2 and columns.max() < 180 + 2)
        self.assertTrue((np.abs(rows - 80) < 4).all())
        self.assertGreater(float(cover.plane[80, 100]), 0.7)

    def test_a_cover_is_as_sharp_in_a_small_picture_as_in_a_large_one(self) -> None:
        self.assertGreater(marker._Cover.of(80, 120).zoom, marker._Cover.of(800, 1200).zoom)
        cover = marker._Cover.of(80, 120)
        cover.plane[:] = 0.5
        np.testing.assert_allclose(cover.reduced(), np.full((80, 120), 0.5, f32), atol=1e-6)


if __name__ == "__main__":
    unittest.main()
