"""Arrows point one way, and what is generated is current."""

import ast
import json
import re
import unittest
from pathlib import Path
from typing import Any

import typer
import yaml

from warmtide.cli import app as cli
from warmtide.core.model.recipe import HOLDS, Recipe
from warmtide.web.schema import about_schema, program, recipe_schema, written

ROOT = Path(__file__).resolve().parent.parent
# A part may import from itself and from those listed.
ALLOWED = {
    "core": set(),
    "records": {"core"},
    "engines": {"core"},
    "work": {"core", "engines", "records", "settings", "log"},
    "web": {"core", "engines", "records", "work", "settings", "log"},
    "launch": {"core", "records", "settings"},
}
FRONT = ROOT / "frontend" / "src"
# Its floors: a folder imports from itself and from those listed.
BELOW = {
    "primitives": {"api"},
    "api": {"primitives"},
    "common": {"api", "primitives"},
    "ui": {"api", "primitives", "common"},
    "study": {"api", "primitives", "common", "ui"},
    "features": {"api", "primitives", "common", "ui", "study"},
}
# Modules of the built-in engine that others may use; its samplers, noise, painters and the rest are its own.
DOORS = {"draft", "hold_map", "plan", "region", "restyle", "scenery", "seen", "source", "staging"}
# The floors of the core from the ground up: a folder imports from itself and from those before it.
FLOORS = (
    "maths", "model", "pictures", "understanding", "scenes", "looks/shared", "looks", "words", "engine", "readings",
    "lineage", "layers", "finish", "export", "job",
)  # fmt: skip
# In `looks`, what finds and joins them; every other folder there is a family, which imports from no other.
ABOVE_FAMILIES = ("registry", "mixed")


def imported(path: Path) -> set[str]:
    """Parts of warmtide that a module imports."""
    return {parts[1] for parts in modules_imported(path) if len(parts) > 1}


def floor_of(parts: tuple[str, ...]) -> int:
    """The floor of a module of the core by its path below it."""
    folder = "/".join(parts[:2])
    return FLOORS.index(folder if folder in FLOORS else parts[0])


def family_of(parts: tuple[str, ...]) -> str | None:
    """The family of looks that a module of the core belongs to."""
    return parts[1] if parts[0] == "looks" and len(parts) > 1 and parts[1] not in (*ABOVE_FAMILIES, "shared") else None


def modules_imported(path: Path) -> set[tuple[str, ...]]:
    """What a module imports of warmtide, by its parts, a name at the end."""
    package = path.relative_to(ROOT).parts[:-1]
    found = set()
    for node in ast.walk(ast.parse(path.read_text())):
        names: list[str] = []
        if isinstance(node, ast.Import):
            names = [alias.name for alias in node.names]
        elif isinstance(node, ast.ImportFrom):
            base = list(package[: len(package) - node.level + 1]) if node.level else []
            whole = [*base, *(node.module or "").split(".")] if node.module else base
            names = [".".join([*whole, alias.name]) for alias in node.names]
        for name in names:
            parts = tuple(name.split("."))
            if parts[0] == "warmtide":
                found.add(parts)
    return found


def cli_command(name: str) -> Any:
    """A command of the command line, with its parameters."""
    return typer.main.get_command(cli).commands[name]  # type: ignore[attr-defined]


class Arrows(unittest.TestCase):
    def test_parts_import_only_what_lies_below(self) -> None:
        for part, allowed in ALLOWED.items():
            for path in (ROOT / "warmtide" / part).rglob("*.py"):
                extra = imported(path) - allowed - {part, "__version__"}
                self.assertFalse(extra, f"{path.relative_to(ROOT)} imports {extra}")

    def test_every_floor_of_the_core_stands_on_those_below(self) -> None:
        core = ROOT / "warmtide" / "core"
        self.assertEqual({p.name for p in core.iterdir() if any(p.glob("*.py"))}, {f.split("/")[0] for f in FLOORS})
        for path in core.rglob("*.py"):
            here = path.relative_to(core).with_suffix("").parts
            if here == ("__init__",):
                continue
            for parts in modules_imported(path):
                there = parts[2:]
                if parts[:2] != ("warmtide", "core") or not there:
                    continue
                self.assertLessEqual(floor_of(there), floor_of(here), f"{'/'.join(here)} imports {'.'.join(there)}")
                if family_of(here) and family_of(there):
                    self.assertEqual(family_of(here), family_of(there), f"{'/'.join(here)} imports {'.'.join(there)}")

    def test_the_engine_is_given_its_look(self) -> None:
        for path in (ROOT / "warmtide" / "core" / "engine").rglob("*.py"):
            registries = {parts for parts in modules_imported(path) if "registry" in parts and "looks" in parts}
            self.assertFalse(registries, path)

    def test_the_core_knows_no_web_and_no_database(self) -> None:
        for path in (ROOT / "warmtide" / "core").rglob("*.py"):
            text = path.read_text()
            for name in ("fastapi", "sqlalchemy", "procrastinate", "psycopg", "starlette"):
                self.assertNotIn(f"import {name}", text, path)
                self.assertNotIn(f"from {name}", text, path)

    def test_files_are_short(self) -> None:
        for folder, pattern in (("warmtide", "*.py"), ("frontend/src", "*.ts*")):
            for path in (ROOT / folder).rglob(pattern):
                if not path.name.endswith(".gen.ts"):
                    self.assertLessEqual(path.read_text().count("\n"), 400, path)

    def test_functions_are_short_or_say_why_not(self) -> None:
        for path in (ROOT / "warmtide").rglob("*.py"):
            # Steps from one database to the next are written once.
            if "migrations" in path.parts:
                continue
            lines = path.read_text().splitlines()
            for node in ast.walk(ast.parse("\n".join(lines))):
                if not isinstance(node, (ast.FunctionDef, ast.AsyncFunctionDef)) or not node.end_lineno:
                    continue
                first = min([node.lineno, *(decorator.lineno for decorator in node.decorator_list)])
                if node.end_lineno - node.lineno >= 60:
                    self.assertTrue(lines[first - 2].startswith("# Long: "), f"{path}:{node.lineno} {node.name}")


class FrontEnd(unittest.TestCase):
    """Of the front end: what a folder imports of others, read from its files."""

    def imports(self, path: Path) -> set[tuple[str, ...]]:
        """Files that a file imports, as their parts below the source."""
        found = re.findall(r'(?:from|import\()\s*"(\.[^"]+)"', path.read_text())
        return {(path.parent / name).resolve().relative_to(FRONT).parts for name in found}

    def files(self, folder: str) -> list[Path]:
        return [path for path in (FRONT / folder).rglob("*.ts*") if ".test." not in path.name]

    def test_floors_import_only_what_lies_below(self) -> None:
        for floor, below in BELOW.items():
            for path in self.files(floor):
                there = {parts[0] for parts in self.imports(path)} - {floor}
                self.assertLessEqual(there, below, path.relative_to(FRONT))

    def test_no_two_features_need_each_other(self) -> None:
        needs: dict[str, set[str]] = {}
        for path in self.files("features"):
            own = path.relative_to(FRONT).parts[1]
            others = {parts[1] for parts in self.imports(path) if parts[0] == "features"} - {own}
            needs.setdefault(own, set()).update(others)
        while needs:
            free = {name for name, others in needs.items() if not others & needs.keys()}
            self.assertTrue(free, f"round in a circle: {needs}")
            needs = {name: others for name, others in needs.items() if name not in free}

    def test_nothing_outside_the_engine_reaches_into_it(self) -> None:
        engine = ROOT / "warmtide" / "core" / "engine"
        inside = {path.stem for path in engine.glob("*.py")} - DOORS - {"__init__"}
        self.assertLessEqual({"samplers", "noise", "schedule", "painted"}, inside)
        for path in (ROOT / "warmtide").rglob("*.py"):
            if path.parent == engine:
                continue
            reached = {
                parts[3]
                for parts in modules_imported(path)
                if parts[:3] == ("warmtide", "core", "engine") and len(parts) > 3
            }
            self.assertFalse(reached & inside, path.relative_to(ROOT))
            if path.name != "built_in.py":
                self.assertNotIn(
                    "plan", reached, f"{path.relative_to(ROOT)}: what a take needs is the engine's own to check"
                )


class Generated(unittest.TestCase):
    def test_the_recipe_schema_in_docs_is_the_recipe(self) -> None:
        kept = json.loads((ROOT / "docs" / "recipe.schema.json").read_text())
        message = "run: python -m warmtide.web.schema recipe > docs/recipe.schema.json"
        self.assertEqual(kept, json.loads(written(recipe_schema())), message)
        self.assertEqual(set(kept["properties"]), set(Recipe.model_fields))
        self.assertTrue(all("description" in field or "$ref" in field for field in kept["properties"].values()))

    def test_the_schema_of_engines_in_docs_is_what_is_read(self) -> None:
        kept = json.loads((ROOT / "docs" / "engine-about.schema.json").read_text())
        message = "run: python -m warmtide.web.schema about > docs/engine-about.schema.json"
        self.assertEqual(kept, json.loads(written(about_schema())), message)

    def test_controls_and_resamplings_of_the_interface_are_the_programs(self) -> None:
        kept = json.loads((ROOT / "frontend" / "src" / "api" / "program.gen.json").read_text())
        message = "run: python -m warmtide.web.schema program > frontend/src/api/program.gen.json"
        self.assertEqual(kept, json.loads(written(program())), message)
        amounts = {*Recipe.model_fields, *HOLDS}
        self.assertLessEqual({control["control"] for control in kept["controls"]}, amounts)
        self.assertEqual({c["control"] for c in kept["controls"]} & set(HOLDS), set(HOLDS))

    def test_the_description_of_the_http_interface_is_current(self) -> None:
        from warmtide.web.app import create_app

        kept = json.loads((ROOT / "frontend" / "openapi.json").read_text())
        message = "run: python -m warmtide.web.schema > frontend/openapi.json, then npm run types"
        self.assertEqual(json.loads(json.dumps(create_app().openapi())), kept, message)

    def test_tables_of_the_docs_are_as_the_code_would_make_them(self) -> None:
        from warmtide.reference import MADE, outdated

        pages = "".join(path.read_text() for path in (ROOT / "docs").glob("*.md"))
        self.assertEqual({name for name in MADE if f"<!-- made: {name} -->" in pages}, set(MADE))
        self.assertEqual([path.name for path in outdated()], [], "run: python -m warmtide.reference")


class Containers(unittest.TestCase):
    def test_the_files_for_containers_can_be_read_and_use_options_that_there_are(self) -> None:
        services = yaml.safe_load((ROOT / "compose.yaml").read_text())["services"]
        texts = {"server": "serve", "worker": "worker"}
        for name, command in texts.items():
            said = services[name]["command"]
            self.assertEqual(said[0], command)
            known = {option for parameter in cli_command(command).params for option in parameter.opts}
            self.assertLessEqual({word for word in said if word.startswith("--")}, known)
        lines = (ROOT / "Containerfile").read_text().splitlines()
        words = {line.split()[0] for line in lines if line and not line.startswith(("#", " "))}
        self.assertEqual(words, {"FROM", "RUN", "WORKDIR", "COPY", "EXPOSE", "ENTRYPOINT", "CMD"})
