"""A bounded store for what takes of one sweep share: pyramids, noise, hold weights."""

import threading
from collections import OrderedDict
from collections.abc import Callable, Hashable
from typing import Any, TypeVar

import numpy as np

Value = TypeVar("Value")
# Bytes below which giving a value up gains nothing.
_SMALL = 100_000


def _bytes_in(value: Any, seen: set[int] | None = None) -> int:
    """Bytes of the arrays in a value, each array once; a view keeps the whole array that it looks into."""
    seen = set() if seen is None else seen
    if isinstance(value, np.ndarray) and isinstance(value.base, np.ndarray):
        value = value.base
    if id(value) in seen or isinstance(value, SharedCache):
        return 0
    seen.add(id(value))
    if isinstance(value, np.ndarray):
        return int(value.nbytes)
    if isinstance(value, (list, tuple)):
        return sum(_bytes_in(item, seen) for item in value)
    if isinstance(value, dict):
        return sum(_bytes_in(item, seen) for item in value.values())
    # Another thread may be working something out of it just now.
    return sum(_bytes_in(item, seen) for item in tuple(vars(value).values())) if hasattr(value, "__dict__") else 64


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

    def _keep(self, key: Hashable, value: Any) -> None:
        """Put a value last, as large as it is by now: what was worked out of it since belongs to it."""
        if key in self._values:
            self.held -= self._values.pop(key)[1]
        size = _bytes_in(value)
        if size > self.limit:
            return
        self._values[key] = (value, size)
        self.held += size
        while self.held > self.limit:
            self._drop_oldest()

    def get(self, key: Hashable, make: Callable[[], Value]) -> Value:
        """The value under `key`, made by `make` when it is not there."""
        with self._lock:
            if key in self._values:
                found: Value = self._values[key][0]
                self._keep(key, found)
                return found
        value = make()
        with self._lock:
            if key not in self._values:
                self._keep(key, value)
        return value
