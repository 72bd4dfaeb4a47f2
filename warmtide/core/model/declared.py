"""What the modules of a folder declare: how looks, places, readings and exporters are found."""

import importlib
import re
from pathlib import Path
from typing import Any


def declared(package: str, name: str) -> list[Any]:
    """Values that modules of a package give to `name` at the beginning of a line, in the order of the files.

    Modules that don't are not loaded, so that helpers may lie beside what they help.
    """
    begins = re.compile(rf"^{name}\b", re.MULTILINE)
    folder = Path(importlib.import_module(package).__path__[0])
    stems = [path.stem for path in sorted(folder.glob("*.py")) if begins.search(path.read_text(encoding="utf-8"))]
    return [getattr(importlib.import_module(f"{package}.{stem}"), name) for stem in stems]
