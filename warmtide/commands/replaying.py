"""The command that makes a saved picture again from itself."""

import json
from pathlib import Path

import numpy as np

from ..core.job.replay import Replayed, replay
from ..core.job.told import original_key
from ..core.maths.arrays import Byte
from ..core.model.errors import BadInput
from ..core.model.recipe import ENGINE_VERSION
from ..core.pictures.image import FILE_LIMIT, decode, png
from ..core.pictures.inside import recipe_inside
from .files import write_file

# Formats that keep every pixel.
_EXACT = ("PNG", "TIFF")


class _Places:
    """Files of folders and of studies' files by the hash of their bytes, read as they are asked for."""

    def __init__(self, places: list[Path]) -> None:
        self._folders = [place for place in places if not place.is_file()]
        self._studies = [place for place in places if place.is_file()]
        self._known: dict[str, Path] | None = None

    def _in_studies(self, key: str) -> bytes | None:
        from ..work.studyfile.opened import OpenedStudy

        for path in self._studies:
            study = OpenedStudy(path)
            try:
                found = next((body for body in study.study.files if body.digest == key), None)
                if found is not None:
                    return study.data(found)
            finally:
                study.close()
        return None

    def _files(self) -> dict[str, Path]:
        if self._known is None:
            self._known = {}
            for folder in self._folders:
                try:
                    files = sorted(path for path in folder.iterdir() if path.is_file())
                    for path in files:
                        if path.stat().st_size <= FILE_LIMIT:
                            self._known.setdefault(original_key(path.read_bytes()), path)
                except OSError as error:
                    raise BadInput(f"{folder} can't be read ({error.strerror}); name a folder of sources.") from None
        return self._known

    def find(self, key: str, _: str) -> bytes | None:
        path = self._files().get(key)
        return self._in_studies(key) if path is None else path.read_bytes()


def _compared(file: Path, made: Replayed, data: bytes) -> tuple[bool, int]:
    """Whether a picture made again is the same, and how many pixels are others; of a format that loses some, by what it tells."""
    read = decode(data)
    if read.format in _EXACT:
        kept: Byte = read.rgba[..., :3]
        again = made.picture[..., :3]
        if kept.shape != again.shape:
            raise BadInput(
                f"{file} was saved at another size than it was made at; save it as it is to compare its pixels."
            )
        differing = int((kept != again).any(-1).sum())
        return differing == 0, differing
    if made.same is None:
        raise BadInput(
            f"{file} does not tell its pixels, and {read.format} does not keep them; save it as PNG or TIFF."
        )
    return made.same, 0 if made.same else int(np.prod(made.picture.shape[:2]))


def replayed(file: Path, sources: list[Path], out: Path | None, as_json: bool) -> int:
    """Make a saved picture again, say whether it is the same, and write it; 0 when it is, 1 when not."""
    try:
        data = file.read_bytes()
    except OSError as error:
        raise BadInput(f"{file} can't be read ({error.strerror}); name a saved picture.") from None
    inside = recipe_inside(data)
    if inside is None:
        raise BadInput(f"{file} does not say how it was made; save it with its recipe inside.")
    made = replay(inside, _Places(sources or [file.parent]).find)
    same, differing = _compared(file, made, data)
    if out is not None:
        write_file(out, png(made.picture, inside))
    engine = made.engine or "not told"
    if as_json:
        print(json.dumps({"same": same, "differing": differing, "steps": made.steps, "engine": engine}))
    else:
        why = "" if same or engine == ENGINE_VERSION else f"; it was made by engine {engine}, this is {ENGINE_VERSION}"
        said = "the same pixels" if same else f"{differing} pixels are others"
        print(f"{file}: {said}, {made.steps} {'step' if made.steps == 1 else 'steps'}{why}")
    return 0 if same else 1
