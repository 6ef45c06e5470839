"""Labels by the hundred thousand: how long it takes to set, place and tell them for one level; the reference is GEOS building a tree of
all their boxes and asking it for every box."""

import numpy as np
import shapely
from greylatch.lettering.asked import ToLetter
from greylatch.lettering.byhand import Hand
from greylatch.lettering.place import place
from greylatch.lettering.type import TextStyle, text_width

from bench.table import print_table, timed

N = 100_000
FIRST = ["Ard", "Upper", "Kirk", "Skara", "Glen", "Fair", "Tøsk", "Nether", "Great", "Little", "Old", "New"]
SECOND = ["Mor", "Watten", "Toft", "Lee", "Skarn", "Ness", "Holm", "Voe", "Wick", "Dale"]


def main() -> None:
    rng = np.random.default_rng(3)
    names = [f"{FIRST[rng.integers(12)]} {SECOND[rng.integers(10)]} {i}" for i in range(N)]
    for words, side in (("room for nearly all", 60_000.0), ("room for one in three", 9_000.0)):
        points = shapely.points(rng.uniform(0, side, (N, 2)))
        small = ToLetter("points", points[:9], [names[:9]], [TextStyle(11)], 1.5, True, 3.0)
        place([small], 1.0)  # what is compiled is found compiled
        layer = ToLetter("points", points, [names], [TextStyle(11)], 1.5, True, 3.0)
        setting, _ = timed(layer.prepare)
        placing, placed = timed(lambda layer=layer: place([layer], 1.0))
        again, _ = timed(lambda layer=layer: place([layer], 0.5))
        levels, _ = timed(lambda layer=layer, side=side: level_by_level(layer, side))
        could = layer.candidates(1.0)
        boxes = could.boxes + np.tile(could.places * (1, -1), 2)
        corners = shapely.box(*boxes[::8].T)
        tree, _ = timed(lambda corners=corners: shapely.STRtree(corners).query(corners, predicate="intersects"))
        moved = ToLetter(
            "points", points, [names], [TextStyle(11)], 1.5, True, 3.0, hands={7: Hand(place=(10.0, 10.0))}
        )
        moving, _ = timed(lambda moved=moved: place([moved], 1.0))
        drawn, _ = timed(lambda placed=placed: [placed.labels[i] for i in range(0, len(placed.labels), 50)])
        print_table(
            f"{N:,} labels of points, {words}",
            [
                ("the reference: GEOS, boxes in a tree and each asked for", f"{tree:.2f} s"),
                ("set: widths, blocks, boxes on eight sides, once for all levels", f"{setting:.2f} s, {setting / tree:.2f} of it"),
                (f"placed at a level: {len(placed.labels):,}", f"{placing:.2f} s, {placing / tree:.2f} of it"),
                ("both (3 s asked)", f"{setting + placing:.2f} s, {(setting + placing) / tree:.2f} of it"),
                ("placed at another level", f"{again:.2f} s, {again / tree:.2f} of it"),
                ("set, and placed level by level from where all lies in a tile (3 s asked)", f"{setting + levels:.2f} s, {(setting + levels) / tree:.2f} of it"),
                ("all again after one was moved by hand, in a process that knew nothing", f"{moving:.2f} s, {moving / tree:.2f} of it"),
                (f"made ready to be drawn: {len(placed.labels) // 50:,} of them", f"{drawn:.2f} s, {drawn / tree:.2f} of it"),
            ],
        )  # fmt: skip
    shaped, _ = timed(lambda: [text_width(name, 11.0) for name in names[:20_000]])
    print(f"shaped one by one, 20,000 names: {shaped:.2f} s")


def level_by_level(layer: ToLetter, side: float) -> None:
    """As a map has it: what is placed at a level is kept at the next."""
    resolution, before = 2.0 ** np.ceil(np.log2(side / 256)), None
    while resolution >= 1:
        before = place([layer], resolution, None, before)
        resolution /= 2


if __name__ == "__main__":
    main()
