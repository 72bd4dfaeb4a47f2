"""The interface's own files as browsers get them."""

import gzip
import tempfile
import unittest
from pathlib import Path

from fastapi import FastAPI
from fastapi.testclient import TestClient

from warmtide.web.assets import Assets

SCRIPT = b"export const tide = 'warm';\n" * 200


class Files(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        root = Path(folder.name)
        (root / "desk-a1.js").write_bytes(SCRIPT)
        (root / "desk-a1.js.gz").write_bytes(gzip.compress(SCRIPT))
        (root / "plain-b2.js").write_bytes(SCRIPT)
        app = FastAPI()
        app.mount("/assets", Assets(root))
        self.client = TestClient(app)

    def test_a_browser_that_takes_packed_files_gets_them(self) -> None:
        answer = self.client.get("/assets/desk-a1.js")
        self.assertEqual(answer.headers["content-encoding"], "gzip")
        self.assertTrue(answer.headers["content-type"].startswith("text/javascript"), answer.headers["content-type"])
        self.assertLess(int(answer.headers["content-length"]), len(SCRIPT) // 4)
        self.assertEqual(answer.content, SCRIPT)
        self.assertIn("immutable", answer.headers["cache-control"])

    def test_others_get_them_as_they_are(self) -> None:
        answer = self.client.get("/assets/desk-a1.js", headers={"Accept-Encoding": "identity"})
        self.assertNotIn("content-encoding", answer.headers)
        self.assertEqual(answer.content, SCRIPT)
        self.assertNotIn("content-encoding", self.client.get("/assets/plain-b2.js").headers)

    def test_what_is_not_there_is_not_kept(self) -> None:
        answer = self.client.get("/assets/gone.js")
        self.assertEqual(answer.status_code, 404)
        self.assertNotIn("cache-control", answer.headers)
