"""A worker doesn't keep what a large take needed."""

import subprocess
import sys
import unittest

# In a process of its own: large arrays with small kept ones between them, freed, then given back.
CODE = """
import re
import numpy as np
from warmtide.work.memory import give_back

def standing():
    return int(re.search(r"VmRSS:\\s+(\\d+)", open("/proc/self/status").read())[1]) // 1024

# What is freed once in this size is taken from the heap from then on, not from the system.
np.ones(31_000_000, np.uint8)
began, kept, large = standing(), [], []
for k in range(60):
    large.append(np.ones(4_000_000, np.uint8))
    kept.append(np.ones(500_000, np.uint8))
full = standing()
large.clear()
freed = standing()
give_back()
print(began, full, freed, standing(), len(kept))
"""


class GivingBack(unittest.TestCase):
    def test_holes_between_what_is_kept_go_back_to_the_system(self) -> None:
        done = subprocess.run([sys.executable, "-c", CODE], capture_output=True, text=True, check=True)
        began, full, freed, after, _ = (int(n) for n in done.stdout.split())
        self.assertGreater(full - began, 200)
        # The C library keeps most of it, which is why it must be asked.
        self.assertGreater(freed - began, 100)
        self.assertLess(after - began, 60)
