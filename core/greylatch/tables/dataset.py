"""What Grey Latch keeps of a file: columns, shapes, and where on earth they are."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import datetime, time
from functools import cached_property, lru_cache
from typing import TYPE_CHECKING, Any, Literal, TypeAlias, Union, cast

import numpy as np
import pyarrow as pa
import shapely
from numpy.typing import NDArray

from greylatch.errors import BadInput, printable
from greylatch.tables.meaning import Meaning, guess_meaning, without_marks

if TYPE_CHECKING:  # PROJ takes as long to load as a small file to read
    import pyproj
    from typing_extensions import TypeIs

__all__ = [
    "MAX_COLUMNS",
    "MAX_NAME",
    "Dataset",
    "Fids",
    "FieldInfo",
    "Kind",
    "Places",
    "Shapes",
    "System",
    "column_named",
    "field_type",
    "fields",
    "is_places",
    "kind_of",
    "missing_count",
    "named",
    "named_columns",
    "numbers",
    "text_of",
    "texts",
]

Kind = Literal["areas", "lines", "points", "table", "raster"]
Shapes = NDArray[np.object_]
Places = NDArray[np.float64]
"""Coordinates of single points, (n, 2)."""
Fids = NDArray[np.int64]
System: TypeAlias = Union["pyproj.CRS", Literal["EPSG:4326"]]
"""A reference system. Longitude and latitude on WGS 84, in which most files are, may stand as their code alone: nothing need be
loaded to know them."""
MAX_COLUMNS = 4_096
WRITTEN_OUT = 1e16
"""Numbers below this are written without a power of ten: beyond, a float has no units."""
MAX_NAME = 200
"""Characters of a field's name."""


def is_places(geometry: Shapes | Places) -> "TypeIs[Places]":
    """Whether these are the coordinates of single points, and no shapes.

    >>> is_places(np.array([[2.0, 3.0]])), is_places(shapely.points([[2.0, 3.0]]))
    (True, False)
    """
    return geometry.ndim == 2


@dataclass(frozen=True)
class Dataset:
    """Rows with columns (an Arrow table) and, unless it is a bare table, one shape per row in `system`: the shapes themselves, or
    what makes them, which is asked once and only when somebody wants `shapes`; or of single points their coordinates, (n, 2). To draw
    what was projected before takes none.

    Rows are in the order of `fids`, their feature ids: integers that are given once and never again, whatever becomes of
    other rows. Where none are given they count from 0. `meanings` says what fields mean, where somebody said so. Shapes keep the coordinates of the source.
    Conditions about the rows may name the shapes of `others`.
    """

    columns: pa.Table
    kind: Kind
    geometry: Shapes | Places | Callable[[], Shapes] | None = None
    system: System | None = None
    fids: Fids = None  # type: ignore[assignment]
    meanings: Mapping[str, Meaning] = field(default_factory=dict)
    others: Mapping[str, "Dataset"] = field(default_factory=dict, compare=False, repr=False)

    def __post_init__(self) -> None:
        if self.fids is None:
            object.__setattr__(self, "fids", np.arange(self.columns.num_rows, dtype=np.int64))

    def __len__(self) -> int:
        return int(self.columns.num_rows)

    @cached_property
    def shapes(self) -> Shapes | None:
        """One shape per row; None for a bare table.

        >>> Dataset(pa.table({"a": [1]}), "points", lambda: shapely.points([[2, 3]])).shapes
        array([<POINT (2 3)>], dtype=object)
        """
        if callable(self.geometry):
            return self.geometry()
        if self.places is not None:
            return np.asarray(shapely.points(self.places), dtype=object)
        return cast("Shapes | None", self.geometry)

    @property
    def crs(self) -> "pyproj.CRS | None":
        """The reference system as PROJ has it; None where it is not known, and for a bare table.

        >>> Dataset(pa.table({"a": [1]}), "points", np.array([[2.0, 3.0]]), "EPSG:4326").crs.name
        'WGS 84'
        """
        return _lonlat() if isinstance(self.system, str) else self.system

    @property
    def places(self) -> Places | None:
        """(n, 2) coordinates of single points, where they are known without any shapes.

        >>> Dataset(pa.table({"a": [1]}), "points", np.array([[2.0, 3.0]])).shapes
        array([<POINT (2 3)>], dtype=object)
        """
        known = isinstance(self.geometry, np.ndarray) and is_places(self.geometry)
        return np.asarray(self.geometry, dtype=np.float64) if known else None

    def with_columns(self, columns: pa.Table) -> "Dataset":
        """The same shapes with other columns of the same length."""
        return replace(self, columns=columns)

    def taking(self, rows: NDArray[np.bool_]) -> "Dataset":
        """Only the rows that are marked, under the fids that they have.

        >>> Dataset(pa.table({"a": [1, 2, 3]}), "table").taking(np.array([True, False, True])).fids.tolist()
        [0, 2]
        """
        return replace(
            self, columns=self.columns.filter(pa.array(rows)), geometry=None if self.geometry is None else lambda: self._shapes_at(rows),
            fids=self.fids[rows],
        )  # fmt: skip

    def _shapes_at(self, rows: NDArray[np.bool_]) -> Shapes:
        assert self.shapes is not None
        return np.asarray(self.shapes[rows])

    def meaning(self, name: str) -> Meaning:
        """What a field means, as it is known or else as it is guessed.

        Raises
        ------
        BadInput
            For a field that is not there.
        """
        column = column_named(self.columns, name)
        return self.meanings.get(name) or guess_meaning(name, column)

    def described(self) -> "Dataset":
        """The same with what every field means, guessed where nobody said so, and nothing where a value stands for "missing".

        >>> Dataset(pa.table({"depth_cm": [12, -9999]}), "table").described().columns["depth_cm"].to_pylist()
        [12, None]
        """
        meanings = {name: self.meaning(name) for name in self.columns.column_names}
        columns = [without_marks(self.columns[name], meaning.missing) for name, meaning in meanings.items()]
        return replace(self, columns=pa.table(columns, names=list(meanings)), meanings=meanings)

    def row_of(self, fid: int) -> int:
        """At which row the feature stands.

        Raises
        ------
        BadInput
            For one that is not there.

        Examples
        --------
        >>> Dataset(pa.table({"a": [1, 2]}), "table", fids=np.array([3, 7])).row_of(7)
        1
        """
        row = int(np.searchsorted(self.fids, fid))
        if row == len(self.fids) or self.fids[row] != fid:
            raise BadInput(f"There is no feature {fid}.")
        return row

    def record(self, fid: int) -> dict[str, Any]:
        """The values of one feature by field.

        Raises
        ------
        BadInput
            For one that is not there.
        """
        values: dict[str, Any] = self.columns.slice(self.row_of(fid), 1).to_pylist()[0]
        return values

    def shown(self, fid: int) -> dict[str, Any]:
        """The values of one feature as readers see them: numbers with the decimals that their fields have."""
        decimals = {name: meaning.decimals for name, meaning in self.meanings.items() if meaning.decimals is not None}
        return {
            name: round(value, decimals[name]) if name in decimals and isinstance(value, float) else value
            for name, value in self.record(fid).items()
        }


@lru_cache(maxsize=1)
def _lonlat() -> "pyproj.CRS":
    import pyproj

    return pyproj.CRS.from_epsg(4326)


@dataclass(frozen=True)
class FieldInfo:
    """A field as people see it."""

    name: str
    type: Literal["text", "integer", "number", "date", "boolean"]
    missing: int


def named(names: Sequence[str]) -> list[str]:
    """Names for columns: trimmed, of characters that can be kept, no longer than `MAX_NAME`, never empty, twins
    numbered.

    Raises
    ------
    BadInput
        For more than `MAX_COLUMNS`.

    Examples
    --------
    >>> named([" a", "", "a", "a"])
    ['a', 'column_2', 'a_2', 'a_3']
    """
    if len(names) > MAX_COLUMNS:
        raise BadInput(f"There are {len(names):,} columns; at most {MAX_COLUMNS:,} are read.", "Leave some out.")
    out: list[str] = []
    taken: set[str] = set()
    last: dict[str, int] = {}
    for i, name in enumerate(names):
        wanted = printable(name).strip().lstrip("\ufeff")[:MAX_NAME] or f"column_{i + 1}"
        free, n = wanted, last.get(wanted, 1)
        while free in taken:
            n += 1
            free = f"{wanted}_{n}"
        last[wanted] = n
        taken.add(free)
        out.append(free)
    return out


def named_columns(columns: pa.Table) -> pa.Table:
    """The same columns under names that can be kept.

    Raises
    ------
    BadInput
        For too many.
    """
    return columns.rename_columns(named(columns.column_names))


def fields(columns: pa.Table) -> list[FieldInfo]:
    """Name, type and number of missing values of every column."""
    return [
        FieldInfo(name, field_type(columns.schema.field(name).type), missing_count(columns[name]))
        for name in columns.column_names
    ]


def field_type(arrow: pa.DataType) -> Literal["text", "integer", "number", "date", "boolean"]:
    """The word that people see for an Arrow type."""
    if pa.types.is_boolean(arrow):
        return "boolean"
    if pa.types.is_integer(arrow):
        return "integer"
    if pa.types.is_floating(arrow) or pa.types.is_decimal(arrow):
        return "number"
    if pa.types.is_temporal(arrow):
        return "date"
    return "text"


def missing_count(column: pa.ChunkedArray) -> int:
    """Nulls, and for floating point NaN and infinities too."""
    if pa.types.is_floating(column.type):
        return int(np.count_nonzero(~np.isfinite(column.to_numpy())))
    return int(column.null_count)


def numbers(columns: pa.Table, field: str) -> NDArray[np.float64]:
    """The field as float64 with NaN where a value is missing, whole numbers beyond 2^53 as near as that has them.

    Parameters
    ----------
    columns : pa.Table
        The columns as an Arrow table.
    field : str
        The name of the field.

    Returns
    -------
    NDArray[np.float64]

    Raises
    ------
    BadInput
        For a field that is absent or not numeric.

    Examples
    --------
    >>> numbers(pa.table({"a": [1, None]}), "a").tolist()
    [1.0, nan]
    """
    column = column_named(columns, field)
    if field_type(column.type) not in ("integer", "number"):
        raise BadInput(
            f"The field '{field}' holds {field_type(column.type)}, not numbers.", "Choose a field of numbers."
        )
    return column.cast(pa.float64(), safe=False).to_numpy().astype(np.float64, copy=False)


def column_named(columns: pa.Table, field: str) -> pa.ChunkedArray:
    """The column called `field`.

    Parameters
    ----------
    columns : pa.Table
        The columns as an Arrow table.
    field : str
        The name of the field.

    Returns
    -------
    pa.ChunkedArray

    Raises
    ------
    BadInput
        That lists the fields there are.
    """
    if field not in columns.column_names:
        there = ", ".join(f"'{name}'" for name in columns.column_names[:12]) or "none"
        raise BadInput(f"There is no field '{field}'.", f"The fields are: {there}.")
    return columns[field]


def texts(columns: pa.Table, field: str, decimals: int | None = None) -> list[str]:
    """The field as text for people: empty where missing, numbers with `decimals` where given and a thin thousands space not added.

    Parameters
    ----------
    columns : pa.Table
        The columns as an Arrow table.
    field : str
        The name of the field.
    decimals : int | None
        Decimals that are shown; None shows them as they come.

    Returns
    -------
    list[str]
    """
    return [text_of(value, decimals) for value in column_named(columns, field).to_pylist()]


def text_of(value: Any, decimals: int | None = None) -> str:
    """One value as text: '' for a missing one; a float without needless decimals; a day without the hour that nobody wrote.

    Parameters
    ----------
    value : Any
        The value.
    decimals : int | None
        Decimals that are shown; None shows them as they come.

    Returns
    -------
    str

    Examples
    --------
    >>> text_of(12.0), text_of(None), text_of(3.14159, 2), text_of(datetime(2026, 5, 2)), text_of(2.4805457e11)
    ('12', '', '3.14', '2026-05-02', '248054570000')
    """
    if value is None or (isinstance(value, float) and not np.isfinite(value)):
        return ""
    if isinstance(value, (int, float)) and not isinstance(value, bool) and decimals is not None:
        return f"{value:.{decimals}f}"
    if isinstance(value, float):
        short = f"{value:.10g}"
        return f"{value:.0f}" if "e" in short and 1 <= abs(value) < WRITTEN_OUT else short
    if isinstance(value, datetime) and value.time() == time.min and value.tzinfo is None:
        return value.date().isoformat()
    return str(value)


def kind_of(shapes: Shapes) -> Kind:
    """Areas, lines or points: what most of the shapes are, those in collections included.

    Raises
    ------
    BadInput
        Where there is none at all.
    """
    types = shapely.get_type_id(shapes)
    while (types == 7).any():
        shapes = np.concatenate([shapes[types != 7], shapely.get_parts(shapes[types == 7])])
        types = shapely.get_type_id(shapes)
    counts = {
        "areas": int(np.isin(types, (3, 6)).sum()),
        "lines": int(np.isin(types, (1, 2, 5)).sum()),
        "points": int(np.isin(types, (0, 4)).sum()),
    }
    best = max(counts, key=lambda kind: counts[kind])
    if counts[best] == 0:
        raise BadInput("There is no shape in this file.")
    return best  # type: ignore[return-value]
