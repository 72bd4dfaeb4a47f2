"""Smooth random fields of unit variance, and the normal values that they grow from.

They grow from a grid of values each of which hangs on its own place alone, so that a draft whose sides were rounded has
the same field.

Sources
-------
1. G. Steele, D. Lea, C. Flood, "Fast splittable pseudorandom number generators", 2014 (the mixing of bits).
2. S. Moshier, "Methods and Programs for Mathematical Functions", 1989 (the normal distribution's quantiles; the same
   figures to the last bit as SciPy's, which takes .13 s to load).
"""

import math

import cv2
import numpy as np

from .arrays import Float, f32
from .jit import kernel

# Quotients of polynomials, highest power first: for the middle of the curve, and for its tails.
_MIDDLE = (-5.99633501014107895267e1, 9.80010754185999661536e1, -5.66762857469070293439e1, 1.39312609387279679503e1,
           -1.23916583867381258016e0)  # fmt: skip


_UNDER_MIDDLE = (1.0, 1.95448858338141759834e0, 4.67627912898881538453e0, 8.63602421390890590575e1, -2.25462687854119370527e2,
                 2.00260212380060660359e2, -8.20372256168333339912e1, 1.59056225126211695515e1, -1.18331621121330003142e0)  # fmt: skip


_TAIL = (4.05544892305962419923e0, 3.15251094599893866154e1, 5.71628192246421288162e1, 4.40805073893200834700e1,
         1.46849561928858024014e1, 2.18663306850790267539e0, -1.40256079171354495875e-1, -3.50424626827848203418e-2,
         -8.57456785154685413611e-4)  # fmt: skip


_UNDER_TAIL = (1.0, 1.57799883256466749731e1, 4.53907635128879210584e1, 4.13172038254672030440e1, 1.50425385692907503408e1,
               2.50464946208309415979e0, -1.42182922854787788574e-1, -3.80806407691578277194e-2, -9.33259480895457427372e-4)  # fmt: skip


# Shares within which the middle's quotient holds: e^-2 of either end.
_END = 0.13533528323661269189


_ROOT_TWO_PI = 2.50662827463100050242


@kernel
def _polynomial(x, factors):  # type: ignore[no-untyped-def]
    value = factors[0]
    for k in range(1, len(factors)):
        value = value * x + factors[k]
    return value


@kernel
def normal_quantile(share):  # type: ignore[no-untyped-def]
    """The value under which a share of the normal curve lies; `share` from 1e-13 to 1 - 1e-13."""
    upper = share > 1.0 - _END
    y = 1.0 - share if upper else share
    if y > _END:
        y = y - 0.5
        squared = y * y
        x = y + y * (squared * _polynomial(squared, _MIDDLE) / _polynomial(squared, _UNDER_MIDDLE))
        return x * _ROOT_TWO_PI
    x = math.sqrt(-2.0 * math.log(y))
    z = 1.0 / x
    x = x - math.log(x) / x - z * _polynomial(z, _TAIL) / _polynomial(z, _UNDER_TAIL)
    return x if upper else -x


@kernel
def _deal(key, out):  # type: ignore[no-untyped-def]
    """Unit normal values, each from its place and the key alone."""
    rows, columns = out.shape
    for i in range(rows):
        for j in range(columns):
            bits = key + np.uint64(i) * np.uint64(0x9E3779B97F4A7C15) + np.uint64(j) * np.uint64(0xD1B54A32D192ED03)
            bits = (bits ^ (bits >> np.uint64(30))) * np.uint64(0xBF58476D1CE4E5B9)
            bits = (bits ^ (bits >> np.uint64(27))) * np.uint64(0x94D049BB133111EB)
            bits = bits ^ (bits >> np.uint64(31))
            # In double precision: the last of them must not round to 1, which has no place on the normal curve.
            out[i, j] = normal_quantile((np.float64(bits >> np.uint64(40)) + 0.5) * 2.0**-24)


def _grid(generator: np.random.Generator, rows: int, columns: int) -> Float:
    """Unit normal values (rows, columns); one more row or column changes none of the others."""
    values = np.empty((rows, columns), f32)
    _deal(generator.integers(0, 1 << 63, dtype=np.uint64), values)
    return values


def smooth_field(generator: np.random.Generator, height: int, width: int, scale: float) -> Float:
    """Smooth Gaussian noise (h, w), mean 0 and variance 1, with features of about `scale` pixels."""
    if scale < 1.5:
        field = generator.standard_normal((height, width), dtype=f32)
        if scale * 0.5 > 0.2:
            field = cv2.GaussianBlur(field, (0, 0), scale * 0.5, borderType=cv2.BORDER_REFLECT)
    else:
        cell = scale / 2
        rows, columns = int(height / cell) + 4, int(width / cell) + 4
        coarse = _grid(generator, rows, columns)
        coarse = cv2.GaussianBlur(coarse, (0, 0), 1.0, borderType=cv2.BORDER_REFLECT)
        wide = (int(columns * cell) + 1, int(rows * cell) + 1)
        field = cv2.resize(coarse, wide, interpolation=cv2.INTER_CUBIC)[:height, :width]
    return np.ascontiguousarray((field - field.mean()) / (field.std() + f32(1e-6)), dtype=f32)
