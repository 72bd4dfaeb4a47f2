"""What a newcomer waits for, as whole processes on a warm disk: `python -m bench.start [--setup]`.

Prints a table and exits 1 where a bound is missed. Beside each stands its ratio to `python -c "import numpy, cv2"`, since
machines differ. With `--setup` a fresh clone is set up, started, and swept while its demo fills in; that takes some
minutes.
"""

import argparse
import os
import shutil
import signal
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import httpx

from tests.pictures import as_file, harbour
from tests.stack import Stack
from warmtide.launch.postgres import free_port

ROOT = Path(__file__).resolve().parent.parent
_PICTURE = ROOT / "demo" / "pictures" / "quay.jpg"
_RUNS = 3


@dataclass(frozen=True)
class Measured:
    """One row: what was measured, its seconds, the most that is wanted (None: told only), whether of CPU or of the clock."""

    name: str
    seconds: float
    bound: float | None
    of: str

    @property
    def missed(self) -> bool:
        return self.bound is not None and self.seconds > self.bound


def cpu_seconds(command: list[str], environment: dict[str, str] | None = None) -> float:
    """CPU seconds, its own and the system's for it, of a whole process and its children."""
    process = subprocess.Popen(command, cwd=ROOT, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL, env=environment)
    _, status, usage = os.wait4(process.pid, 0)
    process.returncode = os.waitstatus_to_exitcode(status)
    if process.returncode:
        raise RuntimeError(f"{' '.join(command)} ended with {process.returncode}")
    return usage.ru_utime + usage.ru_stime


def median_of(measure: Callable[[], float], runs: int = _RUNS) -> float:
    measure()
    return statistics.median(measure() for _ in range(runs))


def commands(reference: list[str]) -> list[Measured]:
    """The command line."""
    run = [sys.executable, "-m", "warmtide"]
    with tempfile.TemporaryDirectory() as folder:
        take = f"{folder}/take.png"
        rows: list[tuple[str, list[str], float | None]] = [
            ('python -c "import numpy, cv2"', reference, None),
            ("warmtide restyle, 512 px watercolour", [*run, "restyle", str(_PICTURE), "-o", take], 1.6),
            (
                "the same with --json, which reads the take too",
                [*run, "restyle", str(_PICTURE), "-o", take, "--json"],
                None,
            ),
            ("warmtide measure", [*run, "measure", str(_PICTURE), take], 1.0),
            ("warmtide looks", [*run, "looks"], 0.5),
        ]
        return [
            Measured(name, median_of(lambda c=command: cpu_seconds(c)), bound, "CPU") for name, command, bound in rows
        ]


def worker_ready(stack: Stack) -> float:
    """Seconds until a worker could paint its first take."""
    environment = {**os.environ, "WARMTIDE_DATABASE": address_of(stack), "WARMTIDE_STORE": str(stack.folder / "images")}
    began = time.monotonic()
    process = subprocess.Popen(
        [sys.executable, "-m", "warmtide", "worker"],
        cwd=ROOT,
        env=environment,
        stdout=subprocess.DEVNULL,
        stderr=subprocess.PIPE,
    )
    assert process.stderr is not None
    for line in process.stderr:
        if b"worker ready" in line:
            break
    seconds = time.monotonic() - began
    process.terminate()
    process.wait()
    process.stderr.close()
    return seconds


def address_of(stack: Stack) -> str:
    """The database of a running stack."""
    from warmtide.launch.postgres import Postgres

    found = Postgres(stack.folder).running()
    assert found is not None
    return found


def first_draft(stack: Stack) -> float:
    """Seconds from opening a study to its first draft, on a server that has drawn none."""
    study = stack.client.post("/studies", files={"file": ("in.jpg", _PICTURE.read_bytes())}).json()
    began = time.monotonic()
    stack.client.get(f"/studies/{study['id']}").raise_for_status()
    recipe = {**study["sources"][0]["begin"], "quality": "draft"}
    stack.client.post("/live", json={"source_id": study["sources"][0]["id"], "recipe": recipe}).raise_for_status()
    return time.monotonic() - began


def started(folder: Path, data: Path, port: int) -> tuple[float, "subprocess.Popen[str]"]:
    """Seconds until `./start` prints its address, and its process."""
    environment = {k: v for k, v in os.environ.items() if not k.startswith("WARMTIDE_")}
    began = time.monotonic()
    process = subprocess.Popen(
        ["./start", "--port", str(port), "--data", str(data)], cwd=folder, env=environment, stdout=subprocess.PIPE,
        stderr=subprocess.DEVNULL, text=True, start_new_session=True,
    )  # fmt: skip
    assert process.stdout is not None
    for line in process.stdout:
        if "is ready" in line:
            return time.monotonic() - began, process
    raise RuntimeError("./start did not come to its address")


def stopped(process: "subprocess.Popen[str]") -> None:
    process.send_signal(signal.SIGINT)
    process.wait(30)
    assert process.stdout is not None
    process.stdout.close()


def second_start() -> float:
    with tempfile.TemporaryDirectory() as folder:
        os.chmod(folder, 0o755)
        data = Path(folder) / "data"
        data.mkdir()
        (data / "demo-loaded").touch()
        found = []
        for _ in range(3):
            seconds, process = started(ROOT, data, free_port())
            found.append(seconds)
            stopped(process)
        return statistics.median(found[1:])


def running() -> list[Measured]:
    """The program as it runs."""
    rows = []
    drafts, workers = [], []
    for _ in range(_RUNS):
        stack = Stack(workers=0)
        try:
            drafts.append(first_draft(stack))
            workers.append(worker_ready(stack))
        finally:
            stack.close()
    rows.append(Measured("a worker ready to paint its first take", statistics.median(workers), 2.0, "clock"))
    rows.append(Measured("first draft after opening a study, fresh server", statistics.median(drafts), 1.5, "clock"))
    rows.append(Measured("second ./start", second_start(), 3.0, "clock"))
    return rows


def newcomer_sweep(url: str) -> float:
    """Seconds from running five strengths of a picture of one's own to the last take."""
    client = httpx.Client(base_url=f"{url}/api", timeout=120, trust_env=False)
    seed = time.monotonic_ns() % 2**31
    study: dict[str, Any] = client.post(
        "/studies", files={"file": ("own.png", as_file(harbour(341, 512, seed)))}
    ).json()
    source = study["sources"][0]
    request = {
        "source_id": source["id"],
        "recipe": source["begin"],
        "spans": [{"control": "strength", "values": [0.2, 0.35, 0.5, 0.65, 0.8]}],
    }
    began = time.monotonic()
    client.post("/sweeps", json=request).raise_for_status()
    while True:
        takes = client.get(f"/studies/{study['id']}").json()["sweeps"][0]["takes"]
        if all(take["state"] == "done" for take in takes):
            return time.monotonic() - began
        time.sleep(0.05)


def whole_setup() -> list[Measured]:
    """A fresh clone: set-up, and a newcomer's first sweep while the demo fills in, against the same one after a later start."""
    folder = Path(tempfile.mkdtemp(prefix="warmtide-fresh-"))
    os.chmod(folder, 0o755)
    try:
        subprocess.run(["git", "clone", "-q", str(ROOT), str(folder / "clone")], check=True)
        port = free_port()
        url = f"http://127.0.0.1:{port}"
        seconds, process = started(folder / "clone", folder / "clone" / ".data", port)
        beside = newcomer_sweep(url)
        while httpx.get(f"{url}/api/health", trust_env=False, timeout=60).json()["queued"]:
            time.sleep(1)
        filled = time.monotonic()
        while (
            subprocess.run(["pgrep", "-f", f"{folder}.*work.behind"], capture_output=True, check=False).returncode == 0
        ):
            time.sleep(1)
        print(f"kernels went on for {time.monotonic() - filled:.0f} s after the demo was there", file=sys.stderr)
        first_ones = []
        for _ in range(3):
            # The first sweep of a start, too, with nothing to fill in.
            stopped(process)
            _, process = started(folder / "clone", folder / "clone" / ".data", port)
            first_ones.append(newcomer_sweep(url))
        quiet = statistics.median(first_ones)
        stopped(process)
        return [
            Measured("a fresh clone to its address", seconds, 75.0, "clock"),
            Measured("a newcomer's first five takes beside the demo", beside, 1.3 * quiet, "clock"),
            Measured("the same five after a start with nothing to fill in", quiet, None, "clock"),
        ]
    finally:
        shutil.rmtree(folder, ignore_errors=True)


def main() -> int:
    given = argparse.ArgumentParser(description=__doc__)
    given.add_argument("--setup", action="store_true", help="set up a fresh clone as well")
    chosen = given.parse_args()
    reference = [sys.executable, "-c", "import numpy, cv2"]
    rows = commands(reference) + running() + (whole_setup() if chosen.setup else [])
    unit = rows[0].seconds
    print("| | seconds | of | wanted | ratio |\n|---|---|---|---|---|")
    for row in rows:
        wanted = "" if row.bound is None else f"{row.bound:.2f}{' MISSED' if row.missed else ''}"
        print(f"| {row.name} | {row.seconds:.2f} | {row.of} | {wanted} | {row.seconds / unit:.1f} |")
    return 1 if any(row.missed for row in rows) else 0


if __name__ == "__main__":
    sys.exit(main())
