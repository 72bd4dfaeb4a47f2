"""Pictures of every main view, from the demo's data: `python -m demo.screenshots ADDRESS [-o FOLDER] [NAME ...]`.

ADDRESS is that of a running Warm Tide whose demo studies are loaded and as they came. A sweep is run in two of them,
and what is run stays there; use a data folder of its own.
"""

import argparse
from collections.abc import Callable
from pathlib import Path

from playwright.sync_api import Page, expect, sync_playwright

_SIZE = {"width": 1280, "height": 800}
_QUAY, _BOATHOUSE = "Lantern Quay, evening of the walk", "Boat-house on the slip"
_BADGE, _PLACES = "Badge of the lantern walk", "Badge in four places"
_MASSING = "Net store by the quay, massing"
_DRAFT = 'img[alt="Draft of the take"][data-fresh=true]'
_TAKE = "[data-take]"

View = Callable[[Page], None]


def _open(page: Page, study: str) -> None:
    """The desk of a study, its takes shown."""
    page.get_by_role("link", name=study).first.click()
    page.wait_for_url("**/study/*")
    expect(page.locator(f'{_TAKE}[data-state="done"]').first).to_be_visible()
    page.wait_for_load_state("networkidle")


def _calm(page: Page, seconds: float = 1.0) -> None:
    page.wait_for_timeout(1000 * seconds)


def _drafted(page: Page) -> None:
    expect(page.locator(_DRAFT)).to_be_visible()
    _calm(page, 0.5)


def shelf(page: Page) -> None:
    expect(page.get_by_text(_QUAY).first).to_be_visible()


def desk_two_axes(page: Page) -> None:
    _open(page, _QUAY)
    page.locator(_TAKE).nth(2).click()


def live(page: Page) -> None:
    _open(page, _QUAY)
    page.keyboard.press("l")
    _drafted(page)


def desk_looks_panel(page: Page) -> None:
    _open(page, _QUAY)
    page.keyboard.press("j")
    expect(page.locator("[data-look] img")).not_to_have_count(0)
    expect(page.locator("[data-look=watercolour] img")).to_be_visible()
    _calm(page, 15)


def desk_words(page: Page) -> None:
    _open(page, _QUAY)
    page.locator("#words-prompt").fill("golden hour, charcoal^0.6, red boat, etching")
    page.keyboard.press("Enter")
    page.keyboard.press("Escape")
    page.keyboard.press("l")
    _drafted(page)
    page.get_by_role("button", name="Show what the hold on lines keeps").click()
    _calm(page)


def frame(page: Page) -> None:
    _open(page, _QUAY)
    page.keyboard.press("i")
    expect(page.get_by_test_id("result")).to_be_visible()
    page.get_by_role("combobox", name="Shape").click()
    page.get_by_role("option", name="Square").first.click()


def recolour(page: Page) -> None:
    _open(page, _BADGE)
    page.keyboard.press("u")
    _calm(page, 2)


def block_in(page: Page) -> None:
    page.get_by_role("button", name="Block one in").click()
    _calm(page)


def desk_built(page: Page) -> None:
    _open(page, _MASSING)
    page.locator(_TAKE).nth(2).click()


def desk_scene(page: Page) -> None:
    _open(page, _PLACES)
    page.locator(_TAKE).nth(1).click()


def desk_tide_line(page: Page) -> None:
    _open(page, _QUAY)
    page.keyboard.press("v")
    page.locator(_TAKE).nth(13).click()


def desk_same_spot(page: Page) -> None:
    _open(page, _QUAY)
    box = page.locator(_TAKE).nth(7).bounding_box()
    assert box is not None
    page.mouse.move(box["x"] + 0.42 * box["width"], box["y"] + 0.5 * box["height"])
    page.keyboard.press("e")


def desk_materials(page: Page) -> None:
    _open(page, _BADGE)
    page.locator(_TAKE).nth(1).click()


def desk_night(page: Page) -> None:
    _open(page, _QUAY)
    page.keyboard.press("Shift+G")
    page.locator(_TAKE).nth(13).click()
    page.get_by_role("button", name="Map", exact=True).click()


def desk_explain(page: Page) -> None:
    _open(page, _QUAY)
    page.get_by_role("button", name="What strength does").click()
    _calm(page, 6)


def _bench(page: Page) -> None:
    _open(page, _QUAY)
    page.locator(_TAKE).nth(3).click()
    page.keyboard.press("Enter")
    page.wait_for_url("**/bench*")
    _calm(page)


def bench_divider(page: Page) -> None:
    _bench(page)
    page.keyboard.press("d")
    for _ in range(3):
        page.keyboard.press("Shift+]")
    page.mouse.move(500, 420)


def bench_heat(page: Page) -> None:
    _bench(page)
    page.keyboard.press("h")


def bench_side_by_side(page: Page) -> None:
    _bench(page)
    page.keyboard.press("p")
    page.keyboard.press("i")
    strip = page.get_by_role("navigation", name="Takes of this sweep").get_by_role("button")
    for k in (4, 8, 13):
        strip.nth(k).click(modifiers=["Control"])


def _run(page: Page, study: str, recipe: dict[str, object], **spans: list[object]) -> None:
    api = page.url.rstrip("/") + "/api"
    number = next(s["id"] for s in page.request.get(f"{api}/studies").json() if s["name"] == study)
    source = page.request.get(f"{api}/studies/{number}").json()["sources"][0]["id"]
    stretched = [{"control": control, "values": values} for control, values in spans.items()]
    answer = page.request.post(f"{api}/sweeps", data={"source_id": source, "recipe": recipe, "spans": stretched})
    assert answer.ok, answer.text()


def desk_pages(page: Page) -> None:
    """Runs in two studies: the second waits for the first."""
    strengths: list[object] = [0.4, 0.5, 0.6, 0.7, 0.8]
    looks: list[object] = ["oil", "gouache", "ink-comic"]
    _run(page, _QUAY, {"look": "oil"}, strength=strengths, seed=[7, 8, 9], look=looks)
    _run(page, _BOATHOUSE, {"look": "marker", "strength": 0.7}, seed=[4, 5, 6])
    page.reload()
    _open(page, _QUAY)
    page.keyboard.press("q")
    _calm(page, 4)


VIEWS: dict[str, View] = {
    "shelf": shelf, "desk-two-axes": desk_two_axes, "live": live, "desk-looks-panel": desk_looks_panel,
    "desk-words": desk_words, "frame": frame, "recolour": recolour, "block-in": block_in, "desk-built": desk_built,
    "desk-scene": desk_scene, "desk-tide-line": desk_tide_line, "desk-same-spot": desk_same_spot,
    "desk-materials": desk_materials, "desk-night": desk_night, "desk-explain": desk_explain,
    "bench-divider": bench_divider, "bench-heat": bench_heat, "bench-side-by-side": bench_side_by_side,
    "desk-pages": desk_pages,
}  # fmt: skip


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("address")
    parser.add_argument("-o", "--out", type=Path, default=Path("docs/screenshots"))
    parser.add_argument("names", nargs="*", help=f"of {', '.join(VIEWS)}; all by default")
    given = parser.parse_args()
    given.out.mkdir(parents=True, exist_ok=True)
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=["--no-sandbox"])
        for name in given.names or VIEWS:
            # A browser of its own for each: what one view sets, the next doesn't find.
            context = browser.new_context(viewport=_SIZE)
            page = context.new_page()
            page.goto(given.address)
            page.wait_for_load_state("networkidle")
            VIEWS[name](page)
            _calm(page)
            page.screenshot(path=given.out / f"{name}.png")
            context.close()
            print(name, flush=True)
        browser.close()


if __name__ == "__main__":
    main()
