"""Which fields a sheet asks of a dataset, and what no longer fits when the dataset changes."""

from collections.abc import Iterator, Mapping

from greylatch.encodings.encoded import Use
from greylatch.errors import BadExpression, BadTemplate
from greylatch.reading.template import placeholders
from greylatch.rules.language import parsed
from greylatch.rules.values import MEASURES, OTHER, SHAPE
from greylatch.sheet.document import Sheet
from greylatch.sheet.layers import Layer
from greylatch.sheet.symbology import Heat, Symbols
from greylatch.sheet.template import FieldIn, parts_of

__all__ = ["unfit"]


def uses_of(layer: Layer) -> Iterator[Use]:
    """The fields that a layer needs; those of its card are not among them, for a card shows nothing where a field is missing.

    >>> layer = Layer(id="a", name="A", dataset="d", symbology={"kind": "symbols", "encodings": {"size": {"by": "value", "field": "v"}}})
    >>> list(uses_of(layer))
    [Use(field='v', purpose='the size of its symbols', numeric=True)]
    """
    symbology, reading = layer.symbology, layer.reading
    if reading is not None:
        yield from reading.uses()
    if isinstance(symbology, Heat) and symbology.weight:
        yield Use(symbology.weight, "the weight of its points", True)
    cell_columns = {"value", "count"} if reading is not None and reading.by == "grid" else set()
    if isinstance(symbology, Symbols):
        for look in (symbology, *symbology.rules):
            for _, encoding in look.encodings.used():
                yield from (use for use in encoding.uses() if use.field not in cell_columns)
        for rule in symbology.rules:
            yield Use(rule.where, f"its rule '{rule.name}'", False)
    if layer.filter.strip():
        yield Use(layer.filter, "its filter", False)
    if layer.lettering:
        named = {
            part.name for text in layer.lettering.templates for part in parts_of(text) if isinstance(part, FieldIn)
        }
        yield from (Use(name, "its labels", False) for name in sorted(named))
        if layer.lettering.colours == "field" and layer.lettering.colour:
            yield from (
                Use(use.field, "the colours of its labels", use.numeric) for use in layer.lettering.colour.uses()
            )


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
    >>> layer = {"id": "a", "name": "Carbon", "dataset": "d"}
    >>> layer["symbology"] = {"kind": "symbols", "encodings": {"colour": {"by": "classes", "classing": {"field": "t"}}}}
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
                    for name in sorted(_names_in(use.field) - set(types) - set(layer.others))
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
