"""What a layer asks to be lettered, and all the ways in which its labels may stand at a scale."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Literal

import numpy as np
import shapely
from numpy.typing import NDArray

from greylatch.lettering.along import Course
from greylatch.lettering.anchors import anchors_of
from greylatch.lettering.blocks import SIDES, Blocks, Set, blocks_of, boxes_around, in_two
from greylatch.lettering.byhand import LONGEST_LEADER, Hand, label_by_hand, leader_to
from greylatch.lettering.candidates import Candidates, Laid
from greylatch.lettering.courses import Strips, along_lines, along_spines
from greylatch.lettering.inside import Rings, boxes_inside, rings_of
from greylatch.lettering.label import Box, Label, pieces_level
from greylatch.lettering.shaping import missing_letters
from greylatch.lettering.spines import spines_of
from greylatch.lettering.type import LEADING, TextStyle, text_widths
from greylatch.tables.dataset import Fids, Kind, Shapes

__all__ = ["ToLetter"]

SHRINKS = 3
"""Sizes that are tried on the way to the smallest."""
LEADERS = 6.0
"""Px between an area and a label outside of it."""


@dataclass(frozen=True)
class ToLetter:
    """The labels that a layer asks for. `parts` has for each line of the lettering a text by row ('' for none), which `styles` says how to
    set. `radius` is that of point symbols, or half of the stroke of lines, px; `known_anchors` gives where labels go, where somebody
    remembers that: it is costly, and asked for only when labels are placed. `fids` are the features that they name, counted from 0 where
    none are given."""

    kind: Kind
    shapes: Shapes
    parts: Sequence[Sequence[str]]
    styles: Sequence[TextStyle]
    halo: float
    must_fit: bool
    radius: NDArray[np.floating] | float = 0.0
    known_anchors: Callable[[], NDArray[np.float64]] | None = None
    fids: Fids | None = None
    course: Literal["level"] | Course = "level"
    """How labels of lines follow them."""
    ranks: NDArray[np.float64] | None = None
    """Those with more go first, those without any last."""
    shorter: Sequence[str] | None = None
    """What is set in place of the first line where the label finds no room; '' for nothing."""
    once_within: float = 0.0
    """Px within which the same text stands only once."""
    priority: int = 0
    """Layers with more go first."""
    leading: float = LEADING
    plate: float = 0.0
    """Px that a frame takes around the text."""
    beside: bool = False
    """Labels that follow lines stand over them."""
    sides: Sequence[str] = tuple(SIDES)
    """Where labels of points may stand, the best first."""
    smallest: float = 1.0
    """The part of their size that labels may shrink to."""
    outside: bool = False
    """Labels of areas that they don't fit into stand beside these."""
    throughout: bool = False
    """Areas that are larger than a view are named again in each region of the map."""
    hands: Mapping[int, Hand] = field(default_factory=dict)
    """By row what somebody did to its label."""
    colours: Sequence[tuple[str, str]] | None = None
    """By row of the letters and the halo, in place of what the lettering says."""

    @cached_property
    def texts(self) -> list[str]:
        """What each label says, line by line."""
        if len(self.parts) == 1:
            return list(self.parts[0])
        return ["\n".join(line for line in lines if line) for lines in zip(*self.parts, strict=True)]

    @cached_property
    def anchors(self) -> NDArray[np.float64]:
        """(n, 2) places around which the labels are set."""
        return self.known_anchors() if self.known_anchors else anchors_of(self.kind, self.shapes)

    @cached_property
    def numbered(self) -> Fids:
        """The feature of each row."""
        return np.arange(len(self.texts)) if self.fids is None else self.fids

    @property
    def edge(self) -> float:
        """Px that are kept free around the text."""
        return self.halo + self.plate

    @cached_property
    def reach(self) -> float:
        """Px within which every label of the layer stands around its anchor."""
        width = height = 0.0
        for own, style in zip(self.parts, self.styles, strict=True):
            texts = {
                *own,
                *((self.shorter or ()) if own is self.parts[0] else ()),
                *(hand.text or "" for hand in self.hands.values()),
            }
            wide = float(text_widths([text.replace("\n", " ") for text in texts], style).max(initial=0.0))
            width = max(width, wide * max([1.0, *(hand.share for hand in self.hands.values())]))
            height += (2 + max((text.count("\n") for text in texts), default=0)) * self.leading * style.size
        if self.outside or any(hand.leader for hand in self.hands.values()):
            height += LONGEST_LEADER
        beside = float(np.max(self.radius, initial=0.0)) + self.edge + 2 + width if self.kind == "points" else width / 2
        return beside + self.edge + height

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
        """The texts with letters that no face has."""
        texts = {text for own in (self.texts, *self.parts, self.shorter or ()) for text in own if not text.isascii()}
        lacking = set(missing_letters("".join({letter for text in texts for letter in text})))
        return frozenset(text for text in texts if lacking.intersection(text)) if lacking else frozenset()

    @cached_property
    def alike(self) -> NDArray[np.intp] | None:
        """By row a number for its text, where the same one is not to stand twice close by."""
        if not self.once_within:
            return None
        return np.unique(np.array(self.texts, dtype=object).astype(str), return_inverse=True)[1].astype(np.intp)

    def showing(self, shown: NDArray[np.bool_]) -> "ToLetter":
        """The same with labels of some rows alone."""
        on = shown.tolist()
        parts = [[text if there else "" for text, there in zip(own, on, strict=True)] for own in self.parts]
        return replace(self, parts=parts, hands={row: hand for row, hand in self.hands.items() if on[row]})

    def around(self, radius: NDArray[np.floating]) -> "ToLetter":
        """The same with labels around symbols of other radii, in px."""
        return replace(self, radius=radius)

    def at(self, resolution: float) -> "ToLetter":
        """The same with what is done by hand at `resolution` alone."""
        counting = {row: hand for row, hand in self.hands.items() if hand.counts(resolution)}
        return self if len(counting) == len(self.hands) else replace(self, hands=counting)

    def lines(self, row: int) -> Set:
        """What the label of a row says, and how each line is styled; nothing where it can't be set."""
        hand = self.hands.get(row)
        if hand and hand.text is not None:
            return tuple((line, 0) for line in hand.text.split("\n") if line)
        if not self.texts[row] or self.texts[row] in self.unsettable:
            return ()
        if len(self.parts) == 1 and "\n" not in self.texts[row]:
            return ((self.texts[row], 0),)
        return tuple((line, style) for style, own in enumerate(self.parts) for line in own[row].split("\n") if line)

    @cached_property
    def sizes_tried(self) -> tuple[float, ...]:
        """The parts of their size that labels are tried in."""
        return (1.0, *np.geomspace(1, self.smallest, SHRINKS + 1)[1:].tolist()) if self.smallest < 1 else (1.0,)

    @cached_property
    def blocks(self) -> Blocks:
        """How the texts may be set, each the best first, for no scale in particular; a text that can't be set has no block."""
        rows: list[int] = []
        sets: list[Set] = []
        shares: list[float] = []
        for row in range(len(self.texts)):
            lines = self.lines(row)
            short = self.shorter[row] if self.shorter and self.texts[row] else ""
            own = self.hands[row].share if row in self.hands else 1.0
            # Only what is one line can be made two.
            halves = in_two(lines[0][0]) if self.kind != "points" and len(lines) == 1 else ()
            for share in self.sizes_tried if lines else ():
                for each in (lines, tuple((half, lines[0][1]) for half in halves)):
                    if each:
                        rows.append(row)
                        sets.append(each)
                        shares.append(own * share)
            if short and short not in self.unsettable and ((short, 0),) != lines:
                rows.append(row)
                sets.append(((short, 0),))
                shares.append(own)
        return blocks_of(rows, sets, shares, self.styles, self.leading)

    @cached_property
    def _around(self) -> tuple[list[tuple[int, int]], NDArray[np.float64], NDArray[np.float64]]:
        """The sides on which blocks stand, where they come to stand there, and their boxes."""
        if self.kind != "points":
            sides = [(0, 0)]
            return sides, *boxes_around(self.blocks, sides, np.zeros(len(self.blocks.row)), self.edge)
        sides = [SIDES[side] for side in self.sides]
        return sides, *boxes_around(self.blocks, sides, self.gaps[self.blocks.row], self.edge)

    @cached_property
    def gaps(self) -> NDArray[np.float64]:
        """Px by row between a point and the text of its label."""
        return np.broadcast_to(np.asarray(self.radius, dtype=np.float64), len(self.texts)) + self.edge + 2

    @cached_property
    def rings(self) -> Rings:
        """What areas are bounded by."""
        return rings_of(self.shapes)

    @cached_property
    def asked(self) -> NDArray[np.intp]:
        """Rows that have a text and a place, as they come to be placed."""
        there = np.array([bool(text) for text in self.texts], dtype=bool) & np.isfinite(self.anchors).all(axis=1)
        return self.order[there[self.order]]

    def candidates(self, resolution: float) -> Candidates:
        """How the labels may stand at `resolution` (units of the frame per px)."""
        if self.course != "level" and self.kind == "lines":
            radius = float(np.max(self.radius, initial=0.0)) if self.beside else None
            return along_lines(self.shapes, self.strips, self.sizes_tried, self.edge, resolution, radius, self.course)
        rows, blocks = np.arange(len(self.texts)), self.blocks
        begins = np.searchsorted(blocks.row, np.arange(len(rows) + 1)).astype(np.intp)
        sides, offsets, boxes = self._around
        places = np.repeat(self.anchors[blocks.row][:, None], len(sides), axis=1)
        if self.kind == "areas" and (self.must_fit or self.outside):
            upon = boxes_inside(self.rings, self.shapes, self.sizes, self.anchors, boxes[:, 0] * resolution, begins)
            places = upon[:, None]
            if self.outside:
                sides, more, beside = self._outside(resolution)
                offsets, boxes = np.concatenate([offsets, more], axis=1), np.concatenate([boxes, beside], axis=1)
                others = np.repeat(self.anchors[blocks.row][:, None], len(sides) - 1, axis=1)
                places = np.concatenate([places, others], axis=1)
        level = self._level(rows, begins, sides, offsets, boxes, places)
        if self.kind == "areas" and self.course == "curved":
            return along_spines(self.shapes, self.spines, self.strips, self.sizes_tried, self.edge, resolution, level)
        return level

    def _level(
        self,
        rows: NDArray[np.intp],
        begins: NDArray[np.intp],
        sides: list[tuple[int, int]],
        offsets: NDArray[np.float64],
        boxes: NDArray[np.float64],
        places: NDArray[np.float64],
    ) -> Candidates:
        """Labels that stand level, on each of `sides`."""
        blocks, many, around = self.blocks, len(sides), boxes

        def laid(way: int) -> Laid:
            block, n = divmod(way, many)
            lines, (dx, dy) = blocks.lines(block), offsets[block, n].tolist()
            pieces = pieces_level(lines, self.styles, float(blocks.share[block]), dx, dy, sides[n][0])
            left, top, right, bottom = around[block, n].tolist()
            box = left + self.edge, top + self.edge, right - self.edge, bottom - self.edge
            leader = _leader_home(box, self.plate) if self.outside and n else None
            return Laid("\n".join(line.text for line in lines), pieces, box, 0.0, sides[n], leader)

        lasting = many
        if self.outside:
            # What stands beside an area moves as its outline does, and nothing stands upon its leader.
            lasting = 0
            boxes = np.concatenate([np.minimum(boxes[..., :2], 0), np.maximum(boxes[..., 2:], 0)], axis=-1)
        return Candidates(
            rows, self.asked, begins * many, boxes.reshape(-1, 4), places.reshape(-1, 2), laid, sides=lasting
        )

    @cached_property
    def strips(self) -> Strips:
        """What each label says, in one line."""
        shares = [self.hands[row].share if row in self.hands else 1.0 for row in range(len(self.texts))]
        return Strips([self.lines(row) for row in range(len(self.texts))], self.styles, np.array(shares))

    @cached_property
    def spines(self) -> Shapes:
        """The lines along which names of long areas run."""
        return spines_of(self.shapes)

    def _outside(self, resolution: float) -> tuple[list[tuple[int, int]], NDArray[np.float64], NDArray[np.float64]]:
        """Where labels stand beside their areas: the sides, with that upon the area before them; where, and their boxes."""
        bounds = np.nan_to_num(shapely.bounds(self.shapes))[self.blocks.row]
        x, y = np.nan_to_num(self.anchors[self.blocks.row]).T
        sides = [(1, 0), (-1, 0), (0, -1), (0, 1)]
        clear = np.column_stack([bounds[:, 2] - x, x - bounds[:, 0], bounds[:, 3] - y, y - bounds[:, 1]]) / resolution
        outside = [
            boxes_around(self.blocks, [side], clear[:, n] + LEADERS + self.edge, self.edge)
            for n, side in enumerate(sides)
        ]
        return (
            [(0, 0), *sides], np.concatenate([offsets for offsets, _ in outside], axis=1), np.concatenate([own for _, own in outside], axis=1)
        )  # fmt: skip

    def prepare(self) -> None:
        """Work out all that is the same at every scale."""
        _ = self.asked, self._around, (self.rings if self.kind == "areas" else None)

    def placed_by_hand(self, layer: int, resolution: float) -> tuple[list[Label], NDArray[np.intp]]:
        """The labels that somebody put somewhere, and all rows that the contest is not about: theirs, and those that are hidden."""
        labels, rows = [], []
        for row, hand in self.hands.items():
            if not hand.hidden and not hand.place:
                continue
            rows.append(row)
            if not hand.hidden and (self.texts[row] or hand.text):
                named, feature = tuple(self.anchors[row].tolist()), int(self.numbered[row])
                label = label_by_hand(
                    layer, feature, hand, self.lines(row), self.styles, self.leading, (named[0], named[1]), resolution
                )
                labels += [label] if label else []
        return labels, np.array(rows, dtype=np.intp)


def _leader_home(box: Box, plate: float) -> tuple[float, float, float, float] | None:
    """The leader of a label that stands beside its place, from there to the place."""
    left, top, right, bottom = box
    x, y = (left + right) / 2, (top + bottom) / 2
    across, down = (right - left) / 2 + plate, (bottom - top) / 2 + plate
    line = leader_to((-across, -down, across, down), 0.0, (-x, -y))
    return line and (line[0] + x, line[1] + y, 0.0, 0.0)
