"""A whole Warm Tide for tests: its own database, server and workers, on free ports, in a folder that goes away."""

import atexit
import os
import shutil
import signal
import subprocess
import sys
import tempfile
import time
from pathlib import Path
from typing import Any

import httpx

from warmtide.launch.postgres import Postgres, free_port

ROOT = Path(__file__).resolve().parent.parent

# Seconds for what a quiet machine does within one: a busy one that compiles its kernels may need minutes, and only
# never is a fault.
PATIENCE = 180


class Stack:
    """`warmtide serve` on a folder of its own, without the demo."""

    def __init__(
        self,
        workers: int = 2,
        folder: Path | None = None,
        host: str = "127.0.0.1",
        environment: dict[str, str] | None = None,
    ) -> None:
        self.folder = folder or Path(tempfile.mkdtemp(prefix="warmtide-test-"))
        os.chmod(self.folder, 0o755)
        (self.folder / "demo-loaded").touch()
        self.port = free_port()
        self.url = f"http://127.0.0.1:{self.port}"
        self.output = self.folder / "output.txt"
        self._command = [
            sys.executable, "-m", "warmtide", "serve", "--data", str(self.folder), "--port", str(self.port), "--host", host,
            "--workers", str(workers),
        ]  # fmt: skip
        self._environment = os.environ | (environment or {})
        self.start_again()
        self.client = httpx.Client(base_url=f"{self.url}/api", timeout=PATIENCE, trust_env=False)

    def start_again(self) -> None:
        """Start it, on the folder and the port that it has, and wait for its address."""
        with self.output.open("wb") as output:
            self.process = subprocess.Popen(
                self._command,
                cwd=ROOT,
                stdout=output,
                stderr=subprocess.STDOUT,
                start_new_session=True,
                env=self._environment,
            )
        deadline = time.monotonic() + PATIENCE
        while "is ready" not in self.said():
            if self.process.poll() is not None or time.monotonic() > deadline:
                raise RuntimeError(f"Warm Tide did not start:\n{self.said()}")
            time.sleep(0.1)

    def settled(self, study: str, sweep: str) -> dict[str, Any]:
        """The sweep, once none of its takes waits or runs."""
        deadline = time.monotonic() + PATIENCE
        while time.monotonic() < deadline:
            sweeps = self.client.get(f"/studies/{study}").json()["sweeps"]
            found: dict[str, Any] = next(s for s in sweeps if s["id"] == sweep)
            if all(take["state"] in ("done", "failed", "stopped") for take in found["takes"]):
                return found
            time.sleep(0.1)
        raise AssertionError(f"the sweep did not finish:\n{self.said()[-3000:]}")

    def said(self) -> str:
        return self.output.read_text() if self.output.exists() else ""

    def stop(self) -> int:
        """Interrupt it as Ctrl-C does; its exit code."""
        if self.process.poll() is None:
            self.process.send_signal(signal.SIGINT)
        code = self.process.wait(PATIENCE)
        self.client.close()
        return code

    def close(self) -> None:
        self.stop()
        shutil.rmtree(self.folder, ignore_errors=True)

    def worker_pids(self) -> list[int]:
        """Process ids of this stack's workers."""
        found = subprocess.run(
            ["pgrep", "-f", "-P", str(self.process.pid), "warmtide worker"], capture_output=True, text=True, check=False
        )
        return [int(line) for line in found.stdout.split()]


_shared: Stack | None = None


def shared_stack() -> Stack:
    """One stack for every test that does not break it."""
    global _shared
    if _shared is None:
        _shared = Stack()
        atexit.register(_shared.close)
    return _shared


_postgres: Postgres | None = None


def database_address() -> str:
    """A fresh, migrated database server shared by the tests of one run."""
    global _postgres
    if _postgres is None:
        from warmtide.records.migrate import migrate

        folder = Path(tempfile.mkdtemp(prefix="warmtide-database-"))
        os.chmod(folder, 0o755)
        _postgres = Postgres(folder, durable=False)
        atexit.register(lambda: (_postgres and _postgres.stop(), shutil.rmtree(folder, ignore_errors=True)))
        migrate(_postgres.start())
    return _postgres.address
