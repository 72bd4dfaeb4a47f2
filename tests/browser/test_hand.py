"""The Hand in the browser: every tool, what is seen is what is kept, and back to the desk."""

import io
import re
from typing import Any

import numpy as np
from PIL import Image
from playwright.sync_api import expect

from tests.browser.browser import BrowserTest
from tests.pictures import as_file, disc_on_ground, harbour

HEIGHT, WIDTH = 192, 288


class Hand(BrowserTest):
    def opened(self, seed: int) -> None:
        """A picture in the Hand, pixel for pixel."""
        self.at_desk(as_file(harbour(HEIGHT, WIDTH, seed)), "touched.png")
        self.page.keyboard.press("u")
        self.page.wait_for_url("**/hand/*")
        expect(self.page.get_by_role("option")).to_have_count(1)
        self.shown(1)
        self.page.keyboard.press("1")
        box = self.page.get_by_label("Picture", exact=True).bounding_box()
        assert box is not None
        self.left, self.top = (
            box["x"] + round((box["width"] - WIDTH) / 2),
            box["y"] + round((box["height"] - HEIGHT) / 2),
        )

    def shown(self, layers: int) -> None:
        """Wait until so many layers are drawn."""
        expect(self.page.locator("[data-shown]")).to_have_attribute("data-shown", str(layers))

    def at(self, x: float, y: float) -> tuple[float, float]:
        """A pixel of the picture on the screen."""
        return self.left + x, self.top + y

    def draw(self, *points: tuple[float, float]) -> None:
        self.page.mouse.move(*self.at(*points[0]))
        self.page.mouse.down()
        for point in points[1:]:
            self.page.mouse.move(*self.at(*point), steps=4)
        self.page.mouse.up()

    def kept(self) -> dict[str, Any]:
        """The stack as the server has it, once all is kept."""
        expect(self.page.get_by_role("status").first).to_have_text("Kept")
        view: dict[str, Any] = self.stack.client.get(f"/stacks/{self.page.url.split('/hand/')[1]}").json()
        return view

    def server(self) -> np.ndarray:  # type: ignore[type-arg]
        data = self.stack.client.get(f"/stacks/{self.kept()['id']}/picture").content
        return np.asarray(Image.open(io.BytesIO(data)).convert("RGB")).astype(int)

    def screen(self) -> np.ndarray:  # type: ignore[type-arg]
        """What the browser shows of the picture."""
        self.page.mouse.move(2, 300)
        clip: Any = {"x": self.left, "y": self.top, "width": WIDTH, "height": HEIGHT}
        data = self.page.screenshot(clip=clip)
        return np.asarray(Image.open(io.BytesIO(data)).convert("RGB")).astype(int)

    def test_what_is_painted_is_kept_as_it_is_seen_and_can_be_undone(self) -> None:
        self.opened(511)
        page = self.page
        before = self.screen()
        np.testing.assert_array_equal(before, self.server())
        page.keyboard.press("p")
        page.get_by_label("Colour", exact=True).fill("#c03020")
        self.draw((40, 40), (120, 60), (200, 40))
        expect(page.get_by_role("option")).to_have_count(2)
        page.keyboard.press("t")
        page.keyboard.press("Escape")
        after = self.server()
        self.assertGreater(int(after[56, 120, 0]) - int(after[56, 120, 2]), 120)
        self.assertLessEqual(int(np.abs(self.screen() - after).max()), 1)
        page.keyboard.press("Control+z")
        expect(page.get_by_role("option")).to_have_count(1)
        self.shown(1)
        np.testing.assert_array_equal(self.screen(), before)
        page.reload()
        expect(page.get_by_role("option")).to_have_count(1)
        page.get_by_role("button", name="Redo").click()
        expect(page.get_by_role("option")).to_have_count(2)
        np.testing.assert_array_equal(self.server(), after)

    def test_a_hand_faster_than_keeping_loses_nothing(self) -> None:
        self.opened(516)
        page = self.page
        page.keyboard.press("p")
        page.get_by_label("Colour", exact=True).fill("#c03020")
        rows = (30, 70, 110, 150)
        for row in rows:
            self.draw((40, row), (240, row))
        seen = self.server()
        for row in rows:
            self.assertGreater(int(seen[row, 140, 0]) - int(seen[row, 140, 2]), 120, row)
        view = self.kept()
        self.assertEqual((len(view["stack"]["layers"]), view["before"]), (2, 4))
        page.keyboard.press("e")
        for row in rows:
            self.draw((120, row), (160, row))
        less, source = self.server(), harbour(HEIGHT, WIDTH, 516).astype(int)
        for row in rows:
            self.assertLess(int(np.abs(less[row, 140] - source[row, 140]).max()), 12, row)
            self.assertGreater(int(less[row, 60, 0]) - int(less[row, 60, 2]), 120, row)
        # A gauge that is drawn along is one change, not one for every step.
        versions = self.kept()["before"]
        gauge = page.get_by_role("slider", name=re.compile("^Layer's opacity"))
        gauge.focus()
        for _ in range(9):
            page.keyboard.press("ArrowLeft")
        view = self.kept()
        self.assertEqual((view["before"], view["stack"]["layers"][1]["opacity"]), (versions + 1, 0.91))

    def test_what_is_cut_out_takes_the_place_of_what_it_was_cut_from(self) -> None:
        self.at_desk(as_file(disc_on_ground(HEIGHT, WIDTH)), "disc.png")
        page = self.page
        # A key that is quicker than the layer's picture is not lost.
        page.route("**/api/layer-pictures/*", lambda _: None)
        page.keyboard.press("u")
        page.wait_for_url("**/hand/*")
        page.get_by_role("option").first.click()
        page.keyboard.press("x")
        expect(page.get_by_text("Cutting out…")).to_be_visible()
        page.unroute("**/api/layer-pictures/*")
        expect(page.get_by_role("option", name=re.compile("cut-out"))).to_be_visible()
        under, cut = self.kept()["stack"]["layers"]
        self.assertEqual((under["shown"], cut["shown"]), (False, True))
        data = self.stack.client.get(f"/stacks/{self.kept()['id']}/picture").content
        alpha = np.asarray(Image.open(io.BytesIO(data)).convert("RGBA"))[..., 3]
        self.assertEqual((alpha[HEIGHT // 2, WIDTH // 2], alpha[3, 3]), (255, 0))

    def test_a_thing_is_laid_in_placed_turned_and_mirrored(self) -> None:
        self.opened(512)
        page = self.page
        page.keyboard.press("a")
        page.get_by_label("Search the library").fill("boat sail")
        page.get_by_title("Lay in: Sailing boat").click()
        expect(page.get_by_role("option", name=re.compile("Sailing boat"))).to_have_attribute("aria-selected", "true")
        page.get_by_role("button", name="Close the library").click()
        self.shown(2)
        self.drag(self.at(144, 120), self.at(80, 90))
        page.get_by_label("Layer turned").fill("20")
        page.keyboard.press("Enter")
        page.keyboard.press("j")
        page.keyboard.press("Shift+ArrowRight")
        layer = self.kept()["stack"]["layers"][1]
        self.assertEqual((layer["place"]["turn"], layer["place"]["across"]), (20, True))
        self.assertLess(abs(layer["place"]["x"] - 90), 3)
        page.keyboard.press("Escape")
        # Turned and made smaller, what the browser draws is what the server composes.
        apart = np.abs(self.screen() - self.server())
        self.assertLessEqual(float(np.percentile(apart, 99.5)), 2)
        self.assertLess(float(apart.mean()), 0.1)
        with page.expect_download() as saved:
            page.get_by_text("Layers (OpenRaster)").click()
        self.assertTrue(saved.value.suggested_filename.endswith(".ora"))

    def test_erased_is_not_lost(self) -> None:
        self.opened(513)
        page = self.page
        page.keyboard.press("a")
        page.get_by_title("Lay in: Rock", exact=True).click()
        page.get_by_role("button", name="Close the library").click()
        expect(page.get_by_role("option")).to_have_count(2)
        self.shown(2)
        whole = self.server()
        page.keyboard.press("e")
        self.draw((110, 100), (180, 100))
        less = self.server()
        self.assertGreater(int((np.abs(less - whole).max(-1) > 8).sum()), 200)
        page.get_by_role("radio", name="gives back").click()
        self.draw((100, 100), (190, 100))
        self.assertLess(int((np.abs(self.server() - whole).max(-1) > 8).sum()), 40)

    def test_a_selection_is_filled_copied_and_mended(self) -> None:
        self.opened(514)
        page = self.page
        page.keyboard.press("l")
        self.draw((60, 60), (100, 60), (100, 100), (60, 100), (60, 62))
        expect(page.get_by_label("Selection", exact=True)).to_be_visible()
        page.keyboard.press("f")
        expect(page.get_by_role("option", name=re.compile("fill"))).to_be_visible()
        page.keyboard.press("o")
        page.mouse.click(*self.at(20, 10))
        expect(page.get_by_label("Selection", exact=True)).to_be_visible()
        page.keyboard.press("d")
        expect(page.get_by_role("option", name=re.compile("copy"))).to_be_visible()
        page.keyboard.press("m")
        page.keyboard.down("Alt")
        page.mouse.click(*self.at(200, 150))
        page.keyboard.up("Alt")
        self.draw((120, 120), (140, 125))
        expect(page.get_by_role("option", name=re.compile("mend"))).to_be_visible()
        self.assertEqual(len(self.kept()["stack"]["layers"]), 4)
        before = self.server()
        page.get_by_role("radio", name="lighten").click()
        self.draw((200, 40), (240, 44))
        expect(page.get_by_role("option", name=re.compile("lighten"))).to_be_visible()
        self.assertGreater(float((self.server() - before)[38:46, 205:235].mean()), 10)
        # A line from corner to corner, closed at the first one.
        page.keyboard.press("l")
        for corner in ((30, 30), (80, 30), (80, 70), (30, 30)):
            page.mouse.click(*self.at(*corner))
        expect(page.get_by_label("Selection", exact=True)).to_be_visible()

    def test_only_what_is_selected_is_restyled_and_the_take_comes_back_as_a_layer(self) -> None:
        self.opened(515)
        page = self.page
        page.keyboard.press("l")
        self.draw((90, 50), (200, 50), (200, 140), (90, 140), (90, 52))
        page.get_by_role("button", name=re.compile("^Restyle there")).click()
        page.wait_for_url("**/study/*?live")
        source = self.study()["sources"][-1]
        self.assertIsNotNone(source["region_key"])
        body = {"source_id": source["id"], "recipe": {"size": 288, "strength": 0.9, "holds": {"lines": 0, "shapes": 0}}}
        sweep = self.stack.client.post("/sweeps", json=body).json()
        self.stack.settled(self.study()["id"], sweep["id"])
        page.goto(page.url.split("?")[0])
        page.locator("[data-take]").first.click()
        page.keyboard.press("u")
        page.wait_for_url("**/hand/*")
        expect(page.get_by_role("option", name=re.compile("take"))).to_be_visible()
        before, after = harbour(HEIGHT, WIDTH, 515).astype(int), self.server()
        np.testing.assert_array_equal(after[:40], before[:40])
        self.assertGreater(float(np.abs(after - before)[70:120, 110:180].mean()), 8)
