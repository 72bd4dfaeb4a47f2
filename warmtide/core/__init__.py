"""Pure computation: no web, no database. Everything here can be used and tested on its own."""

import os

# One take uses one thread: the workers are the parallelism, and results must not depend on it.
os.environ.setdefault("OMP_NUM_THREADS", "1")
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
os.environ.setdefault("OPENCV_FOR_THREADS_NUM", "1")
