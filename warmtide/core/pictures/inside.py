"""What a saved picture carries of how it came about: in PNG as text, elsewhere as XMP (docs/formats.md).

Sources
-------
1. ISO 16684-1, "Extensible metadata platform (XMP)", 2019. The packet is read by its one attribute, never as XML, so that no entity
   or document of others is followed.
"""

import html
import io
import json
import re
from typing import Any

from PIL import Image

RECIPE_KEYWORD = "warmtide:recipe"
NAMESPACE = "urn:warmtide:recipe:1"
_FORMATS = ("PNG", "JPEG", "WEBP", "TIFF", "AVIF")
_XMP_TAG = 700
# What a hostile packet may hold: as much as a take carries of what was made by hand, and a little more.
_MOST = 40 << 20
_FOUND = re.compile(rb'\bwarmtide:recipe="([^"<>]*)"')


def xmp_of(inside: dict[str, Any]) -> bytes:
    """A packet of XMP that holds `inside` as JSON in one attribute."""
    text = html.escape(json.dumps(inside, sort_keys=True, ensure_ascii=False), quote=True)
    return (
        '<?xpacket begin="\ufeff" id="W5M0MpCehiHzreSzNTczkc9d"?>'
        '<x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#">'
        f'<rdf:Description rdf:about="" xmlns:warmtide="{NAMESPACE}" warmtide:recipe="{text}"/>'
        '</rdf:RDF></x:xmpmeta><?xpacket end="r"?>'
    ).encode()


def _packet(image: Image.Image) -> bytes:
    found = image.info.get("xmp") or getattr(image, "tag_v2", {}).get(_XMP_TAG, b"")
    if isinstance(found, tuple):
        found = bytes(found)
    return found.encode() if isinstance(found, str) else bytes(found)


def recipe_inside(data: bytes) -> dict[str, Any] | None:
    """What a saved take carries: its recipe, key and source; or None."""
    try:
        image = Image.open(io.BytesIO(data), formats=_FORMATS)
        text = getattr(image, "text", {}).get(RECIPE_KEYWORD) if image.format == "PNG" else None
        if text is None:
            match = _FOUND.search(_packet(image)[:_MOST])
            text = html.unescape(match.group(1).decode()) if match else "null"
        found = json.loads(text)
        return found if isinstance(found, dict) else None
    except Exception:
        # A file from outside makes decoders raise whatever they come upon; it then holds no recipe.
        return None
