"""What is left of a database server whose first process was killed.

Its other processes end by themselves, but one that waits for a lock which a dead one held waits for ever, and keeps the
memory by which the next server sees that somebody else uses its folder. A server never tidies this up by itself.
"""

import contextlib
import os
import signal
import time
from pathlib import Path

_GONE = " (deleted)"
# A killed process gives its memory back before it goes: some hundred milliseconds on a busy machine.
_GONE_WITHIN_SECONDS = 2.0
_LOOK_AGAIN_SECONDS = 0.01


def _works_in(process: Path) -> str:
    """The folder that a process works in; empty for one that is gone or not ours to ask."""
    try:
        return os.readlink(process / "cwd").removesuffix(_GONE)
    except OSError:
        return ""


def _parent(process: Path) -> int:
    try:
        return int((process / "stat").read_text().rpartition(")")[2].split()[1])
    except (OSError, IndexError, ValueError):
        return 0


def orphans_in(folder: Path) -> list[int]:
    """Numbers of the processes of a server on that folder (its cluster's) whose first process is gone."""
    there = {int(path.name): path for path in Path("/proc").glob("[0-9]*") if _works_in(path) == str(folder)}
    found = []
    for pid, path in there.items():
        with contextlib.suppress(OSError):
            named = (path / "cmdline").read_bytes()
            if named.startswith(b"postgres: ") and _parent(path) not in there:
                found.append(pid)
    return found


def end_orphans(folder: Path) -> int:
    """End them, wait until they are gone, and say how many they were.

    A server that still has its first process is left alone.
    """
    ended: set[int] = set()
    deadline = time.monotonic() + _GONE_WITHIN_SECONDS
    while found := orphans_in(folder):
        ended.update(found)
        for pid in found:
            with contextlib.suppress(OSError):
                os.kill(pid, signal.SIGKILL)
        if time.monotonic() > deadline:
            break
        time.sleep(_LOOK_AGAIN_SECONDS)
    return len(ended)
