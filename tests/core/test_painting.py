"""What painters share, and what tells one look from another."""

import unittest

import cv2
import numpy as np

from tests.pictures import disc_on_ground, harbour
from warmtide.core.job.take import restyle
from warmtide.core.looks.registry import looks
from warmtide.core.looks.shared.flatten import flatten, soft_labels, steepest, tone_steps, without_islands
from warmtide.core.looks.shared.flow import directions, ink_lines
from warmtide.core.looks.shared.ground import paper, stretch
from warmtide.core.looks.shared.hatching import hatch
from warmtide.core.maths.arrays import Byte, Float
from warmtide.core.maths.bilateral import bilateral
from warmtide.core.maths.blur import quick_blur
from warmtide.core.maths.colour import bytes_to_lab
from warmtide.core.maths.filters import brought_out, displaced, evened, share_around, soften
from warmtide.core.maths.steps import smoothstep
from warmtide.core.model.recipe import Recipe
from warmtide.core.model.sitting import Sitting
from warmtide.core.understanding.areas import border_contrast, merged
from warmtide.core.understanding.ground import flat_ground


def sitting(picture, seed: int = 3, look: str = "test") -> Sitting:  # type: ignore[no-untyped-def]
    lab = bytes_to_lab(picture)
    return Sitting(look, seed, *picture.shape[:2], ground=flat_ground(lab))


class Filters(unittest.TestCase):
    def setUp(self) -> None:
        self.lab = bytes_to_lab(harbour(120, 180))

    def test_a_large_blur_through_a_smaller_picture_is_the_same_blur(self) -> None:
        import cv2

        for sigma in (6, 12, 24):
            plain = cv2.GaussianBlur(self.lab, (0, 0), sigma, borderType=cv2.BORDER_REFLECT)
            # Away from the border, where the two treat what lies outside differently.
            inner = np.s_[30:-30, 30:-30]
            self.assertLess(float(np.abs(quick_blur(self.lab, sigma) - plain)[inner].max()), 0.04, sigma)

    def test_a_share_around_is_the_blur_of_a_mask(self) -> None:
        mask = self.lab[..., 0] > 0.6
        for sigma in (0.1, 0.5, 1.3, 2.9, 3.5):
            share = share_around(mask, sigma)
            # Taps end at three deviations: a few thousandths lie beyond.
            self.assertLess(float(np.abs(share - quick_blur(mask.astype(np.float32), sigma)).max()), 0.005, sigma)
            self.assertTrue((share > -1e-6).all() and (share < 1 + 1e-6).all())
        np.testing.assert_allclose(share_around(np.ones((9, 12), bool), 1.3), 1, atol=1e-6)

    def test_softening_keeps_edges_and_takes_grain(self) -> None:
        step = np.zeros((60, 60, 3), np.float32)
        step[:, 30:, 0] = 0.5
        grain = np.random.default_rng(0).normal(0, 0.01, step.shape).astype(np.float32)
        soft = soften(step + grain, 2, 0.06, 3.0)
        self.assertLess(float(soft[:, 5:25, 0].std()), 0.5 * float(grain[:, 5:25, 0].std()))
        self.assertGreater(float(soft[:, 33, 0].mean() - soft[:, 26, 0].mean()), 0.45)

    def test_the_bilateral_leaves_a_constant_alone(self) -> None:
        flat = np.full((3, 20, 30), 0.4, np.float32)
        np.testing.assert_allclose(bilateral(flat, 2, 2, 0.1, 3.0), flat, atol=1e-6)

    def test_a_displacement_of_nothing_is_nothing(self) -> None:
        zero = np.zeros(self.lab.shape[:2], np.float32)
        np.testing.assert_array_equal(displaced(self.lab, zero, zero), self.lab)
        moved = displaced(self.lab, zero + 3, zero)
        np.testing.assert_allclose(moved[:, :-3], self.lab[:, 3:], atol=1e-6)

    def test_quiet_places_are_brought_out_and_loud_ones_left(self) -> None:
        picture = np.full((80, 160, 3), 0.5, np.float32)
        picture[..., 1:] = 0
        picture[30:50, 30:50, 0] = 0.55  # a figure at dusk
        picture[::2, 110:, 0] = 0.1
        picture[1::2, 110:, 0] = 0.9
        out = brought_out(picture, 10)
        self.assertGreater(float(out[40, 40, 0] - out[40, 20, 0]), 0.06)
        np.testing.assert_allclose(out[20:60, 130:150], picture[20:60, 130:150], atol=0.02)
        blank = np.full((40, 40, 3), 0.3, np.float32)
        np.testing.assert_allclose(brought_out(blank, 10), blank, atol=1e-5)

    def test_evened_contrast_is_even(self) -> None:
        ramp = np.linspace(0.02, 0.4, 200, dtype=np.float32)
        stripes = np.zeros((60, 200, 3), np.float32)
        stripes[..., 0] = 0.5 + ramp * np.where(np.arange(200) // 5 % 2, 1, -1)
        out = evened(stripes, 14)[..., 0]
        self.assertLess(float(out[:, 150:180].std() / out[:, 30:60].std()), 3)
        self.assertGreater(float(stripes[:, 150:180, 0].std() / stripes[:, 30:60, 0].std()), 3)


class Flat(unittest.TestCase):
    def test_texture_goes_and_structure_stays(self) -> None:
        picture = np.zeros((80, 120, 3), np.float32)
        picture[..., 0] = 0.3
        picture[:, 60:, 0] = 0.7
        texture = np.where((np.indices((80, 120)).sum(0) // 2) % 2, 0.03, -0.03).astype(np.float32)
        picture[..., 0] += texture
        flat = flatten(picture, 4.5, 0.0009)
        self.assertLess(float(flat[10:70, 10:50, 0].std()), 0.3 * float(texture.std()))
        self.assertGreater(float(flat[40, 66, 0] - flat[40, 53, 0]), 0.33)

    def test_the_steepest_channel_gives_the_slope(self) -> None:
        ys, xs = np.mgrid[0:30, 0:40].astype(np.float32)
        picture = np.stack([0.5 + 0.002 * xs, 0.004 * ys, 0.001 * xs], -1).astype(np.float32)
        across, down, most = steepest(picture)
        inner = np.s_[2:-2, 2:-2]
        # Hue counts 1.8 times as much as lightness.
        np.testing.assert_allclose(across[inner], 0, atol=1e-6)
        np.testing.assert_allclose(down[inner], 1.8 * 0.004, rtol=1e-3)
        np.testing.assert_allclose(most[inner], 1.8 * 0.004, rtol=1e-3)
        picture[..., 0] = 0.01 * xs
        np.testing.assert_allclose(steepest(picture)[0][inner], 0.01, rtol=1e-3)

    def test_tone_labels_follow_tone(self) -> None:
        ramp = np.tile(np.linspace(0, 1, 200, dtype=np.float32), (60, 1))
        labels = tone_steps(ramp, 5, 2.0)
        self.assertEqual(labels[30].tolist(), sorted(labels[30].tolist()))
        self.assertEqual(set(np.unique(labels)), set(range(5)))
        weights = soft_labels(labels, 5, 1.2)
        np.testing.assert_allclose(weights.sum(0), 1, atol=1e-5)
        self.assertTrue((weights.argmax(0) == labels).mean() > 0.98)

    def test_islands_sink(self) -> None:
        labels = np.zeros((40, 40), np.int32)
        labels[:, 20:] = 2
        labels[5:8, 5:8] = 1
        labels[20:22, 30:32] = 0
        cleared = without_islands(labels, 3, 20)
        self.assertEqual(int((cleared == 1).sum()), 0)
        self.assertTrue((cleared[:, :20] == 0).all() and (cleared[:, 20:] == 2).all())
        everything = np.zeros((4, 4), np.int32)
        np.testing.assert_array_equal(without_islands(everything, 3, 100), everything)


class Lines(unittest.TestCase):
    def test_the_flow_runs_along_an_edge(self) -> None:
        picture = np.zeros((60, 60, 3), np.float32)
        ys, xs = np.mgrid[0:60, 0:60]
        picture[..., 0] = (xs + ys > 60) * 0.6
        tangent, coherence, _ = directions(picture, 3)
        self.assertAlmostEqual(float(np.cos(2 * (tangent[30, 30] + np.pi / 4))), 1, delta=0.05)
        self.assertGreater(float(coherence[30, 30]), 0.9)

    def test_ink_lies_on_the_dark_line_only(self) -> None:
        picture = np.full((60, 80, 3), 0.8, np.float32)
        picture[..., 1:] = 0
        picture[28:31, 10:70, 0] = 0.2
        ink = ink_lines(picture, 1.0, 4.0, 0.99, 2.4, 60.0, -0.003)
        self.assertLess(float(ink[29, 20:60].max()), 0.2)
        self.assertEqual(float(ink[:15].min()), 1)

    def test_pressure_follows_tone(self) -> None:
        tone = np.zeros((60, 120), np.float32)
        tone[:, 60:] = 0.8
        deposit = np.zeros_like(tone)
        count = 200
        random = np.random.default_rng(0)
        xs, ys = random.uniform(0, 120, count).astype(np.float32), random.uniform(0, 60, count).astype(np.float32)
        ones = np.ones(count, np.float32)
        hatch(
            deposit, tone, xs, ys, ones * 0.5, ones * 20, ones * 0, ones, ones, random.integers(1, 999, count), 0.2, 0.5
        )
        self.assertEqual(float(deposit[:, :40].max()), 0)
        self.assertGreater(float(deposit[:, 70:].mean()), 0.02)


class Grounds(unittest.TestCase):
    def test_smoothstep(self) -> None:
        x = np.array([-1, 0, 0.5, 1, 2], np.float32)
        np.testing.assert_allclose(smoothstep(0, 1, x), [0, 0, 0.5, 1, 1])

    def test_tone_is_stretched_except_on_a_flat_ground(self) -> None:
        grey = (harbour() // 4 + 90).astype(np.uint8)
        light = bytes_to_lab(grey)[..., 0]
        wide = stretch(light, sitting(harbour()), (1, 99), (0.0, 1.0), 0.9)
        self.assertGreater(float(np.ptp(wide)), 2 * float(np.ptp(light)))
        calm = stretch(light, sitting(disc_on_ground()), (1, 99), (0.0, 1.0), 0.9)
        self.assertLess(float(np.abs(calm - light).mean()), 0.25 * float(np.abs(wide - light).mean()))

    def test_fields_are_named_and_repeat(self) -> None:
        one = sitting(harbour())
        np.testing.assert_array_equal(one.field("wet", 20), sitting(harbour()).field("wet", 20))
        for other in (
            one.field("dry", 20),
            sitting(harbour(), seed=4).field("wet", 20),
            sitting(harbour(), look="b").field("wet", 20),
        ):
            self.assertLess(abs(float(np.corrcoef(one.field("wet", 20).ravel(), other.ravel())[0, 1])), 0.6)
        self.assertAlmostEqual(float(paper(one, 0.9).std()), 1, places=3)


class Borders(unittest.TestCase):
    """How far apart two areas are taken to be, where they meet."""

    def setUp(self) -> None:
        self.ids = np.zeros((40, 60), np.int32)
        self.ids[:, 20:], self.ids[:, 40:] = 1, 2
        self.lab = np.zeros((40, 60, 3), np.float32)
        self.lab[..., 0] = np.array([0.2, 0.5, 0.6], np.float32)[self.ids]

    def test_contrast_lies_on_borders_only(self) -> None:
        found = border_contrast(self.ids, self.lab)
        self.assertEqual(set(np.flatnonzero(found.any(0))), {19, 39})
        self.assertAlmostEqual(float(found[20, 19]), 0.3, delta=0.01)
        self.assertAlmostEqual(float(found[20, 39]), 0.1, delta=0.01)
        self.assertFalse(border_contrast(np.zeros((9, 9), np.int32), np.ones((9, 9, 3), np.float32)).any())

    def test_hue_counts_more_than_lightness(self) -> None:
        hued = self.lab * 0 + 0.5
        hued[self.ids == 1, 1] += 0.1
        self.assertAlmostEqual(float(border_contrast(self.ids, hued)[20, 19]), 0.18, delta=0.01)

    def test_a_soft_passage_is_hardly_a_border(self) -> None:
        soft = quick_blur(np.ascontiguousarray(self.lab), 6)
        self.assertLess(float(border_contrast(self.ids, soft)[20, 19]), 0.6 * 0.3)

    def test_to_looks_that_draw_borders_a_soft_edge_is_as_good_as_a_sharp_one(self) -> None:
        for softness in (0.6, 1.2):
            soft = quick_blur(np.ascontiguousarray(self.lab), softness)
            self.assertAlmostEqual(float(border_contrast(self.ids, soft, edges=True)[20, 19]), 0.3, delta=0.03)

    def sky(self) -> Float:
        """A slope across the three areas, as far from one side to the other as their steps were."""
        slope = np.zeros_like(self.lab)
        slope[..., 0] = np.linspace(0.25, 0.55, 60, dtype=np.float32)
        return slope

    def test_to_them_a_slope_is_no_border_though_a_mast_stands_there(self) -> None:
        self.assertLess(float(border_contrast(self.ids, self.sky(), edges=True)[20, 19]), 0.05)
        mast = self.sky()
        mast[36:, 19:21, 0] = 0.9
        self.assertLess(float(border_contrast(self.ids, mast, edges=True)[10, 19]), 0.08)
        # All the way along it, it is the mast's border.
        mast[:, 19:21, 0] = 0.9
        self.assertGreater(float(border_contrast(self.ids, mast, edges=True)[10, 19]), 0.095)

    def test_bands_of_a_slope_are_one_area_where_borders_are_drawn(self) -> None:
        self.assertEqual(int(merged(self.ids, self.sky(), 0.05, 20, edges=True).max()), 0)
        self.assertEqual(int(merged(self.ids, self.sky(), 0.05, 20).max()), 0)
        steep = self.sky() * 2
        self.assertGreater(int(merged(self.ids, steep, 0.04, 20).max()), 0)
        self.assertEqual(int(merged(self.ids, self.lab, 0.085, 20, edges=True).max()), 2)


class Characters(unittest.TestCase):
    """Each painter alone, on one picture: the marks that make it what it is."""

    source: Byte
    painted: dict[str, Float]

    @classmethod
    def setUpClass(cls) -> None:
        cls.source = harbour(192, 288)
        lab = bytes_to_lab(cls.source)
        painters = {name: look for name, look in looks().items() if not look.handling.once}
        cls.painted = {name: look.paint(lab, sitting(cls.source, look=name)) for name, look in painters.items()}

    def test_painters_keep_size_and_range(self) -> None:
        for name, lab in self.painted.items():
            self.assertEqual(lab.shape, (192, 288, 3), name)
            self.assertTrue(np.isfinite(lab).all(), name)
            self.assertGreater(float(lab[..., 0].min()), -0.1, name)
            self.assertLess(float(lab[..., 0].max()), 1.1, name)

    def test_pencil_is_grey_on_pale_paper(self) -> None:
        lab = self.painted["pencil"]
        self.assertLess(float(np.abs(lab[..., 1:]).max()), 0.03)
        self.assertGreater(float(np.percentile(lab[..., 0], 95)), 0.93)

    def test_ink_has_blacks_and_flat_tones(self) -> None:
        light = self.painted["ink-comic"][..., 0]
        self.assertGreater(float((light < 0.3).mean()), 0.01)
        steps = np.abs(np.diff(light, axis=1))
        self.assertGreater(float((steps < 0.02).mean()), 0.55)

    def test_line_art_is_black_on_white_and_closed(self) -> None:
        lab = self.painted["line-art"]
        self.assertEqual(float(np.abs(lab[..., 1:]).max()), 0)
        self.assertGreater(float(((lab[..., 0] < 0.1) | (lab[..., 0] > 0.9)).mean()), 0.85)

    def test_no_colour_runs_through_a_line(self) -> None:
        """Sky, water and houses can't be reached from one another across white, nor across what isn't half black."""
        picture = harbour(341, 512)
        light = looks()["line-art"].paint(bytes_to_lab(picture), sitting(picture, look="line-art"))[..., 0]

        def areas(lightness: float) -> int:
            _, _, stats, _ = cv2.connectedComponentsWithStats((light > lightness).astype(np.uint8), connectivity=4)
            return int((stats[1:, cv2.CC_STAT_AREA] > 20).sum())

        self.assertGreater(areas(0.75), 10)
        self.assertGreaterEqual(areas(0.6), 0.95 * areas(0.75))

    def test_flat_shapes_have_few_colours(self) -> None:
        cells = np.round(self.painted["flat-shapes"] / 0.02).astype(int).reshape(-1, 3)
        _, counts = np.unique(cells, axis=0, return_counts=True)
        self.assertGreater(float(np.sort(counts)[::-1][:20].sum()) / len(cells), 0.6)

    def test_neon_is_a_dark_wall_with_bright_tubes(self) -> None:
        light = self.painted["neon"][..., 0]
        self.assertLess(float(np.median(light)), 0.4)
        self.assertGreater(float(np.percentile(light, 99)), 0.75)

    def test_marks_of_paint_thread_and_stone_are_there(self) -> None:
        """Fine contrast over a smooth part of the source, the sky."""
        sky = (slice(4, 36), slice(10, 280))
        calm = float(bytes_to_lab(cv2.GaussianBlur(self.source, (0, 0), 2))[sky][..., 0].std())
        for name in ("oil", "stitch", "mosaic", "linocut", "risograph"):
            with self.subTest(look=name):
                light = self.painted[name][sky][..., 0]
                fine = float((light - cv2.GaussianBlur(light, (0, 0), 3)).std())
                self.assertGreater(fine, 0.15 * calm + 0.003)
        for name in ("flat-shapes", "soft-toon"):
            light = self.painted[name][sky][..., 0]
            self.assertLess(float((light - cv2.GaussianBlur(light, (0, 0), 3)).std()), 0.02, name)

    def test_linocut_prints_three_inks(self) -> None:
        lab = self.painted["linocut"]
        self.assertGreater(float((lab[..., 0] < 0.4).mean()), 0.05)
        self.assertGreater(float((lab[..., 0] > 0.9).mean()), 0.05)
        self.assertGreater(float((np.hypot(lab[..., 1], lab[..., 2]) > 0.05).mean()), 0.05)

    def test_mosaic_has_grout_around_every_stone(self) -> None:
        light = self.painted["mosaic"][..., 0]
        stones, _ = cv2.connectedComponents((light > 0.42).astype(np.uint8), connectivity=4)
        self.assertGreater(stones, 150)

    def test_marker_leaves_paper_and_has_one_accent(self) -> None:
        lab = self.painted["marker"]
        self.assertGreater(float((lab[..., 0] > 0.93).mean()), 0.08)
        colourful = np.hypot(lab[..., 1], lab[..., 2]) > 0.08
        if colourful.mean() > 0.01:
            hues = np.arctan2(lab[..., 2], lab[..., 1])[colourful]
            self.assertGreater(float(np.abs(np.exp(1j * hues).mean())), 0.8)

    def test_a_draft_of_marker_has_its_accent_where_the_take_has(self) -> None:
        # A table whose colour hardly parts it from the subject: half is subject, half is not.
        picture = np.full((341, 512, 3), (186, 160, 140), np.uint8)
        cv2.ellipse(picture, (256, 200), (170, 110), 0, 0, 360, (190, 74, 40), -1, cv2.LINE_AA)
        cv2.circle(picture, (256, 140), 70, (236, 232, 226), -1, cv2.LINE_AA)
        for seed in (1, 2):
            recipe = Recipe(look="marker", strength=0.9, seed=seed, size=512)
            full = bytes_to_lab(restyle(picture, recipe))
            draft = bytes_to_lab(restyle(picture, recipe.changed(quality="draft")))
            small = cv2.resize(full, draft.shape[1::-1], interpolation=cv2.INTER_AREA)
            chroma = [
                cv2.resize(np.hypot(p[..., 1], p[..., 2]), (32, 21), interpolation=cv2.INTER_AREA)
                for p in (small, draft)
            ]
            self.assertGreater(float(chroma[0].max()), 0.1)
            self.assertGreater(float(np.corrcoef(chroma[0].ravel(), chroma[1].ravel())[0, 1]), 0.9)

    def test_watercolour_is_paler_and_keeps_colour(self) -> None:
        source = bytes_to_lab(self.source)
        lab = self.painted["watercolour"]
        self.assertGreater(float(np.percentile(lab[..., 0], 98)), 0.85)
        self.assertGreater(float(np.corrcoef(source[..., 2].ravel(), lab[..., 2].ravel())[0, 1]), 0.75)

    def test_looks_differ_from_one_another(self) -> None:
        names = sorted(self.painted)
        for i, a in enumerate(names):
            for b in names[i + 1 :]:
                self.assertGreater(float(np.abs(self.painted[a] - self.painted[b]).mean()), 0.015, (a, b))
