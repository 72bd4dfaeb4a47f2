"""Images as content-addressed files behind fsspec: a folder by default, a bucket when workers are elsewhere."""

import hashlib
import re
import uuid

import fsspec


class ImageStore:
    """Blobs named by their SHA-256.

    Parameters
    ----------
    address : anything fsspec opens, such as a folder or s3://bucket/prefix.
    """

    def __init__(self, address: str) -> None:
        self._files, self._root = fsspec.core.url_to_fs(address)

    def _path(self, digest: str) -> str:
        if not re.fullmatch(r"[0-9a-f]{64}", digest):
            raise KeyError(digest)
        return f"{self._root}/{digest[:2]}/{digest[2:]}"

    def put(self, data: bytes) -> str:
        """Keep bytes whole or not at all; the name is their hash. Putting the same bytes twice keeps one."""
        digest = hashlib.sha256(data).hexdigest()
        path = self._path(digest)
        if not self._files.exists(path):
            self._files.makedirs(path.rsplit("/", 1)[0], exist_ok=True)
            part = f"{path}.{uuid.uuid4().hex}"
            self._files.pipe_file(part, data)
            self._files.mv(part, path)
        return digest

    def get(self, digest: str) -> bytes:
        """The bytes under a name, or KeyError."""
        try:
            data: bytes = self._files.cat_file(self._path(digest))
            return data
        except FileNotFoundError:
            raise KeyError(digest) from None

    def has(self, digest: str) -> bool:
        return bool(self._files.exists(self._path(digest)))
