"""What an artist is told when something outside of the program fails: the disk, the database, a picture's file."""

import errno
from dataclasses import dataclass

import psycopg
from fastapi import HTTPException
from procrastinate.exceptions import ConnectorException
from sqlalchemy.exc import DBAPIError, InterfaceError, OperationalError, SQLAlchemyError
from sqlalchemy.exc import TimeoutError as PoolTimeout

from ..records.store import LostPicture

FULL = "The disk is full; make room on it and try again. Nothing of what was there is lost."
AWAY = "The database is not there at the moment; it is being started again, and what you did is tried once more."
_NO_ROOM = (errno.ENOSPC, errno.EDQUOT)


@dataclass(frozen=True)
class Told:
    """How a fault is answered: its status, its sentence, and in how many seconds it is worth another try."""

    status: int
    message: str
    again_in: int | None = None


class Busy(Exception):
    """Too much is asked for at once; `str` says what to do."""


class TooSlow(HTTPException):
    """A sender takes too long."""

    def __init__(self) -> None:
        super().__init__(408, "The request came too slowly to be taken; send it again.", {"Connection": "close"})


# What may be raised by something outside of the program.
OUTSIDE: tuple[type[Exception], ...] = (
    Busy, LostPicture, OSError, psycopg.Error, SQLAlchemyError, ConnectorException,
)  # fmt: skip


def told(error: BaseException) -> Told | None:
    """What is said of a fault, or None where it is one of our own."""
    cause = (
        error.orig
        if isinstance(error, DBAPIError)
        else error.__cause__
        if isinstance(error, ConnectorException)
        else error
    )
    if isinstance(error, Busy):
        return Told(503, str(error), 5)
    if isinstance(error, LostPicture):
        return Told(410, str(error))
    if isinstance(cause, psycopg.errors.DiskFull) or (isinstance(cause, OSError) and cause.errno in _NO_ROOM):
        return Told(507, FULL)
    if isinstance(cause, OSError) and cause.errno in (errno.EROFS, errno.EACCES):
        return Told(507, "The folder of the pictures can't be written; allow it and try again.")
    if isinstance(cause, psycopg.DataError):
        return Told(
            422, "There is something in this that can't be kept, such as a character that can't be seen; take it out."
        )
    away = (
        psycopg.OperationalError,
        psycopg.InterfaceError,
        OperationalError,
        InterfaceError,
        PoolTimeout,
        ConnectorException,
    )
    if (
        isinstance(error, away)
        or isinstance(cause, away)
        or (isinstance(error, DBAPIError) and error.connection_invalidated)
    ):
        return Told(503, AWAY, 2)
    return None
