"""What readers are offered on their page and will not get: fields and layers that are not there or not drawn by themselves, and what is asked of
fields that cannot answer it."""

from collections.abc import Callable, Iterator

import pyarrow as pa

from greylatch.errors import CannotDraw
from greylatch.paint.passes import VectorPass, pass_of
from greylatch.paint.sources import Find
from greylatch.reading.askable import has_dates, has_ends
from greylatch.sheet.document import Sheet
from greylatch.sheet.layers import Layer
from greylatch.sheet.reader import Reader

__all__ = ["Amiss", "amiss_in"]

Without = Callable[[Reader], Reader]
Amiss = tuple[str, str, Without]
"""A part of what readers are offered, in words; what is wrong with it; and the same without it."""


CANNOT = pa.table({})
Wanted = tuple[str, Callable[[pa.ChunkedArray], bool]]
DATES: Wanted = ("dates", has_dates)
ENDS: Wanted = ("numbers or dates", has_ends)


def amiss_in(sheet: Sheet, find: Find) -> Iterator[Amiss]:
    """The filters, searches and times of a sheet that its page leaves out, and why.

    Parameters
    ----------
    sheet : Sheet
        The sheet.
    find : Find
        Gives the source of a dataset's name in a frame.

    Yields
    ------
    Amiss
    """
    reader = sheet.reader
    known: dict[str, pa.Table | None] = {}

    def wrong(layer_id: str, *fields: str | None, wants: Wanted | None = None) -> str:
        layer = next((each for each in sheet.layers if each.id == layer_id), None)
        if layer is None:
            return "its layer is not there any more"
        if layer_id not in known:
            known[layer_id] = _columns(layer, find)
        there = known[layer_id]
        if there is CANNOT:
            return ""  # which is said of the layer itself
        if there is None:
            return f"'{layer.name}' has no features of its own"
        for field in filter(None, fields):
            if field not in there.column_names:
                return f"'{layer.name}' has no field '{field}'"
            if wants is not None and not wants[1](there[field]):
                return f"'{field}' of '{layer.name}' holds no {wants[0]}"
        return ""

    for i, part in enumerate(reader.filters):
        why = wrong(part.layer, part.field, wants=ENDS if part.kind == "range" else None)
        if why:
            yield f"The filter by '{part.title or part.field}'", why, _without("filters", i)
    for i, search in enumerate(reader.search):
        why = wrong(search.layer, search.field)
        if why:
            yield f"The search in '{search.field}'", why, _without("search", i)
    if reader.time:
        why = wrong(reader.time.layer, reader.time.field, reader.time.until, wants=DATES)
        if why:
            yield "Time", why, lambda whole: whole.model_copy(update={"time": None})


def _without(name: str, place: int) -> Without:
    return lambda reader: reader.model_copy(
        update={name: [each for i, each in enumerate(getattr(reader, name)) if i != place]}
    )


def _columns(layer: Layer, find: Find) -> pa.Table | None:
    """What is known of a layer's features; None where it has none, `CANNOT` where it can't be drawn at all."""
    try:
        drawn = pass_of(layer, find)
    except CannotDraw:
        return CANNOT
    return drawn.source.dataset.columns if isinstance(drawn, VectorPass) else None
