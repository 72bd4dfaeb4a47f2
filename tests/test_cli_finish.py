"""Finishing from the command line, as a script sees it."""

import contextlib
import io
import json
import tempfile
import unittest
from pathlib import Path

from PIL import Image
from PIL.PngImagePlugin import PngInfo

from tests.pictures import as_file, disc_on_ground, harbour
from warmtide.cli import main
from warmtide.core.pictures.image import decode
from warmtide.core.pictures.inside import recipe_inside


class Finishing(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.picture = self.folder / "sources" / "quay.png"
        self.picture.parent.mkdir()
        self.picture.write_bytes(as_file(harbour(120, 180, 5)))
        self.take = self.folder / "take.png"
        self.run_main("restyle", self.picture, "-o", self.take, "--look", "ink-comic", "--size", 96)

    def run_main(self, *arguments: object) -> tuple[int, str, str]:
        out, err = io.StringIO(), io.StringIO()
        with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
            code = main([str(a) for a in arguments])
        return code, out.getvalue(), err.getvalue()

    def size(self, path: Path) -> tuple[int, int]:
        return decode(path.read_bytes()).rgba.shape[:2]

    def test_a_take_is_painted_again_from_its_source_and_a_photo_made_larger(self) -> None:
        out = self.folder / "large.png"
        code, said, _ = self.run_main(
            "enlarge",
            self.take,
            "-o",
            out,
            "--size",
            180,
            "--way",
            "painted",
            "--sources",
            self.picture.parent,
            "--json",
        )
        self.assertEqual((code, json.loads(said)["size"], self.size(out)), (0, [180, 120], (120, 180)))
        for way in ("detail", "edges", "area"):
            code, _, _ = self.run_main("enlarge", self.picture, "-o", out, "--factor", 1.5, "--way", way)
            self.assertEqual((code, self.size(out)), (0, (180, 270)), way)

    def test_a_cut_out_before_a_ground_is_painted_again(self) -> None:
        cut = self.picture.parent / "cut.png"
        rgba = Image.fromarray(disc_on_ground(96, 96)).convert("RGBA")
        rgba.putalpha(Image.fromarray((disc_on_ground(96, 96)[..., 0] < 100).astype("uint8") * 255))
        rgba.save(cut)
        take, out = self.folder / "thing.png", self.folder / "o.png"
        self.run_main("restyle", cut, "-o", take, "--look", "enamel", "--size", 64)
        code, _, err = self.run_main("enlarge", take, "-o", out, "--way", "painted", "--sources", self.picture.parent)
        self.assertEqual((code, self.size(out)), (0, (128, 128)), err)

    def test_transparency_comes_along(self) -> None:
        cut = self.folder / "cut.png"
        rgba = Image.fromarray(disc_on_ground(60, 60)).convert("RGBA")
        rgba.putalpha(Image.new("L", (60, 60), 0))
        rgba.save(cut)
        self.run_main("enlarge", cut, "-o", self.folder / "o.png")
        self.assertEqual(int(decode((self.folder / "o.png").read_bytes()).rgba[..., 3].max()), 0)

    def test_a_picture_is_traced(self) -> None:
        disc = self.folder / "disc.png"
        disc.write_bytes(as_file(disc_on_ground(96, 96)))
        out = self.folder / "disc.svg"
        code, said, _ = self.run_main("trace", disc, "-o", out, "--as", "areas", "--json")
        told = json.loads(said)
        self.assertEqual((code, len(told["colours"]), told["bytes"]), (0, 3, out.stat().st_size))
        self.assertIn(b'viewBox="0 0 96 96"', out.read_bytes())

    def test_pictures_are_exported_with_names_and_what_they_carry(self) -> None:
        out = self.folder / "x.tif"
        code, said, _ = self.run_main("export", self.take, "-o", out, "--depth", 16, "--dpi", 240, "--json")
        self.assertEqual((code, json.loads(said)["bytes"]), (0, out.stat().st_size))
        self.assertEqual((recipe_inside(out.read_bytes()) or {})["recipe"]["look"], "ink-comic")
        folder = self.folder / "many"
        code, _, _ = self.run_main(
            "export",
            self.take,
            self.picture,
            "-o",
            folder,
            "--format",
            "jpg",
            "--no-recipe",
            "--name",
            "{number}-{look}-{width}",
        )
        self.assertEqual(
            (code, sorted(p.name for p in folder.iterdir())), (0, ["001-ink-comic-96.jpg", "002-none-180.jpg"])
        )
        self.assertIsNone(recipe_inside((folder / "001-ink-comic-96.jpg").read_bytes()))

    def test_bad_input_is_one_line_and_nothing_is_written(self) -> None:
        out = ("-o", self.folder / "o.png")
        for arguments, words in (
            (("enlarge", self.take, *out, "--factor", 40), "1 to 16"),
            (("enlarge", self.take, *out, "--size", 9000), "8192"),
            (("enlarge", self.take, *out, "--size", 200, "--factor", 2), "not both"),
            (("enlarge", self.take, *out, "--way", "magic"), "use one of painted"),
            (("enlarge", self.picture, *out, "--way", "painted"), "holds no recipe"),
            (("enlarge", self.take, *out, "--way", "painted", "--sources", self.folder / "none"), "can't be read"),
            (("enlarge", self.take, *out, "--way", "fine", "--sources", self.folder), "is not in"),
            (("trace", self.take, *out, "--as", "dots"), "areas, lines, outlines"),
            (("trace", self.take, *out, "--colours", 99), "2 to 32"),
            (("export", self.take, *out, "--dpi", 0), "36 to 2400"),
            (("export", self.take, *out, "--quality", 101), "1 to 100"),
            (("export", self.take, *out, "--depth", 12), "8 or 16"),
            (("export", self.take, *out, "--format", "doc"), "use one of png"),
            (("export", self.take, *out, "--name", "../{look}"), "leave out /"),
            (("export", self.take, self.picture, "-o", self.take), "is a file"),
        ):
            with self.subTest(arguments=arguments[3:]):
                code, said, err = self.run_main(*arguments)
                self.assertEqual((code, said), (2, ""))
                self.assertEqual(err.count("\n"), 1, err)
                self.assertIn(words, err)
        self.assertFalse((self.folder / "o.png").exists())

    def test_a_saved_picture_is_made_again(self) -> None:
        code, said, _ = self.run_main("replay", self.take, "--sources", self.picture.parent, "--json")
        told = json.loads(said)
        self.assertEqual((code, told["same"], told["differing"], told["steps"]), (0, True, 0, 1))
        second, tiff, jpeg = self.folder / "second.png", self.folder / "second.tif", self.folder / "second.jpg"
        self.run_main("restyle", self.take, "-o", second, "--look", "pencil", "--size", 96)
        self.run_main("export", second, "-o", tiff)
        self.run_main("export", second, "-o", jpeg)
        again = self.folder / "again.png"
        for file in (tiff, jpeg):
            code, said, _ = self.run_main("replay", file, "--sources", self.picture.parent, "-o", again, "--json")
            self.assertEqual((code, json.loads(said)["steps"]), (0, 2), file)
        self.assertEqual(decode(again.read_bytes()).rgba.tobytes(), decode(second.read_bytes()).rgba.tobytes())
        code, _, err = self.run_main("replay", tiff, "--sources", self.folder / "sources" / "..")
        self.assertEqual((code, "quay.png" in err, err.count("\n")), (2, True, 1))
        touched = Image.open(second)
        touched.putpixel((3, 3), (1, 2, 3))
        touched.save(self.folder / "touched.png", pnginfo=_with_text(second))
        code, said, _ = self.run_main("replay", self.folder / "touched.png", "--sources", self.picture.parent)
        self.assertEqual((code, "1 pixels are others" in said), (1, True))
        code, _, err = self.run_main("replay", self.picture)
        self.assertEqual((code, "does not say how it was made" in err), (2, True))


def _with_text(path: Path) -> PngInfo:
    """What a saved picture carries, for another file."""
    info = PngInfo()
    for name, text in Image.open(path).text.items():  # type: ignore[attr-defined]
        info.add_itxt(name, text)
    return info
