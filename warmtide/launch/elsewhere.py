"""A database that somebody else keeps running: nothing is started and nothing is ended."""

import time

from .refusal import Refusal

_WAIT = 30.0


class Elsewhere:
    """Stands where a database of our own would; `address` is all there is of it."""

    pid: int | None = None

    def __init__(self, address: str) -> None:
        self.address = address

    def is_made(self) -> bool:
        return True

    def make(self) -> None:
        """Whoever keeps it has made it."""

    def start(self) -> str:
        """Wait until it answers. Raises `Refusal` where it does not within half a minute."""
        import psycopg

        deadline = time.monotonic() + _WAIT
        while True:
            try:
                psycopg.connect(self.address, connect_timeout=5).close()
                return self.address
            except psycopg.OperationalError as error:
                if time.monotonic() > deadline:
                    why = str(error).strip().splitlines()[-1]
                    raise Refusal(f"The database that --database names does not answer: {why}") from None
                time.sleep(0.5)

    def tend(self) -> bool:
        """Whether it had to be started again: never here; the server and the workers wait for it by themselves."""
        return False

    def stop(self) -> None:
        """It goes on."""
