"""In which systems coordinates may be that state none: those under which they lie where other data do, or where the
system is used."""

import re
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import pyproj
import shapely
from pyproj.exceptions import CRSError, ProjError

from greylatch.places.bounds import Bounds
from greylatch.places.coordinates import exchanged
from greylatch.places.glance import Glance, glance
from greylatch.places.listed import Listed, in_use_at, is_used_at, listed_as
from greylatch.places.stated import crs_name
from greylatch.tables.dataset import Shapes

__all__ = ["Known", "Likely", "likely_systems"]

TRIED = 24
"""Systems that are tried: PROJ takes a while to set up each."""
SAME = 0.01
"""Degrees within which two systems put the data in the same place."""
WIDE = 60.0
"""Degrees from side to side above which data lie all over the place: that others lie there too says nothing of these."""
WORLD = ("EPSG:4326", "EPSG:3857", "EPSG:3035", "EPSG:8857")
"""Common practice, no source."""


@dataclass(frozen=True)
class Known:
    """Data whose place is known: their title, system, and bounds in degrees."""

    title: str
    crs: str
    bounds: Bounds


@dataclass(frozen=True)
class Likely:
    """A system, why it may be the one, whether x and y have to change places for that, and where the data lie then."""

    crs: str
    name: str
    reason: str
    swapped: bool
    glance: Glance


def likely_systems(shapes: Shapes, known: Sequence[Known] = (), most: int = 5) -> list[Likely]:
    """The likeliest systems of coordinates that state none, the likeliest first.

    Tried are longitude and latitude (also the other way round), a few of the whole world's, those of other data, and those in use
    where these lie, the smallest areas of use first.

    Parameters
    ----------
    shapes : Shapes
        The shapes, in whatever system.
    known : Sequence[Known]
        Other data.
    most : int
        How many at most.

    Returns
    -------
    list[Likely]

    Examples
    --------
    >>> here = np.array([shapely.Point(508_000, 5_770_000)])
    >>> isles = Known("Catchments", "EPSG:32626", (-27.2, 51.8, -26.6, 52.2))
    >>> [(each.crs, each.reason) for each in likely_systems(here, [isles])][:1]
    [('EPSG:32626', "It lies where 'Catchments' does, which has this system.")]
    """
    xy = shapely.get_coordinates(shapes)
    if not len(xy):
        return []
    degrees = bool((np.abs(np.percentile(xy, [2, 98], axis=0)) <= 180).all())
    candidates: list[tuple[float, Likely]] = []
    for system, area in _tried(known):
        crs = _crs(system)
        if crs is None or crs.is_geographic != degrees:
            continue
        for swapped in (False, True):
            seen = glance(exchanged(shapes) if swapped else shapes, crs)
            if seen is not None and (score := _score(seen, system, area, known, swapped)):
                candidates.append((score[0], Likely(system, crs_name(crs), score[1], swapped, seen)))
    candidates.sort(key=lambda each: -each[0])
    return _unlike([likely for _, likely in candidates])[:most]


def _unlike(candidates: list[Likely]) -> list[Likely]:
    """Without those that put the data where a likelier one does, but for some metres."""
    kept: list[Likely] = []
    for each in candidates:
        if not any(np.abs(np.subtract(each.glance.bounds, other.glance.bounds)).max() < SAME for other in kept):
            kept.append(each)
    return kept


def _tried(known: Sequence[Known]) -> list[tuple[str, Listed | None]]:
    """Systems with what PROJ's list says of them."""
    tried: dict[str, Listed | None] = dict.fromkeys(system.crs for system in known)
    for each in filter(_tells, known):
        middle = ((each.bounds[0] + each.bounds[2]) / 2, (each.bounds[1] + each.bounds[3]) / 2)
        tried.update({listed.crs: listed for listed in in_use_at(*middle)})
    first = dict(list(tried.items())[: TRIED - len(WORLD)])
    return list({**first, **{crs: listed_as(crs) for crs in WORLD}}.items())


def _crs(text: str) -> pyproj.CRS | None:
    try:
        return pyproj.CRS.from_user_input(text)
    except (CRSError, ProjError):
        return None


def _score(
    seen: Glance, system: str, area: Listed | None, known: Sequence[Known], swapped: bool
) -> tuple[float, str] | None:
    """How likely, and why; None where the data lie off the globe or the system's area of use."""
    west, south, east, north = seen.bounds
    if not (west >= -360 and east <= 360 and south >= -90 and north <= 90):
        return None
    near = next((each for each in known if _tells(each) and _overlap(seen.bounds, each.bounds)), None)
    way = "With x and y exchanged it" if swapped else "It"
    doubt = 2.0 if swapped else 0.0
    if near is not None:
        same = near.crs == system
        which = ", which has this system" if same else ""
        return 10 + same - doubt, f"{way} lies where '{near.title}' does{which}."
    if area is None or not is_used_at(area, (west + east) / 2, (south + north) / 2):
        return None
    used = re.split(r"[:.]| - ", area.area)[0][:60]
    return (
        4 if system not in WORLD else 3 - WORLD.index(system) / 10
    ) - doubt, f"{way} lies where the system is used: {used}."


def _tells(known: Known) -> bool:
    west, south, east, north = known.bounds
    return max(east - west, north - south) <= WIDE


def _overlap(a: Bounds, b: Bounds) -> bool:
    return a[0] <= b[2] and b[0] <= a[2] and a[1] <= b[3] and b[1] <= a[3]
