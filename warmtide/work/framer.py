"""Sources as the engine sees them: framed, with what leads their takes."""

import asyncio
import json
import threading
from collections import OrderedDict
from dataclasses import replace
from typing import Any

from ..core.job.looking import covers
from ..core.maths.arrays import Byte, pixel_key
from ..core.model.guides import NO_GUIDES, Guides
from ..core.model.recipe import Recipe
from ..core.pictures.framing import (
    Framing,
    frame,
    framed_cover,
    framed_natural,
    original_side,
)  # fmt: skip
from ..core.pictures.guide import framed_plane
from ..core.pictures.image import Picture
from ..core.pictures.recolour import opened
from ..core.understanding.faces import framed_faces
from ..records.models import Source, Take
from ..records.store import ImageStore

_ORIGINALS = 2


class Framer:
    """Framed pictures of sources, the last few kept."""

    def __init__(self, store: ImageStore, keep: int = 12) -> None:
        self.store, self._keep = store, keep
        self._held: OrderedDict[tuple[str, str, int], tuple[Byte, str]] = OrderedDict()
        self._guides: OrderedDict[tuple[str, str, str, str, str, str, int], Guides] = OrderedDict()
        # One at a time: whoever asks for the same picture meanwhile finds it read.
        self._reading = threading.Lock()
        self._originals: OrderedDict[tuple[str, tuple[tuple[str, str], ...], int | None], Picture] = OrderedDict()

    async def framed(self, source: Source, size: int, given: dict[str, Any] | None = None) -> tuple[Byte, str]:
        """The picture that the engine sees at a size, and the hash of its pixels; `given` is an older framing."""
        framing = Framing.model_validate(given or source.framing)
        key = (source.original, framing.model_dump_json(), size)
        if key not in self._held:
            self._held[key] = await asyncio.to_thread(
                self._make, source.original, (source.height, source.width), framing, size
            )
        self._held.move_to_end(key)
        found = self._held[key]
        while len(self._held) > self._keep:
            self._held.popitem(last=False)
        return found

    def natural(self, source: Source) -> tuple[int, int]:
        """Height and width of a source as it is framed, before it is sized."""
        return framed_natural(source.height, source.width, Framing.model_validate(source.framing))

    async def whole(self, source: Source, most: int | None = None) -> Byte:
        """A source as it is framed, with all its pixels, or a long side of `most`."""
        side = max(self.natural(source))
        picture, _ = await self.framed(source, side if most is None else min(side, most))
        return picture

    async def guides(self, source: Source, recipe: Recipe, take: Take | None = None) -> Guides:
        """What leads a take of this source: where it may change, faces that were marked, its depth guide, where depth is
        held, what was painted into its subject, and how solid a cut-out is, where that matters. A `take` that was planned keeps
        the framing, the region, the subject and the faces it was planned with."""
        of = take or source
        given, region, subject = of.framing, of.region, of.subject
        depth = source.depth if recipe.holds.depth > 0 else None
        covered = source.has_alpha and covers(recipe)
        if depth is None and region is None and subject is None and of.faces is None and not covered:
            return NO_GUIDES
        framing = Framing.model_validate(given or source.framing)
        key = (
            depth or "", region or "", subject or "", source.original if covered else "", json.dumps(of.faces),
            framing.model_dump_json(), recipe.size,
        )  # fmt: skip
        if key not in self._guides:
            shape = (source.height, source.width)
            found = replace(NO_GUIDES, faces=framed_faces(of.faces, *shape, framing))
            if depth is not None:
                plane = await asyncio.to_thread(self._plane, depth, "depth", shape, framing, recipe.size)
                found = replace(found, depth=plane)
            if region is not None:
                plane = await asyncio.to_thread(self._plane, region, "region", shape, framing, recipe.size)
                found = replace(found, region=plane)
            if subject is not None:
                plane = await asyncio.to_thread(self._plane, subject, "subject", shape, framing, recipe.size)
                found = replace(found, subject=plane)
            if covered:
                cover = await asyncio.to_thread(self._cover, source.original, shape, framing, recipe.size)
                found = replace(found, cover=cover)
            self._guides[key] = found
            while len(self._guides) > self._keep:
                self._guides.popitem(last=False)
        return self._guides[key]

    async def region(self, source: Source, digest: str, size: int, given: dict[str, Any] | None = None) -> Byte:
        """A region (h, w) as it lies in a source that is framed at a size; `given` is an older framing."""
        framing = Framing.model_validate(given or source.framing)
        return await asyncio.to_thread(self._plane, digest, "region", (source.height, source.width), framing, size)

    def _cover(self, original: str, shape: tuple[int, int], framing: Framing, size: int) -> Byte | None:
        read = self.original(original, framing.new_colours, original_side(*shape, framing, size))
        return framed_cover(read.rgba, framing, size, read.whole)

    def _plane(self, digest: str, name: str, shape: tuple[int, int], framing: Framing, size: int) -> Byte:
        return framed_plane(self.store.get(digest), name, shape, framing, size)

    def original(self, digest: str, recolour: tuple[tuple[str, str], ...], side: int | None) -> Picture:
        """An original with its parts' new colours and at least `side` pixels, the last two kept."""
        with self._reading:
            return self._original(digest, recolour, side)

    def _original(self, digest: str, recolour: tuple[tuple[str, str], ...], side: int | None) -> Picture:
        for known, picture in list(self._originals.items()):
            enough = side is not None and max(picture.rgba.shape[:2]) >= min(side, max(picture.whole))
            if known[:2] == (digest, recolour) and (known[2] is None or enough):
                return picture
        picture = opened(self.store.get(digest), recolour, side)
        self._originals[(digest, recolour, side)] = picture
        while len(self._originals) > _ORIGINALS:
            self._originals.popitem(last=False)
        return picture

    def _make(self, original: str, shape: tuple[int, int], framing: Framing, size: int) -> tuple[Byte, str]:
        read = self.original(original, framing.new_colours, original_side(*shape, framing, size))
        picture = frame(read.rgba, framing, size, read.whole)
        return picture, pixel_key(picture)
