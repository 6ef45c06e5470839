"""What is said of the reference system of some data, or guessed with a reason. PROJ is not loaded for what is in longitude and latitude."""

from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

import numpy as np
from numpy.typing import NDArray

from greylatch.errors import BadFile
from greylatch.tables.dataset import System

if TYPE_CHECKING:
    import pyproj

__all__ = ["MAX_CRS_TEXT", "crs_name", "crs_text", "guess_crs", "in_degrees", "system_of", "system_of_json"]

MAX_CRS_TEXT = 20_000
"""Characters of what defines a system."""
_LONLAT = (
    "EPSG:4326", "epsg:4326", "OGC:CRS84", "urn:ogc:def:crs:OGC:1.3:CRS84", "urn:ogc:def:crs:OGC::CRS84",
    'GEOGCS["GCS_WGS_1984",DATUM["D_WGS_1984",SPHEROID["WGS_1984",6378137.0,298.257223563]],PRIMEM["Greenwich",0.0],UNIT["Degree",0.0174532925199433]]',
)  # fmt: skip
"""How longitude and latitude on WGS 84 are mostly written: as a code, as the OGC's (the same, with x first as all is here), and as
Shapefiles have it."""
_LONLAT_JSON = {
    "type": "GeographicCRS", "name": "WGS 84", "id": {"authority": "EPSG", "code": 4326},
    "coordinate_system": {"subtype": "ellipsoidal", "axis": [
        {"name": "Geodetic latitude", "abbreviation": "Lat", "direction": "north", "unit": "degree"},
        {"name": "Geodetic longitude", "abbreviation": "Lon", "direction": "east", "unit": "degree"},
    ]},
}  # fmt: skip
"""What PROJ writes of it as PROJJSON, but for its datum, which has more members in newer versions."""


@dataclass(frozen=True)
class CrsGuess:
    """A coordinate reference system that the data did not state; `crs` is None where no guess is safe."""

    crs: str | None
    reason: str


def system_of(text: str) -> System:
    """A system from 'EPSG:32626', a PROJ string or WKT.

    Raises
    ------
    BadInput
        As `parse_crs` does.

    Examples
    --------
    >>> system_of("EPSG:4326")
    'EPSG:4326'
    """
    if text.strip() in _LONLAT:
        return "EPSG:4326"
    from greylatch.places.crs import parse_crs

    return parse_crs(text)


def system_of_json(described: Any) -> System:
    """A system from PROJJSON (the specification of PROJ, version 0.7), as GeoParquet has it.

    Raises
    ------
    BadFile
        For what is none.

    Examples
    --------
    >>> system_of_json({"type": "GeographicCRS", "name": "Somewhere"})
    Traceback (most recent call last):
    ...
    greylatch.errors.BadFile: What the file says of its projection is not understood. Choose it by hand.
    """
    if isinstance(described, dict) and _is_lonlat(described):
        return "EPSG:4326"
    import pyproj

    try:
        return pyproj.CRS.from_json_dict(described)
    except (pyproj.exceptions.CRSError, TypeError, AttributeError) as error:
        raise BadFile("What the file says of its projection is not understood.", "Choose it by hand.") from error


def _is_lonlat(described: dict[str, Any]) -> bool:
    """Whether PROJJSON says that it is EPSG:4326, and nothing in it says otherwise. What is not plain is left to PROJ."""
    datum = described.get("datum_ensemble")
    return (
        {key: described.get(key) for key in _LONLAT_JSON} == _LONLAT_JSON
        and isinstance(datum, dict)
        and datum.get("ellipsoid")
        == {"name": "WGS 84", "semi_major_axis": 6378137, "inverse_flattening": 298.257223563}
    )


def in_degrees(system: System | None) -> bool:
    """Whether coordinates are longitudes and latitudes, as far as is known."""
    return system is not None and (isinstance(system, str) or bool(system.is_geographic))


def crs_name(crs: System | None) -> str:
    """'EPSG:32626 · WGS 84 / UTM zone 26N', or what can be said of an unnamed one."""
    if crs is None:
        return "not known"
    if isinstance(crs, str):
        return f"{crs} · WGS 84"
    code = crs.to_epsg()
    if code:
        return f"EPSG:{code} · {crs.name}"
    return crs.name if crs.name not in ("unknown", "unnamed") else _method_and_middle(crs)


def _method_and_middle(crs: "pyproj.CRS") -> str:
    """What is said of a projection that nobody has named: how it is made, and around which place.

    >>> import pyproj
    >>> _method_and_middle(pyproj.CRS("+proj=laea +lat_0=52 +lon_0=-27"))
    'Lambert Azimuthal Equal Area around 52° N, 27° W'
    """
    operation = crs.coordinate_operation
    if operation is None:
        return crs.name
    parameters = {
        parameter.name.lower(): float(parameter.value)
        for parameter in operation.params
        if parameter.unit_name == "degree"
    }
    latitude = next((value for name, value in parameters.items() if "latitude" in name and "parallel" not in name), 0.0)
    longitude = next((value for name, value in parameters.items() if "longitude" in name), 0.0)
    place = ", ".join(
        f"{abs(value):g}° {ends[value < 0]}" for value, ends in ((latitude, "NS"), (longitude, "EW")) if value
    )
    method = operation.method_name.removeprefix("PROJ ")
    return f"{method} around {place}" if place else method


def crs_text(crs: "pyproj.CRS") -> str:
    """The shortest text that reads back as the same CRS: an EPSG code where there is one, WKT otherwise."""
    code = crs.to_epsg()
    return f"EPSG:{code}" if code else crs.to_wkt()


ROUNDING = 1e-6
"""Degrees by which coordinates go beyond the edge of the world that were counted in steps of a grid, as topologies do."""


def guess_crs(x: NDArray[np.float64], y: NDArray[np.float64]) -> CrsGuess:
    """Guess from the range of the coordinates. Only longitude and latitude can be told by range; the rest is asked for.

    Parameters
    ----------
    x : NDArray[np.float64]
        The first coordinates.
    y : NDArray[np.float64]
        The second coordinates.

    Returns
    -------
    CrsGuess

    Examples
    --------
    >>> guess_crs(np.array([-27.1]), np.array([52.0])).crs
    'EPSG:4326'
    """
    x, y = x[np.isfinite(x)], y[np.isfinite(y)]
    if len(x) == 0 or len(y) == 0:
        return CrsGuess(None, "No coordinate could be read, so none can be guessed.")
    upright = bool((np.abs(y) <= 90 + ROUNDING).all())
    if upright and (np.abs(x) <= 180 + ROUNDING).all():
        return CrsGuess("EPSG:4326", "Guessed: all coordinates lie within ±180 and ±90, as longitude and latitude do.")
    if upright and (x >= 0).all() and (x <= 360).all():
        return CrsGuess("EPSG:4326", "Guessed: longitudes are counted from 0 to 360, and latitudes lie within ±90.")
    if (np.abs(y) <= 180).all() and (np.abs(x) <= 90).all():
        return CrsGuess("EPSG:4326", "Guessed from the range, but the two columns look swapped.")
    return CrsGuess(
        None, f"The coordinates run to {np.abs(x).max():,.0f}, so they are not degrees. Choose their projection."
    )
