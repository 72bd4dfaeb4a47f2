"""The queue: planning sweeps into jobs, and the workers that render them."""
