"""The denoiser's kernels do what their equations say, written out once more in plain arrays."""

import unittest

import numpy as np
from scipy.ndimage import convolve1d

from warmtide.core.engine.shrink import (
    Gating,
    centre_on_paint,
    content_estimate,
    content_step,
    hold_and_update,
    move_to_paint,
    paint_step,
)
from warmtide.core.maths.arrays import AnyArray, Float, f32

_TAPS = np.array([1, 3, 6, 7, 6, 3, 1]) / 27
_SIGNIFICANT, _PRIOR_SHARE, _CAP = 1.9, 0.22, 25.0
SHAPES = ((24, 33), (17, 18), (4, 9), (1, 12))


def noise_of(level: float) -> Float:
    return np.array([level, level / 4, level / 4], f32)


def gates(above: AnyArray, height: int, width: int) -> AnyArray:
    """A band's gate at twice its size, bilinear, coarse sample i on fine sample 2 i."""
    _, rows, columns = above.shape
    ys, xs = np.arange(height), np.arange(width)
    upper, lower = np.minimum(ys // 2, rows - 1), np.minimum(ys // 2 + ys % 2, rows - 1)
    tall = 0.5 * (above[:, upper] + above[:, lower])
    left, right = np.minimum(xs // 2, columns - 1), np.minimum(xs // 2 + xs % 2, columns - 1)
    return 0.5 * (tall[:, :, left] + tall[:, :, right])


def shrunk(
    c: AnyArray, prior: AnyArray, above: AnyArray | None, noise: AnyArray, floor: AnyArray
) -> tuple[AnyArray, AnyArray]:
    """Gains of a band (3, h, w), and the gate that it hands on."""
    energy = convolve1d(convolve1d(c.astype(float) ** 2, _TAPS, axis=1, mode="mirror"), _TAPS, axis=2, mode="mirror")
    n, p = noise[:, None, None].astype(float), prior.astype(float)
    joint = np.clip((energy / n).mean(0) - _SIGNIFICANT, 0, 1) * 0.5
    excess = np.maximum(energy - _SIGNIFICANT * n, 0) + np.maximum(energy - n, 0) * joint
    excess *= 0.25 + 0.75 * (1.0 if above is None else gates(above, *c.shape[1:]))
    signal = np.minimum(excess, _CAP * np.maximum(p, floor[:, None, None])) + _PRIOR_SHARE * p
    gain = signal / (signal + n)
    return gain, np.minimum(gain**2 * energy / (0.8 * p + 1e-9), 1)


class Shrinkage(unittest.TestCase):
    def setUp(self) -> None:
        self.random = np.random.default_rng(8)
        self.step = np.array([0.7, 0.3, 1.4, 0.4], f32)
        self.floor = np.array([0.001, 0.0002, 0.0002], f32)

    def band(self, height: int, width: int, scale: float = 0.3) -> Float:
        return (scale * self.random.standard_normal((3, height, width))).astype(f32)

    def given(self, height: int, width: int) -> dict[str, Float]:
        """A state with its prior, holds, sources and the gate of the band above."""
        state = self.band(height, width)
        state[0, : height // 2 + 1, : width // 2 + 1] += 1.5
        above = self.random.random((3, -(-height // 2), -(-width // 2))).astype(f32)
        return {
            "c": state, "prior": (0.02 * self.random.random((3, height, width)) + 0.001).astype(f32), "above": above,
            "hold": self.random.random((height, width)).astype(f32), "bent": self.band(height, width),
            "source": self.band(height, width), "before": self.band(height, width), "paint": self.band(height, width),
        }  # fmt: skip

    def test_an_estimate_is_the_share_that_signal_explains(self) -> None:
        for height, width in SHAPES:
            for first in (True, False):
                with self.subTest(shape=(height, width), first=first):
                    g, noise = self.given(height, width), noise_of(0.05)
                    gate, estimate = np.zeros_like(g["c"]), np.zeros_like(g["c"])
                    content_estimate(
                        g["c"], Gating(g["prior"], g["above"], gate, noise, self.floor, first, True), estimate
                    )  # type: ignore[no-untyped-call]
                    gain, handed = shrunk(g["c"], g["prior"], None if first else g["above"], noise, self.floor)
                    np.testing.assert_allclose(estimate, gain * g["c"], atol=2e-5)
                    np.testing.assert_allclose(gate, handed, atol=2e-4)

    def test_more_noise_leaves_less_and_none_leaves_all(self) -> None:
        g = self.given(24, 33)
        left = []
        for level in (1e-7, 0.01, 0.1, 1.0, 100.0):
            gate, estimate = np.zeros_like(g["c"]), np.zeros_like(g["c"])
            content_estimate(
                g["c"], Gating(g["prior"], g["above"], gate, noise_of(level), self.floor, True, True), estimate
            )  # type: ignore[no-untyped-call]
            left.append(float(np.abs(estimate).sum() / np.abs(g["c"]).sum()))
            # Never more than there is, never turned around.
            self.assertTrue((np.abs(estimate) <= np.abs(g["c"]) + 1e-6).all())
            self.assertTrue((estimate * g["c"] >= 0).all())
        self.assertEqual(left, sorted(left, reverse=True))
        self.assertGreater(left[0], 0.999)
        self.assertLess(left[-1], 0.01)

    def test_what_died_in_the_band_above_hardly_lives_on(self) -> None:
        g, noise = self.given(24, 32), noise_of(0.05)
        shares = []
        for open_ in (0.0, 1.0):
            gate, estimate = np.zeros_like(g["c"]), np.zeros_like(g["c"])
            above = np.full_like(g["above"], open_)
            content_estimate(g["c"], Gating(g["prior"], above, gate, noise, self.floor, False, True), estimate)  # type: ignore[no-untyped-call]
            shares.append(float(np.abs(estimate).sum()))
        self.assertLess(shares[0], 0.9 * shares[1])

    def test_one_pass_does_what_two_do(self) -> None:
        for height, width in SHAPES:
            with self.subTest(shape=(height, width)):
                g, noise, chroma = self.given(height, width), noise_of(0.05), f32(0.3)
                gates_of = [np.zeros_like(g["c"]) for _ in range(2)]
                estimate = np.zeros_like(g["c"])
                content_estimate(
                    g["c"], Gating(g["prior"], g["above"], gates_of[0], noise, self.floor, False, True), estimate
                )  # type: ignore[no-untyped-call]
                state = g["c"].copy()
                hold_and_update(estimate, state, g["before"], g["hold"], g["bent"], g["source"], chroma, self.step)  # type: ignore[no-untyped-call]
                out, fused = np.zeros_like(g["c"]), g["before"].copy()
                content_step(  # type: ignore[no-untyped-call]
                    g["c"], out, Gating(g["prior"], g["above"], gates_of[1], noise, self.floor, False, True), fused,
                    g["hold"], g["bent"], g["source"], chroma, self.step,
                )  # fmt: skip
                np.testing.assert_allclose(out, state, atol=1e-6)
                np.testing.assert_allclose(fused, estimate, atol=1e-6)
                np.testing.assert_array_equal(gates_of[0], gates_of[1])

    def test_a_full_hold_is_the_source_and_none_is_none(self) -> None:
        g = self.given(12, 15)
        for weight, chroma in ((0.0, 0.0), (1.0, 0.0), (0.0, 1.0)):
            estimate, state = g["paint"].copy(), g["c"].copy()
            hold = np.full((12, 15), weight, f32)
            hold_and_update(estimate, state, g["before"], hold, g["bent"], g["source"], f32(chroma), self.step)  # type: ignore[no-untyped-call]
            expected = g["paint"].copy()
            if weight:
                expected[0] = g["bent"][0]
                expected[1:] += 0.6 * (g["bent"][1:] - expected[1:])
            if chroma:
                expected[1:] = g["source"][1:]
            np.testing.assert_allclose(estimate, expected, atol=1e-6)
            moved = 0.7 * g["c"] + 0.3 * (1.4 * expected - 0.4 * g["before"])
            np.testing.assert_allclose(state, moved, atol=1e-6)

    def test_paint_is_never_denoised_only_what_lies_around_it(self) -> None:
        for height, width in SHAPES:
            for low in (False, True):
                with self.subTest(shape=(height, width), low=low):
                    g, noise = self.given(height, width), noise_of(0.05)
                    push, colour, doubt, chroma = f32(0.3), f32(1.2), f32(0.4), f32(0.25)
                    low_gain = np.array([0.9, 0.5, 0.5], f32)
                    state, before, gate = g["c"].copy(), g["before"].copy(), np.zeros_like(g["c"])
                    paint_step(  # type: ignore[no-untyped-call]
                        state, g["paint"], g["bent"], Gating(g["prior"], g["above"], gate, noise, self.floor, False, True),
                        before, g["source"], chroma, self.step, doubt, (push, colour), low, low_gain,
                    )  # fmt: skip
                    guided = g["paint"].astype(float)
                    guided[0] += 0.3 * (g["paint"][0] - g["bent"][0])
                    guided[1:] *= 1.2
                    rest = (g["c"] - guided).astype(f32)
                    gain = (
                        low_gain[:, None, None] if low else shrunk(rest, g["prior"], g["above"], noise, self.floor)[0]
                    )
                    expected = guided + 0.4 * gain * rest
                    expected[1:] += 0.25 * (g["source"][1:] - expected[1:])
                    np.testing.assert_allclose(before, expected, atol=3e-5)
                    moved = 0.7 * g["c"] + 0.3 * (1.4 * expected - 0.4 * g["before"])
                    np.testing.assert_allclose(state, moved, atol=3e-5)

    def test_a_sleeping_band_arrives_where_steps_would_bring_it(self) -> None:
        g, push, colour = self.given(9, 11), f32(0.3), f32(1.1)
        guided = g["paint"].astype(float)
        guided[0] += 0.3 * (g["paint"][0] - g["source"][0])
        guided[1:] *= 1.1
        whole, halves, before = g["c"].copy(), g["c"].copy(), np.zeros_like(g["c"])
        move_to_paint(whole, before, g["paint"], g["source"], f32(0.25), push, colour)  # type: ignore[no-untyped-call]
        for _ in range(2):
            move_to_paint(halves, before, g["paint"], g["source"], f32(0.5), push, colour)  # type: ignore[no-untyped-call]
        np.testing.assert_allclose(whole, halves, atol=1e-6)
        np.testing.assert_allclose(whole, 0.25 * g["c"] + 0.75 * guided, atol=1e-6)
        np.testing.assert_allclose(before, guided, atol=1e-6)

    def test_centring_moves_the_state_by_what_paint_adds(self) -> None:
        g, before = self.given(9, 11), np.zeros((3, 9, 11), f32)
        for rho in (1.0, 0.4, 0.0):
            state = g["c"].copy()
            centre_on_paint(state, before, g["source"], g["paint"], f32(0), f32(1), f32(rho), f32(0.5))  # type: ignore[no-untyped-call]
            np.testing.assert_allclose(state, g["c"] + (1 - rho) * (g["paint"] - g["source"]), atol=1e-6)
            # What is believed of the source's own estimate fades with the same share.
            np.testing.assert_allclose(before, g["paint"] + 0.5 * rho * (g["source"] - g["paint"]), atol=1e-6)
