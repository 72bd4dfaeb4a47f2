"""The wall over HTTP."""

import io
import json
import unittest
import zipfile
from typing import Any

from PIL import Image

from tests.journey import Worker
from tests.pictures import as_file, harbour
from tests.stack import shared_stack


class Wall(unittest.TestCase):
    def setUp(self) -> None:
        self.http = shared_stack().client
        self.study = self.http.post("/studies", files={"file": ("quay.png", as_file(harbour(64, 96, 601)))}).json()
        self.addCleanup(self.http.delete, f"/studies/{self.study['id']}")
        work = Worker(shared_stack(), self.study["id"])
        spans = [{"control": "seed", "values": [61, 62, 63]}]
        self.takes = work.swept(self.study["sources"][0]["id"], {"look": "ink-comic", "size": 64}, spans)
        for take in self.takes[:2]:
            work.keep(take["id"])
        self.address = f"/studies/{self.study['id']}/wall"

    def ids(self, address: str) -> list[str]:
        return [hung["take"]["id"] for hung in self.http.get(address).json()["hung"]]

    def test_what_is_kept_hangs_there_and_in_the_wall_of_all(self) -> None:
        kept = {take["id"] for take in self.takes[:2]}
        self.assertEqual(set(self.ids(self.address)), kept)
        self.assertLessEqual(kept, set(self.ids("/wall")))
        self.http.patch(f"/studies/{self.study['id']}", json={"archived": True})
        self.assertFalse(kept & set(self.ids("/wall")), "what is put away does not hang with the others")
        self.assertEqual(set(self.ids(self.address)), kept)
        self.http.put(f"/studies/{self.study['id']}/marks/{self.takes[0]['id']}", json={"value": None})
        self.assertEqual(self.ids(self.address), [self.takes[1]["id"]])

    def test_how_it_hangs_is_kept_and_a_second_wall_has_its_own(self) -> None:
        first = self.takes[0]["id"]
        body: dict[str, Any] = {
            "title": "For the council", "order": "hand", "takes": [first], "sizes": {first: 1.5}, "captions": {first: "dusk"},
        }  # fmt: skip
        for title in ("For the council", "For the mayor"):
            answer = self.http.put(self.address, json={**body, "title": title})
            self.assertEqual(answer.status_code, 200, answer.text)
        self.assertEqual(self.http.get(self.address).json()["body"], {**body, "title": "For the mayor"})
        self.assertNotEqual(self.http.get("/wall").json()["body"]["title"], "For the mayor")
        for _ in range(2):
            self.assertEqual(self.http.put("/wall", json={**body, "title": "All"}).status_code, 200)

    def test_on_paper_as_a_picture_and_refused_in_one_sentence(self) -> None:
        of = [{"kind": "take", "id": take["id"]} for take in self.takes]
        order = {"of": of, "sizes": [1, 2, 1], "captions": ["a", "", "c"], "wish": {"title": "Kept", "paper": "a4"}}
        pdf = self.http.post("/exports/wall", data={"order": json.dumps(order)})
        self.assertTrue(pdf.content.startswith(b"%PDF"))
        self.assertIn("Kept.pdf", pdf.headers["content-disposition"])
        drawn = self.http.post(
            "/exports/wall", data={"order": json.dumps({**order, "sizes": [1, 1, 1], "form": "png"})}
        )
        self.assertEqual(Image.open(io.BytesIO(drawn.content)).size, (1754, 1240))
        many = {**order, "of": of * 4, "sizes": [3] * 12, "captions": [""] * 12, "form": "png"}
        with zipfile.ZipFile(
            io.BytesIO(self.http.post("/exports/wall", data={"order": json.dumps(many)}).content)
        ) as file:
            self.assertGreater(len(file.namelist()), 1)
        for wrong in (
            {"sizes": [1]},
            {"sizes": [1, 9, 1]},
            {"of": []},
            {"captions": ["x" * 300, "", ""]},
            {"wish": {"paper": "b7"}},
        ):
            answer = self.http.post("/exports/wall", data={"order": json.dumps({**order, **wrong})})
            self.assertEqual(answer.status_code, 422, wrong)
        self.assertEqual(self.http.put(self.address, json={"sizes": {self.takes[0]["id"]: 99}}).status_code, 422)
        self.assertEqual(self.http.get("/studies/00000000-0000-0000-0000-000000000000/wall").status_code, 404)
