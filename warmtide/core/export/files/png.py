"""PNG with 8 or 16 bits a channel."""

import io
import json
import struct
import zlib

import cv2
import numpy as np
from PIL import Image, PngImagePlugin

from ...model.errors import BadInput
from ...pictures.inside import RECIPE_KEYWORD
from ...pictures.profile import srgb_profile
from .kind import Format, Page

_INCH = 0.0254
_HEAD = 8 + 25


def _chunk(name: bytes, data: bytes) -> bytes:
    return struct.pack(">I", len(data)) + name + data + struct.pack(">I", zlib.crc32(name + data))


def _deep(page: Page) -> bytes:
    """16 bits a channel, which Pillow does not write: written by OpenCV, with what the file says of itself put behind its head."""
    order = cv2.COLOR_RGBA2BGRA if page.picture.shape[2] == 4 else cv2.COLOR_RGB2BGR
    done, data = cv2.imencode(".png", cv2.cvtColor(page.picture, order), [cv2.IMWRITE_PNG_COMPRESSION, 3])
    if not done:
        raise BadInput("The PNG could not be written; choose another format.")
    each = round(page.wish.dpi / _INCH)
    said = _chunk(b"pHYs", struct.pack(">IIB", each, each, 1))
    if page.wish.profile:
        said = _chunk(b"iCCP", b"sRGB\0\0" + zlib.compress(srgb_profile())) + said
    else:
        said = _chunk(b"sRGB", b"\0") + said
    if page.inside is not None:
        text = json.dumps(page.inside, sort_keys=True, ensure_ascii=False).encode()
        said += _chunk(b"iTXt", RECIPE_KEYWORD.encode() + b"\0\0\0\0\0" + text)
    whole = data.tobytes()
    return whole[:_HEAD] + said + whole[_HEAD:]


def _png(page: Page) -> bytes:
    if page.picture.dtype == np.uint16:
        return _deep(page)
    info = PngImagePlugin.PngInfo()
    if not page.wish.profile:
        info.add(b"sRGB", b"\0")
    if page.inside is not None:
        info.add_itxt(RECIPE_KEYWORD, json.dumps(page.inside, sort_keys=True, ensure_ascii=False))
    out = io.BytesIO()
    profile = srgb_profile() if page.wish.profile else None
    dpi = (page.wish.dpi, page.wish.dpi)
    Image.fromarray(page.picture).save(out, "PNG", pnginfo=info, dpi=dpi, icc_profile=profile, compress_level=4)
    return out.getvalue()


FORMAT = Format(
    "png",
    "PNG",
    "every pixel as it is; for screens, layouts, further work",
    "png",
    "image/png",
    _png,
    deep=True,
    place=1,
)
