"""Draw the people among the demo's pictures: `python -m demo.people [FOLDER]`."""

import sys
from pathlib import Path

from PIL import Image

from .build import BUN, CLOTHS, HAIRS, IRISES, SKINS, Build
from .render import portrait

KEEPER = Build(
    skin=SKINS[2], hair=HAIRS[5], iris=IRISES[0], coat=CLOTHS[0], scarf=CLOTHS[1], hat=1.0, beard=1.0, brows=1.3, age=0.8, nose=1.12,
    smile=0.35, turn=0.22, tilt=0.06, light=-0.7, open=0.85, gaze=-0.1,
)  # fmt: skip
FISHER = Build(
    skin=SKINS[0], hair=HAIRS[4], iris=IRISES[3], coat=CLOTHS[3], scarf=CLOTHS[0], style=BUN, freckles=1.0, age=0.1, smile=0.6,
    turn=0.18, tilt=-0.05, nod=-0.04, light=0.7, lips=1.15, dog=1.0,
)  # fmt: skip


def main() -> int:
    folder = Path(sys.argv[1]) if len(sys.argv) > 1 else Path(__file__).parent.parent / "pictures"
    Image.fromarray(portrait(KEEPER, 1024, 832, 2)).save(folder / "keeper.jpg", quality=92)
    Image.fromarray(portrait(FISHER, 832, 1024, 5, zoom=0.98, across=-0.13)).save(folder / "fisher.jpg", quality=92)
    return 0


if __name__ == "__main__":
    raise SystemExit(main())
