"""What an artist is told when something outside of the program fails: the disk, the database, a picture's file."""

from dataclasses import dataclass

import psycopg
from fastapi import HTTPException
from procrastinate.exceptions import ConnectorException
from sqlalchemy.exc import DBAPIError, InterfaceError, OperationalError, SQLAlchemyError
from sqlalchemy.exc import TimeoutError as PoolTimeout

from ..records.store import FULL, LostPicture, refused_by_disk

AWAY = "The database is not there at the moment; it is being started again, and what you did is tried once more."
_UNKEPT = "There is something in this that can't be kept, such as a character that can't be seen; take it out."
# What a database raises that is not there.
_AWAY = (
    psycopg.OperationalError,
    psycopg.InterfaceError,
    OperationalError,
    InterfaceError,
    PoolTimeout,
    ConnectorException,
)


@dataclass(frozen=True)
class Told:
    """How a fault is answered: its status, its sentence, and in how many seconds it is worth another try."""

    status: int
    message: str
    again_in: int | None = None


class Busy(Exception):
    """Too much is asked for at once; `str` says what to do."""


class Ended(Exception):
    """A process that was to do something has ended; `str` says what to do."""


class TooSlow(HTTPException):
    """A sender takes too long."""

    def __init__(self) -> None:
        super().__init__(408, "The request came too slowly to be taken; send it again.", {"Connection": "close"})


# What may be raised by something outside of the program.
OUTSIDE: tuple[type[Exception], ...] = (
    Busy, Ended, LostPicture, OSError, psycopg.Error, SQLAlchemyError, ConnectorException,
)  # fmt: skip


def told(error: BaseException) -> Told | None:
    """What is said of a fault, or None where it is one of our own."""
    cause: BaseException | None = error
    if isinstance(error, DBAPIError):
        cause = error.orig
    elif isinstance(error, ConnectorException):
        cause = error.__cause__
    if isinstance(error, Busy):
        return Told(429, str(error), 5)
    if isinstance(error, Ended):
        return Told(503, str(error))
    if isinstance(error, LostPicture):
        return Told(410, str(error))
    said = FULL if isinstance(cause, psycopg.errors.DiskFull) else refused_by_disk(cause)
    if said is not None:
        return Told(507, said)
    if isinstance(cause, psycopg.DataError):
        return Told(422, _UNKEPT)
    gone = isinstance(error, DBAPIError) and error.connection_invalidated
    return Told(503, AWAY, 2) if gone or isinstance(error, _AWAY) or isinstance(cause, _AWAY) else None
