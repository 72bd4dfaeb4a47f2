"""Layers composed, filled, healed, written and read: known answers."""

import io
import unittest
import zipfile

import numpy as np
from PIL import Image

from warmtide.core.layers import openraster
from warmtide.core.layers.compose import compose, ground_of, lay, smaller_cut
from warmtide.core.layers.depth import by_order
from warmtide.core.layers.fill import filled
from warmtide.core.layers.heal import healed
from warmtide.core.maths.arrays import Byte
from warmtide.core.maths.membrane import membrane
from warmtide.core.model.errors import BadInput
from warmtide.core.model.stack import MOST_LAYERS, Ground, Layer, Place, Stack, stack_from


def plain(red: int, green: int, blue: int, height: int = 20, width: int = 30, alpha: int = 255) -> Byte:
    return np.broadcast_to(np.array([red, green, blue, alpha], np.uint8), (height, width, 4)).copy()


def named(number: int) -> str:
    return f"{number:064x}"


def layer(number: int, x: float, y: float, width: float, height: float, **more: object) -> Layer:
    place = Place(
        x=x, y=y, width=width, height=height, **{k: more.pop(k) for k in ("turn", "across", "down") if k in more}
    )  # type: ignore[arg-type]
    more = {"id": f"l{number}", "picture": named(number), **more}
    return Layer(name=f"layer {number}", place=place, **more)  # type: ignore[arg-type]


def seen(stack: Stack, *pictures: Byte) -> Byte:
    return compose(stack, dict(zip((named(k) for k in range(len(pictures))), pictures, strict=True)).__getitem__)


class Composed(unittest.TestCase):
    def test_whole_pixels_are_copied_and_what_hangs_out_is_cut(self) -> None:
        ground = np.random.default_rng(1).integers(0, 255, (40, 60, 4)).astype(np.uint8)
        ground[..., 3] = 255
        red = plain(200, 10, 20)
        out = seen(Stack(width=60, height=40, layers=(layer(0, 30, 20, 60, 40), layer(1, 0, 0, 30, 20))), ground, red)
        np.testing.assert_array_equal(out[:10, :15], red[:10, :15])
        np.testing.assert_array_equal(out[10:], ground[10:])
        np.testing.assert_array_equal(out[:10, 15:], ground[:10, 15:])

    def test_opacity_mask_and_order(self) -> None:
        white, black = plain(255, 255, 255), plain(0, 0, 0)
        half = Stack(width=30, height=20, layers=(layer(0, 15, 10, 30, 20), layer(1, 15, 10, 30, 20, opacity=0.25)))
        self.assertEqual(seen(half, white, black)[5, 5].tolist(), [191, 191, 191, 255])
        mask = plain(0, 0, 0)
        mask[:, :15, :3] = 255
        masked = Stack(width=30, height=20, layers=(layer(0, 15, 10, 30, 20), layer(1, 15, 10, 30, 20, mask=named(2))))
        out = seen(masked, white, black, mask)
        self.assertEqual((out[5, 5, 0], out[5, 25, 0]), (0, 255))
        hidden = Stack(width=30, height=20, layers=(layer(0, 15, 10, 30, 20), layer(1, 15, 10, 30, 20, shown=False)))
        np.testing.assert_array_equal(seen(hidden, white, black), white)

    def test_turned_flipped_and_scaled_land_where_they_should(self) -> None:
        arrow = plain(0, 0, 0)
        arrow[:, :10, 0] = 255  # red at its left
        turned = Stack(width=60, height=60, layers=(layer(0, 30, 30, 30, 20, turn=90),))
        out = seen(turned, arrow)
        # A quarter turn clockwise brings the left to the top.
        self.assertEqual((out[20, 30, 0], out[40, 30, 0]), (255, 0))
        self.assertEqual(out[30, 10, 3], 0)
        flipped = seen(Stack(width=60, height=60, layers=(layer(0, 30, 30, 30, 20, across=True),)), arrow)
        self.assertEqual((flipped[30, 18, 0], flipped[30, 42, 0]), (0, 255))
        large = seen(Stack(width=60, height=60, layers=(layer(0, 30, 30, 60, 60),)), arrow)
        self.assertEqual((large[30, 5, 0], large[30, 55, 0]), (255, 0))

    def test_made_much_smaller_is_the_mean_not_a_sample(self) -> None:
        checks = plain(0, 0, 0, 64, 64)
        checks[::2, ::2, :3] = checks[1::2, 1::2, :3] = 255
        out = seen(Stack(width=16, height=16, layers=(layer(0, 8, 8, 16, 16),)), checks)
        self.assertLess(int(np.abs(out[2:-2, 2:-2, :3].astype(int) - 128).max()), 2)

    def test_clear_stays_clear_and_colours_of_soft_edges_are_their_own(self) -> None:
        soft = plain(255, 0, 0, alpha=128)
        out = seen(Stack(width=30, height=20, layers=(layer(0, 15, 10, 30, 20),)), soft)
        self.assertEqual(out[5, 5].tolist(), [255, 0, 0, 128])
        small = smaller_cut(np.concatenate([soft, plain(0, 255, 0, alpha=0)]), 15, 20)
        self.assertEqual(small[2, 2].tolist(), [255, 0, 0, 128])
        self.assertEqual(small[-2, 2, 3], 0)

    def test_a_ground_runs_from_one_colour_to_the_other(self) -> None:
        column = ground_of(Ground(top="#000000", bottom="#ffffff"), 256)[:, 0, 0]
        self.assertEqual((column[0], column[-1]), (0, 255))
        self.assertTrue((np.diff(column.astype(int)) >= 0).all())

    def test_depth_follows_the_order(self) -> None:
        stack = Stack(
            width=60,
            height=40,
            layers=(layer(0, 30, 20, 60, 40), layer(1, 15, 20, 30, 20), layer(1, 45, 20, 20, 20, id="top")),
        )
        greys = by_order(stack, {named(0): plain(9, 9, 9, 40, 60), named(1): plain(200, 0, 0)}.__getitem__)[..., 0]
        self.assertEqual((greys[2, 2], greys[20, 45]), (16, 255))
        self.assertTrue(16 < greys[20, 10] < 255)

    def test_what_lies_outside_is_no_fault(self) -> None:
        out = np.zeros((8, 8, 4), np.uint8)
        lay(out, plain(1, 2, 3), Place(x=500, y=-400, width=20, height=10, turn=33), 1.0)
        self.assertEqual(int(out.max()), 0)

    def test_bad_stacks_are_refused_in_one_sentence(self) -> None:
        good = layer(0, 5, 5, 10, 10).model_dump()
        for values, word in (
            (
                {"width": 64, "height": 64, "layers": [{**good, "id": f"a{k}"} for k in range(MOST_LAYERS + 1)]},
                "layers",
            ),
            ({"width": 64, "height": 64, "layers": [good, good]}, "id"),
            ({"width": 64, "height": 64, "layers": [{**good, "place": {**good["place"], "width": 9000}}]}, "8192"),
            ({"width": 64, "height": 64, "layers": [{**good, "opacity": float("nan")}]}, "Opacity"),
            ({"width": 9999, "height": 64, "layers": []}, "2048"),
        ):
            with self.subTest(word=word), self.assertRaises(BadInput) as caught:
                stack_from(values)
            self.assertIn(word, str(caught.exception))


class Mended(unittest.TestCase):
    def test_a_texture_is_gone_on_with(self) -> None:
        ys, xs = np.mgrid[0:120, 0:160]
        stripes = np.dstack([(128 + 100 * np.sin(xs / 3.0))] * 3).astype(np.uint8)
        hole = np.hypot(ys - 60, xs - 80) < 18
        broken = stripes.copy()
        broken[hole] = (255, 0, 255)
        out = filled(broken, hole)
        np.testing.assert_array_equal(out[~hole], stripes[~hole])
        self.assertLess(float(np.abs(out.astype(int) - stripes)[hole].mean()), 14)

    def test_nothing_comes_from_what_is_not_known(self) -> None:
        picture = plain(90, 140, 60, 100, 100)[..., :3].copy()
        picture[:, 60:] = (250, 0, 0)
        hole = np.zeros((100, 100), bool)
        hole[40:60, 20:40] = True
        known = np.ones_like(hole)
        known[:, 60:] = False
        out = filled(picture, hole, known)
        self.assertLess(float(np.abs(out[hole].astype(int) - (90, 140, 60)).max()), 3)

    def test_too_little_around_is_said(self) -> None:
        with self.assertRaises(ValueError):
            filled(plain(1, 1, 1, 20, 20)[..., :3].copy(), np.ones((20, 20), bool))

    def test_a_membrane_meets_its_rim_and_is_a_plane_between(self) -> None:
        ys, xs = np.mgrid[0:48, 0:64].astype(np.float32)
        plane = (0.01 * xs + 0.02 * ys)[..., None]
        known = np.ones((48, 64), bool)
        known[12:36, 16:48] = False
        found = membrane(np.where(known[..., None], plane, 0).astype(np.float32), known)
        np.testing.assert_array_equal(found[known], plane[known])
        self.assertLess(float(np.abs(found - plane).max()), 0.03)

    def test_a_copy_takes_the_tones_around_it(self) -> None:
        below, laid = plain(200, 180, 160, 60, 60)[..., :3], plain(60, 50, 40, 60, 60)[..., :3].copy()
        laid[28:32, 28:32] = (80, 70, 60)
        mask = np.zeros((60, 60), np.uint8)
        mask[15:45, 15:45] = 255
        out = healed(below, laid, mask)
        self.assertLess(int(np.abs(out[20, 20].astype(int) - (200, 180, 160)).max()), 4)
        self.assertGreater(int(out[30, 30, 0]), int(out[20, 20, 0]))
        np.testing.assert_array_equal(out[:10], below[:10])


class OpenRaster(unittest.TestCase):
    def setUp(self) -> None:
        self.pictures = {named(0): plain(10, 20, 30, 40, 60), named(1): plain(250, 0, 0)}
        self.stack = Stack(
            width=60, height=40,
            layers=(layer(0, 30, 20, 60, 40), layer(1, 20, 15, 30, 20, opacity=0.5), layer(2, 9, 9, 4, 4, picture=None, ground=Ground(top="#00ff00", bottom="#00ff00"), shown=False)),
        )  # fmt: skip

    def test_what_is_written_is_read_again_layer_by_layer(self) -> None:
        data = openraster.written(self.stack, self.pictures.__getitem__)
        file = openraster.read(data)
        self.assertEqual((file.width, file.height), (60, 40))
        self.assertEqual([part.name for part in file.layers], ["layer 0", "layer 1", "layer 2"])
        self.assertEqual([part.opacity for part in file.layers], [1.0, 0.5, 1.0])
        self.assertEqual([part.shown for part in file.layers], [True, True, False])
        self.assertEqual((file.layers[1].x, file.layers[1].y), (5, 5))

    def test_the_archive_is_as_the_standard_says(self) -> None:
        data = openraster.written(self.stack, self.pictures.__getitem__)
        with zipfile.ZipFile(io.BytesIO(data)) as file:
            first = file.infolist()[0]
            self.assertEqual((first.filename, first.compress_type), ("mimetype", zipfile.ZIP_STORED))
            self.assertEqual(file.read("mimetype"), b"image/openraster")
            merged = np.asarray(Image.open(io.BytesIO(file.read("mergedimage.png"))).convert("RGBA"))
            thumb = Image.open(io.BytesIO(file.read("Thumbnails/thumbnail.png")))
        np.testing.assert_array_equal(merged, compose(self.stack, self.pictures.__getitem__))
        self.assertLessEqual(max(thumb.size), 256)

    def _changed(self, name: str, data: bytes) -> bytes:
        out = io.BytesIO()
        written = io.BytesIO(openraster.written(self.stack, self.pictures.__getitem__))
        with zipfile.ZipFile(written) as old, zipfile.ZipFile(out, "w") as new:
            for entry in old.namelist():
                new.writestr(entry, data if entry == name else old.read(entry))
        return out.getvalue()

    def test_hostile_files_are_refused_in_one_sentence(self) -> None:
        outside = b'<image w="60" h="40"><stack><layer name="x" src="../../etc/passwd"/></stack></image>'
        entity = b'<!DOCTYPE a [<!ENTITY e SYSTEM "file:///etc/passwd">]><image w="60" h="40"><stack/></image>'
        deep = b'<image w="60" h="40">' + b"<stack>" * 60 + b"</stack>" * 60 + b"</image>"
        for data in (
            b"", b"PK\x03\x04 nothing", self._changed("stack.xml", outside), self._changed("stack.xml", entity),
            self._changed("stack.xml", b'<image w="9e9" h="40"/>'), self._changed("stack.xml", b'<image w="99999" h="40"/>'),
            self._changed("stack.xml", deep), openraster.written(self.stack, self.pictures.__getitem__)[:300],
        ):  # fmt: skip
            with self.assertRaises(BadInput) as caught:
                openraster.read(data)
            self.assertNotIn("\n", str(caught.exception))
