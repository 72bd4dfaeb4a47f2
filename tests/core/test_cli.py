"""The command line as a script sees it."""

import contextlib
import io
import json
import tempfile
import unittest
from pathlib import Path

from tests.pictures import as_file, harbour
from warmtide.cli import main
from warmtide.core.image import decode, recipe_inside
from warmtide.core.looks.registry import looks as registered


class Commands(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.picture = self.folder / "in.png"
        self.picture.write_bytes(as_file(harbour()))

    def run_main(self, *arguments: object) -> tuple[int, str, str]:
        out, err = io.StringIO(), io.StringIO()
        with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
            code = main([str(a) for a in arguments])
        return code, out.getvalue(), err.getvalue()

    def test_restyle(self) -> None:
        out = self.folder / "new" / "out.png"
        code, said, _ = self.run_main(
            "restyle",
            self.picture,
            "-o",
            out,
            "--look",
            "pencil",
            "--size",
            96,
            "--steps",
            8,
            "--hold-lines",
            0.2,
            "--json",
        )
        self.assertEqual(code, 0)
        result = json.loads(said)
        self.assertEqual(set(result), {"seconds", "size", "key", "readings"})
        self.assertEqual(result["size"], [96, 64])
        self.assertEqual(decode(out.read_bytes()).rgba.shape[:2], (64, 96))
        inside = recipe_inside(out.read_bytes())
        assert inside is not None
        self.assertEqual(
            (inside["recipe"]["look"], inside["recipe"]["holds"]["lines"], inside["key"]),
            ("pencil", 0.2, result["key"]),
        )

    def test_every_phrase_says_what_it_was_understood_as(self) -> None:
        code, _, err = self.run_main(
            "restyle",
            self.picture,
            "-o",
            self.folder / "o.png",
            "--size",
            64,
            "--strength",
            0.2,
            "--prompt",
            "fog^1.2, rainy harbour, zebra",
            "--avoid",
            "vivid",
        )
        self.assertEqual(code, 0)
        self.assertIn("prompt: fog = fog\n", err)
        self.assertIn("prompt: rainy harbour = rain (not understood: harbour)", err)
        self.assertIn("prompt: zebra = nothing: without effect", err)
        self.assertIn("avoid: vivid = vivid", err)
        code, _, err = self.run_main("restyle", self.picture, "-o", self.folder / "o.png", "--prompt", "fog^9")
        self.assertEqual(code, 2)
        self.assertIn("weights go from 0.1 to 2", err)

    def test_sweep(self) -> None:
        folder = self.folder / "sweep"
        code, _, _ = self.run_main(
            "sweep", self.picture, "-o", folder, "--strength", "0.2..0.8/3", "--seed", "1,2", "--size", 96, "--steps", 6
        )
        self.assertEqual(code, 0)
        report = json.loads((folder / "readings.json").read_text())
        self.assertEqual(report["source"], "in.png")
        self.assertEqual([t["recipe"]["strength"] for t in report["takes"]], [0.2, 0.5, 0.8] * 2)
        for take in report["takes"]:
            self.assertTrue((folder / take["file"]).is_file())
            self.assertTrue({"file", "recipe", "seconds", "readings"} <= set(take))
        self.assertGreater(decode((folder / "sheet.png").read_bytes()).rgba.shape[1], 3 * 96)

    def test_measure_and_looks(self) -> None:
        code, said, _ = self.run_main("measure", self.picture, self.picture, "--json")
        readings = json.loads(said)
        self.assertEqual((code, readings["composition"], readings["look"], readings["warnings"]), (0, 100, None, []))
        self.assertEqual(set(readings), {"composition", "colour", "look", "parts", "worst", "warnings"})
        code, said, _ = self.run_main("looks", "--json")
        looks = json.loads(said)["looks"]
        self.assertEqual({look["name"] for look in looks}, set(registered()))
        self.assertEqual(set(looks[0]), {"name", "category", "kinds", "description", "strengths"})

    def test_bad_input_is_one_line_and_exit_code_two(self) -> None:
        out = ("-o", self.folder / "o.png")
        letter = self.folder / "letter.txt"
        letter.write_text("hello")
        for arguments, words in (
            (("restyle", self.picture, *out, "--strength", 1.2), "0 (source) to 1 (look)"),
            (("restyle", self.picture, *out, "--strength", "much"), "strength"),
            (("restyle", self.picture, *out, "--look", "fog"), "no look 'fog'"),
            (("restyle", self.picture, *out, "--sampler", "fog"), "sampler"),
            (("restyle", self.folder / "none.png", *out), "can't be read"),
            (("restyle", letter, *out), "not a picture"),
            (("restyle", self.picture), "-o"),
            (("sweep", self.picture, *out, "--seed", "1..500/500"), "at most 400"),
            (("sweep", self.picture, *out, "--strength", "0..1"), "0.2..0.9/8"),
        ):
            with self.subTest(arguments=arguments[3:]):
                code, said, err = self.run_main(*arguments)
                self.assertEqual((code, said), (2, ""))
                self.assertEqual(err.count("\n"), 1, err)
                self.assertIn(words, err)
        self.assertFalse((self.folder / "o.png").exists())
