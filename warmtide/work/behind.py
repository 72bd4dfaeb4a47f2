"""What is done behind everybody's back after a start: takes that fill in, and kernels that are missing.

`python -m warmtide.work.behind K/N [--give-way]` does its share and ends. Beside workers it runs only when nothing else
wants the processor (`launch.child`), and gives way: it stands still while takes are rendered that an artist waits for, which
otherwise took 1.8 times as long.
"""

import asyncio
import sys
import threading
import time

import psycopg

from ..core.maths.jit.machine import compiling_gives_way
from ..log import configure
from ..records.current import wait_until_current
from ..records.queue_tables import has_due, has_waiting
from ..settings import settings
from .queue import LATER, TAKES
from .warm import is_whole, warm

_LOOK_EVERY = 0.1
# Shares of the kernels after which something is said.
_SAID_EVERY = 0.25


class Gate:
    """Shut while takes are rendered that somebody waits for."""

    def __init__(self, address: str) -> None:
        self._address = address
        self._open = threading.Event()
        self._open.set()
        threading.Thread(target=self._watch, daemon=True).start()

    def pass_through(self) -> None:
        """Come back when nobody waits."""
        self._open.wait()

    def _watch(self) -> None:
        while True:
            try:
                with psycopg.connect(self._address, autocommit=True, connect_timeout=5) as connection:
                    while True:
                        self._set(not has_due(connection, TAKES))
                        time.sleep(_LOOK_EVERY)
            except psycopg.Error:
                # Without a database nobody renders anything.
                self._set(True)
                time.sleep(1)

    def _set(self, is_open: bool) -> None:
        if is_open:
            self._open.set()
        else:
            self._open.clear()


class Telling:
    """Says now and then how far the kernels are, and how long they still take."""

    def __init__(self) -> None:
        self._began = time.monotonic()
        self._said = 0.0

    def __call__(self, done: int, total: int) -> None:
        share, spent = done / total, time.monotonic() - self._began
        if share - self._said < _SAID_EVERY and done < total:
            return
        self._said = share
        left = "ready" if done == total else f"about {spent * (1 - share) / share:.0f} s more"
        print(f"Kernels that are compiled behind your work: {100 * share:.0f} %, {left}.", file=sys.stderr, flush=True)


def run(share: int, of: int, gives_way: bool) -> None:
    """Render what waits, compiling what that needs; one of several processes compiles its share of the kernels first.

    gives_way : there are workers, whose takes come first; without any, what waits for them would be waited for in vain.
    """
    address = settings().database
    wait_until_current(address, 60)
    give_way = Gate(address).pass_through if gives_way else None
    if give_way is not None:
        compiling_gives_way(give_way)

    def compile_share() -> None:
        if not is_whole(f"{share}-{of}"):
            warm(share, of, Telling() if share == of - 1 else None, give_way)

    def render_waiting() -> None:
        with psycopg.connect(address, connect_timeout=5) as connection:
            if not has_waiting(connection, LATER):
                return
        from .worker import work

        asyncio.run(work(LATER, until_empty=True, give_way=give_way))

    for do in (compile_share, render_waiting) if share else (render_waiting, compile_share):
        do()


if __name__ == "__main__":
    configure()
    own, all_of_them = (int(number) for number in sys.argv[1].split("/"))
    run(own, all_of_them, "--give-way" in sys.argv[2:])
