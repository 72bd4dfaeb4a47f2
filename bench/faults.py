"""Kills at random moments, a full disk, a store that can't be written, a database that stays away, lost pictures:
`python -m bench.faults [--kills 200] [--seed 1]`. Loopback only; exits 1 where something is lost, doubled or stuck.

What is broken is in folders of its own, which go away afterwards; a small disk needs the right to mount one.
"""

import argparse
import contextlib
import os
import random
import shutil
import signal
import subprocess
import sys
import tempfile
import time
from collections import Counter
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import httpx
import psycopg

from tests.pictures import as_file, harbour
from tests.stack import Stack
from warmtide.launch.folder import started
from warmtide.launch.postgres import Postgres

_RECIPE = {"size": 256, "steps": 12}
_TAKES = 10
# Takes of a sweep in whose midst the disk becomes full.
_MANY = 16
_BACK_SECONDS, _SETTLED_SECONDS = 60.0, 300.0
_VICTIMS = ("worker", "worker", "server", "database", "supervisor", "drafts")


def processes(folder: Path) -> dict[int, str]:
    """Every process of a Warm Tide on that folder by its number, with what it is."""
    found = {}
    for path in Path("/proc").glob("[0-9]*"):
        try:
            command = (path / "cmdline").read_bytes().replace(b"\0", b" ").decode(errors="replace")
            own = (path / "environ").read_bytes() + os.readlink(path / "cwd").encode()
        except OSError:
            continue
        if started(int(path.name)) is None:
            continue
        if str(folder).encode() in own or str(folder) in command:
            kinds = {
                "postgres -D": "database", "postgres:": "database's own", "warmtide serve": "supervisor", "warmtide.web.serve": "server",
                "warmtide worker": "worker", "spawn_main": "drafts", "work.behind": "behind", "intake_child": "intake",
            }  # fmt: skip
            found[int(path.name)] = next((kind for words, kind in kinds.items() if words in command), "other")
    return found


@dataclass
class Outcome:
    """What came of the kills."""

    kills: Counter[str] = field(default_factory=Counter)
    back: dict[str, list[float]] = field(default_factory=dict)
    takes: int = 0
    faults: list[str] = field(default_factory=list)


class Bed:
    """A running program that is broken again and again, with somebody who goes on sweeping."""

    def __init__(self, lot: random.Random) -> None:
        self.lot = lot
        self.stack = Stack(workers=2)
        self.folder = self.stack.folder
        self.study = self._patiently(
            "POST", "/studies", files={"file": ("in.png", as_file(harbour(170, 256, lot.randrange(999))))}
        )
        self.sweeps: list[str] = []
        self.seed = 0

    def _patiently(self, method: str, path: str, **more: Any) -> Any:
        """What is asked, asked again while the server is away, as a browser does."""
        deadline = time.monotonic() + _BACK_SECONDS
        while True:
            try:
                answer = self.stack.client.request(method, path, **more)
                if answer.status_code < 500:
                    return answer.json()
                if answer.status_code != 503:
                    raise AssertionError(f"{method} {path}: {answer.status_code} {answer.text[:200]}")
            except httpx.TransportError:
                pass
            if time.monotonic() > deadline:
                raise AssertionError(f"{method} {path} was not answered for {_BACK_SECONDS:.0f} s")
            time.sleep(0.1)

    def sweep(self) -> None:
        """Ask for some takes that nobody has asked for."""
        seeds = list(range(self.seed, self.seed + _TAKES))
        self.seed += _TAKES
        request = {
            "source_id": self.study["sources"][0]["id"], "recipe": _RECIPE, "spans": [{"control": "seed", "values": seeds}],
        }  # fmt: skip
        self.sweeps.append(self._patiently("POST", "/sweeps", json=request)["id"])

    def draft(self) -> None:
        with contextlib.suppress(httpx.TransportError):
            self.stack.client.post("/live", json={"source_id": self.study["sources"][0]["id"], "recipe": {"size": 128}})

    def waiting(self) -> int:
        return int(self._patiently("GET", "/health")["queued"])

    def kill(self, kind: str) -> bool:
        """Kill one process of a kind; whether there was one."""
        found = [pid for pid, is_a in processes(self.folder).items() if is_a == kind]
        if kind == "database":
            # Its postmaster is the parent of all of its own.
            found = [pid for pid in found if _parent(pid) not in found]
        if not found:
            return False
        with contextlib.suppress(ProcessLookupError):
            os.kill(self.lot.choice(found), signal.SIGKILL)
        return True

    def back(self, kind: str) -> float:
        """Seconds until everything is there again."""
        began = time.monotonic()
        if kind == "supervisor":
            self.stack.process.wait()
            self.stack.start_again()
        while time.monotonic() - began < _BACK_SECONDS:
            with contextlib.suppress(httpx.TransportError):
                there = Counter(processes(self.folder).values())
                if self.stack.client.get("/health").status_code == 200 and there["worker"] >= 2:
                    break
            time.sleep(0.05)
        return time.monotonic() - began

    def settle(self, outcome: Outcome) -> None:
        """Wait until nothing is to do any more, and look at everything."""
        deadline = time.monotonic() + _SETTLED_SECONDS
        while self.waiting() and time.monotonic() < deadline:
            time.sleep(0.25)
        study = self._patiently("GET", f"/studies/{self.study['id']}")
        takes = [take for sweep in study["sweeps"] for take in sweep["takes"]]
        outcome.takes = len(takes)
        states = Counter(take["state"] for take in takes)
        if states != Counter({"done": len(self.sweeps) * _TAKES}):
            outcome.faults.append(
                f"takes that are not done: {dict(states)}, asked for were {len(self.sweeps) * _TAKES}"
            )
        if len({take["key"] for take in takes}) != len(takes):
            outcome.faults.append("takes are doubled")
        address = Postgres(self.folder).running()
        assert address is not None
        with psycopg.connect(address) as connection:
            row = connection.execute(
                "select count(*) from procrastinate_jobs where status in ('todo', 'doing')"
            ).fetchone()
            if row and row[0]:
                outcome.faults.append(f"{row[0]} jobs are stuck")
        run = subprocess.run(
            [sys.executable, "-m", "warmtide", "check", "--data", str(self.folder)],
            capture_output=True,
            text=True,
            check=False,
        )
        if run.returncode:
            outcome.faults.append(f"check: {run.stdout.strip()[-300:]}{run.stderr.strip()[-300:]}")

    def close(self, outcome: Outcome) -> None:
        """Stop it all; nothing may be left."""
        self.stack.stop()
        deadline = time.monotonic() + 10
        while (left := processes(self.folder)) and time.monotonic() < deadline:
            time.sleep(0.1)
        if left:
            outcome.faults.append(f"left behind: {left}")
        shutil.rmtree(self.folder, ignore_errors=True)


def _parent(pid: int) -> int:
    try:
        return int(Path(f"/proc/{pid}/stat").read_text().rpartition(")")[2].split()[1])
    except (OSError, IndexError):
        return 0


def kills(count: int, seed: int, told: Callable[[str], None]) -> Outcome:
    """Kill what runs, again and again, while sweeps go on."""
    lot, outcome = random.Random(seed), Outcome()
    bed = Bed(lot)
    try:
        while sum(outcome.kills.values()) < count:
            if bed.waiting() < _TAKES:
                bed.sweep()
            if lot.random() < 0.3:
                bed.draft()
            time.sleep(lot.uniform(0.0, 1.2))
            kind = lot.choice(_VICTIMS)
            if not bed.kill(kind):
                continue
            outcome.kills[kind] += 1
            seconds = bed.back(kind)
            outcome.back.setdefault(kind, []).append(seconds)
            told(f"{sum(outcome.kills.values())}: {kind}, back after {seconds:.1f} s")
        bed.settle(outcome)
    except AssertionError as error:
        outcome.faults.append(str(error))
    finally:
        bed.close(outcome)
    return outcome


@contextlib.contextmanager
def small_disk(megabytes: int) -> Iterator[Path]:
    """A disk of so many megabytes. Raises PermissionError where none can be mounted."""
    folder = Path(tempfile.mkdtemp(prefix="warmtide-disk-"))
    run = subprocess.run(
        ["mount", "-t", "tmpfs", "-o", f"size={megabytes}m,mode=755", "tmpfs", str(folder)],
        capture_output=True,
        check=False,
    )
    if run.returncode:
        folder.rmdir()
        raise PermissionError("no disk can be mounted here")
    try:
        yield folder
    finally:
        subprocess.run(["umount", "-l", str(folder)], check=False)
        folder.rmdir()


def disk_troubles() -> list[str]:
    """A disk that becomes full, and one that can't be written, in the midst of a sweep; what was not as it should be."""
    faults: list[str] = []
    with small_disk(300) as disk:
        stack = Stack(workers=1, environment={"WARMTIDE_STORE": str(disk / "images")})
        try:
            data = as_file(harbour(170, 256))
            study = stack.client.post("/studies", files={"file": ("in.png", data)}).json()
            source = study["sources"][0]["id"]

            def sweep(seeds: range) -> dict[str, Any]:
                spans = [{"control": "seed", "values": list(seeds)}]
                answer = stack.client.post("/sweeps", json={"source_id": source, "recipe": _RECIPE, "spans": spans})
                return {"status": answer.status_code, **answer.json()}

            def sentences(found: dict[str, Any]) -> set[str]:
                return {
                    str(take["fault"])
                    for take in stack.settled(study["id"], found["id"])["takes"]
                    if take["state"] == "failed"
                }

            filler = disk / "filler"
            running = sweep(range(_MANY))
            _fill(filler, disk)
            said = sentences(running)
            if said != {"The disk is full: make room on it and run this again."}:
                faults.append(f"full disk, takes: {said}")
            for what, answer in (
                ("upload", stack.client.post("/studies", files={"file": ("b.png", as_file(harbour(seed=2)))})),
                (
                    "sweep",
                    stack.client.post("/sweeps", json={"source_id": source, "recipe": {"size": 300}, "spans": []}),
                ),
            ):
                if answer.status_code not in (422, 507) or "room" not in answer.text:
                    faults.append(f"full disk, {what}: {answer.status_code} {answer.text[:200]}")
            parts = [path for path in (disk / "images").rglob("*.*")]
            if parts:
                faults.append(f"full disk: {len(parts)} half-written files")
            filler.unlink()
            again = sweep(range(_MANY))
            states = Counter(take["state"] for take in stack.settled(study["id"], again["id"])["takes"])
            if states != Counter(done=_MANY):
                faults.append(f"after room was made: {dict(states)}")
            subprocess.run(["mount", "-o", "remount,ro", str(disk)], check=True)
            said = sentences(sweep(range(100, 103)))
            if said != {"The folder of the pictures can't be written: allow it and run this again."}:
                faults.append(f"store that can't be written, takes: {said}")
            answer = stack.client.post("/studies", files={"file": ("b.png", as_file(harbour(seed=3)))})
            if answer.status_code != 507:
                faults.append(f"store that can't be written, upload: {answer.status_code} {answer.text[:200]}")
            if stack.client.get(f"/takes/{again['takes'][0]['id']}/image").status_code != 200:
                faults.append("store that can't be written: takes can't be seen")
            subprocess.run(["mount", "-o", "remount,rw", str(disk)], check=True)
        finally:
            stack.close()
    return faults


def _fill(filler: Path, disk: Path) -> None:
    with contextlib.suppress(OSError), filler.open("wb") as out:
        while True:
            out.write(bytes(min(1 << 20, max(shutil.disk_usage(disk).free, 1))))
            out.flush()


def database_away(seconds: float) -> list[str]:
    """A database that stays away for a while: what is asked is told so, and all goes on afterwards."""
    faults: list[str] = []
    stack = Stack(workers=1)
    try:
        study = stack.client.post("/studies", files={"file": ("in.png", as_file(harbour(170, 256)))}).json()
        spans = [{"control": "seed", "values": list(range(12))}]
        request = {"source_id": study["sources"][0]["id"], "recipe": _RECIPE, "spans": spans}
        sweep = stack.client.post("/sweeps", json=request).json()
        until = time.monotonic() + seconds
        seen: Counter[int] = Counter()
        while time.monotonic() < until:
            for pid, kind in processes(stack.folder).items():
                if kind == "database":
                    with contextlib.suppress(ProcessLookupError):
                        os.kill(pid, signal.SIGKILL)
            answer = stack.client.get("/studies")
            seen[answer.status_code] += 1
            if answer.status_code == 503 and ("Retry-After" not in answer.headers or "database" not in answer.text):
                faults.append(f"database away: {answer.text[:200]}")
            elif answer.status_code not in (200, 503):
                faults.append(f"database away: {answer.status_code} {answer.text[:200]}")
            time.sleep(0.2)
        if not seen[503]:
            faults.append(f"the database was never seen to be away: {dict(seen)}")
        began = time.monotonic()
        while stack.client.get("/studies").status_code != 200:
            if time.monotonic() - began > _BACK_SECONDS:
                faults.append("the database did not come back")
                return faults
            time.sleep(0.1)
        states = Counter(take["state"] for take in stack.settled(study["id"], sweep["id"])["takes"])
        if states != Counter(done=12):
            faults.append(f"after the database was away: {dict(states)}")
    finally:
        stack.close()
    return faults


def main() -> int:
    given = argparse.ArgumentParser(description=__doc__)
    given.add_argument("--kills", type=int, default=200)
    given.add_argument("--seed", type=int, default=1)
    given.add_argument("--away", type=float, default=60.0, help="seconds that the database stays away")
    chosen = given.parse_args()
    outcome = kills(chosen.kills, chosen.seed, lambda line: print(line, file=sys.stderr, flush=True))
    print(
        f"{sum(outcome.kills.values())} kills in {outcome.takes} takes\n\n| killed | times | back: median | longest |\n|---|---|---|---|"
    )
    for kind, seconds in outcome.back.items():
        ordered = sorted(seconds)
        print(f"| {kind} | {len(seconds)} | {ordered[len(ordered) // 2]:.1f} s | {ordered[-1]:.1f} s |")
    faults = list(outcome.faults)
    try:
        faults += disk_troubles()
    except PermissionError as error:
        print(f"left out: {error}")
    faults += database_away(chosen.away)
    print("\n".join(faults) or "nothing lost, nothing doubled, nothing stuck, nothing left behind")
    return 1 if faults else 0


if __name__ == "__main__":
    sys.exit(main())
