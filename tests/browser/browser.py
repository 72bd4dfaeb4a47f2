"""Headless Chromium on a running Warm Tide."""

import base64
import re
import unittest
from pathlib import Path
from typing import Any

from playwright.sync_api import Browser, Page, Playwright, expect, sync_playwright

from tests.pictures import as_file, harbour
from tests.stack import PATIENCE, Stack, shared_stack

_ARGUMENTS = [
    "--disable-quic", "--disable-background-networking", "--disable-component-update", "--disable-sync", "--no-sandbox",
]  # fmt: skip

expect.set_options(timeout=PATIENCE * 1000)

LISTENS = """
() => {
  const dataTransfer = new DataTransfer();
  dataTransfer.items.add(new File(["-"], "a.png", { type: "image/png" }));
  return !document.body.dispatchEvent(new DragEvent("dragover", { dataTransfer, bubbles: true, cancelable: true }));
}
"""
DROP = """
([data, name, type]) => {
  const bytes = Uint8Array.from(atob(data), (c) => c.charCodeAt(0));
  const transfer = new DataTransfer();
  transfer.items.add(new File([bytes], name, { type }));
  for (const kind of ["dragenter", "dragover", "drop"])
    document.body.dispatchEvent(new DragEvent(kind, { dataTransfer: transfer, bubbles: true, cancelable: true }));
}
"""


class BrowserTest(unittest.TestCase):
    """A page of 1280 x 800 for each test; what the page logs as an error fails the test."""

    playwright: Playwright
    chromium: Browser
    stack: Stack

    @classmethod
    def setUpClass(cls) -> None:
        cls.stack = shared_stack()
        cls.playwright = sync_playwright().start()
        cls.addClassCleanup(cls.playwright.stop)
        cls.chromium = cls.playwright.chromium.launch(executable_path="/usr/bin/chromium", args=_ARGUMENTS)
        cls.addClassCleanup(cls.chromium.close)

    def setUp(self) -> None:
        self.context = self.chromium.new_context(viewport={"width": 1280, "height": 800}, accept_downloads=True)
        self.addCleanup(self.context.close)
        self.page: Page = self.context.new_page()
        self.page.set_default_timeout(PATIENCE * 1000)
        self.faults: list[str] = []
        self.page.on("pageerror", lambda error: self.faults.append(str(error)))
        self.addCleanup(lambda: self.assertEqual(self.faults, []))
        self.page.goto(self.stack.url)

    def drop(self, data: bytes, name: str, kind: str = "image/png") -> None:
        """Drop a file on the page as a hand would, once the page takes files: it listens a moment after it loads."""
        self.page.wait_for_function(LISTENS)
        self.page.evaluate(DROP, [base64.b64encode(data).decode(), name, kind])

    def at_desk(self, data: bytes, name: str, kind: str = "image/png") -> None:
        """Drop a file and arrive at its desk, once a run of it is costed."""
        self.drop(data, name, kind)
        self.page.wait_for_url("**/study/*")
        expect(self.page.get_by_test_id("plan")).to_contain_text("new")

    def study(self) -> dict[str, Any]:
        """The study that the page shows, as the server tells it."""
        study: dict[str, Any] = self.stack.client.get(
            f"/studies/{self.page.url.split('/study/')[1].split('?')[0]}"
        ).json()
        return study

    def drawer(self) -> None:
        """Open the drawer with every control, or close it."""
        self.page.get_by_role("button", name="All controls", exact=False).click()

    def size(self, pixels: int) -> None:
        """Choose the size of takes, in the drawer."""
        self.drawer()
        self.page.get_by_role("combobox", name="Size").click()
        self.page.get_by_role("option", name=re.compile(f"^{pixels}")).click()
        self.drawer()
        expect(self.page.get_by_label("All controls", exact=True)).to_have_count(0)

    def drag(self, start: tuple[float, float], end: tuple[float, float]) -> None:
        """Press, move in steps, let go."""
        mouse = self.page.mouse
        mouse.move(*start)
        mouse.down()
        for k in range(1, 9):
            mouse.move(start[0] + (end[0] - start[0]) * k / 8, start[1] + (end[1] - start[1]) * k / 8)
        mouse.up()

    def centre(self, selector: str) -> tuple[float, float]:
        box = self.page.locator(selector).first.bounding_box()
        assert box is not None
        return box["x"] + box["width"] / 2, box["y"] + box["height"] / 2

    def saved(self, path: str) -> bytes:
        return Path(path).read_bytes()


class DeskTest(BrowserTest):
    """At the desk of a picture, with small takes."""

    def begin(self, seed: int, name: str = "another.png") -> None:
        """Drop a picture and arrive at its desk, with small takes."""
        self.drop(as_file(harbour(192, 288, seed)), name)
        self.page.wait_for_url("**/study/*")
        expect(self.page.get_by_role("button", name="Run 5 takes")).to_be_enabled()
        self.size(256)

    def single(self) -> None:
        """Push strength back to one value."""
        self.page.get_by_role("button", name="Strength: back to one value").click()
