"""The sign-in page in a real browser: a wrong key, the right one, and the address that was printed."""

from playwright.sync_api import expect

from tests.browser.browser import BrowserTest
from tests.stack import Stack


class SignIn(BrowserTest):
    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        cls.stack = Stack(workers=0, host="0.0.0.0")
        cls.addClassCleanup(cls.stack.close)
        cls.key = (cls.stack.folder / "key").read_text()

    def test_the_key_is_typed(self) -> None:
        self.page.get_by_label("Key").fill("wrong")
        self.page.get_by_role("button", name="Come in").click()
        expect(self.page.get_by_role("alert")).to_contain_text("not the key")
        self.page.get_by_label("Key").fill(self.key)
        self.page.keyboard.press("Enter")
        expect(self.page.get_by_text("Drop a picture anywhere")).to_be_visible()
        self.assertEqual(self.page.url.rstrip("/"), self.stack.url)

    def test_the_address_that_was_printed_is_visited(self) -> None:
        self.page.goto(f"{self.stack.url}/?key={self.key}")
        expect(self.page.get_by_text("Drop a picture anywhere")).to_be_visible()
        self.assertNotIn("key", self.page.url)
        self.page.reload()
        expect(self.page.get_by_text("Drop a picture anywhere")).to_be_visible()
