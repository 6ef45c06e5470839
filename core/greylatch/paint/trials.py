"""Small true maps of other classifications of a layer, to be looked at side by side."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from greylatch.classes.methods import MAX_CLASSES, Method
from greylatch.encodings.by_classes import ColourByClasses, SizeByClasses
from greylatch.encodings.channels import Encodings
from greylatch.errors import BadInput
from greylatch.paint.passes import Composition, VectorPass
from greylatch.paint.picture import paint
from greylatch.places.view import View
from greylatch.sheet.document import Furniture
from greylatch.sheet.parts import Classing
from greylatch.sheet.symbology import Symbols
from greylatch.symbols.ink import ink

__all__ = ["Trial", "other_classings", "trials"]

METHODS: tuple[Method, ...] = (
    "natural-breaks", "quantile", "equal-interval", "standard-deviation", "geometric", "head-tail", "pretty",
)  # fmt: skip
MOST = 12


@dataclass(frozen=True)
class Trial:
    """A classification with how well it fits, its colours from low to high, and the map that it makes: (height, width, 4) uint8."""

    classing: Classing
    classes: int
    fit: float
    colours: tuple[str, ...]
    picture: NDArray[np.uint8]


def other_classings(classing: Classing) -> list[Classing]:
    """Up to twelve ways to class the same numbers: the other methods, then other numbers of classes by the method of now, fewer and more
    by turns.

    Parameters
    ----------
    classing : Classing
        How numbers become classes now.

    Returns
    -------
    list[Classing]

    Examples
    --------
    >>> [each.method for each in other_classings(Classing(field="v", method="quantile"))[:2]]
    ['quantile', 'natural-breaks']
    """
    now: Method = classing.method if classing.method != "manual" else "natural-breaks"
    many = len(classing.breaks) if classing.method == "manual" and classing.breaks else classing.classes
    first = classing.model_copy(update={"method": now, "breaks": [], "classes": min(max(many, 1), MAX_CLASSES)})
    tried = [first, *(first.model_copy(update={"method": method}) for method in METHODS if method != now)]
    for by in (-1, 1, -2, 2, 3):
        if 2 <= first.classes + by <= MAX_CLASSES:
            tried.append(first.model_copy(update={"classes": first.classes + by}))
    return tried[:MOST]


def trials(vector: VectorPass, width: int, height: int) -> list[Trial]:
    """The layer under each of its other classings; those that its numbers do not allow are left out.

    Parameters
    ----------
    vector : VectorPass
        The layer, whose colours or sizes go by classes.
    width : int
        Px of each map.
    height : int
        Px of each map.

    Returns
    -------
    list[Trial]

    Raises
    ------
    BadInput
        Where neither colours nor sizes go by classes.
    """
    symbology = vector.layer.symbology
    if not isinstance(symbology, Symbols):
        raise BadInput("This layer has no classes.")
    colour, size = symbology.encodings.colour, symbology.encodings.size
    leading = next((each for each in (colour, size) if isinstance(each, (ColourByClasses, SizeByClasses))), None)
    if leading is None:
        raise BadInput("This layer has no classes.")
    view = View.fitted(vector.source.frame, vector.source.bounds, width, height)
    out = []
    for classing in other_classings(leading.classing):
        changed = {
            channel: encoding.model_copy(update={"classing": classing})
            for channel, encoding in (("colour", colour), ("size", size))
            if isinstance(encoding, (ColourByClasses, SizeByClasses)) and encoding.classing == leading.classing
        }
        encodings: Encodings = symbology.encodings.model_copy(update=changed)
        try:
            inked = ink(vector.source.dataset, symbology.model_copy(update={"encodings": encodings}))
        except BadInput:
            continue
        classification = inked.classification
        assert classification is not None
        alone = VectorPass(vector.layer.model_copy(update={"blend": "normal", "opacity": 1.0}), vector.source, inked)
        picture = paint(Composition([alone], [], Furniture(), vector.source.frame), view, ground=False)
        colours = (
            tuple(step.colour for step in inked.encoded["colour"].steps if step.colour)
            if "colour" in inked.encoded
            else ()
        )
        out.append(Trial(classing, len(classification.classes), classification.fit, colours, picture))
    return out
