"""How a study's pictures came about, over HTTP."""

import io
import unittest
from typing import Any

from PIL import Image

from tests.journey import Journey, Worker, journey
from tests.stack import shared_stack


class Lineage(unittest.TestCase):
    """The tree of an hour's work."""

    made: Journey

    @classmethod
    def setUpClass(cls) -> None:
        cls.stack = shared_stack()
        cls.http = cls.stack.client
        made = cls.made = journey(cls.stack, 231)
        cls.study, cls.source, cls.takes, cls.second = made.id, made.source, made.first, made.second
        cls.carried, cls.mixed, cls.work = made.carried, made.mixed, Worker(cls.stack, made.id)

    def nodes(self, of: str | None = None) -> tuple[dict[str, dict[str, Any]], list[str]]:
        answer = self.http.get(f"/studies/{self.study}/lineage", params={"of": of} if of else {})
        self.assertEqual(answer.status_code, 200, answer.text)
        return {node["id"]: node for node in answer.json()["nodes"]}, answer.json()["way"]

    def test_the_tree_holds_what_something_came_of(self) -> None:
        nodes, _ = self.nodes()
        first, carried, second = (f"take:{t['id']}" for t in (self.takes[0], self.takes[1], self.second))
        self.assertEqual(nodes[f"source:{self.source}"]["kind"], "source")
        self.assertEqual(nodes[carried]["also"], [f"source:{self.carried}"], "a carried-on take is one step")
        self.assertEqual(nodes[f"source:{self.mixed}"]["parents"], [second, first], "the heaviest first")
        self.assertEqual(
            (nodes[f"source:{self.mixed}"]["kind"], nodes[f"source:{self.mixed}"]["says"]), ("mixed", ["75 : 25"])
        )
        by_hand = nodes[f"source:{self.made.by_hand}"]
        self.assertEqual((by_hand["kind"], by_hand["parents"]), ("hand", [f"take:{self.made.third['id']}"]))
        self.assertIn("in a region", nodes[nodes[f"take:{self.made.last['id']}"]["parents"][0]]["says"])
        self.assertEqual(nodes[f"larger:{self.made.larger['id']}"]["parents"], [f"take:{self.made.last['id']}"])
        self.assertNotIn(f"take:{self.takes[2]['id']}", nodes, "nothing came of it")
        sweep = nodes[nodes[second]["parents"][0]]
        self.assertEqual((sweep["kind"], sweep["parents"]), ("sweep", [carried]))
        self.assertEqual(sweep["says"], ["strength 0.50 to 0.60", "+ lanterns"])
        self.assertEqual(nodes[nodes[first]["parents"][0]]["says"], ["strength 0.30, 0.50, 0.70", "+ mist"])
        for node in nodes.values():
            if node["at"]:
                answer = self.http.get(node["at"].removeprefix("/api"))
                self.assertTrue(answer.headers["content-type"].startswith("image/"), node["id"])

    def test_a_take_that_is_picked_or_kept_is_there(self) -> None:
        loose = f"take:{self.takes[2]['id']}"
        nodes, way = self.nodes(loose)
        self.assertEqual(way, [f"source:{self.source}", nodes[loose]["parents"][0], loose])
        self.http.put(f"/studies/{self.study}/marks/{self.takes[2]['id']}", json={"value": "keep"})
        self.addCleanup(self.http.put, f"/studies/{self.study}/marks/{self.takes[2]['id']}", json={"value": None})
        self.assertEqual(self.nodes()[0][loose]["mark"], "keep")

    def test_a_take_of_a_deleted_sweep_keeps_its_way(self) -> None:
        (loose,) = self.work.swept(self.source, {"look": "pencil", "size": 96}, [])
        carried = self.work.post(f"/studies/{self.study}/sources", {"takes": [loose["id"]]})["id"]
        sweep = self.nodes()[0][f"take:{loose['id']}"]["sweep"]
        self.http.delete(f"/sweeps/{sweep}")
        _, way = self.nodes(f"source:{carried}")
        self.assertEqual(way, [f"source:{self.source}", f"sweep:{sweep}", f"take:{loose['id']}"])

    def test_the_way_as_steps_as_text_as_picture_and_on_paper(self) -> None:
        of = {"of": f"source:{self.mixed}"}
        steps = self.http.get(f"/studies/{self.study}/strip", params=of).json()["steps"]
        self.assertEqual([s["kind"] for s in steps], ["source", "take", "take", "take", "mixed"])
        self.assertIn("+ lanterns", next(s for s in steps if s["id"] == f"take:{self.second['id']}")["says"])
        text = self.http.get(f"/studies/{self.study}/strip/txt", params=of)
        self.assertIn("attachment", text.headers["content-disposition"])
        self.assertEqual(len(text.text.strip().splitlines()), 2 + 5)
        self.assertTrue(self.http.get(f"/studies/{self.study}/strip/pdf", params=of).content.startswith(b"%PDF"))
        drawn = Image.open(io.BytesIO(self.http.get(f"/studies/{self.study}/strip/png", params=of).content))
        self.assertGreater(drawn.width, drawn.height)

    def test_what_is_not_there_is_said(self) -> None:
        none = "00000000-0000-0000-0000-000000000000"
        self.assertEqual(self.http.get(f"/studies/{none}/lineage").status_code, 404)
        answer = self.http.get(f"/studies/{self.study}/strip", params={"of": f"take:{none}"})
        self.assertEqual(
            (answer.status_code, answer.json()["message"]),
            (422, "This picture is not in the study any more; pick one that is."),
        )
        self.assertEqual(self.http.get(f"/studies/{self.study}/lineage", params={"of": "take:../x"}).status_code, 422)
