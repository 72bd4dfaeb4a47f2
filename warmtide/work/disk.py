"""Room on the disk, and what studies take of it."""

import asyncio
import shutil
import time
from dataclasses import dataclass
from uuid import UUID

from sqlalchemy import select
from sqlalchemy.ext.asyncio import AsyncSession

from ..core.model.errors import BadInput
from ..records.models import Cell, Source, StackRow, StackVersion, Study, Sweep, Take
from ..records.store import ImageStore

# What is left for everything else that writes: the database, logs, other programs.
_RESERVE = 200_000_000
_FRESH_SECONDS = 20.0


@dataclass(frozen=True)
class Room:
    """Bytes of the disk that holds the pictures; None where the store is no folder of this machine."""

    total: int
    free: int


def room(store: ImageStore) -> Room | None:
    """How much room there is."""
    folder = store.folder
    if folder is None or not folder.exists():
        return None
    found = shutil.disk_usage(folder)
    return Room(found.total, found.free)


def check_room(store: ImageStore, wanted: int) -> None:
    """Whether so many bytes can be kept.

    Raises
    ------
    BadInput : there is too little room.
    """
    found = room(store)
    if found is not None and wanted + _RESERVE > found.free:
        raise BadInput(
            f"This needs {wanted / 1e6:.0f} MB and the disk has {found.free / 1e6:.0f} MB left, of which {_RESERVE / 1e6:.0f} "
            "stay free; make room on it or run fewer takes."
        )


class Usage:
    """What each study takes; worked out anew at most every 20 s."""

    def __init__(self, store: ImageStore) -> None:
        self._store = store
        self._at = -_FRESH_SECONDS
        self._found: tuple[int, dict[UUID, int]] = (0, {})
        self._turn = asyncio.Lock()

    async def of_studies(self, session: AsyncSession) -> tuple[int, dict[UUID, int]]:
        """Bytes of all files, and of each study on the shelf; what two studies share counts for both."""
        async with self._turn:
            if time.monotonic() - self._at > _FRESH_SECONDS:
                self._found, self._at = await self._counted(session), time.monotonic()
            return self._found

    async def _counted(self, session: AsyncSession) -> tuple[int, dict[UUID, int]]:
        sizes = await asyncio.to_thread(lambda: {kept.digest: kept.size for kept in self._store.everything()})
        files: dict[UUID, set[str | None]] = {}
        for row in await session.execute(
            select(Source.study_id, Source.original, Source.depth, Source.region, Source.subject)
        ):
            files.setdefault(row[0], set()).update(row[1:])
        layers = select(StackRow.study_id, StackVersion.files).join(StackVersion, StackVersion.stack_id == StackRow.id)
        for study, names in await session.execute(layers):
            files.setdefault(study, set()).update(names)
        held = (
            select(Sweep.study_id, Take.image, Take.preview, Take.thumb)
            .join(Cell, Cell.sweep_id == Sweep.id)
            .join(Take, Take.id == Cell.take_id)
        )
        for taken in await session.execute(held):
            files.setdefault(taken[0], set()).update(taken[1:])
        shown = set(await session.scalars(select(Study.id).where(Study.deleted.is_(None))))
        by_study = {
            study: sum(sizes.get(str(name), 0) for name in names) for study, names in files.items() if study in shown
        }
        return sum(sizes.values()), by_study
