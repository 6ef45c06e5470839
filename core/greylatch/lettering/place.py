"""Where labels go: for the whole map at one zoom level, so that no tile and no view ever cuts one."""

from collections import defaultdict
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np
import shapely
from numpy.typing import NDArray

from greylatch.lettering.type import ASCENT, DESCENT, LEADING, missing_letters, text_width
from greylatch.tables.dataset import Fids, Kind, Shapes


@dataclass(frozen=True)
class Letter:
    """One line of the label of `feature`, a fid. (`x`, `y`): its anchor in the map's frame; the line's middle stands `dx` px to
    the right of it and its baseline `dy` px below."""

    layer: int
    feature: int
    text: str
    x: float
    y: float
    dx: float
    dy: float


@dataclass(frozen=True)
class ToLetter:
    """The labels that a layer asks for: one text per shape ('' for none). `radius` is that of point symbols, px; `known_anchors`
    gives where they go, where somebody remembers that: it is costly, and asked for only when labels are placed. `fids` are the
    features that they name, counted from 0 where none are given."""

    kind: Kind
    shapes: Shapes
    texts: Sequence[str]
    size: float
    halo: float
    must_fit: bool
    radius: NDArray[np.floating] | float = 0.0
    known_anchors: Callable[[], NDArray[np.float64]] | None = None
    fids: Fids | None = None

    @property
    def anchors(self) -> NDArray[np.float64]:
        """(n, 2) places around which the labels are set."""
        return self.known_anchors() if self.known_anchors else anchors_of(self.kind, self.shapes)

    @cached_property
    def reach(self) -> float:
        """Px within which every label of the layer stands around its anchor."""
        if not len(self.texts):
            return 0.0
        # The longest few by characters hold the widest in px, for a letter is at most four times as wide as another.
        longest = max(map(len, self.texts))
        width = max(text_width(text, self.size) for text in set(self.texts) if 4 * len(text) >= longest)
        beside = float(np.max(self.radius)) + self.halo + 2 + width if self.kind == "points" else width / 2
        return beside + self.halo + 2 * LEADING * self.size

    def fid(self, row: int) -> int:
        """The feature that stands at a row."""
        return int(row if self.fids is None else self.fids[row])

    def gap(self, row: int) -> float:
        """Px between the place of the point at a row and its label."""
        return float(np.broadcast_to(self.radius, len(self.texts))[row]) + self.halo + 2


@dataclass
class Placement:
    """Placed lines, and per layer the features whose label found no room."""

    letters: list[Letter] = field(default_factory=list)
    left_out: dict[int, list[int]] = field(default_factory=lambda: defaultdict(list))


Box = tuple[float, float, float, float]
GRID = 11
"""Places tried across an area, and as many down."""


def anchors_of(kind: Kind, shapes: Shapes) -> NDArray[np.float64]:
    """(n, 2) label anchors: the middle of the largest circle inside an area's largest part, a line's middle, a point itself."""
    if kind == "areas":
        largest = _largest_parts(shapes)
        tolerance = np.maximum(np.sqrt(np.nan_to_num(shapely.area(largest))) / 200, 1e-9)
        circles = np.array(
            [
                shapely.maximum_inscribed_circle(s, t) if s is not None and not s.is_empty else None
                for s, t in zip(largest, tolerance, strict=True)
            ]
        )
        middles = shapely.get_point(circles, 0)
    elif kind == "lines":
        middles = shapely.line_interpolate_point(_longest_lines(shapes), 0.5, normalized=True)
    else:
        there = shapes.copy()
        there[shapely.is_empty(shapes)] = None  # an empty point has no place to be asked for
        middles = shapely.point_on_surface(there)
    return np.column_stack([shapely.get_x(middles), shapely.get_y(middles)])


def place(layers: Sequence[ToLetter], resolution: float) -> Placement:
    """Place the labels of `layers`, the most important first, at `resolution` (units of the frame per px).

    Within a layer larger areas and longer lines go first, points in row order. Boxes never overlap. An area's text is set in
    one line or two, wherever it lies wholly inside; a point's goes round its symbol: right, left, above, below, corners.
    A text with letters that the typeface lacks is left out, rather than drawn as empty boxes.
    """
    placed = Placement()
    taken = _Boxes()
    for number, layer in enumerate(layers):
        points = layer.anchors
        for i in _order(layer):
            text = layer.texts[i]
            if not text or not np.isfinite(points[i]).all():
                continue
            if missing_letters(text):
                placed.left_out[number].append(layer.fid(i))
                continue
            for lines in _settings(layer, i, text):
                box = _box(lines, layer.size, layer.halo)
                spot = _spot(layer, i, points[i], box, resolution)
                if spot and taken.take(spot[0] / resolution, -spot[1] / resolution, box):
                    placed.letters += [Letter(number, layer.fid(i), t, *spot, dx, dy) for t, _, dx, dy in lines]
                    break
            else:
                placed.left_out[number].append(layer.fid(i))
    return placed


def _order(layer: ToLetter) -> NDArray[np.intp]:
    if layer.kind == "areas":
        return np.argsort(-np.nan_to_num(shapely.area(layer.shapes)), kind="stable")
    if layer.kind == "lines":
        return np.argsort(-np.nan_to_num(shapely.length(layer.shapes)), kind="stable")
    return np.arange(len(layer.texts))


Line = tuple[str, float, float, float]  # text, width, dx of its middle, dy of its baseline


def _settings(layer: ToLetter, i: int, text: str) -> Iterator[list[Line]]:
    """The ways in which a text may be set around its anchor, the best first."""
    size = layer.size
    middle = (ASCENT - DESCENT) / 2 * size
    width = text_width(text, size)
    if layer.kind == "points":
        gap = layer.gap(i)
        side = gap + width / 2
        up, down = -(gap + DESCENT * size), gap + ASCENT * size
        for dx, dy in (
            (side, middle),
            (-side, middle),
            (0, up),
            (0, down),
            (side, up),
            (side, down),
            (-side, up),
            (-side, down),
        ):
            yield [(text, width, dx, dy)]
        return
    yield [(text, width, 0.0, middle)]
    halves = _in_two(text)
    if halves:
        leading = LEADING * size
        yield [(part, text_width(part, size), 0.0, middle + (j - 0.5) * leading) for j, part in enumerate(halves)]


def _in_two(text: str) -> tuple[str, str] | None:
    """A text broken at the space nearest to its middle."""
    spaces = [i for i, c in enumerate(text) if c == " "]
    if not spaces:
        return None
    at = min(spaces, key=lambda i: abs(i - len(text) / 2))
    return text[:at], text[at + 1 :]


def _box(lines: list[Line], size: float, halo: float) -> Box:
    return (
        min(dx - w / 2 for _, w, dx, _ in lines) - halo,
        min(dy for *_, dy in lines) - ASCENT * size - halo,
        max(dx + w / 2 for _, w, dx, _ in lines) + halo,
        max(dy for *_, dy in lines) + DESCENT * size + halo,
    )


def _spot(
    layer: ToLetter, i: int, anchor: NDArray[np.float64], box: Box, resolution: float
) -> tuple[float, float] | None:
    """Where the box goes: at the anchor; in an area that it must fit into, at the place nearest to the anchor of a grid
    of places where it lies wholly inside. None where there is none."""
    x, y = float(anchor[0]), float(anchor[1])
    if layer.kind != "areas" or not layer.must_fit:
        return x, y
    shape = layer.shapes[i]
    left, top, right, bottom = (edge * resolution for edge in box)
    west, south, east, north = shape.bounds
    if right - left > east - west or bottom - top > north - south:
        return None
    if shapely.contains(shape, shapely.box(x + left, y - bottom, x + right, y - top)):
        return x, y
    across, down = np.linspace(west - left, east - right, GRID), np.linspace(south + bottom, north + top, GRID)
    xs, ys = np.tile(across, GRID), np.repeat(down, GRID)
    nearest = np.argsort((xs - x) ** 2 + (ys - y) ** 2, kind="stable")
    xs, ys = xs[nearest], ys[nearest]
    # A copy of our own: prepared shapes must not be asked by two threads at once, and sources are shared between them.
    prepared = shapely.force_2d(shape)
    shapely.prepare(prepared)
    inside = shapely.contains(prepared, shapely.box(xs + left, ys - bottom, xs + right, ys - top))
    at = int(np.argmax(inside))
    return (float(xs[at]), float(ys[at])) if inside[at] else None


class _Boxes:
    """Boxes already taken, found through a grid of cells."""

    CELL = 64.0

    def __init__(self) -> None:
        self._cells: dict[tuple[int, int], list[Box]] = defaultdict(list)

    def take(self, x: float, y: float, box: Box) -> bool:
        """Take `box` around the pixel (x, y) unless it overlaps one taken before."""
        here = (x + box[0], y + box[1], x + box[2], y + box[3])
        cells = [
            (cx, cy)
            for cx in range(int(here[0] // self.CELL), int(here[2] // self.CELL) + 1)
            for cy in range(int(here[1] // self.CELL), int(here[3] // self.CELL) + 1)
        ]
        for cell in cells:
            for other in self._cells.get(cell, ()):
                if here[0] < other[2] and other[0] < here[2] and here[1] < other[3] and other[1] < here[3]:
                    return False
        for cell in cells:
            self._cells[cell].append(here)
        return True


def _largest_parts(shapes: Shapes) -> Shapes:
    return _greatest(shapes, shapely.area)


def _longest_lines(shapes: Shapes) -> Shapes:
    return _greatest(shapes, shapely.length)


def _greatest(shapes: Shapes, measure: Callable[[Shapes], NDArray[np.float64]]) -> Shapes:
    """The greatest part of each shape."""
    parts, owner = shapely.get_parts(shapes, return_index=True)
    out = np.full(len(shapes), None, dtype=object)
    order = np.lexsort((measure(parts), owner))
    out[owner[order]] = parts[order]  # the last written, the greatest, stays
    return out
