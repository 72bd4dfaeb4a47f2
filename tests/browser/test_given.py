"""What an artist gives beside a source: a region, marked faces, other pictures mixed in."""

import re

from playwright.sync_api import expect

from tests.browser.browser import BrowserTest
from tests.pictures import as_file, harbour, keeper
from tests.stack import shared_stack


class Given(BrowserTest):
    def test_a_region_is_painted_kept_and_taken_away(self) -> None:
        page = self.page
        self.at_desk(as_file(harbour(160, 240, 305)), "part.png", "image/png")
        page.keyboard.press("p")
        pad = page.get_by_role("application", name=re.compile("^Region"))
        keep = page.get_by_role("button", name="Keep the region")
        expect(keep).to_be_disabled()
        box = pad.bounding_box()
        assert box is not None
        page.mouse.move(box["x"] + box["width"] * 0.2, box["y"] + box["height"] * 0.2)
        page.mouse.down()
        page.mouse.move(box["x"] + box["width"] * 0.8, box["y"] + box["height"] * 0.2, steps=6)
        page.mouse.up()
        panel = page.get_by_label("Region", exact=True)
        share = panel.get_by_role("status")
        expect(share).to_have_text(re.compile(r"^([4-9]|1\d) % of the picture may change"))
        # By keyboard too, and back again.
        pad.focus()
        page.keyboard.press("Shift+ArrowDown")
        for _ in range(8):
            page.keyboard.press("]")
        page.keyboard.press(" ")
        expect(share).to_have_text(re.compile(r"^[2-9]\d % of"))
        page.keyboard.press("Control+z")
        expect(share).to_have_text(re.compile(r"^([4-9]|1\d) % of"))
        page.get_by_role("button", name="The rest instead").click()
        expect(share).to_have_text(re.compile(r"^(8\d|9\d) % of"))
        page.get_by_role("button", name=re.compile("^Undo")).click()
        keep.click()
        expect(panel).to_have_count(0)
        expect(page.get_by_role("button", name="in a region")).to_be_visible()
        self.assertIsNotNone(self.study()["sources"][0]["region_key"])
        page.get_by_role("button", name="in a region").click()
        expect(share).to_have_text(re.compile(r"^([4-9]|1\d) % of"))
        page.get_by_role("button", name="The whole picture again").click()
        expect(page.get_by_role("button", name="paint a region").first).to_be_visible()
        self.assertIsNone(self.study()["sources"][0]["region_key"])

    def test_a_face_is_marked_by_hand_and_kept(self) -> None:
        page = self.page
        self.at_desk(as_file(keeper()), "keeper.png", "image/png")
        page.keyboard.press("h")
        panel = page.get_by_label("Faces", exact=True)
        found = panel.get_by_role("status")
        expect(found).to_have_text("One face, found by the program.")
        keep = page.get_by_role("button", name="Keep the marks")
        expect(keep).to_be_disabled()
        pad = page.get_by_role("group", name=re.compile("^Drag around a head"))
        box = pad.bounding_box()
        assert box is not None
        page.mouse.move(box["x"] + 10, box["y"] + 20)
        page.mouse.down()
        page.mouse.move(box["x"] + 70, box["y"] + 90, steps=5)
        page.mouse.up()
        expect(found).to_have_text("2 faces, marked by you.")
        # By keyboard: it leans and moves, and what was found is taken away.
        second = page.get_by_role("button", name="Face 2 of 2")
        second.focus()
        for key in ("]", "]", "Shift+ArrowRight"):
            page.keyboard.press(key)
        expect(page.get_by_role("button", name="Face 2 of 2, leaning 10 degrees right")).to_be_visible()
        page.get_by_role("button", name="Face 1 of 2").focus()
        page.keyboard.press("Delete")
        expect(found).to_have_text("One face, marked by you.")
        keep.click()
        expect(panel).to_have_count(0)
        expect(page.get_by_role("button", name="faces marked").first).to_be_visible()
        source = self.study()["sources"][0]
        face = shared_stack().client.get(f"/sources/{source['id']}/faces").json()["faces"][0]
        scale = max(box["width"], box["height"])
        self.assertAlmostEqual(face["x"], 40 / scale + 0.05, delta=0.01)
        self.assertAlmostEqual(face["width"], 60 / scale, delta=0.01)
        self.assertEqual(face["angle"], 10)
        page.keyboard.press("h")
        page.get_by_role("button", name="Find them again").click()
        expect(page.get_by_role("button", name="faces", exact=True).first).to_be_visible()

    def test_the_subject_is_seen_mended_and_found_again(self) -> None:
        page = self.page
        self.at_desk(as_file(keeper()), "keeper.png", "image/png")
        page.keyboard.press("Shift+P")
        panel = page.get_by_label("Subject", exact=True)
        share = panel.get_by_role("status")
        expect(share).to_have_text(re.compile(r"^[2-6]\d % of the picture, as found by the program"))
        first = int((share.text_content() or "0").split()[0])
        keep = page.get_by_role("button", name="Keep the subject")
        expect(keep).to_be_disabled()
        pad = page.get_by_role("application", name=re.compile("^Subject"))
        pad.focus()
        page.keyboard.press("e")
        for _ in range(10):
            page.keyboard.press("]")
        page.keyboard.press(" ")
        expect(share).to_have_text(re.compile(r"mended by you\.$"))
        expect(share).not_to_have_text(re.compile(rf"^{first} %"))
        self.assertLess(int((share.text_content() or "0").split()[0]), first)
        keep.click()
        expect(panel).to_have_count(0)
        expect(page.get_by_role("button", name="subject mended").first).to_be_visible()
        self.assertIsNotNone(self.study()["sources"][0]["subject_key"])
        # What was said is there when it is opened again.
        page.keyboard.press("Shift+P")
        expect(share).to_have_text(re.compile(r"mended by you\.$"))
        self.assertLess(int((share.text_content() or "0").split()[0]), first)
        page.get_by_role("button", name="As it was found").click()
        expect(panel).to_have_count(0)
        self.assertIsNone(self.study()["sources"][0]["subject_key"])
        # Cut out with one key, it is the source of the next takes.
        page.keyboard.press("Shift+P")
        expect(share).to_have_text(re.compile("as found by the program"))
        page.keyboard.press("c")
        expect(page.get_by_role("combobox", name="Source of the next takes")).to_have_text("keeper 2 cut out.png")
        self.assertTrue(self.study()["sources"][1]["has_alpha"])

    def test_two_pictures_are_mixed_into_a_source(self) -> None:
        page = self.page
        self.at_desk(as_file(harbour(160, 240, 308)), "first.png", "image/png")
        page.keyboard.press("d")
        keep = page.get_by_role("button", name="Keep as a source")
        expect(keep).to_be_disabled()
        with page.expect_file_chooser() as chooser:
            page.get_by_role("button", name="Bring in another").click()
        chooser.value.set_files(
            {"name": "second.png", "mimeType": "image/png", "buffer": as_file(harbour(160, 240, 309))}
        )
        mixed = page.get_by_alt_text("The pictures mixed")
        expect(mixed).to_have_attribute("data-fresh", "true")
        before = mixed.get_attribute("src")
        page.get_by_role("slider", name="Weight of second.png").focus()
        for _ in range(4):
            page.keyboard.press("ArrowRight")
        expect(page.get_by_role("listitem").filter(has_text="second.png")).to_contain_text("54 %")
        expect(mixed).not_to_have_attribute("src", before or "")
        keep.click()
        expect(page.get_by_label("Mix", exact=True)).to_have_count(0)
        expect(page.get_by_role("combobox", name="Source of the next takes")).to_have_text("second 3 mixed.png")
        self.assertEqual(len(self.study()["sources"][-1]["parents"]), 2)
