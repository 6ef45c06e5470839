"""Rows of a table at the places that their names mean: looked up in a gazetteer, and decided by hand where that was not enough."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np
import pyarrow as pa
import shapely
from numpy.typing import NDArray

from greylatch.errors import BadInput
from greylatch.places.crs import LONLAT, to_lonlat
from greylatch.places.locating import Gazetteer, Located
from greylatch.places.measures import GEOD
from greylatch.tables.dataset import Dataset, texts

__all__ = ["STATUSES", "Decision", "Named", "kilometres_from", "located_names", "middles", "named_rows", "placed_rows"]

NOWHERE = shapely.Point()
STATUSES = ("exact", "approximate", "ambiguous", "not found")


@dataclass(frozen=True)
class Named:
    """What a row is called, and the region in which it is said to lie; '' for any."""

    name: str
    region: str = ""


@dataclass(frozen=True)
class Decision:
    """What was decided of a name by hand: the row of the gazetteer that it means, or a place (degrees), or neither: it is left out."""

    place: int | None = None
    at: tuple[float, float] | None = None


def named_rows(table: Dataset, name: str, region: str = "", fixed: str = "") -> list[Named]:
    """The names in a table with their regions.

    Parameters
    ----------
    table : Dataset
        The table.
    name : str
        The field of names.
    region : str
        The field of regions; '' for none.
    fixed : str
        The one region of all rows, where there is no field of them.

    Returns
    -------
    list[Named]

    Raises
    ------
    BadInput
        For a field that is not there.

    Examples
    --------
    >>> named_rows(Dataset(pa.table({"hut": ["Skara"]}), "table"), "hut", fixed="Hallan")
    [Named(name='Skara', region='Hallan')]
    """
    names = texts(table.columns, name)
    regions = texts(table.columns, region) if region else [fixed] * len(names)
    return [Named(*pair) for pair in zip(names, regions, strict=True)]


def located_names(names: Sequence[Named], gazetteer: Gazetteer) -> dict[Named, Located]:
    """Each different name looked up once.

    Parameters
    ----------
    names : Sequence[Named]
        The names.
    gazetteer : Gazetteer
        Where they are looked up.

    Returns
    -------
    dict[Named, Located]
    """
    return {named: gazetteer.locate(named.name, named.region) for named in dict.fromkeys(names)}


def middles(places: Dataset) -> NDArray[np.object_]:
    """A point on each shape of a gazetteer, in degrees.

    Raises
    ------
    BadInput
        For data without shapes.
    """
    if places.shapes is None or places.crs is None:
        raise BadInput("The gazetteer does not say where its places lie.", "Choose data with shapes.")
    return np.asarray(to_lonlat(shapely.point_on_surface(places.shapes), places.crs))


def kilometres_from(middle: tuple[float, float], points: NDArray[np.object_]) -> NDArray[np.float64]:
    """How far points lie from a place, along the ellipsoid of WGS 84.

    Parameters
    ----------
    middle : tuple[float, float]
        Longitude and latitude.
    points : NDArray[np.object_]
        Points in degrees.

    Returns
    -------
    NDArray[np.float64]

    Examples
    --------
    >>> kilometres_from((0, 0), np.array([shapely.Point(0, 1)])).round(1).tolist()
    [110.6]
    """
    lon, lat = shapely.get_x(points), shapely.get_y(points)
    *_, metres = GEOD.inv(np.full(len(points), middle[0]), np.full(len(points), middle[1]), lon, lat)
    return np.asarray(metres) / 1000


def placed_rows(
    table: Dataset, names: Sequence[Named], located: Mapping[Named, Located], points: NDArray[np.object_],
    decided: Mapping[Named, Decision] | None = None,
) -> Dataset:  # fmt: skip
    """The rows as points, under the fids that they have: at the places that were found surely or decided by hand; the others lie nowhere, and say so
    in a field `found`.

    Parameters
    ----------
    table : Dataset
        The table.
    names : Sequence[Named]
        What each row is called.
    located : Mapping[Named, Located]
        What came of looking each name up.
    points : NDArray[np.object_]
        The places of the gazetteer, in degrees.
    decided : Mapping[Named, Decision] | None
        What was decided by hand.

    Returns
    -------
    Dataset
    """
    by_hand = decided or {}
    shapes: list[shapely.Point] = []
    located_as: list[str | None] = []
    likeness: list[float | None] = []
    how: list[str] = []
    for named in names:
        decision, looked_up = by_hand.get(named), located[named]
        if decision is not None:
            place = decision.place
            shapes.append(shapely.Point(decision.at) if decision.at else NOWHERE if place is None else points[place])
            located_as.append(_name_of(looked_up, place))
            likeness.append(None)
            how.append("by hand" if decision.at or place is not None else "left out")
            continue
        place = looked_up.place
        shapes.append(NOWHERE if place is None else points[place])
        located_as.append(_name_of(looked_up, place))
        likeness.append(None if place is None else looked_up.candidates[0].likeness)
        how.append(looked_up.status)
    columns = table.columns
    for name, values, arrow in (
        ("located_as", located_as, pa.string()), ("likeness", likeness, pa.float64()), ("found", how, pa.string()),
    ):  # fmt: skip
        if name not in columns.column_names:
            columns = columns.append_column(name, pa.array(values, arrow))
    return replace(table, columns=columns, kind="points", geometry=np.array(shapes, dtype=object), system=LONLAT)


def _name_of(located: Located, place: int | None) -> str | None:
    return next((each.name for each in located.candidates if each.place == place), None)
