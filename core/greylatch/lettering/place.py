"""Where labels go: for the whole map at one zoom level, so that no tile and no view ever cuts one."""

from collections.abc import Sequence
from dataclasses import dataclass, field
from functools import cached_property
from typing import NamedTuple, overload

import numpy as np
from numpy.typing import NDArray

from greylatch.lettering.asked import ToLetter
from greylatch.lettering.candidates import Candidates
from greylatch.lettering.contest import Taken, room_for
from greylatch.lettering.label import Label

__all__ = ["Placed", "PlacedLabels", "Placement", "place"]


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
        boxes = self.could.boxes[self.ways]
        if self.layer.outside:
            boxes = np.column_stack([np.minimum(boxes[:, :2], 0), np.maximum(boxes[:, 2:], 0)])
        return boxes


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
    layers: Sequence[ToLetter], resolution: float, clear: tuple[NDArray[np.float64], NDArray[np.float64]] | None = None
) -> Placement:
    """Place the labels of `layers`, the most important first, at `resolution` (units of the frame per px).

    What was put by hand stands where it was put. Then layers of a higher priority come first, of the same in their order. Within a
    layer features of a higher rank go first, or larger areas and longer lines, points in row order. Boxes never overlap. An area's text
    is set in one line or two, wherever it lies wholly inside, or beside it with a leader; a point's goes round its symbol; a line's
    stands upon its middle, or follows it where it is asked to, as often as it is long.
    A text with letters that no face has is left out, rather than drawn as empty boxes.

    Parameters
    ----------
    layers : Sequence[ToLetter]
        The labels that are asked for, the most important layer first.
    resolution : float
        Units of the frame to a px.
    clear : tuple[NDArray[np.float64], NDArray[np.float64]] | None
        (n, 2) places of symbols that labels keep off, in the frame, and (n,) their radii, px.

    Returns
    -------
    Placement
    """
    left_out: dict[int, list[int]] = {}
    layers = [layer.at(resolution) for layer in layers]
    wanted = [layer.candidates(resolution) for layer in layers]
    by_hand = [layer.placed_by_hand(number, resolution) for number, layer in enumerate(layers)]
    labels = [label for own, _ in by_hand for label in own]
    put = Placement(labels)
    off = _around(clear, resolution) if clear else np.empty((0, 4))
    groups: list[Placed] = []
    one_each = np.arange(len(labels) + 1)
    each_off = np.arange(len(off) + 1)
    taken = Taken(
        sum(room_for(each.boxes, each.start) for each in wanted)
        + room_for(put.boxes, one_each)
        + room_for(off, each_off)
    )
    px = (1 / resolution, -1 / resolution)
    taken.enter(one_each[:-1], one_each, put.boxes, put.places * px, always=True)
    taken.enter(each_off[:-1], each_off, off, np.zeros((len(off), 2)), always=True)
    for number in sorted(range(len(layers)), key=lambda number: -layers[number].priority):
        layer, could, not_asked = layers[number], wanted[number], by_hand[number][1]
        order = could.order[np.isin(could.rows[could.order], not_asked, invert=True)] if len(not_asked) else could.order
        alike = None if layer.alike is None else layer.alike[could.rows]
        chosen = taken.enter(order, could.start, could.boxes, could.places * px, alike, layer.once_within)
        rows, ways = could.rows[order[chosen >= 0]], chosen[chosen >= 0]
        groups.append(Placed(number, layer, could, rows, ways))
        missed = np.isin(layer.asked, np.concatenate([rows, not_asked]), invert=True)
        if missed.any():
            left_out[number] = layer.numbered[layer.asked[missed]].tolist()
    return Placement(PlacedLabels(labels, groups), left_out)


def _around(clear: tuple[NDArray[np.float64], NDArray[np.float64]], resolution: float) -> NDArray[np.float64]:
    """(n, 4) boxes around symbols, px from the frame's origin."""
    places, radii = clear
    x, y = places[:, 0] / resolution, -places[:, 1] / resolution
    return np.column_stack([x - radii, y - radii, x + radii, y + radii])[np.isfinite(x) & (radii > 0)]
