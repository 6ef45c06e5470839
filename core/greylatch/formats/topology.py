"""Reading TopoJSON (its specification, version 1.0.0 of 2013): shapes whose lines are kept once, also where several run along them."""

from collections.abc import Sequence
from functools import lru_cache
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from greylatch.errors import BadFile
from greylatch.formats.arcs import parsed_apart, read_arcs, read_grid
from greylatch.formats.geojson import MAX_GEOJSON, features_as_table, json_of, stated_crs
from greylatch.formats.kinds import Choice, LayerInfo, chosen_layer
from greylatch.formats.read_by_gdal import HEAD_ROWS, placed_result
from greylatch.formats.result import ReadResult, rows_of
from greylatch.wording import counted

__all__ = ["layers", "read"]

Line = NDArray[np.float64]
NO_LINE = np.empty((0, 2))
KINDS = {
    "Point": "points", "MultiPoint": "points", "LineString": "lines", "MultiLineString": "lines", "Polygon": "areas", "MultiPolygon": "areas",
}  # fmt: skip
LINE, RING = 2, 4
"""How many places they have at least."""


def layers(path: str | Path) -> list[LayerInfo]:
    """The objects of a topology.

    Parameters
    ----------
    path : str | Path
        The file.

    Returns
    -------
    list[LayerInfo]

    Raises
    ------
    BadFile
        For what cannot be read.
    """
    out = []
    for name, entry in _objects(path).items():
        rows = _rows(name, entry)
        kinds = {KINDS.get(row["type"] or "", "shapes") for row in rows if row["type"] is not None}
        kind = "table" if not kinds else kinds.pop() if len(kinds) == 1 else "shapes"
        out.append(LayerInfo(name, kind, len(rows)))
    return out


def read(path: str | Path, choice: Choice) -> ReadResult:
    """An object of a topology: of a collection each geometry is a row.

    Parameters
    ----------
    path : str | Path
        The file.
    choice : Choice
        What a person chose of it.

    Returns
    -------
    ReadResult

    Raises
    ------
    BadFile
        For what cannot be read; it names the shape. Unless `choice.placed` is false also where nothing says in which system it is.
    """
    layer, notes = chosen_layer(layers(path), choice)
    document = _document(path)
    rows = _rows(layer.name, document["objects"][layer.name])
    if choice.head and len(rows) > HEAD_ROWS:
        notes.append(f"Seen by its first {HEAD_ROWS:,} rows of {len(rows):,}.")
        rows = rows[:HEAD_ROWS]
    unravelled = Unravelled(document)
    features: list[dict[str, Any]] = []
    lost = np.zeros(len(rows), dtype=np.bool_)
    for i, row in enumerate(rows):
        unravelled.left_out = 0
        try:
            shape = unravelled.shape(row)
        except (TypeError, ValueError, LookupError, OverflowError, RecursionError) as error:
            raise BadFile(f"Shape {i + 1} of '{layer.name}' is not TopoJSON: {str(error)[:120]}.") from error
        lost[i] = unravelled.left_out
        features.append(
            {"type": "Feature", "properties": row.get("properties"), "geometry": shape}
            | ({"id": row["id"]} if "id" in row else {})
        )
    if lost.any():
        notes.append(
            f"{counted(int(lost.sum()), 'shape')} had rings of fewer than {RING} places or lines of one, now left out: {rows_of(lost)}."
        )
    columns, shapes = features_as_table(features, notes)
    return placed_result(columns, shapes, choice, notes, stated_crs(document.get("crs")))


class Unravelled:
    """The lines of a topology, out of which its shapes are put together.

    Parameters
    ----------
    document : dict[str, Any]
        The topology.
    """

    def __init__(self, document: dict[str, Any]) -> None:
        self.grid = read_grid(document.get("transform"))
        self.arcs = read_arcs(document.get("arcs", []), self.grid)
        self.left_out = 0
        """How many rings and lines were left out that are too short to be any."""

    def shape(self, row: dict[str, Any]) -> dict[str, Any] | None:
        """A geometry as GeoJSON has it, the places of a line as an array; None where nothing is left of it."""
        kind = row["type"]
        if kind is None:
            return None
        if kind == "GeometryCollection":
            inner = [shape for each in row["geometries"] if (shape := self.shape(each))]
            return {"type": kind, "geometries": inner} if inner else None
        if kind in ("Point", "MultiPoint"):
            places = row["coordinates"]
            return {
                "type": kind,
                "coordinates": self._place(places) if kind == "Point" else list(map(self._place, places)),
            }
        if kind not in KINDS:
            raise ValueError(f"there is no type {str(kind)[:40]}")
        arcs = row["arcs"]
        coordinates: Any
        if kind == "LineString":
            coordinates = self._line(arcs, LINE)
        elif kind == "MultiLineString":
            coordinates = self._lines(arcs, LINE)
        elif kind == "Polygon":
            coordinates = self._rings(arcs)
        else:
            coordinates = [rings for each in arcs if (rings := self._rings(each))]
        return None if coordinates is None or not len(coordinates) else {"type": kind, "coordinates": coordinates}

    def _rings(self, rings: list[list[int]]) -> list[Line] | None:
        """Those of an area; without its outline there is none."""
        outline, *holes = rings
        ring = self._line(outline, RING)
        return None if ring is None else [ring, *self._lines(holes, RING)]

    def _lines(self, lines: list[list[int]], least: int) -> list[Line]:
        return [line for each in lines if (line := self._line(each, least)) is not None]

    def _line(self, indices: list[int], least: int) -> Line | None:
        """One after the other, of which each begins where the one before ended; one with ~i is the arc i from its end (section 2.1.4)."""
        arcs = [arc for i in indices if len(arc := self.arcs[i] if i >= 0 else self.arcs[~i][::-1])]
        line = np.concatenate([*arcs[:1], *(arc[1:] for arc in arcs[1:])]) if arcs else NO_LINE
        if len(line) < least:
            self.left_out += 1
            return None
        return line

    def _place(self, place: Sequence[float]) -> list[float]:
        if self.grid is None:
            return list(place)
        return [float(place[axis] * self.grid.scale[axis] + self.grid.translate[axis]) for axis in (0, 1)]


def _rows(name: str, entry: Any) -> list[dict[str, Any]]:
    """The geometries of an object. Raises BadFile for what is none."""
    rows = entry.get("geometries") if isinstance(entry, dict) and entry.get("type") == "GeometryCollection" else [entry]
    if not isinstance(rows, list) or not all(
        isinstance(row, dict) and isinstance(row.get("type", 0), str | None) for row in rows
    ):
        raise BadFile(f"The object '{name[:80]}' of the topology is neither a geometry nor a collection of some.")
    return rows


def _objects(path: str | Path) -> dict[str, Any]:
    objects = _document(path).get("objects")
    if not isinstance(objects, dict):
        raise BadFile("The TopoJSON holds no objects.")
    return objects


def _document(path: str | Path) -> dict[str, Any]:
    state = Path(path).stat()
    if state.st_size > MAX_GEOJSON:
        raise BadFile("The TopoJSON is larger than 1 GB.")
    return _parsed(str(path), state.st_mtime_ns, state.st_size)


@lru_cache(maxsize=1)
def _parsed(path: str, changed: int, size: int) -> dict[str, Any]:
    """Remembered for a state of a file: it is asked for its layers first."""
    document = parsed_apart(Path(path).read_bytes()) or json_of(path, "TopoJSON")
    if not isinstance(document, dict) or document.get("type") != "Topology":
        raise BadFile("This JSON is not TopoJSON: its type is not Topology.")
    return document
