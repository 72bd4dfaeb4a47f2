"""The interface's own files: packed once when they are built, kept by browsers for good, since their names are hashes."""

from pathlib import Path

from starlette.datastructures import Headers
from starlette.responses import Response
from starlette.staticfiles import StaticFiles
from starlette.types import Scope

PACKED = ".gz"
FOREVER = "public, max-age=31536000, immutable"


class Assets(StaticFiles):
    """Files of a folder; where a packed copy lies beside one, browsers that take it get that."""

    def __init__(self, folder: Path) -> None:
        super().__init__(directory=folder)

    async def get_response(self, path: str, scope: Scope) -> Response:
        packed, _ = self.lookup_path(path + PACKED)
        plain, _ = self.lookup_path(path)
        takes = "gzip" in Headers(scope=scope).get("accept-encoding", "")
        response = await super().get_response(path + PACKED if packed and plain and takes else path, scope)
        response.headers.update({"Cache-Control": FOREVER, "Vary": "Accept-Encoding"})
        if packed and plain and takes:
            response.headers["Content-Encoding"] = "gzip"
        return response
