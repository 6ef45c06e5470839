"""A register of everything that stands on the isles, with tags: some 200,000 houses, walls, cuttings, springs and trees.

It is the stand-in for a large tagged store that others keep.
"""

from collections.abc import Iterator
from typing import Any

import numpy as np
import pyproj
import shapely
from greylatch.places.crs import to_lonlat
from numpy.typing import NDArray

from vaskerry.terrain import CELL, TRANSFORM

FEATURES, SEED, LOT = 200_000, 7_411, 20_000
KINDS = ("tree", "wall", "house", "cutting", "spring", "track")
SHARES = (0.42, 0.24, 0.14, 0.09, 0.06, 0.05)
POINTS, LINES = ("tree", "spring"), ("wall", "track")
VALUES: dict[str, dict[str, tuple[str, ...]]] = {
    "tree": {"species": ("rowan", "birch", "willow", "alder", "pine"), "leaf": ("broad", "needle")},
    "wall": {"material": ("stone", "turf", "wire"), "state": ("whole", "fallen")},
    "house": {"use": ("dwelling", "byre", "store", "school", "chapel", "none"), "roof": ("turf", "slate", "iron"), "state": ("whole", "fallen")},
    "cutting": {"state": ("worked", "left", "grown over"), "depth": ("shallow", "deep")},
    "spring": {"water": ("clear", "brown"), "flow": ("all year", "in winter")},
    "track": {"surface": ("grass", "gravel", "peat"), "use": ("carts", "feet", "sheep")},
}  # fmt: skip
"""Which tags a kind may have, with their values, the first the commonest."""
OFTEN = 0.7
"""How often a tag that may be there was written down."""

Lot = tuple[NDArray[np.int64], list[dict[str, str]], NDArray[np.object_]]


def tagged_features(relief: NDArray[np.float32], n: int = FEATURES) -> Iterator[Lot]:
    """Ids, tags and shapes in degrees, in lots; on the land of a relief, metres above the sea in cells of the demo's grid."""
    rng = np.random.default_rng(SEED)
    rows, columns = np.nonzero(relief > 0)
    for first in range(0, n, LOT):
        size = min(LOT, n - first)
        cells = rng.integers(0, len(rows), size)
        x, y = TRANSFORM * (columns[cells] + 0.5, rows[cells] + 0.5)
        place = np.column_stack([x, y]) + rng.uniform(-CELL / 2, CELL / 2, (size, 2))
        kinds = rng.choice(KINDS, size, p=SHARES)
        shapes = to_lonlat(_shapes(place, kinds, rng), pyproj.CRS.from_epsg(32626))
        yield np.arange(first + 1, first + size + 1), [_tags(kind, rng) for kind in kinds], shapes


def _shapes(place: NDArray[np.float64], kinds: NDArray[Any], rng: np.random.Generator) -> NDArray[np.object_]:
    points = shapely.points(place)
    turn = rng.uniform(0, np.pi, len(place))
    along = np.column_stack([np.cos(turn), np.sin(turn)]) * rng.uniform(4, 40, len(place))[:, None]
    lines = shapely.linestrings(np.stack([place - along, place + along], axis=1))
    wide = shapely.buffer(lines, rng.uniform(3, 12, len(place)), cap_style="flat", quad_segs=1)
    out = np.where(np.isin(kinds, POINTS), points, np.where(np.isin(kinds, LINES), lines, wide))
    return np.asarray(out, dtype=object)


def _tags(kind: str, rng: np.random.Generator) -> dict[str, str]:
    tags = {"kind": str(kind)}
    for name, values in VALUES[kind].items():
        if rng.random() < OFTEN:
            tags[name] = values[min(int(rng.exponential(1.1)), len(values) - 1)]
    return tags
