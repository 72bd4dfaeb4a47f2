"""The content track: denoised band by band, held to the source."""

import numpy as np

from ..maths.arrays import Bands, Float, f32
from ..maths.bilateral import bilateral
from ..maths.pyramid import build, collapse
from .plan import Ground, Plan
from .samplers import Update
from .shrink import Gating, content_estimate, content_step, hold_and_update
from .source import PreparedSource

_SMOOTH_ABOVE = 0.25


class ContentTrack:
    """The track that keeps the composition: denoised band by band, held to the source."""

    def __init__(
        self,
        plan: Plan,
        source: PreparedSource,
        ground: Ground,
        noise: Bands,
        colours: float,
        mean: Bands | None = None,
    ) -> None:
        self.plan, self.source, self.ground, self.noise, self.mean = plan, source, ground, noise, mean
        self.colours = colours
        # All of the track is told from the prior's mean; only what `shown` and `standing` give is a whole picture.
        self.kept = source.bands if mean is None else [s - m for s, m in zip(source.bands, mean, strict=True)]
        count = plan.levels + 1
        # The colour hold leaves fine chroma to the painter.
        self.chroma = [f32(colours if plan.octaves[b] > 1.5 else 0) for b in range(count)]
        self.state: list[Float | None] = [None] * count
        self.spare: list[Float | None] = [None] * count
        self.before: list[Float | None] = [None] * count
        self.gate = [np.empty_like(b) for b in ground.bands]
        self.open_gate = np.ones((3, 1, 1), f32)
        self.estimate = [self._asleep_estimate(b) for b in range(count)]

    def _asleep_estimate(self, b: int) -> Float:
        """While noise drowns a band, all that is known of it is what the holds give."""
        hold = self.ground.holds[b][None] * np.array([1, 0.6, 0.6], f32)[:, None, None]
        held = hold * self.ground.bands[b]
        held[1:] += self.chroma[b] * (self.kept[b][1:] - held[1:])
        return np.ascontiguousarray(held, dtype=f32)

    def noisy(self, b: int, sigma: float) -> Float:
        """State of a sleeping band at a noise level, in closed form."""
        start = f32(self.plan.sigmas[0])
        state: Float = self.ground.bands[b] + start * self.noise[b]
        ratio = f32(sigma) / start
        if ratio != 1:
            state = (state - self.estimate[b]) * ratio + self.estimate[b]
        return np.ascontiguousarray(state, dtype=f32)

    def shown(self, b: int) -> Float:
        """The estimate of a band, as a picture."""
        return self.estimate[b] if self.mean is None else self.estimate[b] + self.mean[b]

    def standing(self, b: int, sigma: float) -> Float:
        """A copy of the state of a band, as a picture; of a sleeping one in closed form."""
        state = self.state[b]
        found: Float = state.copy() if state is not None else self.noisy(b, sigma)
        return found if self.mean is None else found + self.mean[b]

    def awake(self, b: int) -> bool:
        return self.state[b] is not None

    def _wake(self, b: int, sigma: float) -> None:
        self.state[b] = self.noisy(b, sigma)
        self.spare[b] = np.empty_like(self.ground.bands[b])

    def gate_above(self, b: int) -> Float:
        return self.gate[b + 1] if b < self.plan.levels - 1 else self.open_gate

    def _gating(self, b: int, sigma: float, hand_on: bool) -> Gating:
        plan = self.plan
        noise, first = plan.noise(sigma, b), b == plan.levels - 1
        return Gating(self.ground.prior[b], self.gate_above(b), self.gate[b], noise, plan.floors[b], first, hand_on)

    def _finish(self, b: int, step: Float) -> None:
        g = self.ground
        hold_and_update(
            self.estimate[b], self.state[b], self.before[b], g.holds[b], g.bands[b], self.kept[b], self.chroma[b], step
        )

    def step(self, i: int, update: Update) -> None:
        """Denoise, hold and move every band that is awake."""
        plan, g = self.plan, self.ground
        sigma, last = plan.sigmas[i], plan.levels
        smooth, lowest = sigma > _SMOOTH_ABOVE, max(1 - plan.left_out, 0)
        coefficients = np.array([update.keep, update.gain, update.now, update.before], f32)
        for b in range(last, -1, -1):
            if not self.awake(b):
                if sigma > plan.wake_at[b] and i < plan.count - 1:
                    continue
                self._wake(b, sigma)
            if (smooth and b >= lowest) or b == last:
                self.before[b] = self.estimate[b]
            if b == last:
                self.estimate[b] = self.state[b] * plan.residue_gain(sigma)[:, None, None]  # type: ignore[operator]
                if not smooth:
                    self._finish(b, coefficients)
            elif smooth and b >= lowest:
                self.estimate[b] = np.empty_like(self.estimate[b])
                content_estimate(self.state[b], self._gating(b, sigma, True), self.estimate[b])
            else:
                # The fused kernel reads the old estimate where it writes the new one.
                content_step(
                    self.state[b], self.spare[b], self._gating(b, sigma, b > 0), self.estimate[b], g.holds[b], g.bands[b],
                    self.kept[b], self.chroma[b], coefficients,
                )  # fmt: skip
                self.state[b], self.spare[b] = self.spare[b], self.state[b]
        if smooth:
            self._piecewise(sigma)
            for b in range(lowest, last + 1):
                if self.awake(b):
                    self._finish(b, coefficients)

    def _piecewise(self, sigma: float) -> None:
        """Pull the estimate toward piecewise smooth surfaces, at half size or less of the full take."""
        levels, left_out = self.plan.levels, self.plan.left_out
        first = max(1 - left_out, 0)
        while first < levels and not self.awake(first):
            first += 1
        first = max(first, (1 if sigma <= 2 else 2) - left_out)
        if first >= levels - 1:
            return
        amount = f32(min(max((sigma - _SMOOTH_ABOVE) / 0.75, 0.0), 1.0) * 0.85)
        before = collapse(self.estimate, first)
        after = before
        apart = 2 if first + left_out == 1 else 1
        for spread in (0.30, 0.22):
            after = bilateral(after, 2, apart, spread, 1.5 * apart)
        mixed = before + amount * (after - before)
        for b, band in enumerate(build(mixed, levels - first)):
            self.estimate[b + first] = band

    def picture(self) -> Bands:
        """Pyramid of the estimate, as a picture."""
        return [self.shown(b) for b in range(self.plan.levels + 1)]

    def add_noise(self, fresh: Bands, sigma: float) -> None:
        for b, state in enumerate(self.state):
            if state is not None:
                state += f32(sigma) * fresh[b]
