"""Looks that stay as they are when their data change."""

from greylatch.encodings.channels import Encodings
from greylatch.errors import BadInput, CannotDraw
from greylatch.rules.evaluating import filtered, taken
from greylatch.sheet.layers import Layer
from greylatch.sheet.symbology import Look, Symbols
from greylatch.tables.dataset import Dataset

__all__ = ["with_breaks_held"]


def with_breaks_held(layer: Layer, dataset: Dataset) -> Layer:
    """The layer with what was computed for it written down (class limits, categories, the ends of ramps), so that other data are drawn
    alike. What was set by hand is as it was.

    Parameters
    ----------
    layer : Layer
        The layer of the sheet.
    dataset : Dataset
        The data.

    Returns
    -------
    Layer

    Raises
    ------
    CannotDraw
        Where that can't be computed.
    """
    symbology = layer.symbology
    if not isinstance(symbology, Symbols):
        return layer
    try:
        rows = filtered(dataset, layer.filter)
        if layer.reading is not None:
            rows = layer.reading.derived(rows)
        rules = [
            rule.model_copy(update={"encodings": _held(rule, rows.taking(taken(rows, rule.where)))})
            if any(rule.encodings.used())
            else rule
            for rule in symbology.rules
        ]
        held = symbology.model_copy(update={"encodings": _held(symbology, rows), "rules": rules})
        lettering = layer.lettering
        if lettering is not None and lettering.colour is not None:
            lettering = lettering.model_copy(update={"colour": lettering.colour.held(rows)})
    except BadInput as error:
        raise CannotDraw(str(error)) from error
    return layer.model_copy(update={"symbology": held, "lettering": lettering})


def _held(look: Look, dataset: Dataset) -> Encodings:
    return look.encodings.model_copy(
        update={channel: encoding.held(dataset) for channel, encoding in look.encodings.used()}
    )
