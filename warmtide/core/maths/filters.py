"""Plain filters that painters share."""

import math

import cv2
import numpy as np

from .arrays import Float, Mask, f32
from .bilateral import bilateral
from .blur import quick_blur

# Standard deviation from which a blur of bytes to floats, too, is better done through a smaller picture.
_BROAD = 3.0


def share_around(mask: Mask, sigma: float) -> Float:
    """How much of what lies around each place is in a mask (h, w), 0..1: its Gaussian blur, out to three deviations."""
    if sigma <= 0.2 or sigma >= _BROAD:
        return quick_blur(mask.astype(f32), sigma)
    taps = cv2.getGaussianKernel(2 * math.ceil(3 * sigma) + 1, sigma, cv2.CV_32F)
    share: Float = cv2.sepFilter2D(mask.view(np.uint8), cv2.CV_32F, taps, taps, borderType=cv2.BORDER_REFLECT)
    return share


def soften(lab: Float, times: int, spread: float, reach: float) -> Float:
    """Edge-keeping smoothing of a picture (h, w, 3): `reach` pixels, `spread` in OKLab."""
    radius = 2
    dilation = max(1, round(reach * 0.75))
    if dilation > 2:
        radius, dilation = 3, max(1, round(reach * 0.5))
    stack = np.ascontiguousarray(np.moveaxis(lab, 2, 0))
    for _ in range(times):
        stack = bilateral(stack, radius, dilation, spread, reach)
    merged: Float = cv2.merge(list(stack))
    return merged


def displaced(image: Float, dx: Float, dy: Float) -> Float:
    """The picture as seen through a displacement in pixels."""
    height, width = image.shape[:2]
    xs, ys = np.meshgrid(np.arange(width, dtype=f32), np.arange(height, dtype=f32))
    moved: Float = cv2.remap(
        image, xs + dx.astype(f32), ys + dy.astype(f32), cv2.INTER_LINEAR, borderMode=cv2.BORDER_REFLECT
    )
    return moved


def evened(lab: Float, reach: float) -> Float:
    """The picture with its local contrast evened out over `reach` pixels, so that lines are found in pale and
    dark places too: faces, shadows, figures at dusk."""
    light = np.ascontiguousarray(lab[..., 0])
    mean = quick_blur(light, reach)
    deviation = np.sqrt(np.maximum(quick_blur((light - mean) ** 2, reach), 0))
    out = lab.copy()
    out[..., 0] = 0.5 + (light - mean) / (deviation + f32(0.06)) * f32(0.15)
    return out


def brought_out(lab: Float, reach: float) -> Float:
    """The picture with its quiet places brought out, as a painter does at dusk or in a pale room.

    Differences from the mean over `reach` pixels grow up to 1.9 times where the local contrast is low; where
    there is none at all (skies, grounds) and where it is high nothing changes.
    """
    mean = quick_blur(lab, reach)
    apart = lab - mean
    squared = apart[..., 0] ** 2 + 2 * (apart[..., 1] ** 2 + apart[..., 2] ** 2)
    # Mean of roots, so that a lamp doesn't make its surroundings count as lively; 1.4 makes
    # it the standard deviation where differences are spread evenly.
    contrast = f32(1.4) * quick_blur(np.sqrt(np.sqrt(squared)).astype(f32), reach) ** 2
    some = np.clip((contrast - 0.010) / 0.020, 0, 1)
    much = np.clip((contrast - 0.05) / 0.09, 0, 1)
    gain = 1 + f32(0.9) * some * (1 - much)
    return (mean + apart * gain[..., None]).astype(f32)
