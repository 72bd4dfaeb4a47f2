"""Files from outside are decoded in processes of their own: a hostile one ends its process, and nobody else's work."""

import asyncio
import json
import struct
import sys
import time
from asyncio.subprocess import PIPE, Process

import numpy as np
from fastapi import UploadFile

from ..core.model.errors import BadInput
from ..core.pictures.image import FILE_LIMIT, Picture
from ..settings import ROOT
from .turns import Turns

# Processes at once, files that may wait for one, and how long they do.
_AT_ONCE, _MOST_WAITING, _PATIENCE_SECONDS = 2, 24, 30.0
# However busy the machine is: a process that has not answered by then hangs.
_LONGEST_SECONDS = 40.0
# A process that has nothing to do ends after a while.
_IDLE_SECONDS = 60.0
_TOO_MUCH = (
    "The picture takes more memory or time to read than a picture should; save it again, smaller or as plain PNG."
)
_FULL = "Many pictures are being brought in at once; try again in a moment."


class Intake:
    """Two processes that decode, begun when first needed."""

    def __init__(self) -> None:
        self._turns = Turns(_AT_ONCE, _MOST_WAITING, _PATIENCE_SECONDS, _FULL)
        self._idle: list[tuple[Process, float]] = []
        self._ending: asyncio.Task[None] | None = None

    async def picture(self, upload: UploadFile, side: int) -> tuple[bytes, Picture]:
        """The bytes of an upload, and its picture with a long side of about `side` pixels or more.

        Raises
        ------
        BadInput : it is no picture that can be read. Busy : too many are brought in at once.
        """
        async with self._turns.taken():
            # Read only now: what waits is kept on disk.
            data = await upload.read(FILE_LIMIT + 1)
            return data, await self._decoded(data, side)

    async def read(self, data: bytes, side: int) -> Picture:
        """The same for bytes that came in another file."""
        async with self._turns.taken():
            return await self._decoded(data, side)

    async def _decoded(self, data: bytes, side: int) -> Picture:
        process = await self._process()
        try:
            async with asyncio.timeout(_LONGEST_SECONDS):
                picture = await _asked(process, data, side)
        except (TimeoutError, asyncio.IncompleteReadError, ConnectionError):
            await _end(process)
            raise BadInput(_TOO_MUCH) from None
        except BadInput:
            self._keep(process)
            raise
        except BaseException:
            # Whoever waited is gone, and the process is in the midst of an answer.
            await _end(process)
            raise
        self._keep(process)
        return picture

    async def _process(self) -> Process:
        while self._idle:
            process, _ = self._idle.pop()
            if process.returncode is None:
                return process
        # The limit of a line is that of its facts, not of its pixels.
        return await asyncio.create_subprocess_exec(
            sys.executable, "-m", "warmtide.web.intake_child", cwd=ROOT, stdin=PIPE, stdout=PIPE, limit=1 << 20
        )

    def _keep(self, process: Process) -> None:
        self._idle.append((process, time.monotonic()))
        if self._ending is None or self._ending.done():
            self._ending = asyncio.create_task(self._end_idle())

    async def _end_idle(self) -> None:
        while self._idle:
            await asyncio.sleep(_IDLE_SECONDS / 4)
            old = [(p, since) for p, since in self._idle if time.monotonic() - since > _IDLE_SECONDS]
            self._idle = [pair for pair in self._idle if pair not in old]
            for process, _ in old:
                await _end(process)

    async def close(self) -> None:
        """End every process."""
        if self._ending is not None:
            self._ending.cancel()
        for process, _ in self._idle:
            await _end(process)
        self._idle = []


async def _asked(process: Process, data: bytes, side: int) -> Picture:
    assert process.stdin is not None and process.stdout is not None
    process.stdin.write(struct.pack(">QI", len(data), side))
    process.stdin.write(data)
    await process.stdin.drain()
    line = await process.stdout.readline()
    if not line.endswith(b"\n"):
        raise asyncio.IncompleteReadError(line, None)
    facts = json.loads(line)
    if "refused" in facts:
        raise BadInput(facts["refused"])
    shape = (facts["height"], facts["width"], 4)
    pixels = await process.stdout.readexactly(int(np.prod(shape)))
    rgba = np.frombuffer(pixels, np.uint8).reshape(shape).copy()
    return Picture(rgba, facts["format"], tuple(facts["notes"]), (facts["whole"][0], facts["whole"][1]))


async def _end(process: Process) -> None:
    if process.returncode is None:
        process.kill()
    await process.wait()
