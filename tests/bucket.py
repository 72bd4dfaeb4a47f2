"""A bucket for tests: a service that speaks S3 in a process of its own, and a bad line to it."""

import asyncio
import random
import subprocess
import sys
import threading
import time
from types import TracebackType

import httpx

from warmtide.launch.postgres import free_port
from warmtide.records.store_address import StoreAddress

_BEGUN_WITHIN = 60.0
_BUSY = b"HTTP/1.1 503 Slow Down\r\nContent-Length: 0\r\nConnection: close\r\n\r\n"


class Bucket:
    """The service with one bucket, as long as the block runs; `keys` for the environment."""

    keys = {"AWS_ACCESS_KEY_ID": "quay", "AWS_SECRET_ACCESS_KEY": "lantern-walk", "AWS_DEFAULT_REGION": "us-east-1"}  # noqa: RUF012

    def __init__(self, host: str = "127.0.0.1") -> None:
        self.port = free_port()
        self.endpoint = f"http://{host}:{self.port}"
        self._process = subprocess.Popen(
            [sys.executable, "-m", "moto.server", "-H", host, "-p", str(self.port)],
            stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
        )

    def __enter__(self) -> "Bucket":
        deadline = time.monotonic() + _BEGUN_WITHIN
        while True:
            try:
                httpx.put(f"{self.endpoint}/pictures", timeout=5, trust_env=False).raise_for_status()
                return self
            except httpx.HTTPError:
                if time.monotonic() > deadline or self._process.poll() is not None:
                    raise
                time.sleep(0.1)

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None
    ) -> None:
        self._process.terminate()
        self._process.wait()

    def at(self, endpoint: str | None = None) -> StoreAddress:
        """Where its pictures are, over another line if one is named."""
        return StoreAddress("s3://pictures/warm-tide", endpoint or self.endpoint)


class BadLine:
    """A line to a service on which every answer is late, and a share of the requests is refused; in a thread of its own."""

    def __init__(self, port: int, late: float, refused: float, at: str = "127.0.0.1") -> None:
        self.port, self._to, self._at, self._late, self._refused = free_port(), port, at, late, refused
        self._chance = random.Random(5)
        self.turned_away = 0
        self._loop = asyncio.new_event_loop()
        self._ready = threading.Event()
        self._thread = threading.Thread(target=self._run, daemon=True)

    @property
    def endpoint(self) -> str:
        return f"http://{self._at}:{self.port}"

    def __enter__(self) -> "BadLine":
        self._thread.start()
        self._ready.wait(10)
        return self

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None
    ) -> None:
        asyncio.run_coroutine_threadsafe(self._end(), self._loop)
        self._thread.join(5)

    async def _end(self) -> None:
        others = [task for task in asyncio.all_tasks() if task is not asyncio.current_task()]
        for task in others:
            task.cancel()
        await asyncio.gather(*others, return_exceptions=True)
        self._loop.stop()

    def _run(self) -> None:
        asyncio.set_event_loop(self._loop)
        self._loop.run_until_complete(asyncio.start_server(self._served, self._at, self.port))
        self._ready.set()
        self._loop.run_forever()

    async def _served(self, reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        try:
            first = await reader.read(65536)
            await asyncio.sleep(self._late)
            if self._chance.random() < self._refused:
                self.turned_away += 1
                writer.write(_BUSY)
                await writer.drain()
                return
            there, back = await asyncio.open_connection("127.0.0.1", self._to)
            back.write(first)
            # One request a connection, so that each has its own luck.
            await asyncio.gather(_passed(reader, back), _passed(there, writer, self._late))
        except (OSError, asyncio.CancelledError):
            return
        finally:
            writer.close()


async def _passed(reader: asyncio.StreamReader, writer: asyncio.StreamWriter, late: float = 0.0) -> None:
    try:
        while data := await reader.read(65536):
            writer.write(data)
            await writer.drain()
    except (OSError, asyncio.CancelledError):
        return
    finally:
        writer.close()
