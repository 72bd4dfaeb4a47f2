"""The file of a study, piece by piece: nothing but one picture is held at a time."""

import zipfile
from collections.abc import Iterator

from ...core.export.sink import Sink
from ...records.store import ImageStore
from .form import StudyFile

NAME = "study.json"
# As much of a file as is read at once.
_PIECE = 1 << 20


def written(study: StudyFile, store: ImageStore) -> Iterator[bytes]:
    """The bytes of a study's file as they are made: what it says first, then its pictures as they are kept."""
    sink = Sink()
    with zipfile.ZipFile(sink, "w", zipfile.ZIP_STORED) as file:  # type: ignore[call-overload]
        file.writestr(NAME, study.model_dump_json(indent=1), zipfile.ZIP_DEFLATED)
        yield sink.taken()
        for body in study.files:
            with file.open(zipfile.ZipInfo(body.path), "w", force_zip64=True) as entry:
                for piece in store.pieces(body.digest, _PIECE):
                    entry.write(piece)
                    yield sink.taken()
    yield sink.taken()
