"""How a picture came about, in the browser: the tree, the way that lights up, the strip, what one control did."""

import re
from pathlib import Path
from typing import Any

from playwright.sync_api import Page, expect

from tests.browser.browser import BrowserTest
from tests.pictures import as_file, harbour


class Lineage(BrowserTest):
    def post(self, path: str, body: Any) -> Any:
        answer = self.stack.client.post(path, json=body)
        self.assertEqual(answer.status_code, 201, answer.text)
        return answer.json()

    def swept(self, source: str, recipe: dict[str, Any], spans: list[Any]) -> list[dict[str, Any]]:
        asked = {"source_id": source, "recipe": {"look": "ink-comic", "size": 96, **recipe}, "spans": spans}
        sweep = self.post("/sweeps", asked)
        found: list[dict[str, Any]] = self.stack.settled(self.study_id, sweep["id"])["takes"]
        return found

    def worked(self, seed: int) -> Page:
        """A study in which a take was carried on."""
        self.at_desk(as_file(harbour(96, 144, seed)), "quay.png")
        self.study_id = self.page.url.split("/study/")[1].split("?")[0]
        source = self.stack.client.get(f"/studies/{self.study_id}").json()["sources"][0]["id"]
        self.takes = self.swept(source, {}, [{"control": "strength", "values": [0.3, 0.5, 0.7]}])
        carried = self.post(f"/studies/{self.study_id}/sources", {"takes": [self.takes[1]["id"]]})["id"]
        (self.last,) = self.swept(carried, {"strength": 0.6, "prompt": "mist"}, [])
        self.page.goto(f"{self.stack.url}/study/{self.study_id}")
        return self.page

    def step(self, name: str) -> Any:
        return self.page.get_by_role("treeitem", name=name)

    def test_the_way_lights_up_and_leads_to_every_place(self) -> None:
        page = self.worked(411)
        page.locator("[data-take]").click()
        page.keyboard.press("Shift+L")
        page.wait_for_url("**/lineage?of=take:*")
        steps = page.get_by_role("tree").get_by_role("treeitem")
        expect(steps).to_have_count(5)
        way = page.get_by_role("region", name="The way to the picture")
        expect(way.get_by_role("listitem")).to_have_count(3)
        expect(way).to_contain_text("strength 0.50 to 0.60, + mist")
        expect(self.step("Ink comic: strength 0.60")).to_have_attribute("aria-selected", "true")
        for name, level in (
            ("quay", "1"),
            ("Ink comic, 3 takes: strength 0.30, 0.50, 0.70", "2"),
            ("Ink comic: strength 0.60", "5"),
        ):
            expect(self.step(name)).to_have_attribute("aria-level", level)
        page.keyboard.press("ArrowLeft")
        page.keyboard.press("ArrowLeft")
        expect(self.step("Ink comic: strength 0.50")).to_have_attribute("aria-selected", "true")
        expect(way.get_by_role("listitem")).to_have_count(2)
        self.step("Ink comic: strength 0.60").click(modifiers=["Shift"])
        page.keyboard.press("b")
        page.wait_for_url("**/bench?against=take:*")
        expect(page.get_by_text("compared: Ink comic, strength 0.60")).to_be_visible()
        page.keyboard.press("Shift+L")
        self.step("quay").dblclick()
        page.wait_for_url(re.compile(r"/study/[^/]+\?live$"))

    def test_a_branch_begins_and_the_way_is_taken_away(self) -> None:
        page = self.worked(412)
        self.stack.client.put(f"/studies/{self.study_id}/marks/{self.last['id']}", json={"value": "keep"})
        page.goto(f"{self.stack.url}/study/{self.study_id}/lineage")
        expect(page.get_by_text("the way that led to it lights up")).to_be_visible()
        expect(page.get_by_role("button", name="From here again")).to_be_disabled()
        self.step("Ink comic: strength 0.60").click()
        for form, kind in (("PNG", b"\x89PNG"), ("PDF", b"%PDF"), ("Text", b"quay")):
            with page.expect_download() as saved:
                page.get_by_role("link", name=form).click()
            self.assertTrue(Path(saved.value.path()).read_bytes().startswith(kind), form)
        page.keyboard.press("n")
        page.wait_for_url(re.compile(r"/study/[^/]+\?live$"))
        expect(page.get_by_role("slider", name="Strength", exact=True).first).to_have_attribute("aria-valuenow", "0.6")

    def test_what_one_control_did_is_told_and_leads_there(self) -> None:
        page = self.worked(413)
        self.stack.client.patch(f"/studies/{self.study_id}", json={"name": "nudged"})
        page.goto(f"{self.stack.url}/study/{self.study_id}/lineage?of=take:{self.takes[1]['id']}")
        self.step("Ink comic: strength 0.50").dblclick()
        near = page.get_by_role("region", name="Nearest others").get_by_role("listitem")
        expect(near).to_have_count(2)
        expect(near.nth(0)).to_contain_text("strength 0.30", ignore_case=True)
        here, other = (t["readings"]["figures"] for t in (self.takes[1], self.takes[2]))
        said = []
        for kind in self.stack.client.get("/choices").json()["readings"]:
            by = (other[kind["name"]] or 0) - (here[kind["name"]] or 0)
            if abs(by) >= 0.5:
                said.append(f"{kind['title'].split()[0].lower()} {'+' if by > 0 else chr(0x2212)}{int(abs(by) + 0.5)}")
        self.assertTrue(said, "strengths this far apart read differently")
        expect(near.nth(1)).to_contain_text(", ".join(said))
        near.nth(1).get_by_role("button").click()
        expect(page.get_by_role("complementary", name="Take").get_by_role("heading").first).to_contain_text(
            "strength 0.70"
        )
