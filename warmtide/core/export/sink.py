"""What is written in pieces into an answer that is on its way."""


class Sink:
    """Where a ZIP is written that nobody holds: what was written since it was last asked."""

    def __init__(self) -> None:
        self._parts: list[bytes] = []

    def write(self, data: bytes) -> int:
        self._parts.append(bytes(data))
        return len(data)

    def flush(self) -> None:
        """Nothing is held back."""

    def taken(self) -> bytes:
        parts, self._parts = b"".join(self._parts), []
        return parts
