"""Coordinate reference systems: reading one, guessing one with a stated reason, moving shapes between them."""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
import pyproj
import shapely
from numpy.typing import NDArray
from pyproj.exceptions import CRSError

from greylatch.errors import BadInput
from greylatch.tables.dataset import Shapes

LONLAT = pyproj.CRS.from_epsg(4326)
WEB_MERCATOR = pyproj.CRS.from_epsg(3857)
MERCATOR_LATITUDE = 85.0511287798066
"""Where the square of WebMercatorQuad ends (OGC 17-083)."""


@dataclass(frozen=True)
class CrsGuess:
    """A coordinate reference system that the data did not state; `crs` is None where no guess is safe."""

    crs: str | None
    reason: str


def parse_crs(text: str) -> pyproj.CRS:
    """A CRS from 'EPSG:32626', a PROJ string or WKT. Raises BadInput that repeats what was given."""
    try:
        return pyproj.CRS.from_user_input(text.strip())
    except (CRSError, ValueError) as error:
        raise BadInput(
            f"'{text.strip()[:60]}' is not a coordinate reference system.", "Write it as EPSG:32626, say."
        ) from error


def crs_name(crs: pyproj.CRS | None) -> str:
    """'EPSG:32626 · WGS 84 / UTM zone 26N', or what can be said of an unnamed one."""
    if crs is None:
        return "not known"
    code = crs.to_epsg()
    return f"EPSG:{code} · {crs.name}" if code else crs.name


def crs_text(crs: pyproj.CRS) -> str:
    """The shortest text that reads back as the same CRS: an EPSG code where there is one, WKT otherwise."""
    code = crs.to_epsg()
    return f"EPSG:{code}" if code else crs.to_wkt()


def guess_crs(x: NDArray[np.float64], y: NDArray[np.float64]) -> CrsGuess:
    """Guess from the range of the coordinates. Only longitude and latitude can be told by range; the rest is asked for.

    >>> guess_crs(np.array([-27.1]), np.array([52.0])).crs
    'EPSG:4326'
    """
    x, y = x[np.isfinite(x)], y[np.isfinite(y)]
    if len(x) == 0 or len(y) == 0:
        return CrsGuess(None, "No coordinate could be read, so none can be guessed.")
    inside = (np.abs(x) <= 180) & (np.abs(y[: len(x)] if len(y) >= len(x) else np.resize(y, len(x))) <= 90)
    if inside.all():
        return CrsGuess("EPSG:4326", "Guessed: all coordinates lie within ±180 and ±90, as longitude and latitude do.")
    if (np.abs(y) <= 180).all() and (np.abs(x) <= 90).all():
        return CrsGuess("EPSG:4326", "Guessed from the range, but the two columns look swapped.")
    return CrsGuess(
        None, f"The coordinates run to {np.abs(x).max():,.0f}, so they are not degrees. Choose their projection."
    )


def to_lonlat(shapes: Shapes, crs: pyproj.CRS) -> Shapes:
    """Shapes in longitude and latitude on WGS 84, in that order."""
    return reproject(shapes, crs, LONLAT)


def to_mercator(shapes: Shapes, crs: pyproj.CRS) -> Shapes:
    """Shapes in Web Mercator metres, latitudes held to the square."""
    if crs.is_geographic:
        shapes = shapely.transform(
            shapes, lambda xy: np.column_stack([xy[:, 0], np.clip(xy[:, 1], -MERCATOR_LATITUDE, MERCATOR_LATITUDE)])
        )
    return reproject(shapes, crs, WEB_MERCATOR)


def reproject(shapes: Shapes, source: pyproj.CRS, target: pyproj.CRS) -> Shapes:
    """Shapes moved from one CRS to another; x before y throughout. Raises BadInput where a coordinate has no place there."""
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
    """A cached transformer, x before y."""
    return _transformer(source.to_wkt(), target.to_wkt())


@lru_cache(maxsize=64)
def _transformer(source: str, target: str) -> pyproj.Transformer:
    return pyproj.Transformer.from_crs(source, target, always_xy=True)
