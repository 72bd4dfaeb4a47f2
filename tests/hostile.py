"""Files with something wrong about them, drawn by lot from sound ones."""

import io
import random
from collections.abc import Iterator

import numpy as np
from PIL import Image

from tests.pictures import as_file, harbour
from warmtide.core.looks.learned.dictionary import learn, written

_SVG = b"""<svg xmlns="http://www.w3.org/2000/svg" width="40mm" height="30mm" viewBox="0 0 40 30"><style>.a{fill:#123456}</style>
<!-- a note --><rect class="a" width="40" height="30"/><path d="M2 2 L20 8 Z" stroke="rgb(200,10,20)"/><text x="3" y="20"
font-family="Helvetica" font-size="6">quay</text><image href="data:image/png;base64,iVBORw0KGgo=" width="4" height="4"/></svg>"""


def seeds() -> dict[str, bytes]:
    """A small sound file of every kind that is taken in."""
    rgb = harbour(48, 64)
    alpha = np.dstack([rgb, np.full(rgb.shape[:2], 200, np.uint8)])
    found = {kind.lower(): as_file(rgb, kind) for kind in ("PNG", "JPEG", "WEBP", "TIFF", "AVIF", "GIF", "BMP")}
    exif = Image.Exif()
    exif[0x0112], exif[0x010F] = 6, "maker"

    def saved(image: Image.Image, kind: str, **more: object) -> bytes:
        out = io.BytesIO()
        image.save(out, kind, **more)  # type: ignore[arg-type]
        return out.getvalue()

    found["png alpha"] = saved(Image.fromarray(alpha), "PNG", exif=exif)
    found["png palette"] = saved(Image.fromarray(rgb).quantize(16), "PNG", transparency=3)
    found["png 16"] = saved(Image.fromarray(rgb[..., 0].astype(np.uint16) * 257), "PNG")
    found["png 1"] = saved(Image.fromarray(rgb).convert("1"), "PNG")
    found["jpeg exif"] = saved(Image.fromarray(rgb), "JPEG", exif=exif)
    found["jpeg cmyk"] = saved(Image.fromarray(rgb).convert("CMYK"), "JPEG")
    found["tiff lzw"] = saved(Image.fromarray(alpha), "TIFF", compression="tiff_lzw")
    found["tiff float"] = saved(Image.fromarray(rgb[..., 0].astype(np.float32)), "TIFF")
    frames = [Image.fromarray(harbour(32, 40, k)) for k in range(3)]
    found["gif frames"] = saved(frames[0], "GIF", save_all=True, append_images=frames[1:])
    found["webp frames"] = saved(frames[0], "WEBP", save_all=True, append_images=frames[1:])
    found["svg"] = _SVG
    found["look"] = written(learn([harbour(96, 128)], "Quay"))
    return found


def mutated(data: bytes, lot: random.Random) -> bytes:
    """One of many ways in which a file goes wrong."""
    out = bytearray(data)
    way = lot.randrange(8)
    at = lot.randrange(len(out))
    if way == 0:
        return bytes(out[:at])
    if way == 1:
        for _ in range(lot.randrange(1, 12)):
            out[lot.randrange(len(out))] ^= 1 << lot.randrange(8)
    elif way == 2:
        for k in range(at, min(at + lot.randrange(1, 40), len(out))):
            out[k] = lot.randrange(256)
    elif way == 3:
        end = min(at + lot.randrange(1, 200), len(out))
        del out[at:end]
    elif way == 4:
        out[at:at] = bytes(lot.randrange(256) for _ in range(lot.randrange(1, 60)))
    elif way == 5:
        end = min(at + lot.randrange(1, 100), len(out))
        out[at:at] = out[at:end] * lot.randrange(1, 20)
    elif way == 6:
        # Numbers in heads: sizes, counts, places.
        for k in range(at, min(at + 4, len(out))):
            out[k] = lot.choice((0, 255, 127, 128))
    else:
        head = lot.randrange(min(64, len(out)))
        out[head] = lot.randrange(256)
    return bytes(out)


def files(count: int, seed: int) -> Iterator[tuple[str, bytes]]:
    """So many mutated files with what they were made of, the same ones for the same seed."""
    lot, sound = random.Random(seed), seeds()
    names = list(sound)
    for k in range(count):
        name = names[k % len(names)]
        data = mutated(sound[name], lot)
        yield name, mutated(data, lot) if lot.random() < 0.3 and data else data
