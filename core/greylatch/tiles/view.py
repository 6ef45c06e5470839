"""What a picture of a map shows."""

from dataclasses import replace

from greylatch.errors import OffMap
from greylatch.paint.passes import Composition
from greylatch.places.view import View
from greylatch.sheet.document import Sheet
from greylatch.tiles.map_pyramid import map_bounds

LEAST, MOST = 0.02, 0.1
"""Shares of the shorter side of a picture that stay free around a map. Ours, with no source."""

__all__ = ["view_at_level", "whole_view"]


def whole_view(composition: Composition, width: int, height: int) -> View:
    """The whole map in a picture of so many px, with room for what reaches over its edge: names stand within.

    Parameters
    ----------
    composition : Composition
        The passes and labels of the map.
    width, height : int
        Px.

    Returns
    -------
    View

    Raises
    ------
    BadInput
        For an empty map.
    """
    frame, box = composition.frame, map_bounds(composition)
    close = View.fitted(frame, box, width, height)
    marks = replace(composition, lettered=[], placed={}).reach(close.resolution)
    short = min(width, height)
    margin = min(max(marks, LEAST * short), MOST * short) if marks else 0.0
    return View.fitted(frame, box, width, height, margin)


def view_at_level(sheet: Sheet, composition: Composition, width: int, height: int, zoom: float) -> View:
    """What is around the place at which the sheet opens, at a level; the whole map where that lies beyond its projection's limits.

    Parameters
    ----------
    sheet : Sheet
        The sheet.
    composition : Composition
        The passes and labels of the map.
    width, height : int
        Px.
    zoom : float
        The level at which it is seen.

    Returns
    -------
    View

    Raises
    ------
    BadInput
        For an empty map whose start lies nowhere.
    """
    frame = composition.frame
    try:
        x, y = frame.place(sheet.view.lon, sheet.view.lat)
    except OffMap:
        return whole_view(composition, width, height)
    return View.around(frame, x, y, frame.grid.resolution(zoom), width, height)
