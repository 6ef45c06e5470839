"""Sizes of point symbols."""

from typing import Literal

import numpy as np
from numpy.typing import NDArray

__all__ = ["FLANNERY", "class_radii", "proportional_radii"]

FLANNERY = 0.5716
"""Exponent of the radius for the area that readers perceive (Flannery 1971); 0.5 would be true to area."""


def class_radii(n: int, smallest: float, largest: float) -> list[float]:
    """`n` radii in equal steps.

    Parameters
    ----------
    n : int
        How many radii.
    smallest : float
        Px of the radius of the smallest.
    largest : float
        Px of the radius of the largest.

    Returns
    -------
    list[float]

    Examples
    --------
    >>> class_radii(3, 2, 10)
    [2.0, 6.0, 10.0]
    """
    return np.linspace(smallest, largest, n).tolist() if n > 1 else [float(largest)]


def proportional_radii(
    values: NDArray[np.float64],
    largest: float,
    scaling: Literal["area", "flannery", "straight"],
    top: float | None = None,
) -> NDArray[np.float32]:
    """Radius in px of each value, `largest` for the value `top` (default: the greatest); 0 for missing, zero and negative ones.

    Parameters
    ----------
    values : NDArray[np.float64]
        The values; what is not finite is missing.
    largest : float
        Px of the radius of the largest.
    scaling : Literal['area', 'flannery', 'straight']
        'area' is true to area, 'flannery' to the area as it is perceived, 'straight' in proportion, as widths are.
    top : float | None
        The value that is drawn largest; None takes the greatest.

    Returns
    -------
    NDArray[np.float32]

    Examples
    --------
    >>> proportional_radii(np.array([4.0, 1.0, -1.0]), 10, "area").tolist()
    [10.0, 5.0, 0.0]
    """
    safe = np.where(np.isfinite(values) & (values > 0), values, 0.0)
    greatest = top if top is not None else float(safe.max(initial=0.0))
    if greatest <= 0:
        return np.zeros(len(values), dtype=np.float32)
    power = {"flannery": FLANNERY, "area": 0.5, "straight": 1.0}[scaling]
    return (largest * (safe / greatest) ** power).astype(np.float32)
