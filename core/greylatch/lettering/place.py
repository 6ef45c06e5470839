"""Where labels go: for the whole map at one zoom level, so that no tile and no view ever cuts one."""

from collections import defaultdict
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from typing import NamedTuple

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

    @cached_property
    def order(self) -> NDArray[np.intp]:
        """Rows as they come to be placed: larger areas and longer lines first, points in row order."""
        if self.kind == "points":
            return np.arange(len(self.texts))
        return np.argsort(-self.sizes, kind="stable")

    @cached_property
    def sizes(self) -> NDArray[np.float64]:
        """Areas of areas, lengths of lines."""
        measure = shapely.area if self.kind == "areas" else shapely.length
        return np.asarray(np.nan_to_num(measure(self.shapes)))

    @cached_property
    def unsettable(self) -> frozenset[str]:
        """The texts with letters that the typeface lacks."""
        return frozenset(text for text in set(self.texts) if missing_letters(text))

    @cached_property
    def ways(self) -> "list[tuple[Way, ...]]":
        """How each text may be set around its anchor, the best first; for no scale in particular."""
        return [
            tuple(Way(lines, _box(lines, self.size, self.halo)) for lines in _settings(self, row, text)) if text else ()
            for row, text in enumerate(self.texts)
        ]

    def prepare(self) -> None:
        """Work out all that is the same at every scale."""
        _ = self.anchors, self.order, self.ways, self.unsettable

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
        spots = _spots(layer, resolution)
        there = np.asarray(np.isfinite(layer.anchors).all(axis=1))
        for row in layer.order[there[layer.order]].tolist():
            if not layer.texts[row]:
                continue
            ways = () if layer.texts[row] in layer.unsettable else layer.ways[row]
            for way, (x, y) in zip(ways, (spot[row] for spot in spots), strict=False):
                if x == x and taken.take(x / resolution, -y / resolution, way.box):
                    placed.letters += [
                        Letter(number, layer.fid(row), t, float(x), float(y), dx, dy) for t, _, dx, dy in way.lines
                    ]
                    break
            else:
                placed.left_out[number].append(layer.fid(row))
    return placed


Line = tuple[str, float, float, float]  # text, width, dx of its middle, dy of its baseline
MOST_WAYS = 8


class Way(NamedTuple):
    """A way to set a text: its lines, and the box around them with the anchor at (0, 0), px."""

    lines: list[Line]
    box: Box


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


def _spots(layer: ToLetter, resolution: float) -> list[NDArray[np.float64]]:
    """For each way to set a text, where it goes, (n, 2); NaN where there is no such place. That is the anchor; in areas that it
    must fit into, the anchor or the place nearest to it of a grid of places where it lies wholly inside."""
    if layer.kind != "areas" or not layer.must_fit:
        return [layer.anchors] * MOST_WAYS
    most = max(map(len, layer.ways), default=0)
    return [_inside(layer, resolution, number) for number in range(most)]


def _inside(layer: ToLetter, resolution: float, number: int) -> NDArray[np.float64]:
    boxes = np.full((len(layer.texts), 4), np.nan)
    rows = [row for row, ways in enumerate(layer.ways) if len(ways) > number]
    boxes[rows] = [layer.ways[row][number].box for row in rows]
    left, top, right, bottom = boxes.T * resolution
    west, south, east, north = shapely.bounds(layer.shapes).T
    wide, high = right - left, bottom - top
    with np.errstate(invalid="ignore"):
        room = (wide <= east - west) & (high <= north - south) & (wide * high <= layer.sizes)
    x, y = layer.anchors.T
    out = np.full((len(boxes), 2), np.nan)
    tried = np.flatnonzero(room & np.isfinite(x))
    around = shapely.box((x + left)[tried], (y - bottom)[tried], (x + right)[tried], (y - top)[tried])
    fits = shapely.contains(layer.shapes[tried], around)
    out[tried[fits]] = layer.anchors[tried[fits]]
    for row in tried[~fits].tolist():
        out[row] = _nearest(layer.shapes[row], x[row], y[row], boxes[row] * resolution)
    return out


def _nearest(shape: shapely.Geometry, x: float, y: float, box: NDArray[np.float64]) -> tuple[float, float]:
    """The place nearest to (x, y), of a grid of places, around which a box lies wholly inside a shape; NaN where there is none."""
    left, top, right, bottom = box.tolist()
    west, south, east, north = shape.bounds
    across, down = np.linspace(west - left, east - right, GRID), np.linspace(south + bottom, north + top, GRID)
    xs, ys = np.tile(across, GRID), np.repeat(down, GRID)
    # A copy of our own: prepared shapes must not be asked by two threads at once, and sources are shared between them.
    prepared = shapely.force_2d(shape)
    shapely.prepare(prepared)
    # Where a corner lies outside the box does; only the few others are worth the whole question, the nearest first.
    for dx, dy in ((left, -bottom), (right, -top), (left, -top), (right, -bottom)):
        inside = shapely.contains_xy(prepared, xs + dx, ys + dy)
        xs, ys = xs[inside], ys[inside]
    nearest = np.argsort((xs - x) ** 2 + (ys - y) ** 2, kind="stable")
    for px, py in zip(xs[nearest].tolist(), ys[nearest].tolist(), strict=True):
        if shapely.contains(prepared, shapely.box(px + left, py - bottom, px + right, py - top)):
            return px, py
    return np.nan, np.nan


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
