"""Other engines in the browser: stretched in the drawer, what they lack told, their takes read, compared, and seen by the owner."""

import time

from playwright.sync_api import expect

from tests.browser.browser import BrowserTest
from tests.engines.served import stand_in
from tests.pictures import as_file, harbour
from warmtide.engines.client import asked_about
from warmtide.engines.known import Entry, keep
from warmtide.engines.line import Address

_SEEN_WITHIN = 30.0


class Engines(BrowserTest):
    def know(self, url: str) -> None:
        """Make the simulated engine known, and wait until the server has seen it."""
        path = self.stack.folder / "engines.json"
        keep(path, (Entry(name="studio-a", url=url, about=asked_about(Address(url))),))
        self.addCleanup(keep, path, ())
        deadline = time.monotonic() + _SEEN_WITHIN
        while len(self.stack.client.get("/choices").json()["engines"]) < 2:
            self.assertLess(time.monotonic(), deadline, "the server does not see its engines")
            time.sleep(0.2)

    def test_an_engine_is_chosen_and_left_again(self) -> None:
        with stand_in() as address:
            self.know(address.url)
            self.at_desk(as_file(harbour(96, 144, 612)), "quay.png")
            page = self.page
            page.reload()
            page.get_by_role("button", name="All controls").click()
            drawer = page.get_by_role("region", name="All controls")
            expect(drawer.get_by_role("slider", name="Steps").first).to_be_visible()
            for title, look, holds in (("Studio A", "Day bands", 1), ("Built-in", "Watercolour", 5)):
                drawer.get_by_role("combobox", name="Engine").click()
                page.get_by_role("option", name=title).click()
                expect(page.get_by_role("button", name=f"Look: {look}")).to_be_visible()
                found = [
                    name
                    for name in ("Lines", "Shapes", "Colours", "Faces", "Subject")
                    if drawer.get_by_text(name, exact=True).count()
                ]
                self.assertEqual(len(found), holds, f"holds shown for {title}: {found}")

    def test_an_engine_is_stretched_told_and_read(self) -> None:
        with stand_in() as address:
            self.know(address.url)
            self.at_desk(as_file(harbour(96, 144, 611)), "quay.png")
            page = self.page
            page.reload()
            page.get_by_role("button", name="All controls").click()
            page.get_by_role("button", name="Tick several: Engine").click()
            page.get_by_role("checkbox", name="Studio A").click()
            expect(page.get_by_text("2 of 2 ticked")).to_be_visible()
            page.keyboard.press("Escape")
            expect(page.get_by_text("Studio A has no look watercolour").first).to_be_visible()
            page.keyboard.press("Escape")
            page.get_by_role("button", name="Run").first.click()
            study = page.url.split("/study/")[1].split("?")[0]
            expect(page.locator("[data-take]").first).to_be_visible()
            sweeps = self.stack.client.get(f"/studies/{study}").json()["sweeps"]
            takes = self.stack.settled(study, sweeps[-1]["id"])["takes"]
            theirs = [take for take in takes if take["recipe"]["engine"] == "studio-a"]
            self.assertEqual(
                [take["state"] for take in takes], ["done"] * len(takes), [take["fault"] for take in takes]
            )
            self.assertEqual(len(theirs) * 2, len(takes))
            page.locator(f"[data-take='{theirs[-1]['id']}']").click()
            panel = page.get_by_role("complementary", name="Take")
            expect(panel.get_by_role("heading").first).to_contain_text("Studio A: Day bands, strength")
            expect(panel).to_contain_text("Look reached")
            page.goto(f"{self.stack.url}/machines")
            engines = page.get_by_role("region", name="Engines")
            expect(engines).to_contain_text("Studio A")
            expect(engines.get_by_text("does not answer")).to_have_count(0)
            expect(page.get_by_role("region", name="Machine").first).to_contain_text("takes")
            expect(page.get_by_role("region", name="Machine").first).to_contain_text("other engines")
