"""Starting, watching and stopping processes."""

import contextlib
import json
import os
import shutil
import signal
import socket
import stat
import subprocess
import sys
import tempfile
import time
import unittest
from pathlib import Path
from unittest.mock import patch

import psycopg

from tests.stack import ROOT, database_address
from warmtide.launch import address
from warmtide.launch.child import Child
from warmtide.launch.folder import DataFolder, started
from warmtide.launch.orphans import orphans_in
from warmtide.launch.postgres import Postgres, free_port
from warmtide.launch.refusal import Refusal
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


class Cluster(unittest.TestCase):
    """Nothing that holds studies is ever removed."""

    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        os.chmod(self.folder, 0o755)

    def made(self) -> Postgres:
        first = Postgres(self.folder, durable=False)
        with psycopg.connect(first.start(), autocommit=True) as connection:
            connection.execute("create table tide (height int)")
        first.stop()
        return Postgres(self.folder, durable=False)

    def test_what_is_missing_is_named_and_nothing_is_made_anew(self) -> None:
        server = self.made()
        for path in (server.secret, server.folder / "PG_VERSION"):
            aside = path.with_name("aside")
            path.rename(aside)
            with self.assertRaisesRegex(Refusal, f"{path.name} is missing"):
                server.start()
            self.assertTrue((server.folder / "base").is_dir())
            aside.rename(path)
        with psycopg.connect(server.start()) as connection:
            self.assertEqual(connection.execute("select count(*) from tide").fetchone(), (0,))
        server.stop()

    def test_a_wrong_password_is_said_at_once(self) -> None:
        server = self.made()
        server.secret.write_text("another")
        began = time.monotonic()
        with self.assertRaisesRegex(Refusal, "does not take the password"):
            server.start()
        self.assertLess(time.monotonic() - began, 10)
        self.assertIsNone(server.pid)

    def test_what_a_cut_off_start_left_is_no_hindrance_and_no_loss(self) -> None:
        making = self.folder / "postgres.making"
        (making / "base").mkdir(parents=True)
        server = Postgres(self.folder, durable=False)
        self.assertFalse(server.is_made())
        with psycopg.connect(server.start()):
            self.assertFalse(making.exists())
        server.stop()

    def test_a_killed_server_is_started_again_at_its_address(self) -> None:
        server = Postgres(self.folder, durable=False)
        address = server.start()
        self.addCleanup(server.stop)
        self.assertFalse(server.tend())
        assert server.process is not None
        server.process.kill()
        server.process.wait()
        began = time.monotonic()
        while time.monotonic() - began < 10:
            server.tend()
            try:
                psycopg.connect(address, connect_timeout=2).close()
                break
            except psycopg.OperationalError:
                time.sleep(0.05)
        self.assertLess(time.monotonic() - began, 5)

    def test_what_a_killed_server_left_hanging_does_not_keep_the_next_from_starting(self) -> None:
        server = Postgres(self.folder, durable=False)
        address = server.start()
        self.addCleanup(server.stop)
        assert server.process is not None
        own = [
            int(pid)
            for pid in Path(f"/proc/{server.process.pid}/task/{server.process.pid}/children").read_text().split()
        ]
        self.assertEqual(orphans_in(server.folder), [])
        # As one that waits for a lock which a dead one held.
        os.kill(own[0], signal.SIGSTOP)
        server.process.kill()
        server.process.wait()
        self.assertIn(own[0], orphans_in(server.folder))
        time.sleep(0.6)
        server.tend()
        self.assertNotIn(own[0], orphans_in(server.folder))
        deadline = time.monotonic() + 10
        while time.monotonic() < deadline:
            with contextlib.suppress(psycopg.OperationalError):
                psycopg.connect(address, connect_timeout=2).close()
                return
            time.sleep(0.05)
        self.fail("the database did not come back")

    def test_nothing_of_a_killed_server_is_left_when_it_is_stopped(self) -> None:
        server = Postgres(self.folder, durable=False)
        server.start()
        assert server.process is not None
        own = [
            int(pid)
            for pid in Path(f"/proc/{server.process.pid}/task/{server.process.pid}/children").read_text().split()
        ]
        os.kill(own[0], signal.SIGSTOP)
        server.process.kill()
        server.process.wait()
        server.stop()
        self.assertEqual(orphans_in(server.folder), [])


class Folders(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def test_one_at_a_time(self) -> None:
        first = DataFolder(self.folder)
        first.say("process 12, http://127.0.0.1:8765")
        with self.assertRaisesRegex(Refusal, r"Another Warm Tide \(process 12, http://127.0.0.1:8765\) is using"):
            DataFolder(self.folder)
        first.close()
        DataFolder(self.folder).close()

    def test_no_folder(self) -> None:
        file = self.folder / "file"
        file.write_text("")
        for path, said in (
            (file, "is a file"),
            (file / "below", "lies in a file"),
            (Path("/proc/none"), "can't be written"),
        ):
            with self.assertRaisesRegex(Refusal, said):
                DataFolder(path)

    def test_a_full_disk(self) -> None:
        with (
            patch(
                "warmtide.launch.folder.shutil.disk_usage", return_value=shutil._ntuple_diskusage(10**9, 10**9, 10**6)
            ),
            self.assertRaisesRegex(Refusal, "is full \\(1 MB free"),
        ):
            DataFolder(self.folder)

    def test_what_an_earlier_start_left_running_is_ended_and_nobody_else(self) -> None:
        ours, other = (subprocess.Popen(["sleep", "60"]) for _ in range(2))
        self.addCleanup(other.wait)
        self.addCleanup(other.kill)
        folder = DataFolder(self.folder)
        folder.note(None, [ours.pid])
        known = json.loads((self.folder / "processes.json").read_text())
        # A number that another process has got since.
        known["others"][str(other.pid)] = "1"
        (self.folder / "processes.json").write_text(json.dumps(known))
        said: list[str] = []
        folder.end_leftovers(said.append)
        self.assertEqual(len(said), 1)
        self.assertIsNotNone(ours.wait(5))
        self.assertIsNone(other.poll())
        folder.end_leftovers(said.append)
        self.assertEqual(len(said), 1)
        folder.close()

    def test_damaged_notes_of_processes_are_passed_over(self) -> None:
        folder = DataFolder(self.folder)
        for text in ("", "[]", "{", '{"x": 1}', '{"others": [], "database": 3}'):
            (self.folder / "processes.json").write_text(text)
            folder.end_leftovers(self.fail)
        folder.close()


class Addresses(unittest.TestCase):
    def test_what_can_not_be_listened_on_is_said(self) -> None:
        for host, port, said in (
            ("127.0.0.1", 99999, "99999 is no port"),
            ("127.0.0.1", -1, "-1 is no port"),
            ("no.such.host.invalid", 8765, "is no address of this machine"),
            ("203.0.113.9", 8765, "is no address of this machine"),
        ):
            with self.assertRaisesRegex(Refusal, said):
                address.check(host, port)
        address.check("127.0.0.1", free_port())

    def test_names_that_a_host_goes_by(self) -> None:
        self.assertTrue(
            address.is_loopback("127.0.0.5") and address.is_loopback("::1") and address.is_loopback("localhost")
        )
        self.assertFalse(
            address.is_loopback("0.0.0.0") or address.is_loopback("192.168.1.4") or address.is_loopback("atelier")
        )
        self.assertNotIn("any-address", address.names_of("127.0.0.1"))
        self.assertIn("any-address", address.names_of("0.0.0.0").split(","))
        # Another address of this machine's own: the server must answer to it, or the start would wait for ever.
        self.assertIn("127.0.0.5", address.names_of("127.0.0.5").split(","))
        self.assertIn("192.168.1.4", address.names_of("192.168.1.4").split(","))

    def test_the_key_is_made_once_and_for_its_owner_only(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            key, new = address.key_in(Path(folder))
            self.assertTrue(new)
            self.assertGreaterEqual(len(key), 32)
            self.assertEqual(address.key_in(Path(folder)), (key, False))
            self.assertEqual(stat.S_IMODE((Path(folder) / "key").stat().st_mode), 0o600)


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

    def test_one_that_comes_to_an_end_is_not_started_again(self) -> None:
        child = self.child("pass")
        child.once = True
        child.start()
        assert child.process is not None
        child.process.wait()
        child.tend()
        self.assertTrue(child.done)

    def test_one_that_fails_again_and_again_is_given_up(self) -> None:
        child = self.child("raise SystemExit(3)")
        child.once = True
        for _ in range(20):
            child.wait_until = 0.0
            child.tend()
            if child.done:
                break
            if child.process is not None:
                child.process.wait()
        self.assertEqual((child.done, child.failures), (True, 3))

    def test_one_ends_when_its_parent_is_killed(self) -> None:
        program = (
            "import os, sys, time\nfrom warmtide.launch.child import Child\n"
            "child = Child('helper', [sys.executable, '-c', 'import time; time.sleep(60)'], dict(os.environ), idle=True)\n"
            "child.start(); print(child.pid, flush=True); time.sleep(60)\n"
        )
        parent = subprocess.Popen([sys.executable, "-c", program], stdout=subprocess.PIPE, cwd=ROOT)
        assert parent.stdout is not None
        pid = int(parent.stdout.readline())
        time.sleep(0.3)
        self.assertEqual(os.sched_getscheduler(pid), os.SCHED_IDLE)
        parent.kill()
        parent.wait()
        parent.stdout.close()
        deadline = time.monotonic() + 5
        while started(pid) is not None and time.monotonic() < deadline:
            time.sleep(0.02)
        self.assertIsNone(started(pid))

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
