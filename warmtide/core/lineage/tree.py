"""A study's tree: what came of what."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from typing import Any, Literal

from .changes import changes, values_said

# source: brought in; mixed: of several; hand: touched, layer over layer; sweep: takes planned together; take; larger.
Kind = Literal["source", "mixed", "hand", "cut", "sweep", "take", "larger"]


@dataclass(frozen=True)
class Node:
    """One step.

    Attributes
    ----------
    id : of the step, its kind and its record's: "take:<uuid>". title : what it is called; says : what makes it another than what it
    came from. picture : kind and id of what shows it, None for a sweep. parents : ids of what it came from, of a mix the heaviest first. also : ids of records that
    are the same picture (a take that was carried on is a source too). count : takes of a sweep. recipe : of a take. led : what led a sweep's takes beside it.
    """

    id: str
    kind: Kind
    title: str
    says: tuple[str, ...] = ()
    picture: str | None = None
    parents: tuple[str, ...] = ()
    also: tuple[str, ...] = ()
    count: int = 0
    mark: str | None = None
    sweep: str | None = None
    recipe: Mapping[str, Any] | None = None
    led: tuple[str, ...] = ()


def known_parents(nodes: Iterable[Node]) -> tuple[Node, ...]:
    """Nodes in the order in which each stands behind what it came from; parents that are not there are left out, and so is what would
    make a circle."""
    by_id = {node.id: node for node in nodes}
    placed: dict[str, Node] = {}
    waiting = list(by_id)
    while waiting:
        ready = [name for name in waiting if all(p in placed or p not in by_id for p in by_id[name].parents)]
        # A circle can only come from records that were tampered with: its first member begins anew.
        for name in ready or waiting[:1]:
            node = by_id[name]
            parents = tuple(p for p in node.parents if p in placed)
            placed[name] = replace(node, parents=parents)
        waiting = [name for name in waiting if name not in placed]
    return tuple(placed.values())


def way_to(nodes: Iterable[Node], wanted: str) -> tuple[Node, ...]:
    """Every step that led to a picture, branch by branch, each behind what it came from; empty where it is not among them. `wanted` may
    be any of a node's names."""
    ordered = known_parents(nodes)
    by_id = {node.id: node for node in ordered}
    named = {name: node for node in ordered for name in (node.id, *node.also)}
    if wanted not in named:
        return ()
    placed: dict[str, Node] = {}
    # A step stays until all that it came from is placed; `known_parents` has cut what went in circles.
    waiting = [named[wanted].id]
    while waiting:
        node = by_id[waiting[-1]]
        before = [name for name in node.parents if name not in placed]
        if before:
            waiting.append(before[0])
        else:
            placed.setdefault(node.id, node)
            waiting.pop()
    return tuple(placed.values())


def strip(nodes: Iterable[Node], wanted: str, titles: Mapping[str, str]) -> tuple[Node, ...]:
    """The way to a picture as its pictures alone: each take says what makes it another than the take before it on its way, the first
    one how it was made, and names as its parents the pictures that it came from. `titles` are of looks by their names."""
    steps = way_to(nodes, wanted)
    by_id = {node.id: node for node in steps}

    def earlier(node: Node) -> Mapping[str, Any] | None:
        for name in node.parents:
            parent = by_id[name]
            found = parent.recipe or earlier(parent)
            if found is not None:
                return found
        return None

    shown = []
    for node in steps:
        if node.picture is None:
            continue
        if node.recipe is not None:
            before = earlier(node)
            says = _begun(node.recipe, titles) if before is None else changes(before, node.recipe, titles)
            led = tuple(words for name in node.parents for words in by_id[name].led)
            node = replace(node, says=(*(says or ("the same again",)), *led))
        shown.append(replace(node, parents=_pictured(node, by_id)))
    return tuple(shown)


def _pictured(node: Node, by_id: Mapping[str, Node]) -> tuple[str, ...]:
    """The pictures that a step came from, past its sweep."""
    found: list[str] = []
    for name in node.parents:
        parent = by_id[name]
        found += [name] if parent.picture is not None else _pictured(parent, by_id)
    return tuple(found)


def _begun(recipe: Mapping[str, Any], titles: Mapping[str, str]) -> tuple[str, ...]:
    prompt = str(recipe.get("prompt") or "")
    return (*values_said(recipe, ["strength", "guidance", "seed"], titles), *([f"+ {prompt}"] if prompt else []))


def told(steps: Iterable[Node]) -> str:
    """A way as text, a numbered line a step."""
    lines = []
    for number, step in enumerate(steps, 1):
        lines.append(f"{number}. {step.title}" + (f": {', '.join(step.says)}" if step.says else ""))
    return "\n".join(lines) + "\n"
