"""Reading takes and describing pictures from the command line."""

import json
from dataclasses import asdict
from pathlib import Path
from typing import Any

from ..core.model.errors import BadInput
from ..core.model.look import Look
from ..core.pictures.framing import Framing, frame
from ..core.pictures.inside import recipe_inside
from ..core.readings.measure import read as read_pair
from ..core.readings.pair import SourceReading, full_rendering
from ..core.readings.registry import readings as kinds
from .files import read_picture


def shown(figures: dict[str, Any]) -> dict[str, Any]:
    """Figures of a reading as they are printed."""
    return {name: value for name, value in figures.items() if name != "version"}


def _look_inside(data: bytes) -> Look | None:
    """The look that a saved take was made with, if it is one that is here."""
    inside = (recipe_inside(data) or {}).get("recipe") or {}
    if not isinstance(inside, dict) or "look" not in inside:
        return None
    from ..core.job.looking import look_of
    from ..core.model.recipe import recipe_from

    try:
        return look_of(recipe_from(inside))
    except BadInput:
        return None


def measure(source: Path, take: Path, as_json: bool) -> None:
    """Read a take against its source, at the take's size; look reached where the take says its look."""
    picture = read_picture(take).rgba
    side = max(picture.shape[:2])
    framed = frame(read_picture(source).rgba, Framing(), side)
    look = _look_inside(take.read_bytes())
    full = None
    if look:
        from ..core.engine.restyle import painted_whole
        from ..core.readings.look import at_reading_size

        full = full_rendering(painted_whole(at_reading_size(framed), look))
    readings = shown(read_pair(SourceReading(framed), frame(picture, Framing(), side), full).figures)
    if as_json:
        print(json.dumps(readings))
    else:
        told = ((kind.title.lower(), kind.stored(readings)) for kind in kinds())
        print(", ".join(f"{title} {value:.1f}" for title, value in told if value is not None))


def describe(image: Path, as_json: bool) -> None:
    """Describe a picture; a star marks what would steer a take."""
    from ..core.understanding.describe import describe as describe_picture
    from ..core.words.prompt import acts

    found = describe_picture(frame(read_picture(image).rgba, Framing(), 512))
    if as_json:
        print(json.dumps({"phrases": [{**asdict(phrase), "acts": acts(phrase.text)} for phrase in found]}))
        return
    for phrase in found:
        print(f"{phrase.sure:.2f} {phrase.text}{' *' if acts(phrase.text) else ''}")
