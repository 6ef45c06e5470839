"""Categories whose neighbours on the map look unlike them."""

import itertools
from collections.abc import Sequence

import numpy as np
import shapely
from coloraide import Color
from numpy.typing import NDArray
from scipy.optimize import quadratic_assignment
from scipy.spatial import Delaunay, QhullError

from greylatch.colour.difference import VISIONS, seen_as
from greylatch.colour.ramps import ramp_colours
from greylatch.encodings.by_category import ColourByCategory, categories_of
from greylatch.errors import BadInput
from greylatch.tables.dataset import Dataset

__all__ = ["neighbouring", "parted"]

FEWEST_POINTS = 3
ALL_TRIED = 7
"""Of so many colours every order is tried."""
SIDES = 12
MANY = 24
"""From so many on, the search begins at two sides only."""
CLOSE = 0.08
MOST = 60
"""Categories: more have no hues that anybody could tell apart, and to search their orders would take for ever."""


def parted(dataset: Dataset, encoding: ColourByCategory) -> ColourByCategory:
    """The same colours given to other categories: the oftener two are neighbours on the map, the less alike they are.

    How alike two colours are falls by e for each 0.08 between them in OKLab, for the reader who sees them worst; what is made least is
    the sum of that over all neighbours (a quadratic assignment, Koopmans and Beckmann 1957). The measure is our own, no source.

    Parameters
    ----------
    dataset : Dataset
        Areas, lines or points.
    encoding : ColourByCategory
        What of them is drawn in colour. Without categories those are taken that it is drawn by.

    Returns
    -------
    ColourByCategory

    Raises
    ------
    BadInput
        Where there are fewer than three categories or too many, or none are neighbours.
    """
    categories = encoding.categories or categories_of(dataset, encoding.field)
    n = len(categories)
    if n < 3:
        raise BadInput("With fewer than three categories no order of colours parts them better than another.")
    if n > MOST:
        raise BadInput(
            f"The colours of {n} categories cannot be told apart in any order.", f"Merge some: up to {MOST} are parted."
        )
    step = encoding.model_copy(update={"categories": categories}).encode(dataset).step
    assert step is not None
    first, second = (step[rows] for rows in neighbouring(dataset))
    both = (first >= 0) & (first < n) & (second >= 0) & (second < n) & (first != second)
    often = np.zeros((n, n))
    np.add.at(often, (first[both], second[both]), 1.0)
    often += often.T
    if not often.any():
        raise BadInput("No two categories lie beside one another on the map.")
    along = ramp_colours(encoding.ramp, n)
    colours = [category.colour or along[i] for i, category in enumerate(categories)]
    order = _cheapest(often, _alike(colours))
    painted = [
        category.model_copy(update={"colour": colours[at]}) for category, at in zip(categories, order, strict=True)
    ]
    return encoding.model_copy(update={"categories": painted})


def _cheapest(often: NDArray[np.float64], alike: NDArray[np.float64]) -> NDArray[np.intp]:
    """The order of colours in which neighbours are least alike: of a few all are tried, of more it is searched from several sides, the
    order that there is being one of them."""
    n = len(often)
    if n <= ALL_TRIED:
        orders = np.array(list(itertools.permutations(range(n))), dtype=np.intp)
    else:
        rng = np.random.default_rng(0)
        begun = [np.arange(n), quadratic_assignment(often, alike, options={"rng": rng}).col_ind]
        begun += [rng.permutation(n) for _ in range(SIDES if n < MANY else 0)]
        orders = np.array(
            [
                quadratic_assignment(
                    often, alike, "2opt", {"partial_guess": np.column_stack([np.arange(n), start]), "rng": rng}
                ).col_ind
                for start in begun
            ]
        )
    costs = [float((often * alike[np.ix_(order, order)]).sum()) for order in orders]
    return orders[int(np.argmin(costs))]


def neighbouring(dataset: Dataset) -> tuple[NDArray[np.intp], NDArray[np.intp]]:
    """The rows that are neighbours, each pair once: areas and lines that touch, points that are joined by an edge of their Delaunay
    triangulation.

    Parameters
    ----------
    dataset : Dataset
        Areas, lines or points.

    Returns
    -------
    tuple[NDArray[np.intp], NDArray[np.intp]]

    Examples
    --------
    >>> import pyarrow as pa
    >>> boxes = shapely.box(np.arange(3), 0, np.arange(1, 4), 1)
    >>> [rows.tolist() for rows in neighbouring(Dataset(pa.table({"a": [1, 2, 3]}), "areas", boxes))]
    [[0, 1], [1, 2]]
    """
    assert dataset.shapes is not None
    there = np.flatnonzero(~shapely.is_missing(dataset.shapes) & ~shapely.is_empty(dataset.shapes))
    shapes = dataset.shapes[there]
    if dataset.kind == "points":
        first, second = _triangulated(shapely.get_coordinates(shapely.centroid(shapes)))
    else:
        first, second = shapely.STRtree(shapes).query(shapes, predicate="intersects")
    once = first < second
    order = np.lexsort((second[once], first[once]))
    return there[first[once][order]], there[second[once][order]]


def _triangulated(xy: NDArray[np.float64]) -> tuple[NDArray[np.intp], NDArray[np.intp]]:
    none = np.empty(0, dtype=np.intp)
    if len(xy) < FEWEST_POINTS:
        return none, none
    try:
        triangles = Delaunay(xy).simplices
    except QhullError:  # all on one line
        along = np.lexsort(xy.T)
        return np.minimum(along[:-1], along[1:]), np.maximum(along[:-1], along[1:])
    sides = np.sort(np.concatenate([triangles[:, [0, 1]], triangles[:, [1, 2]], triangles[:, [0, 2]]]), axis=1)
    sides = np.unique(sides, axis=0)
    return sides[:, 0], sides[:, 1]


def _alike(colours: Sequence[str]) -> NDArray[np.float64]:
    """How alike colours are (n, n), from 1 downwards; of each with itself 0."""
    seen = np.array(
        [[Color(seen_as(colour, vision)).convert("oklab").coords() for colour in colours] for vision in VISIONS]
    )
    apart = np.sqrt(((seen[:, :, None, :] - seen[:, None, :, :]) ** 2).sum(axis=-1)).min(axis=0)
    alike = np.exp(-apart / CLOSE)
    np.fill_diagonal(alike, 0.0)
    return np.asarray(alike)
