"""Ink: what each feature looks like, as columns. Geometry stays where it is; restyling only makes a new ink table."""

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, field, replace

import numpy as np
from numpy.typing import NDArray

from greylatch.classes.classify import Classification
from greylatch.encodings.by_category import OTHER
from greylatch.encodings.channels import Encodings
from greylatch.encodings.encoded import NONE, Encoded
from greylatch.errors import BadExpression, CannotDraw
from greylatch.rules.evaluating import taken
from greylatch.sheet.parts import WIDEST_STROKE, Scales
from greylatch.sheet.symbology import Rule, Symbols
from greylatch.symbols.by_hand import departed, sections_by_hand
from greylatch.symbols.look import AS_THE_MARK, UNDRAWN, LookInk, Section, look_ink, usual_sizes
from greylatch.symbols.marks import Mark
from greylatch.symbols.pins import pin_mark
from greylatch.tables.dataset import Dataset, Kind

__all__ = ["AS_THE_MARK", "MOST", "SLACK", "UNDRAWN", "Ink", "Wedges", "ink"]

SLACK = 3.0
"""Px by which a pointer may miss a symbol or a line."""
OTHERS = "others"
FINE = 8.0
"""Sizes measured on the ground are drawn to so many parts of a px: a few looks serve many features."""
MOST: dict[Kind, float] = {"points": 200.0, "lines": WIDEST_STROKE}
"""Px of the largest mark whose size is measured on the ground, however close it is looked at: so far the tiles of shapes reach."""


@dataclass(frozen=True)
class Wedges:
    """Shares of each feature (float32, n × k, rows of 0 where it has none), the colours of their wedges, and the radius of the hole as a share."""

    shares: NDArray[np.float32]
    colours: tuple[str, ...]
    hollow: float


@dataclass(frozen=True)
class Ink:
    """Columns with a row per feature; those that do not vary are None.

    `mark` (uint16) is a position in the palette, or `UNDRAWN`. `ramp` (uint16) is a position in `colours`, or `AS_THE_MARK`. `size` (float32) is the
    radius of points and the width of lines in CSS pixels, `angle` (float32) degrees clockwise, `opacity` (float32) a factor for that of
    the fill (of lines: of the strokes). `ground` (float32) is in units of the map what `size` is in px where that is measured on the ground,
    so that marks grow with the map; NaN for features whose size is px. `order` (int32) lists the features as they are to be drawn, where that is not the order of rows.

    `sections` are the parts of the key, and `entry` (int32) says at which of all their entries, counted through, a feature stands.
    """

    palette: tuple[Mark, ...]
    mark: NDArray[np.uint16]
    ramp: NDArray[np.uint16] | None = None
    colours: tuple[str, ...] = ()
    size: NDArray[np.float32] | None = None
    ground: NDArray[np.float32] | None = None
    angle: NDArray[np.float32] | None = None
    opacity: NDArray[np.float32] | None = None
    wedges: Wedges | None = None
    order: NDArray[np.int32] | None = None
    sections: tuple[Section, ...] = ()
    entry: NDArray[np.int32] | None = None
    encoded: dict[str, Encoded] = field(default_factory=dict, compare=False)
    """What each channel of the layer's own look came to: among all features, or where there are rules among those that no rule takes."""
    ruled: tuple[tuple[str, int], ...] = ()
    """How many features each rule takes, by its id, and '' those that none takes."""

    def shown(self, scale: float) -> NDArray[np.bool_]:
        """Which features are drawn at a scale, given by its denominator."""
        there = [Scales(closest=mark.closest, farthest=mark.farthest).show(scale) for mark in self.palette]
        return np.array([*there, False])[np.minimum(self.mark, len(there))]

    def at(self, resolution: float, kind: Kind) -> "Ink":
        """The ink with all sizes in px, where features of `kind` are seen at `resolution` (units of the map to a px); no mark is larger than
        `MOST`.

        >>> own = Ink((), np.array([0], dtype=np.uint16), size=np.float32([4]), ground=np.float32([250]))
        >>> own.at(10.0, "points").size.tolist(), own.at(0.5, "points").size.tolist()
        ([25.0], [200.0])
        """
        if self.ground is None or self.size is None:
            return self
        px = np.minimum(np.round(self.ground / np.float32(resolution) * FINE) / FINE, MOST[kind])
        return replace(self, size=np.where(np.isnan(px), self.size, px).astype(np.float32), ground=None)

    @property
    def drawn(self) -> int:
        """How many features get a mark."""
        return int(np.count_nonzero(self.mark != UNDRAWN))

    @property
    def leading(self) -> Encoded | None:
        """The channel that tells features apart first: colour before size."""
        return next((self.encoded[name] for name in ("colour", "size") if name in self.encoded), None)

    @property
    def classification(self) -> Classification | None:
        """The classes behind the leading channel, where it has any."""
        return self.leading.classification if self.leading else None

    @property
    def values(self) -> NDArray[np.float64] | None:
        """The numbers behind it; None where rules have numbers of their own."""
        return self.leading.values if self.leading and not self.ruled else None


def ink(
    dataset: Dataset, symbology: Symbols, name: str = "", per_metre: Callable[[], NDArray[np.float64]] | None = None
) -> Ink:
    """The ink of `dataset` under `symbology`.

    Parameters
    ----------
    dataset : Dataset
        The data.
    symbology : Symbols
        How the layer is drawn.
    name : str
        What the key calls features that are all alike.
    per_metre : Callable[[], NDArray[np.float64]] | None
        Gives the units of the map to a metre on the ground where each feature lies; without, units are metres.

    Returns
    -------
    Ink

    Raises
    ------
    CannotDraw
        Where it does not suit the data; a rule is named.
    BadInput
        As the encodings do.
    """
    rules = [rule for rule in symbology.rules if rule.active]
    if not rules:
        joined = _joined(dataset, [(None, look_ink(dataset, symbology, name))], {})
        return _by_hand(_placed(joined, per_metre), dataset, symbology)
    free = np.ones(len(dataset), dtype=np.bool_)
    parts: list[tuple[NDArray[np.intp] | None, LookInk]] = []
    counts: dict[str, int] = {}
    for rule in rules:
        try:
            rows = taken(dataset, rule.where) & free
            free &= ~rows
            counts[rule.id] = int(rows.sum())
            look = rule if counts[rule.id] else _plain(rule)
            own = look_ink(dataset.taking(rows), look, rule.name, rule.id)
            parts.append((np.flatnonzero(rows), _ranged(own, rule.scales)))
        except BadExpression as error:
            raise CannotDraw(f"Rule '{rule.name}':", str(error)) from error
    counts[""] = int(free.sum())
    if symbology.others == "drawn" and free.any():
        parts.append((np.flatnonzero(free), look_ink(dataset.taking(free), symbology, "other", OTHERS)))
    return _by_hand(_placed(_joined(dataset, parts, counts), per_metre), dataset, symbology)


def _placed(inked: Ink, per_metre: Callable[[], NDArray[np.float64]] | None) -> Ink:
    """The ink with what it measures on the ground in units of the map, in place of metres."""
    if inked.ground is None or per_metre is None:
        return inked
    return replace(inked, ground=(inked.ground * per_metre()).astype(np.float32))


def _ranged(look: LookInk, scales: Scales | None) -> LookInk:
    """The ink of a rule whose marks are drawn at some scales only."""
    if scales is None:
        return look
    marks = (replace(mark, closest=scales.closest, farthest=scales.farthest) for mark in look.palette)
    return replace(look, palette=tuple(marks))


def _plain(rule: Rule) -> Rule:
    """The rule's symbol by itself: there is nothing that could vary among no rows."""
    return rule.model_copy(update={"encodings": Encodings()})


def _joined(dataset: Dataset, parts: Sequence[tuple[NDArray[np.intp] | None, LookInk]], counts: dict[str, int]) -> Ink:
    """The inks of looks put together, each in the rows that it is for; None is all."""
    if len(parts) == 1 and parts[0][0] is None:
        look = parts[0][1]
        sizes = look.size if look.metres is None else look.metres
        order = _order(dataset, sizes, look.palette, look.mark)
        return replace(_of(look), order=_named_last(dataset, look) if order is None else order)
    n = len(dataset)
    palette: list[Mark] = []
    colours: list[str] = []
    sections: list[Section] = []
    mark = np.full(n, UNDRAWN, dtype=np.uint16)
    entry = np.full(n, NONE, dtype=np.int32)
    columns: dict[str, NDArray[np.float32]] = {}
    ramp = np.full(n, AS_THE_MARK, dtype=np.uint16)
    wedges = _joined_wedges(n, parts)
    own = next((look.encoded for _, look in parts if look.sections[0].rule == OTHERS), {})
    for rows, look in parts:
        assert rows is not None
        if len(palette) + len(look.palette) > UNDRAWN:
            raise CannotDraw("The rules have more looks than can be told apart.", "Take fewer classes or categories.")
        mark[rows] = np.where(look.mark == UNDRAWN, UNDRAWN, look.mark + len(palette)).astype(np.uint16)
        before = sum(len(section.entries) for section in sections)
        entry[rows] = np.where(look.entry == NONE, NONE, look.entry + before)
        if look.ramp is not None:
            ramp[rows] = np.where(look.ramp == AS_THE_MARK, AS_THE_MARK, look.ramp + len(colours)).astype(np.uint16)
        for name, neutral in (("size", None), ("metres", None), ("angle", 0.0), ("opacity", 1.0)):
            values = getattr(look, name)
            if values is None:
                continue
            if name not in columns:
                columns[name] = np.full(n, np.nan if neutral is None else neutral, dtype=np.float32)
            columns[name][rows] = values
        palette += look.palette
        colours += look.colours
        sections += look.sections
    size = columns.get("size")
    if size is not None:
        size = np.where(np.isnan(size), usual_sizes(palette, mark, dataset.kind), size).astype(np.float32)
    return Ink(
        tuple(palette), mark, ramp if colours else None, tuple(colours), size, columns.get("metres"), columns.get("angle"), columns.get("opacity"), wedges,
        _order(dataset, size, palette, mark), tuple(sections), entry, own, tuple(counts.items()),
    )  # fmt: skip


def _of(look: LookInk) -> Ink:
    wedges = Wedges(look.shares, look.wedge_colours, look.hollow) if look.shares is not None else None
    return Ink(
        look.palette, look.mark, look.ramp, look.colours, look.size, look.metres, look.angle, look.opacity, wedges, None, look.sections, look.entry,
        look.encoded,
    )  # fmt: skip


def _joined_wedges(n: int, parts: Sequence[tuple[NDArray[np.intp] | None, LookInk]]) -> Wedges | None:
    """Wedges side by side: the shares of a look stand in columns of its own."""
    ringed = [(rows, look) for rows, look in parts if look.shares is not None]
    if not ringed:
        return None
    shares = np.zeros((n, sum(len(look.wedge_colours) for _, look in ringed)), dtype=np.float32)
    at = 0
    for rows, look in ringed:
        width = len(look.wedge_colours)
        shares[np.ix_(rows, range(at, at + width))] = look.shares  # type: ignore[arg-type]
        at += width
    colours = tuple(colour for _, look in ringed for colour in look.wedge_colours)
    return Wedges(shares, colours, ringed[0][1].hollow)


def _order(
    dataset: Dataset, size: NDArray[np.float32] | None, palette: Sequence[Mark], mark: NDArray[np.uint16]
) -> NDArray[np.int32] | None:
    """The largest first, so that none is hidden; None where all are alike, and for areas."""
    if dataset.kind == "areas":
        return None
    if size is None:
        if len({each.radius if dataset.kind == "points" else each.width for each in palette}) < 2:
            return None
        size = usual_sizes(palette, mark, dataset.kind)
    return np.argsort(-size, kind="stable").astype(np.int32)


def _named_last(dataset: Dataset, look: LookInk) -> NDArray[np.int32] | None:
    """All others and those without data first, so that they hide none of a category; None where there are no others, and for areas."""
    first = look.sections[0]
    plain = [i for i, entry in enumerate(first.entries) if entry.mark and (entry.no_data or entry.id == OTHER)]
    if dataset.kind == "areas" or len(first.entries) in (len(plain), 1) or not plain:
        return None
    return np.argsort(~np.isin(look.entry, plain), kind="stable").astype(np.int32)


def _by_hand(inked: Ink, dataset: Dataset, symbology: Symbols) -> Ink:
    """The ink with what was set for single features: their pins, and how they differ from the others."""
    pins = symbology.pins if dataset.kind == "points" else None
    pinned = {fid: pin_mark(pins, position) for position, fid in enumerate(pins.fids)} if pins else {}
    rows = _rows_of(dataset, pinned.keys() | symbology.exceptions.keys())
    if not rows:
        return inked
    mark, palette = inked.mark.copy(), list(inked.palette)
    ramp = None if inked.ramp is None else inked.ramp.copy()
    columns = inked.size, inked.ground, inked.angle, inked.opacity
    size, ground, angle, opacity = (None if each is None else each.copy() for each in columns)
    wedges = inked.wedges
    if wedges is not None and pinned:
        wedges = replace(wedges, shares=wedges.shares.copy())
    for fid in (fid for fid in pinned if fid in rows):
        row = rows[fid]
        palette.append(pinned[fid])
        mark[row] = len(palette) - 1
        if ramp is not None:
            ramp[row] = AS_THE_MARK
        for column, value in ((size, pinned[fid].radius), (ground, np.nan), (angle, 0.0), (opacity, 1.0)):
            if column is not None:
                column[row] = value
        if wedges is not None:
            wedges.shares[row] = 0.0
    for fid, departure in ((fid, each) for fid, each in symbology.exceptions.items() if fid in rows):
        row = rows[fid]
        if departure.left_out:
            mark[row] = UNDRAWN
        if mark[row] == UNDRAWN:
            continue
        palette.append(departed(palette[mark[row]], departure, dataset.kind))
        mark[row] = len(palette) - 1
        if ramp is not None and departure.fill:
            ramp[row] = AS_THE_MARK
        if size is not None and departure.radius is not None:
            size[row] = departure.radius
            if ground is not None:
                ground[row] = np.nan
    if len(palette) > UNDRAWN:
        raise CannotDraw("The layer has more looks than can be told apart.", "Take fewer classes or categories.")
    return replace(
        inked, palette=tuple(palette), mark=mark, ramp=ramp, size=size, ground=ground, angle=angle, opacity=opacity, wedges=wedges,
        order=_pins_last(inked, [rows[fid] for fid in pinned if fid in rows]),
        sections=(*inked.sections, *sections_by_hand(dataset, symbology, palette, mark, rows)),
    )  # fmt: skip


def _rows_of(dataset: Dataset, fids: Iterable[int]) -> dict[int, int]:
    """The rows of those features that are there."""
    asked = np.array(list(fids), dtype=np.int64)
    at = np.searchsorted(dataset.fids, asked)
    there = at < len(dataset)
    there[there] = dataset.fids[at[there]] == asked[there]
    return dict(zip(asked[there].tolist(), at[there].tolist(), strict=True))


def _pins_last(inked: Ink, rows: Sequence[int]) -> NDArray[np.int32] | None:
    """The drawing order with pins over all others, the first over the second."""
    if not rows:
        return inked.order
    order = np.arange(len(inked.mark), dtype=np.int32) if inked.order is None else inked.order
    return np.concatenate([order[~np.isin(order, rows)], np.array(rows[::-1], dtype=np.int32)])
