"""How far things reach round the globe."""

import numpy as np
from numpy.typing import NDArray

__all__ = ["shorter_way"]


def shorter_way(west: NDArray[np.float64], east: NDArray[np.float64]) -> tuple[float, float]:
    """From where to where stretches of longitude reach together, over the shorter way round: the widest stretch that none of
    them touches is left out. East is larger than 180 where that is across the 180th meridian.

    Parameters
    ----------
    west : NDArray[np.float64]
        The western edge.
    east : NDArray[np.float64]
        The eastern edge.

    Returns
    -------
    tuple[float, float]

    Examples
    --------
    >>> shorter_way(np.array([177.0, -180.0]), np.array([180.0, -179.0]))
    (177.0, 181.0)
    """
    order = np.argsort(west)
    first, last = west[order], np.maximum.accumulate(east[order])
    gaps = np.append(first[1:] - last[:-1], first[0] + 360 - last[-1])
    widest = int(np.argmax(gaps))
    if widest == len(gaps) - 1:
        return float(first[0]), float(last[-1])
    return float(first[widest + 1]), float(last[widest]) + 360
