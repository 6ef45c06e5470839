"""Which projections suit data: by where they lie and how far they reach, each with its reason."""

from dataclasses import dataclass

import numpy as np
import pyproj
import shapely
from pyproj.aoi import AreaOfInterest
from pyproj.database import query_crs_info
from pyproj.enums import PJType

from greylatch.errors import BadInput
from greylatch.places.bounds import Bounds
from greylatch.places.crs import parse_crs, to_lonlat
from greylatch.places.longitudes import shorter_way
from greylatch.places.stated import crs_name
from greylatch.tables.dataset import Shapes

__all__ = ["ProjectionSuggestion", "keeps_areas", "reach_of", "suggest_for", "suggest_projections"]

_EQUAL_AREA = (
    "Equal Area", "Equal Earth", "Albers", "Mollweide", "Sinusoidal", "Hammer", "Eckert IV", "Eckert VI", "laea", "aea", "cea",
)  # fmt: skip
"""Parts of the names of methods that keep areas (EPSG's names, and PROJ's for those that EPSG has none for)."""
WORLD, CONTINENT, SMALL = 180.0, 30.0, 6.0
"""Degrees of reach from which data are the world, a continent, or fit one zone of UTM."""
ALL_ROUND = 300.0
"""Degrees of reach from which the world is shown around Greenwich, as people know it: no gap is worth to turn it for."""
POLAR = 60.0
"""Latitude beyond which data that go half round the pole are seen from above."""
ONE_SIXTH = 6.0
"""Standard parallels lie a sixth of the height inside the data (Snyder 1987, p. 99; from memory)."""


@dataclass(frozen=True)
class ProjectionSuggestion:
    """A projection for given data. `crs` reads back with `parse_crs`."""

    crs: str
    name: str
    reason: str
    equal_area: bool


def keeps_areas(crs: pyproj.CRS) -> bool:
    """Whether areas can be compared on a map in `crs`.

    >>> keeps_areas(pyproj.CRS("EPSG:8857")), keeps_areas(pyproj.CRS("EPSG:3857"))
    (True, False)
    """
    operation = crs.coordinate_operation
    return operation is not None and any(part in operation.method_name for part in _EQUAL_AREA)


def suggest_projections(shapes: Shapes, crs: pyproj.CRS) -> list[ProjectionSuggestion]:
    """Projections that suit `shapes`, the likeliest for classed areas first.

    Parameters
    ----------
    shapes : Shapes
        The shapes.
    crs : pyproj.CRS
        The reference system of the coordinates.

    Returns
    -------
    list[ProjectionSuggestion]

    Raises
    ------
    BadInput
        Where there is no shape at all.
    """
    return suggest_for(reach_of(to_lonlat(shapes, crs)))


def suggest_for(reach: Bounds) -> list[ProjectionSuggestion]:
    """As `suggest_projections`, for what reaches from west to east (east the larger, also across the 180th meridian) and from
    south to north, in degrees.

    >>> suggest_for((-180, -90, 180, 84))[0].crs
    'EPSG:8857'
    >>> suggest_for((-15, -50, 325, 80))[0].crs, suggest_for((100, -50, 290, 60))[0].crs
    ('EPSG:8857', '+proj=eqearth +lon_0=-165')
    """
    west, south, east, north = reach
    lon, lat = _middle(west, east), (south + north) / 2
    wide, high = east - west, north - south
    flat = wide * np.cos(np.radians(lat)) > 1.5 * high
    if min(abs(south), abs(north)) >= POLAR and south * north > 0:
        return _polar(lon, north > 0)
    if wide >= WORLD:
        return _world(lon if wide < ALL_ROUND else 0)
    if wide > CONTINENT or high > CONTINENT:
        return _continent(lon, lat, south, north, flat)
    return [*_country(lon, lat, south, north, wide, flat), *_official(reach)][:6]


def reach_of(lonlat: Shapes) -> Bounds:
    """West, south, east, north of shapes in degrees, over the shorter way round: of data on both sides of the 180th meridian
    `east` is larger than 180. A few far outliers count as much as the rest."""
    bounds = shapely.bounds(lonlat)
    bounds = bounds[np.isfinite(bounds).all(axis=1)]
    if len(bounds) == 0:
        raise BadInput("There is no shape to choose a projection for.")
    south, north = float(bounds[:, 1].min()), float(bounds[:, 3].max())
    parts = shapely.bounds(shapely.get_parts(lonlat[~shapely.is_missing(lonlat)]))
    parts = parts[np.isfinite(parts).all(axis=1)]
    west, east = shorter_way(parts[:, 0], parts[:, 2])
    return west, south, east, north


def _middle(west: float, east: float) -> float:
    return (round((west + east) / 2) + 180) % 360 - 180


def _made(crs: str, reason: str, name: str | None = None) -> ProjectionSuggestion:
    system = parse_crs(crs)
    return ProjectionSuggestion(crs, name or crs_name(system), reason, keeps_areas(system))


def _world(lon: float) -> list[ProjectionSuggestion]:
    middle = lon if abs(lon) > 30 else 0
    equal = (
        _made("EPSG:8857", "The world, with every area in its true proportion and shapes that people know.")
        if middle == 0
        else _made(f"+proj=eqearth +lon_0={middle:g}", f"The world in true areas, with {_longitude(middle)} in its middle.",
                   f"Equal Earth around {_longitude(middle)}")
    )  # fmt: skip
    return [
        equal,
        _made(f"+proj=moll +lon_0={middle:g}", "The world as an ellipse, in true areas; shapes bend at its edges.", "Mollweide"),
        _made(f"+proj=robin +lon_0={middle:g}", "The world with neither areas nor shapes quite true: for overviews, not for classed areas.", "Robinson"),
        _made("EPSG:3857", "The square of web maps: areas far from the equator look many times too large."),
    ]  # fmt: skip


def _polar(lon: float, north: bool) -> list[ProjectionSuggestion]:
    pole, word = (90, "north") if north else (-90, "south")
    middle = lon if north else 0
    return [
        _made(f"+proj=laea +lat_0={pole} +lon_0={middle:g}", f"Round the {word} pole, in true areas.", f"Lambert azimuthal equal-area, {word} pole"),
        _made("EPSG:3995" if north else "EPSG:3031", f"Round the {word} pole, with true angles; areas grow outwards."),
    ]  # fmt: skip


def _continent(lon: float, lat: float, south: float, north: float, flat: bool) -> list[ProjectionSuggestion]:
    out = [
        _made(f"+proj=laea +lat_0={lat:.0f} +lon_0={lon:g}", "A continent in true areas, its shapes least bent in the middle.",
              f"Lambert azimuthal equal-area around {_latitude(lat)}, {_longitude(lon)}")
    ]  # fmt: skip
    if south > 0 or north < 0:
        cone = _albers(lon, south, north)
        out = [cone, *out] if flat else [*out, cone]
    return [*out, _made("EPSG:3857", "The square of web maps: areas far from the equator look too large.")]


def _country(lon: float, lat: float, south: float, north: float, wide: float, flat: bool) -> list[ProjectionSuggestion]:
    equal = (
        _albers(lon, south, north)
        if flat and (south > 10 or north < -10)
        else _made(f"+proj=laea +lat_0={lat:.1f} +lon_0={lon:g}", "A country in true areas and nearly true shapes.",
                   f"Lambert azimuthal equal-area around {_latitude(lat)}, {_longitude(lon)}")
    )  # fmt: skip
    if wide > SMALL or not -80 < lat < 84:
        return [equal]
    zone = int((lon + 180) // 6) + 1
    code = (32600 if lat >= 0 else 32700) + min(zone, 60)
    return [equal, _made(f"EPSG:{code}", "One zone of UTM: true angles, and lengths true to a thousandth.")]


def _albers(lon: float, south: float, north: float) -> ProjectionSuggestion:
    inside = (north - south) / ONE_SIXTH
    return _made(
        f"+proj=aea +lat_1={south + inside:.1f} +lat_2={north - inside:.1f} +lat_0={(south + north) / 2:.1f} +lon_0={lon:g}",
        "A cone in true areas, with true lengths along two parallels; best where data are wider than high.",
        f"Albers equal-area cone around {_longitude(lon)}",
    )


def _official(reach: Bounds) -> list[ProjectionSuggestion]:
    """What PROJ's list has for just such an area: the three systems with the smallest area of use that holds all of it."""
    west, south, east, north = reach
    if east > 180:
        return []
    listed = query_crs_info(
        "EPSG", PJType.PROJECTED_CRS, AreaOfInterest(west, south, east, north), contains=True, allow_deprecated=False
    )

    def size(box: Bounds) -> float:
        return ((box[2] - box[0]) % 360 or 360) * (box[3] - box[1])

    wanted = (east - west) * (north - south)
    near = [
        (size(listed.area_of_use.bounds), listed)
        for listed in listed
        if listed.area_of_use is not None and size(listed.area_of_use.bounds) < max(100 * wanted, 40)
    ]
    near.sort(key=lambda pair: (pair[0], pair[1].code))
    return [
        _made(f"EPSG:{suggestion.code}", f"In use for {suggestion.area_of_use.name.split('.')[0][:80]}.")  # type: ignore[union-attr]
        for _, suggestion in near[:3]
    ]


def _longitude(lon: float) -> str:
    return f"{abs(lon):g}° {'west' if lon < 0 else 'east'}" if lon % 180 else f"{abs(lon):g}°"


def _latitude(lat: float) -> str:
    return f"{abs(round(lat))}° {'south' if lat < 0 else 'north'}"
