"""How long a scale bar is, and what it says."""

import math
from typing import NamedTuple

__all__ = ["ScaleBar", "scale_bar"]

SHORTEST = 80.0
"""Px that a bar has at least."""
LEADING = (1, 2, 5)
"""A bar's length begins with one of these (common practice)."""
KILOMETRE = 1000


class ScaleBar(NamedTuple):
    """A length on the ground in metres, in px, and in words."""

    metres: float
    px: float
    text: str


def scale_bar(metres: float, shortest: float = SHORTEST) -> ScaleBar:
    """The bar of the first length of 1, 2 or 5 times a power of ten that is long enough to be seen, as scale lines of OpenLayers have it.

    Parameters
    ----------
    metres : float
        On the ground to a px, at the place where the bar is to be true.
    shortest : float
        Px that it has at least.

    Returns
    -------
    ScaleBar

    Examples
    --------
    >>> scale_bar(38.2)
    ScaleBar(metres=5000.0, px=131.0, text='5 km')
    >>> scale_bar(0.12).text, scale_bar(10_000).text
    ('10 m', '1000 km')
    """
    power = math.floor(math.log10(shortest * metres))
    length = next(
        leading * 10.0**exponent
        for exponent in (power, power + 1)
        for leading in LEADING
        if round(leading * 10.0**exponent / metres) >= shortest
    )
    # The unit is that of the shortest bar there could be, so that it changes at one scale and not in between.
    unit, short = (KILOMETRE, "km") if shortest * metres >= KILOMETRE else (1, "m")
    return ScaleBar(length, float(round(length / metres)), f"{length / unit:g} {short}")
