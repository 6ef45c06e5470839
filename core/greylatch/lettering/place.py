"""Where labels go: for the whole map at one zoom level, so that no tile and no view ever cuts one."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from typing import NamedTuple

import numpy as np
import shapely
from numpy.typing import NDArray

from greylatch.lettering.along import spots_along
from greylatch.lettering.contest import Taken, room_for
from greylatch.lettering.inside import Rings, boxes_inside, middles, rings_of
from greylatch.lettering.type import LEADING, missing_letters, text_width, text_widths
from greylatch.lettering.ways import Way, in_two, ways_around, ways_upon
from greylatch.tables.dataset import Fids, Kind, Shapes

__all__ = ["Candidates", "Letter", "Placement", "ToLetter", "anchors_of", "place"]


@dataclass(frozen=True)
class Letter:
    """One line of the label of `feature`, a fid. (`x`, `y`): its anchor in the map's frame; the line's middle stands `dx` px to
    the right of it and its baseline `dy` px below, on paper that is turned by `turn` degrees clockwise about the anchor."""

    layer: int
    feature: int
    text: str
    x: float
    y: float
    dx: float
    dy: float
    turn: float = 0.0


class Candidates(NamedTuple):
    """The ways in which labels may stand at one scale: label i may take any of `start[i]` to `start[i + 1]`, the first the best."""

    rows: NDArray[np.intp]
    """(labels,) which row of the data each label names."""
    order: NDArray[np.intp]
    """Labels as they come to be placed."""
    start: NDArray[np.intp]
    ways: Sequence[Way]
    """(m,)"""
    boxes: NDArray[np.float64]
    """(m, 4) px around the place."""
    places: NDArray[np.float64]
    """(m, 2) in the frame; NaN where there is no such place."""
    turns: NDArray[np.float64] | None = None
    """(m,) degrees clockwise; None: all stand level."""


@dataclass(frozen=True)
class ToLetter:
    """The labels that a layer asks for: one text per shape ('' for none). `radius` is that of point symbols, px; `known_anchors`
    gives where they go, where somebody remembers that: it is costly, and asked for only when labels are placed. `fids` are the
    features that they name, counted from 0 where none are given. `along` lets the labels of lines follow them."""

    kind: Kind
    shapes: Shapes
    texts: Sequence[str]
    size: float
    halo: float
    must_fit: bool
    radius: NDArray[np.floating] | float = 0.0
    known_anchors: Callable[[], NDArray[np.float64]] | None = None
    fids: Fids | None = None
    along: bool = False
    ranks: NDArray[np.float64] | None = None
    """Those with more go first, those without any last."""
    shorter: Sequence[str] | None = None
    """What is set where the text finds no room; '' for nothing."""
    once_within: float = 0.0
    """Px within which the same text stands only once."""
    priority: int = 0
    """Layers with more go first."""

    @cached_property
    def anchors(self) -> NDArray[np.float64]:
        """(n, 2) places around which the labels are set."""
        return self.known_anchors() if self.known_anchors else anchors_of(self.kind, self.shapes)

    @cached_property
    def reach(self) -> float:
        """Px within which every label of the layer stands around its anchor."""
        if not len(self.texts):
            return 0.0
        # The longest few by characters hold the widest in px, for a letter is at most four times as wide as another.
        texts = {*self.texts, *(self.shorter or ())}
        longest = max(map(len, texts))
        width = max(text_width(text.replace("\n", " "), self.size) for text in texts if 4 * len(text) >= longest)
        beside = float(np.max(self.radius)) + self.halo + 2 + width if self.kind == "points" else width / 2
        return beside + self.halo + (2 + max(text.count("\n") for text in texts)) * LEADING * self.size

    @cached_property
    def order(self) -> NDArray[np.intp]:
        """Rows as they come to be placed: by their ranks, or larger areas and longer lines first, points in row order."""
        if self.ranks is not None:
            return np.argsort(-np.nan_to_num(self.ranks, nan=-np.inf), kind="stable")
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
        return frozenset(text for text in {*self.texts, *(self.shorter or ())} if missing_letters(text))

    @cached_property
    def alike(self) -> NDArray[np.intp] | None:
        """By row a number for its text, where the same one is not to stand twice close by."""
        if not self.once_within:
            return None
        return np.unique(np.array(self.texts, dtype=object).astype(str), return_inverse=True)[1].astype(np.intp)

    @cached_property
    def ways(self) -> list[Way]:
        """How the texts may be set around their places, each the best first, for no scale in particular; a text that can't be
        set has none."""
        return [way for row_ways in self._ways for way in row_ways]

    @cached_property
    def start(self) -> NDArray[np.intp]:
        """Where the ways of each row begin among `ways`, with the end of the last."""
        return np.concatenate([[0], np.cumsum([len(ways) for ways in self._ways], dtype=np.intp)])

    @cached_property
    def _ways(self) -> list[tuple[Way, ...]]:
        ways = self._ways_of(self.texts)
        if self.shorter is None:
            return ways
        # Where nothing is said there is nothing to be shortened either.
        instead = [
            short if text and short != text else "" for text, short in zip(self.texts, self.shorter, strict=True)
        ]
        return [one + other for one, other in zip(ways, self._ways_of(instead), strict=True)]

    def _ways_of(self, wanted: Sequence[str]) -> list[tuple[Way, ...]]:
        texts = ["" if text in self.unsettable else text for text in wanted]
        size, halo = self.size, self.halo
        lines = [text.split("\n") for text in texts]
        # Only what is one line can be made two.
        halves = [
            in_two(text) if self.kind != "points" and len(own) == 1 else ()
            for text, own in zip(texts, lines, strict=True)
        ]
        widths = iter(
            text_widths([line for own, two in zip(lines, halves, strict=True) for line in (*own, *two)], size).tolist()
        )
        measured = [
            ([(line, next(widths)) for line in own], [(line, next(widths)) for line in two])
            for own, two in zip(lines, halves, strict=True)
        ]
        if self.kind == "points":
            around = zip(texts, measured, map(self.gap, range(len(texts))), strict=True)
            return [tuple(ways_around(own, size, halo, gap)) if text else () for text, (own, _), gap in around]
        return [
            tuple(ways_upon(own, size, halo, two)) if text else ()
            for text, (own, two) in zip(texts, measured, strict=True)
        ]

    @cached_property
    def boxes(self) -> NDArray[np.float64]:
        """(m, 4) boxes of `ways`."""
        return np.array([way.box for way in self.ways], dtype=np.float64).reshape(-1, 4)

    @cached_property
    def rings(self) -> Rings:
        """What areas are bounded by."""
        return rings_of(self.shapes)

    @cached_property
    def asked(self) -> NDArray[np.intp]:
        """Rows that have a text and a place, as they come to be placed."""
        there = np.array([bool(text) for text in self.texts], dtype=bool) & np.isfinite(self.anchors).all(axis=1)
        return self.order[there[self.order]]

    def places(self, resolution: float) -> NDArray[np.float64]:
        """For each of `ways` where it goes, (m, 2); NaN where there is no such place. That is the anchor; in areas that a text must
        fit into, the anchor or the place nearest to it of a grid of places where it lies wholly inside."""
        if self.kind == "areas" and self.must_fit:
            boxes = self.boxes * resolution
            return boxes_inside(self.rings, self.shapes, self.sizes, self.anchors, boxes, self.start)
        return np.repeat(self.anchors, np.diff(self.start), axis=0)

    def candidates(self, resolution: float) -> Candidates:
        """How the labels may stand at `resolution` (units of the frame per px)."""
        if self.along and self.kind == "lines":
            return self._candidates_along(resolution)
        rows = np.arange(len(self.texts))
        return Candidates(rows, self.asked, self.start, self.ways, self.boxes, self.places(resolution))

    def _candidates_along(self, resolution: float) -> Candidates:
        texts = ["" if text in self.unsettable else text.replace("\n", " ") for text in self.texts]
        widths = np.asarray(text_widths(texts, self.size))
        spots = spots_along(self.shapes, texts, widths, self.size, self.halo, resolution)
        each = {
            row: next(ways_upon([(texts[row], widths[row])], self.size, self.halo)) for row in set(spots.rows.tolist())
        }
        ways = [each[row] for row in np.repeat(spots.rows, np.diff(spots.start)).tolist()]
        order = np.arange(len(spots.rows))
        return Candidates(spots.rows, order, spots.start, ways, spots.boxes, spots.places, spots.turns)

    def prepare(self) -> None:
        """Work out all that is the same at every scale."""
        _ = self.asked, self.boxes, (self.rings if self.kind == "areas" else None)

    def gap(self, row: int) -> float:
        """Px between the place of the point at a row and its label."""
        return float(np.broadcast_to(self.radius, len(self.texts))[row]) + self.halo + 2


@dataclass(frozen=True)
class Placement:
    """Placed lines, and per layer the features whose label found no room."""

    letters: list[Letter] = field(default_factory=list)
    left_out: dict[int, list[int]] = field(default_factory=dict)

    @cached_property
    def places(self) -> NDArray[np.float64]:
        """(n, 2) anchors of `letters`."""
        return np.array([(letter.x, letter.y) for letter in self.letters], dtype=np.float64).reshape(-1, 2)


def anchors_of(kind: Kind, shapes: Shapes) -> NDArray[np.float64]:
    """(n, 2) label anchors: the middle of the largest circle inside an area's largest part, a line's middle, a point itself.

    Parameters
    ----------
    kind : Kind
        Areas, lines or points.
    shapes : Shapes
        The shapes.

    Returns
    -------
    NDArray[np.float64]
    """
    if kind == "areas":
        return middles(_largest_parts(shapes))
    if kind == "lines":
        places = shapely.line_interpolate_point(_longest_lines(shapes), 0.5, normalized=True)
    else:
        there = shapes.copy()
        there[shapely.is_empty(shapes)] = None  # an empty point has no place to be asked for
        places = shapely.point_on_surface(there)
    return np.column_stack([shapely.get_x(places), shapely.get_y(places)])


def place(layers: Sequence[ToLetter], resolution: float) -> Placement:
    """Place the labels of `layers`, the most important first, at `resolution` (units of the frame per px).

    Layers of a higher priority come first, of the same in their order. Within a layer features of a higher rank go first, or larger areas
    and longer lines, points in row order. Boxes never overlap. An area's text is set in
    one line or two, wherever it lies wholly inside; a point's goes round its symbol: right, left, above, below, corners; a line's
    stands upon its middle, or follows it where it is asked to, as often as it is long.
    A text with letters that the typeface lacks is left out, rather than drawn as empty boxes.

    Parameters
    ----------
    layers : Sequence[ToLetter]
        The labels that are asked for, the most important layer first.
    resolution : float
        Units of the frame to a px.

    Returns
    -------
    Placement
    """
    letters: list[Letter] = []
    left_out: dict[int, list[int]] = {}
    wanted = [layer.candidates(resolution) for layer in layers]
    taken = Taken(sum(room_for(each.boxes, each.start) for each in wanted))
    for number in sorted(range(len(layers)), key=lambda number: -layers[number].priority):
        layer, could = layers[number], wanted[number]
        alike = None if layer.alike is None else layer.alike[could.rows]
        places = could.places * (1 / resolution, -1 / resolution)
        chosen = taken.enter(could.order, could.start, could.boxes, places, alike, layer.once_within)
        set_ = chosen >= 0
        rows, ways = could.rows[could.order[set_]], chosen[set_]
        fids = np.arange(len(layer.texts)) if layer.fids is None else layer.fids
        turns = np.zeros(len(ways)) if could.turns is None else could.turns[ways]
        for feature, way, (x, y), turn in zip(
            fids[rows].tolist(), ways.tolist(), could.places[ways].tolist(), turns.tolist(), strict=True
        ):
            letters += [Letter(number, feature, text, x, y, dx, dy, turn) for text, _, dx, dy in could.ways[way].lines]
        missed = np.isin(layer.asked, rows, invert=True)
        if missed.any():
            left_out[number] = fids[layer.asked[missed]].tolist()
    return Placement(letters, left_out)


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
