"""A stack of its own: a killed worker, a clean stop, a second start."""

import os
import signal
import time
import unittest
from pathlib import Path

from tests.pictures import as_file, harbour
from tests.stack import PATIENCE, Stack


class Whole(unittest.TestCase):
    def test_a_killed_worker_and_a_restart(self) -> None:
        stack = Stack(workers=2)
        self.addCleanup(stack.close)
        study = stack.client.post("/studies", files={"file": ("in.png", as_file(harbour()))}).json()
        request = {
            "source_id": study["sources"][0]["id"], "recipe": {"size": 1024, "steps": 30, "strength": 0.9},
            "spans": [{"control": "seed", "values": list(range(4))}],
        }  # fmt: skip
        stack.client.post("/sweeps", json=request)

        def states() -> list[str]:
            return [t["state"] for t in stack.client.get(f"/studies/{study['id']}").json()["sweeps"][0]["takes"]]

        deadline = time.monotonic() + PATIENCE
        while states().count("running") < 2 and time.monotonic() < deadline:
            time.sleep(0.05)
        pids = stack.worker_pids()
        self.assertEqual(len(pids), 2)
        os.kill(pids[0], signal.SIGKILL)
        killed = time.monotonic()
        while set(states()) != {"done"} and time.monotonic() < killed + PATIENCE:
            time.sleep(0.25)
        self.assertEqual(states(), ["done"] * 4)
        self.assertEqual(len(stack.worker_pids()), 2)

        self.assertEqual(stack.stop(), 0, stack.said())
        self.assertFalse(Path(f"/proc/{pids[1]}").exists())
        # The same folder: records and pictures are still there.
        again = Stack(workers=1, folder=stack.folder)
        self.addCleanup(again.stop)
        self.assertEqual(len(again.client.get(f"/studies/{study['id']}").json()["sweeps"][0]["takes"]), 4)
