"""Boxes in outlines, and whether they keep their distance to the wall, by shapely.

Run by ./nb references in an environment of its own. The server's geometry and the page's, which
judges while a body is dragged, are both held against these. Nothing within 0.3 mm of the limit is
kept.
"""

from __future__ import annotations

import json
import math
import random
from pathlib import Path

import shapely
from shapely.geometry import Polygon, box

WANTED = 120


def outline(dice: random.Random) -> list[tuple[float, float]]:
    """A simple outline about the middle, some corners pointing inward."""
    angles = sorted(dice.uniform(0, 2 * math.pi) for _ in range(dice.randint(4, 8)))
    reach = [dice.uniform(0.07, 0.22) for _ in angles]
    return [
        (round(r * math.cos(a), 4), round(r * math.sin(a), 4))
        for r, a in zip(reach, angles, strict=True)
    ]


def main() -> None:
    dice = random.Random(11)
    cases: list[dict[str, object]] = []
    count = {True: 0, False: 0}
    while min(count.values()) < WANTED / 2:
        corners = outline(dice)
        room = Polygon(corners)
        if not room.is_valid or room.area < 0.01:
            continue
        clear = round(dice.choice([0.0, 0.002, 0.005, 0.01]), 3)
        a, b = dice.uniform(0.01, 0.12), dice.uniform(0.01, 0.12)
        x, y = dice.uniform(-0.1, 0.1), dice.uniform(-0.1, 0.1)
        faces = [round(v, 4) for v in (x - a / 2, x + a / 2, y - b / 2, y + b / 2)]
        body = box(faces[0], faces[2], faces[1], faces[3])
        apart = room.exterior.distance(body)
        fits = room.contains(body) and apart >= clear
        margin = abs(apart - clear) if room.contains(body) else body.difference(room).area ** 0.5
        if margin < 3e-4 or count[fits] >= WANTED / 2:
            continue
        count[fits] += 1
        cases.append({"corners": corners, "clear": clear, "faces": faces, "fits": fits})
    rows = ",\n".join(json.dumps(c) for c in cases)
    head = f'{{"library": "shapely", "version": "{shapely.__version__}", "cases": [\n'
    Path(__file__).with_name("fits.json").write_text(f"{head}{rows}\n]}}\n")


if __name__ == "__main__":
    main()
