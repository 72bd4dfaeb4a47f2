"""Random values: the normal curve as a kernel has it."""

import unittest

import numpy as np

from warmtide.core.maths.gaussian import normal_quantile


class Quantiles(unittest.TestCase):
    def test_they_are_scipys_to_the_last_bit(self) -> None:
        from scipy.special import ndtri

        shares = (np.arange(0, 2**24, 97) + 0.5) * 2.0**-24
        ends = np.array([0.5, 2**23 - 0.5, 2**24 - 0.5]) * 2.0**-24
        for share, wanted in zip(np.r_[shares[::40], ends], ndtri(np.r_[shares[::40], ends]), strict=True):
            self.assertEqual(normal_quantile(float(share)), wanted)


if __name__ == "__main__":
    unittest.main()
