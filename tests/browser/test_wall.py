"""The wall in the browser: hung, dragged, made larger, blinked, captioned, taken away."""

import re
from pathlib import Path

from playwright.sync_api import expect

from tests.browser.browser import BrowserTest
from tests.journey import Worker
from tests.pictures import as_file, harbour


class Wall(BrowserTest):
    def hung(self) -> list[str | None]:
        pictures = self.page.locator("[data-hung]")
        return [pictures.nth(k).get_attribute("data-hung") for k in range(pictures.count())]

    def test_hung_moved_sized_blinked_captioned_and_taken_away(self) -> None:
        page, http = self.page, self.stack.client
        made = http.post("/studies", files={"file": ("quay.png", as_file(harbour(96, 144, 611)))}).json()
        work = Worker(self.stack, made["id"])
        spans = [{"control": "seed", "values": [1, 2, 3]}]
        takes = work.swept(made["sources"][0]["id"], {"look": "ink-comic", "size": 96}, spans)
        page.goto(f"{self.stack.url}/study/{made['id']}/wall")
        expect(page.get_by_text("Nothing hangs here yet")).to_be_visible()
        for take in takes:
            work.keep(take["id"])
        page.goto(f"{self.stack.url}/study/{made['id']}")
        expect(page.locator("[data-take]").first).to_be_visible()
        page.keyboard.press("Shift+W")
        page.wait_for_url("**/wall")
        expect(page.locator("[data-hung]")).to_have_count(3)
        before = self.hung()
        self.drag(self.centre(f'[data-hung="{before[2]}"]'), self.centre(f'[data-hung="{before[0]}"]'))
        expect(page.locator("[data-hung]").first).to_have_attribute("data-hung", str(before[2]))
        self.assertEqual(self.hung(), [before[2], before[0], before[1]])
        page.locator("[data-hung]").first.click()
        wide = page.locator("[data-hung]").first.bounding_box()
        page.keyboard.press("+")
        page.wait_for_function(
            f"() => document.querySelector('[data-hung]').getBoundingClientRect().width > {wide['width'] + 5}"
        )  # type: ignore[index]
        page.get_by_label("Caption").fill("for the council")
        page.get_by_label("Caption").press("Enter")
        page.get_by_label("Title of the wall").fill("Dusk")
        page.get_by_label("Title of the wall").press("Enter")
        page.locator("[data-hung]").nth(1).click(modifiers=["Shift"])
        page.keyboard.press("b")
        blink = page.get_by_role("dialog", name="Blink")
        seeds = {take["id"]: take["recipe"]["seed"] for take in takes}
        expect(blink).to_contain_text(f"seed {seeds[str(before[2])]}")
        first = blink.get_by_role("img", name="shown").get_attribute("src")
        page.keyboard.down("b")
        self.assertNotEqual(blink.get_by_role("img", name="shown").get_attribute("src"), first)
        page.keyboard.up("b")
        self.assertEqual(blink.get_by_role("img", name="shown").get_attribute("src"), first)
        page.keyboard.press("Escape")
        expect(blink).to_have_count(0)
        page.get_by_role("button", name="Take away").click()
        with page.expect_download() as saved:
            page.get_by_role("menuitem", name="PDF, A3").click()
        self.assertTrue(Path(saved.value.path()).read_bytes().startswith(b"%PDF"))
        self.assertEqual(saved.value.suggested_filename, "Dusk.pdf")
        # On another day it hangs as it did.
        page.reload()
        expect(page.locator("[data-hung]").first).to_have_attribute("data-hung", str(before[2]))
        expect(page.get_by_text("for the council")).to_be_visible()
        page.keyboard.press("ArrowRight")
        page.keyboard.press("Enter")
        page.wait_for_url(re.compile(rf"/study/{made['id']}$"))
        expect(page.get_by_role("complementary", name="Take")).to_be_visible()
