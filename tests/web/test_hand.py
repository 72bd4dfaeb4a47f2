"""The Hand over HTTP: opened, changed, gone back in, made a source, files with layers."""

import io
import unittest
import zipfile
from typing import Any

import numpy as np
from PIL import Image

from tests.pictures import as_file, disc_on_ground, harbour
from tests.stack import shared_stack


class Hand(unittest.TestCase):
    def setUp(self) -> None:
        self.http = shared_stack().client
        answer = self.http.post("/studies", files={"file": ("quay.png", as_file(harbour(96, 144, 91)))})
        self.study: dict[str, Any] = answer.json()
        self.source = self.study["sources"][0]

    def opened(self, **wanted: Any) -> dict[str, Any]:
        answer = self.http.post(f"/studies/{self.study['id']}/stacks", json=wanted or {"source": self.source["id"]})
        self.assertEqual(answer.status_code, 201, answer.text)
        view: dict[str, Any] = answer.json()
        return view

    def kept(self, rgba: np.ndarray) -> dict[str, Any]:  # type: ignore[type-arg]
        answer = self.http.post("/layer-pictures", files={"file": ("layer.png", as_file(rgba))})
        self.assertEqual(answer.status_code, 201, answer.text)
        picture: dict[str, Any] = answer.json()
        return picture

    def with_layer(self, view: dict[str, Any], picture: dict[str, Any], **more: Any) -> dict[str, Any]:
        place = {"x": 40, "y": 30, "width": picture["width"], "height": picture["height"]}
        layer = {"id": f"l{view['revision']}", "name": "red", "picture": picture["picture"], "place": place, **more}
        stack = {**view["stack"], "layers": [*view["stack"]["layers"], layer]}
        answer = self.http.put(f"/stacks/{view['id']}", json={"revision": view["revision"], "stack": stack})
        self.assertEqual(answer.status_code, 200, answer.text)
        changed: dict[str, Any] = answer.json()
        return changed

    def seen(self, view: dict[str, Any]) -> np.ndarray:  # type: ignore[type-arg]
        answer = self.http.get(f"/stacks/{view['id']}/picture")
        return np.asarray(Image.open(io.BytesIO(answer.content)).convert("RGBA"))

    def test_a_source_is_touched_undone_and_made_a_source_that_remembers(self) -> None:
        view = self.opened()
        before = self.seen(view)
        np.testing.assert_array_equal(before[..., :3], harbour(96, 144, 91))
        red = np.zeros((20, 30, 4), np.uint8)
        red[..., (0, 3)] = 255
        view = self.with_layer(view, self.kept(red))
        after = self.seen(view)
        self.assertEqual(after[30, 40].tolist(), [255, 0, 0, 255])
        undone = self.http.post(f"/stacks/{view['id']}/step", json={"revision": view["revision"], "by": -1}).json()
        self.assertEqual((undone["before"], undone["after"], len(undone["stack"]["layers"])), (0, 1, 1))
        np.testing.assert_array_equal(self.seen(undone), before)
        again = self.http.post(f"/stacks/{view['id']}/step", json={"revision": undone["revision"], "by": 1}).json()
        np.testing.assert_array_equal(self.seen(again), after)
        made = self.http.post(f"/stacks/{view['id']}/source").json()
        self.assertEqual((made["stack_id"], made["parents"]), (view["id"], [self.source["id"]]))
        image = self.http.get(f"/sources/{made['id']}/image", params={"size": 144}).content
        np.testing.assert_array_equal(np.asarray(Image.open(io.BytesIO(image)).convert("RGB")), after[..., :3])
        self.assertEqual(self.opened(source=made["id"])["id"], view["id"])
        self.assertIn(view["id"], [card["id"] for card in self.http.get(f"/studies/{self.study['id']}/stacks").json()])

    def test_of_two_windows_the_later_is_told_and_nothing_is_overwritten(self) -> None:
        first = self.opened()
        red = self.kept(np.full((8, 8, 4), 255, np.uint8))
        changed = self.with_layer(first, red)
        answer = self.http.put(f"/stacks/{first['id']}", json={"revision": first["revision"], "stack": first["stack"]})
        self.assertEqual(answer.status_code, 409)
        self.assertIn("another window", answer.json()["message"])
        self.assertEqual(self.http.get(f"/stacks/{first['id']}").json(), changed)

    def test_a_new_change_after_undo_lets_the_undone_go(self) -> None:
        view = self.opened()
        picture = self.kept(np.full((8, 8, 4), 200, np.uint8))
        view = self.with_layer(self.with_layer(view, picture), picture)
        view = self.http.post(f"/stacks/{view['id']}/step", json={"revision": view["revision"], "by": -1}).json()
        view = self.with_layer(view, picture, opacity=0.5)
        self.assertEqual((view["before"], view["after"]), (2, 0))

    def test_an_empty_hand_and_a_take_can_be_opened(self) -> None:
        view = self.opened(width=120, height=80, colour="#336699")
        self.assertEqual(self.seen(view)[40, 60].tolist(), [0x33, 0x66, 0x99, 255])
        refused = self.http.post(f"/studies/{self.study['id']}/stacks", json={"width": 120})
        self.assertEqual(refused.status_code, 422)

    def test_a_thing_is_cut_out_and_a_hole_is_filled(self) -> None:
        disc = self.kept(np.dstack([disc_on_ground(96, 96), np.full((96, 96), 255, np.uint8)]))
        cut = self.http.post("/cuts", json={"picture": disc["picture"]})
        self.assertEqual(cut.status_code, 201, cut.text)
        pixels = self.http.get(f"/layer-pictures/{cut.json()['picture']}").content
        alpha = np.asarray(Image.open(io.BytesIO(pixels)))[..., 3]
        self.assertEqual((alpha[48, 48], alpha[3, 3]), (255, 0))
        view = self.opened()
        mask = np.zeros((96, 144, 3), np.uint8)
        mask[30:50, 40:60] = 255
        patch = self.http.post(f"/stacks/{view['id']}/fill", files={"file": ("m.png", as_file(mask))})
        self.assertEqual(patch.status_code, 201, patch.text)
        self.assertEqual([patch.json()[k] for k in ("left", "top", "width", "height")], [40, 30, 20, 20])
        healed = self.http.post(f"/stacks/{view['id']}/heal", files={"file": ("m.png", as_file(mask))}, data={"across": "30", "down": "0"})  # fmt: skip
        self.assertEqual(healed.status_code, 201, healed.text)
        wrong = self.http.post(f"/stacks/{view['id']}/fill", files={"file": ("m.png", as_file(mask[:50]))})
        self.assertEqual(wrong.status_code, 422)
        self.assertIn("one size", wrong.json()["message"])
        nothing = self.http.post(f"/stacks/{view['id']}/fill", files={"file": ("m.png", as_file(np.zeros_like(mask)))})
        self.assertIn("Nothing is selected", nothing.json()["message"])

    def test_layers_go_out_as_openraster_and_come_in_again(self) -> None:
        half = np.full((10, 10, 4), 128, np.uint8)
        view = self.with_layer(self.opened(), self.kept(half), opacity=0.5)
        data = self.http.get(f"/stacks/{view['id']}/openraster")
        self.assertEqual(data.headers["content-type"], "image/openraster")
        with zipfile.ZipFile(io.BytesIO(data.content)) as file:
            merged = np.asarray(Image.open(io.BytesIO(file.read("mergedimage.png"))).convert("RGBA"))
        np.testing.assert_array_equal(merged, self.seen(view))
        back = self.http.post(f"/studies/{self.study['id']}/openraster", files={"file": ("quay.ora", data.content)})
        self.assertEqual(back.status_code, 201, back.text)
        self.assertEqual([layer["name"] for layer in back.json()["stack"]["layers"]], ["quay", "red"])
        self.assertLessEqual(int(np.abs(self.seen(back.json()).astype(int) - merged).max()), 1)
        broken = self.http.post(
            f"/studies/{self.study['id']}/openraster", files={"file": ("a.ora", data.content[:200])}
        )
        self.assertEqual(broken.status_code, 422)

    def test_a_file_whose_layers_lie_nowhere_is_refused(self) -> None:
        data = self.http.get(f"/stacks/{self.opened()['id']}/openraster").content
        for what, instead in (('x="0"', 'x="99999999"'), ('opacity="1.0000"', 'opacity="nan"')):
            out = io.BytesIO()
            with zipfile.ZipFile(io.BytesIO(data)) as old, zipfile.ZipFile(out, "w") as new:
                for entry in old.namelist():
                    body = old.read(entry)
                    new.writestr(entry, body.replace(what.encode(), instead.encode()) if entry == "stack.xml" else body)
            answer = self.http.post(
                f"/studies/{self.study['id']}/openraster", files={"file": ("a.ora", out.getvalue())}
            )
            self.assertEqual(answer.status_code, 422, answer.text)
            self.assertTrue(answer.json()["message"].endswith("."))

    def test_a_plan_says_what_words_bring_into_a_region(self) -> None:
        body = {"source_id": self.source["id"], "recipe": {"size": 144, "prompt": "two tall pines, three gizmos"}}
        before = self.http.post("/plans", json=body).json()["words"][0]
        mask = np.zeros((96, 144, 3), np.uint8)
        mask[20:80, 20:80] = 255
        self.http.put(f"/sources/{self.source['id']}/region", files={"file": ("m.png", as_file(mask))})
        after, other = self.http.post("/plans", json=body).json()["words"]
        self.assertNotIn("2 pines", before["scene"])
        self.assertEqual((after["scene"], after["unknown"]), (["2 pines"], []))
        self.assertIn("gizmos", other["unknown"])

    def test_another_study_is_not_opened(self) -> None:
        other = self.http.post("/studies", files={"file": ("o.png", as_file(harbour(64, 96, 92)))}).json()
        answer = self.http.post(f"/studies/{other['id']}/stacks", json={"source": self.source["id"]})
        self.assertEqual(answer.status_code, 404)

    def test_what_can_not_be_kept_is_said(self) -> None:
        view = self.opened()
        layer = {**view["stack"]["layers"][0], "id": "x", "picture": "0" * 64}
        stack = {**view["stack"], "layers": [layer]}
        missing = self.http.put(f"/stacks/{view['id']}", json={"revision": 0, "stack": stack})
        self.assertIn("not kept here", missing.json()["message"])
        odd = {**view["stack"]["layers"][0], "mask": self.kept(np.full((9, 9, 4), 255, np.uint8))["picture"]}
        refused = self.http.put(
            f"/stacks/{view['id']}", json={"revision": 0, "stack": {**view["stack"], "layers": [odd]}}
        )
        self.assertIn("one size", refused.json()["message"])
        many = {**view["stack"], "layers": [{**layer, "id": f"a{k}"} for k in range(200)]}
        refused = self.http.put(f"/stacks/{view['id']}", json={"revision": 0, "stack": many})
        self.assertEqual(refused.status_code, 422)
        self.assertIn("layers", refused.json()["message"])
        wide = as_file(np.zeros((40, 9000, 3), np.uint8))
        answer = self.http.post("/layer-pictures", files={"file": ("wide.png", wide)})
        self.assertIn("8192", answer.json()["message"])
        self.assertEqual(self.http.get("/layer-pictures/nothing").status_code, 404)
