"""Finishing over HTTP: larger, traced, taken away."""

import io
import json
import time
import unittest
import zipfile
from typing import Any

import numpy as np
from PIL import Image

from tests.pictures import as_file, disc_on_ground, harbour
from tests.stack import PATIENCE, shared_stack
from warmtide.core.job.replay import replay
from warmtide.core.job.told import original_key
from warmtide.core.pictures.image import decode
from warmtide.core.pictures.inside import recipe_inside


class Finish(unittest.TestCase):
    def setUp(self) -> None:
        self.stack = shared_stack()
        self.http = self.stack.client
        answer = self.http.post("/studies", files={"file": ("quay.png", as_file(harbour(120, 180, 171)))})
        self.study: dict[str, Any] = answer.json()
        self.source = self.study["sources"][0]
        recipe = {"look": "ink-comic", "size": 128, "strength": 0.5}
        spans = [{"control": "seed", "values": [1, 2]}]
        asked = {"source_id": self.source["id"], "recipe": recipe, "spans": spans}
        sweep = self.http.post("/sweeps", json=asked).json()
        self.takes = self.stack.settled(self.study["id"], sweep["id"])["takes"]

    def of(self, kind: str, number: int = 0) -> dict[str, str]:
        return {"kind": kind, "id": self.takes[number]["id"] if kind == "take" else self.source["id"]}

    def larger(self, **asked: Any) -> list[dict[str, Any]]:
        answer = self.http.post(f"/studies/{self.study['id']}/enlargements", json=asked)
        self.assertEqual(answer.status_code, 201, answer.text)
        ids = [row["id"] for row in answer.json()]
        deadline = time.monotonic() + PATIENCE
        while time.monotonic() < deadline:
            rows = {row["id"]: row for row in self.http.get(f"/studies/{self.study['id']}/enlargements").json()}
            if all(rows[found]["state"] not in ("queued", "running") for found in ids):
                return [rows[found] for found in ids]
            time.sleep(0.1)
        raise AssertionError("the enlargements did not finish")

    def picture(self, row: dict[str, Any]) -> np.ndarray:  # type: ignore[type-arg]
        return np.asarray(Image.open(io.BytesIO(self.http.get(f"/enlargements/{row['id']}/image").content)))

    def test_a_take_is_made_larger_in_four_ways_and_each_once(self) -> None:
        ways = ["painted", "detail", "edges", "lanczos"]
        rows = self.larger(takes=[self.takes[0]["id"]], ways=ways, factor=2)
        self.assertEqual(
            [(row["way"], row["state"], row["width"]) for row in rows], [(way, "done", 256) for way in ways]
        )
        for row in rows:
            self.assertEqual(self.picture(row).shape[:2], (row["height"], row["width"]))
            self.assertGreater(row["figures"]["kept"], 95, row["way"])
            self.assertEqual(self.http.get(f"/enlargements/{row['id']}/preview").headers["content-type"], "image/webp")
        self.assertFalse(np.array_equal(self.picture(rows[0]), self.picture(rows[2])))
        again = self.larger(takes=[self.takes[0]["id"]], ways=ways, side=256)
        self.assertEqual([row["id"] for row in again], [row["id"] for row in rows])
        inside = recipe_inside(self.http.get(f"/enlargements/{rows[0]['id']}/image").content) or {}
        self.assertEqual((inside["key"], inside["enlarged"]["way"]), (self.takes[0]["key"], "painted"))
        self.assertEqual(self.http.delete(f"/enlargements/{rows[3]['id']}").status_code, 204)
        self.assertEqual(self.http.get(f"/enlargements/{rows[3]['id']}/image").status_code, 404)

    def test_a_source_is_made_larger_but_never_painted(self) -> None:
        (row,) = self.larger(sources=[self.source["id"]], ways=["detail"], factor=3)
        self.assertEqual((row["state"], row["width"], row["take_id"]), ("done", 540, None))
        asked = {"sources": [self.source["id"]], "ways": ["painted"], "factor": 2}
        answer = self.http.post(f"/studies/{self.study['id']}/enlargements", json=asked)
        self.assertEqual(answer.status_code, 422)
        self.assertIn("needs a take", answer.json()["message"])

    def test_what_is_under_way_can_be_stopped(self) -> None:
        asked = {"takes": [self.takes[1]["id"]], "ways": ["edges"], "side": 6000}
        (row,) = self.http.post(f"/studies/{self.study['id']}/enlargements", json=asked).json()
        stopped = self.http.post(f"/enlargements/{row['id']}/stop").json()
        self.assertIn(stopped["state"], ("stopped", "done"))
        (again,) = self.larger(takes=[self.takes[1]["id"]], ways=["edges"], factor=2)
        self.assertEqual(again["state"], "done")

    def test_bad_sizes_and_ways_are_one_sentence(self) -> None:
        for asked, says in (
            ({"ways": ["edges"], "factor": 2}, "at least one take"),
            ({"takes": [self.takes[0]["id"]], "ways": ["magic"], "factor": 2}, "use one of painted"),
            ({"takes": [self.takes[0]["id"]], "ways": ["edges"]}, "factor or a long side"),
            ({"takes": [self.takes[0]["id"]], "ways": ["edges"], "side": 64}, "8192"),
        ):
            answer = self.http.post(f"/studies/{self.study['id']}/enlargements", json=asked)
            self.assertEqual(answer.status_code, 422, asked)
            self.assertIn(says, answer.json()["message"])

    def test_a_take_is_traced(self) -> None:
        made = self.http.post("/studies", files={"file": ("disc.png", as_file(disc_on_ground(120, 120)))}).json()
        of = {"kind": "source", "id": made["sources"][0]["id"]}
        view = self.http.post("/traces", json={"of": of, "how": "areas"}).json()
        self.assertEqual((view["how"], view["width"], len(view["groups"])), ("areas", 120, 3))
        self.assertIn("<svg", view["svg"])
        self.assertGreater(view["nodes"], 8)
        two = self.http.post("/traces", json={"of": of, "how": "areas", "colours": 2}).json()
        self.assertEqual(len(two["groups"]), 2)
        self.assertEqual(self.http.post("/traces", json={"of": of, "how": "pixels"}).status_code, 422)

    def export(self, **order: Any) -> Any:
        return self.http.post("/exports", data={"order": json.dumps(order)})

    def test_one_picture_is_a_file_many_are_a_zip_with_names_by_the_pattern(self) -> None:
        one = self.export(of=[self.of("take")], format="tiff", wish={"dpi": 300, "depth": 16}, pattern="{look}-{seed}")
        self.assertEqual(one.headers["content-type"], "image/tiff")
        self.assertIn('filename="ink-comic-1.tif"', one.headers["content-disposition"])
        self.assertEqual((recipe_inside(one.content) or {})["key"], self.takes[0]["key"])
        many = self.export(
            of=[self.of("take", 0), self.of("take", 1), self.of("source")], format="jpeg", pattern="{number}-{look}"
        )
        with zipfile.ZipFile(io.BytesIO(many.content)) as file:
            self.assertEqual(file.namelist(), ["001-ink-comic.jpg", "002-ink-comic.jpg", "003-source.jpg"])
            self.assertIsNone(file.testzip())
            self.assertEqual(Image.open(io.BytesIO(file.read("001-ink-comic.jpg"))).size[0], 128)
        self.assertIn(".zip", many.headers["content-disposition"])
        layered = self.export(of=[self.of("take")], format="ora")
        with zipfile.ZipFile(io.BytesIO(layered.content)) as file:
            self.assertIn(b'name="take"', file.read("stack.xml"))
            self.assertIn(b'name="source"', file.read("stack.xml"))

    def test_a_source_goes_out_with_all_its_pixels_and_grows_from_them(self) -> None:
        wide = np.ascontiguousarray(np.repeat(harbour(20, 60, 9), 80, axis=1))
        made = self.http.post("/studies", files={"file": ("wide.png", as_file(wide))}).json()
        of = {"kind": "source", "id": made["sources"][0]["id"]}
        np.testing.assert_array_equal(decode(self.export(of=[of]).content).rgba[..., :3], wide)
        self.study = made
        (row,) = self.larger(sources=[of["id"]], ways=["nearest"], side=6000)
        columns = self.picture(row)[10, ::5]
        self.assertEqual(len(np.unique(columns.reshape(-1, 3), axis=0)), len(np.unique(wide[8].reshape(-1, 3), axis=0)))

    def test_a_saved_take_finds_its_sheet_among_later_ones(self) -> None:
        first = self.http.get(f"/studies/{self.study['id']}").json()["sweeps"][0]
        again = {"source_id": self.source["id"], "recipe": {"look": "pencil", "size": 64, "steps": 4}, "spans": []}
        self.stack.settled(self.study["id"], self.http.post("/sweeps", json=again).json()["id"])
        saved = recipe_inside(self.export(of=[self.of("take")], format="webp").content) or {}
        view = self.http.post("/saved", json=saved).json()
        self.assertEqual((view["take"]["id"], view["take"]["sweep_id"]), (self.takes[0]["id"], first["id"]))
        self.assertEqual(view["source"]["id"], self.source["id"])
        unknown = self.http.post("/saved", json={**saved, "key": "0" * 64, "source": "nowhere.png"}).json()
        self.assertEqual((unknown["take"], unknown["source"]), (None, None))
        # Its source is found by the picture that it gives, where the take itself is gone.
        self.http.delete(f"/sweeps/{first['id']}")
        view = self.http.post("/saved", json=saved).json()
        self.assertEqual((view["take"], view["source"]["id"]), (None, self.source["id"]))
        self.assertEqual(self.http.post("/saved", json={"recipe": {"look": "fog"}}).status_code, 422)

    def test_what_would_come_is_told_before(self) -> None:
        order = {"of": [self.of("take", 0), self.of("take", 1)], "format": "jpeg", "wish": {"quality": 90, "size": 64}}
        told = self.http.post("/exports/preview", json=order).json()
        self.assertEqual((told["width"], told["count"], len(told["names"])), (64, 2, 2))
        high = self.http.post("/exports/preview", json={**order, "wish": {"quality": 100, "size": 64}}).json()
        self.assertGreater(high["bytes"], told["bytes"])
        data = self.export(**{**order, "of": order["of"][:1]}).content
        self.assertEqual(len(data), told["bytes"])

    def test_what_was_carried_on_and_made_larger_is_made_again_from_its_file_and_the_original(self) -> None:
        carried = self.http.post(
            f"/studies/{self.study['id']}/sources", json={"takes": [self.takes[0]["id"]], "sources": []}
        ).json()
        asked = {
            "source_id": carried["id"],
            "recipe": {"look": "pencil", "size": 96, "strength": 0.4, "steps": 8},
            "spans": [],
        }
        sweep = self.http.post("/sweeps", json=asked).json()
        (take,) = self.stack.settled(self.study["id"], sweep["id"])["takes"]
        original = as_file(harbour(120, 180, 171))

        def find(key: str, name: str) -> bytes | None:
            return original if key == original_key(original) and name == "quay.png" else None

        saved = self.export(of=[{"kind": "take", "id": take["id"]}], format="tiff").content
        again = replay(recipe_inside(saved) or {}, find)
        self.assertEqual((again.same, again.steps), (True, 2))
        np.testing.assert_array_equal(again.picture, decode(saved).rgba[..., :3])
        (row,) = self.larger(takes=[take["id"]], ways=["painted"], factor=2)
        large = self.http.get(f"/enlargements/{row['id']}/image").content
        again = replay(recipe_inside(large) or {}, find)
        self.assertEqual(again.steps, 3)
        np.testing.assert_array_equal(again.picture, decode(large).rgba[..., :3])

    def test_contact_sheets_on_paper(self) -> None:
        of = [self.of("take", 0), self.of("take", 1)]
        order = {"of": of, "wish": {"paper": "a5", "columns": 2, "recipes": True, "title": "Lantern walk"}}
        sheet = self.http.post("/exports/sheet", data={"order": json.dumps(order)})
        self.assertEqual(sheet.headers["content-type"], "application/pdf")
        self.assertIn("-sheet.pdf", sheet.headers["content-disposition"])
        drawn = self.http.post("/exports/sheet", data={"order": json.dumps({**order, "form": "png"})})
        self.assertEqual(Image.open(io.BytesIO(drawn.content)).size, (1240, 874))
        many = {**order, "form": "png", "of": of * 10, "wish": {"paper": "a5", "columns": 2}}
        with zipfile.ZipFile(
            io.BytesIO(self.http.post("/exports/sheet", data={"order": json.dumps(many)}).content)
        ) as file:
            self.assertGreater(len(file.namelist()), 1)
        wrong = self.http.post("/exports/sheet", data={"order": json.dumps({**order, "wish": {"columns": 0}})})
        self.assertEqual(wrong.status_code, 422)

    def test_a_take_dragged_out_is_a_file(self) -> None:
        answer = self.http.get(f"/exports/take/{self.takes[0]['id']}")
        self.assertEqual(answer.headers["content-type"], "image/png")
        self.assertIn("attachment", answer.headers["content-disposition"])
        self.assertEqual(self.http.get(f"/exports/dog/{self.takes[0]['id']}").status_code, 422)

    def test_orders_that_can_not_be_are_one_sentence_and_nothing_is_sent(self) -> None:
        take = self.of("take")
        for order, says in (
            ({"of": [take], "format": "psd"}, "use one of png"),
            ({"of": [take], "wish": {"dpi": 0}}, "dpi"),
            ({"of": [take], "pattern": "../{look}"}, "leave out /"),
            ({"of": [take], "format": "jpeg", "wish": {"depth": 16}}, "choose PNG or TIFF"),
            ({"of": []}, "at least 1"),
            ({"of": [{"kind": "take", "id": "x"}]}, "of"),
        ):
            with self.subTest(order=order):
                answer = self.export(**order)
                self.assertEqual(answer.status_code, 422)
                self.assertIn(says, answer.json()["message"])
        gone = {"kind": "take", "id": "00000000-0000-4000-8000-000000000000"}
        self.assertEqual(self.export(of=[gone]).status_code, 404)
