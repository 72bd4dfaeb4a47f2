"""Run everything and say how it went: `python -m tests [name ...]` runs only the named modules.

The full run goes in two lanes side by side, since neither needs more than a core for most of its time: what only
computes, and what drives a database, a server or a browser. Each lane is a process of this program.
"""

import os
import re
import subprocess
import sys
import tempfile
import time
import unittest
from collections.abc import Iterable, Iterator
from pathlib import Path

from hypothesis import settings

ROOT = Path(__file__).resolve().parent.parent

CHECKS = {
    "style": ([sys.executable, "-m", "ruff", "check", "."], ROOT),
    "format": ([sys.executable, "-m", "ruff", "format", "--check", "-q", "."], ROOT),
    "types": ([sys.executable, "-m", "mypy"], ROOT),
    "front end: types": (["npx", "tsc", "--noEmit"], ROOT / "frontend"),
    "front end: style": (["npx", "eslint", "src"], ROOT / "frontend"),
    "front end: units": (["npx", "vitest", "run"], ROOT / "frontend"),
}
LANES = {
    "computing": ["tests.core", "tests.test_architecture", "tests.test_demo", "tests.records"],
    # The faces are here because this lane is the shorter one.
    "running": ["tests.web", "tests.work", "tests.engines", "tests.browser", "tests.test_cli", "tests.core.test_faces"],
}

_COMPILE = [sys.executable, "-m", "warmtide.work.warm"]

# Threads that wait for each other on a shared core cost more than they bring.
_ONE_THREAD = dict.fromkeys(("OMP_NUM_THREADS", "OPENBLAS_NUM_THREADS", "OPENCV_FOR_THREADS_NUM"), "1")


def run_check(name: str) -> bool:
    """One outside check; its output is shown only when it fails."""
    command, folder = CHECKS[name]
    began = time.monotonic()
    done = subprocess.run(command, cwd=folder, capture_output=True, text=True, check=False)
    print(f"{name}: {'ok' if done.returncode == 0 else 'FAILED'} ({time.monotonic() - began:.0f} s)", flush=True)
    if done.returncode:
        print(done.stdout[-6000:], done.stderr[-3000:], flush=True)
    return done.returncode == 0


class Result(unittest.TextTestResult):
    """Counts what passed, and prints the seconds of slow tests."""

    passed = 0

    def startTest(self, test: unittest.TestCase) -> None:  # noqa: N802
        self._began = time.monotonic()
        super().startTest(test)

    def addSuccess(self, test: unittest.TestCase) -> None:  # noqa: N802
        super().addSuccess(test)
        self.passed += 1
        took = time.monotonic() - self._began
        if took > 5:
            print(f"  {test.id()}: {took:.0f} s", flush=True)


def run_lanes() -> tuple[int, int]:
    """Both lanes at once, each one's output shown whole when it ends; how many tests passed and failed."""
    running = {}
    for lane in LANES:
        output = tempfile.TemporaryFile("w+")  # noqa: SIM115 (closed with the process, below)
        command = [sys.executable, "-m", "tests", f"--lane={lane}"]
        running[lane] = (
            subprocess.Popen(command, cwd=ROOT, stdout=output, stderr=subprocess.STDOUT, env=os.environ | _ONE_THREAD),
            output,
        )
    passed = failed = 0
    for lane, (process, output) in running.items():
        began = time.monotonic()
        code = process.wait()
        output.seek(0)
        said = output.read()
        output.close()
        print(f"--- {lane} (waited {time.monotonic() - began:.0f} s)\n{said}", flush=True)
        counts = re.search(r"(\d+) passed, (\d+) failed\s*\Z", said)
        if counts is None:
            print(f"The lane {lane} ended with {code} before it could count.", flush=True)
            failed += 1
            continue
        passed += int(counts[1])
        failed += int(counts[2]) or (1 if code else 0)
    return passed, failed


def _each(suite: unittest.TestSuite) -> Iterator[unittest.TestCase]:
    for test in suite:
        yield from _each(test) if isinstance(test, unittest.TestSuite) else (test,)


def suite_of(names: list[str], elsewhere: Iterable[str] = ()) -> unittest.TestSuite:
    """The tests of modules and packages by their dotted names, without those of modules that run elsewhere."""
    loader = unittest.TestLoader()
    suite = unittest.TestSuite()
    apart = tuple(f"{name}." for name in elsewhere)
    for name in names:
        folder = ROOT / name.replace(".", "/")
        if folder.is_dir():
            found = loader.discover(str(folder), top_level_dir=str(ROOT))
            suite.addTests(test for test in _each(found) if not test.id().startswith(apart))
        else:
            suite.addTests(loader.loadTestsFromName(name))
    return suite


def run_tests(names: list[str], elsewhere: Iterable[str] = ()) -> tuple[int, int]:
    suite = suite_of(names, elsewhere)
    result = unittest.TextTestRunner(resultclass=Result, verbosity=1, stream=sys.stdout).run(suite)
    assert isinstance(result, Result)
    return result.passed, len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)


def main(arguments: list[str]) -> int:
    lane = arguments[0].removeprefix("--lane=") if arguments and arguments[0].startswith("--lane=") else None
    # The full run draws the same examples every time; a run by name draws new ones.
    repeatable = lane is not None or not arguments
    settings.register_profile("repeatable", derandomize=True, deadline=None)
    settings.register_profile("searching", deadline=None)
    settings.load_profile("repeatable" if repeatable else "searching")
    if lane:
        passed, failed = run_tests(LANES[lane], [n for other, names in LANES.items() if other != lane for n in names])
    elif arguments:
        passed, failed = run_tests([n if n.startswith("tests.") else f"tests.{n}" for n in arguments])
    else:
        # Both lanes need the kernels; compiled beside the checks, they are compiled once.
        kernels = subprocess.Popen(_COMPILE, cwd=ROOT, env=os.environ | _ONE_THREAD)
        outcomes = [run_check(name) for name in CHECKS]
        kernels.wait()
        passed, failed = run_lanes()
        passed, failed = passed + outcomes.count(True), failed + outcomes.count(False)
    print(f"{passed} passed, {failed} failed")
    return 1 if failed else 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
