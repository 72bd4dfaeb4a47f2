"""How finishing does: `python -m bench.finish [larger] [memory] [same] [edges] [trace]`, all without a name.

larger: seconds against the 512 px take of the same recipe. memory: peak of a process of its own. same: what the larger keeps of the
smaller, every look. edges: PSNR against Lanczos after shrinking. trace: what a drawing that is drawn again shares with its picture.
Exits 1 where a bound is missed.
"""

import argparse
import io
import multiprocessing
import re
import sys
import time
from pathlib import Path

import cv2
import numpy as np
import resvg_py
from PIL import Image

from bench.engine import framed
from warmtide.core.finish.enlarge.edges import carried
from warmtide.core.finish.enlarge.kind import Job, Origin
from warmtide.core.finish.enlarge.registry import enlarged
from warmtide.core.finish.trace.drawing import Drawing, svg_of
from warmtide.core.finish.trace.ink import ink_of
from warmtide.core.finish.trace.network import borders_of
from warmtide.core.finish.trace.trace import flattened, traced
from warmtide.core.job.looking import look_of
from warmtide.core.job.take import restyle
from warmtide.core.looks.registry import looks
from warmtide.core.maths.arrays import Byte, Mask
from warmtide.core.maths.colour import bytes_to_lab
from warmtide.core.model.recipe import Recipe
from warmtide.core.pictures.framing import Framing, frame, framed_shape
from warmtide.core.pictures.image import decode
from warmtide.core.readings.pair import Pair, SourceReading
from warmtide.core.understanding.flat.art import coloured_areas

_PICTURES = Path(__file__).parent.parent / "demo" / "pictures"
_TIMES = {2048: 18.0, 4096: 75.0}
_MEMORY = {4096: 1000, 8192: 1500}
_KEPT, _NO_WORSE = 98.0, -0.1
_TRACED = {"areas": 0.99, "outlines": 0.95, "lines": 0.95}
_SLOW_TRACE = 1.5
# What a look is made for, where that is no badge.
_OWN = {"product": "kettle.png", "built": "massing.png"}
_SOME = ("watercolour", "ink-comic", "line-art", "soft-toon", "gold")
_DRAWN = (("badge.svg", "areas"), ("badge.png", "areas"), ("massing.png", "areas"), ("block.png", "areas"))
_INKED = (
    ("fisher.jpg", "line-art"),
    ("quay.jpg", "line-art"),
    ("boathouse.png", "clean-ink"),
    ("keeper.jpg", "ink-comic"),
)


def source_of(look: str, side: int) -> Byte:
    """What a look is made for, at a size."""
    if look in _OWN:
        return frame(decode((_PICTURES / _OWN[look]).read_bytes(), side).rgba, Framing(), side)
    if look_of(Recipe(look=look)).handling.once:
        return frame(decode((_PICTURES / "badge.png").read_bytes(), side).rgba, Framing(), side)
    return framed(side)


def job_of(look: str, side: int, small: Byte) -> Job:
    recipe = Recipe(look=look)
    height, width = framed_shape(*small.shape[:2], side)
    return Job(small, height, width, origin=Origin(recipe, look_of(recipe), lambda s: source_of(look, s)))


def small_of(look: str) -> Byte:
    return restyle(source_of(look, 512), Recipe(look=look))


def psnr(one: Byte, other: Byte) -> float:
    return float(10 * np.log10(255**2 / max(float(np.mean((one.astype(float) - other.astype(float)) ** 2)), 1e-9)))


def larger() -> bool:
    """Seconds of a larger one against the take."""
    good = True
    for look in _SOME:
        small_of(look)
        began = time.process_time()
        small = small_of(look)
        take = time.process_time() - began
        said = []
        for side, most in _TIMES.items():
            began = time.process_time()
            enlarged(job_of(look, side, small), "painted")
            ratio = (time.process_time() - began) / take
            good &= ratio <= most
            said.append(f"{side}: {ratio:5.1f} of {most:g}")
        print(f"{look:12} take {take:.2f} s, painted again {', '.join(said)}", flush=True)
    return good


def _peak(asked: tuple[str, int]) -> float:
    look, side = asked
    enlarged(job_of(look, side, small_of(look)), "painted")
    # What `getrusage` tells a process has from its parent.
    told = Path("/proc/self/status").read_text()
    return int(re.search(r"VmHWM:\s+(\d+)", told).group(1)) / 1000  # type: ignore[union-attr]


def memory() -> bool:
    """Megabytes at the peak."""
    good = True
    with multiprocessing.get_context("spawn").Pool(1, maxtasksperchild=1) as pool:
        for look in _SOME:
            for side, most in _MEMORY.items():
                found = pool.apply(_peak, ((look, side),))
                good &= found <= most
                print(f"{look:12} {side} px: {found:6.0f} MB of {most}", flush=True)
    return good


def same() -> bool:
    """What 1024 px keep of 512, every look."""
    kept = {}
    for look in looks():
        small = small_of(look)
        large = enlarged(job_of(look, 1024, small), "painted")
        back = np.asarray(cv2.resize(large, small.shape[1::-1], interpolation=cv2.INTER_AREA), np.uint8)
        kept[look] = Pair(SourceReading(small, ()), back).composition.kept
    below = {look: round(figure, 1) for look, figure in kept.items() if figure < _KEPT}
    print(
        f"{len(kept)} looks keep {min(kept.values()):.1f} to {max(kept.values()):.1f}; below {_KEPT:g}: {below or 'none'}",
        flush=True,
    )
    return not below


def edges() -> bool:
    """Gain over Lanczos in dB, by factor."""
    good = True
    for path in sorted(_PICTURES.glob("*.*")):
        rgb = flattened(decode(path.read_bytes(), 1024).rgba)
        scale = 1024 / max(rgb.shape[:2])
        rgb = np.asarray(cv2.resize(rgb, None, fx=scale, fy=scale, interpolation=cv2.INTER_AREA), np.uint8)
        rgb = np.ascontiguousarray(rgb[: rgb.shape[0] // 4 * 4, : rgb.shape[1] // 4 * 4])
        gains = []
        for factor in (2, 4):
            less = np.asarray(
                cv2.resize(rgb, None, fx=1 / factor, fy=1 / factor, interpolation=cv2.INTER_AREA), np.uint8
            )
            lanczos = np.asarray(cv2.resize(less, rgb.shape[1::-1], interpolation=cv2.INTER_LANCZOS4), np.uint8)
            gains.append(psnr(rgb, carried(less, *rgb.shape[:2])) - psnr(rgb, lanczos))
        good &= min(gains) > _NO_WORSE
        print(f"{path.name:16} x2 {gains[0]:+.2f} dB, x4 {gains[1]:+.2f} dB", flush=True)
    return good


def _drawn(drawing: Drawing, times: int) -> Byte:
    size = f'width="{drawing.width}" height="{drawing.height}"'
    text = svg_of(drawing).replace(size, f'width="{drawing.width * times}" height="{drawing.height * times}"', 1)
    data = bytes(resvg_py.svg_to_bytes(svg_string=text, background="white"))
    return np.asarray(Image.open(io.BytesIO(data)).convert("RGB"))


def _shared(one: Mask, other: Mask) -> float:
    return float((one & other).sum() / max((one | other).sum(), 1))


def _areas_shared(rgb: Byte, drawing: Drawing) -> float:
    """Shared pixels, every colour weighed by what it covers."""
    again, total, weight = _drawn(drawing, 1), 0.0, 0.0
    for group in drawing.groups:
        colour = np.array([int(group.colour[k : k + 2], 16) for k in (1, 3, 5)])
        one, other = (np.abs(p.astype(int) - colour).sum(2) < 90 for p in (rgb, again))
        total, weight = total + _shared(one, other) * float(one.sum()), weight + float(one.sum())
    return total / weight


def _ink_shared(rgb: Byte, drawing: Drawing) -> float:
    """Shared ink, on a grid four times as fine."""
    height, width = rgb.shape[:2]
    one = cv2.resize(ink_of(rgb).share, (4 * width, 4 * height), interpolation=cv2.INTER_LINEAR) > 0.5
    paper, dark = (int(group.colour[1:3], 16) for group in (drawing.groups[0], drawing.groups[-1]))
    return _shared(one, _drawn(drawing, 4)[..., 0] < (paper + dark) / 2)


def _plain_nodes(rgb: Byte, how: str) -> int:
    """Corners of the plain outlines of the picture's own pixels: of its flat colours, or of its ink."""
    height, width = rgb.shape[:2]
    fine = coloured_areas(bytes_to_lab(rgb))[0] if how == "areas" else ink_of(rgb).mask.astype(np.int32)
    labels = cv2.resize(fine, (width, height), interpolation=cv2.INTER_NEAREST)
    return sum(int((np.diff(line.corners, 2, axis=0) != 0).any(1).sum()) + 1 for line in borders_of(labels))


def trace() -> bool:
    """What drawings share with their pictures, and how large they are."""
    good = True
    pictures = [
        (name, frame(decode((_PICTURES / name).read_bytes(), 1024).rgba, Framing(), 1024), how) for name, how in _DRAWN
    ]
    for name, look in _INKED:
        source = frame(decode((_PICTURES / name).read_bytes(), 1024).rgba, Framing(), 1024)
        take = restyle(source, Recipe(look=look, size=1024, strength=0.6))
        pictures += [(f"{name} in {look}", take, how) for how in ("outlines", "lines")]
    for name, rgb, how in pictures:
        traced(rgb, how)
        began = time.process_time()
        drawing = traced(rgb, how)
        seconds = time.process_time() - began
        found = _areas_shared(rgb, drawing) if how == "areas" else _ink_shared(rgb, drawing)
        plain = _plain_nodes(rgb, how)
        good &= found >= _TRACED[how] and seconds <= _SLOW_TRACE
        print(
            f"{name:28} {how:8} shares {found:.3f} of {_TRACED[how]}, {seconds:.2f} s, {drawing.nodes} nodes ({plain} of pixels), "
            f"{len(svg_of(drawing)) / 1000:.0f} KB, {len(drawing.groups)} groups", flush=True,
        )  # fmt: skip
    return good


_PARTS = {"larger": larger, "memory": memory, "same": same, "edges": edges, "trace": trace}


if __name__ == "__main__":
    parser = argparse.ArgumentParser()
    parser.add_argument("parts", nargs="*", choices=[*_PARTS, []], default=[])
    chosen = parser.parse_args().parts or list(_PARTS)
    results = {name: _PARTS[name]() for name in chosen}
    print(", ".join(f"{name}: {'ok' if done else 'missed'}" for name, done in results.items()))
    sys.exit(0 if all(results.values()) else 1)
