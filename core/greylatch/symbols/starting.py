"""How a dataset is drawn before anybody has said how, and what a symbology keeps when it becomes one of another kind."""

from collections.abc import Sequence
from typing import Literal

from greylatch.errors import BadInput
from greylatch.sheet.document import (
    Classed,
    Classing,
    Graduated,
    Layer,
    Lettering,
    Picture,
    Proportional,
    RampChoice,
    RasterRamp,
    Single,
    Stroke,
    Symbology,
    VectorSymbology,
)
from greylatch.tables.dataset import Kind
from greylatch.tables.fieldtypes import FieldType
from greylatch.tables.meaning import MeaningKind

__all__ = ["VectorKind", "first_layer", "first_lettering", "turned_into"]

VectorKind = Literal["single", "classed", "graduated", "proportional"]
NAME = 200
"""Characters of a layer's name."""


def first_layer(dataset: str, title: str, kind: Kind, raster_colour: str | None = None) -> Layer:
    """A layer with a first look that suits data of a kind.

    Parameters
    ----------
    dataset : str
        The name of the dataset.
    title : str
        The title.
    kind : Kind
        Areas, lines or points.
    raster_colour : str | None
        Says how a raster is coloured ('one band' or otherwise).

    Returns
    -------
    Layer

    Examples
    --------
    >>> first_layer("a", "Peat", "areas").symbology.kind, first_layer("a", "Heights", "raster", "one band").symbology.kind
    ('single', 'raster-ramp')
    """
    look: Symbology = _first_look(kind)
    if kind == "raster":
        look = RasterRamp(ramp=RampChoice(name="upland")) if raster_colour == "one band" else Picture()
    return Layer(id="layer", name=title[:NAME] or "Layer", dataset=dataset, symbology=look)


def first_lettering(fields: Sequence[tuple[str, FieldType, MeaningKind]]) -> Lettering | None:
    """Labels of the field that is likeliest to hold names, of fields with their type and what they mean; None where there is no field.

    >>> first_lettering([("ha", "number", "measure"), ("isle", "text", "name")]).field
    'isle'
    """
    ranked = sorted(fields, key=lambda field: (field[2] != "name", field[1] != "text"))
    return Lettering(field=ranked[0][0]) if ranked else None


def turned_into(
    old: Symbology, data: Kind, kind: VectorKind | None = None, field: str | None = None
) -> VectorSymbology:
    """A symbology of a kind, where none is named of the one that shows numbers of such data: points by size, the rest
    by colour.

    Classes, field, stroke, fill and ramp are taken along; a `field` that is named begins with classes of its own.

    Parameters
    ----------
    old : Symbology
        The symbology as it is.
    data : Kind
        What the layer's data hold.
    kind : VectorKind | None
        The kind wanted; None for the one that shows numbers.
    field : str | None
        The field to be shown; None keeps the one shown now.

    Returns
    -------
    VectorSymbology

    Raises
    ------
    BadInput
        Where a field of numbers is wanted and none is known.

    Examples
    --------
    >>> turned_into(Single(fill="#aabbcc"), "points", field="depth").fill
    '#aabbcc'
    """
    if data in ("raster", "table"):
        raise BadInput(f"A {data} is not drawn by symbols.")
    kind = kind or ("graduated" if data == "points" else "classed")
    stroke, fill = getattr(old, "stroke", None) or _first_look(data).stroke, getattr(old, "fill", None)
    filled = {"fill": fill} if fill else {}
    if kind == "single":
        return Single(stroke=stroke, **filled)
    classing = _classing(old, field)
    if kind == "classed":
        return Classed(classing=classing, stroke=stroke, ramp=getattr(old, "ramp", None) or RampChoice())
    if data != "points":
        raise BadInput(f"Symbols of several sizes need points, and these are {data}.")
    if kind == "graduated":
        return Graduated(classing=classing, stroke=stroke, smallest=2, largest=9, **filled)
    return Proportional(field=classing.field, normalise=classing.normalise, stroke=stroke, largest=18, **filled)


def _classing(old: Symbology, field: str | None) -> Classing:
    known = getattr(old, "classing", None)
    if field is None and known is not None:
        return Classing.model_validate(known)
    name = field or getattr(old, "field", None)
    if not name:
        raise BadInput("There is no field of numbers to show.", "Calculate one, or correct what the fields hold.")
    return Classing(field=name, normalise=getattr(old, "normalise", None) if field is None else None)


def _first_look(kind: Kind) -> Single:
    if kind == "lines":
        return Single(stroke=Stroke(colour="#4f6f7c", width=1.2))
    if kind == "points":
        return Single(fill="#3f6f8f", radius=3.5, stroke=Stroke(colour="#ffffff", width=0.8))
    return Single(fill="#c9c2b0", stroke=Stroke(colour="#5d5a52", width=0.6))
