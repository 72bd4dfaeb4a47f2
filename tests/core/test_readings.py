"""The readings order pictures as an eye does; controls have a known truth."""

import unittest
from unittest.mock import patch

import cv2
import numpy as np

from tests.core import controls
from tests.pictures import disc_on_ground, harbour, keeper
from warmtide.core.job.take import read_take, render
from warmtide.core.model.cache import SharedCache
from warmtide.core.model.errors import BadInput
from warmtide.core.model.face import Face
from warmtide.core.model.recipe import Recipe
from warmtide.core.readings.face import face_kept
from warmtide.core.readings.heat import heat, worst_region
from warmtide.core.readings.lines import line_overlay
from warmtide.core.readings.look import look_reached, statistics
from warmtide.core.readings.measure import measure, read, stored_map
from warmtide.core.readings.overlay import heat_overlay
from warmtide.core.readings.pair import SourceReading, full_rendering
from warmtide.core.readings.tip import find_place_tip, find_tip
from warmtide.core.readings.warnings import FACE_LOST, has_halo, noise_of, warnings_of
from warmtide.core.understanding.people.features import LIPS


class Composition(unittest.TestCase):
    def setUp(self) -> None:
        self.source = harbour(256, 384)
        self.features = SourceReading(self.source)

    def kept(self, take) -> float:  # type: ignore[no-untyped-def]
        return float(read(self.features, take).figures["composition"])

    def test_the_source_keeps_everything(self) -> None:
        readings = measure(self.source, self.source)
        self.assertEqual((readings["composition"], readings["colour"]), (100, 100))
        self.assertIsNone(readings["worst"])

    def test_another_medium_keeps_it_and_another_layout_loses_it(self) -> None:
        high = {name: self.kept(control(self.source)) for name, control in controls.KEEP.items()}
        low = {name: self.kept(control(self.source)) for name, control in controls.LOSE.items()}
        low["another picture"] = self.kept(np.ascontiguousarray(np.rot90(harbour(384, 256, seed=40))))
        self.assertGreater(min(high.values()), 75, high)
        # Upside down, a row of houses still has its horizon and its upright walls.
        self.assertLess(max(low.values()), 50, low)
        self.assertLess(float(np.median(list(low.values()))), 15, low)

    def test_outlines_alone_keep_more_than_half(self) -> None:
        self.assertGreater(self.kept(controls.outlined(self.source)), 50)

    def test_moving_or_bending_loses_it_bit_by_bit(self) -> None:
        ways = [controls.shifted, *(lambda share, k=k: controls.bent(share, k) for k in (0, 2, 4))]
        curves = [[self.kept(make(share)(self.source)) for share in (0, 0.01, 0.03, 0.06)] for make in ways]
        # What a warp happens to leave in place differs from one to the next.
        for kept in (curves[0], np.mean(curves[1:], axis=0).tolist()):
            self.assertEqual(kept, sorted(kept, reverse=True))
            self.assertGreater(kept[1], 80)
            self.assertLess(kept[-1], 35)

    def test_what_moved_is_told_from_what_is_gone(self) -> None:
        moved = read(self.features, controls.shifted(0.03)(self.source)).figures["parts"]
        gone = read(self.features, controls.blank(self.source)).figures["parts"]
        self.assertGreater(moved["moved"], 2 * moved["gone"])
        self.assertAlmostEqual(moved["shift"], 3, delta=1)
        self.assertGreater(gone["gone"], 90)
        self.assertGreater(read(self.features, controls.noise(self.source)).figures["parts"]["added"], 50)

    def test_size_hardly_matters(self) -> None:
        for control in (controls.blurred, controls.hatched, controls.bent(0.03)):
            take = control(self.source)
            small = [cv2.resize(p, (288, 192), interpolation=cv2.INTER_AREA) for p in (self.source, take)]
            self.assertAlmostEqual(self.kept(take), measure(*small)["composition"], delta=3)

    def test_the_heat_finds_local_damage(self) -> None:
        for x, y in ((40, 70), (200, 110), (290, 60)):
            take = self.source.copy()
            take[y : y + 60, x : x + 60] = cv2.GaussianBlur(take[y : y + 60, x : x + 60], (0, 0), 20)
            composition = read(self.features, take).composition
            warm = heat(composition)
            row, column = (int(v) for v in np.unravel_index(warm.argmax(), warm.shape))
            height, width = warm.shape
            self.assertTrue(x - 8 <= column / width * 384 <= x + 68, (x, column / width * 384))
            self.assertTrue(y - 8 <= row / height * 256 <= y + 68, (y, row / height * 256))
            region = worst_region(composition)
            assert region is not None
            self.assertTrue(region.left * 384 < x + 30 < region.right * 384, region)
            self.assertTrue(region.top * 256 < y + 30 < region.bottom * 256, region)
            self.assertLess(region.kept, composition.kept)

    def test_a_lost_emblem_is_lost(self) -> None:
        source = disc_on_ground(192, 192)
        self.assertLess(measure(source, np.full_like(source, 230))["composition"], 5)
        self.assertEqual(measure(np.full_like(source, 230), np.full_like(source, 230))["composition"], 100)

    def test_badges_of_one_silhouette_are_not_alike(self) -> None:
        drawn = [controls.badge(k, 256) for k in (0, 4, 8, 1, 2, 3)]
        own = SourceReading(drawn[0], ())
        kept = [float(read(own, p).figures["composition"]) for p in drawn[1:]]
        # Two round badges share their outline and nothing else.
        self.assertLess(max(kept[:2]), 50, kept)
        self.assertLess(max(kept[2:]), 25, kept)
        self.assertGreater(float(read(own, controls.hatched(drawn[0])).figures["composition"]), 90)

    def test_different_sizes_are_refused(self) -> None:
        with self.assertRaisesRegex(BadInput, "same size"):
            measure(self.source, harbour())


class Colour(unittest.TestCase):
    def test_the_more_hue_is_turned_the_less_is_kept(self) -> None:
        source = harbour(192, 288)
        hsv = cv2.cvtColor(source, cv2.COLOR_RGB2HSV)
        kept = []
        for turn in (0, 8, 20, 60):
            turned = hsv.copy()
            turned[..., 0] = (turned[..., 0].astype(int) + turn) % 180
            kept.append(measure(source, cv2.cvtColor(turned, cv2.COLOR_HSV2RGB))["colour"])
        self.assertEqual(kept, sorted(kept, reverse=True))
        self.assertGreater(kept[0], 95)
        self.assertLess(kept[-1], 50)

    def test_grey_keeps_no_saturation(self) -> None:
        source = harbour(192, 288)
        readings = measure(source, controls.grey(source))
        self.assertLess(readings["parts"]["saturation"], 0.1)
        self.assertLess(readings["colour"], 60)


class LookReached(unittest.TestCase):
    def test_from_the_source_to_the_full_rendering(self) -> None:
        source = harbour(192, 288)
        start, end = statistics(source), statistics(controls.hatched(source))
        self.assertEqual(look_reached(start, start, end), 0)
        self.assertEqual(look_reached(start, end, end), 100)
        self.assertIsNone(look_reached(start, end, start))
        half = (0.5 * source + 0.5 * controls.hatched(source)).astype(np.uint8)
        reached = look_reached(start, statistics(half), end)
        assert reached is not None
        self.assertTrue(20 < reached < 80, reached)

    def test_it_rises_with_strength(self) -> None:
        source, cache = harbour(192, 288), SharedCache()
        for look in ("pencil", "gouache"):
            reached = [
                sum(
                    render(source, Recipe(look=look, strength=s, seed=k), cache=cache).reading.figures["look"]
                    for k in (1, 2)
                )
                / 2
                for s in (0, 0.3, 0.6, 0.9)
            ]
            self.assertEqual(reached[0], 0)
            self.assertEqual(reached[:3], sorted(reached[:3]))
            self.assertGreater(reached[3], 65, look)

    def test_the_picture_is_given_away_before_it_is_read(self) -> None:
        given: list[np.ndarray] = []  # type: ignore[type-arg]
        with patch("warmtide.core.job.take.read_take", side_effect=lambda *_: self.assertEqual(len(given), 1)):
            rendered = render(harbour(96, 144), Recipe(look="pencil", strength=0.5), painted=given.append)
        np.testing.assert_array_equal(given[0], rendered.picture)

    def test_where_strokes_lie_does_not_matter(self) -> None:
        source = harbour(192, 288)
        end = statistics(controls.hatched(source))
        elsewhere = np.roll(controls.hatched(source), 3, axis=1)
        reached = look_reached(statistics(source), statistics(elsewhere), end)
        assert reached is not None
        self.assertGreater(reached, 90)


class Faces(unittest.TestCase):
    def setUp(self) -> None:
        self.source = cv2.resize(keeper(), (640, 480), interpolation=cv2.INTER_CUBIC)
        self.known = SourceReading(self.source)
        self.face = self.known.faces[0]

    def test_a_medium_keeps_a_face_and_melting_loses_it(self) -> None:
        # Strokes half as wide as an eye pull one eye out of its shape, and leave the face one.
        for name, least in (("grey", 95), ("inverted", 95), ("posterised", 90), ("hatched", 90), ("stroked", 25)):
            with self.subTest(control=name):
                self.assertGreater(face_kept(self.source, controls.KEEP[name](self.source), self.face).whole, least)
        melted = controls.melted(self.source, self.face.x, self.face.y, self.face.width)
        reading = read(self.known, melted).figures
        self.assertLess(reading["parts"]["faces"], FACE_LOST)
        self.assertIn("face", reading["warnings"])
        # The masses stay, so composition alone would not tell.
        self.assertGreater(reading["composition"], 70)

    def test_a_feature_that_moved_is_told_from_one_that_stayed(self) -> None:
        kept = face_kept(self.source, self.source, self.face)
        self.assertEqual((kept.whole, kept.shift), (100, 0))
        assert self.face.points is not None
        mouth = np.round(self.face.points.places[list(LIPS[0] + LIPS[1]), :2].mean(0) * 640).astype(int)
        eyes = self.face.points.places[[33, 263], :2] * 640
        across, far = round(0.09 * self.face.width * 640), round(0.13 * float(np.hypot(*(eyes[1] - eyes[0]))))
        moved = self.source.copy()
        box = (slice(mouth[1] - 26, mouth[1] + 26), slice(mouth[0] - 45, mouth[0] + 45))
        moved[
            box[0].start + far // 2 : box[0].stop + far // 2, box[1].start + across // 2 : box[1].stop + across // 2
        ] = self.source[box]
        told = face_kept(self.source, moved, self.face)
        self.assertLess(told.parts["mouth"], 85)
        self.assertGreater(told.parts["left eye"], 99)
        self.assertGreater(told.shift, 5)
        self.assertLess(told.whole, kept.whole - 8)

    def test_the_subject_is_read_by_itself(self) -> None:
        # The surroundings go, the person stays; then the other way round.
        about = self.known.subject[..., None]
        noise = np.random.default_rng(1).integers(0, 255, self.source.shape, dtype=np.uint8)
        ground = np.where(about > 0.3, self.source, noise).astype(np.uint8)
        person = np.where(about > 0.3, cv2.blur(self.source, (91, 91)), self.source).astype(np.uint8)
        first, second = (read(self.known, take).figures["parts"]["subject"] for take in (ground, person))
        self.assertGreater(first, 85)
        self.assertLess(second, 60)
        plain = read(SourceReading(harbour(192, 288), (), np.zeros((192, 288), np.float32)), harbour(192, 288))
        self.assertNotIn("subject", plain.figures["parts"])

    def test_a_turned_face_is_read_upright(self) -> None:
        turned = SourceReading(keeper(turn=20))
        self.assertTrue(turned.faces)
        self.assertGreater(face_kept(turned.rgb, controls.hatched(turned.rgb), turned.faces[0]).whole, 80)

    def test_marked_faces_take_the_place_of_found_ones(self) -> None:
        self.assertNotIn("faces", read(SourceReading(self.source, ()), self.source).figures["parts"])
        marked = SourceReading(harbour(192, 288), (Face(0.5, 0.3, 0.2),))
        self.assertEqual(read(marked, marked.rgb).figures["parts"]["faces"], 100)


class Warnings(unittest.TestCase):
    def setUp(self) -> None:
        self.source = harbour(192, 288)

    def named(self, take, full=None) -> list[str]:  # type: ignore[no-untyped-def]
        return warnings_of(self.source, take.astype(np.uint8), full, [])

    def test_each_tells_its_own_fault(self) -> None:
        grain = np.random.default_rng(0).normal(0, 40, self.source.shape)
        noisy = np.clip(self.source + grain, 0, 255)
        hsv = cv2.cvtColor(self.source, cv2.COLOR_RGB2HSV)
        hsv[..., 1] = 255
        loud = cv2.cvtColor(hsv, cv2.COLOR_HSV2RGB)
        for take, named in ((noisy, ["noise"]), (np.full_like(self.source, 90), ["blank"]), (loud, ["saturation"])):
            with self.subTest(named=named):
                self.assertEqual(self.named(take), named)
        # What the look itself means is no fault.
        self.assertEqual(self.named(noisy, noisy.astype(np.uint8)), [])

    def test_colours_that_words_ask_for_are_not_too_loud(self) -> None:
        grey = np.repeat(self.source.mean(-1, keepdims=True), 3, -1).astype(np.uint8)
        take = (grey * np.array([1.0, 0.62, 0.30])).astype(np.uint8)

        def warned(**values: object) -> bool:
            recipe = Recipe.model_validate({"look": "pencil", "strength": 0.6} | values)
            return "saturation" in read_take(grey, take, recipe, SharedCache()).figures["warnings"]

        self.assertTrue(warned())
        self.assertTrue(warned(prompt="rough paper"))
        self.assertTrue(warned(prompt="vivid orange sunset", guidance=1))
        self.assertFalse(warned(prompt="vivid^2, orange^2, golden hour"))
        self.assertFalse(warned(prompt="beach at sunset"))

    def test_media_are_not_warned_of(self) -> None:
        # Joints of a mosaic look like grain unless the look is known.
        for name, control in controls.KEEP.items():
            with self.subTest(control=name):
                meant = control(self.source) if name in ("tiled", "stroked") else None
                self.assertEqual(self.named(control(self.source), meant), [])

    def test_noise_is_measured_and_edges_are_not(self) -> None:
        flat = np.full((96, 96, 3), 128, np.uint8)
        grain = np.random.default_rng(0).normal(0, 12, (96, 96, 1))
        self.assertGreater(noise_of(np.clip(flat + grain, 0, 255).astype(np.uint8)), 0.02)
        edges = flat.copy()
        edges[:, 40:] = 220
        self.assertLess(noise_of(edges), 0.003)

    def test_a_halo_needs_a_calmer_sibling(self) -> None:
        light = self.source.astype(np.float32)
        rims = np.clip(light + 2.5 * (light - cv2.GaussianBlur(light, (0, 0), 3)), 0, 255).astype(np.uint8)
        self.assertTrue(has_halo(rims, self.source))
        self.assertFalse(has_halo(self.source, self.source))
        self.assertFalse(has_halo(controls.hatched(self.source), controls.hatched(self.source)))


class Tips(unittest.TestCase):
    def test_a_break_is_found_between_its_strengths(self) -> None:
        tip = find_tip([0.3, 0.4, 0.5, 0.6, 0.7, 0.8], [[97], [96], [95], [60], [30], [20]])
        assert tip is not None and tip.strength is not None
        self.assertEqual((tip.outcome, tip.low, tip.high), ("tip", 0.5, 0.6))
        self.assertTrue(0.5 < tip.strength < 0.6)

    def test_no_break_and_an_even_decline_are_told_apart(self) -> None:
        strengths = [0.2, 0.4, 0.6, 0.8, 1.0]
        calm = find_tip(strengths, [[98], [97], [97], [95], [92]])
        even = find_tip(strengths, [[95], [76], [58], [39], [20]])
        assert calm is not None and even is not None
        self.assertEqual((calm.outcome, even.outcome, calm.strength), ("none", "even", None))
        self.assertIsNone(find_tip([0.2, 0.4], [[90], [20]]))

    def test_seeds_that_scatter_make_it_careful(self) -> None:
        strengths = [0.2, 0.4, 0.6, 0.8]
        sure = find_tip(strengths, [[95, 95, 95], [94, 95, 94], [75, 76, 75], [72, 72, 73]])
        unsure = find_tip(strengths, [[99, 75, 95], [94, 70, 99], [95, 60, 75], [72, 50, 93]])
        assert sure is not None and unsure is not None
        self.assertEqual((sure.outcome, unsure.outcome), ("tip", "none"))

    def test_a_place_may_tip_while_the_whole_holds(self) -> None:
        weight = np.full((20, 30), 1.0, np.float32)
        shares = []
        for strength in (0.3, 0.5, 0.7, 0.9):
            share = np.full((20, 30), 0.97, np.float32)
            if strength > 0.6:
                share[3:9, 18:26] = 0.2
            shares.append([share])
        whole = find_tip([0.3, 0.5, 0.7, 0.9], [[float(s[0].mean()) * 100] for s in shares])
        place = find_place_tip([0.3, 0.5, 0.7, 0.9], shares, weight)
        assert whole is not None and place is not None
        self.assertEqual((whole.outcome, place.tip.outcome), ("none", "tip"))
        self.assertEqual((place.tip.low, place.tip.high), (0.5, 0.7))
        box = place.region
        self.assertTrue(box.left < 22 / 30 < box.right and box.top < 6 / 20 < box.bottom)
        self.assertIsNone(
            find_place_tip([0.3, 0.5, 0.7], [[np.ones((9, 9), np.float32)]] * 3, np.ones((9, 9), np.float32))
        )


class Maps(unittest.TestCase):
    def test_maps_are_stored_and_drawn_where_the_loss_is(self) -> None:
        source = harbour(256, 384)
        take = source.copy()
        take[110:170, 200:260] = 120
        stored = read(SourceReading(source), take, full_rendering(take)).stored()
        kept, weight = stored_map(stored, "kept"), stored_map(stored, "weight")
        assert kept is not None and weight is not None
        self.assertEqual(kept.shape, (32, 48))
        self.assertLess(len(str(stored["map"])), 5000)
        overlay = heat_overlay(kept, weight, 256, 384)
        self.assertEqual(overlay.shape, (256, 384, 4))
        self.assertGreater(int(overlay[110:170, 200:260, 3].max()), 100)
        self.assertLess(float(overlay[:, :120, 3].mean()), 4)
        self.assertIsNone(stored_map({"composition": 3}, "kept"))


class Lines(unittest.TestCase):
    def test_lines_lie_on_the_steps_of_a_picture_and_nowhere_else(self) -> None:
        drawn = line_overlay(disc_on_ground(400, 400))
        self.assertEqual((drawn.shape, drawn.dtype), ((400, 400, 4), np.uint8))
        ys, xs = np.nonzero(drawn[..., 3] > 150)
        away = np.hypot(ys - 200, xs - 200)
        near = np.minimum(np.abs(away - 100), np.abs(away - 44))
        self.assertGreater(len(ys), 200)
        self.assertLess(float(np.percentile(near, 95)), 3.5)
        # Most of the outer rim is there.
        turns = np.unique((np.degrees(np.arctan2(ys - 200, xs - 200))[np.abs(away - 100) < 4] // 10).astype(int))
        self.assertGreater(len(turns), 30)
        self.assertEqual(int(line_overlay(np.full((64, 64, 3), 128, np.uint8))[..., 3].max()), 0)
