"""The looks panel on this very picture, a second look, what holds keep: as an artist meets them."""

import base64
import re

from playwright.sync_api import expect

from tests.browser.browser import BrowserTest
from tests.core.test_learned import hatched
from tests.pictures import as_file, harbour
from warmtide.core.looks.registry import looks

DROP_ON = """
([selector, data, name]) => {
  const bytes = Uint8Array.from(atob(data), (c) => c.charCodeAt(0));
  const transfer = new DataTransfer();
  transfer.items.add(new File([bytes], name, { type: "image/png" }));
  const at = document.querySelector(selector);
  for (const kind of ["dragenter", "dragover", "drop"])
    at.dispatchEvent(new DragEvent(kind, { dataTransfer: transfer, bubbles: true, cancelable: true }));
}
"""


class Looks(BrowserTest):
    def begin(self, seed: int) -> None:
        self.at_desk(as_file(harbour(192, 288, seed)), "looks.png")

    def test_every_look_is_shown_on_this_picture_and_one_click_takes_it(self) -> None:
        page = self.page
        self.begin(501)
        page.keyboard.press("j")
        previews = page.locator("[data-look] img")
        expect(previews.first).to_be_visible()
        expect(previews).to_have_count(page.locator("[data-look]").count())
        self.assertGreaterEqual(previews.count(), len(looks()))
        loaded = previews.evaluate_all("all => all.filter((i) => i.naturalWidth > 100).length")
        self.assertEqual(loaded, previews.count())
        page.locator("[data-look=gouache]").hover()
        # The look under the hand, large beside the source, and its usual band as three drafts.
        large = page.get_by_test_id("look-large")
        expect(large).to_contain_text("Opaque matt colour")
        expect(large).to_contain_text("its usual strength, 0.35 to 0.80")
        expect(large.get_by_role("img", name=re.compile("at strength"))).to_have_count(3)
        # Search, keys, undo.
        page.keyboard.press("/")
        page.keyboard.type("printed")
        expect(page.locator("[data-look]")).to_have_count(3)
        page.keyboard.press("ArrowDown")
        page.keyboard.press("ArrowRight")
        page.keyboard.press("Enter")
        expect(page.get_by_role("button", name="Look: Linocut")).to_be_visible()
        page.locator("[data-look=linocut]").press("Control+z")
        expect(page.get_by_role("button", name="Look: Watercolour")).to_be_visible()
        # A name typed and Enter: that look.
        page.get_by_label("Search looks").fill("risogr")
        page.get_by_label("Search looks").press("Enter")
        expect(page.get_by_role("button", name="Look: Risograph")).to_be_visible()
        page.locator("[data-look=risograph]").press("Control+z")
        page.keyboard.press("Escape")
        expect(page.get_by_label("Looks", exact=True)).to_have_count(0)

    def test_favourites_stay_in_front(self) -> None:
        page = self.page
        self.begin(502)
        page.keyboard.press("j")
        page.locator("[data-look=neon]").hover()
        page.get_by_label("Put Neon among the favourites").click()
        first = page.get_by_test_id("looks").get_by_role("region").first
        expect(first).to_have_accessible_name("favourites")
        expect(first).to_contain_text("Neon")
        page.reload()
        expect(page.get_by_test_id("plan")).to_contain_text("new")
        page.keyboard.press("j")
        expect(first).to_contain_text("Neon")
        page.get_by_label("Take Neon from the favourites").click()
        expect(first).to_have_accessible_name("made for a photo")

    def test_a_second_look_is_mixed_in(self) -> None:
        page = self.page
        self.begin(503)
        page.get_by_label("Strength: back to one value").click()
        page.keyboard.press("j")
        page.get_by_role("radio", name="with a second look").click()
        page.locator("[data-look=ink-comic]").click()
        expect(page.get_by_label("Band")).to_contain_text("with 35 % ink comic")
        share = page.locator("#second-share")
        share.focus()
        page.keyboard.press("ArrowRight")
        expect(page.get_by_label("Band")).to_contain_text("with 40 % ink comic")
        page.get_by_role("button", name="Run", exact=True).click()
        cell = page.locator('[data-take][data-state="done"]')
        expect(cell).to_have_count(1)
        cell.click()
        expect(page.get_by_label("Take", exact=True)).to_contain_text("Ink comic, share 0.40")
        page.keyboard.press("j")
        page.get_by_label("Take the second look away").click()
        expect(page.get_by_label("Band")).not_to_contain_text("ink comic")

    def test_pictures_dropped_on_the_panel_become_a_look_and_no_study(self) -> None:
        page = self.page
        self.begin(504)
        study = page.url
        page.keyboard.press("j")
        expect(page.get_by_label("Looks", exact=True)).to_be_visible()
        data = base64.b64encode(as_file(hatched())).decode()
        page.evaluate(DROP_ON, ['[aria-label="Looks"]', data, "dropped hatch.png"])
        expect(page.get_by_role("button", name="Look: dropped hatch")).to_be_visible(timeout=20_000)
        self.assertEqual(page.url, study)
        name = page.locator("[data-look]").filter(has_text="dropped hatch")
        expect(name.locator("img")).to_be_visible(timeout=20_000)
        page.get_by_label("Forget dropped hatch").click()

    def test_each_hold_shows_what_it_keeps_over_the_source(self) -> None:
        page = self.page
        self.begin(505)
        self.drawer()
        shown = page.locator("[data-hold]")
        for hold in ("lines", "shapes", "colours", "faces"):
            page.get_by_label(f"Show what the hold on {hold} keeps").hover()
            expect(page.locator(f"[data-hold={hold}]")).to_be_visible()
        page.get_by_label("Show what the hold on lines keeps").click()
        page.mouse.move(600, 700)
        expect(shown).to_have_count(1)
        page.wait_for_function("() => document.querySelector('[data-hold=lines]').naturalWidth > 100")
        expect(page.get_by_test_id("live")).to_contain_text("edges that the hold on lines keeps")
        # It lies on the source, not on the draft.
        source = page.locator('img[alt^="Source"]').bounding_box()
        self.assertEqual(source, shown.bounding_box())
        page.get_by_label("Show what the hold on lines keeps").click()
        page.mouse.move(600, 700)
        expect(shown).to_have_count(0)

    def test_the_usual_band_of_each_hold_is_drawn(self) -> None:
        page = self.page
        self.begin(506)
        self.drawer()
        usual = page.locator("[data-control=control-lines] [data-usual]")
        expect(usual).to_have_attribute("title", re.compile(r"usually 0\.\d\d to 0\.\d\d"))
        boxes = [page.locator(f"[data-control=control-{c}]").bounding_box() for c in ("lines", "look_weight")]
        for box in boxes:
            assert box is not None
            self.assertLess(box["x"] + box["width"], 1280)
