"""Ten untextured buildings whose faces and windows are known; all were in sight while openings were made."""

from demo.massing import Building, Render
from demo.massing import draw as draw_building

BUILDINGS: dict[str, Building] = {
    "cottage": Building(),
    "long barn": Building(wide=14, deep=6, tall=3.4, roof=2.6, turn=-28, away=22, windows=(1, 5, 1)),
    "box": Building(roof=0, turn=40, windows=(1, 3, 2)),
    "two storeys": Building(tall=6.4, roof=2.0, turn=25, away=20, windows=(2, 4, 2)),
    "office": Building(wide=11, deep=8, tall=9.5, roof=0, turn=-36, away=27, windows=(3, 5, 3), door=True),
    "narrow house": Building(wide=5, deep=8, tall=7, roof=2.4, turn=-40, away=20, windows=(2, 2, 3)),
    "with a wing": Building(turn=30, wing=True, away=20),
    "blank shed": Building(wide=9, deep=7, tall=4, roof=1.6, turn=36, windows=(0, 0, 0), door=False),
    "seen from above": Building(turn=33, away=24, eye=9.0),
    "low hall": Building(wide=16, deep=9, tall=4.2, roof=1.4, turn=-24, away=26, windows=(1, 6, 2)),
}


def draw(name: str, height: int = 420, width: int = 640) -> Render:
    """Draw one of `BUILDINGS`."""
    return draw_building(BUILDINGS[name], height, width)
