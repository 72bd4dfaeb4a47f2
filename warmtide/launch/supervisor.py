"""Keeps the server and the workers running until it is told to stop."""

import os
import signal
import socket
import subprocess
import sys
import time
import urllib.error
import urllib.request
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from types import FrameType

from .postgres import Postgres

ROOT = Path(__file__).resolve().parent.parent.parent
_TICK = 0.25
_STOP_SECONDS = 8.0
_QUICK_DEATH = 5.0
_START_SECONDS = 60.0


@dataclass
class Child:
    """A process that is started again when it dies."""

    name: str
    command: list[str]
    environment: dict[str, str]
    process: subprocess.Popen[bytes] | None = None
    began: float = 0.0
    wait_until: float = 0.0

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


def _server(host: str, port: int) -> list[str]:
    return [
        sys.executable, "-m", "uvicorn", "warmtide.web.app:create_app", "--factory", "--host", host,
        "--port", str(port), "--timeout-graceful-shutdown", "2", "--log-level", "warning", "--no-server-header",
    ]  # fmt: skip


def _bring_up_to_date(address: str, folder: Path) -> None:
    """Newest tables, and once the demo study: an artist who deletes it does not want it back."""
    from ..records.current import is_current

    if not is_current(address):
        from ..records.migrate import migrate

        migrate(address)
    loaded = folder / "demo-loaded"
    if not loaded.exists():
        print("Rendering the demo studies, once ...", file=sys.stderr, flush=True)
        subprocess.run([sys.executable, "-m", "demo.load"], cwd=ROOT, check=True)
        loaded.touch()


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
    run = [sys.executable, "-m"]
    try:
        known = postgres.is_made()
        if not known:
            postgres.make()
        environment = _environment(host, postgres.address, folder, count)
        os.environ.update(environment)
        if not prepare:
            children = [Child("server", _server(host, port), environment)]
            if known:
                # Loading takes the server seconds; it waits by itself until the database is there.
                children[0].start()
        postgres.start()
        _bring_up_to_date(postgres.address, folder)
        if prepare:
            return 0
        if not known:
            children[0].start()
        if not _ready(host, port, lambda: stopping or children[0].process is None):
            if not stopping:
                print("The server did not start; its messages stand above.", file=sys.stderr)
            return 0 if stopping else 1
        print(f"Warm Tide is ready: http://{_here(host)}:{port}", flush=True)
        children += [Child(f"worker {i + 1}", [*run, "warmtide", "worker"], environment) for i in range(count)]
        while not stopping:
            for child in children:
                child.tend()
            time.sleep(_TICK)
    except (RuntimeError, subprocess.CalledProcessError) as error:
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


def _environment(host: str, address: str, folder: Path, workers: int) -> dict[str, str]:
    given = dict(os.environ)
    given["WARMTIDE_DATABASE"] = address
    given.setdefault("WARMTIDE_STORE", str(folder / "images"))
    given["WARMTIDE_WORKERS"] = str(workers)
    # One arena: takes run in changing threads, and each would keep memory of its own.
    given.setdefault("MALLOC_ARENA_MAX", "1")
    if host not in ("127.0.0.1", "localhost"):
        given.setdefault("WARMTIDE_HOSTS", "*" if host == "0.0.0.0" else f"{host},127.0.0.1,localhost")
    return given


def _here(host: str) -> str:
    return "127.0.0.1" if host == "0.0.0.0" else host


def _ready(host: str, port: int, given_up: Callable[[], bool]) -> bool:
    deadline = time.monotonic() + _START_SECONDS
    # A proxy of the environment must not stand between us and ourselves.
    direct = urllib.request.build_opener(urllib.request.ProxyHandler({}))
    while time.monotonic() < deadline and not given_up():
        try:
            with direct.open(f"http://{_here(host)}:{port}/api/health", timeout=2) as answer:
                if answer.status == 200:
                    return True
        except (urllib.error.URLError, OSError):
            time.sleep(0.05)
    return False
