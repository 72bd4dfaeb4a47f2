"""The live process: the first look is loaded before it is asked for, drafts take turns, and too many are told so."""

import asyncio
import os
import signal
import subprocess
import sys
import time
import unittest
from typing import Any
from unittest.mock import patch

import numpy as np

from tests.stack import ROOT
from warmtide.core.model.guides import NO_GUIDES
from warmtide.core.model.recipe import Recipe
from warmtide.web import live_process
from warmtide.web.faults import Busy, Ended
from warmtide.web.live_process import LiveProcess
from warmtide.work.glimpse import glimpse, ready


class Recorded(LiveProcess):
    """A live process that only notes what it is given to do; each thing takes a while."""

    def __init__(self, seconds: float = 0.01, breaks: bool = False) -> None:
        super().__init__()
        self.done: list[str] = []
        self.seconds, self.breaks = seconds, breaks

    def _process(self) -> Any:
        self._pool = self._pool or _Nothing()  # type: ignore[assignment]
        return self._pool

    async def _work(self, do: Any, *given: Any) -> Any:
        await asyncio.sleep(self.seconds)
        if self.breaks:
            self._drop()
            raise Ended("It ended.")
        self.done.append(given[0] if do is ready else "draft" if do is glimpse else "preview")
        return b"", {}


class _Nothing:
    def shutdown(self, wait: bool, cancel_futures: bool) -> None:
        pass


async def drafted(live: LiveProcess) -> None:
    await live.run(np.zeros((8, 8, 3), np.uint8), Recipe(), {}, NO_GUIDES)


async def previewed(live: LiveProcess) -> None:
    async def here() -> bool:
        return False

    await live.preview(np.zeros((8, 8, 3), np.uint8), Recipe(), {}, here)


class Warming(unittest.IsolatedAsyncioTestCase):
    async def test_the_first_look_is_loaded_once(self) -> None:
        live = Recorded()
        live.warm()
        live.warm()
        await asyncio.sleep(0)
        await drafted(live)
        self.assertEqual(live.done, [Recipe().look, "draft"])

    async def test_closing_ends_it(self) -> None:
        live = Recorded()
        live.warm()
        live.close()
        await asyncio.sleep(0.05)
        self.assertEqual(live.done, [])

    async def test_a_process_that_breaks_while_it_loads_is_given_up_in_silence(self) -> None:
        live = Recorded(breaks=True)
        live.warm()
        task = live._warming
        assert task is not None
        await asyncio.wait([task])
        self.assertIsNone(task.exception())
        live.breaks = False
        await drafted(live)
        self.assertEqual(live.done, ["draft"])


class Turns(unittest.IsolatedAsyncioTestCase):
    async def test_previews_stand_behind_drafts(self) -> None:
        live = Recorded()
        await asyncio.gather(previewed(live), previewed(live), *(drafted(live) for _ in range(4)))
        self.assertEqual(live.done.count("draft"), 4)
        self.assertEqual(live.done[-1], "preview")

    async def test_what_is_too_much_at_once_is_told_so(self) -> None:
        with patch.object(live_process, "_MOST_DRAFTS", 3):
            live = Recorded(seconds=0.05)
            found = await asyncio.gather(*(drafted(live) for _ in range(12)), return_exceptions=True)
        refused = [error for error in found if isinstance(error, Busy)]
        self.assertEqual(len(refused), 8)
        self.assertEqual(live.done.count("draft"), 4)

    async def test_what_waits_too_long_is_told_so(self) -> None:
        with patch.object(live_process, "_PATIENCE_SECONDS", 0.05):
            live = Recorded(seconds=0.2)
            found = await asyncio.gather(drafted(live), drafted(live), return_exceptions=True)
        self.assertEqual([type(error) for error in found], [type(None), Busy])
        await drafted(live)
        self.assertEqual(live.done.count("draft"), 2)


class Real(unittest.IsolatedAsyncioTestCase):
    async def test_a_process_that_is_killed_is_told_so_and_the_next_draft_begins_another(self) -> None:
        live = LiveProcess()
        self.addCleanup(live.close)
        await drafted(live)
        assert live._pool is not None
        (pid,) = list(live._pool._processes)
        asyncio.get_running_loop().call_later(0.01, os.kill, pid, signal.SIGKILL)
        with self.assertRaises(Ended):
            for _ in range(200):
                await drafted(live)
        await drafted(live)

    async def test_it_ends_with_the_process_that_began_it_however_early_that_goes(self) -> None:
        program = (
            "import asyncio, os, sys\n"
            "from warmtide.web.live_process import LiveProcess\n"
            "async def go():\n"
            "    live = LiveProcess(); live.warm(); await asyncio.sleep(float(sys.argv[1]))\n"
            "    print(*live._pool._processes, flush=True); os.kill(os.getpid(), 9)\n"
            "if __name__ == '__main__': asyncio.run(go())\n"
        )
        with patch.dict(os.environ, {"PYTHONPATH": str(ROOT)}):
            for wait in ("0.01", "0.2", "1.5"):
                script = ROOT / ".cache" / f"early-{os.getpid()}.py"
                script.parent.mkdir(exist_ok=True)
                script.write_text(program)
                self.addCleanup(script.unlink, missing_ok=True)
                run = subprocess.run([sys.executable, str(script), wait], capture_output=True, text=True, check=False)
                pid = int(run.stdout)
                deadline = time.monotonic() + 10
                while os.path.exists(f"/proc/{pid}/exe") and time.monotonic() < deadline:
                    await asyncio.sleep(0.05)
                self.assertFalse(os.path.exists(f"/proc/{pid}/exe"), wait)


if __name__ == "__main__":
    unittest.main()
