"""What reading a file of shapes gives: a dataset whose shapes are sound, of one kind and on the globe, and what was noticed."""

from dataclasses import dataclass, field

import numpy as np
import pyarrow as pa
import shapely
from numpy.typing import NDArray

from greylatch.errors import BadFile
from greylatch.formats.kinds import Choice
from greylatch.places.antimeridian import MOST_LONGITUDE, crosses_antimeridian, cut_at_antimeridian
from greylatch.places.coordinates import exchanged
from greylatch.places.mending import mended
from greylatch.places.side_by_side import are_valid
from greylatch.places.stated import in_degrees
from greylatch.tables.dataset import Dataset, Kind, Places, Shapes, System, is_places, kind_of, named_columns
from greylatch.tables.meaning import Meaning
from greylatch.wording import counted

__all__ = ["ReadResult", "read_result", "rows_of"]


@dataclass(frozen=True)
class ReadResult:
    """A dataset and what was noticed while reading it. `crs_reason` says where the CRS comes from."""

    dataset: Dataset
    crs_reason: str
    notes: list[str] = field(default_factory=list)


def read_result(
    columns: pa.Table, geometry: Shapes | Places, system: System | None, reason: str, known: list[str], choice: Choice
) -> ReadResult:  # fmt: skip
    """Columns and shapes as a dataset: broken areas repaired, what is of another kind left out, each with a note
    after those that are `known`. Single points may come as their places, of which no shape is made.

    Parameters
    ----------
    columns : pa.Table
        The columns as an Arrow table.
    geometry : Shapes | Places
        The shapes, or (n, 2) coordinates.
    system : System | None
        The reference system of the coordinates.
    reason : str
        Why that reference system is taken.
    known : list[str]
        Notes that come first.
    choice : Choice
        Whether x and y change places, and whether broken areas are repaired or only told of.

    Returns
    -------
    ReadResult

    Raises
    ------
    BadInput
        For no shape at all, and for coordinates that are no place.
    """
    notes = list(known)
    meanings: dict[str, Meaning] = {}
    if columns.num_columns == 0:  # a table without a column does not know how many rows it has
        columns = pa.table({"row": pa.array(range(1, len(geometry) + 1), pa.int64())})
        meanings["row"] = Meaning("identifier", reason="It numbers the rows one by one.")
    if is_places(geometry):
        places = _checked(geometry, system, choice.swapped)
        return ReadResult(Dataset(named_columns(columns), "points", places, system, meanings=meanings), reason, notes)
    shapes: Shapes = geometry
    absent = shapely.is_missing(shapes) | shapely.is_empty(shapes)
    if absent.all():
        raise BadFile("There is no shape in this file.", *known)
    if absent.any():
        shapes = np.where(absent, shapely.GeometryCollection(), shapes)
        notes.append(f"{counted(int(absent.sum()), 'row')} without a shape: {rows_of(absent)}.")
    xy, owner = shapely.get_coordinates(shapes, return_index=True)
    _refuse_without_a_place(xy, owner, len(shapes))
    if shapely.has_z(shapes).any() or shapely.has_m(shapes).any():
        shapes = shapely.force_2d(shapes)
    if choice.swapped:
        shapes = exchanged(shapes)
    kind = kind_of(shapes)
    shapes, mixed = _of_one_kind(shapes, kind)
    if mixed.any():
        notes.append(
            f"{counted(int(mixed.sum()), 'row')} with shapes of another kind than {kind}, left out: {rows_of(mixed)}."
        )
    if in_degrees(system):
        _check_degrees(shapely.bounds(shapes))
        if choice.mended:
            shapes = _cut_where_broken(shapes)
    broken = ~are_valid(shapes)
    if in_degrees(system) and not choice.mended:
        broken[broken] = ~crosses_antimeridian(shapes[broken])  # which look broken for that, and would have been cut
    if broken.any() and kind == "areas":
        notes.append(
            f"{counted(int(broken.sum()), 'area')} had rings that cross themselves, now repaired: {rows_of(broken)}."
        )
        if choice.mended:
            shapes = shapes.copy()
            shapes[broken] = mended(shapes[broken])
    return ReadResult(Dataset(named_columns(columns), kind, shapes, system, meanings=meanings), reason, notes)


def _cut_where_broken(shapes: Shapes) -> Shapes:
    """Those that cross the 180th meridian and look broken on paper for that, cut there: to repair them on paper would make
    areas round the world of them."""
    crossing = crosses_antimeridian(shapes)
    crossing[crossing] = ~shapely.is_valid(shapes[crossing])
    out = shapes.copy()
    out[crossing] = cut_at_antimeridian(shapes[crossing])
    return out


FARTHEST = 1e10
"""Units beyond which no coordinate of any system lies, be it in millimetres. Geometry of such edges takes for ever."""


def _checked(places: Places, system: System | None, swapped: bool) -> Places:
    """Single points that lie somewhere. Raises as `read_result` does."""
    _refuse_without_a_place(places, np.arange(len(places)), len(places))
    if swapped:
        places = places[:, ::-1]
    if in_degrees(system):
        _check_degrees(np.hstack([places, places]))
    return places


def _refuse_without_a_place(xy: Places, owner: NDArray[np.intp], rows: int) -> None:
    nowhere = np.zeros(rows, dtype=np.bool_)
    with np.errstate(invalid="ignore"):
        nowhere[owner[~(np.abs(xy) <= FARTHEST).all(axis=1)]] = True
    if nowhere.any():
        raise BadFile(
            f"{counted(int(nowhere.sum()), 'row')} with coordinates that are no place on earth: {rows_of(nowhere)}."
        )


def _check_degrees(boxes: NDArray[np.float64]) -> None:
    """Raise BadInput that names the first row that does not lie on the globe. Longitudes may be counted on, some turns round it."""
    west, south, east, north = boxes.T
    with np.errstate(invalid="ignore"):
        off = (
            (np.abs(west) > MOST_LONGITUDE)
            | (np.abs(east) > MOST_LONGITUDE)
            | (south < -90.000001)
            | (north > 90.000001)
        )
    if off.any():
        row = int(np.argmax(off))
        raise BadFile(
            f"Row {row + 1} reaches from ({west[row]:g}, {south[row]:g}) to ({east[row]:g}, {north[row]:g}), which is not longitude and latitude.",
            "Is the projection another one?",
        )


_KINDS = {"points": ("Point", (0, 4)), "lines": ("LineString", (1, 2, 5)), "areas": ("Polygon", (3, 6))}


def _of_one_kind(shapes: Shapes, kind: Kind) -> tuple[Shapes, NDArray[np.bool_]]:
    """The shapes that are of `kind`, of collections the parts that are; and which rows lost something."""
    part, types = _KINDS[kind]
    lost = ~np.isin(shapely.get_type_id(shapes), types) & ~shapely.is_empty(shapes)
    if not lost.any():
        return shapes, lost
    many = {"points": shapely.MultiPoint, "lines": shapely.MultiLineString, "areas": shapely.MultiPolygon}[kind]
    out = shapes.copy()
    for i in np.flatnonzero(lost):
        parts = _simple_parts(shapes[i])
        kept = [simple for simple in parts if simple.geom_type == part]
        lost[i] = len(kept) < len(parts)
        out[i] = many(kept) if kept else shapely.GeometryCollection()
    return out, lost


def _simple_parts(shape: shapely.Geometry) -> Shapes:
    """Points, lines and areas of which a collection is made, those in collections within it included."""
    parts = shapely.get_parts(shape)
    while (shapely.get_num_geometries(parts) != 1).any() or (shapely.get_type_id(parts) > 3).any():
        parts = shapely.get_parts(parts)
    return np.asarray(parts)


def rows_of(mask: NDArray[np.bool_]) -> str:
    """The rows that a mask marks, counted from 1, as words for a note."""
    rows = (np.flatnonzero(mask) + 1).tolist()
    return ("row " if len(rows) == 1 else "rows ") + ", ".join(map(str, rows[:8])) + (" …" if len(rows) > 8 else "")
