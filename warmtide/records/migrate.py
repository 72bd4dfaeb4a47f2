"""Bring a database to the newest tables."""

from pathlib import Path

from alembic import command
from alembic.config import Config

from .database import async_address


def migrate(address: str) -> None:
    """Run every migration that is missing."""
    config = Config()
    config.set_main_option("script_location", str(Path(__file__).parent / "migrations"))
    config.set_main_option("sqlalchemy.url", async_address(address).replace("%", "%%"))
    command.upgrade(config, "head")
