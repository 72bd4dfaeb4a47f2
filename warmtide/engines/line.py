"""The line to one engine: requests with its token, limits of size and time, trying again where that is safe, and leaving it alone while it is away."""

import contextlib
import queue
import ssl
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import httpx
import tenacity

from ..core.model.errors import BadInput
from .answers import sentence_from
from .protocol import JSON_BYTES, SILENCE, STREAM_BYTES

# Seconds until a connection stands, until an answer begins, and on the whole until an engine that is away is given up.
CONNECT, ANSWER, GIVE_UP = 1.5, 4.0, 4.0
# Seconds after which whoever waits for a stream looks up, and pieces of it that are read ahead.
LOOK_EVERY, _AHEAD = 0.25, 64
# Seconds for which an engine is left alone that did not answer, so that the takes behind say so at once.
LEFT_ALONE = 8.0
_LATER = (429, 502, 503, 504)


class Away(BadInput):
    """The engine does not answer."""


class _Again(Exception):
    """Worth another try."""


@dataclass(frozen=True)
class Address:
    """Where an engine is: its URL, the file of its token, and of the authority that its certificate is checked by."""

    url: str
    token_file: Path | None = None
    ca_file: Path | None = None

    def token(self) -> str | None:
        """The token, read anew each time so that it can be changed. Raises `BadInput`."""
        if self.token_file is None:
            return None
        try:
            found = self.token_file.read_text().strip()
        except (OSError, UnicodeDecodeError):
            raise BadInput("The file of the engine's token can't be read; name it with --token-file.") from None
        if not found or not found.isascii() or not found.isprintable():
            raise BadInput("The file of the engine's token holds no token in one line.")
        return found

    def trusted(self) -> Any:
        """What its certificate is checked by."""
        return ssl.create_default_context(cafile=str(self.ca_file)) if self.ca_file else True


class Line:
    """Requests to one engine, from several threads."""

    def __init__(self, address: Address, title: str = "") -> None:
        self.address, self.title = address, title or address.url
        self._client = httpx.Client(
            base_url=address.url.rstrip("/"), verify=address.trusted(), follow_redirects=False, trust_env=False,
            timeout=httpx.Timeout(ANSWER, connect=CONNECT), limits=httpx.Limits(max_connections=80),
        )  # fmt: skip
        self._alone_until = 0.0

    def close(self) -> None:
        self._client.close()

    def away(self) -> Away:
        """What is said of an engine that does not answer."""
        return Away(f"{self.title} does not answer; start it, then run this again.")

    def fault(self, error: BadInput) -> BadInput:
        """What is wrong with an answer, as a sentence."""
        return BadInput(f"{self.title} {str(error).rstrip('.')}.")

    def _headers(self) -> dict[str, str]:
        token = self.address.token()
        return {} if token is None else {"Authorization": f"Bearer {token}"}

    def asked(
        self, method: str, path: str, most: int = JSON_BYTES, patient: bool = True, **more: Any
    ) -> tuple[httpx.Response, bytes]:
        """An answer that says that all is well, and its body of at most `most` bytes. Every request of the protocol may be sent twice.

        Raises
        ------
        Away : nobody answers within four seconds (one try, if not `patient`), or somebody has just found that out. BadInput : a refusal, or an answer that is too long.
        """
        tries = tenacity.Retrying(
            retry=tenacity.retry_if_exception_type(_Again), wait=tenacity.wait_exponential_jitter(0.15, 1.2, jitter=0.1),
            stop=tenacity.stop_after_delay(GIVE_UP - CONNECT) if patient else tenacity.stop_after_attempt(1), reraise=True,
        )  # fmt: skip

        if time.monotonic() < self._alone_until:
            raise self.away()
        try:
            return tries(self._once, method, path, most, **more)
        except _Again:
            self._alone_until = time.monotonic() + LEFT_ALONE
            raise self.away() from None

    def _once(self, method: str, path: str, most: int, **more: Any) -> tuple[httpx.Response, bytes]:
        try:
            with self._client.stream(method, path, headers=self._headers(), **more) as answer:
                if answer.status_code in _LATER:
                    raise _Again
                return answer, self._checked(answer, self._body(answer, most))
        except httpx.ConnectError as error:
            if "CERTIFICATE" in str(error).upper():
                raise BadInput(
                    f"{self.title} shows a certificate that can't be trusted; name its authority with --ca-file."
                ) from None
            raise _Again from None
        except (httpx.TransportError, httpx.StreamError):
            raise _Again from None

    def _body(self, answer: httpx.Response, most: int) -> bytes:
        found, deadline = bytearray(), time.monotonic() + 6 * ANSWER
        for chunk in answer.iter_bytes():
            found += chunk
            if len(found) > most:
                raise self.fault(BadInput(f"answered with more than the {most} bytes that it may"))
            if time.monotonic() > deadline:
                raise self.fault(BadInput("answered too slowly"))
        return bytes(found)

    def _checked(self, answer: httpx.Response, body: bytes) -> bytes:
        status = answer.status_code
        if 200 <= status < 300:
            return body
        if status in (401, 403):
            raise self.fault(BadInput("does not take the token; give the right one with --token-file"))
        if 300 <= status < 400:
            raise self.fault(BadInput("points to another address; give that one to `warmtide engine add`"))
        if status == 404:
            raise Unknown(f"{self.title} knows nothing at {answer.request.url.path}.")
        raise BadInput(f"{self.title}: {_error_in(body) or f'it refused with status {status}.'}")

    @contextmanager
    def streamed(self, path: str, look_up: Callable[[], None]) -> Iterator[httpx.Response]:
        """A stream that is read while it comes; `look_up` is called every quarter of a second meanwhile, and what it raises ends the stream.
        Raises `Broken` where it can't be had or ends in between."""
        try:
            timeout = httpx.Timeout(SILENCE, connect=CONNECT)
            with self._client.stream(
                "GET", path, headers={**self._headers(), "Accept": "text/event-stream"}, timeout=timeout
            ) as answer:
                if answer.status_code == 404:
                    raise Unknown(f"{self.title} does not know this render.")
                if answer.status_code != 200:
                    raise Broken
                answer.stream = _Counted(answer.stream, look_up)
                yield answer
        except (httpx.TransportError, httpx.StreamError):
            raise Broken from None


class _Counted(httpx.SyncByteStream):
    """A stream that ends with a fault when it has brought more than it may (its lines have no end of their own), and whose reader looks up
    while nothing comes: the stream itself is read in a thread, since reading waits."""

    def __init__(self, stream: Any, look_up: Callable[[], None]) -> None:
        self._stream, self._look_up = stream, look_up
        self._come: queue.Queue[bytes | Exception | None] = queue.Queue(_AHEAD)
        self._over = threading.Event()

    def _read(self) -> None:
        found: bytes | Exception | None = None
        try:
            for chunk in self._stream:
                if self._over.is_set():
                    return
                self._come.put(chunk, timeout=SILENCE)
        except Exception as error:
            found = error
        with contextlib.suppress(queue.Full):
            self._come.put(found, timeout=SILENCE)

    def __iter__(self) -> Iterator[bytes]:
        threading.Thread(target=self._read, daemon=True).start()
        read, heard = 0, time.monotonic()
        while True:
            self._look_up()
            try:
                chunk = self._come.get(timeout=LOOK_EVERY)
            except queue.Empty:
                if time.monotonic() - heard > SILENCE:
                    raise Broken from None
                continue
            heard = time.monotonic()
            if chunk is None:
                return
            if isinstance(chunk, Exception):
                raise chunk
            read += len(chunk)
            if read > STREAM_BYTES:
                raise BadInput(f"An engine sent more than {STREAM_BYTES // 10**6} MB of events for one take.")
            yield chunk

    def close(self) -> None:
        self._over.set()
        self._stream.close()


class Broken(Exception):
    """A stream ended before it was over."""


class Unknown(BadInput):
    """The engine knows nothing of what was asked for."""


def _error_in(body: bytes) -> str | None:
    """The sentence of a refusal."""
    try:
        found = httpx.Response(200, content=body).json().get("error")
    except (ValueError, AttributeError):
        return None
    return sentence_from(found) if isinstance(found, str) and found.strip() else None
