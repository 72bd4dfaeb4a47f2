"""Learned looks between the records and the engine: kept as files, made known to a process when it needs them."""

import asyncio
from collections.abc import Iterable
from datetime import UTC, datetime
from typing import Any

from sqlalchemy import select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.ext.asyncio import AsyncSession

from ..core.looks.learned.dictionary import Dictionary, learn, read, written
from ..core.looks.learned.painter import look_from
from ..core.looks.registry import add, is_known
from ..core.maths.arrays import Byte
from ..core.model.errors import BadInput
from ..records.models import LearnedLook
from ..records.store import ImageStore

_PREFIX = "learned-"
_TITLE_MOST = 80


async def know(session: AsyncSession, store: ImageStore, names: Iterable[str]) -> None:
    """Make the learned looks among `names` known to this process.

    Raises
    ------
    BadInput : one of them is not kept here.
    """
    for name in set(names):
        if not name.startswith(_PREFIX):
            continue
        row = await session.get(LearnedLook, name)
        if row is None:
            raise BadInput(f"The look {name!r} is not here; learn it again or bring in its file.")
        if is_known(name):
            continue
        data = await asyncio.to_thread(store.get, row.file)
        add(look_from(await asyncio.to_thread(read, data)))


async def keep(session: AsyncSession, store: ImageStore, dictionary: Dictionary) -> LearnedLook:
    """Keep a learned look; one that is kept already takes the new title."""
    look = add(look_from(dictionary))
    digest = await asyncio.to_thread(store.put, written(dictionary))
    colours = [[round(float(v), 4) for v in colour] for colour in dictionary.colours]
    values: dict[str, Any] = {
        "name": look.name, "title": dictionary.name[:_TITLE_MOST], "file": digest,
        "references": len(dictionary.references), "colours": colours,
    }  # fmt: skip
    statement = insert(LearnedLook).values(**values, created=datetime.now(UTC))
    await session.execute(
        statement.on_conflict_do_update(index_elements=["name"], set_={"title": values["title"], "file": digest})
    )
    found = await session.get(LearnedLook, look.name, populate_existing=True)
    assert found is not None
    return found


async def learned_from(pictures: list[Byte], title: str) -> Dictionary:
    """Learn in a thread, so that the server goes on answering."""
    return await asyncio.to_thread(learn, pictures, title[:_TITLE_MOST])


async def all_learned(session: AsyncSession) -> list[LearnedLook]:
    """Every learned look, the newest first."""
    return list(await session.scalars(select(LearnedLook).order_by(LearnedLook.created.desc())))
