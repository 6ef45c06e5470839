"""Shaded relief."""

import math

import numpy as np
from numpy.typing import NDArray

__all__ = ["hillshade"]


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
    out = np.full(elevation.shape, np.nan, dtype=np.float32)
    if min(elevation.shape) < 3:
        return out
    z = elevation.astype(np.float32) * np.float32(exaggeration)
    a, b, c = z[:-2, :-2], z[:-2, 1:-1], z[:-2, 2:]
    d, f = z[1:-1, :-2], z[1:-1, 2:]
    g, h, i = z[2:, :-2], z[2:, 1:-1], z[2:, 2:]
    east = ((c + 2 * f + i) - (a + 2 * d + g)) / (8 * cell[0])
    south = ((g + 2 * h + i) - (a + 2 * b + c)) / (8 * cell[1])
    sun, height = math.radians(azimuth), math.radians(altitude)
    # The light vector (east, north, up) times the surface normal (−east, south, 1), over the normal's length.
    light = math.sin(height) - math.cos(height) * (math.sin(sun) * east - math.cos(sun) * south)
    shade = 1 + 254 * np.maximum(light / np.sqrt(1 + east**2 + south**2), 0)
    out[1:-1, 1:-1] = np.where(np.isfinite(z[1:-1, 1:-1]), shade, np.nan)
    return out
