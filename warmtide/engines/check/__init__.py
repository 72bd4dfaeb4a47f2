"""Whether an engine keeps to the protocol: one small question after another."""
