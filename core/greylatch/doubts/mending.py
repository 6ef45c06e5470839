"""What can be done about doubts at one press, each as changes to the table that can be undone there."""

from collections.abc import Mapping, Sequence

import numpy as np
import shapely
from numpy.typing import NDArray

from greylatch.doubts.doubt import Mending
from greylatch.places.coordinates import CoordinateColumns, exchanged
from greylatch.places.crs import LONLAT, reproject
from greylatch.tables.dataset import Dataset, numbers
from greylatch.tables.edit import (
    MAX_EDITS,
    AddField,
    ClearPlaces,
    DeleteRows,
    DescribeField,
    Edit,
    MovePoint,
    RetypeField,
    SetCells,
)
from greylatch.tables.fieldtypes import FieldType

__all__ = [
    "added_field",
    "as_missing",
    "cleared",
    "exchanged_places",
    "placed_by",
    "placeless",
    "retyped",
    "reworded",
    "without_rows",
]


def retyped(field: str, type: FieldType, words: str, unit: str = "") -> Mending:
    """The field is read as another type."""
    return Mending(words, lambda data, rows: [RetypeField(name=field, type=type, unit=unit)])


def added_field(name: str, words: str) -> Mending:
    """A field of texts for what is not said yet."""
    return Mending(words, lambda data, rows: [AddField(name=name, type="text")])


def as_missing(field: str, marks: Sequence[float | str], words: str) -> Mending:
    """Values stand for "missing" from now on; they stay in their cells."""

    def edits(data: Dataset, rows: Sequence[int]) -> list[Edit]:
        known = data.meaning(field)
        missing = list(dict.fromkeys([*known.missing, *marks]))
        return [DescribeField(name=field, kind=known.kind, unit=known.unit, decimals=known.decimals, missing=missing)]

    return Mending(words, edits)


def cleared(field: str, words: str = "Empty these cells") -> Mending:
    """The cells in doubt become empty."""
    return Mending(words, lambda data, rows: [SetCells(field=field, fids=part, value=None) for part in _parts(rows)])


def reworded(field: str, meant: Mapping[str, str], words: str) -> Mending:
    """Cells get the words that are meant."""

    def edits(data: Dataset, rows: Sequence[int]) -> list[Edit]:
        values = data.columns[field].to_pylist()
        wanted = set(rows)
        out: list[Edit] = []
        for slip, usual in meant.items():
            fids = [
                fid for fid, value in zip(data.fids.tolist(), values, strict=True) if value == slip and fid in wanted
            ]
            out += [SetCells(field=field, fids=part, value=usual) for part in _parts(fids)]
        return out

    return Mending(words, edits)


def without_rows(words: str) -> Mending:
    """The rows in doubt are taken out."""
    return Mending(words, lambda data, rows: [DeleteRows(fids=part) for part in _parts(rows)])


def placeless(words: str = "They lie nowhere") -> Mending:
    """The rows in doubt lie nowhere; their values stay."""
    return Mending(words, lambda data, rows: [ClearPlaces(fids=part) for part in _parts(rows)])


def exchanged_places(words: str = "Exchange their coordinates") -> Mending:
    """Points in doubt get x for y and y for x."""

    def edits(data: Dataset, rows: Sequence[int]) -> list[Edit]:
        assert data.shapes is not None and data.crs is not None
        asked = np.isin(data.fids, rows)
        return _moved(data.fids[asked], reproject(exchanged(data.shapes[asked]), data.crs, LONLAT))

    return Mending(words, edits)


def placed_by(at: CoordinateColumns, words: str = "Put them where these say") -> Mending:
    """Points in doubt lie where two fields say, in the coordinates of the dataset."""

    def edits(data: Dataset, rows: Sequence[int]) -> list[Edit]:
        assert data.crs is not None
        asked = np.isin(data.fids, rows)
        points = shapely.points(numbers(data.columns, at.x)[asked], numbers(data.columns, at.y)[asked])
        return _moved(data.fids[asked], reproject(points, data.crs, LONLAT))

    return Mending(words, edits)


def _moved(fids: NDArray[np.int64], points: NDArray[np.object_]) -> list[Edit]:
    lonlat = shapely.get_coordinates(points).tolist()
    # Longitudes may be counted from 0 to 360.
    return [
        MovePoint(fid=fid, place=(x - 360 if x > 180 else x, y))
        for fid, (x, y) in zip(fids.tolist(), lonlat, strict=True)
    ]


def _parts(rows: Sequence[int]) -> list[list[int]]:
    return [list(rows[i : i + MAX_EDITS]) for i in range(0, len(rows), MAX_EDITS)]
