"""Which features a reader points at, or goes through one by one."""

import math
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from greylatch.paint.hits import hit
from greylatch.paint.passes import Composition, VectorPass
from greylatch.places.grid import Bounds
from greylatch.sheet.document import Layer
from greylatch.symbols.ink import UNDRAWN

BANDS = 12
"""Into how many lines what is in view is parted, for reading it in order."""


@dataclass(frozen=True)
class Found:
    """A feature: its layer's id, its fid, and where it is anchored in the map's frame."""

    layer: str
    fid: int
    x: float
    y: float


def features_within(composition: Composition, box: Bounds, most: int = 500) -> list[Found]:
    """The features with a card that are anchored in a box of the map's frame, read as a page is: from the top to the bottom,
    rows of like height from left to right. At most `most`, the first ones."""
    west, south, east, north = box
    found: list[Found] = []
    for one in reversed(composition.passes):
        if not isinstance(one, VectorPass) or not one.layer.card:
            continue
        x, y = one.source.anchors.T
        with np.errstate(invalid="ignore"):
            inside = (x >= west) & (x <= east) & (y >= south) & (y <= north) & (one.ink.index != UNDRAWN)
        found += [
            Found(one.layer.id, int(one.source.dataset.fids[row]), float(x[row]), float(y[row]))
            for row in np.flatnonzero(inside)
        ]
    band = max((north - south) / BANDS, 1e-9)
    found.sort(key=lambda one: (-math.floor((one.y - south) / band), one.x))
    return found[:most]


def features_at(composition: Composition, x: float, y: float, resolution: float) -> Iterator[tuple[Layer, int]]:
    """Layer and fid of what is seen at a place of the map's frame, shown at `resolution`: the topmost layer first, one feature
    of each."""
    for one in reversed(composition.passes):
        if isinstance(one, VectorPass):
            row = hit(one, x, y, resolution)
            if row is not None:
                yield one.layer, int(one.source.dataset.fids[row])
