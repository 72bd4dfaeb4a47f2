"""An hour's work made again from its last picture alone and the photo that it began with."""

import json
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path
from typing import Any

import numpy as np

from tests.journey import Journey, Worker, journey
from tests.stack import ROOT, shared_stack
from warmtide.core.job.replay import Replayed, replay
from warmtide.core.job.told import original_key
from warmtide.core.pictures.image import decode, png
from warmtide.core.pictures.inside import recipe_inside


class MadeAgain(unittest.TestCase):
    made: Journey

    @classmethod
    def setUpClass(cls) -> None:
        cls.http = shared_stack().client
        cls.made = journey(shared_stack(), 271)

    def find(self, key: str, name: str) -> bytes | None:
        return self.made.photo if key == original_key(self.made.photo) else None

    def saved(self, kind: str, number: str, form: str) -> bytes:
        order = {"of": [{"kind": kind, "id": number}], "format": form}
        answer = self.http.post("/exports", data={"order": json.dumps(order)})
        self.assertEqual(answer.status_code, 200, answer.text[:200])
        return answer.content

    def again(self, data: bytes, steps: int) -> Replayed:
        made = replay(recipe_inside(data) or {}, self.find)
        self.assertEqual(made.steps, steps)
        np.testing.assert_array_equal(made.picture[..., :3], decode(data).rgba[..., :3])
        return made

    def test_mixed_painted_over_and_restyled_in_a_region(self) -> None:
        # Two takes of the photo, one carried on; mixed, restyled, touched, restyled in a region.
        for form in ("tiff", "png"):
            self.assertTrue(self.again(self.saved("take", self.made.last["id"], form), 7).same)
        self.assertTrue(self.again(self.saved("take", self.made.third["id"], "png"), 5).same)

    def test_made_larger_at_its_end(self) -> None:
        self.again(self.saved("enlargement", self.made.larger["id"], "tiff"), 8)

    def test_saved_by_its_key_it_carries_its_way_too(self) -> None:
        data = self.http.get(f"/takes/{self.made.last['id']}/image", params={"save": True}).content
        self.assertTrue(self.again(data, 7).same)
        kept = recipe_inside(self.http.get(f"/takes/{self.made.last['id']}/image").content) or {}
        self.assertNotIn("parts", kept, "what is kept does not hold it once more")

    def test_a_cut_out_and_what_was_made_of_it(self) -> None:
        cut = self.http.post(f"/sources/{self.made.source}/cut").json()
        asked = {"source_id": cut["id"], "recipe": {"look": "pencil", "size": 96}, "spans": []}
        sweep = self.http.post("/sweeps", json=asked).json()
        (take,) = shared_stack().settled(self.made.id, sweep["id"])["takes"]
        self.assertTrue(self.again(self.saved("take", take["id"], "png"), 2).same)

    def test_the_command_says_so_and_finds_what_a_file_has_no_room_for_in_the_study(self) -> None:
        with tempfile.TemporaryDirectory() as name:
            folder = Path(name)
            (folder / "originals").mkdir()
            (folder / "originals" / "any-name.png").write_bytes(self.made.photo)
            (folder / "last.tif").write_bytes(self.saved("take", self.made.last["id"], "tiff"))
            code, told = self.run_command(folder / "last.tif", folder / "originals", "-o", folder / "again.png")
            self.assertEqual((code, told), (0, {"same": True, "differing": 0, "steps": 7, "engine": told["engine"]}))
            again, here = (decode((folder / n).read_bytes()).rgba for n in ("again.png", "last.tif"))
            np.testing.assert_array_equal(again, here)
            (folder / "study.zip").write_bytes(self.http.get(f"/studies/{self.made.id}/file").content)
            (folder / "none").mkdir()
            self.assertEqual(self.run_command(folder / "last.tif", folder / "none")[0], 2)
            # As it comes out of a format that has no room for what was made by hand.
            data = (folder / "last.tif").read_bytes()
            inside = {k: v for k, v in (recipe_inside(data) or {}).items() if k != "parts"}
            (folder / "bare.png").write_bytes(png(decode(data).rgba[..., :3].copy(), inside))
            self.assertEqual(self.run_command(folder / "bare.png", folder / "originals")[0], 2)
            code, told = self.run_command(folder / "bare.png", folder / "study.zip")
            self.assertEqual((code, told["same"], told["steps"]), (0, True, 7))

    def test_a_saved_take_that_was_brought_in_is_an_original(self) -> None:
        saved = self.saved("take", self.made.second["id"], "png")
        study = self.http.post("/studies", files={"file": ("saved.png", saved)}).json()
        work = Worker(shared_stack(), study["id"])
        recipe = {"look": "pencil", "size": 96}
        (take,) = work.swept(study["sources"][0]["id"], recipe, [])
        pair = {"sources": [study["sources"][0]["id"]], "takes": [take["id"]], "weights": [1, 2]}
        mixed = work.post(f"/studies/{study['id']}/sources", pair)["id"]
        (last,) = work.swept(mixed, recipe, [])
        made = replay(
            recipe_inside(self.saved("take", last["id"], "png")) or {},
            lambda key, _: saved if key == original_key(saved) else None,
        )
        self.assertEqual((made.same, made.steps), (True, 3), "nothing before it is asked for")

    def run_command(self, file: Path, sources: Path, *more: object) -> tuple[int, dict[str, Any]]:
        command = [sys.executable, "-m", "warmtide", "replay", file, "--sources", sources, "--json", *more]
        done = subprocess.run([str(part) for part in command], cwd=ROOT, capture_output=True, text=True, check=False)
        return done.returncode, json.loads(done.stdout or "{}")
