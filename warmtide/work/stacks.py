"""Touched pictures: their versions kept, their files read, the whole composed."""

import asyncio
import io
import threading
from typing import Any

import numpy as np
from PIL import Image
from sqlalchemy import delete, select
from sqlalchemy.ext.asyncio import AsyncSession

from ..core.job.told import way_of
from ..core.layers.compose import compose
from ..core.maths.arrays import Byte
from ..core.model.cache import SharedCache
from ..core.model.errors import BadInput
from ..core.model.stack import Stack
from ..core.pictures.image import decode, png
from ..records.models import StackRow, StackVersion
from ..records.store import ImageStore

# Decoded layers that are kept, so that a change of one decodes one.
_HELD = 256_000_000
# Versions that can be come back to.
_MOST_VERSIONS = 300
_PNG = b"\x89PNG"


class OtherWindow(Exception):
    """A touched picture was changed elsewhere since."""


class LayerFiles:
    """The pictures of layers, decoded once."""

    def __init__(self, store: ImageStore) -> None:
        self._store = store
        self._held = SharedCache(_HELD)
        self._one = threading.Lock()

    def __call__(self, digest: str) -> Byte:
        """Pixels (h, w, 4) by name."""
        found: Byte = self._held.get(digest, lambda: np.ascontiguousarray(decode(self._store.get(digest)).rgba))
        return found

    def composed(self, stack: Stack) -> Byte:
        """A stack as one picture (h, w, 4); one at a time, since each takes tens of megabytes."""
        with self._one:
            return compose(stack, self)

    def keep(self, rgba: Byte, inside: dict[str, Any] | None = None) -> str:
        """Keep a picture, with what it says of its own way; its name."""
        return self._store.put(png(rgba, inside))

    def ways(self, stack: Stack) -> dict[str, dict[str, Any]]:
        """How those of its pictures came about that say so."""
        told = {name: way_of(self._store.get(name)) for name in {layer.picture for layer in stack.layers} if name}
        return {name: way for name, way in told.items() if way is not None}


async def body_of(session: AsyncSession, row: StackRow) -> Stack:
    """A touched picture as it is seen now."""
    version = await session.get_one(StackVersion, (row.id, row.number))
    return Stack.model_validate(version.body)


async def begun(session: AsyncSession, row: StackRow, stack: Stack) -> None:
    """Keep a new touched picture with its first version."""
    session.add(row)
    await session.flush()
    session.add(_version(row, stack))
    await session.flush()


def _version(row: StackRow, stack: Stack) -> StackVersion:
    return StackVersion(
        stack_id=row.id, number=row.number, body=stack.model_dump(mode="json"), files=sorted(stack.pictures)
    )


async def changed(session: AsyncSession, row: StackRow, revision: int, stack: Stack, store: ImageStore) -> None:
    """Make `stack` the newest version; what was undone before it goes.

    Raises
    ------
    OtherWindow : it was changed elsewhere since `revision`. BadInput : it names a picture that is not there.
    """
    _refuse_older(row, revision)
    before = await body_of(session, row)
    new = stack.pictures - before.pictures
    missing = await asyncio.to_thread(lambda: [name for name in new if not _is_picture(store, name)])
    if missing:
        raise BadInput("A layer names a picture that is not kept here; bring the picture in first.")
    await asyncio.to_thread(_refuse_odd_masks, before, stack, store)
    await session.execute(
        delete(StackVersion).where(
            StackVersion.stack_id == row.id,
            (StackVersion.number > row.number) | (StackVersion.number <= row.number - _MOST_VERSIONS),
        )
    )
    row.number, row.revision = row.number + 1, row.revision + 1
    session.add(_version(row, stack))
    await session.flush()


def _is_picture(store: ImageStore, name: str) -> bool:
    """Whether a name is that of a picture as layers are kept; the store holds other files too."""
    return store.has(name) and store.get(name).startswith(_PNG)


def _refuse_odd_masks(before: Stack, after: Stack, store: ImageStore) -> None:
    """A mask is as large as its picture; only new ones are looked at."""
    known = {(layer.picture, layer.mask) for layer in before.layers}
    for layer in after.layers:
        if layer.picture is None or layer.mask is None or (layer.picture, layer.mask) in known:
            continue
        sizes = [Image.open(io.BytesIO(store.get(name))).size for name in (layer.picture, layer.mask)]
        if sizes[0] != sizes[1]:
            (wide, high), (across, down) = sizes
            raise BadInput(f"The mask of “{layer.name}” is {across} x {down}, its picture {wide} x {high}; they must be of one size.")  # fmt: skip


async def stepped(session: AsyncSession, row: StackRow, revision: int, by: int) -> None:
    """Go a version back or forth; at either end nothing happens."""
    _refuse_older(row, revision)
    if await session.get(StackVersion, (row.id, row.number + by)) is not None:
        row.number, row.revision = row.number + by, row.revision + 1
        await session.flush()


async def versions_around(session: AsyncSession, row: StackRow) -> tuple[int, int]:
    """How many versions there are before and after the one that is seen."""
    numbers = list(await session.scalars(select(StackVersion.number).where(StackVersion.stack_id == row.id)))
    return sum(n < row.number for n in numbers), sum(n > row.number for n in numbers)


def _refuse_older(row: StackRow, revision: int) -> None:
    if revision != row.revision:
        raise OtherWindow
