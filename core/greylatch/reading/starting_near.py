"""How far readers look around a place before anybody has said how far."""

from itertools import pairwise

from pyproj import Geod

from greylatch.places.bounds import Bounds
from greylatch.readings.begun import said
from greylatch.sheet.reader import Near

__all__ = ["starting_near"]

SHARE = 16
"""Of the way across the data, what is near at first; ours, with no source."""
LARGEST = 10
"""Times that far, readers may ask at most."""
LIMIT = 20_000.0
"""Km: half of the way round the earth."""
_EARTH = Geod(ellps="WGS84")


def starting_near(bounds: Bounds) -> Near:
    """A distance that suits how far data reach: a few kilometres on isles, some hundreds on the earth.

    Parameters
    ----------
    bounds : Bounds
        West, south, east, north of the data, degrees.

    Returns
    -------
    Near

    Examples
    --------
    >>> isles, earth = starting_near((-27.4, 51.8, -26.5, 52.3)), starting_near((-180, -60, 180, 80))
    >>> isles.distance, isles.largest, earth.distance, earth.largest
    (5.0, 50.0, 2000.0, 20000.0)
    """
    west, south, east, north = bounds
    # In pieces, since the shortest way from end to end of the earth runs over its other side.
    middle = (south + north) / 2
    thirds = [west + (east - west) * i / 3 for i in range(4)]
    wide = sum(_EARTH.inv(a, middle, b, middle)[2] for a, b in pairwise(thirds))
    high = _EARTH.inv(west, south, west, north)[2]
    distance = min(LIMIT / LARGEST, said(max(wide, high, 100.0) / 1000 / SHARE))
    return Near(distance=distance, largest=distance * LARGEST)
