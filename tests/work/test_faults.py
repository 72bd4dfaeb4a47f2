"""A short form of bench/faults.py, and what a start finds that an earlier one left."""

import contextlib
import os
import signal
import subprocess
import sys
import time
import unittest
from pathlib import Path

from bench.faults import database_away, disk_troubles, kills, processes
from tests.pictures import as_file, harbour
from tests.stack import PATIENCE, ROOT, Stack


class Broken(unittest.TestCase):
    def test_kills_lose_double_and_leave_nothing(self) -> None:
        outcome = kills(8, 11, lambda _: None)
        self.assertEqual(outcome.faults, [])
        self.assertGreaterEqual(len(outcome.kills), 3)

    def test_a_database_that_stays_away_is_waited_for(self) -> None:
        self.assertEqual(database_away(4), [])

    def test_a_disk_that_is_full_or_can_not_be_written(self) -> None:
        try:
            faults = disk_troubles()
        except PermissionError as error:
            self.skipTest(str(error))
        self.assertEqual(faults, [])


class Leftovers(unittest.TestCase):
    def test_everything_killed_at_once_and_all_there_at_the_next_start(self) -> None:
        stack = Stack(workers=2)
        self.addCleanup(stack.close)
        study = stack.client.post("/studies", files={"file": ("own.png", as_file(harbour(170, 256)))}).json()
        request = {
            "source_id": study["sources"][0]["id"], "recipe": {"size": 256, "steps": 20},
            "spans": [{"control": "strength", "values": [0.2, 0.35, 0.5, 0.65, 0.8]}],
        }  # fmt: skip
        sweep = stack.client.post("/sweeps", json=request).json()
        take = sweep["takes"][0]["id"]
        stack.client.put(f"/studies/{study['id']}/marks/{take}", json={"value": "keep"})
        for pid in processes(stack.folder):
            # One may end by itself once its fellows are gone.
            with contextlib.suppress(ProcessLookupError):
                os.kill(pid, signal.SIGKILL)
        stack.process.wait()
        stack.start_again()
        done = stack.settled(study["id"], sweep["id"])
        self.assertEqual([t["state"] for t in done["takes"]], ["done"] * 5)
        marks = stack.client.get(f"/studies/{study['id']}").json()["marks"]
        self.assertEqual([(mark["take_id"], mark["value"]) for mark in marks], [(take, "keep")])

    def test_a_closed_terminal_ends_everything(self) -> None:
        stack = Stack(workers=1)
        self.addCleanup(stack.close)
        stack.process.send_signal(signal.SIGHUP)
        self.assertEqual(stack.process.wait(20), 0)
        self.assertEqual(processes(stack.folder), {})

    def test_a_killed_watcher_takes_everything_with_it(self) -> None:
        stack = Stack(workers=1)
        self.addCleanup(stack.close)
        stack.process.kill()
        stack.process.wait()
        deadline = time.monotonic() + 15
        while processes(stack.folder) and time.monotonic() < deadline:
            time.sleep(0.1)
        self.assertEqual(processes(stack.folder), {})

    def test_takes_that_wait_for_workers_do_not_keep_a_preparation_from_its_end(self) -> None:
        """There are no workers in it, so nothing would ever let go first."""
        stack = Stack(workers=0)
        self.addCleanup(stack.close)
        study = stack.client.post("/studies", files={"file": ("own.png", as_file(harbour()))}).json()
        stack.client.post("/sweeps", json={"source_id": study["sources"][0]["id"], "recipe": {"size": 64}, "spans": []})
        stack.stop()
        prepared = subprocess.run(
            [sys.executable, "-m", "warmtide", "serve", "--prepare", "--data", str(stack.folder)],
            cwd=ROOT, capture_output=True, text=True, timeout=PATIENCE, check=False,
        )  # fmt: skip
        self.assertEqual(prepared.returncode, 0, prepared.stderr)

    def test_a_second_start_says_who_is_there(self) -> None:
        stack = Stack(workers=0)
        self.addCleanup(stack.close)
        again = subprocess.run(
            [sys.executable, "-m", "warmtide", "serve", "--data", str(stack.folder), "--port", str(stack.port + 1)],
            cwd=ROOT, capture_output=True, text=True, timeout=30, check=False,
        )  # fmt: skip
        self.assertEqual(again.returncode, 2)
        self.assertRegex(again.stderr, rf"Another Warm Tide \(process {stack.process.pid}, {stack.url}\) is using")
        self.assertEqual(again.stderr.count("\n"), 1)
        self.assertEqual(stack.client.get("/health").status_code, 200)

    def test_a_lost_password_erases_nothing(self) -> None:
        stack = Stack(workers=0)
        self.addCleanup(stack.close)
        study = stack.client.post("/studies", files={"file": ("own.png", as_file(harbour()))}).json()
        stack.stop()
        secret = stack.folder / "database-password"
        aside = Path(f"{secret}.aside")
        secret.rename(aside)
        refused = subprocess.run(
            [sys.executable, "-m", "warmtide", "serve", "--data", str(stack.folder), "--port", str(stack.port)],
            cwd=ROOT, capture_output=True, text=True, timeout=30, check=False,
        )  # fmt: skip
        self.assertEqual(refused.returncode, 2)
        self.assertIn("database-password is missing", refused.stderr)
        aside.rename(secret)
        again = Stack(workers=0, folder=stack.folder)
        self.addCleanup(again.stop)
        self.assertEqual(again.client.get(f"/studies/{study['id']}").json()["name"], study["name"])


if __name__ == "__main__":
    unittest.main()
