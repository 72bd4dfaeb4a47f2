"""Thousands of files that have something wrong about them, taken in by a running Warm Tide: `python -m bench.hostile
[--files 10000] [--seed 1]`. Exits 1 where one ends the server, is answered by a fault of ours (5xx), or memory grows."""

import argparse
import sys
import time
from collections import Counter
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

from bench.faults import processes
from tests.hostile import files
from tests.pictures import as_file, harbour
from tests.stack import Stack

# Resident megabytes that the server may have grown by, over what it had after the first hundred files.
_GROWN = 150


def megabytes(pid: int) -> float:
    """Resident memory of a process."""
    for line in Path(f"/proc/{pid}/status").read_text().splitlines():
        if line.startswith("VmRSS:"):
            return int(line.split()[1]) / 1000
    return 0.0


def send(stack: Stack, number: int, name: str, data: bytes, study: str, source: str) -> tuple[int, str]:
    """One file to one of the places that take files; the status and what was said."""
    if name == "look":
        path = "/looks/file"
    else:
        path = ("/studies", f"/studies/{study}/sources/file", f"/sources/{source}/depth", f"/sources/{source}/region")[
            number % 4
        ]
    method = "PUT" if path.endswith(("depth", "region")) else "POST"
    answer = stack.client.request(method, path, files={"file": (f"{name}.{number}", data)})
    while answer.status_code == 429:
        time.sleep(0.5)
        answer = stack.client.request(method, path, files={"file": (f"{name}.{number}", data)})
    return answer.status_code, answer.text


def main() -> int:
    given = argparse.ArgumentParser(description=__doc__)
    given.add_argument("--files", type=int, default=10_000)
    given.add_argument("--seed", type=int, default=1)
    chosen = given.parse_args()
    stack = Stack(workers=0)
    faults: list[str] = []
    statuses: Counter[int] = Counter()
    try:
        lot = files(chosen.files, chosen.seed)
        study = stack.client.post("/studies", files={"file": ("in.png", as_file(harbour()))}).json()
        (server,) = (pid for pid, kind in processes(stack.folder).items() if kind == "server")
        first = most = 0.0
        began = time.monotonic()
        with ThreadPoolExecutor(4) as pool:
            jobs = (
                pool.submit(send, stack, number, name, data, study["id"], study["sources"][0]["id"])
                for number, (name, data) in enumerate(lot)
            )
            waiting = []
            for number, job in enumerate(jobs):
                waiting.append(job)
                if len(waiting) < 64:
                    continue
                for done in waiting:
                    status, said = done.result()
                    statuses[status] += 1
                    if status >= 500:
                        faults.append(f"{status}: {said[:200]}")
                waiting = []
                most = max(most, megabytes(server))
                if number < 200:
                    first = most
            for done in waiting:
                status, said = done.result()
                statuses[status] += 1
                if status >= 500:
                    faults.append(f"{status}: {said[:200]}")
        if server not in processes(stack.folder):
            faults.append("the server ended")
        print(f"{sum(statuses.values())} files in {time.monotonic() - began:.0f} s: {dict(sorted(statuses.items()))}")
        print(f"the server's memory: {first:.0f} MB after the first hundreds, {most:.0f} MB at most")
        if most - first > _GROWN:
            faults.append(f"the server grew by {most - first:.0f} MB")
    finally:
        stack.close()
    print("\n".join(faults) or "no crash, no fault, memory bounded")
    return 1 if faults else 0


if __name__ == "__main__":
    sys.exit(main())
