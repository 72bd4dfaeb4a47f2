"""Write the interface's description: `python -m warmtide.web.schema > frontend/openapi.json`."""

import json

from .app import create_app

if __name__ == "__main__":
    print(json.dumps(create_app().openapi(), indent=1, sort_keys=True))
