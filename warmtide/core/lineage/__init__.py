"""How a picture came about: what changed from step to step, the tree of a study, the way to one picture."""
