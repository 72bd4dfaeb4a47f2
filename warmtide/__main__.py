"""`python -m warmtide`."""

import os
import sys

# One process is one thread of work: more processes share a machine better than threads that wait for each other.
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
# Asking every installed package whether it extends the validation library takes 25 ms.
os.environ.setdefault("PYDANTIC_DISABLE_PLUGINS", "__all__")

from .cli import main

sys.exit(main())
