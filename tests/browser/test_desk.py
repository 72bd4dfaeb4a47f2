"""The whole way through the real interface: drop, stretch, run, compare, keep, reload."""

import re
import tempfile
from pathlib import Path

import numpy as np
from playwright.sync_api import expect

from tests.browser.browser import DeskTest
from warmtide.core.looks.registry import looks
from warmtide.core.pictures.image import decode
from warmtide.core.pictures.inside import recipe_inside


class Desk(DeskTest):
    def test_from_drop_to_keep_and_reload(self) -> None:
        page = self.page
        self.begin(101, "quay photo.png")
        self.single()
        expect(page.get_by_role("button", name="Run", exact=True)).to_be_enabled()

        # Pull the second handle out of the thumb to the right, then ask for five values.
        x, y = self.centre("[data-control=control-strength] [data-handle=nub]")
        self.drag((x, y), (x + 90, y))
        expect(page.get_by_label("Strength to", exact=True).first).to_be_visible()
        for label, value in (("Strength from", "0.2"), ("Strength to", "1"), ("Strength values", "5")):
            field = page.locator(f'input[aria-label="{label}"]')
            field.fill(value)
            field.press("Enter")
        run = page.get_by_role("button", name="Run 5 takes")
        expect(run).to_be_enabled()
        expect(page.get_by_test_id("plan")).to_contain_text("5 new")
        run.click()

        cells = page.locator("[data-take]")
        expect(cells).to_have_count(5)
        expect(page.get_by_test_id("work")).to_be_visible()
        expect(page.locator('[data-take][data-state="done"]')).to_have_count(5)
        expect(page.get_by_test_id("work")).to_have_count(0)
        expect(page.get_by_test_id("plan")).to_contain_text("all of them exist")
        labels = page.locator("[role=grid]").inner_text()
        for strength in ("0.20", "0.40", "0.60", "0.80", "1.00"):
            self.assertIn(f"Strength {strength}", labels)
        first_cell = cells.first.locator("img")
        self.assertGreater(first_cell.evaluate("image => image.naturalWidth"), 100)

        # Go to the third by keys, keep it, and take it to the bench.
        page.keyboard.press("Escape")
        for _ in range(3):
            page.keyboard.press("ArrowRight")
        expect(cells.nth(2)).to_have_attribute("aria-selected", "true")
        page.keyboard.press("k")
        expect(page.get_by_role("button", name="Keep", exact=True)).to_have_attribute("aria-pressed", "true")
        page.keyboard.press("Enter")
        page.wait_for_url("**/bench")
        self.bench()

        page.reload()
        expect(page.get_by_role("button", name="Keep", exact=True)).to_have_attribute("aria-pressed", "true")
        page.get_by_role("link", name="Desk").click()
        expect(page.locator('[data-take][data-state="done"]')).to_have_count(5)
        expect(page.locator('[data-take][aria-label*="keep"]')).to_have_count(1)
        expect(page.locator('input[aria-label="Strength values"]')).to_have_value("5")
        page.get_by_role("link", name="Warm Tide").click()
        card = page.locator("li", has_text="quay photo")
        expect(card).to_contain_text("5 takes, 1 kept")

    def bench(self) -> None:
        """Divider, blink, side by side, zoom, save."""
        page = self.page
        divider = page.get_by_test_id("divider")
        expect(divider).to_have_attribute("aria-valuenow", "50")
        x, y = self.centre("[data-testid=divider]")
        self.drag((x, y), (x - 120, y))
        moved = int(divider.get_attribute("aria-valuenow") or 50)
        self.assertLess(moved, 45)
        page.keyboard.press("]")
        self.assertEqual(int(divider.get_attribute("aria-valuenow") or 0), moved + 5)
        knob = self.centre("[data-testid=divider-knob]")
        self.drag(knob, (knob[0] - 90, knob[1]))
        expect(divider).to_have_attribute("aria-valuetext", re.compile("turned by [1-9]"))
        page.keyboard.press("\\")
        expect(divider).to_have_attribute("aria-valuetext", "50 percent, turned by 0 degrees")
        page.mouse.move(*self.centre("[data-testid=stage]"))
        expect(page.get_by_test_id("under")).to_contain_text(re.compile("source.*#[0-9a-f]{6}.*#[0-9a-f]{6}"))

        stage = page.get_by_test_id("stage")
        loaded = "images => images.length === 2 && images.every(i => i.complete && i.naturalWidth === 256)"
        self.page.wait_for_function(f"() => ({loaded})([...document.querySelectorAll('[data-testid=stage] img')])")
        before = self.pixels(stage.screenshot())
        page.keyboard.down("b")
        expect(divider).to_have_count(0)
        blinked = self.pixels(stage.screenshot())
        page.keyboard.up("b")
        expect(divider).to_have_count(1)
        self.assertGreater(float(np.abs(before - blinked).mean()), 1)
        self.assertLess(float(np.abs(before - self.pixels(stage.screenshot())).mean()), 0.5)

        page.keyboard.press("p")
        expect(stage.locator("img")).to_have_count(3)
        page.get_by_role("button", name="400").click()
        expect(page.get_by_test_id("zoom")).to_have_text("400 %")
        places = stage.locator("img").evaluate_all("images => images.map(i => i.style.transform)")
        self.assertEqual(places[0], places[1])
        page.mouse.move(*self.centre("[data-testid=stage]"))
        page.mouse.wheel(0, 2000)
        expect(page.get_by_test_id("zoom")).not_to_have_text("400 %")
        x, y = self.centre("[data-testid=stage]")
        self.drag((x, y), (x + 60, y + 40))
        panned = stage.locator("img").evaluate_all("images => images.map(i => i.style.transform)")
        self.assertNotEqual(panned[0], places[0])
        self.assertEqual(panned[0], panned[1])
        page.keyboard.press("0")
        page.keyboard.press("i")
        expect(page.get_by_alt_text("The source's lines")).to_have_count(2)
        page.keyboard.press("Shift+u")
        expect(page.get_by_alt_text("Difference")).to_have_count(1)
        page.keyboard.press("Shift+u")
        page.keyboard.press("ArrowRight")
        expect(page.locator("[data-differs]")).to_have_text(["0.80"])
        page.keyboard.press("ArrowLeft")

        with page.expect_download() as download:
            page.keyboard.press("s")
        inside = recipe_inside(self.saved(str(download.value.path())))
        assert inside is not None
        self.assertEqual((inside["recipe"]["strength"], inside["recipe"]["size"]), (0.6, 256))
        self.assertTrue(download.value.suggested_filename.endswith(".png"))

    @staticmethod
    def pixels(data: bytes) -> "np.ndarray[tuple[int, ...], np.dtype[np.float64]]":
        return decode(data).rgba[..., :3].astype(float)

    def test_things_are_tried_around_a_take(self) -> None:
        page = self.page
        self.begin(114)
        self.single()
        page.get_by_role("button", name="Run", exact=True).click()
        done = page.locator('[data-take][data-state="done"]')
        expect(done).to_have_count(1)
        done.first.click()
        page.keyboard.press("t")
        page.get_by_role("menuitem", name=re.compile("^Less and more guidance")).click()
        expect(done).to_have_count(3)
        expect(page.get_by_role("grid")).to_contain_text("Guidance 4.0")
        page.keyboard.press("o")
        expect(page.get_by_role("button", name="Run 3 takes")).to_be_enabled()
        expect(page.locator('input[aria-label="Guidance from"]')).to_have_value("4.0")

    def test_the_line_up_is_seen_paused_and_stopped(self) -> None:
        page = self.page
        self.begin(115)
        self.size(2048)
        page.get_by_role("button", name="Run 5 takes").click()
        page.keyboard.press("Escape")
        page.keyboard.press("q")
        panel = page.get_by_role("complementary", name="Line-up")
        expect(panel).to_contain_text("0 of 5")
        panel.get_by_role("button", name="Pause", exact=True).click()
        expect(panel).to_contain_text("paused")
        panel.get_by_role("button", name="Go on", exact=True).first.click()
        expect(panel).to_contain_text("ready in")
        panel.get_by_role("button", name="Stop all").click()
        expect(panel).to_contain_text("Nothing waits")
        expect(page.locator('[data-take][data-state="stopped"]').first).to_be_visible()

    def test_undo_and_redo_in_the_band(self) -> None:
        page = self.page
        self.begin(103)
        guidance = page.locator('input[aria-label="Guidance"]')
        guidance.fill("9")
        guidance.press("Enter")
        expect(guidance).to_have_value("9.0")
        page.keyboard.press("Control+z")
        expect(guidance).to_have_value("5.0")
        page.keyboard.press("Control+y")
        expect(guidance).to_have_value("9.0")
        strength = page.locator("[data-control=control-strength] [data-handle=from]")
        strength.focus()
        page.keyboard.press("ArrowRight")
        expect(page.locator('input[aria-label="Strength from"]')).to_have_value("0.21")

    def test_words_say_what_they_mean_and_change_the_take(self) -> None:
        page = self.page
        self.begin(108)
        self.single()
        page.get_by_role("button", name="Run", exact=True).click()
        done = page.locator('[data-take][data-state="done"]')
        expect(done).to_have_count(1)
        plain = done.first.get_attribute("data-take")
        page.keyboard.press("w")
        page.keyboard.type("nigth^1.3, zebra")
        understood = page.get_by_role("list", name="Prompt as understood")
        # What is typed acts at once; a comma makes it a chip.
        expect(understood).to_contain_text("= night")
        expect(understood).to_contain_text("1.3")
        page.keyboard.press("Enter")
        expect(understood.get_by_role("listitem").nth(1)).to_contain_text("no effect")
        expect(page.get_by_test_id("plan")).to_contain_text("1 new")
        page.keyboard.press("Escape")
        page.keyboard.press("r")
        expect(page.locator(f'[data-take][data-state="done"]:not([data-take="{plain}"])')).to_have_count(1)
        page.fill("#words-prompt", "night^7,")
        expect(page.get_by_role("alert")).to_contain_text("weights go from 0.1 to 2")

    def test_all_looks_are_tried_at_once(self) -> None:
        page = self.page
        self.begin(109)
        button = page.get_by_role("button", name="try all")
        # Own looks that other tests have learned are tried too.
        count = int(button.inner_text().split()[-1])
        self.assertGreaterEqual(count, sum("photo" in look.kinds for look in looks().values()))
        button.click()
        cells = page.locator("[data-take]")
        expect(cells).to_have_count(count)
        expect(page.locator('[data-take][data-state="done"]')).to_have_count(count, timeout=90_000)
        expect(page.get_by_role("grid")).to_contain_text("Ink comic")
        # A look found this way goes into the band with its take.
        page.get_by_role("gridcell", name="Neon").click()
        page.keyboard.press("c")
        expect(page.get_by_role("button", name="Look: Neon")).to_be_visible()

    def test_a_handle_pushed_back_is_one_value_again(self) -> None:
        page = self.page
        self.begin(104)
        start = self.centre("[data-control=control-strength] [data-handle=to]")
        end = self.centre("[data-control=control-strength] [data-handle=from]")
        self.drag(start, end)
        expect(page.get_by_role("button", name="Run", exact=True)).to_be_enabled()
        expect(page.locator('input[aria-label="Strength"]')).to_have_value("0.20")

    def test_stop_and_empty_bench(self) -> None:
        page = self.page
        self.begin(105)
        page.get_by_role("link", name="Bench").click()
        expect(page.get_by_text("There is no finished take yet")).to_be_visible()
        page.keyboard.press("d")
        page.get_by_role("button", name="Back to the desk").click()
        self.size(2048)
        page.get_by_role("button", name="Run 5 takes").click()
        page.get_by_role("button", name="Stop").click()
        expect(page.get_by_test_id("work")).to_have_count(0)
        self.assertGreater(page.locator('[data-take][data-state="stopped"]').count(), 0)

    def test_a_bad_file_says_what_would_be_right(self) -> None:
        self.drop(b"Dear artist", "letter.txt", "text/plain")
        notice = self.page.get_by_role("status")
        expect(notice.get_by_text("letter.txt: This is not a picture that can be read; use PNG")).to_be_visible()
        self.assertTrue(self.page.url.endswith("/"))

    def test_a_file_that_is_too_large_is_refused_before_it_is_sent(self) -> None:
        self.page.evaluate(
            """() => {
              const transfer = new DataTransfer();
              transfer.items.add(new File([new ArrayBuffer(200e6)], "huge.png", { type: "image/png" }));
              document.body.dispatchEvent(new DragEvent("drop", { dataTransfer: transfer, bubbles: true, cancelable: true }));
            }"""
        )
        expect(self.page.get_by_text("huge.png: The file has 200 MB; at most 64 MB can be brought in.")).to_be_visible()

    def test_keys_are_listed(self) -> None:
        expect(self.page.get_by_role("heading", name="Drop a picture")).to_be_visible()
        self.page.keyboard.press("?")
        panel = self.page.get_by_role("complementary", name="Keys")
        expect(panel).to_contain_text("stretch it into a span")
        self.page.keyboard.press("?")
        expect(panel).to_have_count(0)

    def test_a_deleted_study_is_taken_back(self) -> None:
        self.begin(106, "to go.png")
        self.page.get_by_role("link", name="Warm Tide").click()
        self.page.get_by_role("button", name="What to do with to go").click()
        self.page.get_by_role("menuitem", name="Delete").click()
        expect(self.page.locator("li", has_text="to go")).to_have_count(0)
        self.page.get_by_role("button", name="Take it back").click()
        expect(self.page.locator("li", has_text="to go")).to_have_count(1)

    def test_the_sheet_is_filtered_saved_and_settings_travel_as_text(self) -> None:
        page = self.page
        self.begin(112)
        page.get_by_role("button", name="Run 5 takes").click()
        done = page.locator('[data-take][data-state="done"]')
        expect(done).to_have_count(5)
        done.nth(0).click()
        page.keyboard.press("x")
        done.nth(3).click()
        page.keyboard.press("k")
        for show, count in (("Not dropped", 4), ("Kept", 1), ("All takes", 5)):
            page.get_by_role("combobox", name="Takes shown").click()
            page.get_by_role("option", name=re.compile(f"^{show}")).click()
            expect(done).to_have_count(count)
        for title, begins in (
            ("Sheet as PNG", b"\x89PNG"),
            ("Sheet as PDF", b"%PDF"),
            ("Readings as CSV", b"strength,"),
        ):
            page.get_by_label("Save the sheet").click()
            with page.expect_download() as saving:
                page.get_by_role("menuitem", name=re.compile(f"^{title}")).click()
            with tempfile.TemporaryDirectory() as folder:
                file = Path(folder) / "saved"
                saving.value.save_as(file)
                self.assertTrue(file.read_bytes().startswith(begins), title)
        # Settings pasted as text stand in the band.
        page.evaluate(
            """() => { const data = new DataTransfer();
            data.setData("text/plain", '{"recipe": {"look": "oil", "strength": 0.37, "seed": 41}}');
            document.body.dispatchEvent(new ClipboardEvent("paste", { clipboardData: data, bubbles: true })); }"""
        )
        expect(page.get_by_role("button", name="Look: Oil")).to_be_visible()
        expect(page.locator('input[aria-label="Strength"]')).to_have_value("0.37")
