"""What an artist may give beside a source: a region that may change, a depth guide, faces and subject marked by hand."""

import hashlib
from dataclasses import dataclass

import cv2
import numpy as np

from ..maths.arrays import Byte
from .face import Face


@dataclass(frozen=True)
class Guides:
    """Pictures and marks that lead a take; part of its key.

    Attributes
    ----------
    region : (h, w) uint8, 0 where not one bit may change, 255 where all may; None for everywhere.
    depth : (h, w) uint8, white near; None when there is none.
    faces : faces marked by the artist; they take the place of those found. None to look for them.
    subject : (h, w) uint8, where the artist painted the subject in (255) and out (0); 128 elsewhere; or None.
    cover : (h, w) uint8, how solid a cut-out is, where a scene is to be seen behind it; None without transparency.
    """

    region: Byte | None = None
    depth: Byte | None = None
    faces: tuple[Face, ...] | None = None
    cover: Byte | None = None
    subject: Byte | None = None

    @property
    def key(self) -> str:
        """Hash of everything that is given, or an empty text when nothing is."""
        planes = {"region": self.region, "depth": self.depth, "cover": self.cover, "subject": self.subject}
        if self.faces is None and all(plane is None for plane in planes.values()):
            return ""
        digest = hashlib.sha256()
        for name, plane in planes.items():
            if plane is not None:
                digest.update(f"{name} {plane.shape}:".encode())
                digest.update(np.ascontiguousarray(plane).tobytes())
        if self.faces is not None:
            digest.update(f"faces {[(f.x, f.y, f.width, f.angle) for f in self.faces]}".encode())
        return digest.hexdigest()

    def at(self, height: int, width: int) -> "Guides":
        """The same guides for a picture of another size; outside a region stays outside."""
        region = self.region
        if region is not None and region.shape != (height, width):
            outside = cv2.resize((region == 0).astype(np.uint8), (width, height), interpolation=cv2.INTER_NEAREST)
            region = np.where(outside > 0, 0, cv2.resize(region, (width, height), interpolation=cv2.INTER_LINEAR))
            region = region.astype(np.uint8)
        depth = self.depth
        if depth is not None and depth.shape != (height, width):
            depth = cv2.resize(depth, (width, height), interpolation=cv2.INTER_AREA)
        cover = self.cover
        if cover is not None and cover.shape != (height, width):
            cover = cv2.resize(cover, (width, height), interpolation=cv2.INTER_AREA)
        subject = self.subject
        if subject is not None and subject.shape != (height, width):
            subject = cv2.resize(subject, (width, height), interpolation=cv2.INTER_AREA)
        return Guides(region, depth, self.faces, cover, subject)


NO_GUIDES = Guides()
