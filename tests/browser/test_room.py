"""How much of the window the pictures get, and that nothing moves, overlaps or is cut: measured from boxes."""

import itertools
import re
import time
from typing import Any

from playwright.sync_api import expect

from tests.browser.browser import DeskTest
from tests.pictures import as_file, harbour

# Seconds within which a busy machine has drawn what it was asked for.
SETTLES = 3.0
LARGE, USUAL = (1920, 1080), (1280, 800)
# Every picture of the sheet that is in sight, source and takes.
PICTURES = """
() => [...document.querySelectorAll('[role=grid] figure img, [data-take] > img:first-child, [data-take] > span')]
  .map((node) => node.getBoundingClientRect())
  .map(({ left, top, right, bottom }) => ({ left, top, right: Math.min(right, innerWidth), bottom: Math.min(bottom, innerHeight) }))
"""
# Parts of the desk that share its room, top to bottom.
PARTS = "() => ['header', '[aria-label=Band]', '[role=toolbar]', '[role=grid]', 'main > section'].map((s) => document.querySelector(s)).filter(Boolean).map((n) => n.getBoundingClientRect()).map(({ top, bottom, left, right }) => ({ top, bottom, left, right }))"
# What stands in the band and in the head of the sheet, side by side.
ROWS = "(row) => [...document.querySelector(row).children].map((n) => n.getBoundingClientRect()).filter((b) => b.width > 0).map(({ left, right }) => ({ left, right }))"


class Room(DeskTest):
    def share(self) -> float:
        """Of the window that pictures cover, in percent."""
        found = self.page.evaluate(PICTURES)
        size = self.page.viewport_size
        assert size is not None
        covered = sum(max(b["right"] - b["left"], 0) * max(b["bottom"] - b["top"], 0) for b in found)
        return float(100 * covered / (size["width"] * size["height"]))

    def sized(self, size: tuple[int, int]) -> None:
        self.page.set_viewport_size({"width": size[0], "height": size[1]})
        self.page.wait_for_timeout(250)

    def done(self, count: int) -> None:
        expect(self.page.locator('[data-take][data-state="done"]')).to_have_count(count)
        # Pictures that have come, at the size that their cells settle at.
        self.page.wait_for_timeout(300)

    def shares(self, least: float) -> None:
        for size in (USUAL, LARGE):
            self.sized(size)
            self.assertGreaterEqual(self.share(), least, size)
        self.sized(USUAL)

    def boxes(self) -> list[dict[str, Any]]:
        found: list[dict[str, Any]] = self.page.evaluate(PICTURES)
        return found

    def test_five_takes_and_their_source(self) -> None:
        page = self.page
        self.begin(801)
        band = page.get_by_label("Band").bounding_box()
        assert band is not None
        self.assertLessEqual(band["height"], 96)
        page.get_by_role("button", name="Run 5 takes").click()
        self.done(5)
        self.shares(42)
        before = self.boxes()
        # What is said of a take comes and goes, and moves nothing; it never lies over its take.
        for k in range(5):
            cell = page.locator("[data-take]").nth(k)
            cell.click()
            panel = page.get_by_role("complementary", name="Take", exact=True)
            expect(panel).to_contain_text("Look reached")
            self.assertEqual(self.boxes(), before)
            side, own = panel.bounding_box(), cell.bounding_box()
            assert side is not None
            assert own is not None
            self.assertTrue(side["x"] >= own["x"] + own["width"] or side["x"] + side["width"] <= own["x"], k)
        page.keyboard.press(",")
        expect(page.get_by_label("Show what is said of the take")).to_be_visible()
        self.assertEqual(self.boxes(), before)
        page.keyboard.press(",")
        page.keyboard.press("Escape")
        expect(page.get_by_role("complementary", name="Take", exact=True)).to_have_count(0)
        # The drawer comes over the pictures and moves none.
        self.drawer()
        expect(page.get_by_label("All controls", exact=True)).to_be_visible()
        self.assertEqual(self.boxes(), before)
        self.drawer()
        self.nothing_is_cut()
        self.no_number_is_hidden()

    def nothing_is_cut(self) -> None:
        """Between 900 and 3840 px wide parts stand under each other, and what is in a row beside each other."""
        for width in (900, 1024, 1280, 1920, 2560, 3840):
            self.sized((width, 800))
            parts = self.page.evaluate(PARTS)
            self.assertEqual(len(parts), 5)
            for above, below in itertools.pairwise(parts):
                self.assertLessEqual(above["bottom"], below["top"] + 1, width)
            self.assertLessEqual(parts[-1]["bottom"], 801, width)
            for row in ("[aria-label=Band] > div", "[role=toolbar]"):
                items = self.page.evaluate(ROWS, row)
                for left, right in itertools.pairwise(items):
                    self.assertLessEqual(left["right"], right["left"] + 1, (width, row))
                self.assertLessEqual(items[-1]["right"], width, (width, row))
        self.sized(USUAL)

    def no_number_is_hidden(self) -> None:
        """What lies in the drawer and is not as it began stands in the band, and opens there."""
        page = self.page
        chips = page.get_by_role("group", name="Not as it began")
        page.keyboard.press("4")
        expect(page.locator("#control-steps")).to_be_focused()
        for _ in range(3):
            page.keyboard.press("ArrowRight")
        page.keyboard.press("5")
        expect(page.locator("#control-lines")).to_be_focused()
        page.keyboard.press("t")
        page.keyboard.press("Escape")
        expect(page.get_by_label("All controls", exact=True)).to_have_count(0)
        expect(chips).to_contain_text("steps 23")
        expect(chips).to_contain_text("lines 0.20 to 0.80")
        chips.get_by_role("button", name="steps 23").click()
        # Longer than one movement of the hand.
        page.wait_for_timeout(700)
        field = page.get_by_role("dialog", name="steps 23").locator('input[aria-label="Steps"]')
        field.fill("20")
        field.press("Enter")
        page.keyboard.press("Escape")
        expect(chips).not_to_contain_text("steps")
        # All of it is there after a reload, undo too.
        page.reload()
        expect(chips).to_contain_text("lines 0.20 to 0.80")
        page.keyboard.press("Control+z")
        expect(chips).to_contain_text("steps 23")
        # On another day, in another browser: what the last sweep was made with.
        page.evaluate("() => localStorage.clear()")
        page.reload()
        expect(page.get_by_role("button", name="Run 5 takes")).to_be_enabled()
        expect(chips).to_contain_text("size 256")

    def test_five_by_three(self) -> None:
        page = self.page
        self.begin(802)
        page.keyboard.press("2")
        page.keyboard.press("t")
        page.get_by_role("button", name="Run 15 takes").click()
        self.done(15)
        self.shares(45)
        self.under_their_columns()
        # Rows are rows, and the chart has a table behind it.
        rows = page.get_by_role("grid").get_by_role("row")
        self.assertEqual(rows.count(), 4)
        expect(rows.nth(1).get_by_role("gridcell")).to_have_count(5)
        table = page.locator("table").filter(has_text="Composition kept, by strength")
        self.assertEqual(table.locator("tbody tr").count(), 3)
        # A point lights its take and the other way round; arrows go from point to point.
        point = page.get_by_test_id("tide").locator("g[role=group]").last.locator("[data-point]").first
        take = point.get_attribute("data-point")
        point.hover()
        expect(page.locator(f'[data-take="{take}"]')).to_have_class(re.compile(r"\blit\b"))
        point.focus()
        page.keyboard.press("ArrowRight")
        second = page.evaluate("() => document.activeElement.dataset.point")
        self.assertNotEqual(second, take)
        page.keyboard.press("Enter")
        expect(page.locator(f'[data-take="{second}"]')).to_have_attribute("aria-selected", "true")

    def under_their_columns(self) -> None:
        """Every point stands under the middle of its take's column, to a pixel, while scrolled and pinched too."""
        page = self.page
        self.aligned()
        page.mouse.move(700, 420)
        page.keyboard.down("Control")
        for _ in range(5):
            page.mouse.wheel(0, -60)
            page.evaluate("() => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done)))")
            self.aligned()
        page.keyboard.up("Control")
        expect(page.get_by_role("button", name="Fit", exact=True)).to_be_visible()
        page.mouse.wheel(60, 0)
        page.wait_for_timeout(60)
        self.aligned()
        page.get_by_role("button", name="Fit", exact=True).click()

    def aligned(self) -> None:
        """Once what was drawn last stands still: a busy machine may show a frame between the sheet's and the chart's."""
        deadline = time.monotonic() + SETTLES
        while max(apart := self.apart()) > 1 and time.monotonic() < deadline:
            self.page.evaluate("() => new Promise((done) => requestAnimationFrame(done))")
        self.assertGreater(len(apart), 4)
        self.assertLessEqual(max(apart), 1)

    def apart(self) -> list[float]:
        """How far every point of the chart is from the middle of its take, pixels."""
        found: list[float] = self.page.evaluate(
            """() => [...document.querySelectorAll('[data-point]')].flatMap((point) => {
              const cell = document.querySelector(`[data-take="${point.dataset.point}"]`);
              if (!cell) return [];
              const [a, b] = [point, cell].map((n) => n.getBoundingClientRect());
              return [Math.abs((a.left + a.right) / 2 - (b.left + b.right) / 2)];
            })"""
        )
        return found

    def test_one_take_and_the_bench(self) -> None:
        page = self.page
        self.begin(803)
        self.size(512)
        self.single()
        page.get_by_role("button", name="Run", exact=True).click()
        self.done(1)
        self.shares(46)
        expect(page.get_by_test_id("tide")).to_have_count(0)
        page.locator("[data-take]").click()
        page.keyboard.press("Enter")
        page.wait_for_url("**/bench")
        for key, least in (("", 55), (",", 70)):
            if key:
                page.keyboard.press(key)
            page.wait_for_timeout(200)
            box = page.get_by_alt_text("Take", exact=True).bounding_box()
            assert box is not None
            self.assertGreaterEqual(100 * box["width"] * box["height"] / (1280 * 800), least)
            self.assertGreaterEqual(box["x"], 0)
            self.assertLessEqual(box["y"] + box["height"], 800)

    def test_five_portraits(self) -> None:
        page = self.page
        self.drop(as_file(harbour(288, 192, 804)), "tall.png")
        page.wait_for_url("**/study/*")
        expect(page.get_by_role("button", name="Run 5 takes")).to_be_enabled()
        self.drawer()
        page.get_by_role("combobox", name="Size").click()
        page.get_by_role("option", name=re.compile("256$")).click()
        self.drawer()
        page.get_by_role("button", name="Run 5 takes").click()
        self.done(5)
        self.shares(34)
        # They stand in one row, so the chart stands under them.
        self.aligned()
