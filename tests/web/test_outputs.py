"""A sweep to take away: sheet and readings, over HTTP."""

import csv
import io
import unittest
from typing import Any

import numpy as np
from PIL import Image

from tests.pictures import as_file, harbour
from tests.stack import shared_stack
from warmtide.core.export.registry import exporters


class Outputs(unittest.TestCase):
    sweep: dict[str, Any]
    owner: str

    @classmethod
    def setUpClass(cls) -> None:
        cls.http = shared_stack().client
        data = as_file(harbour(64, 96, 700))
        study = cls.http.post("/studies", files={"file": ("quay wall.png", data)}).json()
        source = study["sources"][0]
        request = {
            "source_id": source["id"], "recipe": {"size": 96, "steps": 6},
            "spans": [{"control": "look", "values": ["pencil", "oil"]}, {"control": "strength", "values": [0.4, 0.6, 0.8]}],
        }  # fmt: skip
        cls.study, cls.owner = source["id"], study["id"]
        made = cls.http.post("/sweeps", json=request).json()
        shared_stack().settled(study["id"], made["id"])
        cls.sweep = made

    def test_the_sheet_is_one_labelled_picture_with_the_source_first(self) -> None:
        answer = self.http.get(f"/sweeps/{self.sweep['id']}/export/sheet-png", params={"cell": 96})
        self.assertEqual(answer.status_code, 200, answer.text)
        self.assertIn('filename="quay-wall-watercolour-look-by-strength.png"', answer.headers["content-disposition"])
        sheet = np.asarray(Image.open(io.BytesIO(answer.content)))
        # Source and three columns, two rows, on neutral grey.
        self.assertGreater(sheet.shape[1], 4 * 96)
        self.assertLess(sheet.shape[1], 5 * 96 + 60)
        self.assertEqual(sheet[2, 2].tolist(), [119, 119, 119])
        np.testing.assert_array_equal(sheet[36:100, 16:112], harbour(64, 96, 700))

    def test_drafts_finished_together_are_told_apart_by_what_differs(self) -> None:
        request = {
            "source_id": self.study, "recipe": {"size": 128, "steps": 4, "quality": "glimpse"},
            "spans": [{"control": "seed", "values": [1, 2]}, {"control": "strength", "values": [0.4, 0.8]}],
        }  # fmt: skip
        drafts = self.http.post("/sweeps", json=request).json()
        shared_stack().settled(self.owner, drafts["id"])
        # Corner to corner: seed and strength differ, nothing else.
        chosen = [drafts["takes"][0]["id"], drafts["takes"][3]["id"]]
        full = self.http.post("/sweeps/finish", json={"takes": chosen}).json()
        shared_stack().settled(self.owner, full["id"])
        table = list(csv.DictReader(io.StringIO(self.http.get(f"/sweeps/{full['id']}/export/readings-csv").text)))
        self.assertEqual({(row["seed"], row["strength"]) for row in table}, {("1", "0.4"), ("2", "0.8")})
        self.assertNotIn("guidance", table[0])

    def test_a_page(self) -> None:
        answer = self.http.get(f"/sweeps/{self.sweep['id']}/export/sheet-pdf", params={"cell": 96})
        self.assertTrue(answer.content.startswith(b"%PDF-"))
        self.assertTrue(answer.content.rstrip().endswith(b"%%EOF"))

    def test_readings_are_a_line_a_take(self) -> None:
        answer = self.http.get(f"/sweeps/{self.sweep['id']}/export/readings-csv")
        rows = list(csv.DictReader(io.StringIO(answer.text)))
        self.assertEqual([(r["look"], r["strength"]) for r in rows][:4],
                         [("pencil", "0.4"), ("pencil", "0.6"), ("pencil", "0.8"), ("oil", "0.4")])  # fmt: skip
        for row, cell in zip(rows, self.sweep["takes"], strict=True):
            self.assertEqual(row["key"], cell["key"])
            self.assertTrue(0 <= float(row["composition kept"]) <= 100)

    def test_every_form_that_is_offered_can_be_had(self) -> None:
        choices = self.http.get("/choices").json()
        self.assertEqual([form["name"] for form in choices["exports"]], list(exporters()))
        for form in choices["exports"]:
            answer = self.http.get(f"/sweeps/{self.sweep['id']}/export/{form['name']}", params={"cell": 64})
            self.assertEqual(answer.status_code, 200, form)
        table = self.http.get(f"/sweeps/{self.sweep['id']}/export/readings-csv").text.splitlines()[0].split(",")
        titles = [kind["title"].lower() for kind in choices["readings"]]
        self.assertEqual([column for column in table if column in titles], titles)
        figures = self.http.get(f"/studies/{self.owner}").json()["sweeps"][0]["takes"][0]["readings"]["figures"]
        self.assertEqual(list(figures), [kind["name"] for kind in choices["readings"]])

    def test_what_is_not_there_is_said(self) -> None:
        missing = "00000000-0000-0000-0000-000000000001"
        self.assertEqual(self.http.get(f"/sweeps/{missing}/export/sheet-png").status_code, 404)
        self.assertEqual(self.http.get(f"/sweeps/{self.sweep['id']}/export/doc").status_code, 422)
