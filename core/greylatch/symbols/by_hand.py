"""What single features are given by hand: looks that depart from the others', pins, and what the key says of both."""

from collections.abc import Mapping, Sequence
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from greylatch.errors import BadInput, CannotDraw
from greylatch.sheet.symbology import Departure, Pins
from greylatch.symbols.look import UNDRAWN, Entry, Section
from greylatch.symbols.marks import Mark
from greylatch.tables.dataset import Dataset, Kind, texts

__all__ = ["BY_HAND", "PINS", "departed", "exception_section", "pin_section"]

PINS, EXCEPTIONS = "pins", "exceptions"
BY_HAND = (PINS, EXCEPTIONS)
"""The sections of a key that are about single features."""


def departed(mark: Mark, departure: Departure, kind: Kind) -> Mark:
    """The mark of a feature that departs from the others.

    Parameters
    ----------
    mark : Mark
        What it would look like.
    departure : Departure
        What is different.
    kind : Kind
        Areas, lines or points: the colour of lines is that of their top stroke.

    Returns
    -------
    Mark

    Examples
    --------
    >>> departed(Mark("#aabbcc", 1.0), Departure(fill="#b8452c"), "areas").fill
    '#b8452c'
    """
    lines = kind == "lines"
    fill = departure.fill or mark.fill
    stroke = departure.fill if lines else departure.stroke
    strokes = mark.strokes
    if stroke and strokes:
        strokes = (*strokes[:-1], replace(strokes[-1], colour=stroke))
    opacity = departure.opacity
    return replace(
        mark, fill=fill, strokes=strokes if opacity is None or not lines else tuple(replace(line, opacity=opacity) for line in strokes),
        radius=mark.radius if departure.radius is None else departure.radius,
        fill_opacity=mark.fill_opacity if opacity is None else opacity,
    )  # fmt: skip


def pin_section(
    dataset: Dataset, pins: Pins, palette: Sequence[Mark], mark: NDArray[np.uint16], rows: Mapping[int, int]
) -> Section | None:
    """What the key says of pins: each with the name of its feature, in their order.

    Parameters
    ----------
    dataset : Dataset
        The rows of the layer.
    pins : Pins
        Which features are pinned.
    palette : Sequence[Mark]
        The marks that there are.
    mark : NDArray[np.uint16]
        Which of them each row has.
    rows : Mapping[int, int]
        The rows of those that are there, by feature id.

    Returns
    -------
    Section | None
        None where there is none.

    Raises
    ------
    CannotDraw
        For a field of names that is not there.
    """
    there = [fid for fid in pins.fids if fid in rows and mark[rows[fid]] != UNDRAWN]
    if not there:
        return None
    at = np.array([rows[fid] for fid in there])
    try:
        named = texts(dataset.columns.take(at), pins.field) if pins.field else [""] * len(there)
    except BadInput as error:
        raise CannotDraw("The names of pins:", str(error)) from error
    entries = [
        Entry(f"pin {fid}", name or f"feature {fid}", palette[mark[rows[fid]]], None)
        for fid, name in zip(there, named, strict=True)
    ]
    return Section("", "", PINS, tuple(entries))


def exception_section(
    departures: Mapping[int, Departure], palette: Sequence[Mark], mark: NDArray[np.uint16], rows: Mapping[int, int]
) -> Section | None:
    """What the key says of features that differ: of those that were given words for it.

    Parameters
    ----------
    departures : Mapping[int, Departure]
        How features differ, by feature id.
    palette : Sequence[Mark]
        The marks that there are.
    mark : NDArray[np.uint16]
        Which of them each row has.
    rows : Mapping[int, int]
        The rows of those that are there, by feature id.

    Returns
    -------
    Section | None
        None where there is none.
    """
    entries = [
        Entry(f"feature {fid}", departures[fid].name, palette[mark[row]], None)
        for fid, row in rows.items()
        if departures[fid].name and mark[row] != UNDRAWN
    ]
    return Section("", "", EXCEPTIONS, tuple(entries)) if entries else None
