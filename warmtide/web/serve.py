"""The server's process: `python -m warmtide.web.serve --host H --port P`."""

import argparse
import asyncio
from typing import Any

import uvicorn
from uvicorn.protocols.http.httptools_impl import HttpToolsProtocol

# A request's first line and headers must be there by then.
HEADERS_SECONDS = 15.0
_BACKLOG = 512


class PunctualProtocol(HttpToolsProtocol):
    """Lets go of a connection whose next request was begun and not told to the end of its headers."""

    _due: asyncio.TimerHandle | None = None

    def connection_made(self, transport: asyncio.Transport) -> None:  # type: ignore[override]
        super().connection_made(transport)
        self._wait_for_headers()

    def data_received(self, data: bytes) -> None:
        if self._due is None and (self.cycle is None or self.cycle.response_complete):
            self._wait_for_headers()
        super().data_received(data)

    def on_headers_complete(self) -> None:
        self._forget()
        super().on_headers_complete()

    def connection_lost(self, exc: Exception | None) -> None:
        self._forget()
        super().connection_lost(exc)

    def _wait_for_headers(self) -> None:
        self._due = self.loop.call_later(HEADERS_SECONDS, self._too_slow)

    def _forget(self) -> None:
        if self._due is not None:
            self._due.cancel()
            self._due = None

    def _too_slow(self) -> None:
        self._due = None
        if self.transport is not None and not self.transport.is_closing():
            self.transport.close()


def main(arguments: list[str] | None = None) -> None:
    given = argparse.ArgumentParser(description=__doc__)
    given.add_argument("--host", required=True)
    given.add_argument("--port", type=int, required=True)
    chosen = given.parse_args(arguments)
    options: dict[str, Any] = {"timeout_graceful_shutdown": 2, "log_level": "warning", "server_header": False}
    uvicorn.run(
        "warmtide.web.app:create_app", factory=True, host=chosen.host, port=chosen.port, http=PunctualProtocol,
        backlog=_BACKLOG, **options,
    )  # fmt: skip


if __name__ == "__main__":
    main()
