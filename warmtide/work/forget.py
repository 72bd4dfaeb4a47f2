"""What was deleted goes for good once nobody will take it back."""

from datetime import UTC, datetime, timedelta

from sqlalchemy import delete
from sqlalchemy.ext.asyncio import AsyncSession

from ..records.models import Study, Sweep

_KEPT_FOR = timedelta(days=7)


async def forget_deleted(session: AsyncSession) -> None:
    """Remove studies and sweeps that were deleted a week ago; takes that other sweeps hold stay."""
    before = datetime.now(UTC) - _KEPT_FOR
    for table in (Sweep, Study):
        await session.execute(delete(table).where(table.deleted < before))
