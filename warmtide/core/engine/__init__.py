"""The built-in engine: schedule, sampler, holds; it is given the look that it paints with."""
