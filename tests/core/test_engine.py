"""What must hold for every look (docs/engine.md), on small pictures."""

import hashlib
import itertools
import subprocess
import sys
import unittest
from concurrent.futures import ProcessPoolExecutor
from itertools import pairwise
from multiprocessing import get_context

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.stats import spearmanr

from tests.pictures import disc_on_ground, harbour
from warmtide.core.job.take import restyle
from warmtide.core.looks.registry import look_named, looks
from warmtide.core.maths.arrays import Byte
from warmtide.core.maths.colour import bytes_to_lab
from warmtide.core.model.cache import SharedCache
from warmtide.core.model.errors import BadInput, Cancelled
from warmtide.core.model.recipe import Holds, Recipe
from warmtide.core.model.sampling import TITLES
from warmtide.core.readings.composition import composition_kept
from warmtide.core.readings.features import read_features
from warmtide.core.readings.pair import SourceReading

# Painters; materials keep the source's shapes whatever happens, see test_materials.
LOOKS = sorted(name for name, look in looks().items() if not look.handling.once)
CACHE = SharedCache()


def taken(source, **values):  # type: ignore[no-untyped-def]
    return restyle(source, Recipe.model_validate(values), cache=CACHE)


def difference(a, b) -> float:  # type: ignore[no-untyped-def]
    """Mean absolute difference of two pictures, 0..1."""
    return float(np.abs(a.astype(float) - b.astype(float)).mean() / 255)


SOURCES: dict[bytes, SourceReading] = {}


def composition(source: Byte, take: Byte) -> float:
    """Composition kept; no face is looked for, and a source is read once."""
    own = SOURCES.setdefault(source.tobytes(), SourceReading(source, ()))
    return composition_kept(own.features, read_features(take, own.features.size), own.ground).kept


STRENGTHS = [round(0.1 * k, 1) for k in range(11)]


def strength_series(job: tuple[str, float, float]) -> tuple[list[float], list[float]]:
    """Composition kept and distance from the source at every strength, means over seeds, since one seed may hit
    an edge by luck."""
    look, hold, colours = job
    source, seeds = harbour(120, 180), (1, 2)
    holds = {"lines": hold, "shapes": hold, "colours": colours, "subject": hold}
    kept, away = [], []
    for strength in STRENGTHS:
        takes = [taken(source, look=look, strength=strength, seed=seed, holds=holds, steps=12) for seed in seeds]
        kept.append(float(np.mean([composition(source, take) for take in takes])))
        away.append(float(np.mean([difference(source, take) for take in takes])))
    return kept, away


class Strength(unittest.TestCase):
    """Property 1."""

    @settings(max_examples=12, deadline=None)
    @given(seed=st.integers(0, 2**32 - 1), guidance=st.floats(1, 30), look=st.sampled_from(LOOKS))
    def test_zero_returns_the_source_bit_for_bit(self, seed: int, guidance: float, look: str) -> None:
        source = harbour()
        take = taken(source, look=look, strength=0, seed=seed, guidance=guidance)
        self.assertTrue(np.array_equal(take, source))
        self.assertIsNot(take, source)

    def test_composition_falls_and_look_rises(self) -> None:
        # The largest fall in a step of .1: of the whole range without holds, of 100 with those of a new study.
        # Without holds .15 is out of reach for a figure that stays at 100 until a loss is seen (docs/engine.md);
        # line art gives up every tone between .3 and .4.
        jobs = [(look, *hold) for hold in ((0.0, 0.0), (0.7, 0.3)) for look in LOOKS]
        with ProcessPoolExecutor(2, mp_context=get_context("spawn")) as pool:
            for (look, hold, _), (kept, away) in zip(jobs, pool.map(strength_series, jobs), strict=True):
                with self.subTest(look=look, hold=hold):
                    # Held, a small picture stays near 100 throughout, and near ties cost rank.
                    least = -0.97 if not hold else -0.91 if kept[0] - kept[-1] > 10 else -0.90
                    self.assertLessEqual(spearmanr(STRENGTHS, kept).statistic, least, kept)
                    self.assertTrue(all(b < a + 1.5 for a, b in pairwise(kept)), kept)
                    # How far pixels are from the source levels off once nothing of it is left.
                    self.assertTrue(all(b > a - 0.003 for a, b in pairwise(away[:7])), away)
                    self.assertGreater(min(away[7:]), 0.7 * away[6], away)
                    most = 0.35 if not hold else 0.28 if look == "line-art" else 0.15
                    whole = 100.0 if hold else kept[0] - kept[-1]
                    self.assertLess(float(-np.diff(kept).min()) / whole, most, kept)

    def test_one_without_holds_leaves_nothing_of_the_composition(self) -> None:
        source = harbour(144, 216)
        for look in LOOKS:
            kept = [
                composition(
                    source,
                    taken(
                        source,
                        look=look,
                        strength=1,
                        seed=seed,
                        holds={"lines": 0, "shapes": 0, "colours": 0, "subject": 0},
                    ),
                )
                for seed in (1, 2, 3)
            ]
            self.assertLess(np.mean(kept), 25, (look, kept))


class Repeatable(unittest.TestCase):
    """Property 2."""

    def test_same_pixels_in_another_process(self) -> None:
        program = (
            "import hashlib, sys; from tests.pictures import harbour; from warmtide.core.job.take import restyle;"
            "from warmtide.core.model.recipe import Recipe;"
            "[print(hashlib.sha256(restyle(harbour(), Recipe(look=l, seed=5, strength=.8, sampler=s)).tobytes()).hexdigest())"
            " for l, s in (pair.split('/') for pair in sys.argv[1:])]"
        )
        pairs = list(zip(LOOKS, itertools.cycle(TITLES), strict=False))
        arguments = [f"{look}/{sampler}" for look, sampler in pairs]
        there = subprocess.run([sys.executable, "-c", program, *arguments], capture_output=True, text=True, check=True)
        for (look, sampler), found in zip(pairs, there.stdout.split(), strict=True):
            here = taken(harbour(), look=look, seed=5, strength=0.8, sampler=sampler)
            self.assertEqual(hashlib.sha256(here.tobytes()).hexdigest(), found, look)

    def test_the_cache_changes_nothing(self) -> None:
        source = harbour()
        recipe = Recipe(look="watercolour", strength=0.7, seed=11)
        warm = SharedCache()
        restyle(source, recipe.changed(guidance=9), cache=warm)
        restyle(source, recipe.changed(strength=0.4), cache=warm)
        self.assertTrue(np.array_equal(restyle(source, recipe, cache=warm), restyle(source, recipe)))


class Guidance(unittest.TestCase):
    """Property 4."""

    def test_small_and_large_steps_are_visible(self) -> None:
        source = harbour(144, 216)
        for look in LOOKS:
            low = difference(taken(source, look=look, guidance=1), taken(source, look=look, guidance=2))
            high = difference(taken(source, look=look, guidance=7), taken(source, look=look, guidance=10))
            self.assertGreater(low, 0.002, look)
            self.assertGreater(high, 0.004, look)

    def test_chroma_and_tone_do_not_run_away(self) -> None:
        source = harbour(144, 216)
        for look in LOOKS:
            plain, loud = (bytes_to_lab(taken(source, look=look, guidance=g)) for g in (5, 20))
            self.assertLess(abs(float(loud[..., 0].mean() - plain[..., 0].mean())), 0.08, look)
        pencil = bytes_to_lab(taken(source, look="pencil", guidance=20, strength=0.9))
        self.assertLess(float(np.hypot(pencil[..., 1], pencil[..., 2]).mean()), 0.03)


class Steps(unittest.TestCase):
    """Properties 5 and 9."""

    def test_strength_times_steps_are_run_and_told(self) -> None:
        told: list[tuple[int, int]] = []
        restyle(harbour(), Recipe(strength=0.7, steps=20), lambda done, steps: told.append((done, steps)))
        self.assertEqual(told, [(i, 14) for i in range(15)])

    def test_more_steps_refine_and_do_not_change_the_subject(self) -> None:
        source = harbour(144, 216)
        for look in LOOKS:
            for sampler in TITLES:
                few, many = (taken(source, look=look, steps=s, sampler=sampler) for s in (18, 22))
                other = taken(source, look=look, steps=18, sampler=sampler, seed=99)
                self.assertLess(difference(few, many), max(0.04, difference(few, other)), (look, sampler))
                self.assertGreater(composition(few, many), 60, (look, sampler))

    def test_cancel_between_steps(self) -> None:
        def stop(done: int, _steps: int) -> None:
            if done == 3:
                raise Cancelled

        with self.assertRaises(Cancelled):
            restyle(harbour(), Recipe(strength=0.7), stop)

    def test_seeds_differ_and_more_at_high_strength(self) -> None:
        source = harbour(144, 216)
        apart = [
            difference(taken(source, strength=s, seed=1), taken(source, strength=s, seed=2)) for s in (0.3, 0.6, 0.9)
        ]
        self.assertEqual(apart, sorted(apart))
        self.assertGreater(apart[0], 0.001)


class HoldsAndGrounds(unittest.TestCase):
    """Properties 6 and 7."""

    def test_a_hold_keeps_more_and_half_is_between(self) -> None:
        source = harbour(144, 216)
        kept = [
            np.mean(
                [
                    composition(
                        source, taken(source, strength=0.9, seed=s, holds={"lines": h, "shapes": h, "colours": 0})
                    )
                    for s in (1, 2, 3)
                ]
            )
            for h in (0, 0.5, 1)
        ]
        self.assertLess(kept[0] + 5, kept[1])
        self.assertLess(kept[1] + 5, kept[2])

    def test_the_colour_hold_keeps_colours(self) -> None:
        source = harbour(144, 216)
        lab = bytes_to_lab(source)
        apart = [
            float(
                np.abs(
                    bytes_to_lab(taken(source, strength=0.9, holds={"lines": 0.7, "shapes": 0.7, "colours": h}))[
                        ..., 1:
                    ]
                    - lab[..., 1:]
                ).mean()
            )
            for h in (0, 1)
        ]
        self.assertLess(apart[1], apart[0] * 0.8)

    def test_a_flat_ground_stays_calm(self) -> None:
        source = disc_on_ground(128, 128)
        for look in LOOKS:
            take = bytes_to_lab(
                taken(source, look=look, strength=0.7, holds=Holds(lines=0.85, shapes=0.85, colours=0.3).model_dump())
            )
            ground = take[:20]
            coarse = ground.reshape(5, 4, 16, 8, 3).mean((1, 3))
            self.assertLess(float(coarse[..., 0].std()), 0.03, look)
            self.assertLess(float(coarse[..., 1:].std()), 0.02, look)

    def test_a_subject_is_not_moved_or_shrunk(self) -> None:
        source = disc_on_ground(128, 128)

        def centre_and_area(picture):  # type: ignore[no-untyped-def]
            lab = bytes_to_lab(picture)
            inside = np.abs(lab[..., 0] - np.median(lab[:10, :, 0])) > 0.12
            ys, xs = np.nonzero(inside)
            return ys.mean(), xs.mean(), inside.sum()

        before = centre_and_area(source)
        for look in ("watercolour", "ink-comic"):
            after = centre_and_area(taken(source, look=look, strength=0.6))
            self.assertLess(abs(after[0] - before[0]), 2.5, look)
            self.assertLess(abs(after[1] - before[1]), 2.5, look)
            self.assertAlmostEqual(after[2] / before[2], 1, delta=0.25, msg=look)


class Sizes(unittest.TestCase):
    """Property 8."""

    @settings(max_examples=10, deadline=None)
    @given(height=st.integers(64, 260), width=st.integers(64, 260), look=st.sampled_from(LOOKS))
    def test_any_aspect(self, height: int, width: int, look: str) -> None:
        take = taken(harbour(height, width), look=look, strength=0.8, steps=8)
        self.assertEqual(take.shape, (height, width, 3))
        self.assertGreater(float(take.std()), 4)

    def test_extreme_shapes(self) -> None:
        for shape in ((8, 64), (64, 8), (2048, 96), (9, 300)):
            take = taken(harbour(*shape), look="watercolour", strength=0.9, steps=4)
            self.assertEqual(take.shape[:2], shape)

    def test_blank_and_grey_pictures(self) -> None:
        for value in (0, 128, 255):
            blank = np.full((80, 100, 3), value, np.uint8)
            for look in LOOKS:
                take = taken(blank, look=look, strength=0.9)
                self.assertEqual(take.shape, blank.shape)
                self.assertLess(float(bytes_to_lab(take)[..., 1:].std()), 0.08)

    def test_a_strength_means_the_same_at_every_size(self) -> None:
        kept = []
        for scale in (1, 2):
            source = harbour(128 * scale, 192 * scale)
            takes = [taken(source, strength=0.75, seed=seed) for seed in (1, 2)]
            kept.append(np.mean([composition(source, take) for take in takes]))
        self.assertLess(abs(kept[0] - kept[1]), 12, kept)

    def test_a_small_take_predicts_the_large_one(self) -> None:
        import cv2

        large = harbour(256, 384)
        small = cv2.resize(large, (192, 128), interpolation=cv2.INTER_AREA)

        def low(picture):  # type: ignore[no-untyped-def]
            lab = bytes_to_lab(cv2.resize(picture, (48, 32), interpolation=cv2.INTER_AREA))[..., 0]
            return lab - bytes_to_lab(cv2.resize(large, (48, 32), interpolation=cv2.INTER_AREA))[..., 0]

        free = {"lines": 0, "shapes": 0, "colours": 0, "subject": 0}
        takes = {s: low(taken(large, strength=0.9, seed=s, holds=free)) for s in (1, 2)}
        draft = low(taken(small, strength=0.9, seed=1, holds=free))
        same = np.corrcoef(draft.ravel(), takes[1].ravel())[0, 1]
        other = np.corrcoef(draft.ravel(), takes[2].ravel())[0, 1]
        self.assertGreater(same, 0.7)
        self.assertGreater(same, other + 0.15)


class Names(unittest.TestCase):
    def test_an_unknown_look_lists_the_looks(self) -> None:
        with self.assertRaisesRegex(BadInput, "pencil"):
            look_named("nothing")

    def test_every_look_says_what_it_is_for(self) -> None:
        for look in looks().values():
            self.assertTrue(set(look.kinds) <= {"photo", "sketch", "render", "flat art"} and look.kinds, look.name)
            self.assertLess(look.strengths[0], look.strengths[1])
            self.assertTrue(look.description.endswith("."))

    def test_the_looks_weight_scales_the_painter(self) -> None:
        source = harbour()
        none, half, full = (taken(source, look="pencil", strength=0.8, look_weight=w) for w in (0, 0.5, 1))
        self.assertLess(difference(none, half), difference(none, full))
        self.assertGreater(difference(none, half), 0.01)


if __name__ == "__main__":
    unittest.main()
