"""Write descriptions of what goes over the wire and into files.

`python -m warmtide.web.schema > frontend/openapi.json`, `python -m warmtide.web.schema recipe > docs/recipe.schema.json`
"""

import json
import sys
from typing import Any

from ..core.model.recipe import Recipe
from .app import create_app


def recipe_schema() -> dict[str, Any]:
    """JSON Schema of a recipe, as copied from a take and pasted into a band."""
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", **Recipe.model_json_schema()}


def written(schema: dict[str, Any]) -> str:
    return json.dumps(schema, indent=1, sort_keys=True)


if __name__ == "__main__":
    print(written(recipe_schema() if "recipe" in sys.argv[1:] else create_app().openapi()))
