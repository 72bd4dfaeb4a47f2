"""Who may come in, and what is promised to those who are in while others send slowly or ask for much."""

import asyncio
import re
import socket
import threading
import time
import unittest
from typing import Any
from unittest.mock import patch

import httpx
import uvicorn

from tests.pictures import as_file, harbour
from tests.stack import Stack, shared_stack
from warmtide.launch.postgres import free_port
from warmtide.web import guards, serve
from warmtide.web.entry import Door, is_our_name
from warmtide.web.guards import PunctualBodies


class Names(unittest.TestCase):
    def test_only_our_own_names_are_ours(self) -> None:
        own = frozenset({"127.0.0.1", "localhost", "[::1]"})
        for header in ("127.0.0.1:8765", "localhost", "LOCALHOST:1", "[::1]:8765", "[::1]", "localhost."):
            self.assertTrue(is_our_name(header, own), header)
        for header in (
            "",
            "elsewhere.example",
            "127.0.0.1.elsewhere.example",
            "192.168.1.4:8765",
            "localhost.evil:80",
            ":80",
        ):
            self.assertFalse(is_our_name(header, own), header)

    def test_everywhere_means_numbers_and_this_machines_name_only(self) -> None:
        own = frozenset({"127.0.0.1", "any-address", "atelier", "atelier.local"})
        for header in ("192.168.1.4:8765", "[fe80::1]:8765", "atelier:8765", "atelier.local"):
            self.assertTrue(is_our_name(header, own), header)
        for header in ("elsewhere.example", "1.2.3.4.elsewhere.example", "any-addressx"):
            self.assertFalse(is_our_name(header, own), header)


class Beyond(unittest.TestCase):
    """A server that others than this machine can reach."""

    stack: Stack

    @classmethod
    def setUpClass(cls) -> None:
        cls.stack = Stack(workers=0, host="0.0.0.0")
        cls.addClassCleanup(cls.stack.close)
        cls.key = (cls.stack.folder / "key").read_text()

    def client(self, **more: Any) -> httpx.Client:
        client = httpx.Client(base_url=self.stack.url, trust_env=False, **more)
        self.addCleanup(client.close)
        return client

    def test_the_key_is_printed_once_with_the_address(self) -> None:
        self.assertRegex(self.stack.said(), rf"http://[^/]+:{self.stack.port}/\?key={re.escape(self.key)}")

    def test_without_it_nothing_but_the_sign_in_page_answers(self) -> None:
        client = self.client()
        for path in ("/", "/study/abc", "/assets/x.js", "/favicon.svg"):
            page = client.get(path)
            self.assertIn("<label for=key>Key</label>", page.text, path)
            self.assertNotIn('id="root"', page.text)
        for path in ("/api/studies", "/api/openapi.json", "/api/metrics", "/api/alive", "/api/thumbs/" + "0" * 64):
            self.assertEqual(client.get(path).status_code, 401, path)
        self.assertEqual(client.post("/api/studies", files={"file": ("a.png", as_file(harbour()))}).status_code, 401)
        self.assertEqual(client.get("/api/studies", cookies={"warmtide": self.key[:-1]}).status_code, 401)

    def test_the_address_with_the_key_is_visited_once(self) -> None:
        client = self.client()
        answer = client.get(f"/?key={self.key}")
        self.assertEqual((answer.status_code, answer.headers["location"]), (303, "/"))
        cookie = answer.headers["set-cookie"].lower()
        for part in ("httponly", "samesite=strict", "path=/"):
            self.assertIn(part, cookie)
        self.assertIn('id="root"', client.get("/").text)
        self.assertEqual(client.get("/api/studies").status_code, 200)

    def test_the_key_can_be_typed(self) -> None:
        client = self.client()
        self.assertEqual(client.post("/sign-in", data={"key": f" {self.key} "}).status_code, 303)
        self.assertEqual(client.get("/api/studies").status_code, 200)

    def test_a_foreign_name_and_a_foreign_page_are_refused_with_the_key_too(self) -> None:
        client = self.client(cookies={"warmtide": self.key})
        self.assertEqual(client.get("/api/studies", headers={"Host": "elsewhere.example"}).status_code, 400)
        foreign = client.post(
            "/api/studies", files={"file": ("a.png", b"x")}, headers={"Origin": "http://elsewhere.example"}
        )
        self.assertEqual(foreign.status_code, 403)


class Tries(unittest.IsolatedAsyncioTestCase):
    async def asked(self, door: Door, key: str, caller: str = "192.168.1.9") -> int:
        from starlette.requests import Request

        scope = {
            "type": "http", "method": "GET", "path": "/", "query_string": f"key={key}".encode(), "headers": [],
            "client": (caller, 1), "server": ("x", 1), "scheme": "http",
        }  # fmt: skip
        answer = await door.answer(Request(scope))
        return answer.status_code if answer else 0

    async def test_ten_wrong_tries_a_minute(self) -> None:
        door = Door("right")
        for _ in range(10):
            self.assertEqual(await self.asked(door, "wrong"), 403)
        self.assertEqual(await self.asked(door, "wrong"), 429)
        self.assertEqual(await self.asked(door, "right"), 429)
        self.assertEqual(await self.asked(door, "right", "192.168.1.10"), 303)
        with patch("warmtide.web.entry.time.monotonic", return_value=time.monotonic() + 61):
            self.assertEqual(await self.asked(door, "right"), 303)

    async def test_keys_of_any_letters_are_compared(self) -> None:
        self.assertEqual(await self.asked(Door("right"), "%F0%9F%8F%AE%00"), 403)


async def _echo(scope: Any, receive: Any, send: Any) -> None:
    """Reads a body to its end and answers."""
    if scope["type"] != "http":
        return
    try:
        while (await receive()).get("more_body"):
            pass
        status = 200
    except Exception:
        status = 408
    await send({"type": "http.response.start", "status": status, "headers": [(b"connection", b"close")]})
    await send({"type": "http.response.body", "body": b""})


class Slow(unittest.TestCase):
    def setUp(self) -> None:
        for place, name, value in (
            (guards, "_PATIENCE_SECONDS", 0.4),
            (guards, "_SLOWEST", 1000),
            (serve, "HEADERS_SECONDS", 0.4),
        ):
            patcher = patch.object(place, name, value)
            patcher.start()
            self.addCleanup(patcher.stop)
        self.port = free_port()
        config = uvicorn.Config(
            PunctualBodies(_echo), port=self.port, http=serve.PunctualProtocol, log_level="error", lifespan="off"
        )
        self.server = uvicorn.Server(config)
        thread = threading.Thread(target=self.server.run, daemon=True)
        thread.start()
        while not self.server.started:
            time.sleep(0.02)

        def stop() -> None:
            self.server.should_exit = True
            thread.join()

        self.addCleanup(stop)

    def sent(self, pieces: list[bytes], pause: float) -> tuple[bytes, float]:
        """What comes back when pieces are sent with pauses, and after how long."""
        began = time.monotonic()
        with socket.create_connection(("127.0.0.1", self.port), timeout=5) as connection:
            for piece in pieces:
                try:
                    connection.sendall(piece)
                except OSError:
                    break
                time.sleep(pause)
            try:
                answer = connection.recv(4096)
            except OSError:
                answer = b""
        return answer, time.monotonic() - began

    def test_a_body_of_a_byte_at_a_time_is_let_go(self) -> None:
        head = b"POST / HTTP/1.1\r\nHost: x\r\nContent-Length: 1000\r\n\r\n"
        answer, seconds = self.sent([head, *[b"a"] * 12], 0.1)
        self.assertIn(b"408", answer.splitlines()[0])
        self.assertLess(seconds, 3)

    def test_a_body_that_comes_along_is_taken_however_long_it_is(self) -> None:
        head = b"POST / HTTP/1.1\r\nHost: x\r\nContent-Length: 8000\r\n\r\n"
        answer, seconds = self.sent([head, *[b"a" * 800] * 10], 0.1)
        self.assertIn(b"200", answer.splitlines()[0])
        self.assertGreater(seconds, 0.9)

    def test_headers_that_never_end_are_let_go(self) -> None:
        answer, seconds = self.sent([b"GET / HTTP/1.1\r\n", *[b"X: y\r\n"] * 8], 0.1)
        self.assertEqual(answer, b"")
        self.assertLess(seconds, 3)


class Crowd(unittest.TestCase):
    def test_two_hundred_streams_and_thirty_windows_hold_up_nobody(self) -> None:
        stack = shared_stack()
        study = stack.client.post("/studies", files={"file": ("in.png", as_file(harbour(seed=91)))}).json()
        source = study["sources"][0]["id"]

        async def window(client: httpx.AsyncClient, seconds: list[float]) -> None:
            paths = (
                "/api/studies",
                f"/api/studies/{study['id']}",
                "/api/choices",
                f"/api/sources/{source}/image?size=256",
                "/",
            )
            for path in paths:
                began = time.monotonic()
                (await client.get(path)).raise_for_status()
                seconds.append(time.monotonic() - began)

        async def crowd() -> list[float]:
            limits = httpx.Limits(max_connections=400, max_keepalive_connections=400)
            async with httpx.AsyncClient(base_url=stack.url, trust_env=False, timeout=60, limits=limits) as client:
                opened = [client.stream("GET", f"/api/studies/{study['id']}/events") for _ in range(200)]
                streams = await asyncio.gather(*(stream.__aenter__() for stream in opened))
                self.assertEqual({stream.status_code for stream in streams}, {200})
                seconds: list[float] = []
                await asyncio.gather(*(window(client, seconds) for _ in range(30)))
                renamed = await client.patch(f"/api/studies/{study['id']}", json={"name": "Crowded"})
                self.assertEqual(renamed.status_code, 200)
                await asyncio.gather(*(stream.__aexit__(None, None, None) for stream in opened))
                return seconds

        seconds = asyncio.run(crowd())
        self.assertEqual(len(seconds), 150)
        # All at once on two cores; what is held up for good would take minutes.
        self.assertLess(max(seconds), 60)
        began = time.monotonic()
        self.assertEqual(stack.client.get("/studies").status_code, 200)
        self.assertLess(time.monotonic() - began, 5)


if __name__ == "__main__":
    unittest.main()
