"""A conformance run: every question once, each with its outcome."""

from collections.abc import Callable
from dataclasses import dataclass, replace

from ...core.model.errors import BadInput
from ..line import Address
from .bench import Bench, NotAsked, Wrong
from .questions import QUESTIONS


@dataclass(frozen=True)
class Outcome:
    """What a question was answered with: nothing wrong, a fault as a sentence, or not asked since it does not apply."""

    says: str
    fault: str | None = None
    skipped: bool = False

    def line(self) -> str:
        """The outcome as a line of text."""
        if self.skipped:
            return f"  --  {self.says}: {'not asked, for a fault told above' if self.fault else 'does not apply'}."
        return f"  ok  {self.says}." if self.fault is None else f"FAIL  {self.says}: {self.fault}"


def run(address: Address, told: Callable[[Outcome], None] | None = None) -> list[Outcome]:
    """Ask an engine every question; `told` hears each outcome as it comes. What can't be asked since /about can't be read is a fault too."""
    bench = Bench(address)
    outcomes = []
    told_already: set[str | None] = set()
    for question in QUESTIONS:
        outcome = _outcome(bench, question.says, question.ask)
        if outcome.fault and outcome.fault in told_already:
            # What everything else stands on is told once, not thirty times.
            outcome = replace(outcome, skipped=True)
        told_already.add(outcome.fault)
        outcomes.append(outcome)
        if told is not None:
            told(outcome)
    bench.client.close()
    return outcomes


def _outcome(bench: Bench, says: str, ask: Callable[[Bench], None]) -> Outcome:
    try:
        ask(bench)
    except NotAsked:
        return Outcome(says, skipped=True)
    except (Wrong, BadInput) as error:
        return Outcome(says, str(error))
    return Outcome(says)
