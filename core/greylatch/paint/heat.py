"""A heat surface: how densely points lie, as colours along a ramp."""

import numpy as np
from numpy.typing import NDArray
from scipy.ndimage import gaussian_filter

from greylatch.classes.values import numbers_of
from greylatch.colour.ramps import ramp_colours
from greylatch.errors import BadInput
from greylatch.paint.sources import VectorSource
from greylatch.places.view import View
from greylatch.sheet.symbology import Heat

__all__ = ["draw_heat", "greatest_density", "heat_reach"]

SPREAD = 2.5
"""Standard deviations that the radius stands for: beyond it a point adds next to nothing."""
RISING = 0.12
"""Share of the greatest density at which the surface is as opaque as it gets: thinner it fades out."""
COLOURS = 256


def heat_reach(heat: Heat) -> float:
    """Px by which the surface stands out over the points."""
    return heat.radius


def draw_heat(source: VectorSource, heat: Heat, view: View) -> NDArray[np.uint8] | None:
    """The surface for `view`: (height, width, 4) uint8, straight alpha; None where it does not reach.

    Each point adds a Gaussian (its standard deviation a part of the radius), as heavy as its weight. The ramp ends at the greatest
    density of the whole layer at this scale, so that tiles fit together.

    Parameters
    ----------
    source : VectorSource
        The points.
    heat : Heat
        Radius, weight and ramp.
    view : View
        What is shown, and how large.

    Returns
    -------
    NDArray[np.uint8] | None

    Raises
    ------
    BadInput
        For weights that are negative.
    """
    ratio, west, north = view.ratio, view.bounds[0], view.bounds[3]
    resolution = view.resolution / ratio
    pad = int(np.ceil(heat.radius * ratio))
    box = (
        view.bounds[0] - pad * resolution,
        view.bounds[1] - pad * resolution,
        view.bounds[2] + pad * resolution,
        view.bounds[3] + pad * resolution,
    )
    rows = source.within(box)
    if not len(rows):
        return None
    places, owner = source.positions(rows)
    weights = _weights(source, heat)[owner]
    column = np.floor((places[:, 0] - west) / resolution).astype(np.int64) + pad
    row = np.floor((north - places[:, 1]) / resolution).astype(np.int64) + pad
    high, wide = view.height + 2 * pad, view.width + 2 * pad
    inside = (column >= 0) & (column < wide) & (row >= 0) & (row < high)
    flat = np.bincount((row * wide + column)[inside], weights=weights[inside], minlength=high * wide)
    sigma = heat.radius * ratio / SPREAD
    density = gaussian_filter(flat.reshape(high, wide), sigma, mode="constant", truncate=SPREAD)[
        pad : pad + view.height, pad : pad + view.width
    ]
    greatest = greatest_density(source, heat, resolution, sigma)
    if greatest <= 0 or not (density > 0).any():
        return None
    share = np.clip(density / greatest, 0.0, 1.0)
    table = np.array(
        [[int(colour[i : i + 2], 16) for i in (1, 3, 5)] for colour in ramp_colours(heat.ramp, COLOURS)], dtype=np.uint8
    )
    alpha = np.clip(share / RISING, 0.0, 1.0)
    return np.dstack([table[np.rint(share * (COLOURS - 1)).astype(np.intp)], np.rint(alpha * 255).astype(np.uint8)])


def greatest_density(source: VectorSource, heat: Heat, resolution: float, sigma: float) -> float:
    """The greatest density anywhere at a scale, nearly: in cells of a standard deviation, each with its neighbours.

    Parameters
    ----------
    source : VectorSource
        The points.
    heat : Heat
        Radius and weight.
    resolution : float
        Units of the frame to a px of the picture.
    sigma : float
        Px of the standard deviation.

    Returns
    -------
    float
    """
    known = source.remembered
    name = f"heat {heat.weight} {resolution:.9g} {sigma:.6g}"
    if name not in known:
        known[name] = _greatest(source, heat, resolution, sigma)
    return float(known[name])


def _greatest(source: VectorSource, heat: Heat, resolution: float, sigma: float) -> float:
    places, owner = source.positions(np.arange(len(source.dataset)))
    finite = np.isfinite(places).all(axis=1)
    weights = _weights(source, heat)[owner][finite]
    if not len(weights):
        return 0.0
    cells = np.floor(places[finite] / (resolution * sigma)).astype(np.int64)
    cells -= cells.min(axis=0)
    wide = int(cells[:, 0].max()) + 2 * NEAR + 1
    keys = (cells[:, 1] + NEAR) * wide + cells[:, 0] + NEAR
    there, at = np.unique(keys, return_inverse=True)
    heavy = np.bincount(at, weights=weights)
    total = np.zeros(len(there))
    for down in range(-NEAR, NEAR + 1):
        for right in range(-NEAR, NEAR + 1):
            neighbour = np.minimum(np.searchsorted(there, there + down * wide + right), len(there) - 1)
            same = there[neighbour] == there + down * wide + right
            total += np.where(same, heavy[neighbour], 0.0) * np.exp(-(down**2 + right**2) / 2)
    return float(total.max() / (2 * np.pi * sigma**2))


NEAR = 2


def _weights(source: VectorSource, heat: Heat) -> NDArray[np.float64]:
    if heat.weight is None:
        return np.ones(len(source.dataset))
    weights = numbers_of(source.dataset, heat.weight)
    if (weights < 0).any():
        row = int(np.argmax(weights < 0))
        raise BadInput(f"Row {row + 1} has {weights[row]:g} of '{heat.weight}': nothing weighs less than nothing.")
    return np.where(np.isfinite(weights), weights, 0.0)
