"""Old photographs: damage found and filled, colours by place and by words, the drawing kept."""

import unittest

import cv2
import numpy as np

from tests.pictures import harbour, keeper
from warmtide.core.job.take import restyle
from warmtide.core.looks.restored.colouring import coloured, is_grey, places_of_grey
from warmtide.core.looks.restored.damage import damage_of, mended
from warmtide.core.maths.arrays import Byte
from warmtide.core.maths.colour import bytes_to_lab
from warmtide.core.maths.edge_aware import guided_plane
from warmtide.core.model.cache import SharedCache
from warmtide.core.model.recipe import Recipe
from warmtide.core.readings.measure import read
from warmtide.core.readings.pair import SourceReading
from warmtide.core.understanding.faces import find_faces

CACHE = SharedCache()


def light_of(picture: Byte) -> np.ndarray:
    return np.ascontiguousarray(bytes_to_lab(picture)[..., 0])


def print_of(picture: Byte, seed: int = 3) -> tuple[Byte, np.ndarray]:
    """A faded grey print of a picture, tinted, scratched and speckled; and where it is damaged."""
    random = np.random.default_rng(seed)
    grey = 0.28 + 0.45 * cv2.cvtColor(picture, cv2.COLOR_RGB2GRAY).astype(np.float32) / 255
    height, width = grey.shape
    damage = np.zeros_like(grey)
    for _ in range(4):
        x = int(random.uniform(0.1, 0.9) * width)
        cv2.line(damage, (x, int(0.1 * height)), (x + int(random.normal(0, 8)), int(0.9 * height)), 1, 1, cv2.LINE_AA)
    for _ in range(14):
        cv2.circle(damage, tuple(int(random.uniform(0.05, 0.95) * n) for n in (width, height)), 2, 1, -1, cv2.LINE_AA)
    grey = grey * (1 - damage) + 0.95 * damage
    return (np.clip(grey[..., None] * (1, 0.94, 0.82), 0, 1) * 255).astype(np.uint8), damage > 0.5


def plain(height: int = 240, width: int = 360) -> Byte:
    """A calm view: sky, a field, a wall."""
    picture = np.empty((height, width, 3), np.uint8)
    picture[:] = np.linspace(215, 190, height)[:, None, None]
    picture[int(0.62 * height) :] = 120
    picture[int(0.3 * height) : int(0.75 * height), int(0.35 * width) : int(0.6 * width)] = 160
    return picture


class Damage(unittest.TestCase):
    def test_scratches_and_specks_are_found_and_filled(self) -> None:
        whole = plain()
        damaged, where = print_of(whole)
        found = damage_of(light_of(damaged))
        self.assertGreater(float(found[where].mean()), 0.75)
        self.assertLess(
            float((found & ~(cv2.dilate(where.astype(np.uint8), np.ones((7, 7), np.uint8)) > 0)).mean()), 0.01
        )
        before = light_of(damaged)
        after = mended(before, found)
        faded = 0.28 + 0.45 * cv2.cvtColor(whole, cv2.COLOR_RGB2GRAY).astype(np.float32) / 255
        true = light_of((np.clip(faded[..., None] * (1, 0.94, 0.82), 0, 1) * 255).astype(np.uint8))
        self.assertLess(float(np.abs(after - true)[where].mean()), 0.35 * float(np.abs(before - true)[where].mean()))
        self.assertTrue(np.array_equal(after[~found], before[~found]))

    def test_a_sound_picture_is_left_alone(self) -> None:
        for picture in (plain(), harbour(240, 360)):
            self.assertLess(float(damage_of(light_of(picture)).mean()), 0.02)

    def test_noise_all_over_is_no_damage(self) -> None:
        noise = np.random.default_rng(1).random((90, 120)).astype(np.float32)
        self.assertLess(float(damage_of(noise).mean()), 0.12)
        self.assertTrue(np.array_equal(mended(noise, np.zeros((90, 120), bool)), noise))

    def test_pupils_are_no_specks(self) -> None:
        light = np.full((400, 400), 0.7, np.float32)
        for x in (90, 150):
            cv2.circle(light, (x, 120), 2, 0.1, -1, cv2.LINE_AA)
        self.assertTrue(damage_of(light)[120, 90])
        face = np.zeros(light.shape, bool)
        face[80:160, 60:120] = True
        found = damage_of(light, face)
        self.assertFalse(found[face].any())
        self.assertTrue(found[120, 150])


class Colours(unittest.TestCase):
    def test_grey_and_sepia_are_grey(self) -> None:
        self.assertTrue(is_grey(bytes_to_lab(print_of(harbour(200, 300))[0])))
        self.assertFalse(is_grey(bytes_to_lab(harbour(200, 300))))

    def test_places_share_the_picture(self) -> None:
        lab = bytes_to_lab(plain())
        masks = places_of_grey(lab, ())
        self.assertTrue(np.allclose(sum(masks.values()), 1, atol=1e-4))
        self.assertGreater(float(masks["sky"][:40].mean()), 0.8)
        self.assertLess(float(masks["sky"][-40:].mean()), 0.1)

    def test_faces_get_skin(self) -> None:
        picture = keeper(360, 480, size=1.2)
        faces = find_faces(picture)
        self.assertTrue(faces)
        self.assertGreater(float(places_of_grey(bytes_to_lab(picture), faces)["skin"].max()), 0.7)

    def test_words_beat_what_is_usual_and_black_stays_black(self) -> None:
        light = np.tile(np.linspace(0, 1, 80, dtype=np.float32), (60, 1))
        masks = {"sky": np.ones((60, 80), np.float32), "rest": np.zeros((60, 80), np.float32)}
        usual = coloured(light, masks, {}, np.random.default_rng(1))
        asked = coloured(light, masks, {"sky/toward1": 0.16, "sky/toward2": 0.45}, np.random.default_rng(1))
        self.assertLess(float(usual[:, 40, 1].mean()), -0.02)
        self.assertGreater(float(asked[:, 40, 0].mean()), 0.05)
        self.assertLess(float(np.abs(asked[:, 0]).max()), 0.01)

    def test_colour_stops_at_an_edge(self) -> None:
        light = np.full((60, 80), 0.3, np.float32)
        light[:, 40:] = 0.8
        colour = np.zeros((60, 80, 2), np.float32)
        colour[:, 36:] = 0.1
        out = np.dstack([guided_plane(light, np.ascontiguousarray(colour[..., k]), 8, 0.002) for k in range(2)])
        self.assertGreater(float(out[:, 50].mean()), 0.09)
        self.assertLess(float(out[:, 30].mean()), 0.035)


class Takes(unittest.TestCase):
    def made(self, source: Byte, **values):  # type: ignore[no-untyped-def]
        recipe = {
            "look": "old-photograph",
            "strength": 0.9,
            "steps": 8,
            "holds": {"lines": 1, "shapes": 1, "colours": 0.3},
        }
        return restyle(source, Recipe.model_validate(recipe | values), cache=CACHE)

    def test_tones_return_colours_come_and_the_drawing_stays(self) -> None:
        source, _ = print_of(plain())
        take = self.made(source)
        lab, before = bytes_to_lab(take), bytes_to_lab(source)
        self.assertGreater(
            np.ptp(np.percentile(lab[..., 0], (2, 98))), 1.3 * np.ptp(np.percentile(before[..., 0], (2, 98)))
        )
        self.assertLess(float(lab[10:40, :, 2].mean()), -0.012)
        self.assertGreater(float(read(SourceReading(source, ()), take).figures["composition"]), 70)

    def test_words_seeds_and_guidance(self) -> None:
        source, _ = print_of(plain())
        violet = bytes_to_lab(self.made(source, prompt="violet sky"))
        self.assertGreater(float(violet[10:40, :, 1].mean()), 0.01)
        takes = [self.made(source, seed=s).astype(float) for s in (1, 2)]
        self.assertGreater(float(np.abs(takes[0] - takes[1]).mean()), 0.5)
        low, high = (bytes_to_lab(self.made(source, guidance=g)) for g in (2, 14))
        self.assertGreater(float(np.abs(high[..., 1:]).mean()), 1.3 * float(np.abs(low[..., 1:]).mean()))
        self.assertTrue(np.array_equal(self.made(source, strength=0), source))

    def test_what_is_left_of_faded_colour_is_the_best_witness(self) -> None:
        faded = (harbour(160, 240).astype(float) * 0.4 + 110).astype(np.uint8)
        before, after = (bytes_to_lab(p)[..., 1:] for p in (faded, self.made(faded)))
        spread = [float((p - p.mean((0, 1))).std()) for p in (before, after)]
        self.assertGreater(spread[1], 1.1 * spread[0])
        alike = float(np.corrcoef((before - before.mean((0, 1))).ravel(), (after - after.mean((0, 1))).ravel())[0, 1])
        self.assertGreater(alike, 0.5)


if __name__ == "__main__":
    unittest.main()
