"""Pictures of every main view, from the demo's data: `python -m demo.screenshots ADDRESS [-o FOLDER] [NAME ...]`.

ADDRESS is that of a running Warm Tide whose demo studies are loaded and as they came. What is run for a picture is
taken out again.
"""

import argparse
import re
from collections.abc import Callable
from pathlib import Path
from typing import Any

from playwright.sync_api import Page, expect, sync_playwright

_SIZE = {"width": 1280, "height": 800}
_QUAY = "Lantern Quay, evening of the walk"
_CHARACTERS = "The lamp-keeper, for the film of the walk"
_BADGE, _PLACES = "Badge of the lantern walk", "Badge in four places"
_MASSING = "Net store by the quay, massing"
_DRAFT = 'img[alt="Draft of the take"][data-fresh=true]'
_TAKE = "[data-take]"
# Strength of a take that is carried on, and half seconds that a sweep is waited for.
_MIDDLE, _PATIENCE = 0.4, 240

View = Callable[[Page], object]


def _open(page: Page, study: str) -> None:
    """The desk of a study, its takes shown."""
    page.get_by_role("link", name=study).first.click()
    page.wait_for_url("**/study/*")
    expect(page.locator(f'{_TAKE}[data-state="done"]').first).to_be_visible()
    page.wait_for_load_state("networkidle")
    page.wait_for_function(
        "() => [...document.querySelectorAll('[role=grid] img')].every((i) => i.complete && i.naturalWidth > 0)"
    )


def _pick(page: Page, take: str) -> None:
    page.locator(f'{_TAKE}[aria-label^="{take}"]').click()


def _calm(page: Page, seconds: float = 1.0) -> None:
    page.wait_for_timeout(1000 * seconds)


def _drafted(page: Page) -> None:
    expect(page.locator(_DRAFT)).to_be_visible()
    _calm(page, 0.5)


def shelf(page: Page) -> None:
    expect(page.get_by_text(_QUAY).first).to_be_visible()


def desk_two_axes(page: Page) -> None:
    _open(page, _QUAY)
    _pick(page, "Strength 0.60, Seed 7")


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
    page.keyboard.press("l")
    page.locator("#words-prompt").fill("golden hour, charcoal^0.6, red boat, mountain lake, mist")
    page.keyboard.press("Enter")
    _drafted(page)
    _calm(page)


def _finish(page: Page, study: str, take: str | None) -> None:
    """What becomes of a take; of the first one where none is named."""
    _open(page, study)
    if take is None:
        page.locator(_TAKE).first.click()
    else:
        _pick(page, take)
    page.keyboard.press("Shift+S")
    page.wait_for_url("**/finish**")


def finish_larger(page: Page) -> Callable[[], None]:
    """Four ways compared at 400 %; what was made goes again afterwards."""
    _finish(page, _QUAY, "Strength 0.40, Seed 7")
    page.get_by_role("button", name="4\u00d7").click()
    for way in ("Painted again", "With detail", "Along edges", "Lanczos"):
        page.get_by_role("checkbox", name=way).check()
    page.get_by_role("button", name="Make it larger").click()
    expect(page.get_by_text(re.compile(r"^kept \d+"))).to_have_count(4)
    page.get_by_role("button", name="400 %").click()
    page.mouse.move(620, 280)
    page.mouse.down()
    page.mouse.move(900, 330, steps=6)
    page.mouse.up()
    _calm(page, 3)

    def afterwards() -> None:
        gone = page.get_by_role("button", name="Let it go")
        while count := gone.count():
            gone.first.click()
            expect(gone).to_have_count(count - 1)

    return afterwards


def finish_traced(page: Page) -> None:
    _finish(page, _BADGE, None)
    page.get_by_role("button", name="Traced", exact=True).click()
    page.get_by_label("Which pictures").click()
    page.get_by_role("option", name="the source itself").click()
    page.get_by_role("radio", name=re.compile("^Areas")).check()
    page.get_by_role("checkbox", name="show nodes").check()
    page.get_by_label("Colour of colour-2", exact=True).fill("#7a3b8f")
    expect(page.get_by_text("traced, with nodes")).to_be_visible()
    _calm(page, 3)


def desk_characters(page: Page) -> None:
    _open(page, _CHARACTERS)
    page.locator(_TAKE).nth(1).click()


def subject(page: Page) -> None:
    _open(page, _CHARACTERS)
    page.keyboard.press("Shift+P")
    expect(page.get_by_text("as found by the program")).to_be_visible()
    _calm(page)


def hand(page: Page) -> Callable[[], None]:
    """Things laid in; the touched picture goes again afterwards."""
    _open(page, _QUAY)
    page.keyboard.press("u")
    page.wait_for_url("**/hand/*")
    expect(page.locator("[data-shown='1']")).to_be_visible()
    for thing, x, y in (("Pair walking", 330, 560), ("Lantern cart", 700, 560), ("Rowing boat", 480, 690)):
        page.keyboard.press("a")
        page.get_by_title(f"Lay in: {thing}", exact=True).click()
        expect(page.get_by_role("option", name=thing)).to_be_visible()
        page.get_by_role("button", name="Close the library").click()
        box = page.get_by_label("Picture", exact=True).bounding_box()
        assert box is not None
        page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
        page.mouse.down()
        page.mouse.move(x, y, steps=6)
        page.mouse.up()
        _calm(page)
    page.keyboard.press("a")
    _calm(page, 2)
    address = page.url.split("/study/")[0] + "/api/stacks/" + page.url.split("/hand/")[1]
    return lambda: page.request.delete(address)


def desk_built(page: Page) -> None:
    _open(page, _MASSING)
    page.locator(_TAKE).nth(2).click()


def desk_scene(page: Page) -> None:
    _open(page, _PLACES)
    page.locator(_TAKE).nth(1).click()


def desk_tide_line(page: Page) -> None:
    _open(page, _QUAY)
    page.keyboard.press("v")
    _pick(page, "Strength 0.80, Seed 9")


def desk_night(page: Page) -> None:
    _open(page, _QUAY)
    page.keyboard.press("Shift+G")
    _pick(page, "Strength 0.80, Seed 9")
    page.get_by_role("button", name="Map", exact=True).click()


def _bench(page: Page, take: str) -> None:
    _open(page, _QUAY)
    _pick(page, take)
    page.keyboard.press("Enter")
    page.wait_for_url("**/bench*")
    _calm(page)


def bench_divider(page: Page) -> None:
    _bench(page, "Strength 0.60, Seed 7")
    page.keyboard.press("d")
    for _ in range(4):
        page.keyboard.press("}")
    page.mouse.move(500, 420)


def bench_heat(page: Page) -> None:
    _bench(page, "Strength 1.00, Seed 7")
    page.keyboard.press("o")
    page.keyboard.press("h")
    _calm(page)


def bench_side_by_side(page: Page) -> None:
    _bench(page, "Strength 0.40, Seed 7")
    page.keyboard.press("p")
    page.keyboard.press("i")
    strip = page.get_by_role("navigation", name="Takes of this sweep").get_by_role("button")
    for k in (4, 8, 13):
        strip.nth(k).click(modifiers=["Control"])


def _asked(page: Page, path: str, body: object = None) -> dict[str, Any]:
    """What the program answers to a page's own question."""
    address = f"{page.url.split('/study')[0].rstrip('/')}/api{path}"
    answer = page.request.get(address) if body is None else page.request.post(address, data=body)
    found: dict[str, Any] = answer.json()
    return found


def _swept(page: Page, study: str, source: str, spans: list[object], **recipe: object) -> list[dict[str, Any]]:
    """A sweep that is run for a picture, once it is done."""
    asked = {"source_id": source, "recipe": {"size": 384, **recipe}, "spans": spans}
    number = _asked(page, "/sweeps", asked)["id"]
    for _ in range(_PATIENCE):
        takes = next(s for s in _asked(page, f"/studies/{study}")["sweeps"] if s["id"] == number)["takes"]
        if all(take["state"] == "done" for take in takes):
            return list(takes)
        _calm(page, 0.5)
    raise AssertionError("the sweep did not finish")


def lineage(page: Page) -> Callable[[], None]:
    """Half an hour's work on a copy of the quay: carried on twice, two takes mixed; the copy goes again afterwards."""
    page.get_by_role("link", name=_QUAY).first.click()
    page.wait_for_url("**/study/*")
    study = _asked(page, f"/studies/{page.url.split('/study/')[1]}/copy", {})
    number = study["id"]
    first = next(t for t in study["sweeps"][-1]["takes"] if t["state"] == "done" and t["recipe"]["strength"] >= _MIDDLE)
    carried = _asked(page, f"/studies/{number}/sources", {"takes": [first["id"]]})["id"]
    seeds: list[object] = [{"control": "seed", "values": [3, 7]}]
    second = _swept(page, number, carried, seeds, look="gouache", strength=0.45, prompt="mist")[1]
    again = _asked(page, f"/studies/{number}/sources", {"takes": [second["id"]]})["id"]
    third = _swept(page, number, again, [], look="gouache", strength=0.35, prompt="golden hour")[0]
    pair = {"takes": [third["id"], first["id"]], "weights": [3, 2]}
    mixed = _asked(page, f"/studies/{number}/sources", pair)["id"]
    last = _swept(page, number, mixed, [], look="oil", strength=0.4, prompt="golden hour")[0]
    page.goto(f"{page.url.split('/study')[0]}/study/{number}/lineage?of=take:{last['id']}")
    expect(page.get_by_role("treeitem").first).to_be_visible()
    page.wait_for_load_state("networkidle")
    _calm(page, 2)
    return lambda: page.request.delete(f"{page.url.split('/study')[0]}/api/studies/{number}") and None


def wall(page: Page) -> None:
    page.goto(f"{page.url.rstrip('/')}/wall")
    expect(page.locator("[data-hung]").first).to_be_visible()
    page.wait_for_load_state("networkidle")
    page.locator("[data-hung]").nth(1).click()
    _calm(page, 2)


VIEWS: dict[str, View] = {
    "shelf": shelf, "desk-two-axes": desk_two_axes, "live": live, "desk-looks-panel": desk_looks_panel,
    "desk-words": desk_words, "finish-larger": finish_larger, "finish-traced": finish_traced, "hand": hand, "subject": subject, "desk-characters": desk_characters, "desk-built": desk_built,
    "desk-scene": desk_scene, "desk-tide-line": desk_tide_line, "lineage": lineage, "wall": wall,
    "desk-night": desk_night,
    "bench-divider": bench_divider, "bench-heat": bench_heat, "bench-side-by-side": bench_side_by_side,
}  # fmt: skip


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("address")
    parser.add_argument("-o", "--out", type=Path, default=Path("docs/screenshots"))
    parser.add_argument("names", nargs="*", help=f"of {', '.join(VIEWS)}; all by default")
    given = parser.parse_intermixed_args()
    given.out.mkdir(parents=True, exist_ok=True)
    expect.set_options(timeout=60_000)
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=["--no-sandbox"])
        for name in given.names or VIEWS:
            # A browser of its own for each: what one view sets, the next doesn't find.
            context = browser.new_context(viewport=_SIZE)
            page = context.new_page()
            page.goto(given.address)
            page.wait_for_load_state("networkidle")
            afterwards = VIEWS[name](page)
            _calm(page)
            page.screenshot(path=given.out / f"{name}.png")
            if callable(afterwards):
                afterwards()
            context.close()
            print(name, flush=True)
        browser.close()


if __name__ == "__main__":
    main()
