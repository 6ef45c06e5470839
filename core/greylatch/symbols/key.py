"""The reader's key: made from the ink, reworded where the sheet says so."""

import math
from dataclasses import dataclass

import numpy as np

from greylatch.classes.classify import ValueClass
from greylatch.classes.values import meaning_of
from greylatch.sheet.document import Layer, NormaliseByArea, NormaliseByField, Proportional, Single
from greylatch.sheet.versions import first_version_id
from greylatch.symbols.ink import Ink, Mark
from greylatch.symbols.size import proportional_radii
from greylatch.tables.dataset import Dataset

__all__ = ["KeyEntry", "class_entries", "key_entries", "key_title", "reference_values", "unit_note", "unnamed_divisor"]


@dataclass(frozen=True)
class KeyEntry:
    """One line of the key: a swatch (`mark`), a text, how many features have it, the text before it was reworded."""

    id: str
    mark: Mark | None
    text: str
    made_text: str
    count: int | None
    hidden: bool


def key_title(layer: Layer) -> str:
    """The key's heading: reworded, or the layer's name."""
    return layer.key.title if layer.key.title is not None else layer.name


def key_entries(layer: Layer, ink: Ink) -> list[KeyEntry]:
    """The key of a layer, high classes first as on a ladder, "no data" last.

    Parameters
    ----------
    layer : Layer
        The layer of the sheet.
    ink : Ink
        What each feature looks like.

    Returns
    -------
    list[KeyEntry]
    """
    symbology = layer.symbology
    if isinstance(symbology, Single):
        return [_entry(layer, "all", ink.palette[0], layer.name, len(ink.index))]
    if isinstance(symbology, Proportional):
        return _proportional(layer, symbology, ink)
    classification = ink.classification
    assert classification is not None
    entries = class_entries(layer, ink)[::-1]
    if classification.missing:
        mark = ink.palette[len(classification.classes)] if len(ink.palette) > len(classification.classes) else None
        entries.append(_entry(layer, "no-data", mark, "no data", classification.missing))
    return entries


def class_entries(layer: Layer, ink: Ink) -> list[KeyEntry]:
    """An entry per class in rising order: what the key says of a class, files and cards say too. Empty without classes.

    Parameters
    ----------
    layer : Layer
        The layer of the sheet.
    ink : Ink
        What each feature looks like.

    Returns
    -------
    list[KeyEntry]
    """
    classification = ink.classification
    if classification is None:
        return []
    decimals = layer.key.decimals if layer.key.decimals is not None else decimals_for(classification.classes)
    return [
        _entry(
            layer,
            _class_id(layer, i, value_class),
            ink.palette[i],
            class_text(value_class, decimals),
            value_class.count,
        )
        for i, value_class in enumerate(classification.classes)
    ]


def class_id(field: str, unit: str, value_class: ValueClass) -> str:
    """What a class stands for, by which the words written for it are found: the numbers and the limits.

    >>> class_id("carbon_t", "per km²", ValueClass(394.27, 601.36, 3))
    'carbon_t per km² 394.27–601.36'
    """
    return f"{field} {unit} ".replace("  ", " ") + f"{value_class.lower:.9g}–{value_class.upper:.9g}"


def _class_id(layer: Layer, position: int, value_class: ValueClass) -> str:
    classing = layer.symbology.classing  # type: ignore[union-attr]
    older = first_version_id(position, classing.model_dump())
    known = older in layer.key.entries or older in layer.key.hidden
    return older if known else class_id(classing.field, _divisor(layer), value_class)


def class_text(value_class: ValueClass, decimals: int) -> str:
    """'1,200 – 3,400': the limits of a class as readers see them.

    >>> class_text(ValueClass(1200, 3400.25, 3), 1)
    '1,200.0 – 3,400.2'
    """
    return f"{value_class.lower:,.{decimals}f} – {value_class.upper:,.{decimals}f}".replace("-", "−")


def decimals_for(classes: tuple[ValueClass, ...]) -> int:
    """None where all limits are whole; else so many that the width of the narrowest class shows with two figures."""
    if all(float(limit).is_integer() for value_class in classes for limit in (value_class.lower, value_class.upper)):
        return 0
    widths = [value_class.upper - value_class.lower for value_class in classes if value_class.upper > value_class.lower]
    if not widths:
        return 2
    return int(min(10, max(0, 1 - math.floor(math.log10(min(widths))))))


def reference_values(greatest: float) -> list[float]:
    """Three round values for a nested key of proportional symbols, the largest first.

    >>> reference_values(870.0)
    [800.0, 200.0, 50.0]
    """
    power = 10.0 ** math.floor(math.log10(greatest))
    top = math.floor(greatest / power) * power
    return [top, top / 4, top / 16]


def unit_note(layer: Layer, dataset: Dataset) -> str:
    """The unit under the key's heading: as written by the maker; else that of the field, and 'per km²' where values are divided
    by areas. The raw name of a field never reaches a reader by itself.

    Parameters
    ----------
    layer : Layer
        The layer of the sheet.
    dataset : Dataset
        The data.

    Returns
    -------
    str
    """
    if layer.key.unit is not None:
        return layer.key.unit
    normalise = _normalise(layer)
    if isinstance(normalise, NormaliseByField):
        return ""
    unit = meaning_of(dataset, field).unit if (field := classed_field(layer)) else ""
    return f"{unit} {_divisor(layer)}".strip()


def classed_field(layer: Layer) -> str | None:
    """The field whose numbers a layer draws."""
    classing = getattr(layer.symbology, "classing", layer.symbology)
    return getattr(classing, "field", None)


def unnamed_divisor(layer: Layer) -> str:
    """The field that the values are divided by, where the key has no words for that yet; '' otherwise."""
    normalise = _normalise(layer)
    return normalise.field if isinstance(normalise, NormaliseByField) and layer.key.unit is None else ""


def _normalise(layer: Layer) -> NormaliseByField | NormaliseByArea | None:
    classing = getattr(layer.symbology, "classing", layer.symbology)
    return getattr(classing, "normalise", None)


def _divisor(layer: Layer) -> str:
    normalise = _normalise(layer)
    if normalise is None:
        return ""
    return f"per {normalise.field}" if isinstance(normalise, NormaliseByField) else "per km²"


def _proportional(layer: Layer, symbology: Proportional, ink: Ink) -> list[KeyEntry]:
    assert ink.values is not None
    finite = ink.values[np.isfinite(ink.values)]
    greatest = float(finite.max(initial=0.0))
    if greatest <= 0:
        return []
    shown = reference_values(greatest)
    radii = proportional_radii(np.array(shown), symbology.largest, symbology.scaling, greatest)
    base = ink.palette[0]
    entries = [
        _entry(layer, f"size {value:.9g}", _resized(base, float(radius)), f"{value:,.6g}", None)
        for value, radius in zip(shown, radii, strict=True)
    ]
    missing = len(ink.values) - len(finite)
    if missing:
        entries.append(_entry(layer, "no-data", ink.palette[1] if len(ink.palette) > 1 else None, "no data", missing))
    return entries


def _resized(mark: Mark, radius: float) -> Mark:
    return Mark(mark.fill, mark.fill_opacity, mark.stroke, mark.stroke_width, mark.stroke_opacity, radius)


def _entry(layer: Layer, id: str, mark: Mark | None, text: str, count: int | None) -> KeyEntry:
    return KeyEntry(id, mark, layer.key.entries.get(id, text), text, count, id in layer.key.hidden)
