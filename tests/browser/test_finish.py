"""What becomes of a take in the browser: larger in several ways side by side, traced, saved, and back again."""

import io
import re
import zipfile
from pathlib import Path
from xml.etree import ElementTree

from PIL import Image
from playwright.sync_api import expect

from tests.browser.browser import BrowserTest
from tests.pictures import as_file, disc_on_ground, harbour
from warmtide.core.pictures.inside import recipe_inside


class Finish(BrowserTest):
    def found(self, seed: int) -> None:
        """A study with two small takes, one of them picked."""
        self.at_desk(as_file(harbour(120, 180, seed)), f"quay{seed}.png")
        study = self.page.url.split("/study/")[1].split("?")[0]
        source = self.stack.client.get(f"/studies/{study}").json()["sources"][0]["id"]
        asked = {
            "source_id": source, "recipe": {"look": "ink-comic", "size": 128, "strength": 0.4},
            "spans": [{"control": "seed", "values": [1, 2]}],
        }  # fmt: skip
        sweep = self.stack.client.post("/sweeps", json=asked).json()
        self.stack.settled(study, sweep["id"])
        self.study = study
        self.page.goto(f"{self.stack.url}/study/{study}")
        self.page.get_by_role("gridcell").filter(has=self.page.locator("img")).nth(1).click()

    def test_larger_in_three_ways_and_compared_at_400_percent(self) -> None:
        self.found(301)
        page = self.page
        page.keyboard.press("Shift+S")
        page.wait_for_url("**/finish?of=take:*")
        expect(page.get_by_text(re.compile(r"^256 . 170 px"))).to_be_visible()
        page.get_by_label("Long side on paper").fill("3")
        page.keyboard.press("Enter")
        expect(page.get_by_label("Long side, pixels")).to_have_value("354")
        page.get_by_role("button", name=re.compile("^2.$")).click()
        page.get_by_role("checkbox", name=re.compile("^Lanczos")).check()
        page.get_by_role("button", name="Make it larger").click()
        made = page.get_by_role("list", name="Made larger").get_by_role("listitem")
        expect(made).to_have_count(3)
        expect(page.get_by_text(re.compile(r"^kept \d+"))).to_have_count(3)
        for label in ("as it is, 128 px", "Painted again", "Along edges", "Lanczos"):
            expect(page.get_by_label("Compared").get_by_text(label, exact=True)).to_be_visible()
        page.get_by_role("button", name="400 %").click()
        expect(page.get_by_label("Compared").get_by_text("400 %").first).to_be_visible()
        page.keyboard.press("d")
        page.get_by_label("Left of the divider").click()
        page.get_by_role("option", name="Lanczos").click()
        expect(page.get_by_test_id("divider")).to_be_visible()
        # Made once: what is asked for again is there.
        page.keyboard.press("Enter")
        expect(made).to_have_count(3)
        made.first.get_by_role("button", name="Let it go").click()
        expect(made).to_have_count(2)
        page.keyboard.press("Escape")
        page.wait_for_url(re.compile(rf"/study/{self.study}$"))

    def test_a_take_dragged_out_of_the_window_is_a_file(self) -> None:
        self.found(303)
        link = self.page.get_by_role("link", name="Save as PNG")
        carried = link.evaluate(
            """(node) => {
              const dataTransfer = new DataTransfer();
              node.dispatchEvent(new DragEvent("dragstart", { dataTransfer, bubbles: true }));
              return dataTransfer.getData("DownloadURL");
            }"""
        )
        kind, name, address = carried.split(":", 2)
        recipe = (recipe_inside(self.stack.client.get(address).content) or {})["recipe"]
        self.assertEqual((kind, name), ("image/png", f"ink-comic-{recipe['seed']}.png"))

    def test_traced_with_other_colours_and_saved(self) -> None:
        self.at_desk(as_file(disc_on_ground(160, 160)), "disc.png")
        study = self.page.url.split("/study/")[1].split("?")[0]
        source = self.stack.client.get(f"/studies/{study}").json()["sources"][0]["id"]
        page = self.page
        page.goto(f"{self.stack.url}/study/{study}/finish?of=source:{source}&do=traced")
        page.get_by_role("radio", name=re.compile("^Areas")).check()
        colours = page.get_by_role("list", name="Colours").get_by_role("listitem")
        expect(colours).to_have_count(3)
        page.get_by_label("Colour of colour-2").fill("#ff0000")
        page.get_by_role("checkbox", name="show nodes").check()
        expect(page.get_by_label("Compared").get_by_text("traced, with nodes")).to_be_visible()
        with page.expect_download() as saved:
            page.get_by_role("button", name="Save as SVG").click()
        text = Path(saved.value.path()).read_text()
        groups = list(ElementTree.fromstring(text))
        self.assertIn("#ff0000", [group.get("fill") for group in groups])
        self.assertNotIn("circle", text)

    def test_files_with_names_as_a_zip_and_one_comes_back(self) -> None:
        self.found(302)
        page = self.page
        page.keyboard.press("Control+a")
        page.keyboard.press("Shift+S")
        page.wait_for_url("**/finish?of=take:*")
        page.get_by_role("button", name="Files", exact=True).click()
        page.get_by_label("Format", exact=True).click()
        page.get_by_role("option", name="JPEG").click()
        page.get_by_label("Names").fill("../{look}")
        expect(page.get_by_role("alert")).to_contain_text("leave out /")
        page.get_by_label("Names").fill("{number}-{look}-{seed}")
        expect(page.get_by_text("001-ink-comic-1.jpg")).to_be_visible()
        with page.expect_download() as download:
            page.get_by_role("button", name="Save 2 files as a ZIP").click()
        with zipfile.ZipFile(Path(download.value.path())) as file:
            self.assertEqual(file.namelist(), ["001-ink-comic-1.jpg", "002-ink-comic-2.jpg"])
            data = file.read("002-ink-comic-2.jpg")
        self.assertEqual((recipe_inside(data) or {})["recipe"]["seed"], 2)
        self.assertEqual(Image.open(io.BytesIO(data)).size, (128, 85))
        page.get_by_role("checkbox", name="recipes").check()
        with page.expect_download() as download:
            page.get_by_role("button", name="Sheet as PDF").click()
        self.assertTrue(Path(download.value.path()).read_bytes().startswith(b"%PDF"))
        # What can't be saved any more is said, and the page stays.
        page.route("**/api/exports", lambda route: route.fulfill(status=404, json={"message": "gone"}))
        page.get_by_role("button", name="Save 2 files as a ZIP").click()
        expect(page.get_by_text("This could not be saved")).to_be_visible()
        self.assertIn(f"{self.study}/finish", page.url)
        page.unroute("**/api/exports")
        # Dropped on the shelf it offers the way back.
        page.goto(self.stack.url)
        page.locator("input[type=file]").first.set_input_files(
            {"name": "found.jpg", "mimeType": "image/jpeg", "buffer": data}
        )
        asked = page.get_by_role("dialog")
        expect(asked).to_contain_text("seed 2")
        asked.get_by_role("button", name="Go to it").click()
        page.wait_for_url(re.compile(rf"/study/{self.study}"))
        expect(page.get_by_role("heading", name=re.compile("seed 2|Ink comic"))).to_be_visible()
        page.goto(self.stack.url)
        page.locator("input[type=file]").first.set_input_files(
            {"name": "found.jpg", "mimeType": "image/jpeg", "buffer": data}
        )
        asked.get_by_role("button", name="As a source, with its settings").click()
        page.wait_for_url("**/study/*")
        expect(page.get_by_label("Seed", exact=True).first).to_have_value("2")
