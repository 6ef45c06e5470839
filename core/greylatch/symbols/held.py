"""Classes that stay as they are when their data change."""

from greylatch.errors import BadInput, CannotDraw
from greylatch.rules.evaluating import filtered
from greylatch.sheet.document import Classed, Graduated, Layer
from greylatch.symbols.ink import classification_of
from greylatch.tables.dataset import Dataset

__all__ = ["with_breaks_held"]


def with_breaks_held(layer: Layer, dataset: Dataset) -> Layer:
    """The layer with its computed class limits written down, so that other data fall into the same classes. Layers
    without classes, and those whose limits were set by hand, are as they were.

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
        Where the classes can't be computed.
    """
    symbology = layer.symbology
    if not isinstance(symbology, (Classed, Graduated)) or symbology.classing.method == "manual":
        return layer
    classing = symbology.classing
    try:
        classification = classification_of(filtered(dataset, layer.filter), classing)
    except BadInput as error:
        raise CannotDraw(str(error)) from error
    # The last limit is the largest value, which other data may exceed.
    held = classing.model_copy(
        update={
            "method": "manual",
            "breaks": classification.breaks[:-1],
            "classes": len(classification.classes),
            "nice": False,
        }
    )
    return layer.model_copy(update={"symbology": symbology.model_copy(update={"classing": held})})
