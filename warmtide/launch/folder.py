"""A data folder: used by one Warm Tide at a time, which knows what an earlier one has left running there."""

import contextlib
import errno
import fcntl
import json
import os
import shutil
import signal
import time
from collections.abc import Callable
from pathlib import Path
from typing import IO

from .refusal import Refusal

_LEAVE_SECONDS = 6.0
# Below this nothing can be begun: a database writes 16 MB at a time.
_ROOM = 64_000_000


def started(pid: int) -> str | None:
    """When a process that still runs began, in the system's own count: a number that is used again has another."""
    try:
        fields = Path(f"/proc/{pid}/stat").read_text().rpartition(")")[2].split()
        return None if fields[0] in "ZX" else fields[19]
    except (OSError, IndexError):
        return None


class DataFolder:
    """A folder that is locked while it is used.

    Raises
    ------
    Refusal : it can't be made or written, its disk is full, or another Warm Tide uses it.
    """

    def __init__(self, path: Path) -> None:
        self.path = path.resolve()
        self._lock: IO[str] | None = None
        try:
            self.path.mkdir(parents=True, exist_ok=True)
            self._take_lock()
        except FileExistsError:
            raise Refusal(f"{self.path} is a file; give a folder with --data.") from None
        except NotADirectoryError:
            raise Refusal(f"{self.path} lies in a file; give a folder with --data.") from None
        except OSError as error:
            if error.errno == errno.ENOSPC:
                raise Refusal(_full(self.path)) from None
            raise Refusal(
                f"{self.path} can't be written ({error.strerror}); give another folder with --data."
            ) from None
        if shutil.disk_usage(self.path).free < _ROOM:
            raise Refusal(_full(self.path))

    def _take_lock(self) -> None:
        lock = (self.path / "lock").open("a+")
        try:
            fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError:
            lock.seek(0)
            who = lock.read().strip()
            lock.close()
            raise Refusal(
                f"Another Warm Tide{f' ({who})' if who else ''} is using {self.path}; stop it or give another --data."
            ) from None
        self._lock = lock

    def say(self, who: str) -> None:
        """What others are told who want this folder too."""
        assert self._lock is not None
        self._lock.seek(0)
        self._lock.truncate()
        self._lock.write(who)
        self._lock.flush()

    def note(self, database: int | None, others: list[int]) -> None:
        """Remember which processes are ours, for a start after one that could not end them."""
        pids = {"database": [database] if database is not None else [], "others": others}
        known = {kind: {str(pid): began for pid in own if (began := started(pid))} for kind, own in pids.items()}
        part = self.path / "processes.json.part"
        with contextlib.suppress(OSError):
            part.write_text(json.dumps(known))
            part.replace(self.path / "processes.json")

    def end_leftovers(self, say: Callable[[str], None]) -> None:
        """End what an earlier Warm Tide of this folder left running: it was killed, so nobody watches it."""
        try:
            said = json.loads((self.path / "processes.json").read_text())
            known = {
                kind: {int(pid): str(began) for pid, began in said[kind].items()} for kind in ("others", "database")
            }
        except (OSError, ValueError, AttributeError, KeyError, TypeError):
            return
        left = {kind: [pid for pid, began in own.items() if started(pid) == began] for kind, own in known.items()}
        if not any(left.values()):
            return
        say("Ending what an earlier Warm Tide left running ...")
        # Nothing is lost of what a worker or the server is cut off in; the database takes an interrupt for a quick and
        # clean stop.
        _end(left["others"], known["others"], ((signal.SIGTERM, 1.0), (signal.SIGKILL, 2.0)))
        _end(left["database"], known["database"], ((signal.SIGINT, _LEAVE_SECONDS), (signal.SIGQUIT, 2.0)))

    def close(self) -> None:
        if self._lock is not None:
            with contextlib.suppress(OSError):
                self._lock.truncate(0)
            self._lock.close()
            self._lock = None


def _end(pids: list[int], began: dict[int, str], ways: tuple[tuple[signal.Signals, float], ...]) -> None:
    """Send processes one signal after another, each with the seconds that they have to follow it."""
    for number, seconds in ways:
        for pid in pids:
            with contextlib.suppress(ProcessLookupError):
                os.kill(pid, number)
        deadline = time.monotonic() + seconds
        while pids and time.monotonic() < deadline:
            pids = [pid for pid in pids if started(pid) == began[pid]]
            time.sleep(0.02)


def _full(path: Path) -> str:
    free = shutil.disk_usage(path if path.exists() else path.parent).free
    return f"The disk that holds {path} is full ({free / 1e6:.0f} MB free, {_ROOM / 1e6:.0f} are needed); make room and start again."
