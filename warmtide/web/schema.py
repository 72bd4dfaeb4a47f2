"""Write descriptions of what goes over the wire and into files.

`python -m warmtide.web.schema > frontend/openapi.json`, `python -m warmtide.web.schema recipe > docs/recipe.schema.json`, `... about > docs/engine-about.schema.json`,
`python -m warmtide.web.schema program > frontend/src/api/program.gen.json` (controls and resamplings as people meet them)
"""

import json
import sys
from typing import Any

from ..core.model.controls import CONTROLS, EXPLAINED_TOO
from ..core.model.engine import About
from ..core.model.recipe import Recipe
from ..core.pictures.resampling import RESAMPLINGS
from .app import create_app


def recipe_schema() -> dict[str, Any]:
    """JSON Schema of a recipe, as copied from a take and pasted into a band."""
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", **Recipe.model_json_schema()}


def about_schema() -> dict[str, Any]:
    """JSON Schema of what an engine says of itself."""
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", **About.model_json_schema()}


def program() -> dict[str, Any]:
    """Controls and resamplings: what the interface calls them, and what they do."""
    controls = []
    for control in CONTROLS:
        told = {"control": control.name, "label": control.label, "min": control.low, "max": control.high, "step": control.step,
                "digits": control.digits, "ends": control.ends}  # fmt: skip
        span = control.stretched
        stretched = span and {"from": span.from_, "to": span.to, "count": span.count}
        controls.append({name: value for name, value in {**told, "stretched": stretched}.items() if value is not None})
    explained = {control.name: (control.says, control.samples) for control in CONTROLS if control.says} | EXPLAINED_TOO
    return {
        "controls": controls,
        "explained": {name: {"words": says, "values": values} for name, (says, values) in explained.items()},
        "resamplings": [{"value": name, "title": r.title, "detail": r.says} for name, r in RESAMPLINGS.items()],
    }


def written(schema: dict[str, Any]) -> str:
    return json.dumps(schema, indent=1, sort_keys=True)


if __name__ == "__main__":
    wanted = {"recipe": recipe_schema, "about": about_schema, "program": program}
    print(written(next((wanted[name] for name in sys.argv[1:] if name in wanted), create_app().openapi)()))
