"""The shelf: found by words, kind, mark and date, put away, copied, page by page."""

import unittest
from typing import Any

from tests.journey import Worker
from tests.pictures import as_file, disc_on_ground, harbour
from tests.stack import shared_stack


class Shelf(unittest.TestCase):
    def setUp(self) -> None:
        self.stack = shared_stack()
        self.http = self.stack.client

    def study(self, name: str, data: bytes, file: str = "kelp_bay.png") -> dict[str, Any]:
        found: dict[str, Any] = self.http.post("/studies", data={"name": name}, files={"file": (file, data)}).json()
        self.addCleanup(self.http.delete, f"/studies/{found['id']}")
        return found

    def found(self, **asked: Any) -> list[str]:
        answer = self.http.get("/shelf", params={"limit": 200, **asked})
        self.assertEqual(answer.status_code, 200, answer.text)
        return [card["id"] for card in answer.json()["cards"]]

    def test_found_by_name_file_kind_look_words_and_notes(self) -> None:
        study = self.study("Herring fleet", as_file(harbour(64, 96, 301)))
        number, source = study["id"], study["sources"][0]["id"]
        work = Worker(self.stack, number)
        (take,) = work.swept(source, {"look": "ink-comic", "size": 64, "prompt": "frozen marsh"}, [])
        self.http.put(
            f"/studies/{number}/marks/{take['id']}", json={"value": "maybe", "note": "for the poster, 50% grey"}
        )
        for words in ("HERRING", "kelp bay", "herring kelp", "ink comic", "ink-comic", "frozen marsh", "poster", "50%"):
            self.assertEqual(self.found(find=f"fleet {words}"), [number], words)
        for words in ("herring whale", "herr%ng", "her%ring"):
            self.assertEqual(self.found(find=words), [], words)
        self.assertEqual(self.found(find="herring", kind=study["sources"][0]["kind"]), [number])
        self.assertEqual(self.found(find="herring", kind="sketch"), [])
        self.assertEqual(self.found(find="herring", mark="maybe"), [number])
        self.assertEqual(self.found(find="herring", mark="keep"), [])
        self.assertEqual(self.found(find="herring", since="2020-01-01", until="2090-01-01"), [number])
        self.assertEqual(self.found(find="herring", until="2020-01-01"), [])
        self.http.patch(f"/studies/{number}", json={"name": "Cod fleet"})
        self.assertEqual(self.found(find="herring"), [])
        self.assertEqual(self.found(find="cod frozen"), [number])

    def test_looks_of_a_sweep_are_found_until_it_is_deleted_and_so_is_what_was_made_here(self) -> None:
        study = self.study("Looks of a pier", as_file(harbour(64, 96, 302)))
        work = Worker(self.stack, study["id"])
        spans = [{"control": "look", "values": ["pencil", "gouache"]}]
        takes = work.swept(study["sources"][0]["id"], {"look": "oil", "size": 64}, spans)
        self.assertEqual(self.found(find="pier gouache"), [study["id"]])
        sweep = self.http.get(f"/studies/{study['id']}").json()["sweeps"][0]["id"]
        self.http.delete(f"/sweeps/{sweep}")
        self.assertEqual(self.found(find="pier gouache"), [])
        self.http.post(f"/sweeps/{sweep}/restore")
        self.assertEqual(self.found(find="pier gouache"), [study["id"]])
        self.assertEqual(self.found(find="pier by hand"), [])
        work.painted_over(takes[0]["id"])
        self.assertEqual(self.found(find="pier by hand"), [study["id"]])

    def test_put_away_and_out_again(self) -> None:
        number = self.study("Eel traps", as_file(harbour(64, 96, 303)))["id"]
        self.assertEqual(self.http.patch(f"/studies/{number}", json={"archived": True}).status_code, 200)
        self.assertEqual((self.found(find="eel"), self.found(find="eel", archived=True)), ([], [number]))
        self.assertNotIn(number, [card["id"] for card in self.http.get("/studies").json()])
        self.assertEqual(self.http.get(f"/studies/{number}").json()["name"], "Eel traps", "its address still opens it")
        self.http.patch(f"/studies/{number}", json={"archived": False})
        self.assertEqual(self.found(find="eel"), [number])

    def test_pages_hold_each_once_in_their_order(self) -> None:
        numbers = {self.study(f"Page turner {k}", as_file(disc_on_ground(48, 48)))["id"] for k in range(5)}
        seen: list[str] = []
        for offset in (0, 2, 4):
            answer = self.http.get(
                "/shelf", params={"find": "turner", "offset": offset, "limit": 2, "order": "name"}
            ).json()
            self.assertEqual(answer["total"], 5)
            seen += [card["id"] for card in answer["cards"]]
        self.assertEqual((len(seen), set(seen)), (5, numbers))
        names = [
            card["name"] for card in self.http.get("/shelf", params={"find": "turner", "order": "name"}).json()["cards"]
        ]
        self.assertEqual(names, sorted(names))

    def test_a_copy_is_whole_and_stands_on_its_own(self) -> None:
        study = self.study("Tidal mill", as_file(harbour(64, 96, 304)))
        work = Worker(self.stack, study["id"])
        (take,) = work.swept(study["sources"][0]["id"], {"look": "ink-comic", "size": 64}, [])
        work.keep(take["id"])
        touched, by_hand = work.painted_over(take["id"])
        self.http.put(f"/studies/{study['id']}/wall", json={"title": "Mill", "captions": {take["id"]: "noon"}})
        answer = self.http.post(f"/studies/{study['id']}/copy")
        self.assertEqual(answer.status_code, 201, answer.text)
        copy = answer.json()
        self.addCleanup(self.http.delete, f"/studies/{copy['id']}")
        before = self.http.get(f"/studies/{study['id']}").json()
        self.assertEqual(copy["name"], "Tidal mill, again")
        wall = self.http.get(f"/studies/{copy['id']}/wall").json()["body"]
        self.assertEqual((wall["title"], wall["captions"]), ("Mill", {take["id"]: "noon"}))
        self.assertEqual([t["id"] for t in copy["sweeps"][0]["takes"]], [take["id"]], "pictures are shared")
        self.assertEqual(copy["marks"], before["marks"])
        self.assertEqual([s["name"] for s in copy["sources"]], [s["name"] for s in before["sources"]])
        own = copy["sources"][-1]
        self.assertNotIn(own["stack_id"], (None, touched))
        self.assertEqual(len(self.http.get(f"/stacks/{own['stack_id']}").json()["stack"]["layers"]), 2)
        # What is painted in the one is not seen in the other.
        work.with_region(by_hand)
        self.assertIsNone(self.http.get(f"/studies/{copy['id']}").json()["sources"][-1]["region_key"])

    def test_odd_questions_are_one_sentence(self) -> None:
        for asked in (
            {"limit": 0},
            {"offset": -1},
            {"kind": "poem"},
            {"since": "soon"},
            {"order": "luck"},
            {"find": "x" * 300},
        ):
            answer = self.http.get("/shelf", params=asked)
            self.assertEqual(answer.status_code, 422, asked)
            self.assertTrue(answer.json()["message"].endswith("."), answer.text)
        study = self.study("Named", as_file(disc_on_ground(48, 48)))
        self.assertEqual(self.http.patch(f"/studies/{study['id']}", json={"name": ""}).status_code, 422)
