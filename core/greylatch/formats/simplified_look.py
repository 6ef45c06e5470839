"""Shapes of a file before and after they lose detail, as a picture shows them: a part where there is much of it."""

from pathlib import Path

import numpy as np
import shapely
from pydantic import BaseModel

from greylatch.errors import BadFile
from greylatch.formats.corrections import Corrections
from greylatch.formats.first_rows import MOST_CELL_ROWS, first_rows
from greylatch.places.simplifying import simplified
from greylatch.tables.dataset import Shapes

__all__ = ["SimplifiedLook", "simplified_look"]

PART = 5
"""The picture's side is the larger extent's fifth part."""

Lines = list[list[list[float]]]


class SimplifiedLook(BaseModel):
    """Vertices and bytes (as well-known binary) before and after; and lines of the part that is shown, both in shares of its side
    from its lower left corner. `whole` says whether all rows were looked at."""

    vertices_before: int
    vertices_after: int
    bytes_before: int
    bytes_after: int
    before: Lines
    after: Lines
    whole: bool


def simplified_look(path: str | Path, corrections: Corrections) -> SimplifiedLook:
    """What becomes of the shapes in a file that may move by `corrections.simplify` metres.

    Parameters
    ----------
    path : str | Path
        The file.
    corrections : Corrections
        What a person has corrected and chosen.

    Returns
    -------
    SimplifiedLook

    Raises
    ------
    BadInput
        For a file without lines or areas, and where nothing is to be lost.
    """
    data = first_rows(path, corrections)
    if data.shapes is None or data.crs is None or data.kind == "points":
        raise BadFile("There are no lines and no areas in this file that could be simplified.")
    after = simplified(data, corrections.simplify or 0.0).shapes
    assert after is not None
    box = _busiest(data.shapes)
    return SimplifiedLook(
        vertices_before=_vertices(data.shapes), vertices_after=_vertices(after), bytes_before=_bytes(data.shapes),
        bytes_after=_bytes(after), before=_lines(data.shapes, box), after=_lines(after, box), whole=len(data) < MOST_CELL_ROWS,
    )  # fmt: skip


def _busiest(shapes: Shapes) -> tuple[float, float, float, float]:
    """A square around the vertex in the middle of all of them."""
    xy = shapely.get_coordinates(shapes)
    west, south, east, north = shapely.total_bounds(shapes)
    side = max(east - west, north - south) / PART or 1.0
    middle = xy[np.argmin(np.abs(xy - np.median(xy, axis=0)).sum(axis=1))]
    x, y = middle - side / 2
    return float(x), float(y), float(x + side), float(y + side)


def _lines(shapes: Shapes, box: tuple[float, float, float, float]) -> Lines:
    clipped = shapely.clip_by_rect(shapely.boundary(shapes) if _are_areas(shapes) else shapes, *box)
    lines = [line for line in shapely.get_parts(clipped) if line.geom_type == "LineString" and not line.is_empty]
    side = box[2] - box[0]
    return [
        [[float(x), float(y)] for x, y in np.round((shapely.get_coordinates(line) - box[:2]) / side, 4)]
        for line in lines
    ]


def _are_areas(shapes: Shapes) -> bool:
    return bool(np.isin(shapely.get_type_id(shapes), (3, 6)).any())


def _vertices(shapes: Shapes) -> int:
    return int(shapely.get_num_coordinates(shapes).sum())


def _bytes(shapes: Shapes) -> int:
    return sum(len(each) for each in shapely.to_wkb(shapes) if each is not None)
