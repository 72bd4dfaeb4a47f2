"""Reading picture files that may be hostile, and writing takes.

Pictures inside the program are 8 bit sRGB: (h, w, 3), or (h, w, 4) with straight alpha for a source as it
was brought in. Everything else (CMYK, 16 bit, ICC profiles, EXIF turns) is converted here, once.
"""

import io
import json
import re
import subprocess
import sys
from dataclasses import dataclass
from typing import Any

import numpy as np
from PIL import Image, ImageCms, ImageOps, PngImagePlugin, UnidentifiedImageError

from .arrays import Byte
from .errors import BadInput

FILE_LIMIT = 64 * 1024 * 1024
SIDE_LIMIT = 16384
PIXEL_LIMIT = 100_000_000
SIDE_LEAST = 8
RECIPE_KEYWORD = "warmtide:recipe"
_FORMATS = ("PNG", "JPEG", "WEBP", "TIFF", "AVIF", "GIF", "BMP")
_ACCEPTED = "use PNG, JPEG, WebP, TIFF, AVIF or SVG"
_SVG_SIDE = 2048
# Our own size checks say what is wrong in one sentence; the library's would be a warning or a trace.
Image.MAX_IMAGE_PIXELS = None


@dataclass(frozen=True)
class Picture:
    """A decoded file.

    Attributes
    ----------
    rgba : (h, w, 4) uint8 sRGB, straight alpha. format : the file's. notes : what was converted, in words.
    """

    rgba: Byte
    format: str
    notes: tuple[str, ...] = ()

    @property
    def has_alpha(self) -> bool:
        return bool((self.rgba[..., 3] < 255).any())


def decode(data: bytes) -> Picture:
    """Decode a picture file, or raise `BadInput` with one sentence.

    Files over 64 MB, over 16,384 px a side or 100 megapixels are refused before their pixels are read.
    """
    if not data:
        raise BadInput("The file is empty; choose a picture file.")
    if len(data) > FILE_LIMIT:
        raise BadInput(f"The file has {len(data) / 1e6:.0f} MB; at most {FILE_LIMIT // 1024**2} MB can be brought in.")
    if _looks_like_svg(data):
        return _decode_svg(data)
    try:
        image = Image.open(io.BytesIO(data), formats=_FORMATS)
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError):
        raise BadInput(f"This is not a picture that can be read; {_ACCEPTED}.") from None
    width, height = image.size
    if max(width, height) > SIDE_LIMIT or width * height > PIXEL_LIMIT:
        raise BadInput(
            f"The picture has {width} x {height} pixels; at most {SIDE_LIMIT} a side and "
            f"{PIXEL_LIMIT // 10**6} megapixels can be brought in."
        )
    if min(width, height) < SIDE_LEAST:
        raise BadInput(f"The picture has only {width} x {height} pixels; at least {SIDE_LEAST} a side are needed.")
    try:
        image.load()
        return _converted(image)
    except (OSError, ValueError, SyntaxError, EOFError, MemoryError, Image.DecompressionBombError):
        raise BadInput("The picture file is damaged or cut short; save it again and bring it in.") from None


def _converted(image: Image.Image) -> Picture:
    notes = []
    frames = getattr(image, "n_frames", 1)
    if frames > 1:
        notes.append(f"The first of {frames} frames is used.")
    format_name = image.format or ""
    profile = image.info.get("icc_profile")
    turned = ImageOps.exif_transpose(image)
    if turned.size != image.size or turned.tobytes()[:64] != image.tobytes()[:64]:
        notes.append("Turned as the camera noted.")
    image = turned
    if image.mode in ("I;16", "I;16B", "I;16L", "I", "F"):
        image = _eight_bit(image)
        notes.append("Reduced from 16 to 8 bits a channel.")
    alpha = image.convert("RGBA").getchannel("A") if "A" in image.getbands() or "transparency" in image.info else None
    if image.mode == "P" or image.mode == "1":
        image = image.convert("RGB")
    if profile:
        converted = _to_srgb(image, profile)
        if converted is not None:
            image = converted
            notes.append("Converted from its colour profile to sRGB.")
    if image.mode == "CMYK":
        notes.append("Converted from CMYK to sRGB.")
    rgba = np.dstack([np.asarray(image.convert("RGB")), np.asarray(alpha) if alpha else np.full(image.size[::-1], 255)])
    return Picture(np.ascontiguousarray(rgba.astype(np.uint8)), format_name, tuple(notes))


def _eight_bit(image: Image.Image) -> Image.Image:
    values = np.asarray(image).astype(np.float64)
    top = 65535.0 if image.mode != "F" or values.max() > 1 else 1.0
    return Image.fromarray(np.clip(values / top * 255 + 0.5, 0, 255).astype(np.uint8))


def _to_srgb(image: Image.Image, profile: bytes) -> Image.Image | None:
    try:
        given = ImageCms.ImageCmsProfile(io.BytesIO(profile))
        base = image if image.mode in ("RGB", "CMYK", "L") else image.convert("RGB")
        return ImageCms.profileToProfile(base, given, ImageCms.createProfile("sRGB"), outputMode="RGB")
    except (ImageCms.PyCMSError, OSError, ValueError, TypeError):
        return None


def _looks_like_svg(data: bytes) -> bool:
    head = data[:4096].lstrip(b"\xef\xbb\xbf \t\r\n")
    return head.startswith(b"<") and b"<svg" in data[:65536]


_RENDER = """
import sys, resvg_py
width, height = int(sys.argv[1]), int(sys.argv[2])
text = sys.stdin.buffer.read().decode('utf-8')
out = resvg_py.svg_to_bytes(svg_string=text, width=width, height=height, skip_system_fonts=True)
sys.stdout.buffer.write(bytes(out))
"""


def _decode_svg(data: bytes) -> Picture:
    """Render in a process of its own: the renderer may abort, hang or read local files named by an href."""
    try:
        text = data.decode("utf-8")
    except UnicodeDecodeError:
        raise BadInput("The SVG is not UTF-8 text; save it again as plain SVG.") from None
    if re.search(r"<!(DOCTYPE|ENTITY)[^>]*\[", text) or "<!ENTITY" in text:
        raise BadInput("The SVG declares entities, which are not read; save it as plain SVG.")
    for link in re.findall(r"href\s*=\s*[\"']\s*([^\"']*)", text):
        if not link.startswith(("#", "data:image/")):
            raise BadInput("The SVG refers to another file; embed its pictures and bring it in again.")
    width, height = _svg_size(text)
    try:
        run = subprocess.run(
            [sys.executable, "-c", _RENDER, str(width), str(height)],
            input=data, capture_output=True, timeout=20, check=False,
        )  # fmt: skip
    except subprocess.TimeoutExpired:
        raise BadInput("The SVG takes too long to draw; simplify it or save it as PNG.") from None
    if run.returncode or not run.stdout:
        raise BadInput("The SVG could not be drawn; check it in a drawing program or save it as PNG.")
    image = Image.open(io.BytesIO(run.stdout), formats=("PNG",)).convert("RGBA")
    return Picture(np.asarray(image).copy(), "SVG", (f"Drawn at {image.width} x {image.height} pixels.",))


def _svg_size(text: str) -> tuple[int, int]:
    head = re.search(r"<svg\b[^>]*>", text, re.S)
    tag = head.group(0) if head else ""
    box = re.search(r"viewBox\s*=\s*[\"']\s*[-\d.e]+[\s,]+[-\d.e]+[\s,]+([\d.e]+)[\s,]+([\d.e]+)", tag)
    plain = [re.search(rf"\s{name}\s*=\s*[\"']\s*([\d.]+)", tag) for name in ("width", "height")]
    try:
        if box:
            width, height = float(box.group(1)), float(box.group(2))
        elif plain[0] and plain[1]:
            width, height = float(plain[0].group(1)), float(plain[1].group(1))
        else:
            width, height = 1.0, 1.0
        scale = _SVG_SIDE / max(width, height)
        return max(SIDE_LEAST, round(width * scale)), max(SIDE_LEAST, round(height * scale))
    except (ValueError, ZeroDivisionError, OverflowError):
        raise BadInput("The SVG has no usable size; give it a viewBox.") from None


def png(picture: Byte, recipe: dict[str, Any] | None = None) -> bytes:
    """PNG of an 8 bit picture tagged as sRGB, with a recipe inside (see docs/formats.md)."""
    info = PngImagePlugin.PngInfo()
    info.add(b"sRGB", b"\x00")
    if recipe is not None:
        info.add_itxt(RECIPE_KEYWORD, json.dumps(recipe, sort_keys=True, ensure_ascii=False))
    out = io.BytesIO()
    Image.fromarray(picture).save(out, "PNG", pnginfo=info, compress_level=2)
    return out.getvalue()


def recipe_inside(data: bytes) -> dict[str, Any] | None:
    """The recipe that a saved take carries, or None."""
    try:
        text = getattr(Image.open(io.BytesIO(data), formats=("PNG",)), "text", {})
        found = json.loads(text[RECIPE_KEYWORD])
        return found if isinstance(found, dict) else None
    except (KeyError, ValueError, OSError):
        return None


def webp(picture: Byte, side: int, quality: int = 86) -> bytes:
    """A preview with a long side of at most `side` pixels."""
    image = Image.fromarray(picture)
    image.thumbnail((side, side), Image.Resampling.LANCZOS)
    out = io.BytesIO()
    image.save(out, "WEBP", quality=quality, method=1)
    return out.getvalue()
