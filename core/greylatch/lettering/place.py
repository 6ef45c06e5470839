"""Where labels go: for the whole map at one zoom level, so that no tile and no view ever cuts one."""

from collections.abc import Sequence
from dataclasses import dataclass, field
from functools import cached_property
from typing import NamedTuple, overload

import numpy as np
from numpy.typing import NDArray

from greylatch.lettering.asked import ToLetter
from greylatch.lettering.candidates import Candidates
from greylatch.lettering.contest import NOBODY, Entered, Namesakes, Taken, beside, room_for
from greylatch.lettering.label import Label

__all__ = ["Placed", "PlacedLabels", "Placement", "place", "symbol_boxes"]


class Placed(NamedTuple):
    """The labels of a layer that found room: its number, what it asked for, how these may stand, and by label the row and the way."""

    number: int
    layer: ToLetter
    could: Candidates
    rows: NDArray[np.intp]
    ways: NDArray[np.intp]

    def label(self, i: int) -> Label:
        """One of them, as it is drawn."""
        row, way = int(self.rows[i]), int(self.ways[i])
        layer, laid, (x, y) = self.layer, self.could.laid(way), self.could.places[way].tolist()
        hand = layer.hands.get(row)
        # What lies below a label that stands beside its area is not known.
        inks = layer.colours[row] if layer.colours and not laid.leader else (None, None)
        gap = float(layer.gaps[row]) if laid.side != (0, 0) else 0.0
        return Label(
            self.number, int(layer.numbered[row]), laid.text, x, y, tuple(laid.pieces), laid.box,
            laid.turn, laid.side, gap, laid.leader, (hand and hand.colour) or inks[0], inks[1],
        )  # fmt: skip

    @property
    def boxes(self) -> NDArray[np.float64]:
        """(n, 4) px around their places, to which leaders go."""
        return self.could.boxes[self.ways]


class PlacedLabels(Sequence[Label]):
    """Labels of layers one after the other, each made when it is asked for: of a hundred thousand a tile shows a few."""

    def __init__(self, by_hand: Sequence[Label], groups: Sequence[Placed]) -> None:
        self.by_hand, self.groups = by_hand, groups
        self._ends = np.cumsum([len(by_hand), *(len(group.rows) for group in groups)])
        self._made = dict(enumerate(by_hand))

    def __len__(self) -> int:
        return int(self._ends[-1])

    @overload
    def __getitem__(self, at: int) -> Label: ...
    @overload
    def __getitem__(self, at: slice) -> list[Label]: ...
    def __getitem__(self, at: int | slice) -> Label | list[Label]:
        if isinstance(at, slice):
            return [self[i] for i in range(*at.indices(len(self)))]
        i = range(len(self))[at]
        if i not in self._made:
            group = int(np.searchsorted(self._ends, i, side="right"))
            self._made[i] = self.groups[group - 1].label(i - int(self._ends[group - 1]))
        return self._made[i]


@dataclass(frozen=True)
class Placement:
    """Placed labels, and per layer the features whose label found no room."""

    labels: Sequence[Label] = field(default_factory=list)
    left_out: dict[int, list[int]] = field(default_factory=dict)

    @cached_property
    def places(self) -> NDArray[np.float64]:
        """(n, 2) places of `labels`."""
        if isinstance(self.labels, PlacedLabels):
            groups = [group.could.places[group.ways] for group in self.labels.groups]
            return np.concatenate([_places(self.labels.by_hand), *groups])
        return _places(self.labels)

    @cached_property
    def boxes(self) -> NDArray[np.float64]:
        """(n, 4) px around `places` that labels take with their leaders."""
        if isinstance(self.labels, PlacedLabels):
            return np.concatenate([_boxes(self.labels.by_hand), *(group.boxes for group in self.labels.groups)])
        return _boxes(self.labels)

    @cached_property
    def lasting(self) -> NDArray[np.bool_]:
        """(n,) whether they stand around their places alike at every level further in."""
        if not isinstance(self.labels, PlacedLabels):
            return np.zeros(len(self.labels), dtype=bool)
        groups = [np.full(len(group.rows), group.could.sides > 0) for group in self.labels.groups]
        return np.concatenate([np.zeros(len(self.labels.by_hand), dtype=bool), *groups])

    def group(self, number: int) -> Placed | None:
        """The labels of a layer, other than those put by hand."""
        groups = self.labels.groups if isinstance(self.labels, PlacedLabels) else ()
        return next((group for group in groups if group.number == number), None)


def _places(labels: Sequence[Label]) -> NDArray[np.float64]:
    return np.array([(label.x, label.y) for label in labels], dtype=np.float64).reshape(-1, 2)


def _boxes(labels: Sequence[Label]) -> NDArray[np.float64]:
    boxes = np.array([label.box for label in labels], dtype=np.float64).reshape(-1, 4)
    for i, label in enumerate(labels):
        if label.leader:
            x0, y0, x1, y1 = label.leader
            left, top, right, bottom = boxes[i]
            boxes[i] = min(left, x0, x1), min(top, y0, y1), max(right, x0, x1), max(bottom, y0, y1)
    return boxes


def place(
    layers: Sequence[ToLetter], resolution: float, clear: tuple[NDArray[np.float64], NDArray[np.float64]] | None = None,
    further_out: Placement | None = None,
) -> Placement:  # fmt: skip
    """Place the labels of `layers`, the most important first, at `resolution` (units of the frame per px).

    What was put by hand stands where it was put. Then come labels that were placed `further_out` already, where they stood there, as
    far as they last: in their own order, before all others. Layers of a higher priority come first, of the same in their order.
    Within a layer features of a higher rank go first, or larger areas and longer lines, points in row order. Boxes never overlap. An
    area's text is set in one line or two, wherever it lies wholly inside, or beside it with a leader; a point's goes round its symbol;
    a line's stands upon its middle, or follows it where it is asked to, as often as it is long.
    A text with letters that no face has is left out, rather than drawn as empty boxes.

    Parameters
    ----------
    layers : Sequence[ToLetter]
        The labels that are asked for, the most important layer first.
    resolution : float
        Units of the frame to a px.
    clear : tuple[NDArray[np.float64], NDArray[np.float64]] | None
        (n, 2) places of symbols that labels keep off, in the frame, and (n,) their radii, px.
    further_out : Placement | None
        The labels of the same layers at the level before.

    Returns
    -------
    Placement
    """
    layers = [layer.at(resolution) for layer in layers]
    by_hand = [layer.placed_by_hand(number, resolution) for number, layer in enumerate(layers)]
    labels = [label for own, _ in by_hand for label in own]
    entries = [
        _Entry.of(number, layer, resolution, not_asked, further_out)
        for number, (layer, (_, not_asked)) in enumerate(zip(layers, by_hand, strict=True))
    ]
    taken = _begun(Placement(labels), entries, clear, resolution)
    by_priority = sorted(entries, key=lambda entry: -entry.layer.priority)
    for entry in by_priority:
        entry.enter_kept(taken)
    for entry in by_priority:
        entry.improve(taken)
    for entry in by_priority:
        entry.enter_others(taken)
    left_out = {entry.number: entry.missed for entry in by_priority if entry.missed}
    return Placement(PlacedLabels(labels, [entry.placed for entry in by_priority]), left_out)


@dataclass
class _Entry:
    """A layer in the contest: how its labels may stand, which of them stood further out and how, and the way that each has by now."""

    number: int
    layer: ToLetter
    could: Candidates
    not_asked: NDArray[np.intp]
    order: NDArray[np.intp]
    kept: NDArray[np.bool_]
    """Of the labels in `order`, whether their row was lettered further out."""
    first: NDArray[np.int64]
    namesakes: Namesakes
    at: NDArray[np.float64]
    """Of each way its place, px, y down."""
    ways: NDArray[np.int64]
    """By label; -1 for none."""
    entered: Entered | None = None

    @classmethod
    def of(
        cls, number: int, layer: ToLetter, resolution: float, not_asked: NDArray[np.intp], further_out: Placement | None
    ) -> "_Entry":
        could = layer.candidates(resolution)
        order = could.order[np.isin(could.rows[could.order], not_asked, invert=True)] if len(not_asked) else could.order
        first = np.full(len(could.rows), -1, dtype=np.int64)
        kept = np.zeros(len(order), dtype=bool)
        before = further_out.group(number) if further_out else None
        if before is not None:
            kept = np.isin(could.rows[order], before.rows)
            if could.sides and before.could.sides and np.array_equal(could.start, before.could.start):
                # Inside an area a label stays where it was, too: there is more room around it now.
                could.places[before.ways] = before.could.places[before.ways]
                first[before.rows] = before.ways
        namesakes = NOBODY if layer.alike is None else Namesakes(layer.alike[could.rows], layer.once_within)
        ways = np.full(len(could.rows), -1, dtype=np.int64)
        at = could.places * (1 / resolution, -1 / resolution)
        return cls(number, layer, could, not_asked, order, kept, first, namesakes, at, ways)

    def enter_kept(self, taken: Taken) -> None:
        """Those that were lettered further out, each once."""
        self.entered = self._enter(taken, self.order[self.kept], self.could.rows)

    def improve(self, taken: Taken) -> None:
        """Let those be set larger, or longer, that had no room for it further out."""
        kept = self.order[self.kept]
        if self.entered is None or not self.could.sides or not (self.first[kept] >= 0).any():
            return
        could = self.could
        self.ways[kept] = taken.improve(kept, self.entered, could.start, could.boxes, self.at, could.sides)

    def enter_others(self, taken: Taken) -> None:
        """All that have no way yet."""
        could = self.could
        # Of those that last each has tried all its ways.
        tried = self.kept if could.sides else np.zeros(len(self.order), dtype=bool)
        others = self.order[~tried & (self.ways[self.order] < 0)]
        if could.spare is None:
            self._enter(taken, others)
            return
        self._enter(taken, others[~could.spare[others]])
        spare = others[could.spare[others]]
        none_yet = np.isin(could.rows[spare], could.rows[self.ways >= 0], invert=True)
        self._enter(taken, spare[none_yet], could.rows)

    def _enter(self, taken: Taken, labels: NDArray[np.intp], rows: NDArray[np.intp] | None = None) -> Entered:
        could = self.could
        entered = taken.enter(
            labels, could.start, could.boxes, self.at, self.namesakes, False, could.sides > 0, self.first, rows
        )
        self.ways[labels] = entered.ways
        return entered

    @property
    def placed(self) -> Placed:
        """Those that found room, in their order."""
        there = self.order[self.ways[self.order] >= 0]
        return Placed(self.number, self.layer, self.could, self.could.rows[there], self.ways[there])

    @property
    def missed(self) -> list[int]:
        """The features that have no label."""
        lettered = np.concatenate([self.could.rows[self.ways >= 0], self.not_asked])
        missed = np.isin(self.layer.asked, lettered, invert=True)
        return list(self.layer.numbered[self.layer.asked[missed]].tolist())


def _begun(
    put: Placement, entries: Sequence[_Entry], clear: tuple[NDArray[np.float64], NDArray[np.float64]] | None, resolution: float
) -> Taken:  # fmt: skip
    """The contest with what was put by hand, and the symbols that labels keep off."""
    places, off = symbol_boxes(clear, resolution) if clear else (np.empty((0, 2)), np.empty((0, 4)))
    one_each, each_off = np.arange(len(put.labels) + 1), np.arange(len(off) + 1)
    # Those that are improved leave a box behind.
    room = sum(room_for(entry.could.boxes, entry.could.start) * (2 if entry.kept.any() else 1) for entry in entries)
    away = max((beside(entry.could.boxes) for entry in entries if entry.could.sides), default=0.0)
    taken = Taken(room + room_for(put.boxes, one_each) + room_for(off, each_off), 2 * away)
    px = (1 / resolution, -1 / resolution)
    taken.enter(one_each[:-1], one_each, put.boxes, put.places * px, always=True)
    taken.enter(each_off[:-1], each_off, off, places, always=True, lasting=True)
    return taken


def symbol_boxes(
    clear: tuple[NDArray[np.float64], NDArray[np.float64]], resolution: float
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """The boxes of symbols that labels keep off.

    Parameters
    ----------
    clear : tuple[NDArray[np.float64], NDArray[np.float64]]
        (n, 2) places in the frame, and (n,) radii, px.
    resolution : float
        Units of the frame to a px.

    Returns
    -------
    tuple[NDArray[np.float64], NDArray[np.float64]]
        (n, 2) places, px from the frame's origin, y down, and (n, 4) left, top, right, bottom around them.
    """
    places, radii = clear
    there = np.isfinite(places[:, 0]) & (radii > 0)
    radii = radii[there]
    return places[there] * (1 / resolution, -1 / resolution), np.column_stack([-radii, -radii, radii, radii])
