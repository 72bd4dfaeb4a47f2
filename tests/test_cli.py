"""The command line as a script sees it."""

import contextlib
import io
import json
import tempfile
import unittest
from pathlib import Path

import numpy as np

from tests.pictures import as_file, harbour
from warmtide.cli import main
from warmtide.core.looks.registry import looks as registered
from warmtide.core.pictures.image import decode
from warmtide.core.pictures.inside import recipe_inside


class Scenes(unittest.TestCase):
    def run_scene(self, *arguments: object) -> tuple[int, str, str, Path]:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        out_file = Path(folder.name) / "new" / "scene.png"
        out, err = io.StringIO(), io.StringIO()
        with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
            code = main(["scene", *[str(a) for a in arguments], "-o", str(out_file)])
        return code, out.getvalue(), err.getvalue(), out_file

    def test_a_scene_is_drawn_and_says_what_it_understood(self) -> None:
        code, said, _, out = self.run_scene("cliff edge, gulls, sea behind", "--size", "96x64", "--seed", 3, "--json")
        self.assertEqual(code, 0)
        result = json.loads(said)
        self.assertEqual((result["place"], result["time"]), ("cliff", "day"))
        self.assertEqual(result["understood"]["gulls"], ["birds"])
        self.assertEqual(decode(out.read_bytes()).rgba.shape[:2], (64, 96))
        code, _, err, _ = self.run_scene("hills, space", "--size", "64")
        self.assertEqual(code, 0)
        self.assertIn("rolling hills is drawn, space is not", err)

    def test_a_layout_is_followed(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        layout = Path(folder.name) / "layout.png"
        picture = np.full((64, 96, 3), (150, 190, 230), np.uint8)
        picture[20:] = (90, 120, 60)
        picture[14:, 30:60] = (90, 120, 60)
        layout.write_bytes(as_file(picture))
        code, _, _, out = self.run_scene("hills", "--size", "96x64", "--layout", layout)
        self.assertEqual(code, 0)
        light = decode(out.read_bytes()).rgba[..., :3].astype(float).mean(-1)
        self.assertGreater(light[:10].mean(), light[30:].mean() + 20)

    def test_what_is_wrong_is_said_in_one_sentence(self) -> None:
        for arguments, message in (
            (("sandwich",), "No place is named in 'sandwich'; name one"),
            (("hills", "--size", "5x5"), "5 x 5 is out of reach"),
            (("hills", "--size", "big"), "'big' is not a size"),
            (("hills", "--seed", "-1"), "The seed is -1"),
            (("hills", "--layout", "/nowhere.png"), "/nowhere.png can't be read"),
        ):
            with self.subTest(arguments=arguments):
                code, _, err, out = self.run_scene(*arguments)
                self.assertEqual((code, out.exists()), (2, False))
                self.assertIn(message, err)
                self.assertEqual(err.strip().count("\n"), 0)


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

    def test_a_placement_is_read_or_refused(self) -> None:
        out = self.folder / "out.png"
        common = ("restyle", self.picture, "-o", out, "--size", 64, "--steps", 2, "--prompt", "beach, rays, overcast")
        code, _, err = self.run_main(*common, "--placement", "0.5,0.9,0.4,stands")
        self.assertEqual(code, 0)
        self.assertIn("beach = beach", err)
        self.assertIn("Rays need a sun", err)
        inside = recipe_inside(out.read_bytes())
        assert inside is not None
        self.assertEqual(inside["recipe"]["placement"], {"x": 0.5, "y": 0.9, "tall": 0.4, "stance": "stands"})
        for wrong, said in (
            ("0.5,0.9", "is not a placement"),
            ("a,b,c", "is not a placement"),
            ("0,0,0.4,leans", "A stance is"),
        ):
            code, _, err = self.run_main(*common, "--placement", wrong)
            self.assertEqual((code, said in err), (2, True), err)

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
            "fog^1.2, rainy zeppelin, zebra",
            "--avoid",
            "vivid",
        )
        self.assertEqual(code, 0)
        self.assertIn("prompt: fog = fog\n", err)
        self.assertIn("prompt: rainy zeppelin = rain (not understood: zeppelin)", err)
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

    def test_a_picture_is_described(self) -> None:
        code, said, _ = self.run_main("describe", self.picture, "--json")
        phrases = json.loads(said)["phrases"]
        self.assertEqual((code, set(phrases[0])), (0, {"text", "sign", "sure", "acts"}))
        code, said, _ = self.run_main("describe", self.picture)
        self.assertEqual(len(said.splitlines()), len(phrases))

    def test_two_looks_are_mixed_and_their_share_swept(self) -> None:
        out = self.folder / "mixed"
        code, said, _ = self.run_main(
            "sweep", self.picture, "-o", out, "--look", "oil", "--second-look", "pencil", "--second-share", "0.2,0.8",
            "--size", 96, "--steps", 6, "--json",
        )  # fmt: skip
        takes = json.loads(said)["takes"]
        self.assertEqual((code, [t["recipe"]["second_share"] for t in takes]), (0, [0.2, 0.8]))
        one, other = (decode((out / t["file"]).read_bytes()).rgba.astype(int) for t in takes)
        self.assertGreater(np.abs(one - other).mean(), 2)

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
            (("sweep", self.picture, *out, "--seed", "nan"), "numbers that can be reached"),
            (("sweep", self.picture, *out, "--seed", "1e400,2"), "numbers that can be reached"),
            (("sweep", self.picture, *out, "--steps", "inf"), "numbers that can be reached"),
            (("sweep", self.picture, *out, "--strength", "0..1/99999999999"), "at most 400"),
            (("sweep", self.picture, *out, "--steps", "1.5,2"), "whole numbers"),
            (("mix", self.picture, self.picture, *out, "--weights", "nan,1"), "numbers that can be reached"),
            (("mix", self.picture, self.picture, *out, "--size", 100000), "from 64 to 2048"),
            (("restyle", self.picture, *out, "--prompt", "x" * 900_000), "at most 2000 characters"),
            (("restyle", self.picture, *out, "--prompt", ", ".join(["mist"] * 101)), "at most 100 phrases"),
            (("restyle", self.picture, *out, "--prompt", "mist\x07"), "can't be seen"),
            (("check", "--data", self.folder / "none"), "no data folder"),
            (("serve", "--port", 99999), "is no port"),
            (("serve", "--data", letter), "is a file"),
            (("serve", "--data", self.folder / "new", "--workers", -1), "0 or more"),
        ):
            with self.subTest(arguments=arguments[3:]):
                code, said, err = self.run_main(*arguments)
                self.assertEqual((code, said), (2, ""))
                self.assertEqual(err.count("\n"), 1, err)
                self.assertLess(len(err), 700)
                self.assertIn(words, err)
        self.assertFalse((self.folder / "o.png").exists())

    def test_learn_and_use_a_look(self) -> None:
        look = self.folder / "own.npz"
        reference = self.folder / "ref.png"
        reference.write_bytes(as_file(harbour(96, 128, 5)))
        code, said, _ = self.run_main("learn", reference, "-o", look, "--name", "Quay dusk", "--json")
        self.assertEqual(code, 0)
        facts = json.loads(said)
        self.assertEqual((facts["name"], len(facts["id"])), ("Quay dusk", 12))
        out = self.folder / "out.png"
        code, _, err = self.run_main("restyle", self.picture, "-o", out, "--look", look, "--size", 96, "--steps", 6)
        self.assertEqual((code, err), (0, ""))
        inside = recipe_inside(out.read_bytes())
        assert inside is not None
        self.assertEqual(inside["recipe"]["look"], f"learned-{facts['id']}")
        code, _, err = self.run_main("restyle", self.picture, "-o", out, "--look", self.folder / "none.npz")
        self.assertEqual(code, 2)
        self.assertIn("can't be read", err)

    def test_region_marked_face_draft_and_mix(self) -> None:
        region = np.zeros((96, 144, 3), np.uint8)
        region[:, 72:] = 255
        (self.folder / "region.png").write_bytes(as_file(region))
        out = self.folder / "o.png"
        code, _, _ = self.run_main(
            "restyle", self.picture, "-o", out, "--size", 144, "--steps", 6, "--region", self.folder / "region.png",
            "--face", "0.7,0.3,0.1",
        )  # fmt: skip
        self.assertEqual(code, 0)
        np.testing.assert_array_equal(decode(out.read_bytes()).rgba[:, :72, :3], harbour()[:, :72])
        code, said, _ = self.run_main(
            "restyle", self.picture, "-o", out, "--size", 400, "--steps", 6, "--quality", "draft", "--json"
        )
        self.assertEqual(json.loads(said)["size"], [200, 134])
        code, _, _ = self.run_main("mix", self.picture, self.folder / "region.png", "-o", out, "--size", 96)
        self.assertEqual((code, decode(out.read_bytes()).rgba.shape[:2]), (0, (64, 96)))
        for arguments, words in (
            (("restyle", self.picture, "-o", out, "--face", "left"), "x,y,width"),
            (("restyle", self.picture, "-o", out, "--quality", "best"), "full, draft or glimpse"),
            (("restyle", self.picture, "-o", out, "--hold-depth", 0.5), "grey guide"),
            (("mix", self.picture, "-o", out), "two or three"),
            (("learn", self.picture, "-o", out, "--marks", 9), "from 0.2 to 2"),
        ):
            with self.subTest(words=words):
                code, _, err = self.run_main(*arguments)
                self.assertEqual(code, 2)
                self.assertIn(words, err)
