"""Which features a reader points at, or goes through one by one."""

import math
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from greylatch.paint.hits import hit
from greylatch.paint.passes import Composition, VectorPass
from greylatch.places.bounds import Bounds
from greylatch.sheet.layers import Layer
from greylatch.symbols.ink import UNDRAWN

__all__ = ["features_at", "features_within"]

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
    rows of like height from left to right. At most `most`, the first ones.

    Parameters
    ----------
    composition : Composition
        The passes and labels of the map.
    box : Bounds
        West, south, east, north, in the frame.
    most : int
        How many at most.

    Returns
    -------
    list[Found]
    """
    west, south, east, north = box
    features: list[Found] = []
    for pass_ in reversed(composition.passes):
        if not isinstance(pass_, VectorPass) or not pass_.layer.card:
            continue
        x, y = pass_.source.anchors.T
        with np.errstate(invalid="ignore"):
            inside = (x >= west) & (x <= east) & (y >= south) & (y <= north) & (pass_.ink.mark != UNDRAWN)
        features += [
            Found(pass_.layer.id, int(pass_.source.dataset.fids[row]), float(x[row]), float(y[row]))
            for row in np.flatnonzero(inside)
        ]
    band = max((north - south) / BANDS, 1e-9)
    features.sort(key=lambda feature: (-math.floor((feature.y - south) / band), feature.x))
    return features[:most]


def features_at(composition: Composition, x: float, y: float, resolution: float) -> Iterator[tuple[Layer, int]]:
    """Layer and fid of what is seen at a place of the map's frame, shown at `resolution`: the topmost layer first, one feature
    of each.

    Parameters
    ----------
    composition : Composition
        The passes and labels of the map.
    x : float
        The place, in the frame.
    y : float
        The place, in the frame.
    resolution : float
        Units of the frame to a px.

    Returns
    -------
    Iterator[tuple[Layer, int]]
    """
    for pass_ in reversed(composition.passes):
        if isinstance(pass_, VectorPass):
            row = hit(pass_, x, y, resolution)
            if row is not None:
                yield pass_.layer, int(pass_.source.dataset.fids[row])
