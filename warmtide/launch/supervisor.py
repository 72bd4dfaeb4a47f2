"""Keeps the server and the workers running until it is told to stop."""

import os
import signal
import socket
import subprocess
import sys
import time
from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path
from types import FrameType

import httpx
import psycopg

from ..settings import ROOT
from .postgres import Postgres

_TICK = 0.25
_STOP_SECONDS = 8.0
_QUICK_DEATH = 5.0


@dataclass
class Child:
    """A process that is started again when it dies."""

    name: str
    command: list[str]
    environment: dict[str, str]
    process: subprocess.Popen[bytes] | None = None
    began: float = 0.0
    wait_until: float = field(default=0.0)

    def start(self) -> None:
        self.began = time.monotonic()
        self.process = subprocess.Popen(
            self.command, env=self.environment, cwd=ROOT, start_new_session=True, stdin=subprocess.DEVNULL
        )

    def tend(self) -> None:
        """Start it again when it died; one that dies at once is given time."""
        if self.process is not None and self.process.poll() is None:
            return
        now = time.monotonic()
        if self.process is not None:
            print(f"The {self.name} ended with {self.process.returncode}; starting it again.", file=sys.stderr)
            self.wait_until = now + 2.0 if now - self.began < _QUICK_DEATH else now
            self.process = None
        if now >= self.wait_until:
            self.start()

    def stop(self) -> None:
        if self.process is not None and self.process.poll() is None:
            self.process.terminate()

    def end(self, deadline: float) -> None:
        if self.process is None:
            return
        try:
            self.process.wait(max(deadline - time.monotonic(), 0.1))
        except subprocess.TimeoutExpired:
            self.process.kill()
            self.process.wait()


def _port_is_taken(host: str, port: int) -> bool:
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind((host, port))
        except OSError:
            return True
    return False


def launch(host: str, port: int, data: Path | None, workers: int | None, prepare: bool = False) -> int:
    """Run everything until Ctrl-C or a termination signal; exit code.

    `prepare` makes the database and the demo study, and ends there.
    """
    folder = (data or ROOT / ".data").resolve()
    count = workers if workers is not None else os.cpu_count() or 1
    if not prepare and _port_is_taken(host, port):
        print(f"Port {port} is in use; stop what uses it or choose another with --port.", file=sys.stderr)
        return 2
    stopping = False

    def ask(_signal: int, _frame: FrameType | None) -> None:
        nonlocal stopping
        stopping = True

    signal.signal(signal.SIGTERM, ask)
    signal.signal(signal.SIGINT, ask)
    postgres = Postgres(folder)
    children: list[Child] = []
    try:
        address = postgres.start()
        os.environ["WARMTIDE_DATABASE"] = address
        os.environ["WARMTIDE_STORE"] = os.environ.get("WARMTIDE_STORE", str(folder / "images"))
        if host not in ("127.0.0.1", "localhost"):
            os.environ.setdefault("WARMTIDE_HOSTS", "*" if host == "0.0.0.0" else f"{host},127.0.0.1,localhost")
        run = [sys.executable, "-m"]
        if not _is_current(address):
            from ..records.migrate import migrate

            migrate(address)
        loaded = folder / "demo-loaded"
        if not loaded.exists():
            # Once: an artist who deletes the demo study does not want it back.
            subprocess.run([*run, "demo.load"], cwd=ROOT, check=True)
            loaded.touch()
        if prepare:
            return 0
        environment = {**os.environ, "WARMTIDE_WORKERS": str(count)}
        server = [
            *run, "uvicorn", "warmtide.web.app:create_app", "--factory", "--host", host, "--port", str(port),
            "--timeout-graceful-shutdown", "2", "--log-level", "warning", "--no-server-header",
        ]  # fmt: skip
        children = [Child("server", server, environment)]
        children += [Child(f"worker {i + 1}", [*run, "warmtide", "worker"], environment) for i in range(count)]
        for child in children:
            child.start()
        if not _ready(host, port, lambda: stopping):
            print("The server did not start; its messages stand above.", file=sys.stderr)
            return 1
        print(f"Warm Tide is ready: http://{'127.0.0.1' if host == '0.0.0.0' else host}:{port}", flush=True)
        while not stopping:
            time.sleep(_TICK)
            for child in children:
                if not stopping:
                    child.tend()
    except RuntimeError as error:
        print(str(error), file=sys.stderr)
        return 1
    finally:
        for child in children:
            child.stop()
        deadline = time.monotonic() + _STOP_SECONDS
        for child in children:
            child.end(deadline)
        postgres.stop()
    return 0


def _is_current(address: str) -> bool:
    """Whether the newest migration has run; asked directly, since loading the migration tool takes a second."""
    versions = ROOT / "warmtide" / "records" / "migrations" / "versions"
    newest = max(path.name.split("_")[0] for path in versions.glob("[0-9]*_*.py"))
    with psycopg.connect(address) as connection:
        table = connection.execute("select to_regclass('alembic_version')").fetchone()
        if not table or table[0] is None:
            return False
        row = connection.execute("select version_num from alembic_version").fetchone()
        return row is not None and row[0] == newest


def _ready(host: str, port: int, stopping: Callable[[], bool]) -> bool:
    deadline = time.monotonic() + 40
    where = "127.0.0.1" if host == "0.0.0.0" else host
    while time.monotonic() < deadline and not stopping():
        try:
            if httpx.get(f"http://{where}:{port}/api/health", timeout=2).status_code == 200:
                return True
        except httpx.HTTPError:
            time.sleep(0.1)
    return False
