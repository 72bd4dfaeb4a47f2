"""Small vision networks that look at a picture: where their files are, and how one is run.

The files come in a package that only carries them; none of its code is imported. Where it is absent every caller is
told so by `None` and goes on with what it had.
"""

import importlib.util
import threading
from functools import cache
from pathlib import Path
from typing import Any

import cv2
import numpy as np

from ..maths.arrays import Float

_CARRIER = "mediapipe"
# A net is not to be shared between threads: each keeps its own.
_loaded = threading.local()


@cache
def _folder() -> Path | None:
    found = importlib.util.find_spec(_CARRIER)
    return Path(found.origin).parent / "modules" if found is not None and found.origin else None


@cache
def network_file(name: str) -> Path | None:
    """The file of a network such as "face_landmark/face_landmark", or None where it is not installed."""
    folder = _folder()
    path = folder / f"{name}.tflite" if folder else None
    return path if path is not None and path.is_file() else None


def _net(name: str) -> Any:
    nets: dict[str, Any] = vars(_loaded).setdefault("nets", {})
    if name not in nets:
        path = network_file(name)
        # With the other engine outputs are missing.
        nets[name] = None if path is None else cv2.dnn.readNetFromTFLite(str(path), cv2.dnn.ENGINE_CLASSIC)
    return nets[name]


def look(name: str, picture: Float, outputs: tuple[str, ...] | None = None) -> tuple[Float, ...] | None:
    """What a network says of a picture, or None where it is not installed. 5 to 35 ms; 10 to 25 ms more the first time.

    Parameters
    ----------
    picture : (h, w, 3) in the network's own range and size. outputs : their names; None for all.
    """
    net = _net(name)
    if net is None:
        return None
    net.setInput(np.ascontiguousarray(picture.transpose(2, 0, 1)[None], dtype=np.float32))
    return tuple(net.forward(outputs or net.getUnconnectedOutLayersNames()))
