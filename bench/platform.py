"""What everything around the engine costs: `python -m bench.platform`.

Share of the platform in a 20-take sweep (1 - engine time / (wall x workers)), time from Run to the first take
that the event stream tells of, time from a worker's commit to the event, start-up.
"""

import asyncio
import json
import tempfile
import threading
import time
from pathlib import Path

import httpx
import psycopg
from sqlalchemy import select

from tests.bed import SMALL, Bed
from tests.stack import Stack, database_address
from warmtide.records.models import Cell, Study
from warmtide.web.events import Events
from warmtide.work.queue import tell

_PICTURE = Path(__file__).parent.parent / "demo" / "pictures" / "quay.jpg"


def main() -> None:
    event_delay()
    began = time.perf_counter()
    stack = Stack(workers=2)
    print(f"first start on an empty folder, without the demo: {time.perf_counter() - began:.1f} s")
    stack.stop()
    starts = []
    for _ in range(3):
        began = time.perf_counter()
        stack = Stack(workers=2, folder=stack.folder)
        starts.append(time.perf_counter() - began)
        while stack.said().count("worker ready") < 2:
            time.sleep(0.1)
        if len(starts) < 3:
            stack.stop()
    print("further starts: " + ", ".join(f"{s:.1f} s" for s in starts))
    try:
        for look in ("watercolour", "ink-comic", "pencil"):
            sweep(stack, look)
    finally:
        stack.close()


def event_delay() -> None:
    """Milliseconds from a worker's notice in the database to the server's event streams, the take read on the way."""

    async def play(folder: str) -> list[float]:
        bed = Bed(database_address(), folder)
        async with bed.database.sessions.begin() as session:
            session.add(Study(name="bed", sources=[bed.source]))
        async with bed.app.open_async():
            sweep_id = await bed.start(SMALL, [])
        async with bed.database.sessions() as session:
            take_id = await session.scalar(select(Cell.take_id).where(Cell.sweep_id == sweep_id))
        assert take_id is not None
        events = Events(bed.database)
        listening = asyncio.create_task(events.listen())
        stream = events.stream(str(bed.source.study_id))
        delays = []
        async with await psycopg.AsyncConnection.connect(bed.database.address, autocommit=True) as connection:
            heard = asyncio.ensure_future(anext(stream))
            await asyncio.sleep(0.5)
            for _ in range(100):
                began = time.perf_counter()
                await tell(connection, take_id)
                while (await heard)["event"] == "afresh":
                    heard = asyncio.ensure_future(anext(stream))
                delays.append((time.perf_counter() - began) * 1000)
                heard = asyncio.ensure_future(anext(stream))
                await asyncio.sleep(0.01)
            heard.cancel()
        listening.cancel()
        await asyncio.gather(listening, return_exceptions=True)
        await bed.database.close()
        return sorted(delays)

    with tempfile.TemporaryDirectory() as folder:
        delays = asyncio.run(play(folder))
    print(
        f"from a worker's notice to the event streams: median {delays[50]:.1f} ms, 99 of 100 under {delays[98]:.1f} ms"
    )


def sweep(stack: Stack, look: str) -> None:
    """Run 5 strengths x 4 seeds at 512 px and say where the time went."""
    study = stack.client.post("/studies", files={"file": ("quay.jpg", _PICTURE.read_bytes())}).json()
    heard: list[tuple[float, str, dict]] = []  # type: ignore[type-arg]
    ready, over = threading.Event(), threading.Event()

    def listen() -> None:
        address = f"{stack.url}/api/studies/{study['id']}/events"
        with httpx.stream("GET", address, timeout=120, trust_env=False) as stream:
            done = 0
            for line in stream.iter_lines():
                if line.startswith("event: hello"):
                    ready.set()
                if line.startswith("data: ") and '"state"' in line:
                    take = json.loads(line[6:])["take"]
                    heard.append((time.perf_counter(), take["state"], take))
                    done += take["state"] == "done"
                    if done == 20:
                        over.set()
                        return

    thread = threading.Thread(target=listen, daemon=True)
    thread.start()
    ready.wait(10)
    request = {
        "source_id": study["sources"][0]["id"], "recipe": {"look": look},
        "spans": [{"control": "seed", "values": [1, 2, 3, 4]}, {"control": "strength", "values": [0.3, 0.45, 0.6, 0.75, 0.9]}],
    }  # fmt: skip
    began = time.perf_counter()
    stack.client.post("/sweeps", json=request).raise_for_status()
    posted = time.perf_counter() - began
    over.wait(120)
    wall = max(t for t, _, _ in heard) - began
    first = min(t for t, state, _ in heard if state == "done") - began
    engine = sum(take["seconds"] for _, state, take in heard if state == "done")
    print(
        f"{look}: 20 takes in {wall:.2f} s, engine {engine:.2f} s on 2 workers, platform {1 - engine / (wall * 2):.0%}; "
        f"answer after {posted * 1000:.0f} ms, first take after {first:.2f} s"
    )


if __name__ == "__main__":
    main()
