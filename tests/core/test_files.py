"""Hostile and unusual files; what is written can be read again."""

import io
import json
import struct
import unittest
import zlib

import numpy as np
from PIL import Image, ImageCms

from tests.pictures import as_file, harbour
from warmtide.core.finish.sheet import contact_sheet
from warmtide.core.model.errors import BadInput
from warmtide.core.pictures.image import FILE_LIMIT, decode, png, webp
from warmtide.core.pictures.inside import recipe_inside


def header_only_png(width: int, height: int) -> bytes:
    """A PNG that claims a size and holds almost nothing: a bomb if its pixels were unpacked."""

    def chunk(kind: bytes, data: bytes) -> bytes:
        return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))

    head = struct.pack(">IIBBBBB", width, height, 8, 2, 0, 0, 0)
    return (
        b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", head) + chunk(b"IDAT", zlib.compress(b"\0" * 1000)) + chunk(b"IEND", b"")
    )


class Refused(unittest.TestCase):
    def refused(self, data: bytes, words: str) -> None:
        with self.assertRaisesRegex(BadInput, words) as caught:
            decode(data)
        self.assertEqual(str(caught.exception).count("\n"), 0)
        self.assertTrue(str(caught.exception).endswith("."))

    def test_no_picture(self) -> None:
        self.refused(b"", "empty")
        self.refused(b"Dear artist, this is a letter.", "not a picture")
        self.refused(b"%PDF-1.7 and so on", "not a picture")
        self.refused(b"<html><body>svg</body></html>", "not a picture")

    def test_damaged(self) -> None:
        for kind in ("PNG", "JPEG", "WEBP", "TIFF"):
            data = as_file(harbour(), kind)
            with self.subTest(kind=kind):
                self.refused(data[: len(data) // 2], "damaged|not a picture")

    def test_too_large(self) -> None:
        self.refused(header_only_png(30000, 30000), "30000 x 30000")
        self.refused(header_only_png(16000, 16000), "megapixels")
        self.refused(b"\x89PNG" + b"\0" * FILE_LIMIT, "MB")

    def test_too_small(self) -> None:
        self.refused(as_file(np.zeros((2, 2, 3), np.uint8)), "at least 8")

    def test_hostile_svg(self) -> None:
        def svg(inside: str) -> bytes:
            return f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 10 10">{inside}</svg>'.encode()

        self.refused(svg('<image href="/etc/hostname" width="9" height="9"/>'), "another file")
        self.refused(svg('<image xlink:href="file:///etc/passwd"/>'), "another file")
        self.refused(b'<!DOCTYPE svg [<!ENTITY a "b">]><svg viewBox="0 0 1 1">&a;</svg>', "entities")
        self.refused(b'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 0 0"></svg>', "size|drawn")
        self.refused(svg("<rect"), "drawn")


class Converted(unittest.TestCase):
    def test_plain_formats(self) -> None:
        for kind in ("PNG", "TIFF", "BMP"):
            picture = decode(as_file(harbour(), kind))
            np.testing.assert_array_equal(picture.rgba[..., :3], harbour())
            self.assertFalse(picture.has_alpha)
        for kind in ("JPEG", "WEBP", "AVIF"):
            near = decode(as_file(harbour(), kind, quality=92)).rgba[..., :3]
            self.assertLess(float(np.abs(near.astype(int) - harbour()).mean()), 6, kind)

    def test_exif_turn(self) -> None:
        exif = Image.Exif()
        exif[0x0112] = 6
        picture = decode(as_file(harbour(), "JPEG", exif=exif, quality=95))
        self.assertEqual(picture.rgba.shape[:2], (144, 96))
        turned = np.rot90(harbour(), -1)
        self.assertLess(float(np.abs(picture.rgba[..., :3].astype(int) - turned).mean()), 5)
        self.assertIn("Turned", " ".join(picture.notes))

    def test_sixteen_bits(self) -> None:
        deep = np.linspace(0, 65535, 64 * 64).reshape(64, 64).astype(np.uint16)
        out = io.BytesIO()
        Image.fromarray(deep).save(out, "PNG")
        picture = decode(out.getvalue())
        np.testing.assert_allclose(picture.rgba[..., 0], deep / 257, atol=1)

    def test_cmyk(self) -> None:
        out = io.BytesIO()
        Image.new("CMYK", (32, 32), (255, 0, 0, 0)).save(out, "JPEG", quality=95)
        red, green, blue = decode(out.getvalue()).rgba[16, 16, :3].tolist()
        self.assertLess(red, 60)
        self.assertGreater(min(green, blue), 120)

    def test_profile(self) -> None:
        lab = ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes()
        picture = decode(as_file(harbour(), "PNG", icc_profile=lab))
        self.assertLess(float(np.abs(picture.rgba[..., :3].astype(int) - harbour()).mean()), 1)
        self.assertIn("profile", " ".join(picture.notes))
        decode(as_file(harbour(), "PNG", icc_profile=b"not a profile"))

    def test_alpha_and_palettes(self) -> None:
        rgba = np.dstack([harbour(), np.tile(np.arange(144, dtype=np.uint8), (96, 1))])
        np.testing.assert_array_equal(decode(as_file(rgba)).rgba, rgba)
        out = io.BytesIO()
        Image.fromarray(harbour()).convert("P").save(out, "PNG", transparency=0)
        self.assertEqual(decode(out.getvalue()).rgba.shape, (96, 144, 4))
        out = io.BytesIO()
        Image.fromarray(harbour()).convert("L").save(out, "PNG")
        self.assertFalse(decode(out.getvalue()).has_alpha)

    def test_animation_gives_its_first_frame(self) -> None:
        out = io.BytesIO()
        first, second = Image.fromarray(harbour()), Image.fromarray(255 - harbour())
        first.save(out, "WEBP", save_all=True, append_images=[second], lossless=True)
        picture = decode(out.getvalue())
        np.testing.assert_array_equal(picture.rgba[..., :3], harbour())
        self.assertIn("first of 2", " ".join(picture.notes))

    def test_svg(self) -> None:
        data = b'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 20 10"><rect width="10" height="10" fill="#c00"/></svg>'
        picture = decode(data)
        self.assertEqual(picture.rgba.shape, (1024, 2048, 4))
        self.assertEqual(picture.rgba[500, 500].tolist(), [0xCC, 0, 0, 255])
        self.assertEqual(int(picture.rgba[500, 1500, 3]), 0)
        self.assertTrue(picture.has_alpha)
        # Drawn as large as it is asked for, so that a crop of it is sharp; it counts as the same size.
        for side in (256, 5000):
            drawn = decode(data, side)
            self.assertEqual((drawn.rgba.shape[:2], drawn.whole), ((side // 2, side), (1024, 2048)))
        edge = decode(data, 5000).rgba[1200, :, 3]
        self.assertLess(int(((edge > 5) & (edge < 250)).sum()), 3)


class Written(unittest.TestCase):
    def test_a_recipe_travels_inside(self) -> None:
        recipe = {"recipe": {"look": "pencil", "strength": 0.6}, "source": "Kai mit Möwe.png"}
        data = png(harbour(), recipe)
        self.assertEqual(recipe_inside(data), recipe)
        np.testing.assert_array_equal(decode(data).rgba[..., :3], harbour())
        self.assertIn(b"iTXt", data)
        self.assertIn(b"sRGB", data)
        self.assertIsNone(recipe_inside(png(harbour())))
        self.assertIsNone(recipe_inside(b"nothing"))

    def test_previews_are_small(self) -> None:
        image = Image.open(io.BytesIO(webp(harbour(200, 300), 100)))
        self.assertEqual(image.size, (100, 67))

    def test_a_sheet_holds_source_and_takes(self) -> None:
        takes = [(f"strength 0.{k}", harbour(seed=k)) for k in range(5)]
        sheet = contact_sheet(harbour(), takes, 3, cell=100)
        self.assertGreater(sheet.shape[1], 4 * 100)
        self.assertLess(sheet.shape[1], 5 * 110 + 50)
        self.assertGreater(sheet.shape[0], 2 * 67)

    def test_saved_json_is_one_line_of_text(self) -> None:
        text = Image.open(io.BytesIO(png(harbour(), {"a": 1}))).text["warmtide:recipe"]  # type: ignore[attr-defined]
        self.assertEqual(json.loads(text), {"a": 1})
