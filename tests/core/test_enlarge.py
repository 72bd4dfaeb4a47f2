"""Pictures made larger: crisp, without rims, true to what they came from."""

import unittest

import cv2
import numpy as np

from tests.pictures import disc_on_ground, harbour, keeper, lettering
from warmtide.core.finish.enlarge.alpha import with_alpha
from warmtide.core.finish.enlarge.detail import in_focus
from warmtide.core.finish.enlarge.edges import stepped, steps_to
from warmtide.core.finish.enlarge.kind import Job, Origin
from warmtide.core.finish.enlarge.painted import painted_side
from warmtide.core.finish.enlarge.registry import enlarged, ways
from warmtide.core.finish.enlarge.size import by_factor, by_side, checked
from warmtide.core.job.looking import look_of
from warmtide.core.job.take import restyle
from warmtide.core.maths.arrays import Byte
from warmtide.core.model.errors import BadInput
from warmtide.core.model.recipe import Recipe
from warmtide.core.readings.pair import Pair, SourceReading


def likeness(a: Byte, b: Byte) -> float:
    """Peak signal to noise, dB."""
    return float(10 * np.log10(255**2 / np.mean((a.astype(float) - b.astype(float)) ** 2)))


def smaller(picture: Byte, times: int) -> Byte:
    height, width = picture.shape[:2]
    return np.asarray(cv2.resize(picture, (width // times, height // times), interpolation=cv2.INTER_AREA), np.uint8)


def back(picture: Byte, times: int, way: str) -> Byte:
    height, width = picture.shape[:2]
    return enlarged(Job(smaller(picture, times), height, width), way)


class AlongEdges(unittest.TestCase):
    def test_flat_art_and_lettering_come_back_nearer_than_by_lanczos_and_photos_no_worse(self) -> None:
        art, letters, photo = disc_on_ground(240, 360), lettering(), keeper(240, 320)
        for name, picture, least in (("art", art, 1.0), ("letters", letters, 0.3), ("photo", photo, -0.1)):
            for times in (2, 4):
                with self.subTest(picture=name, times=times):
                    gain = likeness(picture, back(picture, times, "edges")) - likeness(
                        picture, back(picture, times, "lanczos")
                    )
                    self.assertGreater(gain, least)

    def test_nothing_rings(self) -> None:
        step = np.full((40, 60, 3), 40, np.uint8)
        step[:, 30:] = 210
        self.assertEqual(int(enlarged(Job(step, 160, 240), "edges").min()), 40)
        self.assertEqual(int(enlarged(Job(step, 160, 240), "edges").max()), 210)
        self.assertLess(int(enlarged(Job(step, 160, 240), "lanczos").min()), 30)

    def test_strips_leave_no_seam(self) -> None:
        picture = harbour(150, 120, 3)
        whole = stepped(picture, 2, lambda _: None, strip=1000).astype(int)
        for strip in (33, 64):
            self.assertLessEqual(int(np.abs(stepped(picture, 2, lambda _: None, strip=strip) - whole).max()), 1)

    def test_any_size_is_reached_and_a_plain_ground_stays_plain(self) -> None:
        plain = np.full((30, 41, 3), (12, 200, 99), np.uint8)
        for name in ways():
            if not ways()[name].again:
                made = enlarged(Job(plain, 100, 137), name)
                self.assertEqual(made.shape, (100, 137, 3), name)
                self.assertLessEqual(int(np.abs(made.astype(int) - plain[0, 0]).max()), 1, name)
        self.assertEqual([steps_to(f) for f in (1, 2, 2.5, 4, 5, 16)], [[], [2], [3], [2, 2], [2, 3], [2, 2, 2, 2]])

    def test_transparency_grows_along(self) -> None:
        alpha = np.zeros((40, 40), np.uint8)
        cv2.circle(alpha, (20, 20), 12, 255, -1)
        made = with_alpha(np.zeros((160, 160, 3), np.uint8), alpha, "detail")
        self.assertEqual((made.shape, made[80, 80, 3], made[3, 3, 3]), ((160, 160, 4), 255, 0))


class WithDetail(unittest.TestCase):
    def test_edges_get_steeper_what_is_out_of_focus_stays_and_nothing_leaves_its_range(self) -> None:
        sharp = disc_on_ground(120, 120)
        soft = np.asarray(cv2.GaussianBlur(sharp, (0, 0), 5), np.uint8)
        for picture, more in ((sharp, True), (soft, False)):
            plain, made = (enlarged(Job(picture, 480, 480), way).astype(int) for way in ("edges", "detail"))
            steep = [float(np.abs(np.diff(p.mean(2), axis=1)).max()) for p in (plain, made)]
            self.assertEqual(steep[1] > 1.15 * steep[0], more)
            self.assertGreaterEqual(int(made.min()), int(plain.min()) - 1)
        self.assertLess(float(in_focus(soft).max()), 0.1)

    def test_grain_is_no_detail(self) -> None:
        grain = (
            np.clip(np.random.default_rng(2).normal(128, 12, (96, 96, 1)), 0, 255).astype(np.uint8).repeat(3, axis=2)
        )
        self.assertLess(float(in_focus(np.ascontiguousarray(grain)).mean()), 0.1)


class PaintedAgain(unittest.TestCase):
    def setUp(self) -> None:
        self.source = harbour(400, 600, 4)

    def framed(self, side: int) -> Byte:
        return np.asarray(cv2.resize(self.source, (side, round(side * 2 / 3)), interpolation=cv2.INTER_AREA), np.uint8)

    def test_the_larger_is_the_same_picture(self) -> None:
        for look in ("ink-comic", "watercolour"):
            recipe = Recipe(look=look, size=192, strength=0.5)
            small = restyle(self.framed(192), recipe)
            origin = Origin(recipe, look_of(recipe), self.framed)
            large = enlarged(Job(small, 256, 384, origin=origin), "painted")
            kept = Pair(SourceReading(small), smaller(large, 2)).composition.kept
            self.assertGreater(kept, 98, look)
            # It is what the engine paints at that size, bit for bit.
            np.testing.assert_array_equal(large, restyle(self.framed(384), recipe.changed(size=384)))
            fine = enlarged(Job(small, 256, 384, origin=origin), "fine")
            self.assertTrue((fine != large).any())

    def test_progress_is_told_and_can_stop_it(self) -> None:
        told: list[int] = []

        class Stopped(Exception):
            pass

        def progress(done: int, of: int) -> None:
            told.append(100 * done // of)
            if done > of // 2:
                raise Stopped

        recipe = Recipe(look="ink-comic", size=96)
        job = Job(self.framed(96), 128, 192, progress, Origin(recipe, look_of(recipe), self.framed))
        with self.assertRaises(Stopped):
            enlarged(job, "painted")
        self.assertGreater(len(told), 3)
        self.assertEqual(told, sorted(told))

    def test_what_memory_ends_is_carried_on(self) -> None:
        recipe = Recipe(look="gold")
        thing, paint = look_of(recipe), look_of(recipe.changed(look="oil"))
        self.assertEqual(painted_side(thing, 512, 512), 512)
        self.assertLess(painted_side(thing, 4096, 4096), painted_side(paint, 4096, 4096))
        self.assertLessEqual(painted_side(paint, 8192, 300), 2048)


class Refused(unittest.TestCase):
    def test_sizes_and_ways_that_there_are_not(self) -> None:
        self.assertEqual(by_factor(100, 150, 2.5), (250, 375))
        self.assertEqual(by_side(100, 150, 4096), (2731, 4096))
        small = disc_on_ground(32, 32)
        for wrong, says in (
            (lambda: by_factor(100, 100, 0.5), "1 to 16"),
            (lambda: by_factor(1000, 1000, 9), "8192"),
            (lambda: by_side(100, 150, 9000), "8192"),
            (lambda: by_side(100, 150, 100), "150"),
            (lambda: checked(0, 100), "1 to 8192"),
            (lambda: enlarged(Job(small, 64, 64), "magic"), "use one of painted"),
            (lambda: enlarged(Job(small, 64, 64), "painted"), "recipe"),
        ):
            with self.assertRaisesRegex(BadInput, says):
                wrong()
