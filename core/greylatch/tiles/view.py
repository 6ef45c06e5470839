"""Where a map opens."""

from greylatch.errors import OffMap
from greylatch.paint.passes import Composition
from greylatch.places.view import View
from greylatch.sheet.document import Sheet, StartView
from greylatch.tiles.map_pyramid import map_bounds

__all__ = ["start_view"]


def start_view(sheet: Sheet, composition: Composition, width: int, height: int, zoom: float | None = None) -> View:
    """The sheet's start view, at `zoom` where given; a sheet that has none, or whose start lies beyond its
    projection's limits, shows the whole map.

    Parameters
    ----------
    sheet : Sheet
        The sheet.
    composition : Composition
        The passes and labels of the map.
    width : int
        Px.
    height : int
        Px.
    zoom : float | None
        The level at which it is seen; None as the sheet says.

    Returns
    -------
    View

    Raises
    ------
    BadInput
        For an empty map without a start view.
    """
    frame = composition.frame
    if zoom is not None or sheet.view != StartView():
        try:
            x, y = frame.place(sheet.view.lon, sheet.view.lat)
        except OffMap:
            return View.fitted(frame, map_bounds(composition), width, height)
        return View.around(frame, x, y, frame.grid.resolution(sheet.view.zoom if zoom is None else zoom), width, height)
    return View.fitted(frame, map_bounds(composition), width, height)
