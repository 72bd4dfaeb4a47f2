"""A bounded store for what takes of one sweep share: pyramids, noise, hold weights."""

import threading
from collections import OrderedDict
from collections.abc import Callable, Hashable
from typing import Any, TypeVar

import numpy as np

Value = TypeVar("Value")
# Bytes below which giving a value up gains nothing.
_SMALL = 100_000


def _bytes_in(value: Any) -> int:
    if isinstance(value, np.ndarray):
        return int(value.nbytes)
    if isinstance(value, (list, tuple)):
        return sum(_bytes_in(item) for item in value)
    if isinstance(value, dict):
        return sum(_bytes_in(item) for item in value.values())
    return sum(_bytes_in(item) for item in vars(value).values()) if hasattr(value, "__dict__") else 64


class SharedCache:
    """Least recently used values, limited by bytes. Keys are content hashes, so nothing goes stale.

    Parameters
    ----------
    limit : bytes kept at most; a value larger than that is returned but not kept.
    """

    def __init__(self, limit: int = 200_000_000) -> None:
        self.limit = limit
        self.held = 0
        self._values: OrderedDict[Hashable, tuple[Any, int]] = OrderedDict()
        self._lock = threading.Lock()

    def _drop_oldest(self) -> None:
        """Give up the value that was used longest ago; small ones, such as where faces are, only if there are no others."""
        oldest = next((k for k, (_, size) in self._values.items() if size > _SMALL), next(iter(self._values)))
        self.held -= self._values.pop(oldest)[1]

    def get(self, key: Hashable, make: Callable[[], Value]) -> Value:
        """The value under `key`, made by `make` when it is not there."""
        with self._lock:
            if key in self._values:
                self._values.move_to_end(key)
                found: Value = self._values[key][0]
                return found
        value = make()
        size = _bytes_in(value)
        with self._lock:
            if size <= self.limit and key not in self._values:
                self._values[key] = (value, size)
                self.held += size
            while self.held > self.limit:
                self._drop_oldest()
        return value
