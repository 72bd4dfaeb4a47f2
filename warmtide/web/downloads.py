"""Names that files are saved under."""

import re
from urllib.parse import quote

from fastapi import Response


def stem_of(name: str, otherwise: str) -> str:
    """A file's name without its ending, of letters and digits of any script, so that it is safe everywhere."""
    stem = re.sub(r"[\W_]+", "-", name.rsplit(".", 1)[0]).strip("-_")[:80]
    return stem or otherwise


def disposition(name: str) -> str:
    """The header that says under which name an answer is saved (RFC 6266, RFC 8187)."""
    plain = re.sub(r"[^A-Za-z0-9._-]", "_", name)
    return f"attachment; filename=\"{plain}\"; filename*=UTF-8''{quote(name, safe='')}"


def as_file(data: bytes, kind: str, name: str) -> Response:
    """An answer that is saved as a file."""
    return Response(data, media_type=kind, headers={"Content-Disposition": disposition(name)})
