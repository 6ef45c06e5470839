"""Ink: which mark each feature gets. Geometry stays where it is; restyling only makes a new ink table."""

from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from greylatch.classes.classify import NO_DATA, Classification, classify
from greylatch.classes.values import numbers_of, values_of
from greylatch.colour.ramps import ramp_colours
from greylatch.errors import CannotDraw
from greylatch.sheet.document import Classed, Classing, Graduated, Proportional, Single, Stroke, VectorSymbology
from greylatch.symbols.size import class_radii, proportional_radii
from greylatch.tables.dataset import Dataset

__all__ = ["SLACK", "UNDRAWN", "Ink", "Mark", "classification_of", "ink", "values_for"]

UNDRAWN = 255
"""The palette position of features that are not drawn."""
SLACK = 3.0
"""Px by which a pointer may miss a symbol or a line."""


@dataclass(frozen=True)
class Mark:
    """What is drawn for a feature: a fill, a stroke around it, a radius for points (CSS pixels)."""

    fill: str
    fill_opacity: float
    stroke: str
    stroke_width: float
    stroke_opacity: float
    radius: float


@dataclass(frozen=True)
class Ink:
    """One palette position per feature (uint8, `UNDRAWN` for none), and for proportional symbols a radius (float32, px).

    `classes` and `missing` describe the classification behind it, where there is one; `order` lists the features as they
    are to be drawn, where that is not the order of rows.
    """

    palette: tuple[Mark, ...]
    index: NDArray[np.uint8]
    radius: NDArray[np.float32] | None = None
    order: NDArray[np.int32] | None = None
    classification: Classification | None = None
    values: NDArray[np.float64] | None = field(default=None, compare=False)

    @property
    def drawn(self) -> int:
        """How many features get a mark."""
        return int(np.count_nonzero(self.index != UNDRAWN))


def ink(dataset: Dataset, symbology: VectorSymbology) -> Ink:
    """The ink table of `dataset` under `symbology`.

    The palette of classed symbology has a mark per class, then one for no data where that is drawn.

    Parameters
    ----------
    dataset : Dataset
        The data.
    symbology : VectorSymbology
        How the layer is drawn.

    Returns
    -------
    Ink
    """
    if isinstance(symbology, Single):
        return Ink((_mark(symbology.fill, symbology, symbology.radius),), np.zeros(len(dataset), dtype=np.uint8))
    if isinstance(symbology, Classed):
        return _classed(dataset, symbology)
    if isinstance(symbology, Graduated):
        return _graduated(dataset, symbology)
    return _proportional(dataset, symbology)


def classification_of(dataset: Dataset, classing: Classing) -> Classification:
    """The classes that `classing` asks for; breaks typed by hand stand as they are.

    Parameters
    ----------
    dataset : Dataset
        The data.
    classing : Classing
        How numbers become classes.

    Returns
    -------
    Classification
    """
    weights = numbers_of(dataset, classing.weight) if classing.weight else None
    limits = classing.breaks if classing.method == "manual" else None
    return classify(values_for(dataset, classing), classing.method, classing.classes, limits, weights, classing.nice)


def values_for(dataset: Dataset, classing: Classing) -> NDArray[np.float64]:
    """The values that get classified.

    Parameters
    ----------
    dataset : Dataset
        The data.
    classing : Classing
        How numbers become classes.

    Returns
    -------
    NDArray[np.float64]
    """
    return values_of(dataset, classing.field, classing.normalise)


def _classed(dataset: Dataset, symbology: Classed) -> Ink:
    values = values_for(dataset, symbology.classing)
    classification = classification_of(dataset, symbology.classing)
    marks = [
        _mark(colour, symbology, symbology.radius)
        for colour in ramp_colours(symbology.ramp, len(classification.classes))
    ]
    return _with_no_data(marks, classification, symbology.no_data, symbology, symbology.radius, values)


def _graduated(dataset: Dataset, symbology: Graduated) -> Ink:
    _needs_points(dataset, "Graduated symbols")
    values = values_for(dataset, symbology.classing)
    classification = classification_of(dataset, symbology.classing)
    n = len(classification.classes)
    colours = ramp_colours(symbology.ramp, n) if symbology.ramp else [symbology.fill] * n
    radii = class_radii(n, symbology.smallest, symbology.largest)
    marks = [_mark(colour, symbology, radius) for colour, radius in zip(colours, radii, strict=True)]
    inked = _with_no_data(marks, classification, symbology.no_data, symbology, symbology.smallest, values)
    by_size = np.array([mark.radius for mark in inked.palette] + [0.0] * (256 - len(inked.palette)))
    return _largest_first(inked, by_size[inked.index])


def _proportional(dataset: Dataset, symbology: Proportional) -> Ink:
    _needs_points(dataset, "Proportional symbols")
    values = values_of(dataset, symbology.field, symbology.normalise)
    radii = proportional_radii(values, symbology.largest, symbology.scaling)
    marks = [_mark(symbology.fill, symbology, symbology.largest)]
    index = np.where(radii > 0, np.uint8(0), np.uint8(UNDRAWN))
    if symbology.no_data:
        marks.append(_mark(symbology.no_data, symbology, 2.0))
        index = np.where(np.isfinite(values), index, np.uint8(1))
        radii = np.where(np.isfinite(values), radii, np.float32(2.0))
    return _largest_first(Ink(tuple(marks), index, radii, values=values), radii)


def _with_no_data(
    marks: list[Mark], classification: Classification, colour: str | None, symbology: Classed | Graduated, radius: float,
    values: NDArray[np.float64],
) -> Ink:  # fmt: skip
    index = classification.index
    if colour:
        index = np.where(index == NO_DATA, np.uint8(len(marks)), index)
        marks.append(_mark(colour, symbology, radius))
    return Ink(tuple(marks), index, classification=classification, values=values)


def _largest_first(inked: Ink, radii: NDArray[np.floating]) -> Ink:
    order = np.argsort(-radii, kind="stable").astype(np.int32)
    return Ink(inked.palette, inked.index, inked.radius, order, inked.classification, inked.values)


def _mark(fill: str, symbology: VectorSymbology, radius: float) -> Mark:
    stroke: Stroke = symbology.stroke
    return Mark(fill, symbology.fill_opacity, stroke.colour, stroke.width, stroke.opacity, radius)


def _needs_points(dataset: Dataset, what: str) -> None:
    if dataset.kind != "points":
        raise CannotDraw(f"{what} need points, and this layer holds {dataset.kind}.")
