"""What a place gives to the registry."""

from collections.abc import Callable
from dataclasses import dataclass, field

from ..view import Drawn, Task

Promise = Callable[[Drawn], bool]


@dataclass(frozen=True)
class Place:
    """A place that can be drawn.

    Attributes
    ----------
    name : lower case, as in the registry. title : for people. words : what asks for it; longer ones win. draw : a task to
    its picture. kept : whether a drawing is what was promised; one that is not is drawn again with another seed.
    outdoors : whether sky and weather are seen. presumed : time when none is asked for. with_water : the
    place drawn instead where a source has water below its land.
    """

    name: str
    title: str
    words: tuple[str, ...]
    draw: Callable[[Task], Drawn]
    kept: Promise = field(default=lambda _: True)
    outdoors: bool = True
    presumed: str = "day"
    with_water: str | None = None
