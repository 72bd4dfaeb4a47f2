"""How long it takes to show every look on a new source: `python -m bench.previews`.

Two requests under way at a time, as the looks panel asks; a second source follows on the warm process. Exits 1 where a
bound is missed.
"""

import sys
import time
from concurrent.futures import ThreadPoolExecutor

from bench.bring_in import busy_picture
from tests.pictures import as_file
from tests.stack import Stack

_ALL, _FIRST, _LEARNED = 15.0, 1.0, 5


def seconds(stack: Stack, seed: int, names: list[str]) -> list[float]:
    """When each preview of a new source stands there, in the order in which they come."""
    data = as_file(busy_picture(683, 1024, seed), "JPEG")
    source = stack.client.post("/studies", files={"file": ("new.jpg", data)}).json()["sources"][0]
    began = time.perf_counter()

    def one(name: str) -> float:
        stack.client.get(f"/sources/{source['id']}/looks/{name}/preview").raise_for_status()
        return time.perf_counter() - began

    with ThreadPoolExecutor(2) as pool:
        return sorted(pool.map(one, names))


def main() -> int:
    stack = Stack(workers=2)
    missed = []
    try:
        for k in range(_LEARNED):
            picture = as_file(busy_picture(256, 256, 90 + k))
            stack.client.post("/looks", files=[("files", (f"own {k}.png", picture))]).raise_for_status()
        names = [look["name"] for look in stack.client.get("/choices").json()["looks"]]
        for seed, what in ((1, "process just begun"), (2, "process warm"), (3, "process warm")):
            spent = seconds(stack, seed, names)
            print(f"{what}: first of {len(names)} after {spent[0]:.2f} s, all after {spent[-1]:.1f} s")
            if spent[-1] > _ALL:
                missed.append(f"all {spent[-1]:.1f} s > {_ALL} s")
            if seed > 1 and spent[0] > _FIRST:
                missed.append(f"first {spent[0]:.2f} s > {_FIRST} s")
    finally:
        stack.close()
    for line in missed:
        print("MISSED", line)
    return 1 if missed else 0


if __name__ == "__main__":
    sys.exit(main())
