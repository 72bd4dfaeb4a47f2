"""A process that is watched: it ends with us, and is started again when it ends by itself."""

import ctypes
import os
import signal
import subprocess
import sys
import time
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent.parent
_QUICK_DEATH = 5.0
_REST = 1.0
_MOST_FAILURES = 3
# Of Linux' prctl: send this process a signal when its parent is gone.
_PARENT_DEATH = 1
_libc = ctypes.CDLL(None)


def say(message: str) -> None:
    """A line for whoever started us; a terminal that was closed is none of a watcher's worries."""
    try:
        print(message, file=sys.stderr, flush=True)
    except OSError:
        return


def ends_with_us(number: signal.Signals, idle: bool = False) -> Callable[[], None]:
    """What a new process does before it becomes its program: it will be sent a signal when this process is gone, even if
    that was killed; an `idle` one runs only when nothing else wants the processor."""
    parent = os.getpid()

    def begin() -> None:
        _libc.prctl(_PARENT_DEATH, int(number))
        if os.getppid() != parent:
            os._exit(1)
        if idle:
            os.sched_setscheduler(0, os.SCHED_IDLE, os.sched_param(0))

    return begin


@dataclass
class Child:
    """A process that is started again when it dies. One that is to come to an end (`once`) is not, when it ended well, nor
    when it has failed three times. An `idle` one is killed rather than asked to end: it may be waiting for others, and
    nothing is lost of what it does."""

    name: str
    command: list[str]
    environment: dict[str, str]
    idle: bool = False
    once: bool = False
    process: "subprocess.Popen[bytes] | None" = None
    began: float = 0.0
    wait_until: float = 0.0
    done: bool = False
    failures: int = 0

    def start(self) -> None:
        self.began = time.monotonic()
        self.process = subprocess.Popen(
            self.command, env=self.environment, cwd=ROOT, start_new_session=True, stdin=subprocess.DEVNULL,
            preexec_fn=ends_with_us(signal.SIGKILL if self.idle else signal.SIGTERM, self.idle),
        )  # fmt: skip

    @property
    def pid(self) -> int | None:
        """Its number while it runs."""
        return self.process.pid if self.process is not None and self.process.poll() is None else None

    def tend(self) -> None:
        """Start it again when it died; one that dies at once is given time."""
        if self.done or self.pid is not None:
            return
        now = time.monotonic()
        if self.process is not None:
            if self.once and self._is_over(self.process.returncode):
                return
            say(f"The {self.name} ended with {self.process.returncode}; starting it again.")
            self.wait_until = now + _REST if now - self.began < _QUICK_DEATH else now
            self.process = None
        if now >= self.wait_until:
            self.start()

    def _is_over(self, code: int) -> bool:
        """Whether one that comes to an end has: well, or after too many failures."""
        self.failures += code != 0
        self.done = code == 0 or self.failures >= _MOST_FAILURES
        if self.done and code:
            say(f"The {self.name} has ended with {code} again and is given up; its messages stand above.")
        return self.done

    def stop(self) -> None:
        if self.process is not None and self.process.poll() is None:
            self.process.kill() if self.idle else self.process.terminate()

    def end(self, deadline: float) -> None:
        if self.process is None:
            return
        try:
            self.process.wait(max(deadline - time.monotonic(), 0.1))
        except subprocess.TimeoutExpired:
            self.process.kill()
            self.process.wait()
