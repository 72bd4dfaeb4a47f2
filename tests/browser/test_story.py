"""The first sweep of a new study tells where its composition gives way, and what to do next, one key each."""

import re
from pathlib import Path

from playwright.sync_api import expect

from tests.browser.browser import DeskTest

ROOT = Path(__file__).resolve().parent.parent.parent


class Story(DeskTest):
    def test_the_tip_shows_and_one_key_holds_the_lines(self) -> None:
        page = self.page
        self.drop((ROOT / "demo" / "pictures" / "quay.jpg").read_bytes(), "quay.jpg", "image/jpeg")
        page.wait_for_url("**/study/*")
        expect(page.get_by_role("button", name="Run 5 takes")).to_be_enabled()
        self.size(256)
        page.get_by_role("button", name="Run 5 takes").click()
        done = page.locator('[data-take][data-state="done"]')
        expect(done).to_have_count(5)
        said = page.get_by_label("Where it gives way")
        expect(said).to_contain_text(re.compile(r"Gives way at strength 0\.\d\d"))
        expect(page.get_by_test_id("tip-mark")).to_have_count(1)
        # The last that keeps the composition.
        page.keyboard.press("Shift+K")
        picked = page.locator('[data-take][aria-selected="true"]')
        expect(picked).to_have_count(1)
        panel = page.get_by_role("complementary", name="Take", exact=True)
        kept = int(panel.get_by_text("Composition kept").locator("..").inner_text().split()[-1])
        self.assertGreater(kept, 80)
        # The stretch where it gives way, finer, into the band.
        page.keyboard.press("Shift+F")
        expect(page.locator('input[aria-label="Strength from"]')).not_to_have_value("0.20")
        # Hold its lines and go on: the same strengths, and the composition stays.
        lost, first = self.lowest(), done.first.get_attribute("data-take")
        page.keyboard.press("Shift+H")
        expect(page.get_by_role("group", name="Not as it began")).to_contain_text("lines 0.85")
        expect(page.locator('input[aria-label="Strength to"]')).to_have_value("1.00")
        expect(page.locator(f'[data-take="{first}"]')).to_have_count(0)
        expect(done).to_have_count(5)
        expect(page.locator("[data-point]")).to_have_count(5)
        self.assertGreater(self.lowest(), lost + 20)

    def lowest(self) -> int:
        """What the take that lost most has kept, by the chart."""
        names = self.page.locator("[data-point]").evaluate_all("all => all.map((n) => n.getAttribute('aria-label'))")
        return min(int(re.findall(r"composition (\d+)", name)[0]) for name in names)
