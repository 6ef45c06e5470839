"""What single features are given by hand: looks that depart from the others', pins, and what the key says of both."""

from collections.abc import Mapping, Sequence
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from greylatch.errors import BadInput, CannotDraw
from greylatch.sheet.symbology import Departure, Symbols
from greylatch.symbols.look import UNDRAWN, Entry, Section
from greylatch.symbols.marks import Mark
from greylatch.tables.dataset import Dataset, Kind, texts

__all__ = ["BY_HAND", "PINS", "departed", "sections_by_hand"]

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


def sections_by_hand(
    dataset: Dataset, symbology: Symbols, palette: Sequence[Mark], mark: NDArray[np.uint16], rows: Mapping[int, int]
) -> tuple[Section, ...]:
    """What the key says of single features: pins with the names of their features, in their order; and features that differ, where words
    were given for it.

    Parameters
    ----------
    dataset : Dataset
        The rows of the layer.
    symbology : Symbols
        How the layer is drawn.
    palette : Sequence[Mark]
        The marks that there are.
    mark : NDArray[np.uint16]
        Which of them each row has.
    rows : Mapping[int, int]
        The rows of those features that are there, by feature id.

    Returns
    -------
    tuple[Section, ...]

    Raises
    ------
    CannotDraw
        For a field of names that is not there.
    """
    seen = {fid: palette[mark[row]] for fid, row in rows.items() if mark[row] != UNDRAWN}
    sections = []
    pins = symbology.pins
    pinned = [fid for fid in pins.fids if fid in seen] if pins and dataset.kind == "points" else []
    if pins and pinned:
        at = np.array([rows[fid] for fid in pinned])
        try:
            named = texts(dataset.columns.take(at), pins.field) if pins.field else [""] * len(pinned)
        except BadInput as error:
            raise CannotDraw("The names of pins:", str(error)) from error
        entries = [
            Entry(f"pin {fid}", name or f"feature {fid}", seen[fid], None)
            for fid, name in zip(pinned, named, strict=True)
        ]
        sections.append(Section("", "", PINS, tuple(entries)))
    differing = [
        Entry(f"feature {fid}", departure.name, seen[fid], None)
        for fid, departure in symbology.exceptions.items()
        if departure.name and fid in seen
    ]
    if differing:
        sections.append(Section("", "", EXCEPTIONS, tuple(differing)))
    return tuple(sections)
