"""The shelf in the browser: finding, renaming, putting away, copying, a study as a file out and in."""

import re
from pathlib import Path
from typing import Any

from playwright.sync_api import expect

from tests.browser.browser import BrowserTest
from tests.journey import Worker
from tests.pictures import as_file, harbour


class Shelf(BrowserTest):
    def study(self, name: str, seed: int) -> dict[str, Any]:
        data, files = {"name": name}, {"file": ("x.png", as_file(harbour(96, 144, seed)))}
        found: dict[str, Any] = self.stack.client.post("/studies", data=data, files=files).json()
        return found

    def card(self, name: str) -> Any:
        return self.page.get_by_role("listitem").filter(has=self.page.get_by_role("link", name=name, exact=True))

    def act(self, name: str, what: str) -> None:
        self.page.get_by_role("button", name=f"What to do with {name}", exact=True).focus()
        self.page.keyboard.press("Enter")
        self.page.get_by_role("menuitem", name=what, exact=True).click()

    def test_found_renamed_copied_put_away_and_taken_out(self) -> None:
        page = self.page
        self.study("Smoke house", 501)
        self.study("Ropewalk", 502)
        page.reload()
        expect(self.card("Ropewalk")).to_have_count(1)
        page.keyboard.press("/")
        page.keyboard.type("smoke")
        expect(page.get_by_role("status").filter(has_text="one found")).to_be_visible()
        expect(self.card("Smoke house")).to_have_count(1)
        expect(self.card("Ropewalk")).to_have_count(0)
        self.act("Smoke house", "Rename")
        page.get_by_label("New name").fill("Smoke house, north side")
        page.keyboard.press("Enter")
        expect(self.card("Smoke house, north side")).to_have_count(1)
        self.act("Smoke house, north side", "Once more, as a study of its own")
        expect(page.get_by_text("2 found")).to_be_visible()
        self.act("Smoke house, north side", "Put away")
        expect(page.get_by_text("one found")).to_be_visible()
        page.get_by_role("checkbox", name="put away").check()
        expect(self.card("Smoke house, north side")).to_have_count(1)
        self.act("Smoke house, north side", "Take it out again")
        expect(page.get_by_text("Nothing is found so. Fewer words find more.")).to_be_visible()
        page.get_by_role("button", name="Show all again").click()
        expect(self.card("Ropewalk")).to_have_count(1)
        page.get_by_role("combobox", name="Marks").click()
        page.get_by_role("option", name="With kept takes").click()
        expect(self.card("Ropewalk")).to_have_count(0)

    def test_a_study_goes_out_as_a_file_and_comes_back_by_a_drop(self) -> None:
        page = self.page
        made = self.study("Salt pans", 503)
        work = Worker(self.stack, made["id"])
        (take,) = work.swept(made["sources"][0]["id"], {"look": "ink-comic", "size": 64}, [])
        work.keep(take["id"])
        page.reload()
        page.get_by_role("button", name="What to do with Salt pans").focus()
        page.keyboard.press("Enter")
        with page.expect_download() as saved:
            page.get_by_role("menuitem", name="Save as a file", exact=True).click()
        self.assertEqual(saved.value.suggested_filename, "Salt-pans.study.zip")
        data = Path(saved.value.path()).read_bytes()
        self.drop(data, "Salt-pans.study.zip", "application/zip")
        expect(page.get_by_text("Salt pans is on the shelf, with all that it holds.")).to_be_visible()
        expect(self.card("Salt pans")).to_have_count(2)
        page.get_by_role("button", name="Open it").click()
        page.wait_for_url(re.compile("/study/"))
        self.assertNotIn(made["id"], page.url)
        expect(page.locator('[data-take][data-state="done"]')).to_have_count(1)
        page.goto(self.stack.url)
        self.drop(data[:-200], "broken.zip", "application/zip")
        expect(page.get_by_text("broken.zip: This is no file of a study")).to_be_visible()
