"""The parts that scenes are made of: sky, clouds, land, trees, water, towns, solids, weather, developing."""

import math
import unittest
from itertools import pairwise

import numpy as np

from warmtide.core.maths.arrays import f32
from warmtide.core.maths.noise import cloud_volumes, fractal, repeating, ridged, rng
from warmtide.core.maths.steps import smoothstep
from warmtide.core.scenes.atmosphere import dome_light, scattered, sunlight
from warmtide.core.scenes.blocks import Blocks, cast
from warmtide.core.scenes.develop import bloom, develop
from warmtide.core.scenes.erosion import eroded, sunlit
from warmtide.core.scenes.foliage import tree
from warmtide.core.scenes.sky import make_sky, stars
from warmtide.core.scenes.solids import PLAIN, Solid, box, gable, hull, meet, packed
from warmtide.core.scenes.spots import disc, glow
from warmtide.core.scenes.terrain import Grid, hollows, rise
from warmtide.core.scenes.view import Camera, Drawn, Layout, Light, encoded, linear, paint
from warmtide.core.scenes.water import make_waves
from warmtide.core.scenes.weather import rain, snowfall, veil

CAMERA = Camera(96, 64, 96, 40)


def sun_at(elevation: float, azimuth: float = 0.0) -> "np.ndarray[tuple[int], np.dtype[np.float64]]":
    return np.array(
        [math.sin(azimuth) * math.cos(elevation), math.sin(elevation), math.cos(azimuth) * math.cos(elevation)]
    )


class Sky(unittest.TestCase):
    def test_a_high_sky_is_blue_and_a_low_sun_red(self) -> None:
        zenith = scattered(np.array([[0.0, 1.0, 0.0]]), sun_at(0.9))[0]
        self.assertGreater(zenith[2], 1.5 * zenith[0])
        high, low = sunlight(0.9), sunlight(0.03)
        self.assertLess(low.sum(), high.sum())
        self.assertGreater(low[0] / low[2], 2 * high[0] / high[2])
        self.assertGreater(dome_light(sun_at(0.9)).sum(), dome_light(sun_at(0.03)).sum())

    def test_the_sky_is_brightest_toward_the_sun(self) -> None:
        ways = np.array([[math.sin(a), 0.2, math.cos(a)] for a in (0, 1.5, 3.0)])
        ways /= np.linalg.norm(ways, axis=1, keepdims=True)
        toward, aside, _ = scattered(ways, sun_at(0.2)).sum(1)
        self.assertGreater(toward, aside)

    def test_cover_orders_clear_fair_and_closed_skies(self) -> None:
        skies = [make_sky(CAMERA, "day", sky, rng(3)) for sky in ("clear", "overcast")]
        colour = [float(np.ptp(s.picture[:30].mean((0, 1)))) / float(s.picture[:30].mean()) for s in skies]
        self.assertGreater(colour[0], 2 * colour[1])
        self.assertEqual((skies[0].cover, skies[1].light.dull), (0.0, True))
        self.assertEqual(make_sky(CAMERA, "day", "fair", rng(3), above=20).picture.shape, (84, 96, 3))

    def test_weather_leaves_the_random_numbers_alone(self) -> None:
        after = []
        for sky in ("clear", "fair", "storm"):
            random = rng(8)
            make_sky(CAMERA, "night", sky, random)
            after.append(float(random.random()))
        self.assertEqual(len(set(after)), 1)

    def test_stars_and_volumes(self) -> None:
        self.assertGreater(float(stars(64, 96, rng(2), 2.0).max()), 0.1)
        bodies, wisps = cloud_volumes()
        # Every value is equally common in the bodies: a share of sky covered is a threshold.
        for share in (0.2, 0.5, 0.8):
            self.assertAlmostEqual(float((bodies < share).mean()), share, delta=0.01)
        self.assertEqual((float(wisps.min()), float(wisps.max())), (0.0, 1.0))


class Land(unittest.TestCase):
    def test_noise_has_unit_variance_and_repeats(self) -> None:
        self.assertAlmostEqual(float(fractal(80, 120, 30, rng(1)).std()), 1, delta=0.01)
        self.assertGreaterEqual(float(ridged(60, 60, 20, rng(1)).min()), 0)
        tile = repeating(64, 2.0, rng(4))
        seam = float(np.abs(tile[:, 0] - tile[:, -1]).mean())
        self.assertLess(seam, 2 * float(np.abs(np.diff(tile, axis=1)).mean()))
        self.assertEqual([float(v) for v in smoothstep(0, 1, np.array([-1, 0.5, 2]))], [0, 0.5, 1])
        self.assertEqual([float(v) for v in rise(1, 0, np.array([0, 1], f32))], [1, 0])

    def test_erosion_carves_and_does_not_run_away(self) -> None:
        heights = fractal(96, 96, 60, rng(5)) * f32(120)
        worn = eroded(heights, 20.0, 3, 4000)
        self.assertTrue(np.isfinite(worn).all())
        self.assertGreater(float(np.abs(worn - heights).mean()), 0.05)
        self.assertLessEqual(float(worn.max()), float(heights.max()) + 10)
        np.testing.assert_array_equal(worn, eroded(heights, 20.0, 3, 4000))

    def test_a_wall_shades_what_lies_behind_it(self) -> None:
        heights = np.zeros((64, 64), f32)
        heights[:, 30:34] = 60
        lit = sunlit(heights, 10.0, np.array([0.8, 0.6, 0.0]))
        self.assertLess(float(lit[20:40, 24:28].mean()), 0.4)
        self.assertGreater(float(lit[20:40, 40:50].mean()), 0.9)
        self.assertLess(float(hollows(-heights, 10.0)[20:40, 31].mean()), 0.6)

    def test_a_grid_is_as_deep_as_asked(self) -> None:
        grid = Grid(900.0)
        self.assertAlmostEqual(float(grid.z.max()) + grid.cell, 900, delta=0.1)
        self.assertAlmostEqual(float(grid.x.min()), grid.left, delta=0.01)

    def test_trees_differ_by_kind_and_are_lit_from_the_sun(self) -> None:
        slim, wide = (tree(kind, rng(6), sun_at(0.6, 1.2), 96)[0] for kind in ("conifer", "broad"))
        widths = [int((t[..., 0].max(0) > 0.3).sum()) for t in (slim, wide)]
        self.assertLess(widths[0], widths[1])
        left, right = (half[..., 1].sum() / half[..., 0].sum() for half in (wide[:, :60], wide[:, 60:]))
        self.assertGreater(right, left)
        bush = tree("bush", rng(6), sun_at(0.6), 64)[0]
        self.assertLess(float(bush[..., 4].sum()), 0.02 * float(bush[..., 0].sum()))
        sizes = tree("conifer", rng(6), sun_at(0.6), 96)
        self.assertTrue(all(a.shape[0] > b.shape[0] for a, b in pairwise(sizes)))


class Built(unittest.TestCase):
    def hit(self, solids: list[Solid], start: tuple[float, ...], way: tuple[float, ...]) -> tuple[float, int]:
        made, found = packed(solids), np.zeros(2, np.int64)
        distance = meet(*start, *way, 1e9, made.hulls, found)
        return float(distance), int(found[0])

    def test_rays_meet_the_nearest_solid(self) -> None:
        grey = paint("808080")
        solids = [box((-1, 1), (0, 2), (5, 6), PLAIN, grey), box((-1, 1), (0, 2), (9, 10), PLAIN, grey)]
        self.assertEqual(self.hit(solids, (0, 1, 0), (0, 0, 1)), (5.0, 0))
        self.assertEqual(self.hit(solids, (0, 1, 8), (0, 0, 1)), (1.0, 1))
        self.assertEqual(self.hit(solids, (0, 3, 0), (0, 0, 1)), (1e9, -1))

    def test_a_roof_slopes_and_a_hull_narrows(self) -> None:
        grey = paint("808080")
        roof = [gable((-2, 2), (3, 5), (4, 8), PLAIN, grey, along="z")]
        middle, side = (self.hit(roof, (x, 10, 6), (0, -1, 0))[0] for x in (0.0, 1.0))
        self.assertAlmostEqual(middle, 5, delta=1e-6)
        self.assertAlmostEqual(side, 6, delta=1e-6)
        boat = [hull(0, 0, 10, 6, 2, 0.8, True, grey)]
        across = [self.hit(boat, (x, 0.7, 0), (0, 0, 1))[0] for x in (0.0, 2.6)]
        self.assertLess(across[0], across[1])

    def test_a_town_stands_tallest_in_its_middle(self) -> None:
        found = np.zeros(6)
        tall = []
        for column in (0, 14):
            heights = []
            for seed in range(6):
                grid = Blocks(40.0, 8.0, -20, 20, 0, 12, seed, False, 4.0, 0.0, 3.0, 200.0, 10.0)
                cast((column + 0.5) * 40, 400.0, -200.0, 0.0, -0.72, 0.69, grid, found)
                heights.append(found[5] if found[0] < 1e8 else 0.0)
            tall.append(float(np.mean(heights)))
        self.assertGreater(tall[0], tall[1])


class Developing(unittest.TestCase):
    def drawn(self, level: float = 0.2) -> Drawn:
        light = Light("day", "fair", sun_at(0.7), np.ones(3), np.ones(3) * 0.3, np.zeros((96, 3), f32))
        picture = np.full((64, 96, 3), level, f32)
        picture[:, :48] *= 0.5
        depth = np.tile(np.linspace(5, 4000, 96).astype(f32), (64, 1))
        return Drawn(picture, depth, np.zeros((64, 96), np.uint8), CAMERA, light)

    def test_developing_exposes_any_light_alike(self) -> None:
        dim, bright = develop(self.drawn(0.02)), develop(self.drawn(20.0))
        self.assertLess(float(np.abs(dim - bright).max()), 0.02)
        self.assertGreater(float(dim[:, 70].mean()), float(dim[:, 20].mean()) + 0.05)

    def test_colours_go_there_and_back(self) -> None:
        ramp = np.linspace(0, 1, 50).astype(f32)
        np.testing.assert_allclose(encoded(linear(ramp)), ramp, atol=2e-3)
        with self.assertRaises(ValueError):
            paint("808080")[0] = 1

    def test_what_shines_spreads(self) -> None:
        picture = np.zeros((64, 64, 3), f32)
        disc(picture, 32, 32, 3, np.array([5.0, 5, 5]))
        self.assertGreater(float(bloom(picture)[32, 44].mean()), float(picture[32, 44].mean()))
        round_ = np.zeros((64, 64, 3), f32)
        glow(round_, 32, 32, 5, np.ones(3))
        self.assertGreater(round_[32, 32, 0], round_[32, 40, 0])
        glow(round_, -500, -500, 5, np.ones(3))

    def test_weather_grows_with_its_amount(self) -> None:
        drawn = self.drawn()
        for name, add in (
            ("rain", lambda amount: rain(drawn.picture, amount, rng(4))),
            ("snowfall", lambda amount: snowfall(drawn.picture, amount, rng(4))),
            ("veil", lambda amount: veil(drawn, amount, rng(4))),
        ):
            changes = [float(np.abs(add(amount) - drawn.picture).mean()) for amount in (0.2, 0.9)]
            self.assertLess(changes[0], changes[1], name)
        far, near = (slice(None), slice(80, 96)), (slice(None), slice(48, 52))
        hidden = np.abs(veil(drawn, 0.6, rng(4)) - drawn.picture)
        self.assertGreaterEqual(float(hidden[far].mean()), float(hidden[near].mean()))

    def test_waves_have_the_steepness_of_one(self) -> None:
        waves = make_waves(rng(3), 30, 0.2, 0.5)
        self.assertAlmostEqual(float((waves.x**2 + waves.z**2).mean()), 1, delta=0.01)
        self.assertTrue(waves.choppy)

    def test_a_camera_scales_and_a_horizon_stays_in_sight(self) -> None:
        twice = CAMERA.scaled(2)
        self.assertEqual((twice.width, twice.height, twice.focal, twice.horizon), (192, 128, 192, 80))
        self.assertEqual(Layout().horizon_or(0.5, 0.4, 0.6), 0.5)
        self.assertEqual(Layout(horizon=0.9).horizon_or(0.5, 0.4, 0.6), 0.6)
