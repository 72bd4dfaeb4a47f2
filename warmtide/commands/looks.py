"""Looks from the command line: listed, learned from pictures, read from a file."""

import json
import time
from pathlib import Path

from ..core.looks.registry import add
from ..core.looks.registry import looks as all_looks
from ..core.model.errors import BadInput


def looks(as_json: bool) -> None:
    """List the looks."""
    names = ("name", "category", "kinds", "description", "strengths")
    found = [{name: getattr(look, name) for name in names} for look in all_looks().values()]
    if as_json:
        print(json.dumps({"looks": found}))
        return
    for look in found:
        print(f"{look['name']:14} {look['category']:9} {look['description']}")


def named_look(name: str) -> str:
    """A look's name; a file of a learned look is read and made known first."""
    if not name.endswith(".npz"):
        return name
    from ..core.looks.learned.dictionary import read as read_look
    from ..core.looks.learned.painter import look_from

    try:
        return add(look_from(read_look(Path(name).read_bytes()))).name
    except OSError as error:
        raise BadInput(f"{name} can't be read ({error.strerror}); name the file of a learned look.") from None


def learn(references: list[Path], out: Path, as_json: bool, name: str, marks: float | None) -> None:
    """Learn a look from pictures and write its file."""
    if marks is not None and not 0.2 <= marks <= 2:
        raise BadInput(f"The size of marks is {marks:g}; it goes from 0.2 to 2, 1 as in the pictures.")
    from ..core.looks.learned.dictionary import learn as learn_look
    from ..core.looks.learned.dictionary import written
    from ..core.pictures.framing import Framing, frame
    from .files import read_picture, write_file

    began = time.perf_counter()
    pictures = [frame(read_picture(path).rgba, Framing(), 1024) for path in references]
    found = learn_look(pictures, name or out.stem, marks)
    data = written(found)
    write_file(out, data)
    seconds = round(time.perf_counter() - began, 3)
    facts = {"id": found.id, "name": found.name, "seconds": seconds, "bytes": len(data), "element": found.element}
    print(json.dumps(facts) if as_json else f"{out}: {found.name}, {len(data) / 1e6:.1f} MB, {seconds:.2f} s")
