"""What was made by hand on the way to a picture, strokes and regions, carried in its file: nothing else could make it again."""

import base64
import binascii
import hashlib
from collections.abc import Callable, Iterator
from typing import Any

from ..model.errors import BadInput

# What one file carries of them; what is beyond it is named, and stands in the study's own file.
MOST_CARRIED = 24 << 20


def steps_of(inside: Any) -> Iterator[dict[str, Any]]:
    """A way and every way that it tells of, as often as it does."""
    if isinstance(inside, list):
        for item in inside:
            yield from steps_of(item)
    if not isinstance(inside, dict):
        return
    yield inside
    for name in ("from", "of", "mixed"):
        yield from steps_of(inside.get(name))
    ways = inside.get("ways")
    if isinstance(ways, dict):
        yield from steps_of(list(ways.values()))


def named(inside: Any) -> Iterator[str]:
    """Hashes of the pictures that a way needs and that can't be made again."""
    for step in steps_of(inside):
        guides, cut, stacked, ways = (step.get(name) for name in ("guides", "cut", "stacked", "ways"))
        if isinstance(guides, dict):
            yield from (digest for digest in guides.values() if isinstance(digest, str))
        if isinstance(cut, dict) and isinstance(cut.get("subject"), str):
            yield cut["subject"]
        if isinstance(stacked, dict):
            made = ways if isinstance(ways, dict) else {}
            for layer in stacked.get("layers", ()):
                yield from (name for name in (layer.get("picture"), layer.get("mask")) if name and name not in made)


def with_parts(inside: dict[str, Any], get: Callable[[str], bytes], most: int = MOST_CARRIED) -> dict[str, Any]:
    """A way with all that its file must carry, the smallest first.

    Parameters
    ----------
    get : gives a picture's bytes by its hash; raises KeyError where it is not there any more.
    """
    found = {}
    for digest in dict.fromkeys(named(inside)):
        try:
            found[digest] = get(digest)
        except KeyError:
            continue
    carried, room = {}, most
    for digest, data in sorted(found.items(), key=lambda pair: len(pair[1])):
        room -= len(data)
        if room < 0:
            break
        carried[digest] = base64.b64encode(data).decode()
    return {**inside, "parts": carried} if carried else inside


def carried_parts(inside: dict[str, Any]) -> dict[str, bytes]:
    """What a file carries, each proved by its hash.

    Raises
    ------
    BadInput : one of them is not what its name says.
    """
    parts = inside.get("parts") or {}
    found = {}
    for digest, text in parts.items() if isinstance(parts, dict) else ():
        try:
            data = base64.b64decode(str(text), validate=True)
        except (binascii.Error, ValueError):
            data = b""
        if hashlib.sha256(data).hexdigest() != digest:
            raise BadInput("What was made by hand is damaged in this file; save it again in the program.")
        found[str(digest)] = data
    return found
