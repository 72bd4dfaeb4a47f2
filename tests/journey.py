"""An hour's work on one study, through the HTTP interface: what lineage, study files and replays are tried on."""

import io
import time
from dataclasses import dataclass
from typing import Any

import numpy as np
from PIL import Image

from tests.pictures import as_file, harbour
from tests.stack import PATIENCE, Stack


@dataclass
class Journey:
    """A photo, a sweep, a take carried on, two takes mixed, one touched by hand and restyled in a region, one made larger."""

    stack: Stack
    id: str
    source: str
    photo: bytes
    first: list[dict[str, Any]]
    carried: str
    second: dict[str, Any]
    mixed: str
    third: dict[str, Any]
    touched: str
    by_hand: str
    last: dict[str, Any]
    larger: dict[str, Any]


class Worker:
    """Does the steps of a study one by one."""

    def __init__(self, stack: Stack, study: str) -> None:
        self.stack, self.study = stack, study

    def post(self, path: str, body: Any) -> Any:
        answer = self.stack.client.post(path, json=body)
        assert answer.status_code == 201, answer.text
        return answer.json()

    def swept(self, source: str, recipe: dict[str, Any], spans: list[Any]) -> list[dict[str, Any]]:
        """The takes of a sweep, once they are done."""
        sweep = self.post("/sweeps", {"source_id": source, "recipe": recipe, "spans": spans})
        found: list[dict[str, Any]] = self.stack.settled(self.study, sweep["id"])["takes"]
        return found

    def enlarged(self, take: str, way: str) -> dict[str, Any]:
        """A take made twice as large."""
        (row,) = self.post(f"/studies/{self.study}/enlargements", {"takes": [take], "ways": [way], "factor": 2})
        deadline = time.monotonic() + PATIENCE
        while time.monotonic() < deadline:
            rows = self.stack.client.get(f"/studies/{self.study}/enlargements").json()
            found: dict[str, Any] = next(r for r in rows if r["id"] == row["id"])
            if found["state"] == "done":
                return found
            time.sleep(0.1)
        raise AssertionError("the enlargement did not finish")

    def painted_over(self, take: str) -> tuple[str, str]:
        """A take with a stroke laid over it by hand: the touched picture, and the source made of it."""
        opened = self.post(f"/studies/{self.study}/stacks", {"take": take, "colour": "#808080"})
        stack, (width, height) = opened["stack"], (opened["stack"]["width"], opened["stack"]["height"])
        stroke = np.zeros((height, width, 4), np.uint8)
        stroke[height // 4 : height // 2, width // 4 : width // 2] = (240, 170, 70, 200)
        kept = self.stack.client.post("/layer-pictures", files={"file": ("s.png", png_of(stroke))}).json()
        place = {"x": width / 2, "y": height / 2, "width": width, "height": height}
        stack["layers"].append({"id": "stroke", "name": "a lamp", "picture": kept["picture"], "place": place})
        change = {"revision": opened["revision"], "stack": stack}
        answer = self.stack.client.put(f"/stacks/{opened['id']}", json=change)
        assert answer.status_code == 200, answer.text
        return opened["id"], self.post(f"/stacks/{opened['id']}/source", {})["id"]

    def with_region(self, source: str) -> None:
        """Paint where takes of a source may change it: its left half."""
        mask = np.zeros((64, 96), np.uint8)
        mask[:, :48] = 255
        answer = self.stack.client.put(f"/sources/{source}/region", files={"file": ("r.png", png_of(mask))})
        assert answer.status_code < 300, answer.text

    def keep(self, take: str) -> None:
        self.stack.client.put(f"/studies/{self.study}/marks/{take}", json={"value": "keep", "note": "this one"})


def png_of(pixels: np.ndarray) -> bytes:  # type: ignore[type-arg]
    out = io.BytesIO()
    Image.fromarray(pixels).save(out, "PNG")
    return out.getvalue()


def journey(stack: Stack, seed: int) -> Journey:
    """Do an hour's work, with small takes."""
    photo = as_file(harbour(96, 144, seed))
    made = stack.client.post("/studies", files={"file": ("quay.png", photo)}).json()
    work, source = Worker(stack, made["id"]), made["sources"][0]["id"]
    recipe = {"look": "ink-comic", "size": 96, "strength": 0.5, "prompt": "mist"}
    first = work.swept(source, recipe, [{"control": "strength", "values": [0.3, 0.5, 0.7]}])
    carried = work.post(f"/studies/{work.study}/sources", {"takes": [first[1]["id"]]})["id"]
    (second,) = work.swept(carried, {**recipe, "strength": 0.6, "prompt": "mist, lanterns"}, [])
    pair = {"takes": [first[0]["id"], second["id"]], "weights": [1, 3]}
    mixed = work.post(f"/studies/{work.study}/sources", pair)["id"]
    (third,) = work.swept(mixed, {**recipe, "look": "pencil"}, [])
    touched, by_hand = work.painted_over(third["id"])
    work.with_region(by_hand)
    (last,) = work.swept(by_hand, {**recipe, "look": "gouache"}, [])
    work.keep(last["id"])
    larger = work.enlarged(last["id"], "painted")
    return Journey(
        stack, work.study, source, photo, first, carried, second, mixed, third, touched, by_hand, last, larger
    )
