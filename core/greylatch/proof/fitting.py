"""Which fields a sheet asks of a dataset, and what no longer fits when the dataset changes."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass

from greylatch.errors import BadExpression, BadTemplate
from greylatch.reading.template import placeholders
from greylatch.rules.language import parsed
from greylatch.rules.values import MEASURES, OTHER, SHAPE
from greylatch.sheet.document import Classed, Graduated, Layer, NormaliseByField, Proportional, Sheet

__all__ = ["unfit"]


@dataclass(frozen=True)
class Use:
    """A field or an expression that a layer needs, for what, and whether it has to hold numbers."""

    field: str
    purpose: str
    numeric: bool


def uses_of(layer: Layer) -> Iterator[Use]:
    """The fields that a layer needs; those of its card are not among them, for a card shows nothing where a field is missing.

    >>> layer = Layer(id="a", name="A", dataset="d", symbology={"kind": "proportional", "field": "v"})
    >>> list(uses_of(layer))
    [Use(field='v', purpose='the size of its symbols', numeric=True)]
    """
    symbology = layer.symbology
    if isinstance(symbology, (Classed, Graduated)):
        yield Use(symbology.classing.field, "its classes", True)
        if symbology.classing.weight:
            yield Use(symbology.classing.weight, "weighing its classes", True)
        normalise = symbology.classing.normalise
    elif isinstance(symbology, Proportional):
        yield Use(symbology.field, "the size of its symbols", True)
        normalise = symbology.normalise
    else:
        normalise = None
    if isinstance(normalise, NormaliseByField):
        yield Use(normalise.field, "dividing its values", True)
    if layer.filter.strip():
        yield Use(layer.filter, "its filter", False)
    if layer.lettering:
        yield Use(layer.lettering.field, "its labels", False)


def unfit(sheet: Sheet, dataset: str, types: Mapping[str, str]) -> list[str]:
    """What of the sheet's layers on a dataset does not fit fields of these types, in words.

    Parameters
    ----------
    sheet : Sheet
        The sheet.
    dataset : str
        The name of the dataset.
    types : Mapping[str, str]
        Type of each field, by name.

    Returns
    -------
    list[str]

    Examples
    --------
    >>> layer = {"id": "a", "name": "Carbon", "dataset": "d", "symbology": {"kind": "classed", "classing": {"field": "t"}}}
    >>> unfit(Sheet(title="Peat", layers=[layer]), "d", {"t": "text"})
    ["Layer 'Carbon' needs numbers in 't' for its classes, which holds text now."]
    """
    words = []
    for layer in sheet.layers:
        if layer.dataset != dataset:
            continue
        for use in uses_of(layer):
            now = types.get(use.field)
            if now is None:
                words += [
                    f"Layer '{layer.name}' needs the field '{name}' for {use.purpose}, which is gone."
                    for name in sorted(_names_in(use.field) - set(types))
                ]
            elif use.numeric and now not in ("integer", "number"):
                words.append(
                    f"Layer '{layer.name}' needs numbers in '{use.field}' for {use.purpose}, which holds {now} now."
                )
        words += _unknown_in_card(layer, types)
    return words


def _names_in(text: str) -> set[str]:
    """The fields that an expression names; the text itself where it is none."""
    try:
        return parsed(text).fields - set(MEASURES) - {SHAPE, OTHER}
    except BadExpression:
        return {text}


def _unknown_in_card(layer: Layer, types: Mapping[str, str]) -> list[str]:
    try:
        return [
            f"The card of layer '{layer.name}' names '{name}', which is gone."
            for name in placeholders(layer.card)
            if name not in types
        ]
    except BadTemplate:
        return []
