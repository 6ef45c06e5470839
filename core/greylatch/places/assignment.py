"""One to one: who gets what, where several want the same, so that the likenesses of all pairs together are greatest."""

from collections.abc import Mapping, Sequence

import numpy as np
from numpy.typing import NDArray
from scipy.optimize import linear_sum_assignment
from scipy.sparse import coo_array
from scipy.sparse.csgraph import connected_components

__all__ = ["assigned"]

LARGEST = 2_000
"""Keys or areas of a group that is looked at as a whole: in a larger one the likest pair is taken first, then the next."""


def assigned(wanted: Mapping[str, Sequence[tuple[float, str]]]) -> dict[str, str]:
    """Each key's area, no area given twice, by the assignment whose likenesses add up to most (Kuhn 1955, as SciPy's
    `linear_sum_assignment` solves it), for each group of keys that want the same areas by itself.

    Parameters
    ----------
    wanted : Mapping[str, Sequence[tuple[float, str]]]
        For each key the likeness of areas, above 0, the greatest first.

    Returns
    -------
    dict[str, str]
        Of keys that get one.

    Examples
    --------
    >>> assigned({"Skara": [(90.0, "Skara Nor"), (80.0, "Skara Sor")], "Skara N": [(95.0, "Skara Nor")]})
    {'Skara': 'Skara Sor', 'Skara N': 'Skara Nor'}
    """
    keys = [key for key, ranked in wanted.items() if ranked]
    areas = {area: i for i, area in enumerate(dict.fromkeys(area for key in keys for _, area in wanted[key]))}
    if not keys:
        return {}
    pairs = [(i, len(keys) + areas[area], likeness) for i, key in enumerate(keys) for likeness, area in wanted[key]]
    rows, columns, likenesses = (np.array(part) for part in zip(*pairs, strict=True))
    n = len(keys) + len(areas)
    groups, group = connected_components(coo_array((np.ones(len(rows)), (rows, columns)), shape=(n, n)), directed=False)
    order = np.argsort(group[rows], kind="stable")
    ends = np.searchsorted(group[rows][order], np.arange(groups + 1))
    named = list(areas)
    out: dict[str, str] = {}
    for g in range(groups):
        own = order[ends[g] : ends[g + 1]]
        if len(own) == 0:
            continue
        left, at_left = np.unique(rows[own], return_inverse=True)
        right, at_right = np.unique(columns[own], return_inverse=True)
        if max(len(left), len(right)) > LARGEST:
            out |= _likest_first(keys, wanted, left)
            continue
        likeness = np.zeros((len(left), len(right)))
        likeness[at_left, at_right] = likenesses[own]
        for i, j in zip(*linear_sum_assignment(likeness, maximize=True), strict=True):
            if likeness[i, j] > 0:
                out[keys[left[i]]] = named[right[j] - len(keys)]
    return {key: out[key] for key in keys if key in out}


def _likest_first(
    keys: Sequence[str], wanted: Mapping[str, Sequence[tuple[float, str]]], left: NDArray[np.intp]
) -> dict[str, str]:
    pairs = sorted(
        ((likeness, keys[i], area) for i in left for likeness, area in wanted[keys[i]]), key=lambda pair: -pair[0]
    )
    out: dict[str, str] = {}
    taken: set[str] = set()
    for _, key, area in pairs:
        if key not in out and area not in taken:
            out[key] = area
            taken.add(area)
    return out
