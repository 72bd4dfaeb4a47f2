"""Bringing in, framing, recolouring and blocking in, with real files, as an artist meets them."""

import base64
import io
import json
import re
from typing import Any

import numpy as np
from PIL import Image
from playwright.sync_api import expect

from tests.browser.browser import BrowserTest
from tests.core.test_recolour import RED, SVG
from tests.pictures import as_file, disc_on_ground, harbour

CANVAS = "() => document.querySelector('[data-testid=result]').toDataURL('image/png')"


class Bring(BrowserTest):
    def canvas(self) -> "np.ndarray[Any, Any]":
        """The framed picture as it is shown, once it is drawn and no longer changes."""
        # 300 is how wide a canvas is before anything is drawn.
        self.page.wait_for_function("() => document.querySelector('[data-testid=result]').width !== 300")
        data = before = ""
        while not data or data != before:
            before = data
            self.page.wait_for_timeout(200)
            data = str(self.page.evaluate(CANVAS))
        return np.asarray(Image.open(io.BytesIO(base64.b64decode(data.split(",")[1]))).convert("RGB")).astype(int)

    def test_several_files_make_a_study_each(self) -> None:
        page = self.page
        before = len(self.stack.client.get("/studies").json())
        files = [
            {"name": f"tide {k}.png", "mimeType": "image/png", "buffer": as_file(harbour(64, 96, 600 + k))}
            for k in range(3)
        ]
        page.set_input_files('input[aria-label="Choose a picture file"]', files)
        expect(page.get_by_text("tide 2", exact=True)).to_be_visible()
        self.assertEqual(len(self.stack.client.get("/studies").json()), before + 3)

    def test_a_picture_dropped_inside_a_study_is_a_further_source_until_taken_out(self) -> None:
        page = self.page
        self.at_desk(as_file(harbour(96, 144, 610)), "first.png")
        first = page.url
        self.drop(as_file(disc_on_ground(96, 96)), "second.png")
        expect(page.get_by_role("combobox", name="Source of the next takes")).to_have_text("second.png")
        self.assertEqual(page.url.split("?")[0], first.split("?")[0])
        self.assertEqual([s["name"] for s in self.study()["sources"]], ["first.png", "second.png"])
        page.get_by_role("button", name="Begin a study instead").click()
        page.wait_for_url(lambda url: "/study/" in url and url.split("?")[0] != first.split("?")[0])
        self.assertEqual([s["name"] for s in self.study()["sources"]], ["second.png"])
        page.goto(first)
        expect(page.get_by_test_id("plan")).to_contain_text("new")
        self.assertEqual([s["name"] for s in self.study()["sources"]], ["first.png"])

    def test_a_composition_is_blocked_in_and_becomes_a_study(self) -> None:
        page = self.page
        page.get_by_role("button", name="Block one in").click()
        canvas = page.get_by_test_id("block-in")
        expect(canvas.locator("[data-area]")).to_have_count(1)
        page.get_by_role("button", name="Hill").click()
        page.get_by_role("button", name="Disc", exact=True).click()
        expect(canvas.locator("[data-area]")).to_have_count(3)
        disc = canvas.locator("[data-area='3']")
        before = disc.bounding_box()
        assert before is not None
        self.drag(self.centre("[data-area='3']"), (before["x"] - 100, before["y"] + 60))
        after = disc.bounding_box()
        assert after is not None
        self.assertLess(after["x"], before["x"] - 100)
        corner = self.centre("[data-point='1']")
        self.drag(corner, (corner[0] + 40, corner[1] + 40))
        self.assertGreater((disc.bounding_box() or after)["width"], after["width"] + 20)
        page.get_by_label("Colour of disc 3").fill("#ff2000")
        page.wait_for_timeout(700)
        page.keyboard.press("Delete")
        expect(canvas.locator("[data-area]")).to_have_count(2)
        page.keyboard.press("Control+z")
        expect(canvas.locator("[data-area]")).to_have_count(3)
        page.keyboard.press("Enter")
        page.wait_for_url("**/study/*")
        source = self.study()["sources"][0]
        self.assertEqual((source["format"], source["kind"]), ("SVG", "flat art"))
        picture = self.stack.client.get(f"/sources/{source['id']}/image", params={"size": 256}).content
        rgb = np.asarray(Image.open(io.BytesIO(picture)).convert("RGB")).astype(int)
        self.assertGreater((np.abs(rgb - (255, 32, 0)).sum(-1) < 12).mean(), 0.01)
        # Land below, sky above.
        self.assertLess(np.abs(rgb[-3, 10] - (0x56, 0x70, 0x3F)).max(), 3)
        self.assertGreater(rgb[3, 10, 2], rgb[3, 10, 0] + 20)

    def test_the_frame_shown_is_the_frame_that_the_engine_gets(self) -> None:
        page = self.page
        self.at_desk(as_file(harbour(240, 360, 620)), "frame.png")
        page.keyboard.press("i")
        expect(page.get_by_test_id("result")).to_be_visible()
        page.get_by_role("combobox", name="Long side").click()
        page.get_by_role("option", name="256").click()
        steps = {
            "straighten and margin": lambda: (page.locator("#frame-straighten").press("Shift+ArrowRight"), page.locator("#frame-margin").press("Shift+ArrowRight")),
            "ground beside, 1 : 1": lambda: (page.get_by_role("combobox", name="Fit").click(), page.get_by_role("option", name="Ground beside").click()),
            "turned and flipped": lambda: (page.get_by_label("Turn to the right").click(), page.get_by_label("Flip left and right").click()),
            "smaller and moved": lambda: (page.locator("#frame-scale").press("Shift+ArrowLeft"), page.get_by_test_id("result").press("Shift+ArrowRight")),
        }  # fmt: skip
        for name, act in steps.items():
            act()
            drawn = self.canvas()
            page.get_by_role("button", name="Keep the frame").click()
            expect(page.get_by_label("Frame", exact=True)).to_have_count(0)
            source = self.study()["sources"][0]
            answer = self.stack.client.get(f"/sources/{source['id']}/image", params={"size": 256}).content
            exact = np.asarray(Image.open(io.BytesIO(answer)).convert("RGB")).astype(int)
            with self.subTest(name):
                self.assertEqual(drawn.shape, exact.shape)
                # Another way of resizing, but nothing lies elsewhere: a shift of a pixel would cost three times this.
                self.assertLess(float(np.abs(drawn - exact).mean()), 4.5)
            page.keyboard.press("i")
            expect(page.get_by_test_id("result")).to_be_visible()
            page.wait_for_timeout(200)

    def test_stretching_says_by_how_much_and_edges_undo_and_methods_work(self) -> None:
        page = self.page
        self.at_desk(as_file(harbour(192, 288, 621)), "stretch.png")
        page.keyboard.press("i")
        words = page.get_by_test_id("frame-words")
        expect(words).to_contain_text("keeps 100 %")
        x, y = self.centre("[data-corner=e]")
        self.drag((x, y), (x - 80, y))
        expect(words).not_to_contain_text("keeps 100 %")
        page.wait_for_timeout(700)
        page.get_by_test_id("crop").press("ArrowLeft")
        page.keyboard.press("Control+z")
        page.keyboard.press("Control+z")
        expect(words).to_contain_text("keeps 100 %")
        page.keyboard.press("Control+y")
        expect(words).not_to_contain_text("keeps 100 %")
        page.get_by_role("button", name="As it came").click()
        page.get_by_label("Shape, width", exact=True).fill("1")
        page.keyboard.press("Enter")
        page.get_by_label("Shape, height", exact=True).fill("1")
        page.keyboard.press("Enter")
        page.get_by_role("combobox", name="Fit").click()
        page.get_by_role("option", name="Stretch").click()
        expect(words).to_contain_text("Stretched: 50 % taller than it was")
        page.get_by_role("button", name="side by side").click()
        strip = page.get_by_role("radiogroup", name="Resampling side by side")
        expect(strip.get_by_role("radio")).to_have_count(5)
        page.wait_for_function(
            "() => [...document.querySelectorAll('[aria-label=\"Resampling side by side\"] img')].every((i) => i.naturalWidth === 128)"
        )
        strip.get_by_role("radio", name=re.compile("^Nearest")).click()
        expect(page.get_by_role("combobox", name="Resampling")).to_have_text("Nearest")

    def test_parts_of_a_badge_are_recoloured_and_the_ground_too(self) -> None:
        page = self.page
        self.at_desk(SVG, "sail.svg", "image/svg+xml")
        page.keyboard.press("Shift+u")
        field = page.get_by_label(f"New colour of {RED} as text")
        field.fill("#00aa44")
        field.press("Enter")
        expect(page.get_by_alt_text("in its new colours")).to_have_attribute("src", re.compile("00aa44"))
        page.get_by_role("button", name=re.compile("^Undo")).click()
        expect(field).to_have_value(RED)
        field.fill("#00aa44")
        field.press("Enter")
        page.get_by_role("button", name="Keep the colours").click()
        expect(page.get_by_label("Recolour", exact=True)).to_have_count(0)
        framing = self.study()["sources"][0]["framing"]
        self.assertEqual(framing["recolour"], [{"part": RED, "now": "#00aa44"}])
        # It is remembered when the panel is opened again, and framing leaves it alone.
        page.keyboard.press("Shift+u")
        expect(field).to_have_value("#00aa44")
        page.keyboard.press("Escape")
        expect(page.get_by_label("Recolour", exact=True)).to_have_count(0)
        expect(page.get_by_test_id("plan")).to_contain_text("new")
        page.keyboard.press("i")
        page.get_by_role("button", name="As it came").click()
        page.get_by_role("button", name="Keep the frame").click()
        expect(page.get_by_label("Frame", exact=True)).to_have_count(0)
        self.assertEqual(self.study()["sources"][0]["framing"]["recolour"], json.loads(json.dumps(framing["recolour"])))

    def test_the_frame_follows_the_hand(self) -> None:
        page = self.page
        self.at_desk(
            as_file(np.repeat(np.repeat(harbour(300, 450, 622), 4, 0), 4, 1), "JPEG"), "large.jpg", "image/jpeg"
        )
        page.keyboard.press("i")
        page.wait_for_timeout(600)
        x, y = self.centre("[data-corner=se]")
        page.evaluate(
            """() => { window.frames_ = []; let last = performance.now();
            const step = (now) => { window.frames_.push(now - last); last = now; requestAnimationFrame(step); };
            requestAnimationFrame(step); }"""
        )
        page.mouse.move(x, y)
        page.mouse.down()
        for k in range(40):
            page.mouse.move(x - 3 * k, y - 2 * k)
        page.mouse.up()
        spent = sorted(page.evaluate("() => window.frames_.slice(2)"))
        # Software rendering on a busy machine: every other frame may be late, but the hand is never left behind.
        self.assertLess(spent[len(spent) // 2], 40)
