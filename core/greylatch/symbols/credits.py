"""Whom a map owes its pictures to."""

from collections.abc import Iterator

from greylatch.sheet.document import Sheet
from greylatch.sheet.layers import Layer
from greylatch.sheet.parts import Symbol
from greylatch.sheet.symbology import Clusters, Symbols

__all__ = ["credit_line", "credits_of", "line_of"]


def credits_of(sheet: Sheet) -> str:
    """The credits of a map: as its maker wrote them, and those of the icons that it shows.

    Parameters
    ----------
    sheet : Sheet
        The sheet.

    Returns
    -------
    str

    Examples
    --------
    >>> from greylatch.sheet.document import Furniture
    >>> credits_of(Sheet(title="A", furniture=Furniture(credits="Survey of the isles")))
    'Survey of the isles'
    """
    owed = (
        symbol.icon.credit for layer in sheet.layers if sheet.shown(layer) for symbol in _symbols(layer) if symbol.icon
    )
    named = [credit for credit in dict.fromkeys(owed) if credit and credit not in sheet.furniture.credits]
    return " · ".join(
        [*([sheet.furniture.credits] if sheet.furniture.credits else []), *(f"Icons: {each}" for each in named)]
    )


def credit_line(sheet: Sheet) -> str:
    """What stands with a map wherever it is shown: its credits, of when its data are, and on what terms it may be used.

    Parameters
    ----------
    sheet : Sheet
        The sheet.

    Returns
    -------
    str

    Examples
    --------
    >>> from greylatch.sheet.document import Furniture
    >>> credit_line(Sheet(title="A", furniture=Furniture(credits="Survey of the isles", source_date="May 2024")))
    'Survey of the isles · May 2024'
    """
    return line_of(credits_of(sheet), sheet.furniture.source_date, sheet.furniture.terms)


def line_of(credits: str, source_date: str, terms: str) -> str:
    """Credits, of when the data are, and terms of use in a line; what is empty is left out.

    Parameters
    ----------
    credits : str
        Whom the map owes what it shows.
    source_date : str
        Of when its data are.
    terms : str
        On which it may be used.

    Returns
    -------
    str
    """
    return " · ".join(part for part in (credits, source_date, terms) if part)


def _symbols(layer: Layer) -> Iterator[Symbol]:
    if isinstance(layer.symbology, Clusters):
        yield layer.symbology.symbol
    if isinstance(layer.symbology, Symbols):
        yield layer.symbology.symbol
        yield from (rule.symbol for rule in layer.symbology.rules if rule.active)
        if layer.symbology.pins:
            yield layer.symbology.pins.symbol
