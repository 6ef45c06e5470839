"""How much a projection changes: true circles on the globe, and how many times too large areas are drawn."""

import numpy as np
import pyproj
import shapely
from numpy.typing import NDArray

from greylatch.places.frame import Frame
from greylatch.tables.dataset import Shapes

__all__ = ["areal_scale", "circles"]

_GEOD = pyproj.Geod(ellps="WGS84")
CIRCLE = 400_000.0
"""Metres of the radius of circles on a map of the world."""
CORNERS = 72
"""Of the ring that stands for a circle."""


def circles(step: float = 30.0, radius: float = CIRCLE) -> tuple[NDArray[np.float64], Shapes]:
    """Middles (n, 2) in degrees, `step` degrees apart, and the circles of `radius` metres around them on the ellipsoid, as
    shapes in degrees: what Tissot's indicatrices are on any map.

    Parameters
    ----------
    step : float
        Degrees between one and the next.
    radius : float
        Metres.

    Returns
    -------
    tuple[NDArray[np.float64], Shapes]
    """
    lons, lats = np.arange(-180 + step / 2, 180, step), np.arange(-90 + step, 90, step)
    middles = np.array([(lon, lat) for lat in lats for lon in lons])
    azimuths = np.linspace(0, 360, CORNERS, endpoint=False)
    rings = []
    for lon, lat in middles:
        x, y, _ = _GEOD.fwd(np.full(CORNERS, lon), np.full(CORNERS, lat), azimuths, np.full(CORNERS, radius))
        # Counted on from the middle, so that a ring over the 180th meridian is cut there and not smeared.
        rings.append(shapely.Polygon(np.column_stack([lon + (x - lon + 180) % 360 - 180, y])))
    return middles, np.array(rings, dtype=object)


def areal_scale(frame: Frame, lonlat: NDArray[np.float64]) -> NDArray[np.float64]:
    """How many times too large areas are drawn at places (n, 2) in degrees, against true size; 1 all over on an equal-area map,
    NaN where there is no place. By PROJ's own factors.

    Parameters
    ----------
    frame : Frame
        Where the map lies.
    lonlat : NDArray[np.float64]
        (n, 2) degrees.

    Returns
    -------
    NDArray[np.float64]

    Examples
    --------
    >>> areal_scale(Frame.named("EPSG:3857"), np.array([[0.0, 60.0]])).round(1).tolist()
    [4.0]
    """
    if frame.crs.is_geographic:
        return np.asarray(1 / np.cos(np.radians(lonlat[:, 1])))
    there = np.isfinite(lonlat).all(axis=1)
    out = np.full(len(lonlat), np.nan)
    out[there] = pyproj.Proj(frame.crs).get_factors(*lonlat[there].T).areal_scale
    return np.where(np.isfinite(out) & (out > 0), out, np.nan)
