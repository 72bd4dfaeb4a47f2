"""Arrows point one way, and what is generated is current."""

import ast
import json
import unittest
from pathlib import Path

from warmtide.core.recipe import Recipe
from warmtide.web.schema import recipe_schema, written

ROOT = Path(__file__).resolve().parent.parent
# A part may import from itself and from those listed.
ALLOWED = {
    "core": set(),
    "records": {"core"},
    "work": {"core", "records", "settings", "log"},
    "web": {"core", "records", "work", "settings", "log"},
    "launch": {"records", "settings"},
}


def imported(path: Path) -> set[str]:
    """Parts of warmtide that a module imports."""
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
            parts = name.split(".")
            if parts[0] == "warmtide" and len(parts) > 1:
                found.add(parts[1])
    return found


class Arrows(unittest.TestCase):
    def test_parts_import_only_what_lies_below(self) -> None:
        for part, allowed in ALLOWED.items():
            for path in (ROOT / "warmtide" / part).rglob("*.py"):
                extra = imported(path) - allowed - {part, "__version__"}
                self.assertFalse(extra, f"{path.relative_to(ROOT)} imports {extra}")

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
                    self.assertLess(path.read_text().count("\n"), 440, path)


class Generated(unittest.TestCase):
    def test_the_recipe_schema_in_docs_is_the_recipe(self) -> None:
        kept = json.loads((ROOT / "docs" / "recipe.schema.json").read_text())
        message = "run: python -m warmtide.web.schema recipe > docs/recipe.schema.json"
        self.assertEqual(kept, json.loads(written(recipe_schema())), message)
        self.assertEqual(set(kept["properties"]), set(Recipe.model_fields))
        self.assertTrue(all("description" in field or "$ref" in field for field in kept["properties"].values()))

    def test_the_description_of_the_http_interface_is_current(self) -> None:
        from warmtide.web.app import create_app

        kept = json.loads((ROOT / "frontend" / "openapi.json").read_text())
        message = "run: python -m warmtide.web.schema > frontend/openapi.json, then npm run types"
        self.assertEqual(json.loads(json.dumps(create_app().openapi())), kept, message)
