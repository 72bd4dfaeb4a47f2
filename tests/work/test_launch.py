"""Starting, watching and stopping processes."""

import os
import socket
import stat
import subprocess
import sys
import tempfile
import time
import unittest
from pathlib import Path

import psycopg

from tests.stack import ROOT, database_address
from warmtide.launch.postgres import Postgres, free_port
from warmtide.launch.supervisor import Child
from warmtide.records.current import is_current, newest_version, wait_until_current


class Database(unittest.TestCase):
    def test_it_is_behind_a_password_of_its_own(self) -> None:
        address = database_address()
        with psycopg.connect(address) as connection:
            shown = connection.execute("show password_encryption").fetchone()
            self.assertEqual(shown, ("scram-sha-256",))
            self.assertEqual(connection.execute("show listen_addresses").fetchone(), ("127.0.0.1",))
        user, rest = address.removeprefix("postgresql://").split(":", 1)
        with self.assertRaises(psycopg.OperationalError):
            psycopg.connect(f"postgresql://{user}:wrong@{rest.split('@')[1]}")
        with self.assertRaises(psycopg.OperationalError):
            psycopg.connect(f"postgresql://{user}@{rest.split('@')[1]}")

    def test_a_second_start_finds_what_the_first_left(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            os.chmod(folder, 0o755)
            first = Postgres(Path(folder), durable=False)
            self.assertFalse(first.is_made())
            with psycopg.connect(first.start(), autocommit=True) as connection:
                connection.execute("create table tide (height int)")
            secret = Path(folder) / "database-password"
            self.assertEqual(stat.S_IMODE(secret.stat().st_mode), 0o600)
            first.stop()
            second = Postgres(Path(folder), durable=False)
            self.assertTrue(second.is_made())
            try:
                with psycopg.connect(second.start()) as connection:
                    self.assertEqual(connection.execute("select count(*) from tide").fetchone(), (0,))
                assert second.process is not None
                # Killed, as by a power cut: the next start recovers.
                second.process.kill()
                second.process.wait()
                with psycopg.connect(second.start()) as connection:
                    self.assertEqual(connection.execute("select count(*) from tide").fetchone(), (0,))
            finally:
                second.stop()

    def test_waiting_for_a_database(self) -> None:
        self.assertTrue(is_current(database_address()))
        wait_until_current(database_address(), 1)
        with self.assertRaisesRegex(RuntimeError, "does not answer"):
            wait_until_current(f"postgresql://127.0.0.1:{free_port()}/none", 0.2)
        self.assertRegex(newest_version(), r"^\d{4}$")


class Children(unittest.TestCase):
    def child(self, program: str) -> Child:
        return Child("helper", [sys.executable, "-c", program], dict(os.environ))

    def test_one_that_dies_at_once_is_started_again_but_not_in_a_rush(self) -> None:
        child = self.child("raise SystemExit(3)")
        child.tend()
        assert child.process is not None
        first = child.process.pid
        child.process.wait()
        child.tend()
        self.assertIsNone(child.process)
        child.wait_until = time.monotonic()
        child.tend()
        assert child.process is not None
        self.assertNotEqual(child.process.pid, first)
        child.process.wait()

    def test_one_that_will_not_stop_is_ended(self) -> None:
        child = self.child(
            "import signal, time; signal.signal(signal.SIGTERM, signal.SIG_IGN); print(1, flush=True); time.sleep(60)"
        )
        child.start()
        time.sleep(0.5)
        child.stop()
        child.end(time.monotonic() + 0.3)
        assert child.process is not None
        self.assertIsNotNone(child.process.poll())


class Commands(unittest.TestCase):
    def test_a_port_in_use_is_said_in_one_sentence(self) -> None:
        with socket.socket() as taken, tempfile.TemporaryDirectory() as folder:
            taken.bind(("127.0.0.1", 0))
            taken.listen()
            port = taken.getsockname()[1]
            run = subprocess.run(
                [sys.executable, "-m", "warmtide", "serve", "--port", str(port), "--data", folder],
                cwd=ROOT, capture_output=True, text=True, timeout=30, check=False,
            )  # fmt: skip
        self.assertEqual(run.returncode, 2)
        self.assertEqual(run.stderr.strip(), f"Port {port} is in use; stop what uses it or choose another with --port.")

    def test_the_server_loads_without_the_compiler(self) -> None:
        """Nor what only drawing needs: the first page waits for the server to know its looks."""
        program = (
            "import sys, warmtide.web.app as a; from warmtide.core.looks.registry import looks; a.create_app(); looks();"
            "print([m for m in ('numba', 'skimage', 'scipy.signal', 'scipy.optimize', 'scipy.stats') if m in sys.modules])"
        )
        run = subprocess.run([sys.executable, "-c", program], cwd=ROOT, capture_output=True, text=True, check=True)
        self.assertEqual(run.stdout.strip(), "[]")
