"""Why nothing is started, in one sentence."""


class Refusal(RuntimeError):
    """Something stands against a start, and the artist can do something about it."""
