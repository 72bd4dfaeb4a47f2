"""Verify everything that is kept, and mend what can be mended."""

import asyncio
from collections.abc import Callable
from dataclasses import dataclass, field

import procrastinate
from sqlalchemy import select
from sqlalchemy.ext.asyncio import AsyncSession
from sqlalchemy.orm import selectinload

from ..core.model.errors import BadInput
from ..core.pictures.image import decode
from ..records.database import Database
from ..records.models import LearnedLook, Source, StackRow, StackVersion, Study, Take, TakeState
from ..records.store import ImageStore, LostPicture
from .pictures import small_pictures
from .queue import defer, queue_of


@dataclass
class Report:
    """What was found. Sentences name what is lost for good until it is brought in again."""

    files: int = 0
    takes: int = 0
    mended: int = 0
    again: int = 0
    lost: list[str] = field(default_factory=list)


class Checker:
    """Reads every file that a record points at, once."""

    def __init__(self, store: ImageStore, report: Report) -> None:
        self.store, self.report = store, report
        self._known: dict[str, bool] = {}

    async def good(self, digest: str | None) -> bool:
        """Whether a file is there with the bytes that it was kept with; a name that was never given is no loss."""
        if digest is None:
            return True
        if digest not in self._known:
            self.report.files += 1
            self._known[digest] = await asyncio.to_thread(self._read, digest)
        return self._known[digest]

    def _read(self, digest: str) -> bool:
        try:
            self.store.get(digest)
            return True
        except (LostPicture, KeyError, OSError):
            return False


async def check(
    database: Database,
    store: ImageStore,
    queue: procrastinate.App | None,
    say: Callable[[int, int], None] | None = None,
) -> Report:
    """Verify the store; with a `queue` mend it too: small pictures are drawn again from their takes, takes without a
    picture are rendered again from their recipes."""
    report = Report()
    checker = Checker(store, report)
    async with database.sessions.begin() as session:
        await _originals(session, checker)
        ids = list(await session.scalars(select(Take.id).where(Take.state == TakeState.DONE).order_by(Take.created)))
    for number, take_id in enumerate(ids, 1):
        async with database.sessions.begin() as session:
            take = await session.get(Take, take_id, options=[selectinload(Take.source)])
            if take is not None:
                report.takes += 1
                await _take(session, checker, take, queue)
        if say is not None:
            say(number, len(ids))
    return report


async def _originals(session: AsyncSession, checker: Checker) -> None:
    rows = await session.execute(select(Source, Study.name).join(Study, Study.id == Source.study_id))
    for source, study in rows.all():
        for what, digest in (
            ("picture", source.original),
            ("depth guide", source.depth),
            ("region", source.region),
            ("subject", source.subject),
        ):
            if not await checker.good(digest):
                checker.report.lost.append(f"The {what} of the source {source.name!r} in {study!r}: bring it in again.")
    stacks = select(StackVersion, StackRow.name).join(
        StackRow, (StackRow.id == StackVersion.stack_id) & (StackRow.number == StackVersion.number)
    )
    for version, name in (await session.execute(stacks)).all():
        if not all([await checker.good(digest) for digest in version.files]):
            checker.report.lost.append(f"A layer of the touched picture {name!r}: bring its picture in again.")
    for look in await session.scalars(select(LearnedLook)):
        if not await checker.good(look.file):
            checker.report.lost.append(f"The learned look {look.title!r}: bring in its file or learn it again.")


async def _take(session: AsyncSession, checker: Checker, take: Take, queue: procrastinate.App | None) -> None:
    report, store = checker.report, checker.store
    if await checker.good(take.image) and take.image is not None:
        if await checker.good(take.preview) and await checker.good(take.thumb):
            return
        if queue is not None:
            picture = await asyncio.to_thread(lambda: decode(store.get(str(take.image))).rgba[..., :3])
            take.preview, take.thumb = await asyncio.to_thread(small_pictures, store, picture)
            report.mended += 1
        else:
            report.lost.append(f"Small pictures of the take {take.id}: --repair draws them again.")
        return
    if take.source is None or not await checker.good(take.source.original):
        report.lost.append(f"The picture of the take {take.id}: its source is gone too.")
    elif queue is None:
        report.lost.append(f"The picture of the take {take.id}: --repair renders it again.")
    else:
        take.state, take.step, take.fault, take.deaths, take.losses = TakeState.QUEUED, 0, None, 0, 0
        take.job_id = await defer(queue, session, take.id, queue=queue_of(take.engine))
        report.again += 1


def told(report: Report, repaired: bool) -> str:
    """A report in words."""
    lines = [f"{report.files} files of {report.takes} takes and their sources read."]
    if repaired and (report.mended or report.again):
        lines.append(
            f"{report.mended} takes have their small pictures again, {report.again} are rendered again when the program runs."
        )
    lines += report.lost or ["Everything is there."]
    return "\n".join(lines)


def refuse_lost(report: Report) -> None:
    """Exit code 2 where something is lost."""
    if report.lost:
        raise BadInput(f"{len(report.lost)} of the things that are kept are damaged or missing; see above.")
