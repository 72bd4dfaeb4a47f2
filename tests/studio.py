"""An installation in parts: a database, a bucket behind a bad line, a server, and workers that know two addresses and nothing else."""

import os
import shutil
import signal
import subprocess
import sys
import tempfile
import time
from collections.abc import Sequence
from pathlib import Path
from types import TracebackType
from typing import Any

import httpx
import psycopg

from tests.bucket import BadLine, Bucket
from tests.pictures import as_file, harbour
from tests.stack import PATIENCE, ROOT
from warmtide.launch.postgres import Postgres, free_port
from warmtide.records.migrate import migrate


class Studio:
    """The parts, begun in turn and ended together. `host` is where others reach them."""

    def __init__(self, host: str = "127.0.0.1", late: float = 0.0, refused: float = 0.0) -> None:
        self.folder = Path(tempfile.mkdtemp(prefix="warmtide-studio-"))
        os.chmod(self.folder, 0o755)
        self._host, self._late, self._refused = host, late, refused
        self._children: list[subprocess.Popen[bytes]] = []

    def __enter__(self) -> "Studio":
        self.postgres = Postgres(self.folder)
        self.postgres.start()
        migrate(self.postgres.address)
        self.bucket = Bucket().__enter__()
        self.line = BadLine(self.bucket.port, self._late, self._refused, at=self._host).__enter__()
        # A database of this machine is reached from others through a port of its own.
        self.database = BadLine(self.postgres.port, 0, 0, at=self._host).__enter__()
        address = self.postgres.address.replace(f"127.0.0.1:{self.postgres.port}", f"{self._host}:{self.database.port}")
        self.places = [
            "--database",
            address,
            "--store",
            "s3://pictures/warm-tide",
            "--store-endpoint",
            self.line.endpoint,
        ]
        self.port = free_port()
        serve = [
            "serve",
            "--no-database",
            "--data",
            str(self.folder / "server"),
            "--port",
            str(self.port),
            "--workers",
            "0",
        ]
        self._begin("server", [*serve, *self.places])
        self.client = httpx.Client(base_url=f"http://127.0.0.1:{self.port}/api", timeout=PATIENCE, trust_env=False)
        self._wait(lambda: self.client.get("/alive").status_code == 200)
        return self

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None
    ) -> None:
        for child in self._children:
            if child.poll() is None:
                child.send_signal(signal.SIGCONT)
                child.terminate()
        for child in self._children:
            child.wait(PATIENCE)
        self.line.__exit__(None, None, None)
        self.database.__exit__(None, None, None)
        self.bucket.__exit__(None, None, None)
        self.postgres.stop()
        shutil.rmtree(self.folder, ignore_errors=True)

    def _begin(self, name: str, command: Sequence[str], before: Sequence[str] = ()) -> subprocess.Popen[bytes]:
        with (self.folder / f"{name}.txt").open("ab") as said:
            child = subprocess.Popen(
                [*before, sys.executable, "-m", "warmtide", *command], cwd=ROOT, stdout=said, stderr=subprocess.STDOUT,
                env=os.environ | Bucket.keys, start_new_session=True,
            )  # fmt: skip
        self._children.append(child)
        return child

    def _wait(self, good: Any) -> None:
        deadline = time.monotonic() + PATIENCE
        while True:
            try:
                if good():
                    return
            except (httpx.HTTPError, psycopg.Error):
                pass
            if time.monotonic() > deadline:
                raise AssertionError("\n".join(p.read_text()[-2000:] for p in self.folder.glob("*.txt")))
            time.sleep(0.1)

    def worker(self, name: str, before: Sequence[str] = ()) -> subprocess.Popen[bytes]:
        """A worker, with what makes it another machine before its command; back when it is ready for takes."""
        here = sum(w["here"] for w in self.machines()["workers"])
        child = self._begin(name, ["worker", *self.places], before)
        self._wait(lambda: sum(w["here"] for w in self.machines()["workers"]) > here)
        return child

    def machines(self) -> dict[str, Any]:
        """What the owner's page says."""
        found: dict[str, Any] = self.client.get("/machines").raise_for_status().json()
        return found

    def restart_database(self) -> None:
        """It is killed, and there again at the same port."""
        port = self.postgres.port
        assert self.postgres.pid is not None
        os.kill(self.postgres.pid, signal.SIGKILL)
        time.sleep(1)
        self.postgres.port = port
        self._wait(lambda: self.postgres.tend() or psycopg.connect(self.postgres.address).close() is None)

    def study(self, seed: int, side: int = 144) -> tuple[str, str]:
        """A new study of a picture: its id and its source's."""
        picture = as_file(harbour(side * 2 // 3, side, seed))
        made = self.client.post("/studies", files={"file": (f"quay {seed}.png", picture, "image/png")})
        study = made.raise_for_status().json()
        return study["id"], study["sources"][0]["id"]

    def sweep(self, source: str, recipe: dict[str, Any], spans: list[dict[str, Any]]) -> str:
        """A sweep begun, by its id."""
        answer = self.client.post("/sweeps", json={"source_id": source, "recipe": recipe, "spans": spans})
        return str(answer.raise_for_status().json()["id"])

    def takes(self, study: str, sweep: str) -> list[dict[str, Any]]:
        """The takes of a sweep as they are; waits while the server waits for its database."""
        deadline = time.monotonic() + PATIENCE
        while True:
            answer = self.client.get(f"/studies/{study}")
            if answer.status_code == 200:
                found: list[dict[str, Any]] = next(s for s in answer.json()["sweeps"] if s["id"] == sweep)["takes"]
                return found
            if time.monotonic() > deadline:
                raise AssertionError(answer.text)
            time.sleep(0.3)

    def until_done(self, study: str, sweep: str, count: int) -> None:
        """Wait until so many takes of a sweep are done."""
        self._wait(lambda: sum(take["state"] == "done" for take in self.takes(study, sweep)) >= count)

    def settled(self, study: str, sweep: str, seconds: float = PATIENCE) -> list[dict[str, Any]]:
        """The takes of a sweep, once none of them waits or runs."""
        deadline = time.monotonic() + seconds
        while True:
            found = self.takes(study, sweep)
            if all(take["state"] in ("done", "failed", "stopped") for take in found):
                return found
            if time.monotonic() > deadline:
                raise AssertionError("\n".join(p.read_text()[-3000:] for p in self.folder.glob("*.txt")))
            time.sleep(0.1)

    def renders(self) -> int:
        """How many takes were rendered, those that were rendered twice twice, by what workers have said."""
        return sum(path.read_text().count('"take done"') for path in self.folder.glob("*.txt"))
