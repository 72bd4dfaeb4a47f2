"""Run everything and say how it went: `python -m tests [name ...]` runs only the named modules."""

import subprocess
import sys
import time
import unittest
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


def main(names: list[str]) -> int:
    # The full run draws the same examples every time; a run by name draws new ones.
    settings.register_profile("repeatable", derandomize=True, deadline=None)
    settings.register_profile("searching", deadline=None)
    settings.load_profile("searching" if names else "repeatable")
    loader = unittest.TestLoader()
    outcomes = [] if names else [run_check(name) for name in CHECKS]
    if names:
        suite = loader.loadTestsFromNames([n if n.startswith("tests.") else f"tests.{n}" for n in names])
    else:
        suite = loader.discover("tests", top_level_dir=".")
    result = unittest.TextTestRunner(resultclass=Result, verbosity=1, stream=sys.stdout).run(suite)
    assert isinstance(result, Result)
    failed = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses) + outcomes.count(False)
    print(f"{result.passed + outcomes.count(True)} passed, {failed} failed")
    return 1 if failed else 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
