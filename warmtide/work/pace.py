"""How fast this machine renders; other engines have paces of their own."""

from sqlalchemy import func, select
from sqlalchemy.ext.asyncio import AsyncSession

from ..core.model.recipe import ENGINE_VERSION
from ..records.models import Take, TakeState

_SAMPLE = 60


async def machine_factor(session: AsyncSession) -> float:
    """How this machine's recent takes compare with the expected seconds; 1 before there are any."""
    recent = (
        select(Take.seconds, Take.expected)
        .where(Take.state == TakeState.DONE, Take.engine == ENGINE_VERSION, Take.seconds > 0, Take.expected > 0.03)
        .order_by(Take.finished.desc())
        .limit(_SAMPLE)
        .subquery()
    )
    factor = await session.scalar(select(func.sum(recent.c.seconds) / func.sum(recent.c.expected)))
    return min(max(float(factor), 0.2), 10.0) if factor else 1.0
