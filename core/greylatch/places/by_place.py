"""Which area each row of other data lies in, or is nearest to."""

import numpy as np
import pyproj
import shapely
from numpy.typing import NDArray

from greylatch.errors import BadInput
from greylatch.places.crs import LONLAT, reproject, to_lonlat
from greylatch.tables.dataset import Dataset, Shapes

__all__ = ["areas_of"]

NOWHERE = -1


def areas_of(rows: Dataset, areas: Dataset, nearest_km: float | None = None) -> NDArray[np.int64]:
    """For each row the place in `areas` of the one in which the middle of its shape lies; -1 where it lies in none.

    On a border that two share it is of the first. With `nearest_km` a row in none is of the nearest, up to so many kilometres,
    measured on an azimuthal equidistant projection around the middle of the areas.

    Parameters
    ----------
    rows : Dataset
        The rows, with shapes.
    areas : Dataset
        The areas.
    nearest_km : float | None
        How far away the nearest may be; None wants it to lie within.

    Returns
    -------
    NDArray[np.int64]

    Raises
    ------
    BadInput
        For data without shapes.

    Examples
    --------
    >>> import pyarrow as pa
    >>> areas = Dataset(pa.table({"a": [1]}), "areas", np.array([shapely.box(0, 0, 1, 1)]), LONLAT)
    >>> wells = Dataset(pa.table({"w": [1, 2]}), "points", shapely.points([[0.5, 0.5], [1.1, 0.5]]), LONLAT)
    >>> areas_of(wells, areas).tolist(), areas_of(wells, areas, nearest_km=20).tolist()
    ([0, -1], [0, 0])
    """
    if rows.shapes is None or rows.crs is None or areas.shapes is None or areas.crs is None:
        raise BadInput("To join by place, both need to lie somewhere.", "Join by a key instead.")
    points = shapely.point_on_surface(rows.shapes)
    out = np.full(len(rows), NOWHERE, dtype=np.int64)
    there = ~(shapely.is_missing(points) | shapely.is_empty(points))
    moved = reproject(points[there], rows.crs, areas.crs)
    row, area = shapely.STRtree(areas.shapes).query(moved, predicate="intersects")
    # Of several the first: written last.
    order = np.lexsort((-area, row))
    inside = np.full(len(moved), NOWHERE, dtype=np.int64)
    inside[row[order]] = area[order]
    if nearest_km is not None and (inside == NOWHERE).any():
        inside = _nearest(moved, areas.shapes, areas.crs, inside, nearest_km)
    out[there] = inside
    return out


def _nearest(
    points: Shapes, shapes: Shapes, crs: pyproj.CRS, inside: NDArray[np.int64], kilometres: float
) -> NDArray[np.int64]:  # fmt: skip
    west, south, east, north = shapely.total_bounds(to_lonlat(shapes, crs))
    around = pyproj.CRS.from_dict(
        {"proj": "aeqd", "lat_0": (south + north) / 2, "lon_0": (west + east) / 2, "datum": "WGS84"}
    )
    far = np.flatnonzero(inside == NOWHERE)
    flat = reproject(reproject(points[far], crs, LONLAT), LONLAT, around)
    tree = shapely.STRtree(reproject(reproject(shapes, crs, LONLAT), LONLAT, around))
    which, area = tree.query_nearest(flat, max_distance=kilometres * 1000, all_matches=False)
    out = inside.copy()
    out[far[which]] = area
    return out
