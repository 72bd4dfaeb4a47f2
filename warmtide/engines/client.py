"""An engine that is reached by the protocol, as the job asks for it."""

import hashlib
import json
import time

import cv2
import httpx
import httpx_sse
import numpy as np

from ..core.engine.draft import drafted, drafted_shape
from ..core.engine.region import laid_in
from ..core.engine.seen import seen_of
from ..core.job.engine import Against, Progress, Work
from ..core.maths.arrays import Byte, pixel_key
from ..core.model.engine import About, Fit, fitted
from ..core.model.errors import BadInput
from ..core.model.guides import NO_GUIDES, Guides
from ..core.model.recipe import Recipe
from ..core.pictures.image import png
from ..core.readings.look import at_reading_size
from ..core.readings.pair import FullRendering, SourceReading, full_rendering
from .answers import about_from, picture_from, sentence_from
from .line import GIVE_UP, Address, Away, Broken, Line, Unknown
from .protocol import FACES, LONGEST, PICTURE_SPARE, PLANES, RECIPE, SOURCE, Done, Failed, Step, event_from, render_path

_REFERENCE_PIXELS = 512 * 341
_READ_SECONDS = 0.1
# Seconds for which what it has said of itself is believed.
_SURE = 5.0
_PAUSE, _MOST_ANEW = 0.25, 3
_BEGINNING = Recipe()


def asked_about(address: Address, patient: bool = True) -> About:
    """What the engine at an address says of itself. Raises `BadInput` with a sentence."""
    line = Line(address)
    try:
        return _about(line, patient)
    finally:
        line.close()


def _about(line: Line, patient: bool) -> About:
    _, body = line.asked("GET", "/about", patient=patient)
    try:
        return about_from(body)
    except BadInput as error:
        raise line.fault(error) from None


class RemoteEngine:
    """An engine at an address. What it has said of itself is kept until `refresh` asks again."""

    def __init__(self, address: Address, about: About) -> None:
        self.about = about
        self.answers = True
        self._asked = time.monotonic()
        self._line = Line(address, about.title)

    @property
    def name(self) -> str:
        return self.about.name

    @property
    def tag(self) -> str:
        return self.about.tag

    @property
    def address(self) -> Address:
        return self._line.address

    def refresh(self, patient: bool = False) -> None:
        """Ask again what it says of itself; one that does not answer stays what it was. Raises `BadInput` where it is another by now."""
        try:
            found = _about(self._line, patient)
        except Away:
            self.answers = False
            return
        if found.name != self.name:
            raise BadInput(f"{self.about.title} is another engine by now ({found.name}); add it anew.")
        self.about, self.answers, self._asked = found, True, time.monotonic()

    def close(self) -> None:
        self._line.close()

    def check(self, recipe: Recipe, source: Byte, guides: Guides) -> Fit:
        fit = fitted(self.about, recipe)
        side, (least, most) = max(drafted_shape(source.shape[0], source.shape[1], recipe.quality)), self.about.sizes
        if not least <= side <= most:
            raise BadInput(
                f"{self.about.title} makes takes with a long side of {least} to {most} px; a draft of this has {side}."
            )
        return fit

    def render(self, work: Work, progress: Progress) -> Byte:
        if work.recipe.strength <= 0:
            return drafted(work.source, work.recipe.quality)[0].copy()
        self._still_itself()
        source, _ = drafted(work.source, work.recipe.quality)
        guides = work.guides.at(*source.shape[:2])
        picture = self._made(
            source, work.recipe.changed(size=max(source.shape[:2]), quality="full"), guides, work.key, progress
        )
        # Whatever the engine makes of a region, outside it the source's own bits stay.
        return picture if guides.region is None else laid_in(source, picture, guides.region)

    def _still_itself(self) -> None:
        """Ask what it is before it makes something that would be known by a version that it no longer has."""
        if time.monotonic() - self._asked < _SURE:
            return
        before = self.tag
        self.refresh(patient=True)
        if not self.answers:
            raise self._line.away()
        if self.tag != before:
            raise BadInput(
                f"{self.about.title} is version {self.about.version} by now, and this take was planned for {before.rpartition(' ')[2]}; run it again."
            )

    def against(self, work: Work) -> Against:
        seen, _ = drafted(work.source, work.recipe.quality)
        about = seen_of(work.source, work.guides, work.cache)
        height, width = seen.shape[:2]
        key = ("reading", pixel_key(seen), about.faces, about.key)
        source = work.cache.get(key, lambda: SourceReading(seen, about.faces, about.subject_at(height, width).plane))
        return Against(source, self._whole(seen, work))

    def estimate(self, recipe: Recipe, height: int, width: int, people: bool = False) -> float:
        height, width = drafted_shape(height, width, recipe.quality)
        cost = self.about.cost
        return _READ_SECONDS + (cost.take + cost.step * recipe.steps_run) * height * width / _REFERENCE_PIXELS

    def _whole(self, seen: Byte, work: Work) -> FullRendering | None:
        """What its look makes of the source when nothing holds, which look reached is relative to; asked for once."""
        small = at_reading_size(seen)
        strength = self.about.control("strength")
        side = min(max(max(small.shape[:2]), self.about.sizes[0]), self.about.sizes[1])
        if side != max(small.shape[:2]) or (strength is not None and strength.high < 1):
            return None
        # Nothing of the take but its looks: all takes of a sweep are read against the same picture.
        usual = {c.name: min(max(getattr(_BEGINNING, c.name), c.low), c.high) for c in self.about.controls}
        whole = {name: int(value) if name in ("seed", "steps") else value for name, value in usual.items()} | {
            "strength": 1.0
        }
        looks = {
            name: getattr(work.recipe, name) for name in ("engine", "look", "second_look", "second_share", "sampler")
        }
        free = dict.fromkeys(self.about.holds, 0.0)
        recipe = fitted(self.about, _BEGINNING.changed(**whole, **looks, size=side, **free)).recipe
        key = hashlib.sha256(f"{self.tag}\n{pixel_key(small)}\n{recipe.canonical()}".encode()).hexdigest()
        try:
            return work.cache.get(
                ("full", self.tag, key),
                lambda: full_rendering(self._made(small, recipe, NO_GUIDES, key, lambda *_: None)),
            )
        except BadInput:
            # The take is there; only how far it has come can't be said.
            return None

    def _made(self, source: Byte, recipe: Recipe, guides: Guides, key: str, progress: Progress) -> Byte:
        deadline = time.monotonic() + LONGEST
        parts = _parts(source, recipe, guides, self.about)
        lost, anew, before = 0.0, 0, 0
        reached = _Reached(progress)
        try:
            self._line.asked("PUT", render_path(key), files=parts)
            while True:
                try:
                    self._follow(key, reached, deadline)
                    return self._picture(key, source)
                except Unknown:
                    # It was started anew and knows nothing of what it was asked; equal keys are one render.
                    anew += 1
                    if anew > _MOST_ANEW:
                        raise self._line.fault(BadInput("forgets what it was asked for")) from None
                    self._line.asked("PUT", render_path(key), files=parts)
                except Broken:
                    if reached.done > before:
                        # It went on since the line broke before: this is another time.
                        lost, before = 0.0, reached.done
                    lost = lost or time.monotonic()
                    if time.monotonic() - lost > GIVE_UP:
                        raise self._line.away() from None
                    time.sleep(_PAUSE)
                    # An engine that is away says so here, in the time that it is given.
                    self._line.asked("GET", "/about")
        except Exception:
            self._give_up(key)
            raise

    def _follow(self, key: str, reached: "_Reached", deadline: float) -> None:
        """Watch a render until it is done, and tell how far it is. Raises what `progress` raises, `BadInput` where it failed, `Broken`."""

        def look_up() -> None:
            """Called often, whether anything is told or not: nobody may be waiting any more, or for too long."""
            reached.tell()
            if time.monotonic() > deadline:
                raise self._line.fault(BadInput(f"took longer than the {LONGEST / 60:.0f} minutes that a take may"))

        look_up()
        with self._line.streamed(render_path(key, "events"), look_up) as answer:
            for sent in httpx_sse.EventSource(answer).iter_sse():
                try:
                    event = event_from(sent.event, sent.data)
                except BadInput as error:
                    raise self._line.fault(error) from None
                if isinstance(event, Step):
                    reached.to(event.done, event.of)
                elif isinstance(event, Failed):
                    raise BadInput(f"{self.about.title}: {sentence_from(event.error)}")
                elif isinstance(event, Done):
                    return
        raise Broken

    def _picture(self, key: str, source: Byte) -> Byte:
        height, width = source.shape[:2]
        answer, body = self._line.asked("GET", render_path(key, "picture"), most=4 * height * width + PICTURE_SPARE)
        try:
            return picture_from(answer.headers.get("content-type", ""), body, height, width)
        except BadInput as error:
            raise self._line.fault(error) from None

    def _give_up(self, key: str) -> None:
        """Tell it that nobody waits any more; if that can't be told, it finds out by itself."""
        try:
            self._line.asked("DELETE", render_path(key), patient=False)
        except (BadInput, httpx.HTTPError):
            return


class _Reached:
    """How far a render is, by what was told last: a stream that is read again from its beginning goes back to nothing."""

    def __init__(self, progress: Progress) -> None:
        self._progress = progress
        self.done, self._of = 0, 1

    def to(self, done: int, of: int) -> None:
        """It has come so far."""
        if done >= self.done:
            self.done, self._of = done, of
        self.tell()

    def tell(self) -> None:
        """Say how far it is. Raises what `progress` raises."""
        self._progress(self.done, self._of)


def _parts(source: Byte, recipe: Recipe, guides: Guides, about: About) -> dict[str, tuple[str, bytes, str]]:
    """What is sent: the recipe and the pictures that it is made from."""
    told = json.dumps(recipe.model_dump(exclude={"engine", "placement", "quality"}))
    parts = {
        RECIPE: ("recipe.json", told.encode(), "application/json"),
        SOURCE: ("source.png", png(source, {}), "image/png"),
    }
    wanted = {"region": about.regions, "depth": "depth" in about.holds, "subject": "subject" in about.holds}
    for name in PLANES:
        plane = getattr(guides, name)
        if plane is not None and wanted[name]:
            parts[name] = (f"{name}.png", _grey(plane), "image/png")
    if guides.faces is not None and "faces" in about.holds:
        faces = [{"x": f.x, "y": f.y, "width": f.width, "angle": f.angle} for f in guides.faces]
        parts[FACES] = ("faces.json", json.dumps(faces).encode(), "application/json")
    return parts


def _grey(plane: Byte) -> bytes:
    good, data = cv2.imencode(".png", np.ascontiguousarray(plane))
    assert good
    return bytes(data)
