"""Connections and sessions."""

import orjson
from sqlalchemy.ext.asyncio import AsyncEngine, AsyncSession, async_sessionmaker, create_async_engine


def async_address(address: str) -> str:
    """SQLAlchemy's address for a plain postgresql:// one."""
    return address.replace("postgresql://", "postgresql+psycopg://", 1)


class Database:
    """An engine with its session factory."""

    def __init__(self, address: str, pool: int = 8) -> None:
        self.address = address
        self.engine: AsyncEngine = create_async_engine(
            async_address(address), pool_size=pool, pool_pre_ping=True, json_deserializer=orjson.loads
        )
        self.sessions: async_sessionmaker[AsyncSession] = async_sessionmaker(self.engine, expire_on_commit=False)

    async def close(self) -> None:
        await self.engine.dispose()
