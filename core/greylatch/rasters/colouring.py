"""Numbers of pixels to colours: along a ramp, by class, by what single values stand for."""

from functools import lru_cache

import numba
import numpy as np
from numpy.typing import NDArray

from greylatch.colour.ramps import ramp_colours
from greylatch.sheet.parts import RampChoice
from greylatch.sheet.symbology import NamedValue

__all__ = ["Rgba", "by_class", "by_name", "coloured", "grey"]

Rgba = NDArray[np.uint8]


def coloured(values: NDArray[np.floating], there: NDArray[np.bool_], low: float, high: float, ramp: RampChoice) -> Rgba:
    """Values through 256 steps of a ramp between `low` and `high`; transparent where nothing is `there`.

    Parameters
    ----------
    values : NDArray[np.floating]
        The values; what is not finite is missing.
    there : NDArray[np.bool_]
        Where there is any data.
    low : float
        The value of the ramp's beginning.
    high : float
        The value of the ramp's end.
    ramp : RampChoice
        The ramp by name, its direction and its replaced colours.

    Returns
    -------
    Rgba
    """
    table = _ramp_table(ramp.model_dump_json())
    span = (high - low) or 1.0
    position = np.nan_to_num(np.clip((values - low) / span, 0, 1)) * 255
    return _rgba(table[np.round(position).astype(np.uint8)], there)


@lru_cache(maxsize=64)
def _ramp_table(ramp_json: str) -> NDArray[np.uint8]:
    """(256, 3) colours of a ramp, given as its JSON so that it can be remembered."""
    return _bytes(tuple(ramp_colours(RampChoice.model_validate_json(ramp_json), 256)))


def by_class(
    values: NDArray[np.floating], there: NDArray[np.bool_], upper: NDArray[np.float64], ramp: RampChoice
) -> Rgba:
    """Values in the colours of their classes; those beyond the last limit, which are seen where a sample was classed, are of the last.

    Parameters
    ----------
    values : NDArray[np.floating]
        The values; what is not finite is missing.
    there : NDArray[np.bool_]
        Where there is any data.
    upper : NDArray[np.float64]
        Upper limits, rising.
    ramp : RampChoice
        The ramp by name, its direction and its replaced colours.

    Returns
    -------
    Rgba
    """
    colours = _bytes(tuple(ramp_colours(ramp, len(upper))))
    return _rgba(colours[np.minimum(np.searchsorted(upper, values, side="left"), len(upper) - 1)], there)


def by_name(values: NDArray[np.floating], there: NDArray[np.bool_], named: list[NamedValue]) -> Rgba:
    """Values in the colours of what they stand for; transparent where they stand for nothing.

    Parameters
    ----------
    values : NDArray[np.floating]
        The values; what is not finite is missing.
    there : NDArray[np.bool_]
        Where there is any data.
    named : list[NamedValue]
        What values stand for.

    Returns
    -------
    Rgba

    Examples
    --------
    >>> by_name(np.array([[1.0, 2.0]]), np.ones((1, 2), bool), [NamedValue(value=2, colour="#0a0b0c")]).tolist()
    [[[0, 0, 0, 0], [10, 11, 12, 255]]]
    """
    out = np.zeros((*values.shape, 4), dtype=np.uint8)
    for value in named:
        if value.drawn:
            out[there & (values == value.value)] = [*_bytes((value.colour,))[0], 255]
    return out


def grey(values: NDArray[np.floating], there: NDArray[np.bool_]) -> Rgba:
    """Values of 0 to 255 as greys.

    Parameters
    ----------
    values : NDArray[np.floating]
        The values.
    there : NDArray[np.bool_]
        Where there is any data.

    Returns
    -------
    Rgba
    """
    out = np.zeros((*values.shape, 4), dtype=np.uint8)
    _write_greys(values, there, out)
    return out


@numba.njit(cache=True)
def _write_greys(values, there, out):  # type: ignore[no-untyped-def]
    for y in range(values.shape[0]):
        for x in range(values.shape[1]):
            if there[y, x]:
                value = values[y, x]
                # What is no number is black, as what is below 0; what is above 255 is white.
                grey = np.uint8(min(max(value, 0.0), 255.0) + 0.5) if value == value else np.uint8(0)
                out[y, x, 0] = out[y, x, 1] = out[y, x, 2] = grey
                out[y, x, 3] = 255


def _rgba(colours: NDArray[np.uint8], there: NDArray[np.bool_]) -> Rgba:
    out = np.empty((*there.shape, 4), dtype=np.uint8)
    out[..., :3] = colours
    out[..., 3] = np.where(there, 255, 0)
    return out


def _bytes(colours: tuple[str, ...]) -> NDArray[np.uint8]:
    return np.array([[int(c[i : i + 2], 16) for i in (1, 3, 5)] for c in colours], dtype=np.uint8)
