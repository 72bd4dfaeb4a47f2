"""The HTTP interface of a running Warm Tide."""

import io
import json
import threading
import time
import unittest
from collections.abc import Iterator
from typing import Any

import httpx
from PIL import Image

from tests.pictures import as_file, harbour
from tests.stack import PATIENCE, shared_stack
from warmtide.core.looks.registry import looks as registered
from warmtide.core.pictures.inside import recipe_inside

SMALL = {"size": 64, "steps": 4}


class Http(unittest.TestCase):
    def setUp(self) -> None:
        self.stack = shared_stack()
        self.http = self.stack.client

    def begin(self, seed: int = 1, name: str = "in.png") -> dict[str, Any]:
        answer = self.http.post("/studies", files={"file": (name, as_file(harbour(seed=seed)))})
        self.assertEqual(answer.status_code, 201, answer.text)
        study: dict[str, Any] = answer.json()
        return study

    def request(self, study: dict[str, Any], recipe: dict[str, Any], **spans: list[Any]) -> dict[str, Any]:
        stretched = [{"control": control, "values": values} for control, values in spans.items()]
        return {"source_id": study["sources"][0]["id"], "recipe": {**SMALL, **recipe}, "spans": stretched}

    def finished(self, study: dict[str, Any], sweep: str) -> dict[str, Any]:
        return self.stack.settled(study["id"], sweep)

    def test_from_a_file_to_a_saved_take(self) -> None:
        study = self.begin(seed=21, name="my_first-photo.png")
        self.assertEqual(study["name"], "my first photo")
        request = self.request(study, {"look": "pencil"}, strength=[0.2, 0.6])
        plan = self.http.post("/plans", json=request).json()
        self.assertEqual((plan["takes"], plan["existing"], plan["width"], plan["height"]), (2, 0, 64, 43))
        sweep = self.http.post("/sweeps", json=request).json()
        done = self.finished(study, sweep["id"])
        self.assertEqual([t["state"] for t in done["takes"]], ["done", "done"])
        take = done["takes"][1]
        mark = self.http.put(f"/studies/{study['id']}/marks/{take['id']}", json={"value": "keep", "note": "this one"})
        self.assertEqual(mark.status_code, 200)
        again = self.http.get(f"/studies/{study['id']}").json()
        self.assertEqual(again["marks"], [{"take_id": take["id"], "value": "keep", "note": "this one"}])
        saved = self.http.get(f"/takes/{take['id']}/image?save=true")
        self.assertIn('filename="my-first-photo-pencil-s0.60-seed7.png"', saved.headers["content-disposition"])
        inside = recipe_inside(saved.content)
        assert inside is not None
        self.assertEqual((inside["recipe"]["strength"], inside["source"]), (0.6, "my_first-photo.png"))
        preview = self.http.get(f"/takes/{take['id']}/preview")
        self.assertEqual(Image.open(io.BytesIO(preview.content)).format, "WEBP")
        source = self.http.get(f"/sources/{study['sources'][0]['id']}/image?size=64")
        self.assertEqual(Image.open(io.BytesIO(source.content)).size, (64, 43))
        self.assertNotIn("map", take["readings"])
        heat = Image.open(io.BytesIO(self.http.get(f"/takes/{take['id']}/heat").content))
        self.assertEqual((heat.size, heat.mode), ((64, 43), "RGBA"))
        self.assertEqual(
            self.http.get(f"/sweeps/{sweep['id']}/tips").json(),
            [{"values": {}, "strengths": 2, "tip": None, "place": None, "parts": []}],
        )
        card = next(c for c in self.http.get("/studies").json() if c["id"] == study["id"])
        self.assertEqual((card["best_take"], card["takes"], card["kept"]), (take["id"], 2, 1))
        self.assertEqual(self.http.post("/plans", json=request).json()["existing"], 2)

    def test_refusals_are_one_sentence(self) -> None:
        study = self.begin()
        for request, words in (
            (self.request(study, {"strength": 1.2}), "Strength goes from 0"),
            (self.request(study, {}, seed=[]), "empty"),
            (self.request(study, {}, seed=list(range(10000))), "10000 takes; at most 400"),
            (self.request(study, {"look": "fog"}), "no look"),
            (self.request(study, {"size": "wide"}), "Size is the long side"),
            ({"source_id": "x", "recipe": {}}, "source_id"),
            ({}, "source_id"),
        ):
            for place in ("/plans", "/sweeps"):
                answer = self.http.post(place, json=request)
                self.assertEqual(answer.status_code, 422, words)
                self.assertIn(words, answer.json()["message"])
        self.assertEqual(self.http.get(f"/studies/{study['id']}").json()["sweeps"], [])
        missing = "00000000-0000-0000-0000-000000000000"
        for path in (f"/studies/{missing}", "/studies/x", f"/takes/{missing}/image", "/nowhere"):
            answer = self.http.get(path)
            self.assertEqual(answer.status_code, 404, path)
            self.assertIn("nothing at this address", answer.json()["message"])

    def test_bad_files_leave_nothing_behind(self) -> None:
        before = len(self.http.get("/studies").json())
        files = len(list((self.stack.folder / "images").rglob("*")))
        for data in (b"", b"hello", as_file(harbour())[:500]):
            answer = self.http.post("/studies", files={"file": ("a.png", data)})
            self.assertEqual(answer.status_code, 422)
            self.assertTrue(answer.json()["message"].endswith("."))
        large = self.http.post("/studies", files={"file": ("a.png", b"\0" * 70_000_000)})
        self.assertEqual(large.status_code, 413)
        self.assertIn("at most 64 MB", large.json()["message"])
        self.assertEqual(len(self.http.get("/studies").json()), before)
        self.assertEqual(len(list((self.stack.folder / "images").rglob("*"))), files)

    def test_events_tell_of_progress_and_results_at_once(self) -> None:
        study = self.begin(seed=31)
        heard: list[tuple[float, str, dict[str, Any]]] = []
        ready = threading.Event()

        def listen() -> None:
            with httpx.stream(
                "GET", f"{self.stack.url}/api/studies/{study['id']}/events", timeout=PATIENCE, trust_env=False
            ) as stream:
                kind = ""
                for line in stream.iter_lines():
                    if line.startswith("event: "):
                        kind = line[7:]
                        ready.set()
                    elif line.startswith("data: "):
                        heard.append((time.time(), kind, json.loads(line[6:])))
                        if kind == "take" and heard[-1][2]["take"]["state"] == "done":
                            return

        thread = threading.Thread(target=listen)
        thread.start()
        self.assertTrue(ready.wait(10))
        request = self.request(study, {"strength": 1, "steps": 150, "size": 512})
        self.http.post("/sweeps", json=request)
        thread.join(30)
        states = [event["take"].get("state") for _, kind, event in heard if kind == "take"]
        self.assertEqual(states, ["running", "done"])
        steps = [event["take"]["step"] for _, kind, event in heard if kind == "progress"]
        self.assertGreater(len(steps), 1)
        self.assertEqual(steps, sorted(steps))

    def test_stop_keeps_what_is_done(self) -> None:
        study = self.begin(seed=41)
        request = self.request(study, {"size": 1024, "steps": 60}, seed=list(range(12)))
        sweep = self.http.post("/sweeps", json=request).json()
        time.sleep(0.5)
        self.http.post(f"/sweeps/{sweep['id']}/stop")
        done = self.finished(study, sweep["id"])
        states = [t["state"] for t in done["takes"]]
        self.assertIn("stopped", states)
        self.assertTrue(set(states) <= {"done", "stopped"})

    def test_framing_is_part_of_the_source(self) -> None:
        import numpy as np

        rgba = np.dstack([harbour(), np.zeros((96, 144), np.uint8)])
        study = self.http.post("/studies", files={"file": ("cut.png", as_file(rgba))}).json()
        source = study["sources"][0]
        self.assertTrue(source["has_alpha"])
        self.assertEqual(
            self.http.patch(f"/sources/{source['id']}", json={"framing": {"ground": "#102030"}}).status_code, 200
        )
        shown = Image.open(io.BytesIO(self.http.get(f"/sources/{source['id']}/image?size=64").content))
        self.assertEqual(shown.getpixel((5, 5)), (0x10, 0x20, 0x30))
        refused = self.http.patch(f"/sources/{source['id']}", json={"framing": {"ground": "blue"}})
        self.assertEqual(refused.status_code, 422)
        self.assertIn("#f4efe6", refused.json()["message"])

    def test_only_our_own_pages_change_anything(self) -> None:
        study = self.begin()
        elsewhere = self.http.patch(
            f"/studies/{study['id']}", json={"name": "x"}, headers={"Origin": "http://elsewhere.example"}
        )
        self.assertEqual(elsewhere.status_code, 403)
        self.assertEqual(self.http.get("/health", headers={"Host": "elsewhere.example"}).status_code, 400)
        own = self.http.patch(f"/studies/{study['id']}", json={"name": "Quay"}, headers={"Origin": self.stack.url})
        self.assertEqual(own.json()["name"], "Quay")
        self.assertEqual(self.http.delete(f"/studies/{study['id']}").status_code, 204)
        self.assertEqual(self.http.get(f"/studies/{study['id']}").status_code, 404)

    def test_a_request_must_say_how_long_it_is_and_be_short(self) -> None:
        def pieces() -> Iterator[bytes]:
            for _ in range(4):
                yield b'{"name": "x"}'

        study = self.begin(seed=53)
        place = f"/studies/{study['id']}"
        for content_type in ("application/json", "multipart/form-data; boundary=x"):
            refused = self.http.patch(place, content=pieces(), headers={"Content-Type": content_type})
            self.assertEqual(refused.status_code, 413, content_type)
            self.assertEqual(refused.json()["message"], "The request must say how long it is.")
        long = self.http.patch(place, json={"name": "x" * (1 << 20)})
        self.assertEqual((long.status_code, long.json()["message"]), (413, "The request is too large."))
        self.assertEqual(self.http.get(place).json()["name"], study["name"])

    def test_what_is_deleted_can_be_taken_back(self) -> None:
        study = self.begin(seed=51)
        sweep = self.http.post("/sweeps", json=self.request(study, {}, strength=[0.3, 0.6])).json()
        self.finished(study, sweep["id"])
        self.assertEqual(self.http.delete(f"/sweeps/{sweep['id']}").status_code, 204)
        self.assertEqual(self.http.get(f"/studies/{study['id']}").json()["sweeps"], [])
        back = self.http.post(f"/sweeps/{sweep['id']}/restore").json()
        self.assertEqual([t["state"] for t in back["takes"]], ["done", "done"])
        self.assertEqual(len(self.http.get(f"/studies/{study['id']}").json()["sweeps"]), 1)
        self.http.delete(f"/studies/{study['id']}")
        self.assertNotIn(study["id"], [card["id"] for card in self.http.get("/studies").json()])
        self.assertEqual(self.http.post(f"/studies/{study['id']}/restore").json()["name"], study["name"])
        self.assertIn(study["id"], [card["id"] for card in self.http.get("/studies").json()])

    def test_the_line_up_is_read_ordered_paused_and_stopped(self) -> None:
        study = self.begin(seed=52)
        slow = {"size": 512, "steps": 60}
        first, second = (
            self.http.post("/sweeps", json=self.request(study, slow, seed=seeds)).json()["id"]
            for seeds in ([1, 2, 3, 4, 5, 6], [11, 12])
        )

        def listed() -> list[dict[str, Any]]:
            queue: list[dict[str, Any]] = self.http.get("/queue").json()
            return [q for q in queue if q["study_id"] == study["id"]]

        self.assertEqual([q["id"] for q in listed()], [first, second])
        self.assertEqual((listed()[0]["study"], listed()[0]["total"]), (study["name"], 6))
        changed = self.http.patch("/queue", json={"order": [second], "paused": [first]}).json()
        mine = [q for q in changed if q["study_id"] == study["id"]]
        self.assertEqual([(q["id"], q["paused"]) for q in mine], [(second, False), (first, True)])
        self.assertEqual(self.http.patch("/queue", json={"orders": []}).status_code, 422)
        self.http.delete("/queue")
        self.assertEqual(listed(), [])
        states = {t["state"] for t in self.finished(study, first)["takes"]}
        self.assertIn("stopped", states)

    def test_drafts_are_finished_in_full_on_one_sheet(self) -> None:
        study = self.begin(seed=54)
        request = self.request(study, {"size": 512, "quality": "draft"}, strength=[0.3, 0.6, 0.8])
        drafts = self.finished(study, self.http.post("/sweeps", json=request).json()["id"])["takes"]
        self.assertEqual({t["width"] for t in drafts}, {256})
        chosen = [drafts[2]["id"], drafts[0]["id"]]
        full = self.http.post("/sweeps/finish", json={"takes": chosen}).json()
        self.assertEqual([t["recipe"]["strength"] for t in full["takes"]], [0.8, 0.3])
        done = self.finished(study, full["id"])["takes"]
        self.assertEqual([(t["state"], t["width"], t["recipe"]["quality"]) for t in done], [("done", 512, "full")] * 2)
        again = self.http.post("/sweeps/finish", json={"takes": [t["id"] for t in done]})
        self.assertEqual((again.status_code, again.json()["message"][:28]), (422, "None of these takes is a dra"))

    def test_the_shelf_shows_no_take_that_is_not_there_yet(self) -> None:
        study = self.begin(seed=57)
        sweep = self.http.post("/sweeps", json=self.request(study, {"size": 1024, "steps": 60, "strength": 1.0})).json()
        take = sweep["takes"][0]["id"]
        self.http.put(f"/studies/{study['id']}/marks/{take}", json={"value": "keep"})

        def card() -> dict[str, Any]:
            return next(found for found in self.http.get("/studies").json() if found["id"] == study["id"])

        self.assertIsNone(card()["best_take"])
        self.finished(study, sweep["id"])
        self.assertEqual((card()["best_take"], card()["kept"]), (take, 1))
        sizes = {found["study_id"]: found["bytes"] for found in self.http.get("/disk").json()["studies"]}
        self.assertGreater(sizes[study["id"]], 0)

    def test_thumbs_are_small(self) -> None:
        study = self.begin(seed=53)
        sweep = self.http.post("/sweeps", json=self.request(study, {"size": 256})).json()
        take = self.finished(study, sweep["id"])["takes"][0]
        answer = self.http.get(f"/thumbs/{take['thumb']}")
        self.assertEqual(max(Image.open(io.BytesIO(answer.content)).size), 200)
        for wrong in ("0" * 64, "..%2f..%2fetc", "abc"):
            self.assertEqual(self.http.get(f"/thumbs/{wrong}").status_code, 404)

    def test_choices_health_and_metrics(self) -> None:
        choices = self.http.get("/choices").json()
        self.assertEqual(
            {look["name"] for look in choices["looks"] if look["category"] != "learned"}, set(registered())
        )
        self.assertEqual(choices["takes_limit"], 400)
        self.assertEqual(self.http.get("/health").json()["workers"], 2)
        self.assertIn("warmtide_requests_total", self.http.get("/metrics").text)

    def test_every_address_of_the_interface_is_the_page(self) -> None:
        for path in ("/", "/study/abc/bench"):
            page = httpx.get(self.stack.url + path, trust_env=False)
            self.assertIn('<div id="root">', page.text)
            self.assertIn("default-src 'self'", page.headers["content-security-policy"])
