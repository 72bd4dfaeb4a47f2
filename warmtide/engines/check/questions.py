"""The questions of a conformance run, in the order in which they are asked."""

import base64
import itertools
import time
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from ...core.maths.arrays import Byte
from ...core.model.recipe import HOLDS
from ...core.pictures.image import decode
from ..protocol import PROTOCOL, Done, Preview, Queued, Step, render_path
from .bench import Bench, NotAsked, Wrong

_UNKNOWN = "0" * 63 + "f"
# How much pictures may differ in the mean, of 255, and still be the same.
_SAME, _OTHER = 1.0, 1.5


@dataclass(frozen=True)
class Question:
    """One question: what holds where the answer is right, and what asks it (raising `Wrong` or `NotAsked`)."""

    says: str
    ask: Callable[[Bench], None]


QUESTIONS: list[Question] = []


def _asks(says: str) -> Callable[[Callable[[Bench], None]], Callable[[Bench], None]]:
    def add(ask: Callable[[Bench], None]) -> Callable[[Bench], None]:
        QUESTIONS.append(Question(says, ask))
        return ask

    return add


def _apart(a: Byte, b: Byte) -> float:
    return float(np.abs(a.astype(np.int16) - b).mean())


@_asks("/about answers with JSON")
def _(bench: Bench) -> None:
    answer = bench.request("GET", "/about")
    if answer.status_code != 200:
        raise Wrong(f"/about answers with status {answer.status_code}; it should be 200.")
    if not answer.headers.get("content-type", "").startswith("application/json"):
        raise Wrong(f"/about is of the type {answer.headers.get('content-type')!r}; it should be application/json.")


@_asks("what it says of itself can be read, all of it")
def _(bench: Bench) -> None:
    assert bench.about


@_asks(f"it speaks version {PROTOCOL} of the protocol")
def _(bench: Bench) -> None:
    if bench.about.protocol != PROTOCOL:
        raise Wrong(f"It speaks version {bench.about.protocol}.")


@_asks("it says the same of itself twice")
def _(bench: Bench) -> None:
    if bench.request("GET", "/about").content != bench.request("GET", "/about").content:
        raise Wrong("What it says of itself changes from one moment to the next.")


@_asks("its controls are in the order of ranges that recipes can have")
def _(bench: Bench) -> None:
    strength = bench.about.control("strength")
    if strength is not None and not (strength.low >= 0 and strength.high <= 1):
        raise Wrong(f"Strength goes from {strength.low:g} to {strength.high:g}; it lies within 0 and 1.")


@_asks("a render is taken")
def _(bench: Bench) -> None:
    answer = bench.put(bench.key("first"))
    if answer.status_code not in (200, 201, 202):
        raise Wrong(f"A render that it can do is refused with status {answer.status_code}.")


@_asks("its events can be read, and end with done")
def _(bench: Bench) -> None:
    events = bench.events(bench.key("first"))
    if not isinstance(events[-1], Done):
        raise Wrong(f"They end with {events[-1].event}: {events[-1].model_dump().get('error', '')}")


@_asks("done says the size that was asked for")
def _(bench: Bench) -> None:
    done = bench.made("first")[0][-1]
    height, width = bench.source.shape[:2]
    if isinstance(done, Done) and (done.width, done.height) != (width, height):
        raise Wrong(f"It says {done.width} x {done.height}; {width} x {height} were asked for.")


@_asks("steps never go back and never beyond their number")
def _(bench: Bench) -> None:
    steps = [event for event in bench.made("first")[0] if isinstance(event, Step)]
    if any(step.done > step.of for step in steps) or any(a.done > b.done for a, b in itertools.pairwise(steps)):
        raise Wrong("Its steps are told out of order.")


@_asks("what is queued comes before what is done")
def _(bench: Bench) -> None:
    kinds = [type(event) for event in bench.made("first")[0]]
    if Queued in kinds and Step in kinds and kinds.index(Queued) > kinds.index(Step):
        raise Wrong("It says that a render waits after it was begun.")


@_asks("previews, if there are any, are small pictures")
def _(bench: Bench) -> None:
    previews = [event for event in bench.made("first")[0] if isinstance(event, Preview)]
    if not previews:
        raise NotAsked
    try:
        picture = decode(base64.b64decode(previews[0].png, validate=True)).rgba
    except Exception:
        raise Wrong("A preview is no PNG in base64.") from None
    if max(picture.shape[:2]) > 512:
        raise Wrong(f"A preview has {picture.shape[1]} x {picture.shape[0]} px; 512 a side are enough.")


@_asks("the picture is a PNG of the size that was asked for")
def _(bench: Bench) -> None:
    bench.made("first")


@_asks("the picture is the same when it is read twice")
def _(bench: Bench) -> None:
    if bench.request("GET", render_path(bench.key("first"), "picture")).content != bench.data("first"):
        raise Wrong("Read twice, the picture has other bytes.")


@_asks("events of what is done can be read again from the beginning")
def _(bench: Bench) -> None:
    bench.made("first")
    if not isinstance(bench.events(bench.key("first"))[-1], Done):
        raise Wrong("Read again, they do not end with done.")


@_asks("the same key twice is one render")
def _(bench: Bench) -> None:
    before = bench.data("first")
    bench.put(bench.key("first"), bench.recipe(seed=8) if bench.about.control("seed") else None)
    events = bench.events(bench.key("first"))
    again = bench.request("GET", render_path(bench.key("first"), "picture"))
    if not isinstance(events[-1], Done) or again.content != before:
        raise Wrong("Asked again under a key that it has, it made another picture; that key's own should stay.")


@_asks("equal requests give equal pictures, as far as it says so")
def _(bench: Bench) -> None:
    if not bench.about.repeatable:
        raise NotAsked
    if _apart(bench.made("first")[1], bench.made("equal", bench.recipe())[1]) > 0:
        raise Wrong("It says that equal requests give equal pictures, and they do not.")


@_asks("the source comes back at strength 0")
def _(bench: Bench) -> None:
    strength = bench.about.control("strength")
    if strength is None or strength.low > 0:
        raise NotAsked
    apart = _apart(bench.made("still", bench.recipe(strength=0.0))[1], bench.source)
    if apart > _SAME:
        raise Wrong(f"At strength 0 the picture differs from the source by {apart:.1f} of 255 in the mean.")


@_asks("more strength goes farther from the source")
def _(bench: Bench) -> None:
    strength = bench.about.control("strength")
    if strength is None or strength.high - strength.low < 0.5:
        raise NotAsked
    low, high = (bench.made(f"strength {v}", bench.recipe(strength=v))[1] for v in (strength.low + 0.1, strength.high))
    if _apart(high, bench.source) <= _apart(low, bench.source):
        raise Wrong("Much strength stays nearer to the source than little.")


@_asks("another seed is another picture")
def _(bench: Bench) -> None:
    if bench.about.control("seed") is None:
        raise NotAsked
    strength = bench.about.control("strength")
    full = bench.recipe() if strength is None else bench.recipe(strength=min(0.9, strength.high))
    if _apart(bench.made("seed 7", full)[1], bench.made("seed 8", {**full, "seed": 8})[1]) == 0:
        raise Wrong("It says that it hears the seed, and two seeds give the same picture.")


@_asks("every look that it says it has can be asked for")
def _(bench: Bench) -> None:
    for look in bench.about.looks[:8]:
        bench.made(f"look {look.name}", bench.recipe(look=look.name))


@_asks("every sampler that it says it has can be asked for")
def _(bench: Bench) -> None:
    if not bench.about.samplers:
        raise NotAsked
    for sampler in bench.about.samplers[:8]:
        bench.made(f"sampler {sampler.name}", bench.recipe(sampler=sampler.name))


@_asks("every hold that it says it has can be asked for")
def _(bench: Bench) -> None:
    if not bench.about.holds:
        raise NotAsked
    height, width = bench.source.shape[:2]
    plane = np.tile(np.linspace(0, 255, height).astype(np.uint8)[:, None], (1, width))
    planes = {"depth": plane} if "depth" in bench.about.holds else {}
    bench.made(
        "holds", bench.recipe(holds={name: 0.7 if name in bench.about.holds else 0.0 for name in HOLDS}), **planes
    )


@_asks("a region is changed and the rest is left, if it says that it has regions")
def _(bench: Bench) -> None:
    if not bench.about.regions:
        raise NotAsked
    height, width = bench.source.shape[0], bench.source.shape[1]
    half, margin = width // 2, width // 8
    region: Byte = np.zeros((height, width), np.uint8)
    region[:, :half] = 255
    recipe = bench.recipe(strength=0.9) if bench.about.control("strength") else None
    picture = bench.made("region", recipe, region=region)[1]
    outside = _apart(picture[:, half + margin :], bench.source[:, half + margin :])
    inside = _apart(picture[:, : half - margin], bench.source[:, : half - margin])
    if outside > _SAME or inside < _OTHER:
        raise Wrong(f"Outside its region the picture changed by {outside:.1f} of 255, inside by {inside:.1f}.")


@_asks("phrases are heard, if it says that it hears words")
def _(bench: Bench) -> None:
    if not bench.about.words:
        raise NotAsked
    bench.made("words", bench.recipe(prompt="mist, evening^1.4", avoid="grain"))


@_asks("the smallest size that it says it takes is taken")
def _(bench: Bench) -> None:
    side = bench.about.sizes[0]
    small = np.ascontiguousarray(np.resize(bench.source[:1, :1], (side, side, 3)))
    from ...core.pictures.image import png

    answer = bench.put(bench.key("small"), bench.recipe(size=side), png(small))
    if answer.status_code not in (200, 201, 202):
        raise Wrong(f"A source of {side} px is refused with status {answer.status_code}.")
    events = bench.events(bench.key("small"))
    if not isinstance(events[-1], Done):
        raise Wrong(f"A source of {side} px fails: {events[-1].model_dump().get('error')}")


@_asks("as many takes at once as it says are all made")
def _(bench: Bench) -> None:
    keys = [bench.key(f"at once {k}") for k in range(min(bench.about.at_once + 1, 6))]
    for key in keys:
        bench.put(key)
    for key in keys:
        if not isinstance(bench.events(key)[-1], Done):
            raise Wrong("Of several takes that were asked for at once not all are made.")


@_asks("a key that nobody asked for is not known")
def _(bench: Bench) -> None:
    bench.refused("The picture of an unknown key", bench.request("GET", render_path(_UNKNOWN, "picture")), 404)
    answer = bench.request("GET", render_path(_UNKNOWN, "events"))
    if answer.status_code != 404:
        raise Wrong(f"The events of an unknown key are answered with status {answer.status_code}; 404 would be right.")


@_asks("what is given up is not known any more, and may be given up twice")
def _(bench: Bench) -> None:
    key = bench.key("given up")
    bench.put(key)
    for _time in range(2):
        answer = bench.request("DELETE", render_path(key))
        if answer.status_code not in (200, 202, 204, 404):
            raise Wrong(f"Giving up a render is answered with status {answer.status_code}; 204 would be right.")
    if bench.request("GET", render_path(key, "picture")).status_code != 404:
        raise Wrong("A render that was given up is still known.")


@_asks("what was given up can be asked for again")
def _(bench: Bench) -> None:
    key = bench.key("given up")
    bench.request("DELETE", render_path(key))
    bench.put(key)
    if not isinstance(bench.events(key)[-1], Done):
        raise Wrong("Asked again for what was given up, it does not make it.")


@_asks("a look that it does not have is refused with a sentence")
def _(bench: Bench) -> None:
    bench.refused("An unknown look", bench.put(bench.key("no look"), bench.recipe(look="no-such-look-here")), 400, 422)


@_asks("an amount out of its range is refused with a sentence")
def _(bench: Bench) -> None:
    if not bench.about.controls:
        raise NotAsked
    control = bench.about.controls[0]
    bench.refused(
        f"{control.name} out of range",
        bench.put(bench.key("no range"), bench.recipe(**{control.name: control.high + 1})),
        400,
        422,
    )


@_asks("a recipe that is no JSON is refused with a sentence")
def _(bench: Bench) -> None:
    bench.refused("A recipe that is no JSON", bench.put(bench.key("no json"), b"{"), 400, 422)


@_asks("a source that is no picture is refused with a sentence")
def _(bench: Bench) -> None:
    bench.refused(
        "A source that is no picture", bench.put(bench.key("no picture"), source=b"not a picture"), 400, 415, 422
    )


@_asks("a request without its parts is refused with a sentence")
def _(bench: Bench) -> None:
    answer = bench.request("PUT", render_path(bench.key("no parts")), files={"other": ("a.txt", b"a", "text/plain")})
    bench.refused("A request without its parts", answer, 400, 422)


@_asks("without its token nothing is told")
def _(bench: Bench) -> None:
    if bench.address.token_file is None:
        raise NotAsked
    for path in ("/about", render_path(bench.key("first"), "picture")):
        for headers in ({}, {"Authorization": "Bearer not-the-token"}):
            bench.refused(f"{path} without the token", bench.request("GET", path, headers), 401, 403)


@_asks("/about answers within a second")
def _(bench: Bench) -> None:
    began = time.monotonic()
    bench.request("GET", "/about")
    if (spent := time.monotonic() - began) > 1:
        raise Wrong(f"It took {spent:.1f} s.")
