"""The ink of one look: a symbol with its encodings, for rows that are all drawn by it."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from greylatch.encodings.by_classes import ColourByClasses, SizeByClasses
from greylatch.encodings.encoded import NONE, Encoded, Step
from greylatch.errors import CannotDraw
from greylatch.sheet.symbology import Look
from greylatch.symbols.marks import Mark, mark_of
from greylatch.tables.dataset import Dataset, Kind

__all__ = ["AS_THE_MARK", "UNDRAWN", "Entry", "LookInk", "Section", "look_ink", "usual_sizes"]

UNDRAWN = 65_535
"""The palette position of features that are not drawn."""
AS_THE_MARK = 65_535
"""The ramp position of features whose colour is that of their mark."""
NO_DATA_RADIUS = 2.0
"""Px of a point whose size follows a value that is not known."""
SIDES = "across", "up"
"""Ids of the sides of a square."""
PLAIN = "#8f8c85"
"""Of samples of size and faintness where colours say something else, so that they are taken for none of these."""
NO_DATA, ALL = "no-data", "all"


@dataclass(frozen=True)
class Entry:
    """A line of the key before it is worded: what it stands for, its text, a mark (None: not drawn), how many features it has;
    the numbers of the text, from where to where."""

    id: str
    text: str
    mark: Mark | None
    count: int | None
    limits: tuple[float, float] | None = None
    no_data: bool = False
    numbers: tuple[tuple[float, float], ...] = ()
    step: int | None = None
    """Which category, component or class of its encoding it is."""


@dataclass(frozen=True)
class Section:
    """What one channel of a look says in the key. `rule` is its id, '' for the layer itself; steps of a ladder are `rising`."""

    rule: str
    heading: str
    channel: str
    entries: tuple[Entry, ...]
    rising: bool = False
    ramp: tuple[str, ...] = ()
    ends: tuple[float, ...] = ()
    square: tuple[int, int] | None = None
    sides: tuple[tuple[str, str], ...] = ()
    """Of a square the id and the name of what rises to the right, and upwards."""
    words: tuple[str, ...] = ()
    """What is said at the ends of a ramp that stands for no numbers."""
    decimals: int | None = None
    """Those with which the numbers are shown; None: as many as tell them apart."""


@dataclass(frozen=True)
class LookInk:
    """Columns as those of `Ink`, for the rows of one look; `metres` (float32) are those of sizes measured on the ground."""

    palette: tuple[Mark, ...]
    mark: NDArray[np.uint16]
    entry: NDArray[np.int32]
    sections: tuple[Section, ...]
    encoded: dict[str, Encoded]
    ramp: NDArray[np.uint16] | None = None
    colours: tuple[str, ...] = ()
    size: NDArray[np.float32] | None = None
    metres: NDArray[np.float32] | None = None
    angle: NDArray[np.float32] | None = None
    opacity: NDArray[np.float32] | None = None
    shares: NDArray[np.float32] | None = None
    wedge_colours: tuple[str, ...] = ()
    hollow: float = 0.0


@dataclass(frozen=True)
class Choice:
    """What a channel lets a mark be, and which of it each row has (`NONE`: it is not drawn)."""

    steps: tuple[Step, ...]
    row: NDArray[np.int32]


def look_ink(dataset: Dataset, look: Look, name: str, rule: str = "") -> LookInk:
    """The ink of rows that have one look.

    Parameters
    ----------
    dataset : Dataset
        The rows.
    look : Look
        Symbol and encodings.
    name : str
        What the key calls features that are all alike.
    rule : str
        The id of the rule whose look it is.

    Returns
    -------
    LookInk

    Raises
    ------
    CannotDraw
        Where a channel needs other shapes.
    BadInput
        As the encodings do.
    """
    kind = dataset.kind
    _suits(look, kind)
    encoded = {channel: encoding.encode(dataset) for channel, encoding in look.encodings.used()}
    colour, size, shares = encoded.get("colour"), encoded.get("size"), encoded.get("shares")
    together = _together(look)
    palette, mark = _palette(look, kind, len(dataset), colour, size, together)
    if shares is not None:
        mark = np.where(shares.lacking, UNDRAWN, mark).astype(np.uint16)
    sections = _sections(look, kind, encoded, together, name, rule, len(dataset))
    ramp = None
    if colour is not None and colour.amount is not None:
        position = np.nan_to_num(colour.amount) * (len(colour.ramp) - 1)
        ramp = np.where(colour.lacking, AS_THE_MARK, np.rint(position)).astype(np.uint16)
    sizes = _sizes(size)
    metres = None
    if look.symbol.ground is not None and kind in ("points", "lines"):
        sizes = usual_sizes(palette, mark, kind) if sizes is None else sizes
        metres = sizes * np.float32(look.symbol.ground / _reference(look, kind))
    return LookInk(
        palette, mark, _entry(encoded, sections, len(dataset)), sections, encoded, ramp, colour.ramp if colour else (),
        sizes, metres, encoded["angle"].amount if "angle" in encoded else None, _opacities(encoded),
        shares.shares if shares else None, tuple(step.colour or "" for step in shares.steps) if shares else (),
        shares.hollow if shares else 0.0,
    )  # fmt: skip


def usual_sizes(palette: Sequence[Mark], mark: NDArray[np.uint16], kind: Kind) -> NDArray[np.float32]:
    """Px of the radius of points, of the width of lines, as the mark of each feature has it; 0 where it is not drawn.

    Parameters
    ----------
    palette : Sequence[Mark]
        The marks that there are.
    mark : NDArray[np.uint16]
        Which of them each feature has.
    kind : Kind
        What the features are.

    Returns
    -------
    NDArray[np.float32]
    """
    table = np.zeros(UNDRAWN + 1, dtype=np.float32)
    table[: len(palette)] = [each.radius if kind == "points" else each.width for each in palette]
    return table[mark]


def _reference(look: Look, kind: Kind) -> float:
    """Px of the size that `Symbol.ground` tells the metres of."""
    if look.encodings.size is not None:
        px = look.encodings.size.largest
    else:
        px = look.symbol.radius if kind == "points" else mark_of(look.symbol, kind).width
    return max(px, 0.01)


def _suits(look: Look, kind: Kind) -> None:
    encodings = look.encodings
    if encodings.size and kind not in ("points", "lines"):
        raise CannotDraw(f"Symbols of several sizes need points or lines, and this layer holds {kind}.")
    for channel, what in ((encodings.angle, "Turned symbols"), (encodings.shares, "Pies and rings")):
        if channel and kind != "points":
            raise CannotDraw(f"{what} need points, and this layer holds {kind}.")


def _together(look: Look) -> bool:
    """Whether colour and size say the same of the same classes, and so have one key."""
    colour, size = look.encodings.colour, look.encodings.size
    return isinstance(colour, ColourByClasses) and isinstance(size, SizeByClasses) and colour.classing == size.classing


def _choice(encoded: Encoded | None, rows: int, smallest: float | None) -> Choice:
    """The looks of a channel, the one for no data last."""
    if encoded is None:
        return Choice((Step("", ""),), np.zeros(rows, dtype=np.int32))
    if encoded.step is not None:
        steps, row = encoded.steps, encoded.step
        hidden = np.array([not step.drawn for step in steps] + [False])
        row = np.where(hidden[row], NONE, row)
    else:
        # A middle one: its own amount stands in a column.
        amounts = encoded.amount
        assert amounts is not None
        greatest = float(np.nan_to_num(amounts).max(initial=0.0)) if smallest is not None else None
        steps = (Step("", "", size=greatest),)
        row = np.where(amounts > 0, 0, NONE) if smallest is not None else np.zeros(rows, dtype=np.int32)
        row = np.where(np.isnan(amounts), NONE, row)
    if encoded.no_data and encoded.lacking.any():
        row = np.where(encoded.lacking, len(steps), row)
        steps = (*steps, Step(NO_DATA, "", colour=encoded.no_data, size=smallest))
    elif encoded.no_data:
        steps = (*steps, Step(NO_DATA, "", colour=encoded.no_data, size=smallest))
    return Choice(steps, row.astype(np.int32))


def _palette(
    look: Look, kind: Kind, rows: int, colour: Encoded | None, size: Encoded | None, together: bool
) -> tuple[tuple[Mark, ...], NDArray[np.uint16]]:
    """The marks that there are, and which of them each row has."""
    smallest = _smallest(size)
    coloured, sized = _choice(colour, rows, None), _choice(size, rows, smallest)
    if together or size is None or colour is None:
        entry = sized if colour is None else coloured
        pairs = [
            (coloured.steps[i] if colour else None, sized.steps[min(i, len(sized.steps) - 1)] if size else None)
            for i in range(len(entry.steps))
        ]
        mark = np.where(entry.row == NONE, UNDRAWN, entry.row)
    else:
        across = len(sized.steps)
        code = np.where((coloured.row == NONE) | (sized.row == NONE), NONE, coloured.row * across + sized.row)
        used, mark = np.unique(code, return_inverse=True)
        pairs = [(coloured.steps[c // across], sized.steps[c % across]) for c in used[used != NONE].tolist()]
        mark = np.where(code == NONE, UNDRAWN, mark - int((used == NONE).any()))
    return tuple(_mark(look, kind, *pair) for pair in pairs), mark.astype(np.uint16)


def _mark(look: Look, kind: Kind, colour: Step | None, size: Step | None) -> Mark:
    # No data of either channel shows as that.
    shown = size.colour if size is not None and size.colour else (colour.colour if colour else None)
    return mark_of(look.symbol, kind, shown, size.size if size else None, colour.shape if colour else None)


def _smallest(size: Encoded | None) -> float:
    sizes = [step.size for step in size.steps if step.size is not None] if size and size.step is not None else []
    return min(sizes, default=NO_DATA_RADIUS)


def _sizes(size: Encoded | None) -> NDArray[np.float32] | None:
    if size is None or size.amount is None:
        return None
    return np.where(np.isnan(size.amount), np.float32(NO_DATA_RADIUS if size.no_data else 0.0), size.amount).astype(
        np.float32
    )


def _opacities(encoded: dict[str, Encoded]) -> NDArray[np.float32] | None:
    """How opaque fills are: by a channel of its own, and fainter where a colour is not sure."""
    factors = []
    if "opacity" in encoded:
        amount = encoded["opacity"].amount
        assert amount is not None
        factors.append(np.where(np.isnan(amount), np.float32(1.0), amount))
    if "colour" in encoded and encoded["colour"].strength is not None:
        factors.append(encoded["colour"].strength)
    return np.prod(factors, axis=0).astype(np.float32) if factors else None


def _sections(
    look: Look, kind: Kind, encoded: dict[str, Encoded], together: bool, name: str, rule: str, rows: int
) -> tuple[Section, ...]:
    heading = name if rule else ""
    sections = []
    coloured = "colour" in encoded or "shares" in encoded
    for channel in ("colour", "size", "shares"):
        if channel not in encoded or (channel == "size" and together):
            continue
        other = encoded.get("size") if together and channel == "colour" else None
        plain = PLAIN if channel == "size" and coloured else None
        sections.append(_section(look, kind, channel, encoded[channel], other, heading, rule, plain))
    if not any(section.entries or section.ramp for section in sections):
        entry = Entry(_id(rule, ALL), name, mark_of(look.symbol, kind), rows)
        sections = [Section(rule, "", "symbol", (entry,))]
    # Last, since no feature stands at one of its entries.
    if "opacity" in encoded:
        sections.append(
            _section(look, kind, "opacity", encoded["opacity"], None, "", rule, PLAIN if coloured else None)
        )
    return tuple(sections)


def _section(
    look: Look,
    kind: Kind,
    channel: str,
    encoded: Encoded,
    other: Encoded | None,
    heading: str,
    rule: str,
    plain: str | None,
) -> Section:
    entries = []
    for i, step in enumerate(encoded.steps):
        size = other.steps[i].size if other else step.size
        drawn = mark_of(look.symbol, kind, step.colour or plain, size, step.shape) if step.drawn else None
        if drawn is not None and step.opacity is not None:
            drawn = _fainter(drawn, kind, step.opacity)
        entries.append(
            Entry(_id(rule, step.id), step.text, drawn, step.count, step.limits, numbers=step.numbers, step=i)
        )
    missing = int(encoded.lacking.sum())
    if missing and channel not in ("shares", "opacity"):
        size = _smallest(other or encoded) if other or channel == "size" else None
        mark = mark_of(look.symbol, kind, encoded.no_data, size) if encoded.no_data else None
        entries.append(Entry(_id(rule, NO_DATA), encoded.unknown, mark, missing, no_data=True))
    sides = tuple((_id(rule, side), named) for side, named in zip(SIDES, encoded.sides, strict=False))
    return Section(
        rule, heading, channel, tuple(entries), encoded.rising, encoded.ramp, encoded.ends, encoded.square, sides, decimals=encoded.decimals,
    )  # fmt: skip


def _fainter(mark: Mark, kind: Kind, opacity: float) -> Mark:
    """A mark as it is drawn where its fill, or the strokes of a line, are so opaque."""
    if kind != "lines":
        return replace(mark, fill_opacity=mark.fill_opacity * opacity)
    return replace(mark, strokes=tuple(replace(each, opacity=each.opacity * opacity) for each in mark.strokes))


def _entry(encoded: dict[str, Encoded], sections: tuple[Section, ...], rows: int) -> NDArray[np.int32]:
    """At which entry of the first section each row stands."""
    first = sections[0]
    if first.channel == "symbol":
        return np.zeros(rows, dtype=np.int32)
    channel = encoded[first.channel]
    if channel.step is None:
        return np.full(rows, NONE, dtype=np.int32)
    last = len(first.entries) - 1
    return np.where(channel.step == NONE, last, channel.step).astype(np.int32)


def _id(rule: str, id: str) -> str:
    return f"{rule}: {id}" if rule else id
