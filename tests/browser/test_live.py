"""Live drafts, own looks, kinds, readings on sheet and bench, as an artist meets them."""

import io
import re
import tempfile
from pathlib import Path

import numpy as np
from playwright.sync_api import Request, expect

from tests.browser.browser import BrowserTest
from tests.core.test_learned import hatched
from tests.pictures import as_file, disc_on_ground, harbour
from warmtide.core.looks.learned.dictionary import read


class Live(BrowserTest):
    def begin(self, data: bytes, name: str) -> None:
        self.drop(data, name)
        self.page.wait_for_url("**/study/*")

    def shot(self) -> str:
        """Address of the draft that is shown, once it is what the controls say."""
        draft = self.page.locator('img[alt="Draft of the take"][data-fresh=true]')
        expect(draft).to_be_visible(timeout=30_000)
        return str(draft.get_attribute("src"))

    def test_the_draft_follows_strength_words_and_look_and_becomes_a_take(self) -> None:
        page = self.page
        self.begin(as_file(harbour(192, 288, 301)), "live.png")
        seen = [self.shot()]
        self.assertIn("composition", page.get_by_test_id("live").inner_text())
        page.locator("#live-strength").focus()
        page.keyboard.press("Shift+ArrowRight")
        expect(page.locator(f'img[alt="Draft of the take"][src="{seen[-1]}"]')).to_have_count(0)
        seen.append(self.shot())
        page.locator("#words-prompt").fill("night")
        expect(page.locator(f'img[alt="Draft of the take"][src="{seen[-1]}"]')).to_have_count(0)
        seen.append(self.shot())
        page.keyboard.press("Escape")
        page.keyboard.press("j")
        page.locator("[data-look=pencil]").click()
        page.keyboard.press("Escape")
        expect(page.locator(f'img[alt="Draft of the take"][src="{seen[-1]}"]')).to_have_count(0)
        self.shot()
        # After a choice the desk's keys work at once: F renders what is seen.
        page.keyboard.press("f")
        expect(page.locator('[data-take][data-state="done"]')).to_have_count(1)
        page.locator("[data-take]").click()
        panel = page.get_by_label("Take", exact=True)
        expect(panel).to_contain_text("Pencil, strength 0.60")
        expect(panel).to_contain_text("Look reached")
        page.keyboard.press("l")
        expect(page.get_by_test_id("live")).to_be_visible()
        page.keyboard.press("l")
        expect(page.locator("[data-take]")).to_be_visible()

    def test_a_scrubbed_strength_gives_many_drafts_and_ends_with_the_last(self) -> None:
        page = self.page
        self.begin(as_file(harbour(192, 288, 302)), "scrub.png")
        self.shot()
        asked: list[float] = []
        under_way = [0]

        def begun(request: Request) -> None:
            if request.url.endswith("/live"):
                asked.append(request.post_data_json["recipe"]["strength"])
                under_way.append(under_way[-1] + 1)

        def ended(request: Request) -> None:
            if request.url.endswith("/live"):
                under_way.append(under_way[-1] - 1)

        page.on("request", begun)
        page.on("requestfinished", ended)
        x, y = self.centre("#live-strength")
        page.mouse.move(x, y)
        page.mouse.down()
        # Drafts come while the hand still moves, however slow the machine: the hand goes on until five are asked for.
        moves = 0
        while len(set(asked)) < 5 and moves < 600:
            moves += 1
            page.mouse.move(x - 4 * (moves % 30), y)
            page.wait_for_timeout(40)
        self.assertGreater(len(set(asked)), 4)
        page.mouse.move(x - 50, y)
        page.mouse.up()
        field = page.locator('input[aria-label="Strength of the draft"]')
        # The draft of the value before may still count as fresh for a moment: the page hasn't heard of the last one.
        for _ in range(200):
            self.shot()
            if f"{asked[-1]:.2f}" == field.input_value():
                break
            page.wait_for_timeout(50)
        self.assertEqual(f"{asked[-1]:.2f}", field.input_value())
        self.shot()
        # The newest value goes next and older ones are dropped, so nothing queues.
        self.assertEqual(max(under_way), 1)

    def test_the_same_spot_of_every_take_and_carrying_on(self) -> None:
        page = self.page
        self.begin(as_file(harbour(192, 288, 306)), "spot.png")
        run = page.get_by_role("button", name="Run 5 takes")
        expect(run).to_be_enabled()
        run.click()
        cells = page.locator('[data-take][data-state="done"]')
        expect(cells).to_have_count(5)
        box = cells.nth(1).bounding_box()
        assert box is not None
        at = (box["x"] + 0.7 * box["width"], box["y"] + 0.4 * box["height"])
        page.mouse.move(*at)
        page.keyboard.press("e")
        spots = page.locator("[data-spot]")
        # The source and the five takes show one spot, where the hand pointed, at one zoom.
        expect(spots).to_have_count(6)
        self.assertEqual(len(set(spots.evaluate_all("all => all.map((n) => n.dataset.spot)"))), 1)
        x, y, zoom = (float(v) for v in str(spots.first.get_attribute("data-spot")).split())
        self.assertLess(abs(x - 0.7) + abs(y - 0.4), 0.03)
        self.assertEqual(zoom, 2)
        self.drag(at, (at[0] - 50, at[1]))
        moved = float(str(spots.first.get_attribute("data-spot")).split()[0])
        self.assertGreater(moved, x + 0.03)
        page.mouse.wheel(0, -100)
        expect(spots.first).to_have_attribute("data-spot", re.compile(" 4$"))
        # A drag picks nothing; Escape leaves the close look.
        expect(page.locator('[data-take][aria-selected="true"]')).to_have_count(0)
        page.keyboard.press("Escape")
        expect(spots).to_have_count(0)

        cells.nth(2).click()
        page.keyboard.press("n")
        expect(page.get_by_role("combobox", name="Source of the next takes")).to_have_text("spot 2.png")
        self.shot()
        page.keyboard.press("f")
        expect(page.locator('[data-take][data-state="done"]')).to_have_count(1)
        page.get_by_role("button", name="Sweeps of this study").click()
        sweeps = page.get_by_role("dialog", name="Sweeps of this study").locator("li")
        expect(sweeps).to_have_count(2)

    def test_a_frame_is_cropped_turned_and_kept_while_older_takes_keep_theirs(self) -> None:
        page = self.page
        self.begin(as_file(harbour(192, 288, 307)), "frame.png")
        self.shot()
        page.keyboard.press("f")
        expect(page.locator('[data-take][data-state="done"]')).to_have_count(1)
        page.keyboard.press("i")
        expect(page.get_by_test_id("frame-words")).to_contain_text(re.compile("512 . 341 pixels"))
        page.get_by_role("combobox", name="Shape").click()
        page.get_by_role("option", name=re.compile("^Square")).click()
        expect(page.get_by_test_id("frame-words")).to_contain_text(
            re.compile("512 . 512 pixels for the engine; keeps 67 %")
        )
        x, y = self.centre("[data-corner=se]")
        self.drag((x, y), (x - 60, y - 60))
        expect(page.get_by_test_id("frame-words")).not_to_contain_text("67 %")
        page.get_by_label("Turn to the right").click()
        page.locator("#frame-straighten").focus()
        page.keyboard.press("ArrowRight")
        expect(page.get_by_test_id("frame-words")).to_contain_text(re.compile("512 . 512"))
        page.get_by_role("button", name="As it came").click()
        expect(page.get_by_test_id("frame-words")).to_contain_text("keeps 100 %")
        page.get_by_role("combobox", name="Shape").click()
        page.get_by_role("option", name=re.compile("^Portrait 4")).click()
        told = re.search(r"(\d+) . 512 pixels", page.get_by_test_id("frame-words").inner_text())
        assert told is not None
        page.keyboard.press("Enter")
        self.drawer()
        expect(page.get_by_role("combobox", name="Size")).to_have_text(re.compile(f"{told[1]} . 512"))
        self.drawer()
        # The take on the sheet is still shown beside the source that it was made from.
        shown = page.locator('img[alt^="Source"]').first
        page.wait_for_function("""() => document.querySelector('img[alt^="Source"]').naturalWidth > 0""")
        self.assertEqual(shown.evaluate("image => [image.naturalWidth, image.naturalHeight]"), [512, 341])
        page.keyboard.press("l")
        self.shot()
        page.keyboard.press("f")
        expect(page.locator('[data-take][data-state="done"]')).to_have_count(1)
        page.wait_for_function("""() => document.querySelector('img[alt^="Source"]').naturalHeight === 512""")

    def test_kinds_are_guessed_and_order_the_looks(self) -> None:
        page = self.page
        self.begin(as_file(disc_on_ground(200, 200)), "emblem.png")
        expect(page.get_by_role("combobox", name="Kind of picture")).to_have_text("flat art")
        self.drawer()
        self.assertEqual(page.locator('input[aria-label="Hold lines"]').input_value(), "0.50")
        self.drawer()
        page.get_by_role("combobox", name="Kind of picture").click()
        page.get_by_role("option", name="sketch").click()
        expect(page.get_by_role("combobox", name="Kind of picture")).to_have_text("sketch")
        page.get_by_role("button", name="Look:").click()
        groups = page.get_by_test_id("looks").locator("section")
        last = groups.last.inner_text().lower()
        self.assertTrue(last.startswith("not made for a sketch"), last[:40])
        self.assertIn("mosaic", groups.all_inner_texts()[-1].lower())
        self.assertIn("watercolour", " ".join(groups.all_inner_texts()[:-1]).lower())
        page.locator("[data-look=mosaic]").click()
        expect(page.get_by_label("Band")).to_contain_text("not made for a sketch")

    def test_a_depth_guide_is_given_used_and_taken_away(self) -> None:
        page = self.page
        self.begin(as_file(harbour(160, 240, 303)), "depth.png")
        self.drawer()
        expect(page.locator("#control-steps")).to_be_visible()
        expect(page.locator("#control-depth")).to_have_count(0)
        guide = np.zeros((80, 120, 3), np.uint8)
        guide[20:60, 30:90] = 255
        page.set_input_files(
            'input[aria-label="Depth guide"]', [{"name": "g.png", "mimeType": "image/png", "buffer": as_file(guide)}]
        )
        expect(page.locator('input[aria-label="Hold depth"]')).to_have_value("0.70")
        self.shot()
        page.get_by_role("button", name="depth guide: take it away").click()
        expect(page.get_by_role("alert")).to_contain_text("grey guide")
        page.set_input_files(
            'input[aria-label="Depth guide"]',
            [{"name": "g.png", "mimeType": "image/png", "buffer": as_file(np.zeros((20, 20, 3), np.uint8))}],
        )
        expect(page.get_by_role("status").filter(has_text="single tone")).to_be_visible()

    def test_a_look_is_learned_used_saved_renamed_and_forgotten(self) -> None:
        page = self.page
        self.begin(as_file(harbour(160, 240, 304)), "own.png")
        page.get_by_role("button", name="Look:").click()
        page.set_input_files(
            'input[aria-label="Reference pictures"]',
            [{"name": "my hatching.png", "mimeType": "image/png", "buffer": as_file(hatched())}],
        )
        expect(page.get_by_role("button", name="Look: my hatching")).to_be_visible(timeout=30_000)
        name = page.get_by_label("Name of the look my hatching")
        name.fill("Quay hatching")
        name.press("Enter")
        with page.expect_download() as saving:
            page.get_by_label("Save Quay hatching as a file").click()
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder) / "look.npz"
            saving.value.save_as(file)
            data = file.read_bytes()
        self.assertEqual(len(read(data).references), 1)
        page.keyboard.press("Escape")
        self.shot()
        page.keyboard.press("f")
        expect(page.locator('[data-take][data-state="done"]')).to_have_count(1)
        page.get_by_role("button", name="Look:").click()
        page.get_by_label("Forget Quay hatching").click()
        expect(page.get_by_label("Forget Quay hatching")).to_have_count(0)
        expect(page.get_by_role("alert")).to_contain_text("bring in its file")
        page.set_input_files(
            'input[aria-label="File of a learned look"]',
            [{"name": "look.npz", "mimeType": "application/octet-stream", "buffer": data}],
        )
        expect(page.get_by_label("Forget my hatching")).to_be_visible()
        page.set_input_files(
            'input[aria-label="File of a learned look"]',
            [{"name": "bad.npz", "mimeType": "application/octet-stream", "buffer": io.BytesIO(b"PK").getvalue()}],
        )
        expect(page.get_by_role("status").filter(has_text="not a learned look")).to_be_visible()

    def test_tips_readings_and_heat(self) -> None:
        page = self.page
        self.begin(as_file(harbour(192, 288, 305)), "tips.png")
        self.drawer()
        for hold in ("lines", "shapes", "colours"):
            field = page.locator(f'[data-control="control-{hold}"] input')
            field.fill("0")
            field.press("Enter")
        self.drawer()
        for label, value in (("Strength from", "0.2"), ("Strength to", "1")):
            field = page.locator(f'input[aria-label="{label}"]')
            field.fill(value)
            field.press("Enter")
        run = page.get_by_role("button", name="Run 5 takes")
        expect(run).to_be_enabled()
        run.click()
        expect(page.locator('[data-take][data-state="done"]')).to_have_count(5)
        expect(page.get_by_label("Where it gives way")).to_contain_text(re.compile("Gives way"))
        page.keyboard.press("v")
        expect(page.locator("[data-take]").first).to_contain_text("kept, look")
        # A point of the tide line is its take; a band dragged out is a finer sweep, ready to run.
        expect(page.get_by_test_id("tip-mark")).to_have_count(1)
        page.locator("[data-testid=tide] [data-point]").nth(1).click()
        expect(page.locator("[data-take]").nth(1)).to_have_attribute("aria-selected", "true")
        box = page.locator("[data-testid=tide] > svg").bounding_box()
        assert box is not None
        y = box["y"] + 30
        self.drag((box["x"] + 0.3 * box["width"], y), (box["x"] + 0.5 * box["width"], y))
        low, high = (float(page.locator(f'input[aria-label="Strength {end}"]').input_value()) for end in ("from", "to"))
        self.assertTrue(0.38 < low < 0.5 < high < 0.66, (low, high))
        expect(page.get_by_role("button", name=re.compile("Run 6 takes"))).to_be_enabled()
        page.locator("[data-take]").last.click()
        page.keyboard.press("Enter")
        page.wait_for_url("**/bench")
        expect(page.get_by_test_id("divider")).to_be_visible()
        page.keyboard.press("h")
        heat = page.locator('img[alt="Where the composition gave way"]').first
        expect(heat).to_be_visible()
        page.wait_for_function(
            """() => document.querySelector('img[alt="Where the composition gave way"]').naturalWidth > 100"""
        )
        expect(page.get_by_test_id("worst").first).to_be_visible()
        page.keyboard.press("h")
        expect(page.get_by_test_id("worst")).to_have_count(0)

    def test_a_control_explains_itself_on_this_picture(self) -> None:
        page = self.page
        self.begin(as_file(harbour(192, 288, 320)), "explain.png")
        self.shot()
        page.get_by_label("Strength: back to one value").click()
        page.get_by_label("What strength does").click()
        panel = page.get_by_role("dialog", name="What strength does")
        expect(panel).to_contain_text("keep 70 % is .30 here")
        shots = panel.locator("img")
        expect(shots).to_have_count(5)
        self.assertEqual(len(set(shots.evaluate_all("all => all.map((i) => i.src)"))), 5)
        panel.get_by_role("button").nth(3).click()
        expect(page.locator('input[aria-label="Strength"]')).to_have_value("0.75")
        expect(panel).to_have_count(0)
        self.drawer()
        page.get_by_label("What sampler does").click()
        samplers = page.get_by_role("dialog", name="What sampler does").get_by_role("button")
        expect(samplers).to_have_count(3)
        samplers.nth(1).click()
        expect(page.get_by_role("combobox", name="Sampler")).to_have_text("Euler")
        self.drawer()
        # Who counts the other way can type it so.
        field = page.locator('input[aria-label="Strength"]')
        field.fill("keep 70 %")
        field.press("Enter")
        expect(field).to_have_value("0.30")
