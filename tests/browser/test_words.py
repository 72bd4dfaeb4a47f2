"""Phrases as chips, versions of a prompt, kept phrases, descriptions: as an artist meets them."""

import re
from typing import Any

from playwright.sync_api import expect

from tests.browser.browser import BrowserTest
from tests.buildings import draw
from tests.pictures import as_file, disc_on_ground, harbour


class Words(BrowserTest):
    def begin(self, seed: int) -> None:
        self.at_desk(as_file(harbour(192, 288, seed)), "words.png")

    def recipe(self) -> dict[str, Any]:
        """The recipe as the band would send it."""
        stored = self.page.evaluate("() => JSON.parse(localStorage.getItem('warmtide-bands')).state.bands")
        study = self.page.url.split("/study/")[1].split("?")[0]
        return dict(stored[study]["recipe"])

    def prompt(self) -> str:
        return str(self.recipe()["prompt"])

    def test_a_place_in_the_prompt_says_what_it_will_do_and_is_drawn(self) -> None:
        page = self.page
        self.begin(410)
        page.keyboard.press("5")
        expect(page.locator("#control-lines")).to_be_focused()
        page.keyboard.press("End")
        page.keyboard.press("Escape")
        page.keyboard.press("w")
        page.keyboard.type("mountain lake, dusk, gulls, clear sky, storm,")
        note = page.get_by_role("status", name="Scene")
        expect(note).to_contain_text("Lake with mountains takes over from strength 0.45")
        expect(note).to_contain_text("Clear sky and storm sky cannot be together: it is clear sky.")
        chip = page.get_by_role("list", name="Prompt as understood").get_by_role("listitem")
        expect(chip.first).to_contain_text("= lake with mountains")
        expect(chip.nth(2)).to_contain_text("= birds")
        page.get_by_role("button", name=re.compile("^storm, weight")).press("Delete")
        expect(note).not_to_contain_text("cannot be together")
        # Two pictures in one are not what a place at full strength is for: one click lets go of the source.
        expect(note).to_contain_text("Held lines and shapes keep the source in it.")
        note.get_by_role("button", name="Loosen them").click()
        expect(note).not_to_contain_text("keep the source")
        self.assertLess(self.recipe()["holds"]["shapes"], 0.3)
        page.get_by_role("button", name="Run").click()
        expect(page.locator('[data-take][data-state="done"]').first).to_be_visible()

    def test_a_cut_out_is_placed_before_its_scene(self) -> None:
        page = self.page
        self.drop(as_file(disc_on_ground(192, 192)), "badge.png")
        page.wait_for_url("**/study/*")
        expect(page.get_by_test_id("plan")).to_contain_text("new")
        page.keyboard.press("w")
        page.keyboard.type("beach,")
        expect(page.get_by_role("status", name="Scene")).to_contain_text("Beach stands behind the subject")
        page.get_by_role("button", name="place it").click()
        placed = page.get_by_role("button", name=re.compile("^The cut-out"))

        def numbers() -> list[float]:
            return [float(n) for n in re.findall(r"\d\.\d\d", placed.get_attribute("aria-label") or "")]

        begun, box = numbers(), placed.bounding_box()
        assert box is not None
        for found, wanted in zip(begun, (0.5, 0.75, 0.5), strict=True):
            self.assertAlmostEqual(found, wanted, delta=0.03)
        # Dragged to the left and up, then by keys; it keeps its shape.
        middle = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        self.drag(middle, (middle[0] - 52.8, middle[1] - 26.4))
        placed.press("ArrowRight")
        placed.press("-")
        wanted_now = [round(begun[0] - 0.19, 2), round(begun[1] - 0.1, 2), round(begun[2] - 0.01, 2)]
        said = "middle {:.2f}, lower edge {:.2f}, height {:.2f}".format(*wanted_now)
        expect(placed).to_have_accessible_name(re.compile(said))
        smaller = placed.bounding_box()
        assert smaller is not None
        self.assertAlmostEqual(smaller["width"] / smaller["height"], box["width"] / box["height"], delta=0.05)
        placement = self.recipe()["placement"]
        self.assertEqual([placement[name] for name in ("x", "y", "tall", "stance")], [*wanted_now, "auto"])
        page.get_by_label("Height of the cut-out").fill("0.8")
        page.keyboard.press("Enter")
        expect(placed).to_have_accessible_name(re.compile("height 0.80"))
        page.get_by_role("button", name="as it came").click()
        self.assertIsNone(self.recipe()["placement"])

    def test_a_building_says_what_its_parts_are_of_and_where_it_stands(self) -> None:
        page = self.page
        self.at_desk(as_file(draw("cottage", 210, 320).picture), "cottage.png")
        page.keyboard.press("j")
        page.get_by_placeholder(re.compile("^search")).fill("built")
        page.keyboard.press("Enter")
        page.keyboard.press("Escape")
        self.assertEqual(self.recipe()["look"], "built")
        page.keyboard.press("w")
        page.keyboard.type("white timber walls, green door, workshop table,")
        chip = page.get_by_role("list", name="Prompt as understood").get_by_role("listitem")
        expect(chip.first).to_contain_text("= walls: white timber")
        expect(chip.nth(1)).to_contain_text("= doors: green")
        note = page.get_by_role("status", name="Scene")
        expect(note).to_contain_text("Workshop table is no place for a building")
        page.get_by_role("button", name=re.compile("^workshop table, weight")).press("Delete")
        expect(note).to_have_count(0)
        page.keyboard.press("w")
        page.keyboard.type("mountain lake,")
        expect(note).to_contain_text("Lake with mountains lies around the building")
        expect(note.get_by_role("button")).to_have_count(0)
        page.get_by_role("button", name="Run").click()
        expect(page.locator('[data-take][data-state="done"]').first).to_be_visible()

    def test_phrases_are_typed_weighed_ordered_edited_and_removed(self) -> None:
        page = self.page
        self.begin(401)
        page.keyboard.press("w")
        page.keyboard.type("mist, golden hour^1.4, snow,")
        chips = page.get_by_role("list", name="Prompt as understood").get_by_role("listitem")
        expect(chips).to_have_count(3)
        self.assertEqual(self.prompt(), "mist, golden hour^1.4, snow")
        # Weights by key and by dragging the number, always in sight.
        mist = page.get_by_role("button", name=re.compile("^mist, weight"))
        mist.focus()
        page.keyboard.press("ArrowUp")
        page.keyboard.press("ArrowUp")
        expect(chips.first).to_contain_text("1.2")
        box = chips.nth(2).locator("[data-weight]").bounding_box()
        assert box is not None
        self.drag((box["x"] + 8, box["y"] + 8), (box["x"] - 42, box["y"] + 8))
        self.assertEqual(self.prompt(), "mist^1.2, golden hour^1.4, snow^0.5")
        # Order by key and by hand.
        mist.focus()
        page.keyboard.press("Alt+ArrowRight")
        self.assertEqual(self.prompt(), "golden hour^1.4, mist^1.2, snow^0.5")
        # Places are measured once the chips stand in their new order.
        expect(chips.first).to_contain_text("golden hour")
        expect(chips.nth(2)).to_contain_text("0.5")
        start = self.centre('[data-phrase][aria-label^="snow"]')
        end = self.centre('[data-phrase][aria-label^="golden"]')
        self.drag(start, (end[0] - 30, end[1]))
        self.assertEqual(self.prompt(), "snow^0.5, golden hour^1.4, mist^1.2")
        # Edited in place, removed, and all of it undone.
        page.get_by_role("button", name=re.compile("^golden hour")).dblclick()
        page.get_by_label("Edit golden hour").fill("night, rain")
        page.keyboard.press("Enter")
        self.assertEqual(self.prompt(), "snow^0.5, night, rain, mist^1.2")
        page.wait_for_timeout(700)
        page.get_by_role("button", name=re.compile("^night")).focus()
        page.keyboard.press("Delete")
        self.assertEqual(self.prompt(), "snow^0.5, rain, mist^1.2")
        page.get_by_role("button", name=re.compile("^rain")).press("Control+z")
        self.assertEqual(self.prompt(), "snow^0.5, night, rain, mist^1.2")

    def test_what_is_not_understood_says_so_and_suggests(self) -> None:
        page = self.page
        self.begin(402)
        page.locator("#words-prompt").fill("stormyish, three sailors,")
        chips = page.get_by_role("list", name="Prompt as understood").get_by_role("listitem")
        expect(chips.nth(1)).to_contain_text("no effect")
        chips.first.get_by_role("button", name="stormy?").click()
        expect(chips.first).to_contain_text("= storm")
        self.assertEqual(self.prompt(), "stormy, three sailors")

    def test_all_phrases_are_taken_away_as_all_words_of_a_text(self) -> None:
        page = self.page
        self.begin(406)
        field = page.locator("#words-prompt")
        field.fill("mist, night,")
        chips = page.get_by_role("list", name="Prompt as understood").get_by_role("listitem")
        expect(chips).to_have_count(2)
        field.press("Control+a")
        field.press("Backspace")
        expect(chips).to_have_count(0)
        field.type("snow,")
        expect(chips).to_have_count(1)

    def test_versions_of_the_prompt_run_side_by_side(self) -> None:
        page = self.page
        self.begin(403)
        page.get_by_label("Strength: back to one value").click()
        page.locator("#words-prompt").fill("mist, golden hour,")
        page.get_by_label("Another version of the prompt").click()
        second = page.locator("#words-prompt-2")
        expect(second).to_be_visible()
        second.press("Backspace")
        second.fill("night,")
        run = page.get_by_role("button", name="Run 2 takes")
        expect(run).to_be_enabled()
        run.click()
        expect(page.locator('[data-take][data-state="done"]')).to_have_count(2)
        grid = page.get_by_role("grid")
        expect(grid).to_contain_text("golden hour")
        expect(grid).to_contain_text("night")
        expect(grid).not_to_contain_text("mist")
        page.keyboard.press("w")
        page.get_by_label("Take version B away").click()
        expect(page.get_by_role("button", name="Run", exact=True)).to_be_enabled()
        page.locator("body").press("Control+z")
        expect(second).to_be_visible()

    def test_phrases_are_kept_under_a_name_and_used_in_another_study(self) -> None:
        page = self.page
        self.begin(404)
        page.locator("#words-prompt").fill("moonlight^1.3,")
        self.drawer()
        page.locator("#words-avoid").fill("vivid,")
        page.keyboard.press("Escape")
        self.drawer()
        page.get_by_role("button", name="Kept phrases").click()
        page.get_by_label("Name of the phrases").fill("Late harbour")
        page.get_by_role("button", name="Keep", exact=True).click()
        expect(page.get_by_label("Name of Late harbour")).to_be_visible()
        page.goto(self.stack.url)
        self.begin(405)
        page.get_by_role("button", name="Kept phrases").click()
        row = page.get_by_role("listitem").filter(has_text="moonlight^1.3; without vivid")
        row.get_by_role("button", name="Use").click()
        self.assertEqual(self.prompt(), "moonlight^1.3")
        page.get_by_label("Forget Late harbour").click()
        expect(page.get_by_label("Forget Late harbour")).to_have_count(0)
        page.get_by_role("button", name="Undo").last.click()
        page.get_by_role("button", name="Kept phrases").click()
        expect(page.get_by_label("Forget Late harbour")).to_be_visible()

    def test_a_description_is_struck_edited_and_added_by_hand_only(self) -> None:
        page = self.page
        self.begin(406)
        page.keyboard.press("z")
        panel = page.get_by_label("Description", exact=True)
        rows = panel.get_by_role("listitem")
        expect(rows.first).to_be_visible()
        self.assertEqual(self.prompt(), "")
        count = rows.count()
        self.assertGreater(count, 3)
        text = rows.nth(1).locator("input").input_value()
        rows.nth(1).get_by_role("button", name=f"Strike {text}").click()
        expect(rows).to_have_count(count - 1)
        rows.first.locator("input").fill("misty morning^1.2")
        rows.first.get_by_role("button", name="Add").click()
        self.assertEqual(self.prompt(), "misty morning^1.2")
        panel.get_by_role("button", name=re.compile("that steer")).click()
        self.assertGreater(len(self.prompt().split(",")), 2)
        self.assertNotIn(text, self.prompt().split(", "))
        # What was struck stays struck when the panel is opened again.
        page.keyboard.press("Escape")
        page.get_by_label("Describe the picture").click()
        expect(rows).to_have_count(count - 1)
        panel.get_by_role("button", name="Bring back 1 struck").click()
        expect(rows).to_have_count(count)
