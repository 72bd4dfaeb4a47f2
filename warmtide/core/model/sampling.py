"""What a recipe must know of how it is sampled: the samplers there are, how many steps run."""

TITLES = {"dpm++2m": "DPM++ 2M", "euler": "Euler", "euler-ancestral": "Euler ancestral"}


SIDES = {"draft": 256, "glimpse": 128}


DRAFT_STEPS = {"draft": 5, "glimpse": 4}


def steps_run(strength: float, steps: int) -> int:
    """How many of the steps run at a strength: strength x steps, at least one."""
    return max(1, round(steps * strength))
