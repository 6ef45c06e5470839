"""What a layer's labels ask for: its lettering filled with its rows."""

from collections.abc import Callable, Sequence
from dataclasses import replace
from functools import partial
from textwrap import wrap

import numpy as np
import shapely
from numpy.typing import NDArray

from greylatch.colour.difference import contrast
from greylatch.colour.readable import readable_on
from greylatch.errors import BadInput, CannotDraw
from greylatch.lettering.anchors import anchors_of
from greylatch.lettering.asked import ToLetter
from greylatch.lettering.byhand import Hand
from greylatch.lettering.faces import face_of
from greylatch.lettering.label import Label
from greylatch.lettering.pieces import joined_pieces
from greylatch.lettering.place import Placement
from greylatch.lettering.plates import is_shield, plate_room
from greylatch.lettering.type import TextStyle
from greylatch.paint.sources import VectorSource
from greylatch.places.bounds import Bounds
from greylatch.places.frame import MERCATOR, Frame
from greylatch.sheet.lettering import HandLabel, LabelLine, Lettering
from greylatch.sheet.template import filled
from greylatch.symbols.ink import AS_THE_MARK, UNDRAWN, Ink
from greylatch.symbols.letter_colours import letter_ink
from greylatch.tables.dataset import Dataset, Kind, numbers

__all__ = ["fills_of", "labels_in", "of_marks", "over", "radii_of", "text_style", "to_letter"]

CASES: dict[str, Callable[[str], str]] = {"capitals": str.upper, "lower case": str.lower, "title": str.title}
"""How words are written otherwise than they are."""
DARK, LIGHT = "#1f2421", "#ffffff"


def to_letter(source: VectorSource, ink: Ink, lettering: Lettering, frame: Frame = MERCATOR) -> ToLetter:
    """What the labels of a layer ask for.

    Parameters
    ----------
    source : VectorSource
        What the layer draws.
    ink : Ink
        How.
    lettering : Lettering
        What its labels say, and how they look.
    frame : Frame
        Where the map lies.

    Returns
    -------
    ToLetter

    Raises
    ------
    CannotDraw
        For a field that is not there, or can't be written as it is to be.
    """
    data = source.dataset
    drawn = ink.mark != UNDRAWN
    try:
        parts = [_of_line(line, data, drawn) for line in lettering.lines]
        first = lettering.lines[0]
        shorter = (
            _of_line(first.model_copy(update={"text": lettering.shorter}), data, drawn) if lettering.shorter else None
        )
        ranks = numbers(data.columns, lettering.first_by) if lettering.first_by else None
        colours = _colours(data, ink, lettering)
    except BadInput as error:
        raise CannotDraw(str(error)) from error
    plate, hands = lettering.frame, _hands(lettering, data, frame)
    # Nobody reads a shield that lies on its side.
    shield = data.kind == "lines" and plate is not None and is_shield(plate.shape)
    shapes, anchors = source.shapes, lambda: source.anchors
    if data.kind == "lines" and lettering.course != "level":
        shapes, carry = joined_pieces(shapes, ["\n".join(words) for words in zip(*parts, strict=True)], hands)
        parts = [[word if on else "" for word, on in zip(own, carry.tolist(), strict=True)] for own in parts]
        anchors = partial(anchors_of, data.kind, shapes)
    return ToLetter(
        data.kind, shapes, parts, [text_style(line) for line in lettering.lines], lettering.halo, lettering.must_fit,
        radii_of(ink, "points") if data.kind == "points" else of_marks(ink, "half"), anchors, data.fids,
        "standing" if shield and lettering.course != "level" else lettering.course, ranks, shorter, lettering.once_within or 0.0, lettering.priority, lettering.leading,
        plate_room(plate.shape, plate.room + plate.width / 2, first.size) if plate else 0.0, lettering.beside, lettering.sides,
        min(1.0, lettering.smallest / first.size) if lettering.smallest else 1.0, lettering.outside, lettering.throughout, hands,
        colours,
    )  # fmt: skip


def text_style(line: LabelLine) -> TextStyle:
    """How a line of labels is set."""
    return TextStyle(line.size, face_of(line.family, line.weight, line.italic), line.spacing)


def _of_line(line: LabelLine, data: Dataset, drawn: NDArray[np.bool_]) -> list[str]:
    """What a line of the labels says, by row; '' for what is not drawn."""
    words = filled(line.text, data)
    if line.case != "as written":
        words = [CASES[line.case](word) for word in words]
    if line.wrap:
        words = ["\n".join(wrap(word, line.wrap)) for word in words]
    return [word if there else "" for word, there in zip(words, drawn.tolist(), strict=True)]


def _hands(lettering: Lettering, data: Dataset, frame: Frame) -> dict[int, Hand]:
    """By row what was done by hand to its label; features that are gone have none."""
    if not lettering.by_hand:
        return {}
    rows = {int(fid): row for row, fid in enumerate(data.fids.tolist())}
    size = lettering.lines[0].size
    out = {}
    for hand in lettering.by_hand:
        place = _placed(hand, frame)
        scales = hand.scales
        if hand.fid in rows:
            out[rows[hand.fid]] = Hand(
                hand.hidden, place, hand.turn, (hand.size or size) / size, hand.colour, hand.text,
                hand.leader, frame.resolution_at(scales.closest) if scales and scales.closest else None,
                frame.resolution_at(scales.farthest) if scales and scales.farthest else None,
            )  # fmt: skip
    return out


def _placed(hand: HandLabel, frame: Frame) -> tuple[float, float] | None:
    """Where a label was put; None where it was not, or where the map doesn't show that place."""
    if hand.at is None:
        return None
    try:
        return frame.place(hand.at[0], hand.at[1])
    except BadInput:
        return None


def labels_in(placement: Placement, bounds: Bounds, resolution: float, beyond: float) -> list[Label]:
    """The placed labels that may touch `bounds`.

    Parameters
    ----------
    placement : Placement
        The labels as they were placed.
    bounds : Bounds
        West, south, east, north, in the frame.
    resolution : float
        Units of the frame to a px.
    beyond : float
        Px by which what surrounds a label (halo, frame, shadow) goes beyond its box.

    Returns
    -------
    list[Label]
    """
    west, south, east, north = bounds
    x, y = placement.places.T
    left, top, right, bottom = placement.boxes.T
    across = (x + (left - beyond) * resolution <= east) & (x + (right + beyond) * resolution >= west)
    down = (y - (top - beyond) * resolution >= south) & (y - (bottom + beyond) * resolution <= north)
    return [placement.labels[i] for i in np.flatnonzero(across & down).tolist()]


def of_marks(ink: Ink, what: str) -> NDArray[np.float32]:
    """Something of each feature's mark; 0 where it has none.

    Parameters
    ----------
    ink : Ink
        How features are drawn.
    what : str
        The name of a number of marks: 'radius', 'half', 'casing', 'stretch'.

    Returns
    -------
    NDArray[np.float32]
    """
    table = np.zeros(len(ink.palette) + 1, dtype=np.float32)
    table[:-1] = [getattr(mark, what) for mark in ink.palette]
    return table[np.minimum(ink.mark, len(ink.palette))]


def radii_of(ink: Ink, kind: Kind) -> NDArray[np.float32]:
    """Px of the radius of each feature's point symbol; 0 where it is not drawn.

    Parameters
    ----------
    ink : Ink
        How features are drawn.
    kind : Kind
        What they are.

    Returns
    -------
    NDArray[np.float32]
    """
    return ink.size if ink.size is not None and kind == "points" else of_marks(ink, "radius")


def fills_of(ink: Ink, kind: Kind) -> list[str]:
    """The colour of each feature: of its fill, of lines that of their upmost stroke; '' where it is not drawn.

    Parameters
    ----------
    ink : Ink
        How features are drawn.
    kind : Kind
        What they are.

    Returns
    -------
    list[str]
    """
    own = [mark.colour_of(kind) for mark in ink.palette]
    fills = [*own, ""]
    marks = np.minimum(ink.mark, len(own)).tolist()
    if ink.ramp is None:
        return [fills[mark] for mark in marks]
    ramp = ink.ramp.tolist()
    return [
        fills[mark] if position == AS_THE_MARK or not fills[mark] else ink.colours[position]
        for mark, position in zip(marks, ramp, strict=True)
    ]


def _colours(data: Dataset, ink: Ink, lettering: Lettering) -> list[tuple[str, str]] | None:
    """The colour of each label and that of its halo, where they vary by a field: a readable shade of its feature's, or what their own
    encoding says."""
    halo, usual = lettering.halo_colour, lettering.lines[0].colour
    if lettering.colours == "symbol":
        return [(readable_on(fill, halo) if fill else usual, halo) for fill in fills_of(ink, data.kind)]
    if lettering.colours == "field":
        return [(fill or usual, halo) for fill in fills_of(letter_ink(data, lettering), data.kind)]
    return None


def over(
    wanted: ToLetter, lettering: Lettering | None, passes: Sequence[tuple[VectorSource, Ink]], ground: str | None
) -> ToLetter:
    """Labels in the colour that is read on what lies below them, their frame before all else, where their lettering asks for that: letters dark
    or light, the halo in the colour that lies there.

    Parameters
    ----------
    wanted : ToLetter
        The labels.
    lettering : Lettering | None
        How they look.
    passes : Sequence[tuple[VectorSource, Ink]]
        All layers of shapes, from the top.
    ground : str | None
        The colour below all layers.

    Returns
    -------
    ToLetter
    """
    if lettering is None or lettering.colours != "below":
        return wanted
    if lettering.frame is not None:  # that is what lies below the letters
        return replace(wanted, colours=[_read_on(lettering.frame.fill)] * len(wanted.texts))
    behind = np.full(len(wanted.texts), ground or LIGHT, dtype=object)
    anchors = wanted.anchors
    open_ = np.asarray(np.isfinite(anchors).all(axis=1), dtype=bool)
    places = shapely.points(np.where(open_[:, None], anchors, 0.0))
    for source, ink in passes:
        if source.dataset.kind != "areas" or not open_.any():
            continue
        fills = np.array(fills_of(ink, "areas"), dtype=object)
        rows = np.flatnonzero(open_)
        which, areas = shapely.STRtree(source.shapes).query(places[rows], predicate="intersects")
        drawn = fills[areas] != ""
        behind[rows[which[drawn]]] = fills[areas[drawn]]
        open_[rows[which[drawn]]] = False
    return replace(wanted, colours=[_read_on(colour) for colour in behind.tolist()])


def _read_on(colour: str) -> tuple[str, str]:
    """Dark or light, whichever is read better on a colour, and that colour for the halo."""
    return DARK if contrast(DARK, colour) >= contrast(LIGHT, colour) else LIGHT, colour
