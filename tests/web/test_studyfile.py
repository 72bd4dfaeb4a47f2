"""A study as a file: out, in on another machine, and refused where it is damaged or hostile."""

import io
import json
import subprocess
import sys
import tempfile
import unittest
import zipfile
from collections.abc import Callable
from http.client import HTTPConnection
from pathlib import Path
from typing import Any

from tests.journey import Journey, journey
from tests.stack import ROOT, Stack, shared_stack

ZIP = {"Content-Type": "application/zip"}


def fields(study: dict[str, Any]) -> Any:
    """What of a study does not hang on its numbers."""
    takes = [
        [(t["recipe"], t["state"], t["readings"], t["thumb"], t["key"]) for t in sweep["takes"]]
        for sweep in study["sweeps"]
    ]
    sources = [(s["name"], s["framing"], s["kind"], s["region_key"], len(s["parents"])) for s in study["sources"]]
    marks = sorted((m["value"], m["note"]) for m in study["marks"])
    return study["name"], sources, [s["spans"] for s in study["sweeps"]], takes, marks


class StudyFiles(unittest.TestCase):
    made: Journey

    @classmethod
    def setUpClass(cls) -> None:
        cls.stack = shared_stack()
        cls.http = cls.stack.client
        cls.made = journey(cls.stack, 251)
        take = cls.made.last["id"]
        body = {"title": "For the council", "takes": [take], "sizes": {take: 2}, "captions": {take: "dusk"}}
        assert cls.http.put(f"/studies/{cls.made.id}/wall", json=body).status_code == 200

    def out(self, takes: str = "all") -> bytes:
        answer = self.http.get(f"/studies/{self.made.id}/file", params={"takes": takes})
        self.assertEqual(answer.status_code, 200, answer.text[:300])
        self.assertIn(".study.zip", answer.headers["content-disposition"])
        return answer.content

    def into(self, data: bytes, stack: Stack | None = None) -> dict[str, Any]:
        answer = (stack or self.stack).client.post("/studies/file", content=data, headers=ZIP)
        self.assertEqual(answer.status_code, 201, f"{answer.text}\n{(stack or self.stack).said()[-3000:]}")
        found: dict[str, Any] = answer.json()
        return found

    def here(self) -> dict[str, Any]:
        found: dict[str, Any] = self.http.get(f"/studies/{self.made.id}").json()
        return found

    def shape(self, stack: Stack, study: str) -> Any:
        """The tree without its numbers."""
        nodes = stack.client.get(f"/studies/{study}/lineage").json()["nodes"]
        place = {node["id"]: k for k, node in enumerate(nodes)}
        return [(n["kind"], n["title"], n["says"], [place[p] for p in n["parents"]], n["mark"]) for n in nodes]

    def test_it_is_all_there_on_another_machine(self) -> None:
        other = Stack(workers=1)
        self.addCleanup(other.close)
        study = self.into(self.out(), other)
        self.assertEqual(fields(study), fields(self.here()))
        self.assertEqual(self.shape(other, study["id"]), self.shape(self.stack, self.made.id))
        last = study["sweeps"][-1]["takes"][0]
        here = self.http.get(f"/takes/{self.made.last['id']}/image").content
        self.assertEqual(other.client.get(f"/takes/{last['id']}/image").content, here)
        (row,) = other.client.get(f"/studies/{study['id']}/enlargements").json()
        self.assertEqual((row["width"], row["take_id"]), (self.made.larger["width"], last["id"]))
        wall = other.client.get(f"/studies/{study['id']}/wall").json()["body"]
        self.assertEqual(
            (wall["title"], wall["captions"], wall["sizes"]),
            ("For the council", {last["id"]: "dusk"}, {last["id"]: 2.0}),
        )
        source = study["sources"][0]["id"]
        plan = other.client.post(
            "/plans",
            json={"source_id": source, "recipe": study["sweeps"][0]["recipe"], "spans": study["sweeps"][0]["spans"]},
        ).json()
        self.assertEqual((plan["takes"], plan["existing"]), (3, 3), "what is there is not made again")
        again = other.client.get(f"/studies/{study['id']}/file")
        with zipfile.ZipFile(io.BytesIO(self.out())) as one, zipfile.ZipFile(io.BytesIO(again.content)) as two:
            self.assertEqual(sorted(one.namelist()), sorted(two.namelist()))

    def test_brought_in_where_it_came_from_it_stands_beside_itself(self) -> None:
        before = self.here()
        study = self.into(self.out())
        self.assertNotEqual(study["id"], self.made.id)
        self.assertEqual(fields(study), fields(before))
        self.assertEqual(self.here(), before)
        ids = {s["id"] for s in before["sources"]} & {s["id"] for s in study["sources"]}
        self.assertFalse(ids)

    def test_with_kept_takes_alone_the_others_have_their_settings(self) -> None:
        with zipfile.ZipFile(io.BytesIO(self.out("kept"))) as file:
            told = json.loads(file.read("study.json"))
            names = file.namelist()
        self.assertEqual(len(told["takes"]), 6)
        shown = {take["id"] for take in told["takes"] if take.get("image")}
        self.assertNotIn(self.made.first[2]["id"], shown, "nothing came of it and nobody kept it")
        self.assertIn(self.made.last["id"], shown)
        self.assertIn(self.made.second["id"], shown)
        images = [take["image"] for take in told["takes"] if take.get("image")]
        self.assertTrue(all(any(image in name for name in names) for image in images))
        with zipfile.ZipFile(io.BytesIO(self.out("none"))) as file:
            self.assertFalse([name for name in file.namelist() if name.startswith(("takes/", "larger/"))])

    def changed(self, change: Callable[[dict[str, Any]], None], leave_out: str = "", spoil: str = "") -> bytes:
        """The file with something of it changed."""
        out = io.BytesIO()
        with zipfile.ZipFile(io.BytesIO(self.out("kept"))) as old, zipfile.ZipFile(out, "w") as new:
            told = json.loads(old.read("study.json"))
            change(told)
            new.writestr("study.json", json.dumps(told))
            for name in old.namelist():
                if name != "study.json" and not (leave_out and name.startswith(leave_out)):
                    data = old.read(name)
                    new.writestr(name, data[:-1] + b"x" if spoil and name.startswith(spoil) else data)
        return out.getvalue()

    def refused(self, data: bytes, words: str) -> None:
        count = len(self.http.get("/studies").json())
        answer = self.http.post("/studies/file", content=data, headers=ZIP)
        self.assertEqual(answer.status_code, 422, answer.text)
        self.assertRegex(answer.json()["message"], words)
        self.assertEqual(len(self.http.get("/studies").json()), count, "nothing half brought in")

    def test_damaged_and_hostile_files_are_one_sentence(self) -> None:
        nothing: Callable[[dict[str, Any]], None] = lambda told: None  # noqa: E731
        self.refused(b"no zip at all", "no file of a study")
        plain = io.BytesIO()
        with zipfile.ZipFile(plain, "w") as file:
            file.writestr("holiday.png", b"x")
        self.refused(plain.getvalue(), "no file of a study")
        self.refused(self.out()[:-400], "no file of a study")
        self.refused(self.changed(nothing, leave_out="originals/"), "originals/.* is missing")
        self.refused(self.changed(nothing, spoil="takes/"), "takes/.* is not what it was")
        self.refused(self.changed(lambda t: t.update(version=2)), "newer Warm Tide")
        self.refused(self.changed(lambda t: t["sources"].clear()), "damaged .sources")
        self.refused(self.changed(lambda t: t["files"][0].update(path="../../etc/passwd")), "damaged .files.0.path")
        self.refused(self.changed(lambda t: t["files"].pop()), "picture that it does not hold")
        self.refused(
            self.changed(lambda t: t["takes"][0].update(source=t["id"] if "id" in t else t["takes"][0]["id"])),
            "source that it does not hold",
        )
        self.refused(self.changed(lambda t: t["takes"][0]["recipe"].update(strength=7)), "Strength goes from 0")
        self.refused(self.changed(lambda t: t["takes"][0]["recipe"].update(look="no-such")), "look no-such")
        self.refused(self.changed(lambda t: t["sources"][0].update(name="a\u0000b")), "can't be seen")

    def test_a_key_that_is_not_the_takes_own_is_not_believed(self) -> None:
        study = self.into(self.changed(lambda t: t["takes"][0]["recipe"].update(seed=99)))
        keys = {take["key"] for sweep in study["sweeps"] for take in sweep["takes"]}
        here = {take["key"] for sweep in self.here()["sweeps"] for take in sweep["takes"]}
        self.assertEqual(len(keys - here), 1)

    def test_readings_that_cannot_be_shown_are_left_out(self) -> None:
        def odd(told: dict[str, Any]) -> None:
            for take in told["takes"]:
                if take.get("readings"):
                    take["readings"] = {"composition": "much", "parts": {"x": [1]}}
                # Takes that are here already keep their own.
                take["recipe"]["seed"] = 98

        study = self.into(self.changed(odd))
        self.assertEqual(study["sweeps"][-1]["takes"][0]["readings"], None)

    def test_the_command_lists_saves_and_brings_in(self) -> None:
        def run(*arguments: object) -> tuple[int, str]:
            command = [
                sys.executable,
                "-m",
                "warmtide",
                "study",
                *map(str, arguments),
                "--data",
                str(self.stack.folder),
            ]
            done = subprocess.run(command, cwd=ROOT, capture_output=True, text=True, check=False)
            return done.returncode, done.stdout or done.stderr

        with tempfile.TemporaryDirectory() as name:
            file = Path(name) / "quay.study.zip"
            listed = json.loads(run("list", "--json")[1])["studies"]
            self.assertEqual(next(s["takes"] for s in listed if s["id"] == self.made.id), 6)
            self.assertEqual(run("export", self.made.id, "-o", file, "--takes", "kept")[0], 0)
            code, said = run("import", file)
            self.assertEqual(code, 0, said)
            brought = self.http.get(f"/studies/{said.split()[0]}").json()
            self.assertEqual(fields(brought), fields(self.here()))
            for wrong in (
                ("export", "no such study", "-o", file),
                ("export", self.made.id, "-o", file, "--takes", "some"),
                ("import", ROOT / "README.md"),
            ):
                code, said = run(*wrong)
                self.assertEqual((code, said.count("\n")), (2, 1), said)
            self.assertEqual(
                sorted(path.name for path in Path(name).iterdir()), ["quay.study.zip"], "nothing half written"
            )

    def test_what_is_no_zip_by_name_or_too_large_is_refused(self) -> None:
        answer = self.http.post("/studies/file", content=b"x", headers={"Content-Type": "text/plain"})
        self.assertEqual(answer.status_code, 422)
        sent = HTTPConnection("127.0.0.1", self.stack.port)
        self.addCleanup(sent.close)
        sent.putrequest("POST", "/api/studies/file")
        for name, value in {**ZIP, "Content-Length": str(40 << 30)}.items():
            sent.putheader(name, value)
        sent.endheaders()
        self.assertEqual(sent.getresponse().status, 413)
