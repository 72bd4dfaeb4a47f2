"""How well untextured buildings are understood: `python -m bench.buildings [--seed N] [--count N] [--show FOLDER]`.

Buildings drawn by lot, with known truth: how far off the two largest walls lie, windows found and claimed wrongly.
"""

import argparse
from pathlib import Path

import cv2
import numpy as np

from demo.massing import Render
from demo.massing import draw as draw_building
from tests.buildings import by_lot, walls_off, windows_told
from warmtide.core.maths.arrays import Byte
from warmtide.core.maths.colour import bytes_to_lab
from warmtide.core.pictures.image import png
from warmtide.core.understanding.building.planes import Built, understand_building

_KINDS = {"wall": (200, 120, 60), "roof": (90, 160, 90), "gable": (210, 170, 60)}
_SIZE = (420, 640)


def _shown(render: Render, built: Built) -> Byte:
    """What was understood, over the render: faces by kind, found openings in blue, true windows dotted in red."""
    out = render.picture.copy()
    for k, face in built.faces.items():
        mask = built.owner == k
        out[mask] = (0.6 * out[mask] + 0.4 * np.array(_KINDS.get(face.kind, (120, 120, 200)))).astype(np.uint8)
        cv2.polylines(out, cv2.findContours(mask.astype(np.uint8), cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)[0], True, (20, 20, 20), 1)  # fmt: skip
    for opening in built.openings:
        colour = (30, 60, 230) if opening.kind == "window" else (160, 30, 200)
        cv2.polylines(out, [np.round(opening.corners).astype(np.int32)], True, colour, 1, cv2.LINE_AA)
    for quad in render.windows:
        for x, y in np.round(quad).astype(int):
            cv2.circle(out, (int(x), int(y)), 2, (230, 30, 30), -1)
    return out


def main() -> None:
    options = argparse.ArgumentParser(description=__doc__)
    options.add_argument("--seed", type=int, default=1)
    options.add_argument("--count", type=int, default=20)
    options.add_argument("--show", type=Path)
    given = options.parse_args()
    total, near, sure = np.zeros(3, int), 0, 0
    for i, building in enumerate(by_lot(given.seed, given.count)):
        render = draw_building(building, *_SIZE)
        built = understand_building(np.ascontiguousarray(bytes_to_lab(render.picture)[..., 0]))
        worst, told = max(walls_off(render, built)), windows_told(render, built)
        total, near, sure = total + told, near + (worst < 3), sure + built.sure
        print(
            f"{i:3d}  walls off {worst:5.1f}  windows {told[1]} of {told[0]}, {told[2]} wrongly{'' if built.sure else '  unsure'}"
        )
        if given.show:
            given.show.mkdir(parents=True, exist_ok=True)
            (given.show / f"{i}.png").write_bytes(png(_shown(render, built)))
    print(
        f"main walls within 3 degrees on {near} of {given.count}, {sure} understood; windows {total[1]} of {total[0]} ({total[1] / max(total[0], 1):.0%}), {total[2]} claimed wrongly"
    )


if __name__ == "__main__":
    main()
