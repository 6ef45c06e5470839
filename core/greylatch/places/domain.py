"""Where a projection holds: the part of the globe that it can show without tearing or smearing."""

import math
import warnings
from dataclasses import dataclass
from typing import Any, Literal

import numpy as np
import pyproj
import shapely

from greylatch.errors import BadInput
from greylatch.places.crs import LONLAT, transformer_between
from greylatch.places.stated import crs_name

__all__ = ["METRES_TO_A_DEGREE", "Domain", "cap", "crs_unit", "domain_of"]

Family = Literal["whole", "azimuthal", "cylinder", "cone", "transverse", "tried"]
_AZIMUTHAL = {"laea": 179.0, "aeqd": 179.0, "stere": 120.0, "sterea": 120.0, "ups": 120.0, "ortho": 89.9, "gnom": 75.0}
"""Degrees from the middle as far as they are drawn: laea and aeqd end just before the antipode, which would be a whole circle;
the orthographic ends at the horizon; the others grow without end."""
_CYLINDER = {"merc": 85.0511287798066, "webmerc": 85.0511287798066, "tcea": 90.0}
"""Latitudes as far as they are drawn: Mercator as WebMercatorQuad has it (OGC 17-083r4)."""
_CONE = {"lcc": 35.0, "aea": 0.0, "eqdc": 0.0}
"""Degrees of latitude that are left out at the pole of the other hemisphere: Lambert's conformal cone never reaches it."""
_TRANSVERSE = {"tmerc", "etmerc", "utm", "cass"}
TRANSVERSE_REACH = 60.0
"""Degrees of longitude on either side of the middle: the sphere's transverse Mercator is endless at 90."""
_WHOLE = {
    "eqearth", "moll", "robin", "sinu", "natearth", "natearth2", "eck1", "eck2", "eck3", "eck4", "eck5", "eck6", "kav5", "kav7",
    "wag1", "wag2", "wag3", "wag4", "wag5", "wag6", "wag7", "wintri", "wink1", "wink2", "aitoff", "hammer", "vandg", "mill", "eqc",
    "cea", "cc", "gall", "longlat", "latlong", "patterson", "times", "fouc_s", "mbtfpq", "hatano", "loxim", "nell_h", "putp2", "bonne", "poly",
}  # fmt: skip
RING = 720
"""Points of the edge of a round domain."""
METRES_TO_A_DEGREE = 111_320.0
"""Of the equator."""
CELL = 2.0
"""Degrees of the cells in which a projection that is not known here is tried."""


@dataclass(frozen=True)
class Domain:
    """What a projection shows. `area` is a shape in degrees with longitudes counted from `middle`, −180 to 180, so that a
    projection's own seam lies at its left and right edge."""

    family: Family
    middle: float
    area: shapely.Geometry


def domain_of(crs: pyproj.CRS) -> Domain:
    """The domain of `crs`: by its method where that is known, otherwise by trying it out, there and back.

    >>> domain_of(pyproj.CRS("+proj=ortho +lat_0=90")).family
    'azimuthal'
    """
    parameters = _parameters(crs)
    method = str(parameters.get("proj", ""))
    middle, latitude = float(parameters.get("lon_0", 0.0)), float(parameters.get("lat_0", 0.0))
    if crs.is_geographic:
        return Domain("whole", 0.0, shapely.box(-180, -90, 180, 90))
    if method == "utm":
        middle = 6.0 * float(parameters["zone"]) - 183.0
    if method == "ups":
        latitude = -90.0 if parameters.get("south") else 90.0
    if method in _AZIMUTHAL:
        return Domain("azimuthal", middle, cap(latitude, _AZIMUTHAL[method]))
    if method == "nsper":
        horizon = math.degrees(math.acos(1 / (1 + float(parameters.get("h", 1e7)) / 6_378_137)))
        return Domain("azimuthal", middle, cap(latitude, 0.999 * horizon))
    if method in _CYLINDER:
        reach = _CYLINDER[method]
        return Domain("cylinder", middle, shapely.box(-180, -reach, 180, reach))
    if method in _CONE:
        south, north = -90.0, 90.0
        if (
            float(parameters.get("lat_1", latitude)) + float(parameters.get("lat_2", parameters.get("lat_1", latitude)))
            >= 0
        ):
            south += _CONE[method]
        else:
            north -= _CONE[method]
        return Domain("cone", middle, shapely.box(-180, south, 180, north))
    if method in _TRANSVERSE:
        return Domain("transverse", middle, shapely.box(-TRANSVERSE_REACH, -90, TRANSVERSE_REACH, 90))
    if method in _WHOLE:
        return Domain("whole", middle, shapely.box(-180, -90, 180, 90))
    return _tried(crs, middle)


def cap(latitude: float, radius: float) -> shapely.Geometry:
    """All places within `radius` degrees of (0, `latitude`) on the sphere, as a shape in degrees, longitudes from −180 to 180.

    Parameters
    ----------
    latitude : float
        Degrees.
    radius : float
        Metres.

    Returns
    -------
    shapely.Geometry

    Examples
    --------
    >>> cap(90, 30).bounds
    (-180.0, 60.0, 180.0, 90.0)
    """
    if radius >= 180:
        return shapely.box(-180, -90, 180, 90)
    north, south = 90 - latitude < radius, 90 + latitude < radius
    if north and south:
        hole = _ring(-latitude, 180 - radius)
        # The antipode lies on the seam: half of it at either edge.
        halves = [shapely.affinity.translate(hole, by) for by in (-180, 180)]
        return shapely.difference(shapely.box(-180, -90, 180, 90), shapely.union_all(halves))
    if not north and not south:
        return _ring(latitude, radius)
    return _round_one_pole(latitude, radius, 90.0 if north else -90.0)


def _ring(latitude: float, radius: float) -> shapely.Polygon:
    """A cap without a pole in it. Formula of the direct problem on the sphere (Snyder 1987, 5-5 and 5-6; from memory)."""
    azimuth = np.radians(np.linspace(0, 360, RING, endpoint=False))
    middle, reach = math.radians(latitude), math.radians(radius)
    y = np.arcsin(math.sin(middle) * math.cos(reach) + math.cos(middle) * math.sin(reach) * np.cos(azimuth))
    x = np.arctan2(np.sin(azimuth) * math.sin(reach) * math.cos(middle), math.cos(reach) - math.sin(middle) * np.sin(y))
    return shapely.Polygon(np.degrees(np.column_stack([x, y])))


def _round_one_pole(latitude: float, radius: float, pole: float) -> shapely.Polygon:
    """A cap with one pole in it: its edge has one latitude at every longitude."""
    longitude = np.linspace(-180, 180, RING + 1)
    a, b = math.sin(math.radians(latitude)), math.cos(math.radians(latitude)) * np.cos(np.radians(longitude))
    size, turn = np.hypot(a, b), np.arctan2(b, a)
    rise = np.arcsin(np.clip(math.cos(math.radians(radius)) / size, -1, 1))
    either = np.degrees([rise - turn, math.pi - rise - turn])
    either = (either + 180) % 360 - 180
    # Of the two, the one on this side of the globe; where both are, the cap ends at the one nearer to the other pole.
    fits = np.abs(either) <= 90
    edge = np.where(fits[0] & fits[1], np.where(pole > 0, either.min(0), either.max(0)), np.where(fits[0], *either))
    around = np.column_stack([longitude, np.clip(edge, -90, 90)])
    return shapely.Polygon(np.vstack([around, [[180, pole], [-180, pole]]]))


def _tried(crs: pyproj.CRS, middle: float) -> Domain:
    """The cells of the globe that come back where they were, and are not pulled apart. Raises BadInput where none does."""
    there, back = transformer_between(LONLAT, crs), transformer_between(crs, LONLAT)
    x, y = np.arange(-180, 180 + CELL, CELL), np.arange(-90, 90 + CELL, CELL)
    lon, lat = np.meshgrid(x, y)
    px, py = there.transform((lon + middle + 180) % 360 - 180, lat, errcheck=False)
    again = np.array(back.transform(px, py, errcheck=False))
    with np.errstate(invalid="ignore"):
        off = np.abs((again[0] - lon - middle + 180) % 360 - 180) * np.cos(np.radians(lat)) + np.abs(again[1] - lat)
        good = np.isfinite(px) & np.isfinite(py) & (off < 1e-3)
        step = METRES_TO_A_DEGREE * CELL * crs_unit(crs)
        far = 6 * step
        across = np.hypot(np.diff(px, axis=1), np.diff(py, axis=1)) < far
        down = np.hypot(np.diff(px, axis=0), np.diff(py, axis=0)) < far
    cells = good[:-1, :-1] & good[1:, :-1] & good[:-1, 1:] & good[1:, 1:]
    cells &= across[:-1] & across[1:] & down[:, :-1] & down[:, 1:]
    if not cells.any():
        raise BadInput(f"{crs_name(crs)} shows no part of the globe.", "Is the projection the right one?")
    row, column = np.nonzero(cells)
    boxes = shapely.box(x[column], y[row], x[column] + CELL, y[row] + CELL)
    return Domain("tried", middle, shapely.union_all(boxes))


def crs_unit(crs: pyproj.CRS) -> float:
    """Units of the CRS to one metre: 1 for metres, 3.28 for feet; degrees for a geographic one."""
    if crs.is_geographic:
        return 1 / METRES_TO_A_DEGREE
    return 1 / float(crs.axis_info[0].unit_conversion_factor or 1.0)


def _parameters(crs: pyproj.CRS) -> dict[str, Any]:
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")  # on what a PROJ string leaves out of a datum; the method is in it
        return dict(crs.to_dict())
