"""Scenes: every place is drawn, keeps its promise, repeats exactly, and follows a drawn layout."""

import hashlib
import subprocess
import sys
import unittest

import numpy as np

from warmtide.core.maths.arrays import Byte, f32
from warmtide.core.maths.noise import fractal, lattice, rng
from warmtide.core.model.errors import BadInput
from warmtide.core.model.scene import Asked
from warmtide.core.scenes.layout import layout_of
from warmtide.core.scenes.registry import place_named, places
from warmtide.core.scenes.scene import Scene, draw_scene
from warmtide.core.scenes.view import SKY, WATER, Layout, Light
from warmtide.core.scenes.words import read_scene

HEIGHT, WIDTH = 72, 108


def drawn(words: str, seed: int = 1, height: int = HEIGHT, width: int = WIDTH, layout: Layout | None = None) -> Scene:
    asked = read_scene(words).asked
    assert asked is not None, words
    return draw_scene(asked, height, width, seed, layout)


def mean(scene: Scene) -> float:
    return float(scene.picture.mean())


def difference(a: Scene, b: Scene) -> float:
    return float(np.abs(a.picture - b.picture).mean())


class Places(unittest.TestCase):
    def test_every_place_is_drawn_and_its_words_ask_for_it(self) -> None:
        for name, place in places().items():
            with self.subTest(place=name):
                self.assertEqual({read_scene(word).asked.place for word in place.words}, {name})  # type: ignore[union-attr]
                scene = draw_scene(Asked(name, place.presumed), HEIGHT, WIDTH, 3)
                self.assertEqual((scene.picture.shape, scene.depth.shape), ((HEIGHT, WIDTH, 3), (HEIGHT, WIDTH)))
                self.assertTrue(np.isfinite(scene.picture).all())
                self.assertGreater(float(scene.picture.std()), 0.02)
                self.assertTrue(0.05 < mean(scene) < 0.95, mean(scene))
                self.assertGreaterEqual(float(scene.depth.min()), 0)

    def test_seeds_change_the_layout(self) -> None:
        for words in ("lake", "street", "quay", "space", "room"):
            a, b = drawn(words, 1), drawn(words, 2)
            self.assertGreater(difference(a, b), 0.03, words)

    def test_a_promise_is_kept_over_many_seeds(self) -> None:
        for seed in range(5):
            self.assertGreaterEqual(float((drawn("lake", seed, 48, 72).labels == WATER).mean()), 0.13)
        # Dunes miss theirs now and then: a plain slope under a straight horizon.
        attempts = [drawn("dunes", seed, 48, 72).attempts for seed in range(1, 7)]
        self.assertGreater(max(attempts), 1)
        self.assertLess(float(np.mean(attempts)), 4)

    def test_the_same_pixels_in_another_process(self) -> None:
        words = [
            "lake, golden hour",
            "rainy street, night, people",
            "quay, night",
            "space",
            "beach, boats, gulls, snowfall",
        ]
        program = (
            "import hashlib, sys; from tests.core.test_scenes import drawn;"
            "[print(hashlib.sha256(drawn(w, 5).bytes().tobytes()).hexdigest()) for w in sys.argv[1:]]"
        )
        there = subprocess.run([sys.executable, "-c", program, *words], capture_output=True, text=True, check=True)
        for text, found in zip(words, there.stdout.split(), strict=True):
            self.assertEqual(hashlib.sha256(drawn(text, 5).bytes().tobytes()).hexdigest(), found, text)

    def test_another_size_shows_the_same_scene(self) -> None:
        for words in ("lake", "skyline", "space", "quay"):
            small, large = drawn(words, 4), drawn(words, 4, HEIGHT * 2, WIDTH * 2)
            reduced = large.picture.reshape(HEIGHT, 2, WIDTH, 2, 3).mean((1, 3))
            other = drawn(words, 5)
            apart = float(np.abs(reduced - small.picture).mean())
            self.assertLess(apart, 0.55 * difference(small, other), words)

    def test_any_shape(self) -> None:
        for height, width in ((64, 160), (160, 64), (33, 33)):
            for words in ("lake", "street, night", "underwater", "room"):
                self.assertEqual(drawn(words, 2, height, width).picture.shape, (height, width, 3))

    def test_an_unknown_place_is_refused(self) -> None:
        with self.assertRaisesRegex(BadInput, "There is no place 'moonbase'"):
            place_named("moonbase")


class Modifiers(unittest.TestCase):
    def test_times_of_day(self) -> None:
        for words in ("hills", "beach", "skyline"):
            day, night, sunset = (drawn(f"{words}, {time}") for time in ("day", "night", "sunset"))
            self.assertLess(mean(night), 0.75 * mean(day), words)
            warm = [float(scene.picture[..., 0].mean() - scene.picture[..., 2].mean()) for scene in (day, sunset)]
            self.assertGreater(warm[1], warm[0] + 0.02, words)

    def test_weather_changes_the_picture(self) -> None:
        for words in ("overcast", "storm", "mist", "rain", "snowfall", "winter", "autumn"):
            with self.subTest(words=words):
                self.assertGreater(difference(drawn("park"), drawn(f"park, {words}")), 0.01)

    def test_rays_and_depth_of_field(self) -> None:
        self.assertGreater(difference(drawn("forest"), drawn("forest, rays")), 0.003)
        sharp, soft = drawn("meadow", 1, 144, 216), drawn("meadow, depth of field", 1, 144, 216)
        far = sharp.depth > 200
        edges = [float(np.abs(np.diff(scene.picture, axis=1))[far[:, 1:]].mean()) for scene in (sharp, soft)]
        self.assertLess(edges[1], 0.75 * edges[0])

    def test_mist_hides_what_is_far(self) -> None:
        for words in ("park", "forest"):
            clear, misty = drawn(words), drawn(f"{words}, mist")
            far = (clear.depth > 60) & (clear.depth < 2000) & (clear.labels != SKY)
            self.assertGreater(int(far.sum()), 50)
            self.assertLess(float(misty.picture[far].std()), 0.7 * float(clear.picture[far].std()), words)

    def test_small_things_are_added(self) -> None:
        for words in ("sea, boats", "cliff, gulls", "park, people"):
            place, thing = words.split(", ")
            self.assertGreater(difference(drawn(place, 2, 144, 216), drawn(words, 2, 144, 216)), 0.0001, thing)

    def test_under_a_closed_sky_there_is_no_sun(self) -> None:
        for sky, dull in (("overcast", True), ("storm", True), ("fair", False)):
            empty = np.zeros((1, 3), f32)
            self.assertEqual(Light("day", sky, np.array([0, 1, 0]), empty[0], empty[0], empty).dull, dull)


def block_in(
    k: int, height: int = 342, width: int = 512
) -> tuple[Byte, "np.ndarray[tuple[int], np.dtype[np.float64]]"]:
    """A composition blocked in: sky over land with a wavy line, water below in every third; the line in px."""
    random, x = np.random.default_rng(k), np.arange(width) / width
    sky = ((150, 190, 230), (238, 196, 150), (190, 205, 220), (120, 150, 210))[k % 4]
    land = ((92, 124, 66), (112, 122, 140), (150, 130, 90), (70, 100, 60))[(k // 2) % 4]
    waves = sum(
        random.uniform(-0.1, 0.1) / (i + 1) * np.sin(x * 6.28 * (i * 0.7 + 0.5) + random.uniform(0, 6))
        for i in range(4)
    )
    line = height * (random.uniform(0.35, 0.6) + waves)
    picture = np.empty((height, width, 3), np.uint8)
    picture[:] = sky
    for column in range(width):
        picture[int(line[column]) :, column] = land
    if k % 3 == 1:
        picture[int(min(height * 0.8, line.max() + height * 0.06)) :] = (90, 130, 160)
    return picture, line


class OnABlockIn(unittest.TestCase):
    def test_sky_and_land_meet_where_they_were_drawn(self) -> None:
        # bench/scenes.py measures ten block-ins and four seeds; here one seed of four, not the ones tuned on.
        for k, words in (
            (11, "hills"),
            (12, "lake with mountains"),
            (13, "mountains, golden hour"),
            (14, "snow field"),
        ):
            picture, line = block_in(k)
            scene = drawn(words, 21, *picture.shape[:2], layout_of(picture.astype(f32) / 255))
            sky = scene.labels == SKY
            top = np.where(sky.all(0), sky.shape[0], np.argmax(~sky, 0))
            apart = np.abs(top - np.floor(line))
            self.assertLessEqual(float(np.median(apart)), 1.0, (k, words))
            self.assertLessEqual(float(np.percentile(apart, 90)), 6.0, (k, words))

    def test_water_begins_where_it_was_drawn(self) -> None:
        picture, line = block_in(13)
        layout = layout_of(picture.astype(f32) / 255)
        assert layout.waterline is not None
        drawn_at = min(342 * 0.8, line.max() + 342 * 0.06) / 342
        self.assertAlmostEqual(layout.waterline, drawn_at, delta=0.015)
        self.assertIsNone(layout_of(block_in(12)[0].astype(f32) / 255).waterline)

    def test_hills_over_drawn_water_become_a_lake(self) -> None:
        picture, _ = block_in(13)
        scene = drawn("hills", 3, *picture.shape[:2], layout_of(picture.astype(f32) / 255))
        self.assertGreater(float((scene.labels == WATER).mean()), 0.1)

    def test_trees_stand_where_blobs_were_drawn(self) -> None:
        picture, line = block_in(11)
        yy, xx = np.mgrid[0:342, 0:512]
        row = int(line[360]) + 40
        picture[(yy - row) ** 2 + (xx - 360) ** 2 < 26**2] = (30, 66, 26)
        layout = layout_of(picture.astype(f32) / 255)
        self.assertEqual(len(layout.plants), 1)
        self.assertAlmostEqual(layout.plants[0][0], 360 / 512, delta=0.03)
        self.assertAlmostEqual(layout.plants[0][1], (row + 26) / 342, delta=0.03)
        scene = drawn("hills", 3, 342, 512, layout)
        self.assertTrue((scene.labels[row - 12 : row + 8, 350:370] == 3).mean() > 0.3)

    def test_a_photo_of_no_sky_gives_no_skyline(self) -> None:
        noisy = fractal(120, 180, 20, rng(1))
        layout = layout_of(np.dstack([np.clip(0.5 + 0.2 * noisy, 0, 1)] * 3).astype(f32))
        self.assertIsNone(layout.skyline)
        self.assertEqual(layout.plants, ())


class Noise(unittest.TestCase):
    def test_a_larger_lattice_only_adds_points(self) -> None:
        small, large = lattice(9, 5, 7), lattice(9, 11, 20)
        np.testing.assert_array_equal(small, large[:5, :7])
        self.assertAlmostEqual(float(lattice(3, 200, 200).std()), 1.0, delta=0.02)
        self.assertFalse(np.array_equal(lattice(9, 5, 7), lattice(10, 5, 7)))
