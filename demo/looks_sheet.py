"""The picture in docs/looks.md: every look on the demo's pictures: `python -m demo.looks_sheet OUT.png`."""

import sys
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path

import cv2
import numpy as np

from warmtide.core.arrays import Byte
from warmtide.core.engine.restyle import restyle
from warmtide.core.framing import Framing, frame
from warmtide.core.image import decode, png
from warmtide.core.looks.registry import look_named, looks
from warmtide.core.recipe import Recipe

_PICTURES = Path(__file__).parent / "pictures"
_HEIGHT, _CAPTION, _COLUMNS = 160, 22, 3
_OWN = {"sketch": "sketch.png", "render": "boathouse.png", "flat art": "badge.png", "photo": "quay.jpg"}


def _cell(look: str) -> Byte:
    """The quay and the picture of the kind the look is made for, at one height, with the look's title."""
    own = look_named(look).kinds
    second = next((_OWN[kind] for kind in own if kind in ("flat art", "render")), "boathouse.png")
    # A material is shown on the badge, by two seeds.
    shown = (("badge.png", 1), ("badge.png", 4)) if look_named(look).once else (("quay.jpg", 1), (second, 1))
    pictures = []
    for name, seed in shown:
        source = frame(decode((_PICTURES / name).read_bytes()).rgba, Framing(), 480)
        take = restyle(source, Recipe(look=look, strength=0.75, seed=seed, size=480))
        scale = _HEIGHT / take.shape[0]
        pictures.append(cv2.resize(take, (round(take.shape[1] * scale), _HEIGHT), interpolation=cv2.INTER_AREA))
    row = np.hstack(pictures)
    cell = np.full((_HEIGHT + _CAPTION, row.shape[1] + 6, 3), 236, np.uint8)
    cell[:_HEIGHT, : row.shape[1]] = row
    cv2.putText(
        cell, look_named(look).title, (4, _HEIGHT + 16), cv2.FONT_HERSHEY_SIMPLEX, 0.48, (30, 40, 45), 1, cv2.LINE_AA
    )
    return cell


def main() -> None:
    with ProcessPoolExecutor(2) as pool:
        cells = list(pool.map(_cell, looks()))
    width = max(cell.shape[1] for cell in cells)
    cells = [cv2.copyMakeBorder(c, 0, 4, 0, width - c.shape[1], cv2.BORDER_CONSTANT, value=(236,) * 3) for c in cells]

    cells += [np.full_like(cells[0], 236)] * (-len(cells) % _COLUMNS)
    rows = [np.hstack(cells[i : i + _COLUMNS]) for i in range(0, len(cells), _COLUMNS)]
    Path(sys.argv[1]).write_bytes(png(np.vstack(rows)))


if __name__ == "__main__":
    main()
