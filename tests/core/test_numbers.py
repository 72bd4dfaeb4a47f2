"""Recipes, sweeps, schedule, samplers, colour, framing, cache: the parts with exact answers."""

import json
import math
import unittest
from functools import cached_property
from itertools import pairwise

import cv2
import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from tests.pictures import harbour
from warmtide.core.engine.holds import hold_weights
from warmtide.core.engine.noise import sampler_noise
from warmtide.core.engine.samplers import rule
from warmtide.core.engine.schedule import fewer, sigmas, start_sigma
from warmtide.core.engine.source import prepare
from warmtide.core.engine.variant import variant_of, varied
from warmtide.core.job.costs import expected_scene_seconds, expected_seconds, scene_of_take
from warmtide.core.maths.arrays import summed
from warmtide.core.maths.colour import lab_to_bytes, to_lab, to_rgb
from warmtide.core.maths.gaussian import smooth_field
from warmtide.core.maths.pyramid import build, collapse, levels_for, planes
from warmtide.core.model.cache import SharedCache
from warmtide.core.model.errors import BadInput
from warmtide.core.model.recipe import Holds, Recipe, recipe_from, take_key
from warmtide.core.model.sampling import TITLES, steps_run
from warmtide.core.model.sweep import Span, coarse_first, combinations, evenly, expand, parse_values
from warmtide.core.pictures.framing import Framing, frame, framed_shape
from warmtide.core.understanding.ground import flat_ground


class Sums(unittest.TestCase):
    @given(st.integers(1, 12), st.integers(1, 12), st.integers(2, 4), st.integers(0, 99))
    def test_a_sum_over_channels_is_the_sum(self, height: int, width: int, channels: int, seed: int) -> None:
        image = np.random.default_rng(seed).normal(0, 3, (height, width, channels))
        total = summed(image)
        self.assertEqual((total.shape, total.dtype), ((height, width), np.dtype(np.float32)))
        np.testing.assert_allclose(total, image.sum(-1), atol=1e-5)
        np.testing.assert_allclose(summed(image[::2, ::-1]), image[::2, ::-1].sum(-1), atol=1e-5)


class Recipes(unittest.TestCase):
    def test_equal_recipes_have_one_text(self) -> None:
        a = Recipe(strength=0.1 + 0.2, holds=Holds(lines=0.5))
        b = Recipe(strength=0.3, holds=Holds(lines=0.5, shapes=0.7))
        self.assertEqual(a.canonical(), b.canonical())
        self.assertEqual(recipe_from(json.loads(a.canonical())).canonical(), a.canonical())
        self.assertEqual(Recipe(guidance=5).canonical(), Recipe(guidance=5.0).canonical())

    def test_a_key_changes_with_everything_that_decides(self) -> None:
        base = Recipe()
        keys = {take_key("x", base), take_key("y", base)}
        changes = [dict(strength=0.61), dict(seed=8), dict(guidance=6), dict(steps=21), dict(look="pencil"), dict(lines=0.1),
                   dict(colours=0.1), dict(sampler="euler"), dict(look_weight=0.5), dict(size=640), dict(avoid="blur")]  # fmt: skip
        keys |= {take_key("x", base.changed(**change)) for change in changes}
        self.assertEqual(len(keys), 2 + len(changes))

    def test_bad_values_get_one_sentence(self) -> None:
        for values, words in (
            ({"strength": 1.2}, "Strength goes from 0"),
            ({"strength": float("nan")}, "Strength goes from 0"),
            ({"guidance": 0}, "Guidance goes from 1"),
            ({"seed": 1.5}, "whole number"),
            ({"steps": 0}, "Steps go from 1"),
            ({"size": 5000}, "64 to 2048"),
            ({"holds": {"lines": 2}}, "hold on lines"),
            ({"sampler": "x"}, "dpm\\+\\+2m"),
            ({"tilt": 1}, "no field 'tilt'"),
        ):
            with self.subTest(values=values), self.assertRaisesRegex(BadInput, words) as caught:
                recipe_from(values)
            self.assertNotIn("\n", str(caught.exception))

    def test_a_recipe_is_frozen(self) -> None:
        with self.assertRaises(Exception):  # noqa: B017
            Recipe().strength = 0.5  # type: ignore[misc]

    def test_what_was_kept_before_stays_readable(self) -> None:
        """Limits are asked of what is given; a record that breaks one must not make a study unreadable."""
        for prompt in ("mist\x07", ", ".join(["mist"] * 150)):
            with self.assertRaises(BadInput):
                recipe_from({"prompt": prompt})
            self.assertEqual(Recipe.model_validate({"prompt": prompt}).prompt, prompt)
        self.assertEqual(recipe_from({"prompt": "mist,\ndusk"}).prompt, "mist, dusk")


class Sweeps(unittest.TestCase):
    def test_last_span_varies_fastest(self) -> None:
        spans = [Span(control="seed", values=(1, 2)), Span(control="strength", values=(0.2, 0.4, 0.6))]
        found = [(r.seed, r.strength) for r in expand(Recipe(), spans)]
        self.assertEqual(found, [(1, 0.2), (1, 0.4), (1, 0.6), (2, 0.2), (2, 0.4), (2, 0.6)])

    def test_holds_can_be_swept(self) -> None:
        recipes = expand(Recipe(), [Span(control="lines", values=(0.0, 1.0))])
        self.assertEqual([r.holds.lines for r in recipes], [0, 1])
        self.assertEqual([r.holds.shapes for r in recipes], [0.7, 0.7])

    def test_the_whole_range_is_filled_first_then_between(self) -> None:
        strengths = Span(control="strength", values=tuple(k / 8 for k in range(9)))
        self.assertEqual(coarse_first([strengths]), [0, 4, 8, 2, 6, 1, 3, 5, 7])
        both = [Span(control="look", values=("oil", "ink-comic")), strengths]
        self.assertEqual(coarse_first(both)[:6], [0, 4, 8, 9, 13, 17])
        self.assertEqual(coarse_first([]), [0])

    @given(st.lists(st.integers(1, 7), min_size=1, max_size=3))
    def test_every_take_of_a_sweep_is_filled_once(self, counts: list[int]) -> None:
        names = ("seed", "guidance", "steps")
        spans = [Span(control=names[k], values=tuple(range(1, n + 1))) for k, n in enumerate(counts)]
        order = coarse_first(spans)
        self.assertEqual(sorted(order), list(range(len(combinations(spans)))))
        corners = {p for p in range(len(order)) if p in (0, len(order) - 1)}
        self.assertLessEqual(corners, set(order[: 3 ** len(counts)]))

    def test_sizes_are_whole_numbers_and_besides_what_is_allowed_nothing_is(self) -> None:
        self.assertEqual([r.size for r in expand(Recipe(), [Span(control="size", values=(256.0, 512))])], [256, 512])
        here = [Span(control="source", values=("a", "b"))]
        self.assertEqual(combinations(here, ("source",)), [{"source": "a"}, {"source": "b"}])
        with self.assertRaisesRegex(BadInput, "can't be swept"):
            expand(Recipe(), here)

    def test_refusals(self) -> None:
        for spans, words in (
            ([Span(control="seed", values=tuple(range(401)))], "401 takes; at most 400"),
            (
                [Span(control="seed", values=tuple(range(100))), Span(control="guidance", values=tuple(range(1, 101)))],
                "10000 takes",
            ),
            ([Span(control="seed", values=())], "empty"),
            ([Span(control="weather", values=(1,))], "can't be swept"),
            ([Span(control="seed", values=(1,)), Span(control="seed", values=(2,))], "two spans"),
            ([Span(control="strength", values=(0.5, 1.5))], "Strength goes from 0"),
            ([Span(control="seed", values=("a",))], "whole number"),
        ):
            with self.subTest(words=words), self.assertRaisesRegex(BadInput, words):
                expand(Recipe(), spans)

    def test_written_values(self) -> None:
        self.assertEqual(parse_values("0.2..0.9/8", "strength"), [0.2, 0.3, 0.4, 0.5, 0.6, 0.7, 0.8, 0.9])
        self.assertEqual(parse_values("3,6,9", "guidance"), [3, 6, 9])
        self.assertEqual(parse_values("1..3/3", "seed"), [1, 2, 3])
        self.assertIsInstance(parse_values("1..3/3", "seed")[0], int)
        self.assertEqual(parse_values("0.9..0.3/3", "strength"), [0.9, 0.6, 0.3])
        for text in ("", "a", "0..1/0", "0..1", "1,,2"):
            with self.subTest(text=text), self.assertRaises(BadInput):
                parse_values(text, "strength")

    @given(st.floats(0, 1), st.floats(0, 1), st.integers(2, 40))
    def test_both_ends_are_included(self, first: float, last: float, count: int) -> None:
        values = evenly(first, last, count)
        self.assertEqual(len(values), count)
        # Values are rounded to four decimals, so an end may lie half of the last one away.
        self.assertAlmostEqual(values[0], first, delta=0.5001e-4)
        self.assertAlmostEqual(values[-1], last, delta=0.5001e-4)

    def test_costs_grow_with_work(self) -> None:
        seconds = [expected_seconds(Recipe(strength=s), 341, 512) for s in (0, 0.3, 0.6, 1)]
        self.assertEqual(seconds, sorted(seconds))
        self.assertAlmostEqual(
            expected_seconds(Recipe(), 682, 1024) / expected_seconds(Recipe(), 341, 512), 4, delta=0.1
        )
        # Faces are painted again where a look paints portraits.
        for look, more in (("soft-toon", True), ("mosaic", False)):
            alone, people = (expected_seconds(Recipe(look=look), 341, 512, there) for there in (False, True))
            self.assertEqual(people > alone, more)

    def test_a_scene_is_told_from_others_by_what_it_is_drawn_from(self) -> None:
        lake = Recipe(prompt="lake, dusk")
        self.assertIsNone(scene_of_take(Recipe(prompt="dusk")))
        for none in ({"strength": 0}, {"guidance": 1}):
            self.assertIsNone(scene_of_take(lake.changed(**none)))
        for same in (
            {"strength": 0.9},
            {"look": "oil"},
            {"guidance": 9},
            {"prompt": "dusk over a lake, loose strokes"},
        ):
            self.assertEqual(scene_of_take(lake.changed(**same)), scene_of_take(lake), same)
        for other in ({"seed": 8}, {"prompt": "lake"}, {"size": 768}, {"quality": "draft"}):
            self.assertNotEqual(scene_of_take(lake.changed(**other)), scene_of_take(lake), other)
        seconds = [expected_scene_seconds(lake, *shape) for shape in ((171, 256), (341, 512), (682, 1024))]
        self.assertEqual(seconds, sorted(seconds))


class Schedule(unittest.TestCase):
    def test_strength_curve(self) -> None:
        for strength, sigma in ((0.1, 0.057), (0.3, 0.215), (0.5, 0.70), (0.7, 2.02), (0.85, 4.13), (1, 8)):
            self.assertAlmostEqual(start_sigma(strength) / sigma, 1, delta=0.08)

    @given(st.floats(0.001, 1), st.integers(1, 150))
    def test_levels_fall_to_zero(self, strength: float, steps: int) -> None:
        levels = sigmas(strength, steps)
        self.assertEqual(len(levels), steps_run(strength, steps) + 1)
        self.assertEqual(levels[-1], 0)
        self.assertTrue(all(a > b for a, b in pairwise(levels)))

    @given(st.floats(0.05, 1), st.integers(1, 150), st.integers(1, 12), st.floats(0, 1))
    def test_a_draft_takes_some_of_the_same_steps(self, strength: float, steps: int, count: int, at: float) -> None:
        levels = sigmas(strength, steps)
        kept = round(at * (len(levels) - 2))
        some = fewer(levels, kept, count)
        self.assertLessEqual(len(some) - 1, max(count, 1))
        self.assertLessEqual(set(some), set(levels))
        self.assertIn(levels[kept], some)
        self.assertEqual(some[-1], 0)
        self.assertTrue(all(a > b for a, b in pairwise(some)))
        if count > 3:
            self.assertEqual((some[0], some[-2]), (levels[0], levels[-2]))

    def test_samplers_reach_a_constant_estimate(self) -> None:
        """With an estimate that never moves, every sampler ends exactly on it."""
        for name in TITLES:
            levels, x, before = sigmas(0.9, 20), 5.0, 0.0
            for i in range(len(levels) - 1):
                u = rule(name)(levels, i)
                x = u.keep * x + u.gain * (u.now * 2.0 - u.before * before)
                before = 2.0
            self.assertAlmostEqual(x, 2.0, places=6, msg=name)

    def test_samplers_solve_a_known_equation(self) -> None:
        """For Gaussian data of variance 1 the ideal estimate is x / (1 + sigma^2); x scales with sqrt(1 + sigma^2)."""
        errors = {}
        for name in ("euler", "dpm++2m"):
            levels = sigmas(0.9, 40)
            x, before = 1.0, 0.0
            for i in range(len(levels) - 1):
                d = x / (1 + levels[i] ** 2)
                u = rule(name)(levels, i)
                x, before = u.keep * x + u.gain * (u.now * d - u.before * before), d
            errors[name] = abs(x - 1 / math.sqrt(1 + levels[0] ** 2))
        self.assertLess(errors["euler"], 0.04)
        self.assertLess(errors["dpm++2m"], errors["euler"])

    def test_ancestral_noise_keeps_the_level(self) -> None:
        levels = sigmas(1, 20)
        for i in range(len(levels) - 2):
            u = rule("euler-ancestral")(levels, i)
            self.assertAlmostEqual((u.keep * levels[i]) ** 2 + u.fresh**2, levels[i + 1] ** 2, places=9)

    def test_an_unknown_sampler_is_refused(self) -> None:
        with self.assertRaisesRegex(BadInput, "euler"):
            rule("none")


class Arrays(unittest.TestCase):
    @given(st.integers(16, 140), st.integers(16, 140))
    def test_pyramids_give_back_the_picture(self, height: int, width: int) -> None:
        image = planes(np.random.default_rng(height).random((height, width, 3), dtype=np.float32))
        bands = build(image, levels_for(height, width))
        self.assertLess(float(np.abs(collapse(bands) - image).max()), 1e-5)

    def test_colours_go_there_and_back(self) -> None:
        rgb = np.random.default_rng(0).integers(0, 256, (40, 40, 3), dtype=np.uint8)
        back = lab_to_bytes(to_lab(rgb.astype(np.float32) / 255))
        self.assertLessEqual(int(np.abs(back.astype(int) - rgb).max()), 1)

    def test_known_colours(self) -> None:
        white, red = to_lab(np.array([[[1, 1, 1], [1, 0, 0]]], np.float32))[0]
        np.testing.assert_allclose(white, [1, 0, 0], atol=2e-3)
        np.testing.assert_allclose(red, [0.628, 0.225, 0.126], atol=2e-3)
        self.assertLessEqual(float(to_rgb(np.array([[[1.2, 0.5, 0]]], np.float32)).max()), 1)

    def test_noise_is_shared_between_sizes(self) -> None:
        small = sampler_noise(3, 64, 96, levels_for(64, 96))
        large = sampler_noise(3, 128, 192, levels_for(128, 192))
        for k in range(1, len(small)):
            a, b = small[-k], large[-k]
            self.assertEqual(a.shape, b.shape)
            self.assertGreater(np.corrcoef(a.ravel(), b.ravel())[0, 1], 0.999)
            self.assertAlmostEqual(float(a.std() / b.std()), 1, delta=0.05)

    def test_fields_are_normal(self) -> None:
        for scale in (1, 5, 40):
            field = smooth_field(np.random.default_rng(1), 90, 120, scale)
            self.assertAlmostEqual(float(field.mean()), 0, places=4)
            self.assertAlmostEqual(float(field.std()), 1, places=3)

    def test_a_field_is_the_same_where_a_side_was_rounded(self) -> None:
        """341 px halved are 171, not 170.5: one more column of the grid must not deal all others anew."""
        for share in (0.34, 0.12, 0.06):
            for seed in range(4):
                large = smooth_field(np.random.default_rng(seed), 341, 512, 341 * share)
                small = smooth_field(np.random.default_rng(seed), 171, 256, 171 * share)
                halved = cv2.resize(large, (256, 171), interpolation=cv2.INTER_AREA)
                self.assertGreater(float(np.corrcoef(halved.ravel(), small.ravel())[0, 1]), 0.98, (share, seed))

    def test_grounds(self) -> None:
        picture = np.full((60, 60, 3), 200, np.uint8)
        picture[20:40, 20:40] = (10, 60, 90)
        ground = flat_ground(prepare(picture).lab)
        assert ground is not None
        self.assertTrue(ground[:18].all())
        self.assertFalse(ground[22:38, 22:38].any())
        self.assertIsNone(flat_ground(prepare(harbour()).lab))

    def test_hold_weights_grow_with_the_hold(self) -> None:
        source = prepare(harbour())
        sums = [
            sum(float(w.mean()) for w in hold_weights(source.bands, source.image, None, h, h, 1.3))
            for h in (0, 0.3, 0.6, 1)
        ]
        self.assertEqual(sums[0], 0)
        self.assertEqual(sums, sorted(sums))

    def test_the_cache_is_bounded(self) -> None:
        cache = SharedCache(limit=1000)
        made = []
        for key in (1, 2, 1, 3, 2):
            cache.get(key, lambda key=key: made.append(key) or np.zeros(100, np.float32))  # type: ignore[misc]
        self.assertEqual(made, [1, 2, 3, 2])
        self.assertLessEqual(cache.held, 1000)

    def test_the_cache_counts_what_values_grow_by(self) -> None:
        class Source:
            def __init__(self) -> None:
                self.plane = np.zeros(10_000, np.float32)

            @cached_property
            def worked_out(self) -> np.ndarray:
                return np.zeros(100_000, np.float32)

        cache = SharedCache(limit=1_000_000)
        for key in range(4):
            source = cache.get(key, Source)
            self.assertEqual(source.worked_out.nbytes, 400_000)
            # Asked for again, it is as large as it has become.
            self.assertIs(cache.get(key, Source), source)
            self.assertLessEqual(cache.held, 1_000_000)
        self.assertEqual(cache.held, 2 * 440_000)
        self.assertIsNot(cache.get(0, Source), None)
        made: list[int] = []
        cache.get(3, lambda: made.append(3) or Source())  # type: ignore[func-returns-value]
        self.assertEqual(made, [])

    def test_the_cache_counts_arrays_once_and_views_whole(self) -> None:
        cache = SharedCache(limit=1_000_000)
        plane = np.zeros((100, 100), np.float32)
        cache.get("twice", lambda: {"one": plane, "two": [plane, plane[:10]]})
        self.assertEqual(cache.held, 40_000)
        cache.get("row", lambda: np.zeros((100, 200), np.float32)[0])
        self.assertEqual(cache.held, 120_000)

    def test_the_cache_gives_large_values_up_first(self) -> None:
        cache = SharedCache(limit=2_500_000)
        made = []
        for key in ("faces", 1, 2, 3, "faces", 3):
            size = 10 if key == "faces" else 250_000
            cache.get(key, lambda key=key, size=size: made.append(key) or np.zeros(size, np.float32))  # type: ignore[misc]
        self.assertEqual(made, ["faces", 1, 2, 3])
        self.assertLessEqual(cache.held, 2_500_000)


class Frames(unittest.TestCase):
    def test_shape_follows_the_picture(self) -> None:
        self.assertEqual(framed_shape(400, 600, 512), (341, 512))
        self.assertEqual(framed_shape(2000, 10, 512), (512, 8))

    def test_the_same_size_is_the_same_pixels(self) -> None:
        picture = np.dstack([harbour(), np.full((96, 144), 255, np.uint8)])
        np.testing.assert_array_equal(frame(picture, Framing(), 144), harbour())

    def test_transparency_shows_the_ground_without_fringe(self) -> None:
        rgba = np.zeros((100, 100, 4), np.uint8)
        rgba[..., :3] = (255, 0, 255)  # hidden colour
        rgba[30:70, 30:70] = (0, 128, 0, 255)
        out = frame(rgba, Framing(ground="#204060"), 64).astype(int)
        self.assertEqual(out[2, 2].tolist(), [0x20, 0x40, 0x60])
        self.assertLessEqual(out[..., 0].max(), 0x20)

    def test_a_bad_ground_is_refused(self) -> None:
        with self.assertRaises(ValueError):
            Framing(ground="red")


class Variants(unittest.TestCase):
    @given(st.integers(0, 2**32 - 1), st.floats(0, 1), st.floats(0, 1), st.floats(0, 1))
    def test_a_variant_stays_a_variant(self, seed: int, strength: float, shapes: float, colours: float) -> None:
        variant = variant_of(seed, strength, shapes, colours, False)
        self.assertLessEqual(abs(variant.light), 0.2)
        self.assertLessEqual(abs(variant.hue), 0.4)
        self.assertTrue(0.6 < variant.chroma < 1.5 and 0.7 < variant.marks < 1.4)
        less = variant_of(seed, strength / 2, shapes, colours, False)
        self.assertLessEqual(abs(less.hue), abs(variant.hue))
        self.assertEqual(variant_of(seed, strength, shapes, colours, True).light, 0)

    def test_holds_and_no_strength_leave_the_picture(self) -> None:
        lab = to_lab(harbour().astype(np.float32) / 255)
        self.assertTrue(np.allclose(varied(lab, variant_of(5, 0, 0, 0, False)), lab, atol=1e-6))
        free, held = (varied(lab, variant_of(5, 1, h, h, False)) for h in (0, 1))
        self.assertLess(np.abs(held - lab).mean(), 0.5 * np.abs(free - lab).mean())

    def test_two_seeds_propose_two_palettes(self) -> None:
        lab = to_lab(harbour().astype(np.float32) / 255)
        pictures = [varied(lab, variant_of(seed, 0.9, 0.5, 0.3, False)) for seed in range(6)]
        apart = [float(np.abs(a - b).mean()) for a, b in pairwise(pictures)]
        self.assertGreater(min(apart), 0.002)
