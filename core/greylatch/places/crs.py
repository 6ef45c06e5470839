"""Coordinate reference systems: reading one, moving shapes between them."""

import re
from functools import lru_cache

import numpy as np
import pyproj
import shapely
from numpy.typing import NDArray
from pyproj.exceptions import CRSError, ProjError

from greylatch.errors import BadInput
from greylatch.places.antimeridian import cut_at_antimeridian
from greylatch.places.bounds import Bounds
from greylatch.places.stated import MAX_CRS_TEXT, crs_name
from greylatch.tables.dataset import Shapes

__all__ = [
    "LONLAT",
    "WEB_MERCATOR",
    "lonlat_box",
    "parse_crs",
    "reproject",
    "to_lonlat",
    "transformer_between",
]

LONLAT = pyproj.CRS.from_epsg(4326)
WEB_MERCATOR = pyproj.CRS.from_epsg(3857)
# PROJ reads files that these name; `init` with a name other than an authority's is a file too. "@null" is no grid: GDAL writes
# Web Mercator so.
_REACHES_OUT = re.compile(
    r"\b(?:nad|geoid|x|xy_|z_|velocity_)?grids\s*=(?!\s*@null\b(?![,\w]))|\bfile\s*=|\bcatalog\s*=|proj\s*=\s*pipeline|\bstep\b\s*\+|PARAMETERFILE"
    r"|\binit\s*=\s*(?!epsg:\d)|\.\./|https?://(?!(?:www\.)?opengis\.net/def/crs/)|\x00",
    re.IGNORECASE,
)
_DEFINITION = re.compile(
    r"\+?\w+\s*=|[A-Za-z]{2,12}:[\w.-]{1,20}$|urn:ogc:def:crs:|https?://|[A-Za-z_]+\s*\[|\{|[\w ./()+-]{1,80}$"
)


def parse_crs(text: str) -> pyproj.CRS:
    """A CRS from 'EPSG:32626', a PROJ string or WKT.

    Raises
    ------
    BadInput
        That repeats what was given, and for definitions that name files, pipelines or other definitions by their
        path: a stranger's text opens nothing on this machine.

    Examples
    --------
    >>> parse_crs("+proj=laea +lat_0=52 +lon_0=-27 +nadgrids=/etc/passwd")
    Traceback (most recent call last):
    ...
    greylatch.errors.BadInput: '+proj=laea +lat_0=52 +lon_0=-27 +nadgrids=/etc/passwd' names a file or a pipeline. Write the projection as EPSG:32626, say, or without it.
    """
    text = text.strip()
    if len(text) > MAX_CRS_TEXT:
        raise BadInput(f"A coordinate reference system of {len(text):,} characters is not read.")
    if _REACHES_OUT.search(text):
        raise BadInput(
            f"'{text[:60]}' names a file or a pipeline.", "Write the projection as EPSG:32626, say, or without it."
        )
    if not _DEFINITION.match(text):
        raise _no_crs(text)
    try:
        crs = pyproj.CRS.from_user_input(text)
    except (CRSError, ValueError) as error:
        raise _no_crs(text) from error
    if crs.is_compound:  # a map lies flat: heights are left out
        crs = next((part for part in crs.sub_crs_list if part.is_geographic or part.is_projected), crs)
    if not (crs.is_geographic or crs.is_projected) or crs.is_geocentric:
        raise BadInput(f"'{crs.name[:60]}' is not a map's reference system: it has no plane and no longitudes.")
    return crs


def _no_crs(text: str) -> BadInput:
    return BadInput(f"'{text[:60]}' is not a coordinate reference system.", "Write it as EPSG:32626, say.")


def to_lonlat(shapes: Shapes, crs: pyproj.CRS) -> Shapes:
    """Shapes in longitude and latitude on WGS 84, in that order, cut at the 180th meridian.

    Parameters
    ----------
    shapes : Shapes
        The shapes.
    crs : pyproj.CRS
        The reference system of the coordinates.

    Returns
    -------
    Shapes
    """
    return cut_at_antimeridian(reproject(shapes, crs, LONLAT))


def lonlat_box(crs: pyproj.CRS, west: float, south: float, east: float, north: float) -> Bounds:
    """The box in degrees around a box in `crs`; one that crosses the 180th meridian goes all the way round, from −180
    to 180.

    Parameters
    ----------
    crs : pyproj.CRS
        The reference system of the coordinates.
    west : float
        The western edge.
    south : float
        The southern edge.
    east : float
        The eastern edge.
    north : float
        The northern edge.

    Returns
    -------
    Bounds

    Raises
    ------
    BadInput
        Where its edges have no place on earth.
    """
    if crs.is_geographic:
        w, s, e, n = west, max(south, -90.0), east, min(north, 90.0)
        if e - w >= 360 or (w + 180) // 360 != (e - 1e-9 + 180) // 360:
            return -180.0, s, 180.0, n
        turn = 360 * ((w + 180) // 360)
        return w - turn, s, e - turn, n
    try:
        w, s, e, n = transformer_between(crs, LONLAT).transform_bounds(west, south, east, north, densify_pts=21)
    except ProjError:
        w = s = e = n = np.inf
    if not np.isfinite([w, s, e, n]).all():
        raise BadInput(
            f"The corners ({west:g}, {south:g}) and ({east:g}, {north:g}) have no place on earth in {crs_name(crs)}.",
            "Is the projection the right one?",
        )
    return (w, s, e, n) if w <= e else (-180.0, s, 180.0, n)


def reproject(shapes: Shapes, source: pyproj.CRS, target: pyproj.CRS) -> Shapes:
    """Shapes moved from one CRS to another; x before y throughout.

    Parameters
    ----------
    shapes : Shapes
        The shapes.
    source : pyproj.CRS
        The reference system that the shapes are in.
    target : pyproj.CRS
        The reference system to go to.

    Returns
    -------
    Shapes

    Raises
    ------
    BadInput
        Where a coordinate has no place there.
    """
    if source == target:
        return shapes
    transformer = transformer_between(source, target)

    def move(xy: NDArray[np.float64]) -> NDArray[np.float64]:
        out = np.column_stack(transformer.transform(xy[:, 0], xy[:, 1]))
        if not np.isfinite(out).all():
            at = int(np.argmax(~np.isfinite(out).all(axis=1)))
            raise BadInput(
                f"The coordinate ({xy[at, 0]:g}, {xy[at, 1]:g}) cannot be moved from {crs_name(source)} to {crs_name(target)}.",
                "Is the projection the right one?",
            )
        return out

    return shapely.transform(shapes, move)


def transformer_between(source: pyproj.CRS, target: pyproj.CRS) -> pyproj.Transformer:
    """A cached transformer, x before y.

    Parameters
    ----------
    source : pyproj.CRS
        The reference system to come from.
    target : pyproj.CRS
        The reference system to go to.

    Returns
    -------
    pyproj.Transformer

    Raises
    ------
    BadInput
        Where PROJ knows no way from one to the other.
    """
    try:
        return _transformer(source.to_wkt(), target.to_wkt())
    except ProjError as error:
        raise BadInput(
            f"There is no way from {crs_name(source)} to {crs_name(target)}.", "Is the projection the right one?"
        ) from error


@lru_cache(maxsize=64)
def _transformer(source: str, target: str) -> pyproj.Transformer:
    return pyproj.Transformer.from_crs(source, target, always_xy=True)
