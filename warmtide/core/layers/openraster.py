"""Layers in a file of OpenRaster, written and read.

Sources
-------
1. OpenRaster, freedesktop.org, baseline: a ZIP whose first entry is its type, `stack.xml`, one PNG a layer, the merged
   picture and a thumbnail of at most 256 px.
"""

import io
import posixpath
import re
import zipfile
from collections.abc import Iterable
from dataclasses import dataclass
from xml.etree import ElementTree

import cv2
import numpy as np

from ..maths.arrays import Byte
from ..model.errors import BadInput
from ..model.stack import LARGEST_LAYER, LARGEST_STACK, MOST_LAYERS, Layer, Stack
from ..pictures.image import png
from .compose import Pictures, compose, lay, layer_picture, solid_colours

MIMETYPE = "image/openraster"
_THUMB = 256
# What a hostile file may unpack to, all told and one entry, and how deep its groups may go.
_UNPACKED, _ENTRY, _XML, _DEEP = 1 << 28, 1 << 26, 1 << 20, 20
_NO_FILE = "This is no OpenRaster file that can be read; save it again from the program that made it."


@dataclass(frozen=True)
class Brought:
    """A layer of a file: its PNG's bytes, its upper left corner, and how it is shown."""

    name: str
    data: bytes
    x: int
    y: int
    opacity: float
    shown: bool


@dataclass(frozen=True)
class File:
    """A file's size and its layers, lowest first."""

    width: int
    height: int
    layers: tuple[Brought, ...]


def baked(layer: Layer, stack: Stack, pictures: Pictures) -> tuple[Byte, int, int]:
    """A layer as it lies in its stack: its pixels (h, w, 4) without opacity, and their left and top; a single clear pixel where
    nothing of it is in the picture."""
    whole = np.zeros((stack.height, stack.width, 4), np.uint8)
    lay(whole, layer_picture(layer, pictures), layer.place, 1.0)
    rows, columns = np.flatnonzero(whole[..., 3].max(1)), np.flatnonzero(whole[..., 3].max(0))
    if not len(rows):
        return np.zeros((1, 1, 4), np.uint8), 0, 0
    part = whole[rows[0] : rows[-1] + 1, columns[0] : columns[-1] + 1]
    return solid_colours(np.ascontiguousarray(part)), int(columns[0]), int(rows[0])


@dataclass(frozen=True)
class Leaf:
    """A layer as it is written: its pixels (h, w, 4), their left and top in the whole, and how it is shown."""

    name: str
    picture: Byte
    left: int = 0
    top: int = 0
    opacity: float = 1.0
    shown: bool = True


def written(stack: Stack, pictures: Pictures) -> bytes:
    """A stack as an OpenRaster file: layers as they lie, names, opacity, what is hidden, the whole and a thumbnail."""

    def leaf(layer: Layer) -> Leaf:
        picture, left, top = baked(layer, stack, pictures)
        return Leaf(layer.name, picture, left, top, layer.opacity, layer.shown)

    return filed((leaf(layer) for layer in stack.layers), compose(stack, pictures))


def filed(leaves: Iterable[Leaf], whole: Byte) -> bytes:
    """Layers, the lowest first, and the whole (h, w, 4) that they make as an OpenRaster file; one layer at a time is held."""
    image = ElementTree.Element("image", version="0.0.5", w=str(whole.shape[1]), h=str(whole.shape[0]))
    order = ElementTree.SubElement(image, "stack", name="root")
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_STORED) as file:
        # Programs know the type by these bytes at the beginning: not packed, and nothing before them.
        file.writestr("mimetype", MIMETYPE)
        for number, leaf in enumerate(leaves):
            name = f"data/layer{number:03d}.png"
            file.writestr(name, png(leaf.picture))
            told = {
                "name": leaf.name, "src": name, "x": str(leaf.left), "y": str(leaf.top), "opacity": f"{leaf.opacity:.4f}",
                "visibility": "visible" if leaf.shown else "hidden", "composite-op": "svg:src-over",
            }  # fmt: skip
            # The list begins with the highest.
            order.insert(0, ElementTree.Element("layer", told))
        file.writestr("stack.xml", b'<?xml version="1.0" encoding="UTF-8"?>\n' + ElementTree.tostring(image))
        file.writestr("mergedimage.png", png(whole))
        file.writestr("Thumbnails/thumbnail.png", png(_thumb(whole)))
    return out.getvalue()


def _thumb(whole: Byte) -> Byte:
    scale = min(_THUMB / max(whole.shape[:2]), 1.0)
    size = tuple(max(round(n * scale), 1) for n in whole.shape[1::-1])
    return cv2.resize(whole, size, interpolation=cv2.INTER_AREA)


def read(data: bytes) -> File:
    """What an OpenRaster file holds.

    Raises
    ------
    BadInput : it is damaged, names a file outside itself, or unpacks to more than a picture should.
    """
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as file:
            if sum(entry.file_size for entry in file.infolist()) > _UNPACKED:
                raise BadInput("The OpenRaster file unpacks to more than 256 MB; save it with fewer or smaller layers.")
            return _read(file)
    except BadInput:
        raise
    except Exception:
        # Archives, XML and numbers each fail in ways of their own; none says more than this.
        raise BadInput(_NO_FILE) from None


def _read(file: zipfile.ZipFile) -> File:
    text = _entry(file, "stack.xml", _XML)
    if re.search(rb"<!(DOCTYPE|ENTITY)", text):
        raise BadInput("The OpenRaster file's list of layers names other files; save it again without a document type.")
    image = ElementTree.fromstring(text)
    width, height = int(image.get("w", "0")), int(image.get("h", "0"))
    if not (16 <= width <= LARGEST_LAYER and 16 <= height <= LARGEST_LAYER):
        raise BadInput(f"The OpenRaster file is {width} x {height}; from 16 to {LARGEST_LAYER} pixels a side can be brought in.")  # fmt: skip
    order = image.find("stack")
    found: list[Brought] = []
    if order is not None:
        _gather(file, order, (0, 0, 1.0, True), found, 0)
    if len(found) > MOST_LAYERS:
        raise BadInput(f"The OpenRaster file has {len(found)} layers; at most {MOST_LAYERS} can be brought in.")
    return File(width, height, tuple(reversed(found)))


def _gather(
    file: zipfile.ZipFile, order: ElementTree.Element, at: tuple[int, int, float, bool], found: list[Brought], deep: int
) -> None:
    """Layers of a group, highest first; what a group says holds for all in it."""
    if deep > _DEEP:
        raise BadInput("The OpenRaster file's groups lie too deep in one another; save it with fewer.")
    for item in order:
        x, y = at[0] + int(item.get("x", "0")), at[1] + int(item.get("y", "0"))
        opacity = at[2] * min(max(float(item.get("opacity", "1")), 0.0), 1.0)
        shown = at[3] and item.get("visibility", "visible") != "hidden"
        if item.tag == "stack":
            _gather(file, item, (x, y, opacity, shown), found, deep + 1)
        elif item.tag == "layer":
            data = _entry(file, item.get("src", ""), _ENTRY)
            found.append(Brought(item.get("name") or f"layer {len(found) + 1}", data, x, y, opacity, shown))


def _entry(file: zipfile.ZipFile, name: str, most: int) -> bytes:
    if name != posixpath.normpath(name) or name.startswith(("/", "..")) or "\\" in name:
        raise BadInput("The OpenRaster file names a file outside itself; it was not brought in.")
    if file.getinfo(name).file_size > most:
        raise BadInput("A layer of the OpenRaster file is too large; save it smaller.")
    return file.read(name)


def scale_for(file: File) -> float:
    """How much smaller a file's picture is made so that it can be worked on."""
    return min(LARGEST_STACK / max(file.width, file.height), 1.0)
