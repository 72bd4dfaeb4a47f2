"""Own looks, live drafts, kinds and depth guides over HTTP."""

import io
import json
import subprocess
import sys
import unittest
from typing import Any

import numpy as np
from PIL import Image

from tests.core.test_learned import hatched
from tests.pictures import as_file, disc_on_ground, harbour, keeper
from tests.stack import shared_stack
from warmtide.core.looks.learned.dictionary import read
from warmtide.core.maths.arrays import Byte


class Looks(unittest.TestCase):
    def setUp(self) -> None:
        self.http = shared_stack().client

    def learn(self, *pictures: Byte, title: str = "") -> Any:
        files = [("files", (f"ref_{k}.png", as_file(p))) for k, p in enumerate(pictures)]
        return self.http.post("/looks", files=files, data={"title": title})

    def begin(self, picture: Byte) -> dict[str, Any]:
        study: dict[str, Any] = self.http.post("/studies", files={"file": ("in.png", as_file(picture))}).json()
        return study

    def names(self) -> dict[str, str]:
        return {look["name"]: look["title"] for look in self.http.get("/choices").json()["looks"]}

    def test_learned_listed_saved_renamed_forgotten_brought_back(self) -> None:
        answer = self.learn(hatched(), hatched(160, 9), title="Quay hatch")
        self.assertEqual(answer.status_code, 201, answer.text)
        name = answer.json()["name"]
        self.assertEqual((answer.json()["category"], self.names()[name]), ("learned", "Quay hatch"))
        saved = self.http.get(f"/looks/{name}/file")
        self.assertIn('filename="Quay-hatch.npz"', saved.headers["content-disposition"])
        self.assertEqual(f"learned-{read(saved.content).id}", name)
        self.assertEqual(
            self.http.patch(f"/looks/{name}", json={"name": "Harbour hatch"}).json()["title"], "Harbour hatch"
        )
        self.assertEqual(self.http.delete(f"/looks/{name}").status_code, 204)
        self.assertNotIn(name, self.names())
        study = self.begin(harbour(64, 96))
        request = {"source_id": study["sources"][0]["id"], "recipe": {"look": name, "size": 64}, "spans": []}
        refused = self.http.post("/plans", json=request)
        self.assertEqual(refused.status_code, 422)
        self.assertIn("bring in its file", refused.json()["message"])
        back = self.http.post("/looks/file", files={"file": ("x.npz", saved.content)})
        self.assertEqual(back.json()["name"], name)
        self.assertEqual(self.http.post("/plans", json=request).status_code, 200)

    def test_what_is_no_look_is_refused_and_leaves_nothing(self) -> None:
        before = self.names()
        plain = np.full((100, 100, 3), 40, np.uint8)
        for answer, words in (
            (self.learn(plain), "one single colour"),
            (self.learn(*[hatched(64)] * 11), "one to 10"),
            (self.http.post("/looks", files=[("files", ("a.png", b"no picture"))]), "Reference 1"),
            (self.http.post("/looks/file", files={"file": ("x.npz", b"PK\x03\x04")}), "not a learned look"),
        ):
            with self.subTest(words=words):
                self.assertEqual(answer.status_code, 422)
                self.assertIn(words, answer.json()["message"])
        self.assertEqual(self.names(), before)
        self.assertEqual(self.http.get("/looks/learned-000000000000/file").status_code, 404)

    def test_a_live_draft_is_small_read_and_not_kept(self) -> None:
        study = self.begin(harbour(256, 384))
        body = {"source_id": study["sources"][0]["id"], "recipe": {"strength": 0.6, "look": "pencil"}}
        sizes = []
        for quality in ("draft", "glimpse", "full"):
            answer = self.http.post("/live", json={**body, "recipe": {**body["recipe"], "quality": quality}})
            self.assertEqual(answer.status_code, 200, answer.text)
            sizes.append(Image.open(io.BytesIO(answer.content)).size)
            readings = json.loads(answer.headers["warm-tide-readings"])
            self.assertTrue(0 < readings["figures"]["composition"] <= 100)
        # Live never renders in full: that is what the queue is for.
        self.assertEqual(sizes, [(256, 171), (128, 86), (256, 171)])
        self.assertEqual(self.http.get(f"/studies/{study['id']}").json()["sweeps"], [])
        refused = self.http.post("/live", json={**body, "recipe": {"strength": 3}})
        self.assertEqual((refused.status_code, "0 (source) to 1" in refused.text), (422, True))

    def test_a_take_becomes_a_source_and_two_are_mixed(self) -> None:
        study = self.begin(harbour(96, 144, 77))
        body = {
            "source_id": study["sources"][0]["id"],
            "recipe": {"size": 96, "steps": 4},
            "spans": [{"control": "strength", "values": [0.3, 0.6]}],
        }
        sweep = self.http.post("/sweeps", json=body).json()
        ids = [take["id"] for take in sweep["takes"]]
        early = self.http.post(f"/studies/{study['id']}/sources", json={"takes": ids[:1]})
        if early.status_code == 404:
            # A take that isn't rendered yet can't be carried on.
            shared_stack().settled(study["id"], sweep["id"])
            early = self.http.post(f"/studies/{study['id']}/sources", json={"takes": ids[:1]})
        made = early.json()
        self.assertEqual((made["parents"], made["width"], made["height"]), (ids[:1], 96, 64))
        seen = self.http.get(f"/sources/{made['id']}/image?size=96").content
        take = self.http.get(f"/takes/{ids[0]}/image").content
        np.testing.assert_array_equal(
            np.asarray(Image.open(io.BytesIO(seen))), np.asarray(Image.open(io.BytesIO(take)))
        )
        mixed = self.http.post(f"/studies/{study['id']}/sources", json={"takes": ids, "weights": [0.7, 0.3]}).json()
        self.assertEqual((mixed["parents"], "mixed" in mixed["name"]), (ids, True))
        for wrong in ({"takes": []}, {"takes": ids * 2}, {"takes": ids, "weights": [0, 0]}):
            with self.subTest(wrong=wrong):
                self.assertEqual(self.http.post(f"/studies/{study['id']}/sources", json=wrong).status_code, 422)

    def test_takes_are_read_again_from_the_command_line(self) -> None:
        study = self.begin(harbour(96, 144, 78))
        body = {"source_id": study["sources"][0]["id"], "recipe": {"size": 96, "steps": 4}, "spans": []}
        shared_stack().settled(study["id"], self.http.post("/sweeps", json=body).json()["id"])
        command = [sys.executable, "-m", "warmtide", "reread", "--data", str(shared_stack().folder)]
        for arguments, said in (((), "0 takes read again"), (("--all",), "1 takes read again")):
            run = subprocess.run(
                [*command, "--study", study["id"], *arguments], capture_output=True, text=True, check=False
            )
            self.assertEqual((run.returncode, run.stdout.strip()), (0, said), run.stderr)
        run = subprocess.run([*command, "--study", "first"], capture_output=True, text=True, check=False)
        self.assertEqual((run.returncode, "a number like" in run.stderr), (2, True))

    def test_a_region_is_where_takes_change_a_source(self) -> None:
        study = self.begin(harbour(128, 192, 79))
        source = study["sources"][0]
        self.assertIsNone(source["region_key"])
        self.assertEqual(self.http.get(f"/sources/{source['id']}/region").status_code, 404)
        body = {"source_id": source["id"], "recipe": {"size": 96, "steps": 4, "strength": 0.8}, "spans": []}
        whole = self.http.post("/sweeps", json=body).json()
        shared_stack().settled(study["id"], whole["id"])
        self.assertEqual(self.http.post("/plans", json=body).json()["existing"], 1)
        mask = np.zeros((128, 192, 3), np.uint8)
        mask[:, 96:] = 255
        given = self.http.put(f"/sources/{source['id']}/region", files={"file": ("r.png", as_file(mask))}).json()
        self.assertEqual(len(given["region_key"]), 12)
        kept = Image.open(io.BytesIO(self.http.get(f"/sources/{source['id']}/region").content))
        np.testing.assert_array_equal(np.asarray(kept), mask)
        # Another take than the whole one, and planned with this region whatever is painted after.
        self.assertEqual(self.http.post("/plans", json=body).json()["existing"], 0)
        part = self.http.post("/sweeps", json=body).json()
        self.assertIsNone(self.http.delete(f"/sources/{source['id']}/region").json()["region_key"])
        shared_stack().settled(study["id"], part["id"])

        def pixels(address: str) -> np.ndarray:
            return np.asarray(Image.open(io.BytesIO(self.http.get(address).content)).convert("RGB")).astype(int)

        before, after = (
            pixels(f"/sources/{source['id']}/image?size=96"),
            pixels(f"/takes/{part['takes'][0]['id']}/image"),
        )
        np.testing.assert_array_equal(after[:, :46], before[:, :46])
        self.assertGreater(float(np.abs(after - before)[:, 50:].mean()), 3)
        self.assertEqual(self.http.post("/plans", json=body).json()["existing"], 1)
        flat = np.zeros((20, 20, 3), np.uint8)
        refused = self.http.put(f"/sources/{source['id']}/region", files={"file": ("r.png", as_file(flat))})
        self.assertEqual((refused.status_code, "one single tone" in refused.json()["message"]), (422, True))

    def test_a_subject_is_shown_and_mended(self) -> None:
        study = self.begin(keeper(size=0.7))
        source = study["sources"][0]
        self.assertIsNone(source["subject_key"])
        address = f"/sources/{source['id']}/subject"
        seen = np.asarray(Image.open(io.BytesIO(self.http.get(address).content)).convert("L"))
        height, width = seen.shape
        self.assertGreater(int(seen[int(0.48 * height), width // 2]), 200)
        self.assertLess(int(seen[:10].max()), 90)
        self.assertEqual(self.http.get(f"{address}/strokes").status_code, 404)
        body = {
            "source_id": source["id"],
            "recipe": {"size": 160, "steps": 4, "strength": 0.8, "holds": {"subject": 1}},
            "spans": [],
        }
        before = self.http.post("/sweeps", json=body).json()
        shared_stack().settled(study["id"], before["id"])
        strokes = np.full((height, width, 3), 128, np.uint8)
        strokes[:, : width // 2], strokes[:, width // 2 :] = 0, 0
        strokes[: height // 6, : width // 6] = 255
        given = self.http.put(address, files={"file": ("s.png", as_file(strokes))}).json()
        self.assertEqual(len(given["subject_key"]), 12)
        mended = np.asarray(Image.open(io.BytesIO(self.http.get(address).content)).convert("L"))
        self.assertGreater(int(mended[height // 12, width // 12]), 240)
        self.assertLess(int(mended[height // 2, width // 2]), 15)
        kept = np.asarray(Image.open(io.BytesIO(self.http.get(f"{address}/strokes").content)).convert("L"))
        np.testing.assert_array_equal(kept, strokes[..., 0])
        overlay = self.http.get(f"/sources/{source['id']}/holds/subject?size=160")
        shown = np.asarray(Image.open(io.BytesIO(overlay.content)))[..., 3]
        self.assertGreater(int(shown[6, 8]), 100)
        self.assertEqual(int(shown[60, 80]), 0)
        # Takes are made with it: it is part of what names them.
        self.assertEqual(self.http.post("/plans", json=body).json()["existing"], 0)
        part = self.http.post("/sweeps", json=body).json()
        shared_stack().settled(study["id"], part["id"])
        one, other = (self.http.get(f"/takes/{s['takes'][0]['id']}/image").content for s in (before, part))
        self.assertNotEqual(one, other)
        self.assertIsNone(self.http.delete(address).json()["subject_key"])
        self.assertEqual(self.http.post("/plans", json=body).json()["existing"], 1)
        flat = np.full((20, 20, 3), 128, np.uint8)
        refused = self.http.put(address, files={"file": ("s.png", as_file(flat))})
        self.assertEqual((refused.status_code, "one single tone" in refused.json()["message"]), (422, True))

    def test_a_subject_is_cut_out_into_a_source(self) -> None:
        study = self.begin(keeper(size=0.7))
        source = study["sources"][0]
        made = self.http.post(f"/sources/{source['id']}/cut").json()
        self.assertEqual((made["has_alpha"], made["parents"], made["kind"]), (True, [source["id"]], source["kind"]))
        self.assertIn("cut out", made["name"])
        picture = Image.open(io.BytesIO(self.http.get(f"/sources/{made['id']}/original").content))
        alpha = np.asarray(picture.convert("RGBA"))[..., 3]
        height, width = alpha.shape
        self.assertEqual(int(alpha[:10].max()), 0)
        self.assertEqual(int(alpha[int(0.48 * height), width // 2]), 255)
        # What is painted out of the subject is not in the cut-out either.
        strokes = np.full((height, width, 3), 128, np.uint8)
        strokes[int(0.8 * height) :] = 0
        self.http.put(f"/sources/{source['id']}/subject", files={"file": ("s.png", as_file(strokes))})
        other = self.http.post(f"/sources/{source['id']}/cut").json()
        less = np.asarray(
            Image.open(io.BytesIO(self.http.get(f"/sources/{other['id']}/original").content)).convert("RGBA")
        )
        self.assertEqual(int(less[int(0.9 * height) :, :, 3].max()), 0)
        noise = np.random.default_rng(1).normal(128, 40, (120, 160, 3)).clip(0, 255).astype(np.uint8)
        nothing = self.begin(noise)["sources"][0]
        refused = self.http.post(f"/sources/{nothing['id']}/cut")
        self.assertEqual((refused.status_code, "paint its subject in" in refused.json()["message"]), (422, True))

    def test_marked_faces_lead_takes_and_are_found_again(self) -> None:
        study = self.begin(keeper(size=0.7))
        source = study["sources"][0]
        address = f"/sources/{source['id']}/faces"
        found = self.http.get(address).json()
        self.assertEqual((found["marked"], len(found["faces"]), source["people"]), (False, 1, True))
        body = {"source_id": source["id"], "recipe": {"size": 160, "steps": 4, "strength": 0.8}, "spans": []}
        before = self.http.post("/sweeps", json=body).json()
        shared_stack().settled(study["id"], before["id"])
        none = self.http.put(address, json={"faces": []}).json()
        self.assertEqual((len(none["faces_key"]), none["people"]), (12, False))
        self.assertEqual(self.http.post("/plans", json=body).json()["existing"], 0)
        # A take keeps the faces that it was planned with, whatever is marked after.
        part = self.http.post("/sweeps", json=body).json()
        moved = {"x": 0.2, "y": 0.6, "width": 0.2, "angle": 15}
        self.assertNotEqual(self.http.put(address, json={"faces": [moved]}).json()["faces_key"], none["faces_key"])
        told = self.http.get(address).json()
        self.assertTrue(told["marked"])
        self.assertEqual([{name: face[name] for name in moved} for face in told["faces"]], [moved])
        # No face is there: a mark is all that is known of it.
        self.assertEqual((told["faces"][0]["outlines"], told["faces"][0]["yaw"]), ([], None))
        done = shared_stack().settled(study["id"], part["id"])
        with_face, without = (self.http.get(f"/takes/{s['takes'][0]['id']}/image").content for s in (before, part))
        self.assertNotEqual(with_face, without)
        read = done["takes"][0]["readings"]["parts"]
        self.assertNotIn("faces", read)
        again = self.http.put(address, json={"faces": None}).json()
        self.assertEqual((again["faces_key"], again["people"]), (None, True))
        self.assertEqual(self.http.post("/plans", json=body).json()["existing"], 1)
        for wrong in ([{**moved, "width": 0}], [{**moved, "angle": 400}], [moved] * 25):
            with self.subTest(wrong=wrong):
                self.assertEqual(self.http.put(address, json={"faces": wrong}).status_code, 422)

    def test_found_faces_are_measured_on_the_picture_as_it_came(self) -> None:
        study = self.begin(np.ascontiguousarray(np.rot90(keeper(), 1)))
        source = study["sources"][0]
        self.http.patch(f"/sources/{source['id']}", json={"framing": {"turn": 90}})
        face = self.http.get(f"/sources/{source['id']}/faces").json()["faces"][0]
        self.assertAlmostEqual(face["x"], 0.48 * 0.75, delta=0.06)
        self.assertAlmostEqual(face["y"], 0.5, delta=0.03)
        self.assertAlmostEqual(face["angle"], -90, delta=4)
        # Its points lie on it, wherever the picture was turned to.
        self.assertEqual(len(face["outlines"]), 8)
        oval = np.array(face["outlines"][0])
        np.testing.assert_allclose(oval.mean(0), (face["x"], face["y"]), atol=0.02)

    def test_sources_are_mixed_by_weight(self) -> None:
        study = self.begin(harbour(96, 144, 77))
        file = {"file": ("b.png", as_file(harbour(120, 120, 5)))}
        second = self.http.post(f"/studies/{study['id']}/sources/file", files=file).json()
        ids = [study["sources"][0]["id"], second["id"]]
        tried = self.http.post(f"/studies/{study['id']}/mix", json={"sources": ids, "weights": [1, 0]})
        seen = np.asarray(Image.open(io.BytesIO(tried.content)).convert("RGB")).astype(int)
        self.assertLess(float(np.abs(seen - harbour(96, 144, 77)).mean()), 8)
        made = self.http.post(f"/studies/{study['id']}/sources", json={"sources": ids, "weights": [0.3, 0.7]}).json()
        # As large as the first one, named after the heavier one.
        self.assertEqual(
            (made["width"], made["height"], made["name"], made["parents"]), (144, 96, "b 3 mixed.png", ids)
        )
        other = self.begin(harbour(64, 64))["sources"][0]["id"]
        self.assertEqual(
            self.http.post(f"/studies/{study['id']}/mix", json={"sources": [ids[0], other]}).status_code, 404
        )
        for wrong, words in (
            ({"sources": ids[:1]}, "two or three"), ({"sources": ids, "weights": [1]}, "one weight a picture"),
            ({"sources": ids, "weights": [0, 0]}, "not all 0"), ({"sources": ids * 2}, "at most 3"),
        ):  # fmt: skip
            with self.subTest(wrong=wrong):
                refused = self.http.post(f"/studies/{study['id']}/sources", json=wrong)
                self.assertEqual((refused.status_code, words in refused.json()["message"]), (422, True), refused.text)

    def test_kind_depth_and_places(self) -> None:
        study = self.begin(disc_on_ground(200, 200))
        source = study["sources"][0]
        self.assertEqual((source["kind"], source["begin"]["holds"]["lines"]), ("flat art", 0.5))
        changed = self.http.patch(f"/sources/{source['id']}", json={"kind": "photo"}).json()
        self.assertEqual((changed["kind"], changed["framing"]), ("photo", source["framing"]))
        self.assertEqual(self.http.patch(f"/sources/{source['id']}", json={"kind": "poem"}).status_code, 422)

        photo = self.begin(harbour(160, 240))["sources"][0]
        request = {"source_id": photo["id"], "recipe": {"size": 160, "holds": {"depth": 0.8}}, "spans": []}
        self.assertIn("grey guide", self.http.post("/plans", json=request).json()["message"])
        guide = np.zeros((80, 120, 3), np.uint8)
        guide[20:50] = 255
        given = self.http.put(f"/sources/{photo['id']}/depth", files={"file": ("d.png", as_file(guide))})
        self.assertTrue(given.json()["has_depth"])
        self.assertEqual(self.http.post("/plans", json=request).status_code, 200)
        flat = np.zeros((20, 20, 3), np.uint8)
        self.assertEqual(
            self.http.put(f"/sources/{photo['id']}/depth", files={"file": ("d.png", as_file(flat))}).status_code, 422
        )
        self.assertFalse(self.http.delete(f"/sources/{photo['id']}/depth").json()["has_depth"])

        words = {"prompt": "pink sky, violet coat, red sail", "size": 160}
        plan = self.http.post("/plans", json={**request, "recipe": words}).json()
        self.assertEqual(
            [p["place"] for p in plan["words"]], ["in the sky", "in the clothes", "where the picture has it"]
        )
        self.assertEqual([p["found"] for p in plan["words"]], [True, False, True])
