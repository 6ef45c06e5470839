"""Clusters: points that lie close to one another at a scale, as one symbol with their number."""

import math
from collections import OrderedDict
from dataclasses import dataclass
from weakref import WeakKeyDictionary

import numpy as np
import skia
from numpy.typing import NDArray
from scipy.sparse import coo_array
from scipy.sparse.csgraph import connected_components
from scipy.spatial import cKDTree

from greylatch.lettering.type import text_width
from greylatch.paint.brush import draw_point
from greylatch.paint.pens import draw_text
from greylatch.paint.sources import VectorSource
from greylatch.places.bounds import Bounds
from greylatch.places.view import View
from greylatch.sheet.symbology import Clusters
from greylatch.symbols.look import Entry, Section
from greylatch.symbols.marks import Mark, mark_of

__all__ = [
    "Clustered",
    "cluster_at",
    "cluster_radius",
    "cluster_reach",
    "cluster_sections",
    "clustered",
    "draw_clusters",
]

KEPT = 24
"""Of how many levels of a source the clusters are remembered."""
CLOSE = 0.5
"""Clusters whose middles are closer than this share of the reach are one."""
TYPE = 11.0
"""Px of the numbers."""
DIGITS_LOW = 0.36
"""How far under the middle of a number its baseline lies, as a share of the type."""


@dataclass(frozen=True, eq=False)
class Clustered:
    """The clusters of a level: middles (n, 2) in the frame, how many points each has, the row of one of them, and the box around
    them all (n, 4)."""

    places: NDArray[np.float64]
    counts: NDArray[np.int64]
    row: NDArray[np.intp]
    boxes: NDArray[np.float64]


_known: "WeakKeyDictionary[VectorSource, OrderedDict[tuple[float, int], Clustered]]" = WeakKeyDictionary()


def cluster_reach(look: Clusters) -> float:
    """Px by which symbols may stand out over the middles of their clusters."""
    return max(look.largest, look.symbol.radius * 1.5) + max((line.width for line in look.symbol.strokes), default=0.0)


def cluster_radius(look: Clusters, count: int, total: int) -> float:
    """Px: by the logarithm of the number, from that of two points to that of all. Common practice, no source.

    >>> [cluster_radius(Clusters(), n, 1000) for n in (1, 2, 1000)]
    [5.0, 9.0, 26.0]
    """
    if count < 2:
        return look.symbol.radius
    share = math.log(count / 2) / math.log(max(total, 3) / 2)
    return look.smallest + (look.largest - look.smallest) * min(1.0, share)


def clustered(source: VectorSource, look: Clusters, resolution: float) -> Clustered:
    """The clusters at the whole level that `resolution` (units of the frame to a px) belongs to, the same for all tiles.

    Points are gathered in cells as wide as the reach, each cluster in the middle of its points; those whose middles are close are
    put together.

    Parameters
    ----------
    source : VectorSource
        The points.
    look : Clusters
        How far apart clusters are.
    resolution : float
        Units of the frame to a px.

    Returns
    -------
    Clustered
    """
    frame = source.frame
    level = math.floor(math.log2(frame.grid.resolution(0) / resolution) + 1e-6)
    alone = look.apart is not None and frame.scale(resolution) < look.apart
    known = _known.setdefault(source, OrderedDict())
    key = (look.reach, -1 if alone else level)
    if key not in known:
        known[key] = _clustered(source, 0.0 if alone else look.reach * frame.grid.resolution(level))
        while len(known) > KEPT:
            known.popitem(last=False)
    known.move_to_end(key)
    return known[key]


def _clustered(source: VectorSource, apart: float) -> Clustered:
    places, row = source.positions(np.arange(len(source.dataset)))
    finite = np.isfinite(places).all(axis=1)
    places, row = places[finite], row[finite]
    if apart == 0 or not len(places):
        return Clustered(places, np.ones(len(places), dtype=np.int64), row, np.hstack([places, places]))
    cells = np.floor(places / apart).astype(np.int64)
    cells -= cells.min(axis=0)
    keys = cells[:, 1] * (int(cells[:, 0].max()) + 1) + cells[:, 0]
    _, first, of_point, counts = np.unique(keys, return_index=True, return_inverse=True, return_counts=True)
    middles = _means(places, of_point, counts)
    pairs = cKDTree(middles).query_pairs(CLOSE * apart, output_type="ndarray")
    if len(pairs):
        linked = coo_array((np.ones(len(pairs)), pairs.T), shape=(len(counts), len(counts)))
        _, joined = connected_components(linked, directed=False)
        of_point = joined[of_point]
        _, first, counts = np.unique(of_point, return_index=True, return_counts=True)
        middles = _means(places, of_point, counts)
    order = np.argsort(of_point, kind="stable")
    begins = np.concatenate([[0], np.cumsum(counts)[:-1]])
    low, high = np.minimum.reduceat(places[order], begins), np.maximum.reduceat(places[order], begins)
    return Clustered(middles, counts, row[first], np.hstack([low, high]))


def _means(places: NDArray[np.float64], of_point: NDArray[np.intp], counts: NDArray[np.int64]) -> NDArray[np.float64]:
    return np.column_stack([np.bincount(of_point, weights=axis) / counts for axis in places.T])


def draw_clusters(source: VectorSource, look: Clusters, view: View) -> NDArray[np.uint8] | None:
    """The picture of `view`: (height, width, 4) uint8, straight alpha; None where no cluster reaches into it.

    Parameters
    ----------
    source : VectorSource
        The points.
    look : Clusters
        What clusters look like.
    view : View
        What is shown, and how large.

    Returns
    -------
    NDArray[np.uint8] | None
    """
    there = clustered(source, look, view.resolution)
    pad = cluster_reach(look) * view.resolution
    seen = _within(there, view.bounds, pad)
    if not len(seen):
        return None
    surface = skia.Surface(view.width, view.height)
    canvas = surface.getCanvas()
    canvas.clear(0)
    canvas.scale(view.ratio, view.ratio)
    total = len(source.dataset)
    # The largest over the others: it stands for more.
    for i in seen[np.argsort(there.counts[seen], kind="stable")].tolist():
        x = (there.places[i, 0] - view.bounds[0]) / view.resolution
        y = (view.bounds[3] - there.places[i, 1]) / view.resolution
        count = int(there.counts[i])
        radius = cluster_radius(look, count, total)
        draw_point(canvas, x, y, radius, _mark(look, radius, count))
        if count > 1:
            said = _said(count)
            draw_text(
                canvas, said, x - text_width(said, TYPE) / 2, y + TYPE * DIGITS_LOW, TYPE, look.colour, 0.0, "#000000"
            )
    return np.asarray(surface.makeImageSnapshot().toarray(colorType=skia.ColorType.kRGBA_8888_ColorType))


def cluster_at(
    source: VectorSource, look: Clusters, x: float, y: float, resolution: float
) -> tuple[int, int, Bounds] | None:
    """The cluster that is seen at (x, y) of the frame: the row of one of its points, how many they are, and the box around them; None
    for none.

    Parameters
    ----------
    source : VectorSource
        The points.
    look : Clusters
        What clusters look like.
    x : float
        The place, in the frame.
    y : float
        The place, in the frame.
    resolution : float
        Units of the frame to a px.

    Returns
    -------
    tuple[int, int, Bounds] | None
    """
    there = clustered(source, look, resolution)
    near = _within(there, (x, y, x, y), cluster_reach(look) * resolution)
    for i in near[np.argsort(-there.counts[near], kind="stable")].tolist():
        away = math.hypot(x - there.places[i, 0], y - there.places[i, 1]) / resolution
        if away <= cluster_radius(look, int(there.counts[i]), len(source.dataset)):
            west, south, east, north = there.boxes[i].tolist()
            return int(there.row[i]), int(there.counts[i]), (west, south, east, north)
    return None


def cluster_sections(source: VectorSource, look: Clusters) -> tuple[Section, ...]:
    """What the key says: a point by itself, and clusters of some numbers."""
    total = len(source.dataset)
    numbers = [n for n in (1, 10, 100, 1_000, 10_000, 100_000, 1_000_000) if n <= total]
    entries = []
    for n in numbers[:1] + numbers[1:][-3:]:
        radius = cluster_radius(look, n, total)
        words = "a point by itself" if n == 1 else f"{n:,} points"
        entries.append(Entry(f"points {n}", words, _mark(look, radius, n), None))
    return (Section("", "", "size", tuple(entries)),)


def _mark(look: Clusters, radius: float, count: int) -> Mark:
    return mark_of(
        look.symbol if count == 1 else look.symbol.model_copy(update={"shape": "circle"}), "points", size=radius
    )


def _within(there: Clustered, bounds: Bounds, pad: float) -> NDArray[np.intp]:
    west, south, east, north = bounds[0] - pad, bounds[1] - pad, bounds[2] + pad, bounds[3] + pad
    x, y = there.places.T
    return np.flatnonzero((x >= west) & (x <= east) & (y >= south) & (y <= north))


def _said(count: int) -> str:
    """'999', '1.2k', '35k', '1.2M': short enough for a circle.

    >>> [_said(n) for n in (999, 1_234, 35_400, 1_250_000)]
    ['999', '1.2k', '35k', '1.2M']
    """
    for size, letter in ((1_000_000, "M"), (1_000, "k")):
        if count >= size:
            share = count / size
            return f"{share:.1f}{letter}" if share < 10 else f"{share:.0f}{letter}"
    return str(count)
