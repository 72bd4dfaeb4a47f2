"""The pictures in docs/looks.md and docs/materials.md: `python -m demo.looks_sheet LOOKS.png MATERIALS.png BUILT.png`."""

import sys
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path

import cv2
import numpy as np

from warmtide.core.job.take import restyle
from warmtide.core.looks.registry import look_named, looks
from warmtide.core.maths.arrays import Byte
from warmtide.core.model.guides import Guides
from warmtide.core.model.recipe import Recipe
from warmtide.core.pictures.framing import Framing, frame, framed_cover
from warmtide.core.pictures.image import decode, png

_PICTURES = Path(__file__).parent / "pictures"
_HEIGHT, _MATERIAL, _CAPTION = 160, 240, 22
_OWN = {"sketch": "sketch.png", "render": "boathouse.png", "flat art": "badge.png", "photo": "quay.jpg"}


# The look of buildings, by what words ask of it.
_BUILT = (
    ("massing.png", "plaster walls, brick plinth, tiled roof, paved yard, mountain lake, dusk", 7),
    ("massing.png", "stone walls, red door, snow field, overcast", 7),
    ("massing.png", "white timber walls, black windows, beach", 3),
    ("boathouse.png", "brick walls, slate roof, harbour, golden hour", 5),
    ("boathouse.png", "timber walls, zinc roof, rolling hills", 2),
    ("boathouse.png", "plaster walls, wet street at night", 1),
)


def _captioned(pictures: list[Byte], title: str) -> Byte:
    row = np.hstack(pictures)
    height = row.shape[0]
    cell = np.full((height + _CAPTION, row.shape[1] + 6, 3), 236, np.uint8)
    cell[:height, : row.shape[1]] = row
    cv2.putText(cell, title, (4, height + 16), cv2.FONT_HERSHEY_SIMPLEX, 0.48, (30, 40, 45), 1, cv2.LINE_AA)
    return cell


def _cell(look: str) -> Byte:
    """The quay and the picture of the kind the look is made for; of a material the badge alone."""
    chosen = look_named(look)
    material = chosen.category == "material"
    second = next((_OWN[kind] for kind in chosen.kinds if kind in ("flat art", "render", "sketch")), "boathouse.png")
    tall = _MATERIAL if material else _HEIGHT
    pictures = []
    second = {"building": "massing.png", "product": "kettle.png"}.get(chosen.category, second)
    shown = [("badge.svg", 7)] if material else [("quay.jpg", 7), (second, 7)]
    if "photo" not in chosen.kinds and not material:
        # What is made for one kind only is shown by two seeds.
        shown = [(second, 7), (second, 3)]
    for name, seed in shown:
        rgba = decode((_PICTURES / name).read_bytes()).rgba
        source, cover = frame(rgba, Framing(), 480), framed_cover(rgba, Framing(), 480)
        recipe = Recipe(look=look, strength=0.9 if chosen.handling.once else 0.75, seed=seed, size=480)
        take = restyle(source, recipe, guides=Guides(cover=cover))
        scale = tall / take.shape[0]
        pictures.append(cv2.resize(take, (round(take.shape[1] * scale), tall), interpolation=cv2.INTER_AREA))
    return _captioned(pictures, chosen.title)


def _built(asked: tuple[str, str, int]) -> Byte:
    name, prompt, seed = asked
    source = frame(decode((_PICTURES / name).read_bytes()).rgba, Framing(), 512)
    take = restyle(source, Recipe(look="built", prompt=prompt, strength=0.9, seed=seed))
    return _captioned([take], prompt)


def sheet(cells: list[Byte], columns: int) -> Byte:
    """Cells of one height in rows."""
    width = max(cell.shape[1] for cell in cells)
    cells = [cv2.copyMakeBorder(c, 0, 4, 0, width - c.shape[1], cv2.BORDER_CONSTANT, value=(236,) * 3) for c in cells]
    cells += [np.full_like(cells[0], 236)] * (-len(cells) % columns)
    return np.vstack([np.hstack(cells[i : i + columns]) for i in range(0, len(cells), columns)])


def main() -> None:
    painters, materials = (
        [name for name, look in looks().items() if (look.category == "material") is made] for made in (False, True)
    )
    with ProcessPoolExecutor(2) as pool:
        for path, names, columns in ((sys.argv[1], painters, 3), (sys.argv[2], materials, 6)):
            Path(path).write_bytes(png(sheet(list(pool.map(_cell, names)), columns)))
        Path(sys.argv[3]).write_bytes(png(sheet(list(pool.map(_built, _BUILT)), 3)))


if __name__ == "__main__":
    main()
