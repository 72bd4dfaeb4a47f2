"""The command that cuts a picture's subject out."""

import json
from pathlib import Path
from typing import Any, get_args

import cv2
import numpy as np

from ..core.maths.arrays import AnyArray
from ..core.maths.sizes import smaller
from ..core.model.errors import BadInput
from ..core.pictures.image import png
from ..core.understanding.cut.cut_out import SURE_KINDS, UNSURE, WORKED, CutOut, What, cut_out
from .files import read_picture, write_file

_SAYS = 'write {"in": [[[0.5, 0.4], [0.6, 0.5]]], "out": [], "width": 0.01}, places in shares of width and height'
_WIDTH = (0.001, 0.2)
_MOST = 200


def _strokes(path: Path, shape: tuple[int, int]) -> AnyArray:
    """Strokes of a points file as 1, -1 and 0 at a size."""
    try:
        given: Any = json.loads(path.read_text())
    except OSError as error:
        raise BadInput(f"{path} can't be read ({error.strerror}); name a points file.") from None
    except (ValueError, UnicodeDecodeError):
        raise BadInput(f"{path} is no points file; {_SAYS}.") from None
    width = given.get("width", 0.01) if isinstance(given, dict) else None
    if (
        not isinstance(width, (int, float))
        or not _WIDTH[0] <= width <= _WIDTH[1]
        or set(given) - {"in", "out", "width"}
    ):
        raise BadInput(f"{path} is no points file; {_SAYS}; the width from {_WIDTH[0]} to {_WIDTH[1]}.")
    plane = np.zeros(shape, np.int16)
    size = np.array(shape[::-1])
    for name, value in (("in", 1), ("out", -1)):
        for points in _lines(given.get(name, []), path):
            pixels = np.round(points * size).astype(np.int32)
            cv2.polylines(plane, [pixels], False, value, max(round(width * max(shape)), 1))
    return plane


def _lines(given: Any, path: Path) -> list[AnyArray]:
    if not isinstance(given, list) or len(given) > _MOST:
        raise BadInput(f"{path} is no points file; {_SAYS}; at most {_MOST} strokes.")
    lines = []
    for line in given:
        try:
            points = np.array(line, float)
        except (TypeError, ValueError):
            points = np.empty(0)
        if points.ndim != 2 or points.shape[1] != 2 or not len(points) or not ((points >= 0) & (points <= 1)).all():
            raise BadInput(f"A stroke in {path} is no list of places from 0 to 1; {_SAYS}.")
        # One place is a dab.
        lines.append(np.repeat(points, 2, axis=0) if len(points) == 1 else points)
    return lines


def _said(cut: CutOut) -> str:
    share = round(100 * float(cut.alpha.mean()))
    unsure = ", unsure: look at its edges, and say what is in and out by --points" if cut.trust < UNSURE else ""
    return f"{cut.kind}, {share} % of the picture{unsure}"


def cut(image: Path, out: Path, what: str, points: Path | None, as_json: bool) -> None:
    """Cut a picture's subject out, write it as a PNG with transparency, and say what it was taken for."""
    if what not in get_args(What):
        raise BadInput(f"There is no cut of {what!r}; use one of {', '.join(get_args(What))}.")
    rgb = np.ascontiguousarray(read_picture(image).rgba[..., :3])
    found = cut_out(rgb, what)  # type: ignore[arg-type]
    if points is not None:
        strokes = _strokes(points, smaller(rgb, WORKED).shape[:2])
        found = cut_out(rgb, strokes=strokes, known=found.mask if found.kind in SURE_KINDS else None)
    if not float(found.alpha.max()) > 0:
        asked = "Nothing stands out of this picture" if what == "subject" else f"No {what} was found in this picture"
        raise BadInput(f"{asked}; say what is in it by --points: {_SAYS}.")
    alpha = np.clip(found.alpha * 255 + 0.5, 0, 255).astype(np.uint8)
    write_file(out, png(np.dstack([found.colours, alpha])))
    if as_json:
        print(
            json.dumps(
                {"kind": found.kind, "trust": round(found.trust, 2), "share": round(float(found.alpha.mean()), 4)}
            )
        )
    else:
        print(_said(found))
