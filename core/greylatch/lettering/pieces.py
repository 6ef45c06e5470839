"""Lines that come in pieces: those that say the same and run into one another are lettered as the one line that they are."""

from collections.abc import Collection, Sequence

import numpy as np
import shapely
from numpy.typing import NDArray
from scipy.sparse import coo_array
from scipy.sparse.csgraph import connected_components

from greylatch.tables.dataset import Shapes

__all__ = ["joined_pieces"]

NEARLY = 0.02
"""Ends no further apart than such a share of the shorter piece are one."""


def joined_pieces(
    shapes: Shapes, texts: Sequence[str], first: Collection[int] = ()
) -> tuple[Shapes, NDArray[np.bool_]]:
    """Lines put together where two of one text, and no third, meet end to end.

    Parameters
    ----------
    shapes : Shapes
        Lines, (n,).
    texts : Sequence[str]
        What the label of each says; '' nothing.
    first : Collection[int]
        Rows that carry the label of their course before longer ones: those whose label was set by hand, say.

    Returns
    -------
    tuple[Shapes, NDArray[np.bool_]]
        The lines, of each course that of the row that carries its label, its longest piece; and which rows do. Of lines without a text none.

    Examples
    --------
    >>> pieces = shapely.from_wkt(["LINESTRING(0 0,1 0)", "LINESTRING(1 0,3 0)", "LINESTRING(3 0,9 0)"])
    >>> lines, carry = joined_pieces(pieces, ["Wend", "Wend", "Carrow"])
    >>> [line.wkt for line in lines[carry]]
    ['LINESTRING (0 0, 1 0, 3 0)', 'LINESTRING (3 0, 9 0)']
    """
    named = np.array([bool(text) for text in texts], dtype=np.bool_) & ~(
        shapely.is_empty(shapes) | shapely.is_missing(shapes)
    )
    out, carry = shapes.copy(), named.copy()
    _, of_text, many = np.unique(np.array(texts, dtype=object), return_inverse=True, return_counts=True)
    shared = np.flatnonzero(named & (many[of_text] > 1))
    if not len(shared):
        return out, carry
    shared = shared[np.argsort(of_text[shared], kind="stable")]
    begins = np.flatnonzero(np.append(True, np.diff(of_text[shared]) != 0))
    parts, of_part = shapely.get_parts(shapes[shared], return_index=True)
    text_of_part = (np.searchsorted(begins, np.arange(len(shared)), side="right") - 1)[of_part]
    parts = _meeting(parts, text_of_part)
    merged = shapely.line_merge(shapely.multilinestrings(parts, indices=text_of_part))
    lines, text_of_line = shapely.get_parts(merged, return_index=True)
    # A piece belongs to the line of its text that runs through a place of it; at its middle another may cross it.
    middles = shapely.line_interpolate_point(parts, 0.382, normalized=True)
    piece, line = _through(middles, text_of_part, lines, text_of_line)
    rows, lengths = shared[of_part[piece]], shapely.length(parts[piece])
    # Of several the first, then the longest; a row of several pieces stands where its longest does.
    ahead = np.isin(rows, list(first))
    order = np.lexsort((rows, -lengths, ~ahead))
    carry[shared] = False
    for i in order[np.unique(line[order], return_index=True)[1]].tolist():
        row = rows[i]
        if not carry[row] or shapely.length(lines[line[i]]) > shapely.length(out[row]):
            out[row] = lines[line[i]]
        carry[row] = True
    return out, carry


def _meeting(parts: Shapes, text_of_part: NDArray[np.intp]) -> Shapes:
    """The pieces with ends that nearly meet in one place: those of coordinates that were rounded, say."""
    xy, of_part = shapely.get_coordinates(parts, return_index=True)
    at_first = np.flatnonzero(np.append(True, np.diff(of_part) != 0))
    ends = np.concatenate([at_first, np.append(at_first[1:], len(xy)) - 1])
    owner = np.tile(np.arange(len(parts)), 2)
    places, near = shapely.points(xy[ends]), NEARLY * shapely.length(parts)[owner]
    one, other = shapely.STRtree(places).query(places, predicate="dwithin", distance=near)
    # As near as both their lengths allow.
    same = (text_of_part[owner[one]] == text_of_part[owner[other]]) & (owner[one] != owner[other])
    same &= shapely.distance(places[one], places[other]) <= near[other]
    together = coo_array((np.ones(same.sum()), (one[same], other[same])), shape=(len(ends), len(ends)))
    _, meeting = connected_components(together, directed=False)
    _, leading = np.unique(meeting, return_index=True)
    xy[ends] = xy[ends[leading[meeting]]]
    return shapely.linestrings(xy, indices=of_part)


def _through(
    middles: NDArray[np.object_], text_of_middle: NDArray[np.intp], lines: Shapes, text_of_line: NDArray[np.intp]
) -> tuple[NDArray[np.intp], NDArray[np.intp]]:
    """Pairs of a middle and the line of its text that is nearest to it, by their positions."""
    tree = shapely.STRtree(lines)
    reach = np.maximum(1e-9 * np.abs(shapely.get_coordinates(middles)).max(axis=1), 1e-12)
    at, near = tree.query(middles, predicate="dwithin", distance=reach)
    own = text_of_middle[at] == text_of_line[near]
    at, near = at[own], near[own]
    order = np.lexsort((shapely.distance(middles[at], lines[near]), at))
    at, near = at[order], near[order]
    firsts = np.append(True, at[1:] != at[:-1])[: len(at)]
    return at[firsts], near[firsts]
