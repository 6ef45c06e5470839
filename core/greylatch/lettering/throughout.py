"""Names of large areas said again wherever one looks: once in each region of the map at a level in which there is room for one."""

from collections.abc import Sequence
from dataclasses import replace

import numpy as np
import shapely
from numpy.typing import NDArray

from greylatch.lettering.asked import ToLetter
from greylatch.lettering.contest import Taken, beside, room_for
from greylatch.lettering.inside import middles
from greylatch.lettering.place import Placed, PlacedLabels, Placement, symbol_boxes
from greylatch.places.bounds import Bounds
from greylatch.tables.dataset import Shapes

__all__ = ["placed_throughout"]

REGION = 512.0
"""Px of the side of a region; common practice, no source: less than a view is high, so that it shows one."""
SMALLEST = 64.0
"""Square px of the least piece of an area that could hold a name."""
MOST_REGIONS = 100_000
"""More are not looked at: nobody sees so much of a level at once."""


def placed_throughout(
    layers: Sequence[ToLetter], placement: Placement, resolution: float, bounds: Bounds,
    clear: tuple[NDArray[np.float64], NDArray[np.float64]] | None = None,
) -> Placement:  # fmt: skip
    """The further labels of areas that are to be named throughout, in all regions that touch `bounds`. Each stands wholly within its area
    and its region, beside the labels of the whole map: whatever part of a level is looked at, it has the same ones.

    Parameters
    ----------
    layers : Sequence[ToLetter]
        The labels that are asked for, the most important layer first.
    placement : Placement
        Those that were placed for the whole map.
    resolution : float
        Units of the frame to a px.
    bounds : Bounds
        What is looked at, in the frame.
    clear : tuple[NDArray[np.float64], NDArray[np.float64]] | None
        Places and radii of symbols that labels keep off, as `place` has them.

    Returns
    -------
    Placement
    """
    wanted = [number for number, layer in enumerate(layers) if layer.throughout and layer.kind == "areas"]
    regions = _regions(bounds, REGION * resolution) if wanted else np.empty(0, dtype=object)
    if not len(regions):
        return Placement(PlacedLabels([], []))
    further = {number: _within(layers[number], placement, number, resolution, regions) for number in wanted}
    could = {number: layer.candidates(resolution) for number, layer in further.items()}
    px = np.array((1 / resolution, -1 / resolution))
    west, south, east, north = shapely.total_bounds(regions)
    at = placement.places * px
    known = placement.boxes + np.tile(at, 2)
    near = (known[:, 0] < east / resolution) & (known[:, 2] > west / resolution)
    near &= (known[:, 1] < -south / resolution) & (known[:, 3] > -north / resolution)
    others, places = placement.boxes[near], at[near]
    if clear is not None:
        around, symbols = symbol_boxes(clear, resolution)
        others, places = np.concatenate([others, symbols]), np.concatenate([places, around])
    one_each = np.arange(len(others) + 1)
    away = max(beside(each.boxes) for each in could.values())
    taken = Taken(
        room_for(others, one_each) + sum(room_for(each.boxes, each.start) for each in could.values()), 2 * away
    )
    taken.enter(one_each[:-1], one_each, others, places, always=True)
    groups = []
    for number in sorted(wanted, key=lambda number: -layers[number].priority):
        own = could[number]
        ways = taken.enter(own.order, own.start, own.boxes, own.places * px).ways
        groups.append(Placed(number, further[number], own, own.rows[own.order[ways >= 0]], ways[ways >= 0]))
    return Placement(PlacedLabels([], groups))


def _regions(bounds: Bounds, side: float) -> NDArray[np.object_]:
    """The squares that touch a box, counted from the frame's origin."""
    west, south, east, north = (bound / side for bound in bounds)
    columns, rows = np.arange(np.floor(west), np.ceil(east)), np.arange(np.floor(south), np.ceil(north))
    if len(columns) * len(rows) > MOST_REGIONS:
        return np.empty(0, dtype=object)
    x, y = (each.ravel() * side for each in np.meshgrid(columns, rows))
    return np.asarray(shapely.box(x, y, x + side, y + side), dtype=object)


def _within(
    layer: ToLetter, placement: Placement, number: int, resolution: float, regions: NDArray[np.object_]
) -> ToLetter:
    """What of a layer's large areas lies in each region, to be lettered; nothing near where the area has its label."""
    wide = np.nan_to_num(shapely.bounds(layer.shapes))
    large = np.maximum(wide[:, 2] - wide[:, 0], wide[:, 3] - wide[:, 1]) > REGION * resolution
    hidden = [row for row, hand in layer.hands.items() if hand.hidden]
    rows = np.flatnonzero(large & np.isin(np.arange(len(large)), hidden, invert=True))
    if not len(rows):
        regions = regions[:0]
    region, at = shapely.STRtree(layer.shapes[rows]).query(regions, predicate="intersects")
    rows = rows[at]
    pieces = _largest(shapely.intersection(layer.shapes[rows], regions[region]))
    pieces[~(shapely.area(pieces) > SMALLEST * resolution**2)] = None
    anchors = middles(pieces)
    apart = np.hypot(*(anchors - _stands(layer, placement, number)[rows]).T) > REGION / 2 * resolution
    chosen = np.flatnonzero(apart & np.isfinite(anchors).all(axis=1))
    rows, pieces, anchors = rows[chosen], pieces[chosen], anchors[chosen]
    listed = rows.tolist()
    hands = {
        i: replace(layer.hands[row], place=None, leader=False) for i, row in enumerate(listed) if row in layer.hands
    }
    return replace(
        layer, shapes=pieces, parts=[[own[row] for row in listed] for own in layer.parts], known_anchors=lambda: anchors,
        fids=layer.numbered[rows], ranks=None, shorter=None if layer.shorter is None else [layer.shorter[row] for row in listed],
        must_fit=True, outside=False, course="level", once_within=0.0, radius=0.0, hands=hands,
        colours=None if layer.colours is None else [layer.colours[row] for row in listed],
    )  # fmt: skip


def _stands(layer: ToLetter, placement: Placement, number: int) -> NDArray[np.float64]:
    """(n, 2) where the label of each row stands on the whole map; infinitely far away where there is none."""
    out = np.full((len(layer.texts), 2), np.inf)
    group = placement.group(number)
    if group is not None:
        out[group.rows] = group.could.places[group.ways]
    for label in placement.labels.by_hand if isinstance(placement.labels, PlacedLabels) else ():
        if label.layer == number:
            out[np.searchsorted(layer.numbered, label.feature)] = label.x, label.y
    return out


def _largest(shapes: Shapes) -> Shapes:
    """Of each shape its largest area; None for those that have none."""
    parts, owner = shapely.get_parts(shapes, return_index=True)
    by_size = np.argsort(shapely.area(parts), kind="stable")
    by_size = by_size[shapely.area(parts[by_size]) > 0]
    out = np.full(len(shapes), None, dtype=object)
    out[owner[by_size]] = parts[by_size]
    return out
