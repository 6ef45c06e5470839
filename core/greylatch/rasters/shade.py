"""Shaded relief and slope."""

import math
from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

__all__ = ["hillshade", "multidirectional", "slope"]

Surface = NDArray[np.floating]
LIGHTS = (225, 270, 315, 360)
"""Degrees that the lights of a multidirectional relief come from."""


def hillshade(
    elevation: NDArray[np.floating],
    cell: tuple[float, float],
    azimuth: float = 315.0,
    altitude: float = 45.0,
    exaggeration: float = 1.0,
) -> NDArray[np.float32]:
    """Illumination 1..255 of a surface, NaN at its rim and wherever one of a cell's eight neighbours is missing.

    Gradient by Horn (1981), "Hill shading and the reflectance map"; the scale 1 + 254·cos is the one common to raster
    programs.

    Parameters
    ----------
    elevation : NDArray[np.floating]
        (rows from north to south, NaN: missing) and `cell` (width, height) share one unit.
    cell : tuple[float, float]
        Width and height of a pixel, m.
    azimuth : float
        Degrees that the light comes from, clockwise from north.
    altitude : float
        Degrees of the light above the horizon.
    exaggeration : float
        By how much heights are multiplied.

    Returns
    -------
    NDArray[np.float32]

    Examples
    --------
    >>> round(float(hillshade(np.zeros((3, 3)), (1, 1))[1, 1]), 2)
    180.61
    """

    def light(east: Surface, south: Surface) -> Surface:
        sun, height = math.radians(azimuth), math.radians(altitude)
        # The light vector (east, north, up) times the surface normal (−east, south, 1), over the normal's length.
        facing = math.sin(height) - math.cos(height) * (math.sin(sun) * east - math.cos(sun) * south)
        return np.asarray(np.maximum(facing / np.sqrt(1 + east**2 + south**2), 0))

    return _shaded(elevation, cell, exaggeration, light)


def multidirectional(
    elevation: NDArray[np.floating], cell: tuple[float, float], altitude: float = 30.0, exaggeration: float = 1.0
) -> NDArray[np.float32]:
    """The same in light from the north, north-west, west and south-west at once, each as strong as a slope falls along it: no valley is lost
    because it runs along the light.

    Weights by Mark (1992), "Multidirectional, oblique-weighted, shaded-relief image of the Island of Hawaii", USGS Open-File Report
    92-422, as gdaldem has them: the square of the cosine of the angle between a slope's fall and the light.

    Parameters
    ----------
    elevation : NDArray[np.floating]
        (rows from north to south, NaN: missing) and `cell` (width, height) share one unit.
    cell : tuple[float, float]
        Width and height of a pixel, m.
    altitude : float
        Degrees of the lights above the horizon.
    exaggeration : float
        By how much heights are multiplied.

    Returns
    -------
    NDArray[np.float32]

    Examples
    --------
    >>> round(float(multidirectional(np.zeros((3, 3)), (1, 1))[1, 1]), 2)
    128.0
    """

    def light(east: Surface, south: Surface) -> Surface:
        height, steep = math.radians(altitude), east**2 + south**2
        total = np.zeros_like(east)
        for sun in map(math.radians, LIGHTS):
            along = math.sin(sun) * east - math.cos(sun) * south
            total += along**2 * np.maximum(math.sin(height) - math.cos(height) * along, 0)
        # The four weights of a slope sum up to twice the square of its gradient.
        with np.errstate(invalid="ignore", divide="ignore"):
            mean = np.where(steep > 0, total / (2 * steep), math.sin(height))
        return np.asarray(mean / np.sqrt(1 + steep))

    return _shaded(elevation, cell, exaggeration, light)


def slope(elevation: NDArray[np.floating], cell: tuple[float, float]) -> NDArray[np.float32]:
    """Degrees by which a surface rises, NaN at its rim and wherever one of a cell's eight neighbours is missing.

    Gradient by Horn (1981), as above.

    Parameters
    ----------
    elevation : NDArray[np.floating]
        (rows from north to south, NaN: missing) and `cell` (width, height) share one unit.
    cell : tuple[float, float]
        Width and height of a pixel, m.

    Returns
    -------
    NDArray[np.float32]

    Examples
    --------
    >>> east = np.tile(np.arange(3.0), (3, 1))
    >>> round(float(slope(east, (1, 1))[1, 1]), 2)
    45.0
    """
    out = np.full(elevation.shape, np.nan, dtype=np.float32)
    if min(elevation.shape) >= 3:
        east, south = _gradient(elevation.astype(np.float32), cell)
        out[1:-1, 1:-1] = np.degrees(np.arctan(np.hypot(east, south)))
        out[~np.isfinite(elevation)] = np.nan
    return out


def _shaded(
    elevation: NDArray[np.floating], cell: tuple[float, float], exaggeration: float, light: Callable[[Surface, Surface], Surface]
) -> NDArray[np.float32]:  # fmt: skip
    """1..255 by the light that falls on each cell, of its gradient to the east and to the south."""
    out = np.full(elevation.shape, np.nan, dtype=np.float32)
    if min(elevation.shape) < 3:
        return out
    z = elevation.astype(np.float32) * np.float32(exaggeration)
    out[1:-1, 1:-1] = np.where(np.isfinite(z[1:-1, 1:-1]), 1 + 254 * light(*_gradient(z, cell)), np.nan)
    return out


def _gradient(z: NDArray[np.float32], cell: tuple[float, float]) -> tuple[Surface, Surface]:
    """How much a surface rises to the east and to the south, in each cell that has eight neighbours."""
    a, b, c = z[:-2, :-2], z[:-2, 1:-1], z[:-2, 2:]
    d, f = z[1:-1, :-2], z[1:-1, 2:]
    g, h, i = z[2:, :-2], z[2:, 1:-1], z[2:, 2:]
    east = ((c + 2 * f + i) - (a + 2 * d + g)) / (8 * cell[0])
    south = ((g + 2 * h + i) - (a + 2 * b + c)) / (8 * cell[1])
    return east, south
