"""The painted track: denoised around the painter's rendering."""

import math

import numpy as np

from ..maths.arrays import Bands, Float, f32
from ..maths.octaves import guided_at, trust_at
from ..maths.pyramid import build, collapse
from ..model.look import Look
from .content import ContentTrack
from .samplers import Update
from .shrink import Gating, centre_on_paint, move_to_paint, paint_step

# Before the first rendering the track is believed to have begun no higher than this.
_BEGAN = 2.2
_DEEP_OCTAVE = 1.5
_CHROMA_OCTAVE = 2.5


class PaintedTrack:
    """State of the painted track, band by band.

    D_b = G_b + (1 - w_b) U(x - G)_b with w_b = sigma^2 / (sigma^2 + t_b^2), G the guided rendering and U the
    denoiser: the residual around the rendering is denoised, never the marks themselves.
    """

    def __init__(
        self, content: ContentTrack, look: Look, strength: float, gamma: float, guidance: float, colours: float
    ) -> None:
        self.content = content
        plan, handling = content.plan, look.handling
        softer = guidance**-0.25
        # Looks with a ground of their own: it sets in gently, and at high strength no ghost of the source stays.
        own = handling.deep_trust ** (1 + 2 * strength)
        self.trust, self.push, self.bolder, self.colour, self.chroma = [], [], [], [], []
        for b, octave in enumerate(plan.octaves):
            deep = octave > _DEEP_OCTAVE
            self.trust.append(trust_at(octave) * softer * (own if deep else 1.0))
            push, away = (gamma - 1) * guided_at(octave) * handling.push, 1.0 if deep else handling.bare_push
            self.push.append(f32(push * (handling.deep_push if deep else away)))
            self.bolder.append(f32(1 + push * (1 - away)))
            # Coarse chroma is pushed less: a whole picture must not run away in hue.
            full = 1 + (gamma**0.8 - 1) * handling.push
            self.colour.append(f32(full if b < plan.levels else 1 + (full - 1) * 0.8))
            self.chroma.append(f32(0 if handling.owns_colour or octave <= _CHROMA_OCTAVE else 0.85 * colours))
        count = plan.levels + 1
        self.held = content.source.bands
        self.state: Bands = []
        self.before: Bands = []
        self.asleep = [False] * count
        self.paint: Bands | None = None

    def begin(self, i: int) -> None:
        """Take the content track's state; sleeping bands in closed form."""
        sigma = self.content.plan.sigmas[i]
        for b in range(self.content.plan.levels + 1):
            self.state.append(self.content.standing(b, sigma))
            self.before.append(self.content.shown(b).copy())
            self.asleep[b] = not self.content.awake(b)

    def show(self, rendering: Float, i: int) -> None:
        """A new rendering (3, h, w). The first also moves the state to where it would stand by now."""
        plan = self.content.plan
        first = self.paint is None
        self.paint = build(rendering, plan.levels)
        for band, bolder in zip(self.paint, self.bolder, strict=True):
            if bolder != 1:
                band[0] *= bolder
        if not first:
            return
        sigma = plan.sigmas[i]
        began = min(plan.sigmas[0], _BEGAN)
        for b in range(plan.levels + 1):
            t2 = self.trust[b] ** 2
            rho = math.sqrt((sigma**2 + t2) / (began**2 + t2))
            centre_on_paint(
                self.state[b], self.before[b], self.content.shown(b), self.paint[b], self.push[b], self.colour[b],
                f32(rho), f32(t2 / (sigma**2 + t2)),
            )  # fmt: skip

    def step(self, i: int, update: Update) -> None:
        """Denoise around the rendering and move every band."""
        assert self.paint is not None
        content, plan = self.content, self.content.plan
        sigma, last = plan.sigmas[i], plan.levels
        coefficients = np.array([update.keep, update.gain, update.now, update.before], f32)
        for b in range(last, -1, -1):
            paint, estimate = self.paint[b], content.shown(b)
            if self.asleep[b]:
                if sigma > plan.wake_at[b] and i < plan.count - 1:
                    ratio = f32(plan.sigmas[i + 1] / sigma)
                    move_to_paint(self.state[b], self.before[b], paint, estimate, ratio, self.push[b], self.colour[b])
                    continue
                self.asleep[b] = False
            t2 = self.trust[b] ** 2
            gating = Gating(
                content.ground.prior[b], content.gate_above(b), content.gate[b], plan.noise(sigma, b), plan.floors[b],
                b == last - 1, b > 0,
            )  # fmt: skip
            paint_step(
                self.state[b], paint, estimate, gating, self.before[b], self.held[b], self.chroma[b], coefficients,
                f32(t2 / (sigma**2 + t2)), (self.push[b], self.colour[b]), b == last, plan.residue_gain(sigma),
            )  # fmt: skip

    def add_noise(self, fresh: Bands, sigma: float) -> None:
        for b, state in enumerate(self.state):
            if not self.asleep[b]:
                state += f32(sigma) * fresh[b]

    def picture(self) -> Float:
        """The finished planar picture."""
        return collapse(self.state)
