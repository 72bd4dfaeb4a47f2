"""Sheets of more than one axis in the real interface: turned, pinched, walked by keys, read, paged."""

import math
import re

from playwright.sync_api import expect

from tests.browser.browser import DeskTest


class Sheets(DeskTest):
    def test_two_axes_make_a_matrix(self) -> None:
        page = self.page
        self.begin(102)
        page.keyboard.press("3")
        page.keyboard.press("t")
        expect(page.get_by_role("button", name="Run 15 takes")).to_be_enabled()
        # Between seeds 7 and 9 there is no fourth: the span grows. The keys stay with the control.
        page.keyboard.press("+")
        expect(page.get_by_role("button", name="Run 20 takes")).to_be_enabled()
        page.keyboard.press("-")
        expect(page.get_by_role("button", name="Run 15 takes")).to_be_enabled()
        page.keyboard.press("1")
        for _ in range(2):
            page.keyboard.press("-")
        expect(page.get_by_role("button", name="Run 9 takes")).to_be_enabled()
        page.keyboard.press("r")
        expect(page.locator('[data-take][data-state="done"]')).to_have_count(9)
        grid = page.get_by_role("grid")
        heads = grid.get_by_role("columnheader").all_inner_texts()
        self.assertEqual(heads, ["0.20", "0.60", "1.00"])
        self.assertEqual(grid.get_by_role("rowheader").count(), 3)
        # The source is pinned once and does not scroll away.
        self.assertEqual(page.locator("[role=grid] figure").count(), 1)
        self.matrix_by_keys()
        self.turned_and_pinched()
        page.locator("[data-take]").nth(4).click()
        expect(page.get_by_label("Take", exact=True)).to_contain_text("strength 0.60")
        expect(page.get_by_label("Take", exact=True)).to_contain_text("seed 8")

    def turned_and_pinched(self) -> None:
        """The sheet as it is turns; a pinch keeps under the hand what was there, and labels over their cells."""
        page = self.page
        page.keyboard.press("Shift+Y")
        expect(page.get_by_role("grid").get_by_role("rowheader").first).to_contain_text("0.20")
        page.get_by_role("button", name="Turn the sheet").click()
        expect(page.get_by_role("grid").get_by_role("columnheader").first).to_have_text("0.20")
        cell = page.locator("[data-take]").nth(4)
        before = cell.bounding_box()
        assert before is not None
        x, y = before["x"] + before["width"] / 2, before["y"] + before["height"] / 2
        page.mouse.move(x, y)
        page.keyboard.down("Control")
        for _ in range(4):
            page.mouse.wheel(0, -60)
            page.evaluate("() => new Promise((done) => requestAnimationFrame(done))")
            now = cell.bounding_box()
            assert now is not None
            self.assertTrue(now["x"] < x < now["x"] + now["width"] and now["y"] < y < now["y"] + now["height"], now)
        page.keyboard.up("Control")
        expect(page.get_by_role("button", name="Fit", exact=True)).to_be_visible()
        after = cell.bounding_box()
        assert after is not None
        self.assertAlmostEqual(after["width"] / before["width"], math.exp(4 * 60 * 0.002), delta=0.05)
        self.assertTrue(after["x"] < x < after["x"] + after["width"] and after["y"] < y < after["y"] + after["height"])
        label = page.get_by_role("grid").get_by_role("columnheader").nth(1).bounding_box()
        assert label is not None
        self.assertAlmostEqual(label["x"], after["x"], delta=2)
        page.get_by_role("button", name="Fit", exact=True).click()

    def matrix_by_keys(self) -> None:
        """Arrows go along the axes, Shift chooses, marks go to all that are chosen."""
        page = self.page
        cells = page.locator("[data-take]")
        cells.nth(0).click()
        page.keyboard.press("ArrowDown")
        expect(cells.nth(3)).to_have_attribute("aria-selected", "true")
        page.keyboard.press("ArrowRight")
        expect(cells.nth(4)).to_have_attribute("aria-selected", "true")
        cells.nth(8).click(modifiers=["Shift"])
        panel = page.get_by_role("complementary", name="Chosen takes")
        expect(panel).to_contain_text("4 takes chosen")
        page.keyboard.press("m")
        expect(page.locator('[data-take][aria-label*="maybe"]')).to_have_count(4)
        page.keyboard.press("Control+z")
        cells.nth(4).click(modifiers=["Control"])
        expect(panel).to_contain_text("3 takes chosen")
        page.keyboard.press("Enter")
        page.wait_for_url("**/bench")
        # Source and three takes under one zoom.
        expect(page.get_by_test_id("stage").locator("img")).to_have_count(7)
        page.get_by_role("link", name="Desk").click()
        page.keyboard.press("Escape")
        expect(panel).to_have_count(0)
        self.readings_by_map_and_dots()
        for order, first in (("Composition kept", "strength 0.20"), ("By axes", "strength 0.20")):
            page.get_by_role("combobox", name="Order of takes").click()
            page.get_by_role("option", name=re.compile(f"^{order}")).click()
            cells.nth(0).click()
            expect(page.get_by_label("Take", exact=True)).to_contain_text(first)

    def readings_by_map_and_dots(self) -> None:
        """The map of two axes leads to its take; a box over the dots chooses; night keeps the surround."""
        page = self.page
        page.get_by_role("button", name="Map", exact=True).click()
        cells = page.get_by_test_id("reading-map").get_by_role("button")
        expect(cells).to_have_count(9)
        cells.nth(5).click()
        expect(page.get_by_label("Take", exact=True)).to_contain_text("seed 8")
        page.get_by_role("button", name="All takes", exact=True).click()
        expect(page.locator("[data-dot=here]")).to_have_count(9)
        box = page.get_by_test_id("scatter").bounding_box()
        assert box is not None
        self.drag((box["x"] + 50, box["y"] + 4), (box["x"] + box["width"] - 2, box["y"] + 135))
        expect(page.get_by_role("complementary", name="Chosen takes")).to_contain_text("9 takes chosen")
        page.keyboard.press("Escape")
        surround = page.locator("main").evaluate("node => getComputedStyle(node).backgroundColor")
        paper = page.get_by_label("Band").evaluate("node => getComputedStyle(node).backgroundColor")
        page.keyboard.press("Shift+G")
        expect(page.locator("html")).to_have_attribute("data-theme", "dark")
        self.assertEqual(page.locator("main").evaluate("node => getComputedStyle(node).backgroundColor"), surround)
        self.assertNotEqual(page.get_by_label("Band").evaluate("node => getComputedStyle(node).backgroundColor"), paper)
        page.keyboard.press("Shift+G")

    def test_three_axes_make_pages_and_lists_are_ticked(self) -> None:
        page = self.page
        self.begin(113)
        page.get_by_role("button", name="Tick several: Look").click()
        page.get_by_role("checkbox", name="Pencil", exact=True).click()
        page.keyboard.press("Escape")
        self.drawer()
        page.get_by_role("button", name="Tick several: Quality").click()
        page.get_by_role("checkbox", name="Draft").click()
        page.keyboard.press("Escape")
        self.drawer()
        # What is stretched in the drawer stands in the band.
        expect(page.get_by_role("group", name="Not as it began")).to_contain_text("quality Full, Draft")
        expect(page.get_by_role("button", name="Run 20 takes")).to_be_enabled()
        page.locator("[data-control=control-guidance] [aria-pressed]").click()
        notice = page.get_by_role("status").get_by_text("Three controls are stretched already")
        expect(notice).to_be_visible()
        for label, value in (("from", "0.65"), ("to", "0.80"), ("step", "0.05")):
            field = page.locator(f'input[aria-label="Strength {label}"]')
            field.fill(value)
            field.press("Enter")
        expect(page.locator('input[aria-label="Strength values"]')).to_have_value("4")
        page.locator("[data-control=control-strength]").hover()
        page.mouse.wheel(0, -100)
        expect(page.locator('input[aria-label="Strength values"]')).to_have_value("5")
        page.mouse.wheel(0, 100)
        expect(page.locator('input[aria-label="Strength values"]')).to_have_value("4")
        turn = page.get_by_test_id("axes")
        expect(turn).to_contain_text("Strength \u2192")
        turn.click()
        expect(turn).to_contain_text("Strength by page")
        page.keyboard.press("Escape")
        for _ in range(2):
            page.keyboard.press("y")
        expect(turn).to_contain_text("Strength \u2192")
        page.keyboard.press("r")
        cells = page.locator("[data-take]")
        done = page.locator('[data-take][data-state="done"]')
        expect(done).to_have_count(8)
        expect(page.get_by_test_id("page")).to_have_text("Quality Full")
        page.keyboard.press("PageDown")
        expect(page.get_by_test_id("page")).to_have_text("Quality Draft")
        expect(done).to_have_count(8)
        # Drafts chosen on this page are finished as a sheet of their own.
        cells.nth(0).click()
        cells.nth(2).click(modifiers=["Control"])
        page.get_by_role("button", name="Finish 2 drafts in full").click()
        expect(done).to_have_count(2)
        # That sweep goes, and comes back.
        page.get_by_role("button", name="Sweeps of this study").click()
        sweeps = page.get_by_role("dialog", name="Sweeps of this study").locator("li")
        expect(sweeps).to_have_count(2)
        page.get_by_label("Find a sweep").fill("pencil quality")
        expect(sweeps).to_have_count(1)
        page.get_by_label("Find a sweep").fill("")
        sweeps.nth(0).get_by_role("button", name=re.compile("^Delete")).click()
        expect(sweeps).to_have_count(1)
        page.get_by_role("button", name="Take it back").click()
        page.get_by_role("button", name="Sweeps of this study").click()
        expect(sweeps).to_have_count(2)
        sweeps.nth(1).get_by_role("button", name=re.compile("to the band$")).click()
        expect(page.get_by_role("button", name="Run 16 takes")).to_be_enabled()
