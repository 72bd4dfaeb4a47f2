"""Other engines over HTTP: what is told of them, planned with them, refused, kept from them; and the owner's page."""

import time
import unittest
from typing import Any

from tests.engines.served import stand_in
from tests.pictures import as_file, harbour
from tests.stack import PATIENCE, shared_stack
from warmtide.core.model.recipe import ENGINE_VERSION
from warmtide.core.pictures.inside import recipe_inside
from warmtide.engines.client import asked_about
from warmtide.engines.known import Entry, keep

RECIPE = {"engine": "studio-a", "look": "day-bands", "size": 144, "steps": 4, "strength": 0.6}


class Engines(unittest.TestCase):
    @classmethod
    def setUpClass(cls) -> None:
        cls.stack = shared_stack()
        cls.http = cls.stack.client
        address = cls.enterClassContext(stand_in())
        cls.url = address.url
        path = cls.stack.folder / "engines.json"
        keep(path, (Entry(name="studio-a", url=address.url, about=asked_about(address)),))
        cls.addClassCleanup(keep, path, ())
        deadline = time.monotonic() + PATIENCE
        while "studio-a" not in cls.engines():
            assert time.monotonic() < deadline, "the server does not see its engines"
            time.sleep(0.2)
        made = cls.http.post("/studies", files={"file": ("quay.png", as_file(harbour(96, 144, 701)))}).json()
        cls.study, cls.source = made["id"], made["sources"][0]["id"]

    @classmethod
    def engines(cls) -> dict[str, dict[str, Any]]:
        return {engine["name"]: engine for engine in cls.http.get("/choices").json()["engines"]}

    def asked(self, recipe: dict[str, Any], *spans: dict[str, Any], to: str = "/plans") -> Any:
        return self.http.post(to, json={"source_id": self.source, "recipe": recipe, "spans": list(spans)})

    def swept(self, recipe: dict[str, Any], *spans: dict[str, Any]) -> list[dict[str, Any]]:
        sweep = self.asked(recipe, *spans, to="/sweeps").json()
        found: list[dict[str, Any]] = self.stack.settled(self.study, sweep["id"])["takes"]
        return found

    def test_what_an_engine_has_is_told_but_never_where_it_is(self) -> None:
        told = self.engines()
        self.assertEqual(list(told), ["built-in", "studio-a"])
        self.assertEqual((told["studio-a"]["holds"], told["studio-a"]["words"]), (["lines"], False))
        self.assertTrue(told["built-in"]["built_in"])
        for path in ("/choices", "/machines"):
            self.assertNotIn(self.url.partition("//")[2], self.http.get(path).text, path)

    def test_a_plan_tells_what_each_engine_lacks(self) -> None:
        both = {"control": "engine", "values": ["built-in", "studio-a"]}
        plan = self.asked({"look": "ink-comic", "prompt": "mist", "size": 144}, both).json()
        self.assertEqual(plan["takes"], 2)
        (sentence,) = plan["lacks"]
        self.assertTrue(sentence.startswith("Studio A has no look ink-comic (it makes Day bands)"), sentence)
        self.assertIn("no prompt", sentence)
        self.assertEqual(self.asked({"look": "ink-comic", "size": 144}).json()["lacks"], [])

    def test_takes_that_an_engine_hears_no_difference_between_are_one(self) -> None:
        takes = self.swept(RECIPE, {"control": "depth", "values": [0, 0.5, 1]})
        self.assertEqual(len({take["id"] for take in takes}), 1)
        self.assertEqual(takes[0]["engine"], "studio-a 1")
        self.assertEqual(takes[0]["recipe"]["engine"], "studio-a")
        self.assertEqual(self.asked(RECIPE).json()["existing"], 1)

    def test_what_can_not_be_is_one_sentence(self) -> None:
        for recipe, words in (
            ({**RECIPE, "engine": "gone"}, "There is no engine 'gone' here"), ({**RECIPE, "guidance": 25}, "Studio A: guidance goes from 1 to 20"),
            ({**RECIPE, "engine": "../x"}, "An engine is named with small letters"),
        ):  # fmt: skip
            answer = self.asked(recipe)
            self.assertEqual((answer.status_code, words in answer.json()["message"]), (422, True), answer.text)
        live = self.http.post("/live", json={"source_id": self.source, "recipe": RECIPE})
        self.assertIn("run a sweep to see what Studio A makes", live.json()["message"])

    def test_a_saved_take_comes_back_to_its_place_and_is_not_painted_again_here(self) -> None:
        (take,) = self.swept({**RECIPE, "seed": 77})
        inside = recipe_inside(self.http.get(f"/takes/{take['id']}/image").content)
        assert inside is not None
        self.assertEqual((inside["engine"], inside["recipe"]["engine"]), ("studio-a 1", "studio-a"))
        self.assertEqual(self.http.post("/saved", json=inside).json()["take"]["id"], take["id"])
        self.assertNotIn(self.url.partition("//")[2], str(inside), "where an engine is is the owner's alone")
        larger = self.http.post(
            f"/studies/{self.study}/enlargements", json={"takes": [take["id"]], "ways": ["painted"], "factor": 2}
        )
        self.assertIn("can't be painted again here", larger.json()["message"])
        plain = self.http.post(
            f"/studies/{self.study}/enlargements", json={"takes": [take["id"]], "ways": ["edges"], "factor": 2}
        )
        self.assertEqual(plain.status_code, 201, plain.text)

    def test_the_owner_sees_who_works_and_what_is_measured(self) -> None:
        self.swept({**RECIPE, "seed": 78})
        deadline = time.monotonic() + PATIENCE
        while True:
            page = self.http.get("/machines").json()
            theirs = [worker for worker in page["workers"] if worker["does"] == "other engines"]
            if theirs and theirs[0]["done"] > 0:
                break
            self.assertLess(time.monotonic(), deadline, page)
            time.sleep(0.5)
        self.assertEqual((page["engine"], page["store"]), (ENGINE_VERSION, "folder"))
        self.assertEqual(sum(worker["does"] == "takes" and worker["here"] for worker in page["workers"]), 2)
        self.assertGreater(theirs[0]["pace"], 0)
        text = self.http.get("/metrics").text
        self.assertIn(f'does="takes",engine="{ENGINE_VERSION}"', text)
        self.assertIn("warmtide_takes_last_hour", text)
