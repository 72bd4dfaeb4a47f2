"""Keeps the database, the server and the workers running until it is told to stop."""

import os
import signal
import subprocess
import sys
import time
import urllib.error
import urllib.request
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from types import FrameType

from . import address
from .child import ROOT, Child, say
from .elsewhere import Elsewhere
from .folder import DataFolder
from .postgres import Postgres
from .refusal import Refusal

_TICK = 0.25
_STOP_SECONDS = 8.0
_START_SECONDS = 60.0
# Processes that work behind everybody's back, and the least of a machine that they share.
_BEHIND = 2
_MODULE = [sys.executable, "-m"]


@dataclass(frozen=True)
class Launch:
    """What is to be started. `workers`: one a core if None. `prepare`: set everything up and end there. `database`: one that runs
    already, on this machine or another; None to start one."""

    host: str = "127.0.0.1"
    port: int = 8765
    data: Path | None = None
    workers: int | None = None
    prepare: bool = False
    database: str | None = None


class Stop:
    """Whether somebody wants us to end: Ctrl-C, a termination signal, or a terminal that was closed."""

    def __init__(self) -> None:
        self.asked = False
        for number in (signal.SIGTERM, signal.SIGINT, signal.SIGHUP):
            signal.signal(number, self._ask)

    def _ask(self, _signal: int, _frame: FrameType | None) -> None:
        self.asked = True


def launch(wanted: Launch) -> int:
    """Run everything until told to stop; exit code."""
    stop = Stop()
    folder: DataFolder | None = None
    try:
        if wanted.workers is not None and wanted.workers < 0:
            raise Refusal(f"{wanted.workers} workers can't be started; give 0 or more with --workers.")
        folder = DataFolder(wanted.data or ROOT / ".data")
        folder.end_leftovers(say)
        if wanted.database is not None and wanted.prepare:
            raise Refusal("--prepare makes a database; with --no-database there is nothing to prepare.")
        if not wanted.prepare:
            address.check(wanted.host, wanted.port)
        return Running(wanted, folder, stop).run()
    except Refusal as error:
        say(str(error))
        return 2
    finally:
        if folder is not None:
            folder.close()


class Running:
    """The processes of one start."""

    def __init__(self, wanted: Launch, folder: DataFolder, stop: Stop) -> None:
        self.wanted, self.folder, self.stop = wanted, folder, stop
        self.count = wanted.workers if wanted.workers is not None else os.cpu_count() or 1
        self.postgres = Postgres(folder.path) if wanted.database is None else Elsewhere(wanted.database)
        self.children: list[Child] = []
        self.noted: list[int | None] = []
        self._elsewhere: Child | None = None

    def run(self) -> int:
        """Start, tend and end them; exit code."""
        try:
            return self._prepare() if self.wanted.prepare else self._serve()
        except subprocess.CalledProcessError as error:
            say(f"A part of the start ended with {error.returncode}; its messages stand above.")
            return 1
        finally:
            self._end()

    def _prepare(self) -> int:
        self._database()
        os.environ.update(self._environment())
        self._finish_planning(self._plan_demo())
        for behind in self._behind(idle=False):
            behind.start()
        while self.children and not all(child.done for child in self.children) and not self.stop.asked:
            self._tend()
        return int(any(child.failures and child.process and child.process.returncode for child in self.children))

    def _serve(self) -> int:
        known = self.postgres.is_made()
        if not known:
            self.postgres.make()
        environment = self._environment()
        os.environ.update(environment)
        server = Child("server", self._server(), environment)
        if known:
            # Loading takes the server a second; it waits by itself until the database is there.
            server.start()
        self.children = [server]
        self._database()
        planning = self._plan_demo()
        if not known:
            server.start()
        self._note()
        if not self._answers(server):
            if not self.stop.asked:
                say("The server did not start; its messages stand above.")
            return 0 if self.stop.asked else 1
        self._finish_planning(planning)
        self._greet()
        self.children += [
            Child(f"worker {i + 1}", [*_MODULE, "warmtide", "worker"], environment) for i in range(self.count)
        ]
        if self.count:
            self._behind(idle=True)
        while not self.stop.asked:
            self._ask_elsewhere()
            self._tend()
        return 0

    def _tend(self) -> None:
        if self.postgres.tend():
            say("The database ended; starting it again.")
        for child in self.children:
            child.tend()
        self._note()
        time.sleep(_TICK)

    def _ask_elsewhere(self) -> None:
        """A process that asks other engines, from when there are any."""
        if self._elsewhere is None and Path(os.environ["WARMTIDE_ENGINES"]).exists():
            environment = self._environment()
            self._elsewhere = Child("process for other engines", [*_MODULE, "warmtide.work.elsewhere"], environment)
            self.children.append(self._elsewhere)

    def _end(self) -> None:
        # Those that end well when told so come first; the database is the last to go.
        for child in reversed(self.children):
            child.stop()
        deadline = time.monotonic() + _STOP_SECONDS
        for child in self.children:
            child.end(deadline)
        self.postgres.stop()

    def _note(self) -> None:
        database, others = self.postgres.pid, [child.pid for child in self.children if child.pid is not None]
        if [database, *others] != self.noted:
            self.noted = [database, *others]
            self.folder.note(database, others)

    def _database(self) -> None:
        """The database runs and has the newest tables."""
        from ..records.current import forget_workers, is_current

        self.postgres.start()
        self._note()
        if not is_current(self.postgres.address):
            from ..records.migrate import migrate

            migrate(self.postgres.address)
        if self.wanted.database is None:
            # Nobody else works with it; those of a database elsewhere may be at work.
            forget_workers(self.postgres.address)

    def _plan_demo(self) -> "subprocess.Popen[bytes] | None":
        """The demo's studies, once: an artist who deletes them does not want them back. Their takes fill in later."""
        if (self.folder.path / "demo-loaded").exists() or self.wanted.database is not None:
            return None
        return subprocess.Popen([*_MODULE, "demo.load"], cwd=ROOT, env=os.environ | self._environment())

    def _finish_planning(self, planning: "subprocess.Popen[bytes] | None") -> None:
        if planning is None:
            return
        if planning.wait() == 0:
            (self.folder.path / "demo-loaded").touch()
        else:
            say("The demo could not be put on the shelf; the next start tries again.")

    def _behind(self, idle: bool) -> list[Child]:
        """Processes that compile and fill in what is missing, and then end."""
        count = min(_BEHIND, os.cpu_count() or 1)
        made = [
            Child(
                f"preparation {k + 1}", [*_MODULE, "warmtide.work.behind", f"{k}/{count}", *(["--give-way"] if idle else [])],
                self._environment(), idle, once=True,
            )
            for k in range(count)
        ]  # fmt: skip
        self.children += made
        return made

    def _environment(self) -> dict[str, str]:
        given = dict(os.environ)
        given["WARMTIDE_DATABASE"] = self.postgres.address
        given.setdefault("WARMTIDE_STORE", str(self.folder.path / "images"))
        given.setdefault("WARMTIDE_ENGINES", str(self.folder.path / "engines.json"))
        given["WARMTIDE_WORKERS"] = str(self.count)
        # One arena: takes run in changing threads, and each would keep memory of its own.
        given.setdefault("MALLOC_ARENA_MAX", "1")
        # One process is one thread of work.
        given.setdefault("OPENBLAS_NUM_THREADS", "1")
        given.setdefault("WARMTIDE_HOSTS", address.names_of(self.wanted.host))
        if not address.is_loopback(self.wanted.host):
            given["WARMTIDE_KEY"] = address.key_in(self.folder.path)[0]
        return given

    def _server(self) -> list[str]:
        return [
            *_MODULE, "warmtide.web.serve", "--host", self.wanted.host, "--port", str(self.wanted.port),
        ]  # fmt: skip

    def _greet(self) -> None:
        """Print the address; for others than this machine with the key, when it is new."""
        host, port = self.wanted.host, self.wanted.port
        url = f"http://{address.here(host)}:{port}"
        if not address.is_loopback(host):
            url = f"http://{address.outward(host)}:{port}"
            key, path = address.key_in(self.folder.path)[0], self.folder.path / "key"
            told = self.folder.path / "key-told"
            if told.exists():
                say(f"Whoever comes in needs the key in {path}.")
            else:
                url += f"/?key={key}"
                told.touch()
        self.folder.say(f"process {os.getpid()}, {url.partition('?')[0].rstrip('/')}")
        print(f"Warm Tide is ready: {url}", flush=True)

    def _answers(self, server: Child) -> bool:
        url = f"http://{address.here(self.wanted.host)}:{self.wanted.port}/api/alive"
        key = self._environment().get("WARMTIDE_KEY", "")
        return _ready(url, key, lambda: self.stop.asked or server.pid is None)


def _ready(url: str, key: str, given_up: Callable[[], bool]) -> bool:
    deadline = time.monotonic() + _START_SECONDS
    # A proxy of the environment must not stand between us and ourselves.
    direct = urllib.request.build_opener(urllib.request.ProxyHandler({}))
    asked = urllib.request.Request(url, headers={"Cookie": f"warmtide={key}"} if key else {})
    while time.monotonic() < deadline and not given_up():
        try:
            with direct.open(asked, timeout=2) as answer:
                if answer.status == 200:
                    return True
        except (urllib.error.URLError, OSError):
            time.sleep(0.03)
    return False
