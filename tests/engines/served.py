"""Engines for tests, each served on a port of its own."""

import contextlib
import threading
import time
from collections.abc import Iterator
from pathlib import Path

import uvicorn
from fastapi import FastAPI

from warmtide.engines.line import Address
from warmtide.engines.stand_in.app import Manner, create
from warmtide.launch.postgres import free_port

_BEGUN_WITHIN = 20.0


@contextlib.contextmanager
def served(app: FastAPI, port: int | None = None) -> Iterator[str]:
    """An application on a port of this machine, by its address, as long as the block runs."""
    port = port or free_port()
    server = uvicorn.Server(uvicorn.Config(app, port=port, log_level="critical", timeout_graceful_shutdown=1))
    thread = threading.Thread(target=server.run, daemon=True)
    thread.start()
    deadline = time.monotonic() + _BEGUN_WITHIN
    while not server.started and time.monotonic() < deadline:
        time.sleep(0.01)
    try:
        yield f"http://127.0.0.1:{port}"
    finally:
        server.should_exit = True
        thread.join(5)


@contextlib.contextmanager
def stand_in(token_file: Path | None = None, port: int | None = None, **manner: object) -> Iterator[Address]:
    """The simulated engine, quick if nothing else is said."""
    token = token_file.read_text().strip() if token_file else None
    app = create(Manner(**{"delay": 0.05, "token": token, **manner}))  # type: ignore[arg-type]
    with served(app, port) as url:
        yield Address(url, token_file)
