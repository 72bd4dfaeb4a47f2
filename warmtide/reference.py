"""What docs say of looks, readings, exports, keys and commands, made from the code: `python -m warmtide.reference`.

A page has a line `<!-- made: NAME -->` where a table goes, which ends with `<!-- /made -->`. `--check` writes nothing and
exits 1 where a page is not what it would be.
"""

import json
import re
import sys
from collections.abc import Callable, Iterable
from pathlib import Path

import typer

from .core.export.registry import exporters
from .core.looks.registry import by_category
from .core.readings.registry import readings
from .settings import ROOT

_DOCS = ROOT / "docs"
_KEYS = ROOT / "frontend" / "src" / "common" / "keys.json"
_BLOCK = re.compile(r"(<!-- made: (\w+) -->\n).*?(<!-- /made -->)", re.DOTALL)


def _table(head: Iterable[str], rows: Iterable[Iterable[str]]) -> str:
    titles = list(head)
    lines = [titles, ["---"] * len(titles), *([cell.replace("|", "\\|") for cell in row] for row in rows)]
    return "".join(f"| {' | '.join(line)} |\n" for line in lines)


def _range(values: tuple[float, float]) -> str:
    return f"{values[0]:g} to {values[1]:g}"


def _looks() -> str:
    rows = (
        (look.title, f"`{look.name}`", look.category, ", ".join(look.kinds), _range(look.strengths), look.description)
        for look in by_category()
    )
    return _table(("look", "name", "category", "made for, best first", "usual strengths", ""), rows)


def _readings() -> str:
    return _table(("figure", "says", "parts"), ((k.title, k.says, ", ".join(k.part_names)) for k in readings()))


def _exports() -> str:
    return _table(
        ("form", "", "file"), ((f"`{e.name}`", f"{e.title}: {e.says}", e.media) for e in exporters().values())
    )


def _keys() -> str:
    places = json.loads(_KEYS.read_text(encoding="utf-8"))
    return "\n".join(
        f"**{p['place']}**\n\n{_table(('key', ''), ((f'`{k}`', w) for k, w in p['keys']))}" for p in places
    )


def _commands() -> str:
    from .cli import app

    group = typer.main.get_command(app)
    rows = []
    for name, command in group.commands.items():  # type: ignore[attr-defined]
        told = [p.name.upper() if p.param_type_name == "argument" else max(p.opts, key=len) for p in command.params]
        rows.append((f"`{name}`", command.get_short_help_str(200), " ".join(f"`{word}`" for word in told)))
    return _table(("command", "", "given"), rows)


MADE: dict[str, Callable[[], str]] = {
    "looks": _looks, "readings": _readings, "exports": _exports, "keys": _keys, "commands": _commands,
}  # fmt: skip


def filled(page: str) -> str:
    """A page with its tables as they are now."""
    return _BLOCK.sub(lambda found: f"{found[1]}{MADE[found[2]]()}{found[3]}", page)


def outdated() -> dict[Path, str]:
    """Pages of the docs that are not as they would be made, with what they would be."""
    pages = {path: path.read_text(encoding="utf-8") for path in sorted(_DOCS.glob("*.md"))}
    return {path: now for path, before in pages.items() if (now := filled(before)) != before}


def main() -> int:
    found = outdated()
    for path, text in found.items():
        if "--check" not in sys.argv:
            path.write_text(text, encoding="utf-8")
        print(path.relative_to(ROOT))
    return 1 if found and "--check" in sys.argv else 0


if __name__ == "__main__":
    sys.exit(main())
