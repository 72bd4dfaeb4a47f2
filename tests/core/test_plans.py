"""What is fixed before a take's first step, and what a learned look moves colours by: parts with exact answers."""

import unittest
from itertools import pairwise

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.pictures import harbour, keeper
from warmtide.core.engine.draft import drafted, octaves_left_out
from warmtide.core.engine.plan import _paintings, make_ground, make_plan
from warmtide.core.engine.prior import RESIDUE, left_open, local_prior, natural_variance
from warmtide.core.engine.source import prepare
from warmtide.core.looks.learned.features import GUIDES, JETS, guide, jets
from warmtide.core.looks.learned.transport import moved, toned
from warmtide.core.maths.arrays import Float, f32
from warmtide.core.maths.colour import bytes_to_lab
from warmtide.core.maths.octaves import NOISE, PRIOR_LIGHT, at_octave, guided_at, noise_at, octave_of, trust_at
from warmtide.core.maths.pyramid import collapse, image_of
from warmtide.core.model.guides import Guides
from warmtide.core.model.recipe import Holds, Recipe
from warmtide.core.understanding.faces import face_mask
from warmtide.core.understanding.palette import palette

FREE = Holds(lines=0, shapes=0, colours=0, faces=0, subject=0)


class Octaves(unittest.TestCase):
    def test_the_same_structures_have_the_same_octave_at_every_size(self) -> None:
        self.assertAlmostEqual(octave_of(0, 341, 512), 0, places=6)
        for band in range(4):
            self.assertAlmostEqual(octave_of(band + 1, 682, 1024), octave_of(band, 341, 512), places=6)
            self.assertAlmostEqual(octave_of(band, 682, 400), octave_of(band, 400, 682), places=6)

    @given(st.floats(-2, 8), st.floats(0.01, 0.5))
    def test_between_entries_tables_run_on_and_never_turn(self, octave: float, step: float) -> None:
        self.assertGreater(noise_at(octave), noise_at(octave + step))
        self.assertLessEqual(trust_at(octave), trust_at(octave + step) + 1e-9)
        self.assertGreaterEqual(guided_at(octave) + 1e-9, guided_at(octave + step))
        self.assertLess(abs(noise_at(octave) - noise_at(octave + 1e-6)), 1e-4)

    def test_entries_are_what_they_are(self) -> None:
        for k, value in enumerate(PRIOR_LIGHT):
            self.assertAlmostEqual(at_octave(PRIOR_LIGHT, k), value, places=9)
        for k, value in enumerate(NOISE):
            self.assertAlmostEqual(noise_at(k), value, places=9)
        self.assertAlmostEqual(at_octave((1.0, 4.0, 4.0), 0.5), 2.0)


class Priors(unittest.TestCase):
    def setUp(self) -> None:
        self.source = prepare(harbour(96, 144), faces=())

    def test_at_full_strength_without_holds_pictures_are_as_natural_ones(self) -> None:
        for b, prior in enumerate(local_prior(self.source.bands, 1.0, 0.0)):
            natural = natural_variance(b, 96, 144)
            np.testing.assert_allclose(prior, np.broadcast_to(natural[:, None, None], prior.shape), rtol=1e-3)

    def test_the_weaker_the_nearer_to_the_source_and_a_hold_keeps_it_nearer(self) -> None:
        own = local_prior(self.source.bands, 0.0, 0.0)
        self.assertTrue(all((p > 0).all() for p in own))

        def off(strength: float, hold: float) -> float:
            found = local_prior(self.source.bands, strength, hold)
            return sum(float(np.abs(a - b).mean()) for a, b in zip(found[:-1], own[:-1], strict=True))

        self.assertTrue(0 < off(0.3, 0) < off(0.6, 0) < off(0.9, 0))
        self.assertLess(off(0.9, 1.0), off(0.9, 0.5))
        self.assertLess(off(0.9, 0.5), off(0.9, 0.0))

    def test_energy_is_capped_and_a_blank_picture_has_some(self) -> None:
        loud = [50 * band for band in self.source.bands]
        for b, prior in enumerate(local_prior(loud, 0.0, 0.0)[:-1]):
            self.assertLessEqual(float((prior / natural_variance(b, 96, 144)[:, None, None]).max()), 4.001)
        blank = prepare(np.full((64, 64, 3), 128, np.uint8), faces=())
        self.assertTrue(all((p > 0).all() and np.isfinite(p).all() for p in local_prior(blank.bands, 0.5, 0.5)))

    def test_what_a_scene_explains_is_not_left_to_noise(self) -> None:
        self.assertEqual(left_open(0), 1)
        self.assertGreater(left_open(0.3), left_open(0.6))
        self.assertGreater(left_open(1.0), 0)
        plain, known = (local_prior(self.source.bands, 1.0, 0.0, share) for share in (0.0, 0.5))
        for a, b in zip(plain, known, strict=True):
            np.testing.assert_allclose(b, 0.25 * a, rtol=1e-2)


class Plans(unittest.TestCase):
    def setUp(self) -> None:
        self.picture = harbour(171, 256)
        self.source = prepare(self.picture, faces=())

    @given(st.floats(0.05, 1), st.integers(4, 60))
    @settings(max_examples=40, deadline=None)
    def test_a_painter_runs_once_or_twice_and_never_in_the_thick_of_noise(self, strength: float, steps: int) -> None:
        plan = make_plan(Recipe(strength=strength, steps=steps), self.source)
        self.assertTrue(1 <= len(plan.paints) <= 2, plan.paints)
        self.assertEqual(sorted(set(plan.paints)), plan.paints)
        self.assertLess(plan.paints[-1], plan.count)
        self.assertEqual(plan.sigmas[-1], 0)
        self.assertTrue((np.diff(plan.sigmas) < 0).all())
        if plan.count > 4:
            self.assertLess(plan.sigmas[plan.paints[0]], 0.6)

    def test_paintings_lie_where_the_picture_stands(self) -> None:
        self.assertEqual(_paintings([5.0, 1.0, 0.3, 0.2, 0.1, 0.0]), [2])
        self.assertEqual(_paintings([5.0, 1.0, 0.3, 0.2, 0.1, 0.05, 0.0]), [2])
        self.assertEqual(_paintings([5.0, 0.32, 0.063, 0.0]), [1])
        self.assertEqual(_paintings([5.0, 2.0, 0.0]), [1])

    def test_a_draft_is_painted_at_the_same_noise_as_its_take(self) -> None:
        recipe = Recipe(strength=0.7, steps=24, size=1024)
        large = np.zeros((682, 1024, 3), np.uint8)
        full = make_plan(recipe, prepare(large, faces=()))
        for quality in ("draft", "glimpse"):
            small, levels = drafted(large, quality)
            left_out = octaves_left_out(682, 1024, quality)
            plan = make_plan(recipe.changed(quality=quality), prepare(small, levels, ()), 0.0, left_out)
            self.assertAlmostEqual(plan.sigmas[plan.paints[0]], full.sigmas[full.paints[0]], places=6)
            self.assertLess(plan.count, full.count)
            # Its bands are the full take's without the finest.
            np.testing.assert_allclose(plan.octaves, full.octaves[left_out:], atol=0.02)
            np.testing.assert_allclose(plan.noise_std, full.noise_std[left_out:], rtol=0.02)

    def test_the_deeper_a_band_the_sooner_it_wakes(self) -> None:
        plan = make_plan(Recipe(), self.source)
        self.assertTrue((np.diff(plan.wake_at) > 0).all())
        self.assertEqual(plan.wake_at[-1], np.inf)
        gains = [plan.residue_gain(sigma) for sigma in (0.1, 1.0, 5.0)]
        self.assertTrue(all((a > b).all() for a, b in pairwise(gains)))
        np.testing.assert_allclose(plan.residue, RESIDUE)

    def bent(self, recipe: Recipe, guides: Guides | None = None) -> Float:
        """How far each place of the source is from where it was, as the seed bends it."""
        plan = make_plan(recipe, self.source)
        ground = make_ground(recipe, self.source, plan, guides or Guides())
        return np.abs(image_of(collapse(ground.bands)) - self.source.image).max(-1)

    def test_seeds_bend_a_picture_that_is_not_held(self) -> None:
        free = Recipe(strength=0.9, holds=FREE, seed=3)
        first, second = self.bent(free), self.bent(free.changed(seed=4))
        self.assertGreater(float(first.mean()), 0.01)
        self.assertGreater(float(np.abs(first - second).mean()), 0.005)
        self.assertGreater(float(first.mean()), 1.3 * float(self.bent(free.changed(strength=0.3)).mean()))
        self.assertLess(float(self.bent(free.changed(shapes=1.0)).max()), 1e-5)

    def test_nothing_bends_outside_of_a_region(self) -> None:
        region = np.zeros((171, 256), np.uint8)
        region[:, 150:] = 255
        moved_ = self.bent(Recipe(strength=0.9, holds=FREE, seed=3), Guides(region=region))
        self.assertLess(float(moved_[:, :100].max()), 1e-4)
        self.assertGreater(float(moved_[:, 190:].mean()), 0.01)

    def test_a_face_that_is_held_stays_where_it_is(self) -> None:
        self.source = prepare(keeper())
        self.assertTrue(self.source.faces)
        mask = face_mask(self.source.faces, *self.source.shape) > 0.9
        free = Recipe(strength=0.9, holds=FREE, seed=3)
        kept = free.changed(faces=1.0)
        self.assertLess(float(self.bent(kept)[mask].mean()), 0.3 * float(self.bent(free)[mask].mean()))


class Learned(unittest.TestCase):
    def test_a_blank_place_has_tone_and_no_marks(self) -> None:
        found = jets(np.full((20, 30, 3), (0.5, 0.1, -0.1), f32))
        self.assertEqual(found.shape, (20, 30, JETS))
        np.testing.assert_allclose(found[..., 1:10].reshape(-1, 9)[:, [0, 1, 3]], 0, atol=1e-5)
        self.assertLess(float(np.ptp(found.reshape(-1, JETS), axis=0).max()), 1e-5)

    def test_a_slope_is_told_by_its_direction(self) -> None:
        _, xs = np.mgrid[0:40, 0:40].astype(f32)
        across = np.dstack([xs / 40, np.zeros_like(xs), np.zeros_like(xs)]).astype(f32)
        down = np.ascontiguousarray(across.transpose(1, 0, 2))
        one, other = jets(across)[8:-8, 8:-8], jets(down)[8:-8, 8:-8]
        self.assertGreater(float(np.abs(one[..., 1]).min()), 0.02)
        np.testing.assert_allclose(one[..., 2], 0, atol=1e-5)
        np.testing.assert_allclose(one[..., 1], other[..., 2].T, atol=1e-5)

    def test_a_guide_tells_edges_that_cross_apart(self) -> None:
        picture = np.zeros((60, 60, 3), f32)
        picture[:, 30:, 0] = 1
        upright = guide(picture, 3.0)
        level = guide(np.ascontiguousarray(picture.transpose(1, 0, 2)), 3.0)
        self.assertEqual(upright.shape, (60, 60, GUIDES))
        self.assertGreater(float(upright[30, 30, 3]), 0.2)
        self.assertLess(float(level[30, 30, 3]), -0.2)
        self.assertLess(float(np.abs(upright[30, 5, 3:]).max()), 1e-3)

    def test_a_picture_in_its_own_colours_stays_about_as_it_is(self) -> None:
        lab = bytes_to_lab(harbour(120, 180, 4))
        own = palette(lab, 9)
        near = ((lab[:, :, None] - own[None, None]) ** 2).sum(-1).argmin(-1)
        mass = np.bincount(near.ravel(), minlength=len(own)) / near.size
        self.assertLess(float(np.abs(moved(lab, own, mass.astype(f32)) - lab).mean()), 0.03)

    def test_colours_go_to_the_looks_and_dark_stays_dark(self) -> None:
        lab = bytes_to_lab(harbour(120, 180, 4))
        wanted = np.array([[0.25, 0.02, 0.06], [0.55, 0.05, 0.09], [0.85, 0.01, 0.05]], f32)
        out = moved(lab, wanted, np.full(3, 1 / 3, f32))
        self.assertGreater(float(out[..., 2].mean()), float(lab[..., 2].mean()) + 0.01)
        self.assertTrue((out[..., 0] >= 0).all() and (out[..., 0] <= 1).all())
        ranks = np.corrcoef(lab[..., 0].ravel(), out[..., 0].ravel())[0, 1]
        self.assertGreater(float(ranks), 0.8)

    def test_tones_spread_as_a_looks_do_and_keep_their_order(self) -> None:
        lab = np.zeros((60, 90, 3), f32)
        lab[..., 0] = np.linspace(0.4, 0.6, 90, dtype=f32)
        even = np.linspace(0, 1, 17)
        own = toned(lab, np.quantile(lab[..., 0], even).astype(f32))
        self.assertLess(float(np.abs(own - lab).max()), 0.02)
        wide = toned(lab, np.linspace(0.1, 0.9, 17).astype(f32))[..., 0]
        self.assertTrue((np.diff(wide, axis=1) >= -1e-6).all())
        self.assertGreater(float(np.ptp(wide)), 1.5 * float(np.ptp(lab[..., 0])))
        # Nothing is torn apart: no tone is stretched more than so much.
        self.assertLess(float(np.diff(wide, axis=1).max() / np.diff(lab[..., 0], axis=1).max()), 2.4)


if __name__ == "__main__":
    unittest.main()
