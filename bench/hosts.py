"""An installation on three machines: `python -m bench.hosts` (as root; about five minutes).

Three network namespaces on one bridge: one with the database, the bucket (a stand-in behind a bad line), the server; two with a worker each. Told
are takes a minute with one worker and with two, what a take costs beside its own work, and what is lost or made twice of 200 takes
while one machine's line is cut for a minute, the store is late and refuses one request in ten, and the database is killed and started
again. Exits 1 where a bound is missed.
"""

import argparse
import os
import subprocess
import sys
import time
from typing import Any

from tests.studio import Studio

_NET = "10.77.0"
_HOSTS = {"main": 1, "one": 2, "two": 3}
_BRIDGE = "wtbridge"
_RECIPE = {"look": "ink-comic", "size": 512, "steps": 12}
_TIMED, _ALL = 40, 200
_CUT_SECONDS = 60.0
_LATE, _REFUSED = 0.01, 0.1


def _ip(*words: str) -> None:
    subprocess.run(["ip", *words], check=True)


def _make_hosts() -> None:
    _ip("link", "add", _BRIDGE, "type", "bridge")
    _ip("link", "set", _BRIDGE, "up")
    for name, number in _HOSTS.items():
        _ip("netns", "add", f"wt-{name}")
        _ip("link", "add", f"wt{number}", "type", "veth", "peer", "name", "eth0", "netns", f"wt-{name}")
        _ip("link", "set", f"wt{number}", "master", _BRIDGE, "up")
        for words in (
            ("addr", "add", f"{_NET}.{number}/24", "dev", "eth0"),
            ("link", "set", "eth0", "up"),
            ("link", "set", "lo", "up"),
        ):
            _ip("-n", f"wt-{name}", *words)


def _remove_hosts() -> None:
    for name, number in _HOSTS.items():
        for words in (("link", "del", f"wt{number}"), ("netns", "del", f"wt-{name}")):
            subprocess.run(["ip", *words], check=False, capture_output=True)
    subprocess.run(["ip", "link", "del", _BRIDGE], check=False, capture_output=True)


def _on(name: str) -> list[str]:
    """What puts a command on a machine, under its own name."""
    return ["ip", "netns", "exec", f"wt-{name}", "unshare", "--uts", "sh", "-c", f'hostname {name}; exec "$@"', "-"]


def _swept(studio: Studio, study: str, source: str, seeds: range) -> tuple[float, list[dict[str, Any]]]:
    """Seconds that takes of some seeds took, and the takes."""
    began = time.monotonic()
    sweep = studio.sweep(source, _RECIPE, [{"control": "seed", "values": list(seeds)}])
    takes = studio.settled(study, sweep, 900)
    return time.monotonic() - began, takes


def _speed() -> int:
    """Takes a minute with one worker and with two."""
    with Studio(f"{_NET}.1") as quiet:
        study, source = quiet.study(901, 720)
        quiet.worker("one", _on("one"))
        _swept(quiet, study, source, range(1, 6))
        alone, takes = _swept(quiet, study, source, range(100, 100 + _TIMED))
        beside = 1000 * (alone - sum(take["seconds"] for take in takes)) / len(takes)
        quiet.worker("two", _on("two"))
        _swept(quiet, study, source, range(10, 16))
        both, _ = _swept(quiet, study, source, range(200, 200 + _TIMED))
        print(
            f"one worker: {60 * _TIMED / alone:.0f} takes a minute; two: {60 * _TIMED / both:.0f}; {alone / both:.2f} times one"
        )
        print(f"a take costs {beside:.0f} ms beside what it takes itself ({os.cpu_count()} cores for everything)")
        hosts = sorted({worker["host"] for worker in quiet.machines()["workers"]})
        print(f"machines at work: {', '.join(hosts)}", flush=True)
    return 0


def _faults() -> int:
    """What is lost or doubled while everything goes wrong."""
    with Studio(f"{_NET}.1", _LATE, _REFUSED) as studio:
        study, source = studio.study(902, 360)
        for name in ("one", "two"):
            studio.worker(name, _on(name))
        began = time.monotonic()
        sweep = studio.sweep(source, {**_RECIPE, "size": 256}, [{"control": "seed", "values": list(range(_ALL))}])

        def done() -> int:
            return sum(take["state"] == "done" for take in studio.takes(study, sweep))

        while done() < _ALL // 5:
            time.sleep(0.2)
        cut, there_again = time.monotonic(), False
        _ip("-n", "wt-two", "link", "set", "eth0", "down")
        restarted = False
        while True:
            takes = studio.takes(study, sweep)
            if not restarted and done() > _ALL // 2:
                studio.restart_database()
                restarted = True
            if not there_again and time.monotonic() - cut > _CUT_SECONDS:
                _ip("-n", "wt-two", "link", "set", "eth0", "up")
                there_again = True
            if there_again and all(take["state"] in ("done", "failed", "stopped") for take in takes):
                break
            time.sleep(0.5)
        lost = [take for take in takes if take["state"] != "done"]
        doubled = _ALL - len({take["id"] for take in takes})
        print(
            f"{_ALL} takes in {time.monotonic() - began:.0f} s with a line cut for {_CUT_SECONDS:.0f} s, a store that was late and refused {studio.line.turned_away} requests, a database killed: {len(lost)} lost, {doubled} doubled; rendered {studio.renders()} times"
        )
        for take in lost[:3]:
            print(f"  {take['state']}: {take['fault']}")
    return int(bool(lost or doubled))


def main() -> int:
    given = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    given.add_argument("--only", choices=("speed", "faults"), help="one of the two parts")
    given.add_argument("--inside", action="store_true", help=argparse.SUPPRESS)
    chosen = given.parse_args()
    if chosen.inside:
        parts = {"speed": _speed, "faults": _faults}
        return max(part() for name, part in parts.items() if chosen.only in (None, name))
    only = ["--only", chosen.only] if chosen.only else []
    if os.geteuid() != 0:
        print("Network namespaces are made by root alone; run this as root.", file=sys.stderr)
        return 2
    _remove_hosts()
    try:
        _make_hosts()
        return subprocess.run(
            [*_on("main"), sys.executable, "-m", "bench.hosts", "--inside", *only], check=False
        ).returncode
    finally:
        _remove_hosts()


if __name__ == "__main__":
    sys.exit(main())
