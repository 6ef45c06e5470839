"""Which features somebody points at."""

import numpy as np
import shapely
from numpy.typing import NDArray

from greylatch.paint.passes import VectorPass, drawn_reach
from greylatch.symbols.ink import SLACK

__all__ = ["hit"]


def hit(vector: VectorPass, x: float, y: float, resolution: float) -> int | None:
    """The row of the feature that is seen at (x, y) of the frame, at `resolution` (units per px); None for none.

    What lies under the pointer comes before what is only near it, and of several the one that is drawn last, which is seen. A
    symbol is as large as it is drawn, a line as wide.

    Parameters
    ----------
    vector : VectorPass
        The drawing pass of the layer.
    x : float
        The place, in the frame.
    y : float
        The place, in the frame.
    resolution : float
        Units of the frame to a px.

    Returns
    -------
    int | None
    """
    vector = vector.at(resolution)
    place = shapely.Point(x, y)
    shown = vector.ink.shown(vector.source.frame.scale(resolution))
    if vector.source.dataset.kind == "areas":
        rows = vector.source.tree.query(place, predicate="intersects")
        rows = rows[shown[rows]]
        return int(rows.max()) if len(rows) else None
    reach = drawn_reach(vector)
    far = (float(reach.max(initial=0.0)) + SLACK) * resolution
    rows = vector.source.tree.query(place, predicate="dwithin", distance=far)
    rows = rows[shown[rows]]
    if not len(rows):
        return None
    missed = shapely.distance(vector.source.shapes[rows], place) / resolution - reach[rows]
    under = rows[missed <= 0]
    if len(under):
        return int(under[np.argmax(drawing_rank(vector)[under])])
    nearest = int(np.argmin(missed))
    return int(rows[nearest]) if missed[nearest] <= SLACK else None


def drawing_rank(vector: VectorPass) -> NDArray[np.int64]:
    """At which turn each feature is drawn."""
    rank = np.arange(len(vector.ink.mark), dtype=np.int64)
    if vector.ink.order is not None:
        rank[vector.ink.order] = np.arange(len(rank))
    return rank
