"""Small true maps of other classifications of a layer, to be looked at side by side."""

from dataclasses import dataclass
from typing import Literal, TypeVar

import numpy as np
from numpy.typing import NDArray

from greylatch.classes.methods import MAX_CLASSES, Method
from greylatch.colour.ramps import RAMPS, ramp_colours
from greylatch.encodings.by_classes import ColourByClasses, SizeByClasses
from greylatch.encodings.channels import Encodings
from greylatch.encodings.encoded import Encoding
from greylatch.errors import BadInput
from greylatch.paint.passes import Composition, RasterPass, VectorPass
from greylatch.paint.picture import paint
from greylatch.places.view import View
from greylatch.rasters.figures import band_classes
from greylatch.sheet.document import Furniture
from greylatch.sheet.parts import Classing, Limits, RampChoice
from greylatch.sheet.symbology import RasterClasses, Symbols
from greylatch.symbols.ink import ink

__all__ = ["Trial", "other_classings", "other_ramps", "trials"]

Tried = Literal["classes", "ramps"]
Some = TypeVar("Some", bound=Limits)
METHODS: tuple[Method, ...] = (
    "natural-breaks", "quantile", "equal-interval", "standard-deviation", "geometric", "head-tail", "pretty",
)  # fmt: skip
MOST = 12


@dataclass(frozen=True)
class Trial:
    """A classification with how well it fits, its colours from low to high, and the map that it makes: (height, width, 4) uint8."""

    classing: Limits
    classes: int
    fit: float
    colours: tuple[str, ...]
    picture: NDArray[np.uint8]
    ramp: RampChoice | None = None
    """Where that is what differs."""


def other_classings(classing: Some) -> list[Some]:
    """Up to twelve ways to class the same numbers: the other methods, then other numbers of classes by the method of now, fewer and more
    by turns.

    Parameters
    ----------
    classing : Limits
        How numbers become classes now.

    Returns
    -------
    list[Limits]
        Of the same kind.

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


def other_ramps(ramp: RampChoice) -> list[RampChoice]:
    """Up to twelve ramps of the same family as a ramp, that one first.

    >>> [each.name for each in other_ramps(RampChoice(name="peat"))[:2]]
    ['peat', 'heather']
    """
    family = RAMPS[ramp.name].family if ramp.name in RAMPS else "sequential"
    names = [name for name, each in RAMPS.items() if each.family == family and name != ramp.name]
    return [ramp, *(RampChoice(name=name, reverse=ramp.reverse) for name in names)][:MOST]


def trials(drawn: VectorPass | RasterPass, width: int, height: int, of: Tried = "classes") -> list[Trial]:
    """The layer under each of its other classings, or other ramps; those that its numbers do not allow are left out.

    Parameters
    ----------
    drawn : VectorPass | RasterPass
        The layer, whose colours or sizes go by classes; or a raster's band in classes.
    width : int
        Px of each map.
    height : int
        Px of each map.
    of : Tried
        What is tried otherwise.

    Returns
    -------
    list[Trial]

    Raises
    ------
    BadInput
        Where nothing goes by classes.
    """
    if isinstance(drawn, RasterPass):
        return _of_raster(drawn, width, height, of)
    return _of_shapes(drawn, width, height, of)


def _of_shapes(vector: VectorPass, width: int, height: int, of: Tried) -> list[Trial]:
    symbology = vector.layer.symbology
    if not isinstance(symbology, Symbols):
        raise BadInput("This layer has no classes.")
    colour, size = symbology.encodings.colour, symbology.encodings.size
    leading = next((each for each in (colour, size) if isinstance(each, (ColourByClasses, SizeByClasses))), None)
    if leading is None:
        raise BadInput("This layer has no classes.")
    view = View.fitted(vector.source.frame, vector.source.bounds, width, height)
    tried: list[tuple[Encodings, Classing, RampChoice | None]]
    if of == "ramps":
        if not isinstance(colour, ColourByClasses):
            raise BadInput("The colours of this layer do not go by classes.")
        tried = [
            (_changed(symbology.encodings, colour=colour.model_copy(update={"ramp": ramp})), colour.classing, ramp)
            for ramp in other_ramps(colour.ramp)
        ]
    else:
        tried = [
            (_classed(symbology.encodings, leading.classing, other), other, None)
            for other in other_classings(leading.classing)
        ]
    out = []
    for encodings, classing, ramp in tried:
        try:
            tried_look = symbology.model_copy(update={"encodings": encodings})
            inked = ink(vector.source.dataset, tried_look, per_metre=lambda: vector.source.per_metre)
        except BadInput:
            continue
        classification = inked.classification
        assert classification is not None
        alone = VectorPass(vector.layer.model_copy(update={"blend": "normal", "opacity": 1.0}), vector.source, inked)
        picture = paint(Composition([alone], [], Furniture(), vector.source.frame), view, ground=False)
        steps = inked.encoded["colour"].steps if "colour" in inked.encoded else ()
        colours = tuple(step.colour for step in steps if step.colour)
        out.append(Trial(classing, len(classification.classes), classification.fit, colours, picture, ramp))
    return out


def _of_raster(raster: RasterPass, width: int, height: int, of: Tried) -> list[Trial]:
    now = raster.ink
    if not isinstance(now, RasterClasses):
        raise BadInput("The values of this raster are not in classes.")
    view = View.fitted(raster.source.frame, raster.source.bounds, width, height)
    plain = raster.layer.model_copy(update={"blend": "normal", "opacity": 1.0})
    tried: list[tuple[RasterClasses, RampChoice | None]]
    if of == "ramps":
        tried = [(now.model_copy(update={"ramp": ramp}), ramp) for ramp in other_ramps(now.ramp)]
    else:
        tried = [(now.model_copy(update={"classing": other}), None) for other in other_classings(now.classing)]
    out = []
    for look, ramp in tried:
        try:
            classification = band_classes(str(raster.source.path), look.band, look.classing)
        except BadInput:
            continue
        alone = RasterPass(plain, raster.source, look)
        picture = paint(Composition([alone], [], Furniture(), raster.source.frame), view, ground=False)
        colours = tuple(ramp_colours(look.ramp, len(classification.classes)))
        out.append(Trial(look.classing, len(classification.classes), classification.fit, colours, picture, ramp))
    return out


def _classed(encodings: Encodings, now: Classing, other: Classing) -> Encodings:
    """With other classes wherever they are those of now: colours and sizes that say the same go on to."""
    changed = {
        channel: encoding.model_copy(update={"classing": other})
        for channel, encoding in (("colour", encodings.colour), ("size", encodings.size))
        if isinstance(encoding, (ColourByClasses, SizeByClasses)) and encoding.classing == now
    }
    return _changed(encodings, **changed)


def _changed(encodings: Encodings, **changed: Encoding) -> Encodings:
    trial: Encodings = encodings.model_copy(update=changed)
    return trial
