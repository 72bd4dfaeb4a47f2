"""The tips of a sweep: one a row, seeds joined."""

from dataclasses import dataclass
from typing import Any

from ..core.readings.measure import stored_map
from ..core.readings.registry import readings
from ..core.readings.tip import PlaceTip, Tip, find_place_tip, find_tip
from ..records.models import Sweep, Take, TakeState

_JOINED = ("strength", "seed")


@dataclass(frozen=True)
class RowTip:
    """The tip of one row of a sheet.

    Attributes
    ----------
    values : the row's controls but strength and seed. strengths : how many are rendered. parts : where other readings
    than the composition's give way, by what it is that goes.
    """

    values: dict[str, Any]
    strengths: int
    tip: Tip | None
    place: PlaceTip | None
    parts: tuple[tuple[str, Tip], ...] = ()


def _value(take: Take, control: str) -> Any:
    body = take.recipe.body
    if control == "source":
        return str(take.source_id)
    return body[control] if control in body else body["holds"][control]


def row_tips(sweep: Sweep) -> list[RowTip]:
    """Tips of a sweep over strength, from what is rendered so far; none for other sweeps."""
    controls = [span["control"] for span in sweep.spans]
    if "strength" not in controls:
        return []
    others = [control for control in controls if control not in _JOINED]
    rows: dict[tuple[Any, ...], list[Take]] = {}
    for cell in sweep.cells:
        rows.setdefault(tuple(_value(cell.take, c) for c in others), []).append(cell.take)
    return [_row_tip(dict(zip(others, values, strict=True)), takes) for values, takes in rows.items()]


def _row_tip(values: dict[str, Any], takes: list[Take]) -> RowTip:
    by_strength: dict[float, list[dict[str, Any]]] = {}
    for take in takes:
        if take.state == TakeState.DONE and take.readings:
            by_strength.setdefault(float(take.recipe.body["strength"]), []).append(take.readings)
    strengths = sorted(by_strength)
    figures = [[float(r["composition"]) for r in by_strength[s]] for s in strengths]
    maps = [[stored_map(r, "kept") for r in by_strength[s]] for s in strengths]
    weight = stored_map(by_strength[strengths[0]][0], "weight") if strengths else None
    place = None
    if weight is not None:
        whole = [[plane for plane in planes if plane is not None and plane.shape == weight.shape] for planes in maps]
        if all(whole):
            place = find_place_tip(strengths, whole, weight)
    return RowTip(values, len(strengths), find_tip(strengths, figures), place, _part_tips(strengths, by_strength))


def _part_tips(strengths: list[float], by_strength: dict[float, list[dict[str, Any]]]) -> tuple[tuple[str, Tip], ...]:
    """Tips of the readings that tell what goes, where every take has them."""
    found = []
    for kind in readings():
        series = [[kind.stored(r) for r in by_strength[s]] for s in strengths] if kind.goes else []
        told = [[value for value in values if value is not None] for values in series]
        if told and all(told):
            tip = find_tip(strengths, told)
            found += [(kind.goes, tip)] if tip is not None else []
    return tuple(found)
