"""Materials: the shapes of flat art are kept, everything else is the material's."""

import unittest
from functools import cache

import cv2
import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.badges import BADGES, cover, picture, silhouette
from tests.pictures import disc_on_ground, harbour
from warmtide.core.engine.staging import asked_by
from warmtide.core.job.looking import look_of
from warmtide.core.job.take import render, restyle
from warmtide.core.looks.material.foil import interference
from warmtide.core.looks.material.workpiece import workpiece
from warmtide.core.looks.registry import looks
from warmtide.core.looks.shared.environment import mirrored, room
from warmtide.core.looks.shared.grounds import GROUNDS
from warmtide.core.looks.shared.shading import Lamp, Surface, shade, shadow
from warmtide.core.looks.shared.texture import clouded, grain
from warmtide.core.maths.arrays import Byte
from warmtide.core.maths.colour import bytes_to_lab
from warmtide.core.maths.outline import exact_distance
from warmtide.core.maths.relief import normals, openness, rounded, swollen
from warmtide.core.model.cache import SharedCache
from warmtide.core.model.errors import Cancelled
from warmtide.core.model.guides import NO_GUIDES, Guides
from warmtide.core.model.recipe import Holds, Recipe
from warmtide.core.model.sitting import Original, Sitting
from warmtide.core.understanding.flat.art import FlatArt, is_flat, take_apart

MATERIALS = sorted(name for name, look in looks().items() if look.category == "material")
CACHE = SharedCache()
SIDE = 112
HELD = Holds(lines=1, shapes=1, colours=0.5).model_dump()


@cache
def badge(name: str = "shield", side: int = SIDE) -> Byte:
    return picture(name, side)


def made(look: str, source: Byte | None = None, guides: Guides = NO_GUIDES, **values):  # type: ignore[no-untyped-def]
    recipe = {"look": look, "strength": 0.9, "steps": 8, "holds": HELD} | values
    return restyle(badge() if source is None else source, Recipe.model_validate(recipe), cache=CACHE, guides=guides)


def apart(a: Byte, b: Byte) -> float:
    return float(np.abs(a.astype(float) - b).mean() / 255)


def covered(art: FlatArt, side: int) -> np.ndarray:
    """Cover of an art at the picture's own size."""
    return cv2.resize(art.cover, (side, side), interpolation=cv2.INTER_AREA)


def agreement(found: np.ndarray, true: np.ndarray) -> float:
    """Intersection over union of two covers."""
    return float(np.minimum(found, true).sum() / np.maximum(found, true).sum())


class TakenApart(unittest.TestCase):
    def test_silhouettes_of_ten_badges(self) -> None:
        side = 512
        for name in BADGES:
            with self.subTest(badge=name):
                alpha = cover(name, side).astype(np.float32) / 255
                lab = bytes_to_lab(picture(name, side))
                self.assertGreater(agreement(covered(take_apart(lab, alpha), side), alpha), 0.999)
                if name not in ("thin", "two rings"):
                    # Without transparency nobody can tell white paint from a hole between two colours.
                    self.assertGreater(agreement(covered(take_apart(lab), side), alpha), 0.994)

    def test_parts_colours_and_levels(self) -> None:
        art = take_apart(bytes_to_lab(picture("shield", 256)))
        self.assertEqual(len(art.colours), 7)
        self.assertEqual(art.count, 6)
        light = art.colours[art.colour_of][:, 0]
        self.assertEqual(art.levels[light.argmin()], 1)
        # The star lies on the quarters, and they on the rim.
        self.assertEqual(art.levels[light.argmax()], art.levels.max())
        twelve = take_apart(bytes_to_lab(picture("twelve", 256)))
        self.assertEqual((twelve.count, set(twelve.levels.tolist())), (12, {1}))

    def test_holes_are_holes_and_white_parts_are_parts(self) -> None:
        ring = np.full((160, 160, 3), 255, np.uint8)
        cv2.circle(ring, (80, 80), 60, (30, 60, 160), -1, cv2.LINE_AA)
        cv2.circle(ring, (80, 80), 30, (255, 255, 255), -1, cv2.LINE_AA)
        self.assertFalse(take_apart(bytes_to_lab(ring)).solid[160, 160])
        # Two colours around it: a field of the badge.
        cv2.ellipse(ring, (80, 80), (60, 60), 0, 0, 180, (200, 60, 40), -1, cv2.LINE_AA)
        cv2.circle(ring, (80, 80), 30, (255, 255, 255), -1, cv2.LINE_AA)
        self.assertTrue(take_apart(bytes_to_lab(ring)).solid[160, 160])

    def test_thin_things_are_told(self) -> None:
        fine = np.full((200, 200, 3), 255, np.uint8)
        for k in range(10, 190, 12):
            fine[k, 10:190] = (20, 20, 20)
        self.assertGreater(take_apart(bytes_to_lab(fine)).small, 0.5)
        self.assertLess(take_apart(bytes_to_lab(badge())).small, 0.1)

    def test_flat_or_not(self) -> None:
        for name in BADGES:
            self.assertTrue(is_flat(bytes_to_lab(badge(name, 256))), name)
        self.assertFalse(is_flat(bytes_to_lab(harbour(144, 216))))

    def test_distances_follow_the_outline_between_grid_points(self) -> None:
        """An edge drawn 0.3 of a pixel further is found 0.3 of a pixel further."""
        found = []
        for shift in (0.0, 0.3):
            picture_ = np.full((64, 64, 3), 255, np.float32)
            picture_[20:44, 20:44] = 0
            picture_[20:44, 44] = 255 * (1 - shift)
            art = take_apart(bytes_to_lab(picture_.astype(np.uint8)))
            found.append(float(art.cover[64].sum() / art.factor))
        self.assertAlmostEqual(found[0], 24, delta=0.12)
        self.assertAlmostEqual(found[1] - found[0], 0.3, delta=0.12)

    def test_a_picture_of_one_colour_is_one_sheet(self) -> None:
        art = take_apart(bytes_to_lab(np.full((40, 60, 3), 90, np.uint8)))
        self.assertTrue(art.solid.all())
        self.assertEqual(art.count, 1)


class Relief(unittest.TestCase):
    def test_a_disc_blown_up_is_half_a_ball(self) -> None:
        ys, xs = np.mgrid[-64:65, -64:65]
        height = swollen(xs**2 + ys**2 < 50**2)
        self.assertAlmostEqual(float(height[64, 64]), 50, delta=3)
        self.assertAlmostEqual(float(height[64, 64 + 30]), 40, delta=3)
        self.assertEqual(float(height[0, 0]), 0)

    def test_normals_and_openness(self) -> None:
        slope = np.tile(np.arange(40, dtype=np.float32), (40, 1))
        nx, ny, nz = (n[20, 20] for n in normals(slope))
        self.assertAlmostEqual(float(nx), -0.7071, places=3)
        self.assertAlmostEqual(float(ny), 0, places=5)
        self.assertAlmostEqual(float(nz), 0.7071, places=3)
        groove = np.full((60, 60), 20, np.float32)
        groove[:, 29:31] = 0
        seen = openness(groove, 1.0)
        self.assertLess(float(seen[30, 30]), 0.6 * float(seen[30, 5]))

    def test_a_quarter_round_and_exact_distances(self) -> None:
        self.assertTrue(np.allclose(rounded(np.array([0.0, 5, 10, 20]), 10), [0, 0.866, 1, 1], atol=1e-3))
        border = np.zeros((9, 9), bool)
        border[:, 4] = True
        crossing = np.full((9, 9), 0.25, np.float32)
        self.assertTrue(np.allclose(exact_distance(border, crossing)[4], [4.25, 3.25, 2.25, 1.25, 0.25, 1.25, 2.25, 3.25, 4.25], atol=0.02))  # fmt: skip

    def test_shadows_fall_away_from_the_lamp(self) -> None:
        wall = np.zeros((60, 60), np.float32)
        wall[28:32, 28:32] = 20
        sun = np.array([-0.6, 0, 0.8], np.float32)
        seen = shadow(wall, Lamp(sun, (1, 1, 1), room("studio")), 60)
        self.assertLess(float(seen[30, 36]), 0.2)
        self.assertGreater(float(seen[30, 20]), 0.9)
        self.assertGreater(float(seen[10, 36]), 0.9)


class Light(unittest.TestCase):
    def shine(self, **values: float) -> np.ndarray:
        ys, xs = np.mgrid[-32:32, -32:32].astype(np.float32)
        ball = np.sqrt(np.clip(28**2 - xs**2 - ys**2, 0, None)).astype(np.float32)
        lamp = Lamp(np.array([-0.5, -0.6, 0.62], np.float32), (2, 2, 2), room("studio"))
        surface = Surface(ball, np.full((64, 64, 3), (0.5, 0.1, 0.1), np.float32), **values)
        return shade(surface, lamp, 0.3)

    def test_metal_takes_its_colour_from_what_it_mirrors(self) -> None:
        dull, metal, coated = (
            self.shine(rough=0.9),
            self.shine(rough=0.1, metal=1.0),
            self.shine(rough=0.9, coat=1.0),
        )
        self.assertGreater(float(dull[20, 20, 0]), float(dull[44, 44, 0]))
        contrast = [float(np.ptp(p[18:46, 18:46].mean(-1))) for p in (dull, metal)]
        self.assertGreater(contrast[1], contrast[0])
        # Lacquer adds a white glint to what is red.
        glint = coated - dull
        self.assertGreater(float(glint.max()), 0.3)
        self.assertTrue(np.isfinite(metal).all())

    def test_a_scene_is_mirrored(self) -> None:
        picture_ = np.zeros((40, 60, 3), np.float32)
        picture_[:20] = (0.1, 0.3, 0.9)
        around = mirrored(picture_)
        self.assertEqual(around.shape, (6, 128, 256, 3))
        self.assertGreater(float(around[0, 20, 128, 2]), 0.8)
        self.assertLess(float(around[0, 110, 128, 2]), 0.05)

    def test_films_have_colours_that_return(self) -> None:
        colours = interference(np.array([0.0, 280.0, 600.0]))
        self.assertTrue(np.allclose(colours[0], 0, atol=1e-6))
        self.assertGreater(float(np.ptp(colours[2])), 0.3)


class Textures(unittest.TestCase):
    def test_grain_has_a_direction_and_unit_variance(self) -> None:
        field = grain(120, 120, 40, np.random.default_rng(1), 4)
        self.assertAlmostEqual(float(field.std()), 1, places=2)
        self.assertLess(
            float(np.abs(np.diff(field, axis=1)).mean()), 0.4 * float(np.abs(np.diff(field, axis=0)).mean())
        )
        turned = grain(120, 120, 40, np.random.default_rng(1), 4, np.pi / 2)
        self.assertGreater(
            float(np.abs(np.diff(turned, axis=1)).mean()), 2 * float(np.abs(np.diff(turned, axis=0)).mean())
        )
        self.assertAlmostEqual(float(clouded(90, 70, 30, np.random.default_rng(2)).std()), 1, places=3)

    def test_every_ground_is_a_surface_and_takes_a_colour(self) -> None:
        for name, lay in GROUNDS.items():
            with self.subTest(ground=name):
                plain = lay(96, 128, np.random.default_rng(3), 0.3, None)
                green = lay(96, 128, np.random.default_rng(3), 0.3, np.array([0.1, 0.5, 0.1], np.float32))
                self.assertEqual((plain.albedo.shape, plain.height.shape), ((96, 128, 3), (96, 128)))
                self.assertTrue(plain.albedo.min() >= 0 and plain.albedo.max() <= 1)
                self.assertTrue(np.isfinite(plain.height).all())
                mean = green.albedo.mean((0, 1))
                self.assertGreater(mean[1], 1.5 * mean[0])


class Takes(unittest.TestCase):
    """What must hold for every material."""

    def test_strength_goes_from_the_source_to_the_material(self) -> None:
        for look in MATERIALS:
            with self.subTest(look=look):
                self.assertTrue(np.array_equal(made(look, strength=0), badge()))
                away = [apart(badge(), made(look, strength=s)) for s in (0.2, 0.45, 0.9)]
                self.assertLess(away[0], away[1])
                self.assertLess(away[1], away[2] + 0.01)
                self.assertGreater(away[2], 0.03)

    def test_shapes_stay_whatever_the_seed(self) -> None:
        """The strongest edges of a take lie where the source's outline is, for two seeds and without holds."""
        source = badge("shield", 160)
        true = cover("shield", 160).astype(np.float32) / 255
        outline = cv2.GaussianBlur(true, (0, 0), 1.0)
        slope = np.hypot(cv2.Sobel(outline, cv2.CV_32F, 1, 0), cv2.Sobel(outline, cv2.CV_32F, 0, 1))
        for look in MATERIALS:
            for seed, holds in ((1, HELD), (2, {"lines": 0, "shapes": 0, "colours": 0})):
                take = bytes_to_lab(made(look, source, seed=seed, holds=holds))
                # Soft shadows beside the outline are no edges.
                soft = cv2.GaussianBlur(take, (0, 0), 0.7) - cv2.GaussianBlur(take, (0, 0), 2.0)
                edges = sum(
                    np.hypot(
                        cv2.Sobel(soft[..., k].copy(), cv2.CV_32F, 1, 0),
                        cv2.Sobel(soft[..., k].copy(), cv2.CV_32F, 0, 1),
                    )
                    for k in range(3)
                )
                there = {d: float((np.roll(np.roll(slope, d, 0), d, 1) * edges).sum()) for d in (-3, 0, 3)}
                with self.subTest(look=look, seed=seed):
                    self.assertEqual(max(there, key=lambda d: there[d]), 0, there)

    def test_seeds_change_light_and_ground(self) -> None:
        for look in MATERIALS:
            self.assertGreater(apart(made(look, seed=1), made(look, seed=2)), 0.012, look)

    def test_guidance_is_visible(self) -> None:
        for look in MATERIALS:
            self.assertGreater(apart(made(look, guidance=2), made(look, guidance=12)), 0.004, look)

    @settings(max_examples=10, deadline=None)
    @given(height=st.integers(48, 200), width=st.integers(48, 200), look=st.sampled_from(MATERIALS))
    def test_any_size(self, height: int, width: int, look: str) -> None:
        take = made(look, disc_on_ground(height, width), steps=6)
        self.assertEqual(take.shape, (height, width, 3))
        self.assertGreater(float(take.std()), 4)

    def test_photographs_become_things_too(self) -> None:
        source = harbour(96, 144)
        for look in MATERIALS:
            take = made(look, source, steps=6)
            self.assertEqual(take.shape, source.shape)
            self.assertGreater(apart(take, source), 0.02, look)

    def test_odd_pictures(self) -> None:
        for source in (np.full((64, 64, 3), 255, np.uint8), np.zeros((16, 90, 3), np.uint8), badge("thin", 64)):
            for look in ("gold", "felt", "stained-glass", "hologram"):
                self.assertEqual(made(look, source, steps=4).shape, source.shape)

    def test_same_pixels_again_with_and_without_a_cache(self) -> None:
        for look in ("glass", "inlay"):
            recipe = Recipe(look=look, strength=0.9, steps=8, seed=4, prompt="worn")
            self.assertTrue(np.array_equal(restyle(badge(), recipe, cache=CACHE), restyle(badge(), recipe)))

    def test_cancel(self) -> None:
        def stop(done: int, _steps: int) -> None:
            if done == 2:
                raise Cancelled

        with self.assertRaises(Cancelled):
            restyle(badge(), Recipe(look="gold", strength=0.9), stop, CACHE)


class Words(unittest.TestCase):
    def test_every_word_of_finish_changes_a_material(self) -> None:
        plain = made("gold")
        for prompt in ("worn", "rough", "polished", "matt", "thick", "flat relief", "brushed"):
            self.assertGreater(apart(plain, made("gold", prompt=prompt)), 0.006, prompt)

    def test_grounds_by_words(self) -> None:
        corner = (slice(0, 14), slice(0, 14))
        found = {
            prompt: made("gold", prompt=prompt)[corner].reshape(-1, 3).mean(0)
            for prompt in ("on denim", "on marble", "on leather", "on wood")
        }
        self.assertGreater(found["on denim"][2], found["on denim"][0] + 10)
        self.assertGreater(found["on wood"][0], found["on wood"][2] + 10)
        self.assertLess(found["on leather"].mean(), 90)

    def test_what_a_thing_lies_on_is_no_place(self) -> None:
        marble, cliff = Recipe(look="gold", prompt="worn, on marble"), Recipe(look="gold", prompt="on marble, cliff")
        self.assertIsNone(asked_by(marble, look_of(marble)))
        asked = asked_by(cliff, look_of(cliff))
        self.assertTrue(asked is not None and asked.place == "cliff")
        # A painter has nothing that lies: for it marble is a place.
        self.assertIsNotNone(
            asked_by(Recipe(look="oil", prompt="on marble"), look_of(Recipe(look="oil", prompt="on marble")))
        )
        self.assertIsNone(
            asked_by(
                Recipe(look="built", prompt="brick walls, snow"),
                look_of(Recipe(look="built", prompt="brick walls, snow")),
            )
        )

    def test_a_coloured_ground_stays_its_colour(self) -> None:
        green = picture("gear", SIDE, (40, 120, 70))
        take = made("balloon", green, holds=Holds(lines=1, shapes=1, colours=1).model_dump())
        corner = take[:12, :12].reshape(-1, 3).mean(0)
        self.assertGreater(corner[1], corner[0] + 20)

    def test_colours_follow_the_words(self) -> None:
        source = badge("letters")
        holds = Holds(lines=1, shapes=1, colours=0).model_dump()
        plain, green = (made("clay", source, prompt=p, holds=holds) for p in ("", "green"))
        inside = silhouette("letters", SIDE)
        before, after = (bytes_to_lab(t)[inside].mean(0) for t in (plain, green))
        self.assertLess(after[1], before[1] - 0.03)

    def test_before_a_scene_it_mirrors_and_keeps_its_shape(self) -> None:
        source, solid = badge("gear"), Guides(cover=cover("gear", SIDE))
        day, night = (made("chrome", source, solid, prompt=p) for p in ("beach, sunny", "street, night"))
        plain = made("chrome", source, solid)
        inside = silhouette("gear", SIDE)
        self.assertGreater(np.median(day[inside]), np.median(night[inside]) + 8)
        self.assertGreater(apart(plain, day), 0.05)
        # Sky above, where the plain one lies on card.
        sky = day[2:10, 2:30].reshape(-1, 3).mean(0)
        self.assertGreater(sky[2], sky[0])


class Remarks(unittest.TestCase):
    """What a look has to say of its source comes with the reading of every take."""

    def said(self, look: str, source: Byte, **values: object) -> list[str]:
        recipe = Recipe.model_validate({"look": look, "strength": 0.9, "steps": 4, **values})
        return list(render(source, recipe, cache=SharedCache()).reading.figures["warnings"])

    def test_what_could_not_be_done_is_said(self) -> None:
        fine = np.full((120, 120, 3), 255, np.uint8)
        fine[10:110:9, 10:110] = (20, 20, 20)
        blank = np.full((96, 128, 3), 200, np.uint8)
        grey = harbour(96, 144).mean(-1, keepdims=True).repeat(3, -1).astype(np.uint8)
        self.assertIn("thin", self.said("gold", fine))
        self.assertNotIn("thin", self.said("gold", badge()))
        self.assertIn("planes", self.said("built", blank))
        self.assertIn("open", self.said("line-wash", blank))
        self.assertIn("guessed", self.said("old-photograph", grey))
        self.assertNotIn("guessed", self.said("old-photograph", harbour(96, 144)))
        self.assertNotIn("thin", self.said("gold", fine, strength=0))


class Begun(unittest.TestCase):
    def test_colours_come_from_the_sampler_and_shapes_from_the_source(self) -> None:
        lab = bytes_to_lab(badge())
        pale = lab.copy()
        pale[..., 1:] *= 0.2
        sitting = Sitting("gold", 1, SIDE, SIDE, cache=SharedCache(), original=Original(lab, "badge"))
        first, second = workpiece(lab, sitting), workpiece(pale, sitting)
        self.assertIs(first.art, second.art)
        chroma = [float(np.hypot(p.colours[:, 1], p.colours[:, 2]).max()) for p in (first, second)]
        self.assertLess(chroma[1], 0.4 * chroma[0])

    def test_strength_guidance_and_words_make_it_thicker(self) -> None:
        def thick(**values: object) -> float:
            sitting = Sitting("gold", 1, SIDE, SIDE, original=Original(bytes_to_lab(badge()), None), **values)  # type: ignore[arg-type]
            return workpiece(bytes_to_lab(badge()), sitting).thick

        plain = thick()
        self.assertLess(thick(strength=0.4), plain)
        self.assertLess(thick(guidance=3.0), plain)
        self.assertGreater(thick(words={"thick": 1.0}), plain)


if __name__ == "__main__":
    unittest.main()
