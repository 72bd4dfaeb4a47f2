"""Files taken away, read back by programs that did not write them."""

import io
import json
import shutil
import subprocess
import tempfile
import unittest
import zipfile
from pathlib import Path
from typing import Any

import cv2
import numpy as np
from PIL import Image

from tests.pictures import harbour
from warmtide.core.export.files.kind import Wish
from warmtide.core.export.files.registry import format_named, formats
from warmtide.core.export.names import names_of
from warmtide.core.export.pages import Entry, SheetWish, as_pdf, as_picture, laid_out
from warmtide.core.export.write import written
from warmtide.core.layers import openraster
from warmtide.core.maths.arrays import AnyArray, Byte
from warmtide.core.model.errors import BadInput
from warmtide.core.pictures.image import decode
from warmtide.core.pictures.inside import recipe_inside, xmp_of

INSIDE = {
    "recipe": {"look": "oil", "prompt": 'lamps "lit" & <mist>, naïve', "seed": 7},
    "key": "ab" * 32,
    "source": "quay.png",
}
PICTURES = ("png", "jpeg", "webp", "avif", "tiff")


def clear_disc() -> Byte:
    picture = np.zeros((60, 80, 4), np.uint8)
    picture[..., :3] = (200, 60, 30)
    cv2.circle(picture, (40, 30), 20, (200, 60, 30, 255), -1)
    return picture


def by_opencv(data: bytes) -> AnyArray:
    """Pixels as OpenCV reads them, RGB or RGBA."""
    read = cv2.imdecode(np.frombuffer(data, np.uint8), cv2.IMREAD_UNCHANGED)
    return cv2.cvtColor(read, cv2.COLOR_BGRA2RGBA if read.shape[2] == 4 else cv2.COLOR_BGR2RGB)


class Files(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.picture = harbour(60, 80, 2)

    def told(self, data: bytes, suffix: str) -> dict[str, Any]:
        """What exiftool says of a file."""
        path = self.folder / f"x.{suffix}"
        path.write_bytes(data)
        said = subprocess.run(["exiftool", "-json", "-n", str(path)], capture_output=True, check=True, text=True).stdout
        found: dict[str, Any] = json.loads(said)[0]
        return found

    def test_pixels_size_resolution_profile_and_recipe_are_as_wished(self) -> None:
        for name in PICTURES:
            with self.subTest(format=name):
                form = format_named(name)
                data = written(self.picture, form, Wish(dpi=240, quality=95), INSIDE)
                told = self.told(data, form.suffix)
                self.assertEqual((told["ImageWidth"], told["ImageHeight"]), (80, 60))
                dpi = told["XResolution"] if "XResolution" in told else told["PixelsPerUnitX"] * 0.0254
                self.assertAlmostEqual(dpi, 240, delta=0.2)
                self.assertIn("sRGB", told["ProfileDescription"])
                self.assertEqual(recipe_inside(data), INSIDE)
                off = float(np.abs(by_opencv(data).astype(int) - self.picture).mean())
                self.assertLessEqual(off, 5 if form.lossy else 0)
                bare = written(self.picture, form, Wish(recipe=False, profile=False), INSIDE)
                self.assertIsNone(recipe_inside(bare))
                self.assertNotIn("ProfileDescription", self.told(bare, form.suffix))

    def test_what_goes_out_comes_in_the_same(self) -> None:
        for name in ("png", "tiff"):
            back = decode(written(self.picture, format_named(name), Wish()))
            np.testing.assert_array_equal(back.rgba[..., :3], self.picture)
            # Its own profile is nothing to convert from, nor to tell of.
            self.assertEqual(back.notes, ())
        lossless = decode(written(self.picture, format_named("webp"), Wish(quality=100)))
        np.testing.assert_array_equal(lossless.rgba[..., :3], self.picture)

    def test_sixteen_bits(self) -> None:
        for name in ("png", "tiff"):
            with self.subTest(format=name):
                same = by_opencv(written(self.picture, format_named(name), Wish(depth=16), INSIDE))
                self.assertEqual(same.dtype, np.uint16)
                np.testing.assert_array_equal(same, self.picture.astype(np.uint16) * 257)
                # Made smaller, it holds tones between those of 8 bits.
                small = by_opencv(written(self.picture, format_named(name), Wish(depth=16, size=40)))
                self.assertGreater(float((small % 257 != 0).mean()), 0.5)
                self.assertEqual(
                    recipe_inside(written(self.picture, format_named(name), Wish(depth=16), INSIDE)), INSIDE
                )
        for name in ("jpeg", "webp", "avif", "pdf"):
            with self.assertRaisesRegex(BadInput, "choose PNG or TIFF"):
                written(self.picture, format_named(name), Wish(depth=16))

    def test_transparency_is_kept_or_set_on_its_ground(self) -> None:
        disc = clear_disc()
        for name in ("png", "webp", "avif", "tiff"):
            with self.subTest(format=name):
                kept = by_opencv(written(disc, format_named(name), Wish(quality=100)))
                self.assertEqual((kept.shape[2], kept[2, 2, 3], kept[30, 40, 3]), (4, 0, 255))
                set_on = by_opencv(written(disc, format_named(name), Wish(ground="#0000ff", quality=100)))
                self.assertEqual(set_on.shape[2], 3)
                np.testing.assert_allclose(set_on[2, 2], (0, 0, 255), atol=3)
        white = by_opencv(written(disc, format_named("jpeg"), Wish()))
        np.testing.assert_allclose(white[2, 2], 255, atol=3)
        # What is clear has no say in the colours at the rim of a smaller one.
        disc[disc[..., 3] == 0] = 0
        rim = by_opencv(written(disc, format_named("png"), Wish(size=33)))
        solid = rim[rim[..., 3] > 30][:, :3].astype(int)
        self.assertLess(int(np.abs(solid - (200, 60, 30)).max()), 6)

    def test_sizes(self) -> None:
        for size in (32, 200):
            self.assertEqual(
                by_opencv(written(self.picture, format_named("png"), Wish(size=size))).shape[:2], (size * 3 // 4, size)
            )

    def test_pdf_is_as_large_on_paper_as_it_says(self) -> None:
        data = written(self.picture, format_named("pdf"), Wish(dpi=100), INSIDE, "Quay")
        path = self.folder / "x.pdf"
        path.write_bytes(data)
        said = subprocess.run(["pdfinfo", str(path)], capture_output=True, check=True, text=True).stdout
        self.assertRegex(said, r"Page size:\s+57\.6 x 43\.2 pts")
        self.assertRegex(said, r"Title:\s+Quay")
        subprocess.run(["pdftoppm", "-r", "100", "-png", str(path), str(self.folder / "page")], check=True)
        drawn = np.asarray(Image.open(next(self.folder.glob("page*.png"))).convert("RGB")).astype(int)
        self.assertEqual(drawn.shape, (60, 80, 3))
        self.assertLess(float(np.abs(drawn - self.picture).mean()), 12)
        subprocess.run(["pdfimages", "-png", str(path), str(self.folder / "held")], check=True)
        held = np.asarray(Image.open(next(self.folder.glob("held*.png"))).convert("RGB"))
        np.testing.assert_array_equal(held, self.picture)

    def test_openraster_has_source_take_and_region(self) -> None:
        solid = np.dstack([self.picture, np.full((60, 80), 255, np.uint8)])
        layers = (("source", solid), ("take", solid[:, ::-1].copy()))
        data = written(self.picture, format_named("ora"), Wish(), INSIDE, "quay", layers)
        with zipfile.ZipFile(io.BytesIO(data)) as file:
            self.assertEqual(file.namelist()[0], "mimetype")
            merged = np.asarray(Image.open(io.BytesIO(file.read("mergedimage.png"))).convert("RGB"))
        np.testing.assert_array_equal(merged, self.picture)
        self.assertEqual([layer.name for layer in openraster.read(data).layers], ["source", "take"])

    def test_a_format_is_named_as_people_name_it(self) -> None:
        self.assertEqual([format_named(n).name for n in ("JPG", "tif", "PNG")], ["jpeg", "tiff", "png"])
        with self.assertRaisesRegex(BadInput, "use one of png, jpeg"):
            format_named("psd")
        self.assertTrue(all(shutil.which(tool) for tool in ("exiftool", "pdftoppm")))
        self.assertEqual(len({form.suffix for form in formats().values()}), len(formats()))


class Sheets(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def test_every_picture_stands_on_a_page_with_its_lines_and_none_over_another(self) -> None:
        entries = [Entry(harbour(60, 80 + 10 * (k % 3), k), (f"take {k}", "composition 90")) for k in range(11)]
        pages = laid_out(entries, SheetWish(paper="a5", columns=3, title="Lantern walk"))
        self.assertEqual(sum(len(page.spots) for page in pages), 11)
        for page in pages:
            for spot in page.spots:
                self.assertLessEqual(spot.x + spot.width, page.width - 30)
                self.assertLessEqual(spot.y + spot.height + 20, page.height - 30)
                self.assertAlmostEqual(spot.width / spot.height, spot.entry.picture.shape[1] / 60, places=5)
        path = self.folder / "sheet.pdf"
        path.write_bytes(as_pdf(pages))
        told = subprocess.run(["pdfinfo", str(path)], capture_output=True, check=True, text=True).stdout
        self.assertRegex(told, rf"Pages:\s+{len(pages)}")
        self.assertRegex(told, r"Page size:\s+595\.\d+ x 419\.\d+")
        text = subprocess.run(["pdftotext", str(path), "-"], capture_output=True, check=True, text=True).stdout
        self.assertTrue(all(f"take {k}" in text for k in range(11)))
        self.assertIn("Lantern walk", text)
        drawn = as_picture(pages[0], 72)
        spot = pages[0].spots[0]
        middle = drawn[round(spot.y + spot.height / 2), round(spot.x + spot.width / 2)].astype(int)
        there = spot.entry.picture[28:32, 38:42].reshape(-1, 3).mean(0)
        self.assertLess(float(np.abs(middle - there).max()), 60)


class Inside(unittest.TestCase):
    def test_a_hostile_packet_is_no_recipe(self) -> None:
        plain = Image.fromarray(harbour(16, 16))
        bomb = b'<!DOCTYPE x [<!ENTITY a "b">]><x warmtide:recipe="&a;"/>'
        for packet in (bomb, b'warmtide:recipe="[1]"', b'warmtide:recipe="{', b"\xff" * 100, xmp_of({})[:-60]):
            out = io.BytesIO()
            plain.save(out, "JPEG", xmp=packet)
            self.assertIn(recipe_inside(out.getvalue()), (None, {}))


class Names(unittest.TestCase):
    def test_fields_are_filled_and_no_two_are_alike(self) -> None:
        many = [{"study": "Quay, at night/2", "look": "oil", "strength": 0.5, "seed": 7}] * 2
        self.assertEqual(
            names_of("{study}-{look}-{strength}-{seed}", many, "png"),
            ["Quay,-at-night-2-oil-0.5-7.png", "Quay,-at-night-2-oil-0.5-7-2.png"],
        )
        self.assertEqual(names_of("{number} {look}", many, "tif"), ["001 oil.tif", "002 oil.tif"])
        self.assertEqual(names_of("{look}", [{"look": "../../etc"}], "png"), ["etc.png"])

    def test_patterns_that_name_folders_or_nothing_known_are_refused(self) -> None:
        for pattern, says in (
            ("../{look}", "leave out /"), ("a\\b", "leave out /"), (".hidden", "dot"), ("{colour}", "no field {colour}"), ("{look", "stands alone"),
            ("", "1 to 200"), ("{look!r}", "no field"), ("{look:99}", "leave out /"), ("{seed.real}", "no field"),
        ):  # fmt: skip
            with self.subTest(pattern=pattern), self.assertRaisesRegex(BadInput, says):
                names_of(pattern, [{}], "png")
