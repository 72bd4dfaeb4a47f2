"""Studies as files, from the command line, whether the program is running or not."""

import asyncio
import json
import uuid
from contextlib import suppress
from pathlib import Path
from typing import TYPE_CHECKING, Any

from ..core.model.errors import BadInput
from .keeping import kept_in

if TYPE_CHECKING:
    from sqlalchemy.ext.asyncio import AsyncSession

    from ..core.pictures.image import Picture
    from ..records.database import Database
    from ..records.models import Study
    from ..records.store import ImageStore

WHICH = ("all", "kept", "none")


async def _named(session: "AsyncSession", wanted: str) -> "Study":
    """The study of a number, or of a name that only one has."""
    from sqlalchemy import select

    from ..records.models import Study

    try:
        found = [s for s in [await session.get(Study, uuid.UUID(wanted))] if s is not None]
    except ValueError:
        found = list(await session.scalars(select(Study).where(Study.name == wanted, Study.deleted.is_(None))))
    if len(found) > 1:
        raise BadInput(f"{len(found)} studies are called {wanted!r}; give the number that `warmtide study list` shows.")
    if not found or found[0].deleted is not None:
        raise BadInput(f"There is no study {wanted!r}; `warmtide study list` shows those there are.")
    return found[0]


def listed(as_json: bool, data: Path | None) -> None:
    """Every study: its number, its name, how many takes it has."""
    from sqlalchemy import func, select

    from ..records.models import Cell, Study, Sweep

    async def work(database: "Database", _: "ImageStore") -> list[dict[str, Any]]:
        counts = (
            select(func.count(Cell.take_id.distinct()))
            .join(Sweep, Sweep.id == Cell.sweep_id)
            .where(Sweep.study_id == Study.id, Sweep.deleted.is_(None))
            .scalar_subquery()
        )
        async with database.sessions() as session:
            rows = await session.execute(
                select(Study.id, Study.name, Study.touched, counts)
                .where(Study.deleted.is_(None))
                .order_by(Study.touched.desc())
            )
            return [{"id": str(i), "name": n, "touched": t.isoformat(), "takes": c} for i, n, t, c in rows.all()]

    with kept_in(data) as kept:
        found = asyncio.run(kept.do(work))
    if as_json:
        print(json.dumps({"studies": found}))
        return
    for study in found:
        print(f"{study['id']}  {study['takes']:5d} takes  {study['name']}")


def saved(study: str, out: Path, takes: str, data: Path | None) -> None:
    """Write a study as a file, or leave nothing."""
    from ..work.studyfile.collect import Which, collected
    from ..work.studyfile.write import written

    if takes not in WHICH:
        raise BadInput(f"--takes is {', '.join(WHICH[:-1])} or {WHICH[-1]}, not {takes!r}.")
    which: Which = takes  # type: ignore[assignment]

    async def work(database: "Database", store: "ImageStore") -> int:
        async with database.sessions() as session:
            told = await collected(session, store, await _named(session, study), which)
        part = out.with_name(f".{out.name}.{uuid.uuid4().hex[:8]}")
        try:
            with part.open("wb") as file:
                size = sum(file.write(piece) for piece in written(told, store))
            part.replace(out)
        except OSError as error:
            raise BadInput(f"{out} can't be written ({error.strerror}); name a file in a folder that can be.") from None
        finally:
            with suppress(OSError):
                part.unlink()
        return size

    with kept_in(data) as kept:
        print(f"{out}: {asyncio.run(kept.do(work)) / 1e6:.1f} MB")


def brought_in(file: Path, data: Path | None) -> None:
    """Bring a study in that was saved as a file."""
    from ..core.pictures.image import decode
    from ..work.framer import Framer
    from ..work.studyfile.bring import brought_in as bring
    from ..work.studyfile.opened import OpenedStudy

    if not file.is_file():
        raise BadInput(f"{file} is no file; name one that `warmtide study export` wrote.")

    async def vet(found: bytes, side: int) -> "Picture":
        return await asyncio.to_thread(decode, found, side)

    async def work(database: "Database", store: "ImageStore") -> tuple[str, str]:
        opened = OpenedStudy(file)
        try:
            async with database.sessions() as session, session.begin():
                study = await bring(session, Framer(store), opened, vet)
                return str(study.id), study.name
        finally:
            opened.close()

    with kept_in(data) as kept:
        number, name = asyncio.run(kept.do(work))
    print(f"{number}  {name}")
