"""What the program sees in a source, kept phrases and further sources, over HTTP."""

import io
import json
import unittest
from typing import Any

import numpy as np
from PIL import Image

from tests.core.test_recolour import BLUE, RED, SVG, badge
from tests.pictures import as_file, disc_on_ground, harbour
from tests.stack import shared_stack


class Insight(unittest.TestCase):
    def setUp(self) -> None:
        self.http = shared_stack().client

    def begin(self, data: bytes, name: str = "in.png") -> dict[str, Any]:
        answer = self.http.post("/studies", files={"file": (name, data)})
        self.assertEqual(answer.status_code, 201, answer.text)
        study: dict[str, Any] = answer.json()
        return study

    def pixels(self, address: str, **query: Any) -> np.ndarray:  # type: ignore[type-arg]
        answer = self.http.get(address, params=query)
        self.assertEqual(answer.status_code, 200, answer.text)
        return np.asarray(Image.open(io.BytesIO(answer.content)))

    def test_colours_are_listed_tried_kept_and_older_takes_keep_theirs(self) -> None:
        source = self.begin(SVG, "sail.svg")["sources"][0]
        parts = self.http.get(f"/sources/{source['id']}/colours").json()
        self.assertIn(RED, [p["colour"] for p in parts])
        framing = {**source["framing"], "recolour": [{"part": RED, "now": "#00ff00"}]}
        image = f"/sources/{source['id']}/image"
        tried = self.pixels(image, size=128, **{"as": json.dumps(framing)})
        kept = self.pixels(image, size=128)
        self.assertFalse(np.array_equal(tried, kept))
        changed = self.http.patch(f"/sources/{source['id']}", json={"framing": framing}).json()
        self.assertNotEqual(changed["frame_key"], source["frame_key"])
        np.testing.assert_array_equal(self.pixels(image, size=128), tried)
        now = {p["colour"]: p["now"] for p in self.http.get(f"/sources/{source['id']}/colours").json()}
        self.assertEqual((now[RED], now[BLUE]), ("#00ff00", BLUE))

    def test_a_framing_that_says_nonsense_is_refused_in_one_sentence(self) -> None:
        source = self.begin(as_file(harbour()))["sources"][0]
        for text in ("{", '{"margin": 7}', '{"recolour": [{"part": "red", "now": "#000000"}]}'):
            answer = self.http.get(f"/sources/{source['id']}/image", params={"as": text})
            self.assertEqual(answer.status_code, 422, text)
            self.assertTrue(answer.json()["message"].endswith("."))
            self.assertNotIn("\n", answer.json()["message"])

    def test_a_plan_says_which_scene_is_asked_for(self) -> None:
        photo = self.begin(as_file(harbour(96, 144, 83)))
        flat = self.begin(as_file(disc_on_ground(96, 96)))

        def planned(study: dict[str, Any], prompt: str) -> dict[str, Any]:
            body = {"source_id": study["sources"][0]["id"], "recipe": {"size": 96, "prompt": prompt}}
            plan: dict[str, Any] = self.http.post("/plans", json=body).json()
            return plan

        plan = planned(photo, "lake, night, golden hour")
        self.assertEqual((plan["scene"]["title"], plan["scene"]["way"]), ("lake with mountains", "over"))
        self.assertEqual(plan["scene"]["conflicts"], ["Night and golden hour cannot be together: it is night."])
        self.assertEqual(
            [phrase["scene"] for phrase in plan["words"]], [["lake with mountains"], ["night"], ["golden hour"]]
        )
        self.assertEqual(planned(flat, "beach")["scene"]["way"], "behind")
        # A cut-out without a flat ground around it stands before a scene too: it is told by its transparency.
        rgba = np.dstack([harbour(96, 144, 84), np.full((96, 144), 255, np.uint8)])
        rgba[:30] = 0
        cut = self.begin(as_file(rgba))
        found = planned(cut, "beach")["scene"]
        self.assertEqual(found["way"], "behind")
        np.testing.assert_allclose(found["box"], (0, 30 / 96, 1, 1), atol=0.02)
        self.assertIsNone(planned(photo, "night")["scene"])

    def test_a_phrase_says_what_it_asks_of_a_part(self) -> None:
        study = self.begin(as_file(harbour(96, 144, 85)))

        def heard(look: str, prompt: str) -> list[list[str]]:
            body = {"source_id": study["sources"][0]["id"], "recipe": {"size": 96, "look": look, "prompt": prompt}}
            plan: dict[str, Any] = self.http.post("/plans", json=body).json()
            return [phrase["scene"] for phrase in plan["words"]]

        prompt = "white timber walls, green door, brick plinth, mountain lake"
        found = heard("built", prompt)
        self.assertEqual(found, [["walls: white timber"], ["doors: green"], ["plinth: brick"], ["lake with mountains"]])
        self.assertEqual(heard("product", "red enamel body, brass lid"), [["body: red enamel"], ["top: brass"]])
        # Oil hears the lake, a blueprint neither.
        self.assertEqual(heard("oil", prompt)[-1], ["lake with mountains"])
        self.assertEqual(heard("blueprint", prompt), [[], [], [], []])

    def test_a_phrase_says_what_it_does_to_the_look(self) -> None:
        source = self.begin(as_file(harbour(96, 144, 87)))["sources"][0]["id"]

        def planned(look: str, prompt: str, **more: Any) -> dict[str, Any]:
            recipe = {"size": 96, "look": look, "prompt": prompt, "guidance": 7, **more}
            spans = [{"control": "prompt", "values": [prompt, "pencil"]}]
            plan: dict[str, Any] = self.http.post(
                "/plans", json={"source_id": source, "recipe": recipe, "spans": spans}
            ).json()
            return plan

        plan = planned("oil", "misty charcoal^1.2, oil painting, dusk", avoid="charcoal")
        told = [(phrase["look"], phrase["concepts"]) for phrase in plan["words"]]
        self.assertEqual(told, [("charcoal, 60 % of the look", ["mist"]), ("the look itself", []), (None, ["dusk"])])
        # Nothing can be less of a look; each version speaks for itself.
        self.assertEqual(
            [(p["look"], p["concepts"], p["unheard"]) for p in plan["avoided"]], [(None, [], "a look can't be avoided")]
        )
        self.assertEqual(
            planned("oil", "charcoal, mist, pencil^0.5")["words"][2]["unheard"], "charcoal is mixed in already"
        )
        self.assertEqual([phrase["look"] for phrase in plan["versions"][1]], ["pencil, 50 % of the look"])
        self.assertIsNone(planned("gold", "charcoal")["words"][0]["look"])
        self.assertGreater(planned("oil", "stitch")["seconds"], planned("oil", "mist")["seconds"])

    def test_buildings_stand_out_of_doors(self) -> None:
        study = self.begin(as_file(harbour(96, 144, 86)))
        body = {
            "source_id": study["sources"][0]["id"],
            "recipe": {"size": 96, "look": "built", "prompt": "workshop table"},
        }
        scene = self.http.post("/plans", json=body).json()["scene"]
        self.assertEqual((scene["way"], len(scene["conflicts"])), ("none", 1))

    def test_a_description_says_what_kind_it_is_and_how_sure(self) -> None:
        source = self.begin(as_file(disc_on_ground(200, 200)))["sources"][0]
        said = self.http.get(f"/sources/{source['id']}/description").json()
        self.assertIn("flat art", [phrase["text"] for phrase in said])
        self.assertTrue(all(0 < phrase["sure"] <= 1 and isinstance(phrase["acts"], bool) for phrase in said))

    def test_what_holds_keep_can_be_seen(self) -> None:
        source = self.begin(as_file(harbour(160, 240)))["sources"][0]
        shown = self.pixels(f"/sources/{source['id']}/holds/lines", size=240)
        self.assertEqual((shown.shape, shown[..., 3].max() > 100), ((160, 240, 4), True))
        self.assertEqual(self.http.get(f"/sources/{source['id']}/holds/depth").status_code, 422)
        self.assertEqual(self.http.get(f"/sources/{source['id']}/holds/fog").status_code, 404)
        self.assertEqual(set(source["hold_ranges"]), {"lines", "shapes", "colours", "faces", "subject", "depth"})

    def test_a_detail_is_sized_by_each_method(self) -> None:
        source = self.begin(as_file(harbour(300, 450)))["sources"][0]
        details = []
        for method in ("nearest", "area", "lanczos"):
            framing = json.dumps({**source["framing"], "resampling": method})
            details.append(self.pixels(f"/sources/{source['id']}/detail", size=256, **{"as": framing}))
        self.assertEqual({d.shape for d in details}, {(128, 128, 3)})
        self.assertFalse(np.array_equal(details[0], details[1]) or np.array_equal(details[1], details[2]))

    def test_previews_are_made_once_and_differ_by_look(self) -> None:
        source = self.begin(as_file(harbour(128, 192, 77)))["sources"][0]
        seen = [
            self.http.get(f"/sources/{source['id']}/looks/{look}/preview", params={"frame": source["frame_key"]})
            for look in ("pencil", "oil", "pencil")
        ]
        self.assertEqual([answer.status_code for answer in seen], [200, 200, 200])
        self.assertEqual(seen[0].content, seen[2].content)
        self.assertNotEqual(seen[0].content, seen[1].content)
        self.assertIn("immutable", seen[0].headers["cache-control"])
        self.assertLessEqual(max(Image.open(io.BytesIO(seen[0].content)).size), 256)
        self.assertEqual(self.http.get(f"/sources/{source['id']}/looks/fog/preview").status_code, 422)

    def test_a_further_source_and_its_way_out(self) -> None:
        study = self.begin(as_file(harbour()))
        only = study["sources"][0]["id"]
        self.assertEqual(self.http.delete(f"/sources/{only}").status_code, 422)
        added = self.http.post(
            f"/studies/{study['id']}/sources/file", files={"file": ("two.png", as_file(badge()))}
        ).json()
        self.assertEqual((added["name"], added["has_alpha"]), ("two.png", True))
        sources = self.http.get(f"/studies/{study['id']}").json()["sources"]
        self.assertEqual([s["id"] for s in sources], [only, added["id"]])
        self.assertEqual(self.http.delete(f"/sources/{added['id']}").status_code, 204)
        self.assertEqual(len(self.http.get(f"/studies/{study['id']}").json()["sources"]), 1)
        refused = self.http.post(f"/studies/{study['id']}/sources/file", files={"file": ("no.png", b"no picture")})
        self.assertEqual(refused.status_code, 422)


class Phrases(unittest.TestCase):
    def setUp(self) -> None:
        self.http = shared_stack().client

    def test_sets_are_kept_changed_and_forgotten(self) -> None:
        body = {"name": "Evening", "prompt": "golden hour, mist^1.4", "avoid": "vivid"}
        made = self.http.post("/phrases", json=body)
        self.assertEqual(made.status_code, 201, made.text)
        place = f"/phrases/{made.json()['id']}"
        self.assertIn(made.json(), self.http.get("/phrases").json())
        self.assertEqual(self.http.put(place, json={**body, "name": "Late"}).json()["name"], "Late")
        self.assertEqual(self.http.delete(place).status_code, 204)
        self.assertNotIn("Late", [s["name"] for s in self.http.get("/phrases").json()])
        self.assertEqual(self.http.delete(place).status_code, 404)

    def test_weights_that_can_not_be_read_are_refused(self) -> None:
        for body in ({"name": "x", "prompt": "mist^9"}, {"name": "", "prompt": "mist"}):
            self.assertEqual(self.http.post("/phrases", json=body).status_code, 422)

    def test_a_plan_reads_every_version_and_suggests_near_words(self) -> None:
        data = as_file(harbour(64, 96))
        source = self.http.post("/studies", files={"file": ("in.png", data)}).json()["sources"][0]
        spans = [{"control": "prompt", "values": ["stormyish", "night"]}]
        recipe = {"prompt": "stormyish", "size": 64}
        plan = self.http.post("/plans", json={"source_id": source["id"], "recipe": recipe, "spans": spans}).json()
        self.assertEqual(plan["takes"], 2)
        self.assertEqual([v[0]["concepts"] for v in plan["versions"]], [[], ["night"]])
        self.assertIn("stormy", plan["words"][0]["suggestions"])
