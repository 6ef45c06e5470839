"""Data made ready for drawing in a frame: shapes in the map's projection with an index, remembered between pictures."""

from collections import OrderedDict
from collections.abc import Callable, Mapping
from copy import copy
from dataclasses import replace
from functools import cached_property
from pathlib import Path

import numpy as np
import shapely
import skia
from numpy.typing import NDArray

from greylatch.errors import CannotDraw
from greylatch.lettering.anchors import anchors_of
from greylatch.paint.outlines import outlines_of
from greylatch.places.bounds import Bounds
from greylatch.places.crs import LONLAT, transformer_between
from greylatch.places.distortion import areal_scale
from greylatch.places.frame import MERCATOR, Frame
from greylatch.rasters.contours import contour_lines
from greylatch.rasters.info import RasterInfo, open_raster, raster_bounds, raster_info, raster_resolution
from greylatch.readings.contours import Contours
from greylatch.readings.reading import Reading
from greylatch.rules.evaluating import taken
from greylatch.tables.dataset import Dataset, Fids, Shapes

__all__ = ["Find", "RasterSource", "Source", "VectorSource"]

FILTERS = 4
"""Of how many conditions a source keeps the rows that they take."""
PATH_LEVELS = 4
"""For how many resolutions a source keeps its outlines."""
WIDE = 0.25
"""From which part of its points' width a window is looked through point by point, not through their index."""


class VectorSource:
    """A dataset with shapes, in a frame. Everything costly is made once, when first asked for."""

    def __init__(
        self, dataset: Dataset, frame: Frame = MERCATOR, placed: Shapes | None = None,
        points: NDArray[np.float64] | None = None,
    ) -> None:  # fmt: skip
        """`placed` are the dataset's shapes as they lie in the frame, where somebody kept them, `points` their places where each is a
        single point: of a million points no shape is made then to draw them."""
        if dataset.geometry is None or dataset.crs is None:
            raise CannotDraw("This dataset has no shapes to draw.", "Join it to areas or points first.")
        self.dataset, self.frame = dataset, frame
        if placed is not None:
            self.__dict__["shapes"] = placed
        if points is not None:
            self.__dict__["points"] = points
        self.first_levels: dict[int, int] = {}
        """What others have worked out from the shapes, remembered with them."""
        self._taking: OrderedDict[str, VectorSource] = OrderedDict()
        self.remembered: dict[str, float] = {}
        """Numbers that were worked out of all of it, by name."""
        self._outlines: OrderedDict[float, list[skia.Path | None]] = OrderedDict()

    def described_by(self, dataset: Dataset) -> "VectorSource":
        """The same shapes with what `dataset` says of them; nothing of where they lie is made anew."""
        other = copy(self)
        other.dataset = dataset
        other._taking = OrderedDict()
        other.remembered = {}
        return other

    def comparing(self, others: Mapping[str, Dataset]) -> "VectorSource":
        """The same with other datasets whose shapes its conditions may name. The last few are remembered."""
        known = self.dataset.others
        if len(others) == len(known) and all(known.get(name) is other for name, other in others.items()):
            return self
        name = repr(sorted((name, id(other)) for name, other in others.items()))
        if name not in self._taking:
            # They live as long as they are remembered here: no other dataset comes to have their id.
            self._keep(name, self.described_by(replace(self.dataset, others=others)))
        return self._taking[name]

    def _keep(self, name: str, source: "VectorSource") -> None:
        self._taking[name] = source
        while len(self._taking) > FILTERS:
            self._taking.popitem(last=False)

    def taking(self, condition: str) -> "VectorSource":
        """The rows that a condition takes, in the same places; all of them for none. The last few are remembered.

        Raises
        ------
        BadExpression
            For a condition with a mistake.
        """
        if not condition.strip():
            return self
        if condition not in self._taking:
            rows = taken(self.dataset, condition)
            points = None if self.points is None else self.points[rows]
            placed = self.shapes[rows] if points is None else None
            self._keep(condition, VectorSource(self.dataset.taking(rows), self.frame, placed, points))
        return self._taking[condition]

    def read(self, reading: Reading | None) -> "VectorSource":
        """What a reading makes of the rows, in the same frame; they themselves for none. The last few are remembered.

        Raises
        ------
        BadInput
            As the reading does.
        """
        if reading is None:
            return self
        name = reading.model_dump_json()
        if name not in self._taking:
            self._keep(name, VectorSource(reading.derived(self.dataset).described(), self.frame))
        return self._taking[name]

    def moved(self, dataset: Dataset, fids: Fids, shapes: Shapes) -> "VectorSource":
        """A source of a later state of the dataset, in which only the features `fids`, in rising order, lie elsewhere: `shapes` are
        theirs there. Only these are projected."""
        if not self.__dict__.keys() & {"shapes", "points"}:
            return VectorSource(dataset, self.frame)
        assert dataset.crs is not None
        here = np.isin(dataset.fids, fids)
        before = np.searchsorted(self.dataset.fids, dataset.fids[~here])
        there = self.frame.project(shapes, dataset.crs)[np.searchsorted(fids, dataset.fids[here])]
        places = _single_points(there)
        if self.points is not None and places is not None:
            points = np.empty((len(dataset), 2))
            points[~here], points[here] = self.points[before], places
            return VectorSource(dataset, self.frame, points=points)
        placed = np.empty(len(dataset), dtype=object)
        placed[~here], placed[here] = self.shapes[before], there
        return VectorSource(dataset, self.frame, placed)

    @cached_property
    def shapes(self) -> Shapes:
        """The shapes as they lie in the frame, cut at its limits; empty where they lie beyond."""
        if "points" in self.__dict__ and self.points is not None:
            return np.asarray(shapely.points(self.points))
        assert self.dataset.shapes is not None and self.dataset.crs is not None
        return self.frame.project(self.dataset.shapes, self.dataset.crs)

    @cached_property
    def points(self) -> NDArray[np.float64] | None:
        """(n, 2) places in the frame, where every shape is a single point."""
        if "shapes" not in self.__dict__ and self.dataset.places is not None and self.dataset.crs is not None:
            placed = self.frame.project_places(self.dataset.places, self.dataset.crs)
            if placed is not None:
                return placed
        return _single_points(self.shapes)

    @cached_property
    def bounds(self) -> Bounds:
        """The box around all of it, in the frame."""
        if self.points is not None and len(self.points):
            (west, south), (east, north) = self.points.min(axis=0), self.points.max(axis=0)
        else:
            west, south, east, north = shapely.total_bounds(self.shapes)
        return float(west), float(south), float(east), float(north)

    @cached_property
    def tree(self) -> shapely.STRtree:
        """An index of the shapes' boxes."""
        return shapely.STRtree(self.shapes)

    @cached_property
    def anchors(self) -> NDArray[np.float64]:
        """Where labels go, (n, 2) in the frame; NaN for shapes that lie beyond it."""
        return anchors_of(self.dataset.kind, self.shapes) if self.points is None else self.points

    @cached_property
    def per_metre(self) -> NDArray[np.float64]:
        """Units of the frame to a metre on the ground where each shape lies, true to area; those of the projection's true lines where
        that is nowhere."""
        x, y = self.anchors.T
        lonlat = np.column_stack(transformer_between(self.frame.crs, LONLAT).transform(x, y, errcheck=False))
        scales = np.sqrt(areal_scale(self.frame, lonlat))
        return self.frame.unit * np.where(np.isfinite(scales), scales, 1.0)

    @cached_property
    def detail(self) -> float:
        """Typical distance between neighbouring vertices in units of the frame; infinite for points."""
        if self.dataset.kind == "points":
            return float("inf")
        vertices = shapely.get_num_coordinates(self.shapes)
        return float(np.nansum(shapely.length(self.shapes)) / max(1, int(vertices.sum())))

    def within(self, bounds: Bounds) -> NDArray[np.intp]:
        """Rows whose box touches `bounds`, in row order."""
        if self.points is None:
            return np.sort(self.tree.query(shapely.box(*bounds)))
        west, south, east, north = bounds
        if east - west > WIDE * (self.bounds[2] - self.bounds[0]):
            # Sorting a million points takes longer than looking at each, and gains nothing where most are wanted.
            x, y = self.points[:, 0], self.points[:, 1]
            return np.flatnonzero((x >= west) & (x <= east) & (y >= south) & (y <= north))
        x, rows = self._by_x
        near = rows[np.searchsorted(x, west) : np.searchsorted(x, east, side="right")]
        y = self.points[near, 1]
        return np.sort(near[(y >= south) & (y <= north)])

    @cached_property
    def _by_x(self) -> tuple[NDArray[np.float64], NDArray[np.intp]]:
        """The points' x from the west to the east, and whose it is."""
        assert self.points is not None
        rows = np.argsort(self.points[:, 0], kind="stable")
        return self.points[rows, 0], rows

    def outlines(self, rows: NDArray[np.intp], resolution: float) -> list[skia.Path]:
        """The paths of shapes in px at `resolution`, y down, measured from the upper left of `bounds`."""
        if resolution not in self._outlines:
            self._outlines[resolution] = [None] * len(self.dataset)
            while len(self._outlines) > PATH_LEVELS:
                self._outlines.popitem(last=False)
        known = self._outlines[resolution]
        new = [row for row in rows.tolist() if known[row] is None]
        for row, path in zip(new, outlines_of(self.shapes[new], self.bounds, resolution), strict=True):
            known[row] = path
        return [known[row] for row in rows.tolist()]

    def positions(self, rows: NDArray[np.intp]) -> tuple[NDArray[np.float64], NDArray[np.intp]]:
        """Coordinates of the points of `rows` (multi-points give several), and to which row each belongs."""
        if self.points is not None:
            return self.points[rows], rows
        xy, owner = shapely.get_coordinates(self.shapes[rows], return_index=True)
        return xy, rows[owner]

    @property
    def vertices(self) -> int:
        """How many coordinates all shapes have."""
        return len(self.dataset) if self.points is not None else int(shapely.get_num_coordinates(self.shapes).sum())


def _single_points(shapes: Shapes) -> NDArray[np.float64] | None:
    """Places of shapes of which each is a single point; None for others."""
    if not (shapely.get_type_id(shapes) == shapely.GeometryType.POINT).all() or shapely.is_empty(shapes).any():
        return None
    return np.asarray(shapely.get_coordinates(shapes))


class RasterSource:
    """A GeoTIFF to be drawn in a frame."""

    def __init__(self, path: str | Path, frame: Frame = MERCATOR) -> None:
        self.path, self.frame = Path(path), frame
        self._made: OrderedDict[str, VectorSource] = OrderedDict()

    def read(self, reading: Reading) -> VectorSource:
        """The shapes that a reading makes of the raster, in the same frame. The last few are remembered.

        Raises
        ------
        BadInput
            For a reading of shapes, and as the making does.
        """
        if not isinstance(reading, Contours):
            raise CannotDraw("This dataset is a raster, and what the layer draws is made of shapes.")
        name = reading.model_dump_json()
        if name not in self._made:
            self._made[name] = VectorSource(contour_lines(self.path, reading).described(), self.frame)
            while len(self._made) > FILTERS:
                self._made.popitem(last=False)
        return self._made[name]

    @cached_property
    def _place(self) -> tuple[Bounds, float]:
        with open_raster(self.path) as source:
            return self.frame.box_of(raster_bounds(source)), raster_resolution(source, self.frame)

    @property
    def bounds(self) -> Bounds:
        """The box around all of it, in the frame."""
        return self._place[0]

    @property
    def resolution(self) -> float:
        """Units of the frame per pixel of the raster."""
        return self._place[1]

    @cached_property
    def info(self) -> RasterInfo:
        """The raster in figures; this reads a sample of it."""
        return raster_info(self.path)


Source = VectorSource | RasterSource
Find = Callable[[str, Frame], Source]
"""Gives the data of that name, made ready for that frame."""
