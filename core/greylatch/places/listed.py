"""Searching PROJ's own list of projections by name and code."""

from dataclasses import dataclass, replace
from functools import lru_cache

from pyproj.database import query_crs_info
from pyproj.enums import PJType

from greylatch.places.bounds import Bounds
from greylatch.places.names import folded

__all__ = ["Listed", "in_use_at", "is_used_at", "listed_as", "search_projections"]


EUROPE, EUROPE_SET = "EPSG:3035", "EuropeanETRS89_LAEAQuad"
"""The one projection whose registered set (OGC 17-083r4, annex D) differs from the one that is made for it: it holds Europe alone."""


@dataclass(frozen=True)
class Listed:
    """An entry of the list: 'EPSG:3035', its name, where it is used (in words, and west, south, east, north in degrees), and
    whether it is no projection but longitude and latitude."""

    crs: str
    name: str
    area: str
    bounds: Bounds | None
    degrees: bool


def search_projections(text: str, most: int = 30) -> list[Listed]:
    """The systems of PROJ's list with every word of `text` in their code, name or area of use, whatever its case and accents:
    those whose code it is first, then those with all words in the name; maps before mere degrees, and of several those for the
    smallest area first.

    Parameters
    ----------
    text : str
        The text.
    most : int
        How many at most.

    Returns
    -------
    list[Listed]

    Examples
    --------
    >>> search_projections("3035")[0].name
    'ETRS89-extended / LAEA Europe'
    """
    words = folded(text).replace("epsg:", "").split()
    if not words:
        return []
    hits = []
    for name, whole, system in _list():
        if all(word in whole for word in words):
            rank = 0 if whole.split()[0] == words[0] else 1 if all(word in name for word in words) else 2
            hits.append((rank, system.degrees, _size(system), len(system.name), system.crs, system))
    return [system for *_, system in sorted(hits, key=lambda entry: entry[:5])[:most]]


def in_use_at(longitude: float, latitude: float) -> list[Listed]:
    """The systems of PROJ's list in whose area of use a place lies: maps, those for the smallest area first.

    Parameters
    ----------
    longitude : float
        Degrees.
    latitude : float
        Degrees.

    Returns
    -------
    list[Listed]

    Examples
    --------
    >>> "EPSG:32626" in [system.crs for system in in_use_at(-27, 52)]
    True
    """
    used = [system for *_, system in _list() if not system.degrees and is_used_at(system, longitude, latitude)]
    return sorted(used, key=lambda system: (_size(system), system.crs))


def listed_as(crs: str) -> Listed | None:
    """What the list says of a system by its code; None for one that is not in it.

    >>> listed_as("EPSG:32626").name
    'WGS 84 / UTM zone 26N'
    """
    return next((system for *_, system in _list() if system.crs == crs), None)


def is_used_at(system: Listed, longitude: float, latitude: float) -> bool:
    """Whether a place lies in the box around a system's area of use.

    Parameters
    ----------
    system : Listed
        The system.
    longitude : float
        Degrees.
    latitude : float
        Degrees.

    Returns
    -------
    bool
    """
    if system.bounds is None:
        return False
    west, south, east, north = system.bounds
    return south <= latitude <= north and (longitude - west) % 360 <= ((east - west) % 360 or 360)


@lru_cache(maxsize=1)
def _list() -> list[tuple[str, str, Listed]]:
    """Each entry with what is searched: its name, and code, name and area."""
    out = []
    for system in query_crs_info("EPSG", [PJType.PROJECTED_CRS, PJType.GEOGRAPHIC_2D_CRS], allow_deprecated=False):
        area = system.area_of_use
        words, bounds = (area.name or "", area.bounds) if area else ("", None)
        entry = Listed(
            f"EPSG:{system.code}",
            system.name,
            words,
            bounds and (bounds[0], bounds[1], bounds[2], bounds[3]),
            system.type == PJType.GEOGRAPHIC_2D_CRS,
        )
        out.append((folded(system.name), folded(f"{system.code} {system.name} {entry.area}"), entry))
        if entry.crs == EUROPE:
            tiled = replace(entry, crs=EUROPE_SET, name=f"{system.name}, in the tiles of the OGC's set")
            out.append((folded(tiled.name), folded(f"{system.code} {tiled.crs} {tiled.name} {entry.area}"), tiled))
    return out


def _size(system: Listed) -> float:
    """Square degrees of the area of use."""
    if system.bounds is None:
        return 64_800.0
    west, south, east, north = system.bounds
    return ((east - west) % 360 or 360) * (north - south)
