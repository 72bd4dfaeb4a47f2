"""The library of figures and growth: drawings of our own that are laid into a picture and restyled with it."""

import json
from functools import cache
from pathlib import Path

from pydantic import BaseModel

from ..settings import ROOT

FOLDER = ROOT / "demo" / "library"


class Thing(BaseModel):
    """A drawing of the library: its name, what it is called, what it is found by, and how tall it is in metres."""

    name: str
    title: str
    group: str
    words: list[str]
    metres: float
    width: int
    height: int


@cache
def things() -> tuple[Thing, ...]:
    """All drawings, by group."""
    listed = FOLDER / "things.json"
    if not listed.is_file():
        return ()
    return tuple(Thing.model_validate(values) for values in json.loads(listed.read_text()))


def thing_named(name: str) -> Path | None:
    """The file of a drawing that is listed; None for any other name."""
    return FOLDER / f"{name}.svg" if any(thing.name == name for thing in things()) else None
