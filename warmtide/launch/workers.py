"""Workers of a machine that has nothing else: they find the database and the store by their addresses."""

import os
import sys
import time
from dataclasses import dataclass
from pathlib import Path

from ..core.model.errors import BadInput
from .child import Child
from .supervisor import Stop

_MOST = 256
_TICK, _STOP_SECONDS = 0.25, 8.0


@dataclass(frozen=True)
class Crew:
    """So many workers, and, where a file of engines is named, whoever asks those."""

    count: int
    engines: Path | None = None


def tend(crew: Crew) -> int:
    """Keep a crew at work until told to stop; exit code."""
    if not 0 <= crew.count <= _MOST:
        raise BadInput(f"A machine has 0 to {_MOST} workers; {crew.count} is not in that range.")
    stop = Stop()
    environment = dict(os.environ)
    # One arena and one thread of work a process: see the supervisor.
    environment.setdefault("MALLOC_ARENA_MAX", "1")
    environment.setdefault("OPENBLAS_NUM_THREADS", "1")
    own = [sys.executable, "-m"]
    children = [Child(f"worker {k + 1}", [*own, "warmtide", "worker"], environment) for k in range(crew.count)]
    if crew.engines is not None:
        there = environment | {"WARMTIDE_ENGINES": str(crew.engines.resolve())}
        children.append(Child("process for other engines", [*own, "warmtide.work.elsewhere"], there))
    try:
        while not stop.asked:
            for child in children:
                child.tend()
            time.sleep(_TICK)
    finally:
        for child in children:
            child.stop()
        deadline = time.monotonic() + _STOP_SECONDS
        for child in children:
            child.end(deadline)
    return 0
