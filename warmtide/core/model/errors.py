"""Errors whose text is shown to the artist: one sentence, what is wrong and what would be right."""


class BadInput(ValueError):
    """The caller gave something that cannot be used. The message is shown as it is."""


class Cancelled(Exception):
    """Raised by a progress callback to stop a rendering between two steps."""
