"""Pictures in a bucket as in a folder: kept, read, proved, cleared away, over a bad line too."""

import os
import tempfile
import time
import unittest
from pathlib import Path
from unittest.mock import patch

from tests.bucket import BadLine, Bucket
from warmtide.core.model.errors import BadInput
from warmtide.records import store as stores
from warmtide.records.store import ImageStore, LostPicture, MissingPicture, StoreAway
from warmtide.records.store_address import StoreAddress

_NOBODY = "ab" * 32


class InABucket(unittest.TestCase):
    bucket: Bucket

    @classmethod
    def setUpClass(cls) -> None:
        keys = patch.dict(os.environ, Bucket.keys)
        keys.start()
        cls.addClassCleanup(keys.stop)
        cls.bucket = cls.enterClassContext(Bucket())

    def test_files_are_kept_read_and_let_go(self) -> None:
        store = ImageStore(self.bucket.at())
        self.assertIsNone(store.folder)
        name = store.put(b"a picture of the quay" * 1000)
        self.assertEqual(store.put(b"a picture of the quay" * 1000), name)
        self.assertTrue(store.has(name))
        self.assertEqual(store.get(name), b"a picture of the quay" * 1000)
        self.assertEqual((store.size(name), store.head(name, 9)), (21_000, b"a picture"))
        self.assertEqual(b"".join(store.pieces(name, 4096)), store.get(name))
        kept = {file.digest: file for file in store.everything()}
        self.assertEqual(kept[name].size, 21_000)
        self.assertLess(time.time() - kept[name].written, 600)
        self.assertLess(time.time() - store.written(name), 600)
        store.remove(name)
        store.remove(name)
        self.assertFalse(store.has(name))
        with self.assertRaises(MissingPicture):
            store.get(name)
        with self.assertRaises(MissingPicture):
            store.get(_NOBODY)

    def test_what_another_process_has_put_there_is_seen_at_once(self) -> None:
        one, other = ImageStore(self.bucket.at()), ImageStore(self.bucket.at())
        self.assertFalse(other.has(_NOBODY))
        name = one.put(b"seen at once")
        self.assertTrue(other.has(name))
        self.assertIn(name, [file.digest for file in other.everything()])

    def test_a_file_that_was_changed_there_is_never_given_out(self) -> None:
        store = ImageStore(self.bucket.at())
        name = store.put(b"as it was")
        store._files.pipe_file(store._path(name), b"as it is!")
        with self.assertRaisesRegex(LostPicture, "damaged"):
            store.get(name)

    def test_what_is_old_is_written_again_when_it_is_taken_up(self) -> None:
        store = ImageStore(self.bucket.at())
        name = store.put(b"taken up again")
        before = store.written(name)
        time.sleep(1.1)
        store.put(b"taken up again")
        self.assertEqual(store.written(name), before)
        with patch.object(stores, "_YOUNG", 0.5):
            store.put(b"taken up again")
        self.assertGreater(store.written(name), before)

    def test_a_line_that_is_late_and_refuses_one_in_ten_loses_nothing(self) -> None:
        with BadLine(self.bucket.port, late=0.01, refused=0.1) as line:
            store = ImageStore(self.bucket.at(line.endpoint))
            names = [store.put(f"picture {k}".encode()) for k in range(40)]
            self.assertEqual([store.get(name) for name in names], [f"picture {k}".encode() for k in range(40)])
            self.assertGreater(line.turned_away, 3, "or it was a good line")

    def test_one_that_is_away_says_so_after_a_while(self) -> None:
        with patch.object(stores, "_PATIENCE", 0.5), patch("warmtide.records.store_address._TRIES", 1):
            store = ImageStore(self.bucket.at("http://127.0.0.1:9"))
            with self.assertRaisesRegex(StoreAway, "does not answer"):
                store.get(_NOBODY)


class Addresses(unittest.TestCase):
    def test_only_folders_and_buckets_are_stores(self) -> None:
        self.assertEqual(StoreAddress("/tmp/x").options(), {})
        for bad in ("http://example.net/x", "ftp://a", "github://a:b@c"):
            with self.subTest(bad), self.assertRaisesRegex(BadInput, "is no store"):
                StoreAddress(bad).options()

    def test_keys_come_from_a_file_of_two_lines(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            keys = Path(folder) / "keys"
            keys.write_text("quay\nlantern\n")
            options = StoreAddress("s3://a", "https://store.example", keys).options()
            self.assertEqual((options["key"], options["secret"]), ("quay", "lantern"))
            self.assertEqual(options["client_kwargs"], {"endpoint_url": "https://store.example"})
            keys.write_text("one line")
            with self.assertRaisesRegex(BadInput, "has two lines"):
                StoreAddress("s3://a", "", keys).options()
            with self.assertRaisesRegex(BadInput, "can't be read"):
                StoreAddress("s3://a", "", Path(folder) / "none").options()
