"""Which ground a picture shows."""

import shapely

from greylatch.paint.passes import Composition
from greylatch.places.crs import LONLAT, to_mercator
from greylatch.sheet.document import Sheet, StartView
from greylatch.tiles.map_pyramid import map_bounds
from greylatch.tiles.matrix import DEEPEST, Bounds, resolution_of

PLACE_LEVEL = 14
"""The level at which a map of a single place is shown."""


def around(x: float, y: float, resolution: float, width: int, height: int) -> Bounds:
    """The ground of a picture of `width` × `height` px with (x, y) in its middle, all in Web Mercator metres.

    >>> around(0, 0, 10, 4, 2)
    (-20.0, -10.0, 20.0, 10.0)
    """
    across, down = width / 2 * resolution, height / 2 * resolution
    return x - across, y - down, x + across, y + down


def fitted(box: Bounds, width: int, height: int) -> Bounds:
    """The least ground around `box` in the proportions of the picture; around a single place, that of `PLACE_LEVEL`."""
    resolution = max((box[2] - box[0]) / width, (box[3] - box[1]) / height)
    if resolution < resolution_of(DEEPEST):
        resolution = resolution_of(PLACE_LEVEL)
    return around((box[0] + box[2]) / 2, (box[1] + box[3]) / 2, resolution, width, height)


def start_bounds(sheet: Sheet, composition: Composition, width: int, height: int, zoom: float | None = None) -> Bounds:
    """The sheet's start view, at `zoom` where given; a sheet that has none shows the whole map. Raises BadInput for an
    empty map without a start view."""
    if zoom is None and sheet.view == StartView():
        return fitted(map_bounds(composition), width, height)
    middle = to_mercator(shapely.points([[sheet.view.lon, sheet.view.lat]]), LONLAT)[0]
    return around(middle.x, middle.y, resolution_of(sheet.view.zoom if zoom is None else zoom), width, height)
