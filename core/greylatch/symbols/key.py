"""The reader's key: made from the ink, reworded where the sheet says so."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from greylatch.classes.classify import ValueClass
from greylatch.classes.values import meaning_of
from greylatch.encodings.by_classes import class_text, decimals_for, divisor
from greylatch.sheet.layers import LONGEST_NUMBERS, Layer
from greylatch.sheet.parts import Normalise, NormaliseByField, NormaliseByTotal
from greylatch.sheet.symbology import Symbols
from greylatch.sheet.versions import first_version_id
from greylatch.symbols.by_hand import PINS
from greylatch.symbols.ink import Ink
from greylatch.symbols.look import Entry, Section
from greylatch.symbols.marks import Mark
from greylatch.symbols.nested import are_nestable
from greylatch.tables.dataset import Dataset
from greylatch.wording import length_text, number_text

__all__ = [
    "KeyEntry",
    "KeySection",
    "KeySide",
    "class_entries",
    "key_entries",
    "key_sections",
    "key_title",
    "numbers_shown",
    "unit_note",
    "unnamed_divisor",
    "written_unit",
]

RAMP_STEPS = 24
PERCENT = 100


@dataclass(frozen=True)
class KeyEntry:
    """One line of the key: a swatch (`mark`), a text, how many features have it, the text before it was reworded."""

    id: str
    mark: Mark | None
    text: str
    made_text: str
    count: int | None
    hidden: bool
    limits: tuple[float, float] | None = None
    """Of a class."""
    step: int | None = None
    """Which category, component or class of its encoding it is, whatever its place in the key."""


@dataclass(frozen=True)
class KeySide:
    """A side of a square: what rises along it, that before it was reworded, and the limits of its classes."""

    id: str
    text: str
    made_text: str
    limits: str


@dataclass(frozen=True)
class KeySection:
    """Lines of the key that belong together: a rule's, or a channel's. A continuous ramp has colours and the values at its ends; a
    square has columns and rows, and its entries row by row from the top."""

    heading: str
    channel: str
    entries: list[KeyEntry]
    ramp: tuple[str, ...] = ()
    ends: tuple[float, ...] = ()
    square: tuple[int, int] | None = None
    words: tuple[str, ...] = ()
    """What is said at the ends of a ramp, and in its middle where that has a value."""
    numeric: bool = False
    """Whether its texts are numbers, which can be said with other decimals."""
    nested: bool = False
    """Whether the entries are circles that are to stand in one another, the largest first."""
    sides: tuple[KeySide, ...] = ()
    """Of a square: what rises to the right, and what upwards."""


def key_title(layer: Layer) -> str:
    """The key's heading: reworded, or the layer's name."""
    return layer.key.title if layer.key.title is not None else layer.name


def key_sections(layer: Layer, sections: Sequence[Section]) -> list[KeySection]:
    """The key of a layer: high classes first as on a ladder, "no data" last, unless its maker ordered it otherwise.

    Parameters
    ----------
    layer : Layer
        The layer of the sheet.
    sections : Sequence[Section]
        What its ink, or that of its raster, says before it is worded.

    Returns
    -------
    list[KeySection]
    """
    out = []
    order = {id: place for place, id in enumerate(layer.key.order)}
    for section in sections:
        entries = _worded(layer, section)
        known = [entry for entry, raw in zip(entries, section.entries, strict=True) if not raw.no_data]
        lacking = [entry for entry, raw in zip(entries, section.entries, strict=True) if raw.no_data]
        if section.square:
            across, up = section.square
            known = [known[i + across * j] for j in range(up - 1, -1, -1) for i in range(across)]
        elif section.rising and not layer.key.low_first:
            known = known[::-1]
        entries = known + lacking
        # Pins have an order that is theirs.
        if not section.square and section.channel != PINS:
            entries.sort(key=lambda entry: order.get(entry.id, len(order)))
        # What lacks a value has no place among sizes.
        nested = (
            layer.key.nested
            and section.channel == "size"
            and not any(entry.mark for entry in lacking)
            and are_nestable([entry.mark for entry in known if entry.mark])
        )
        if nested:
            entries.sort(key=lambda entry: -entry.mark.radius if entry.mark else 0)
        out.append(
            KeySection(
                section.heading,
                section.channel,
                entries,
                _few(section.ramp),
                section.ends,
                section.square,
                _ramp_words(layer, section),
                bool(section.ends) or any(raw.numbers for raw in section.entries),
                nested,
                _sides(layer, section),
            )
        )
    return out


def _few(ramp: tuple[str, ...]) -> tuple[str, ...]:
    """As many colours of a ramp as tell how it runs."""
    step = max(1, (len(ramp) - 1) // RAMP_STEPS)
    return (*ramp[:-1:step], *ramp[-1:])


def key_entries(layer: Layer, ink: Ink) -> list[KeyEntry]:
    """All lines of the key of a layer, one after the other.

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
    return [entry for section in key_sections(layer, ink.sections) for entry in section.entries]


def class_entries(layer: Layer, ink: Ink) -> list[KeyEntry]:
    """The entries at which features stand (`Ink.entry`), counted through: what the key says of a feature, files and cards say too.

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
    return [entry for section in ink.sections for entry in _worded(layer, section)]


def _worded(layer: Layer, section: Section) -> list[KeyEntry]:
    words = layer.key
    entries = []
    for position, raw in enumerate(section.entries):
        id, text = _known_id(layer, section, position, raw), _text(layer, section, raw)
        entries.append(
            KeyEntry(
                id,
                _seen(raw.mark, words.colours.get(id), section.channel),
                words.entries.get(id, text),
                text,
                raw.count,
                id in words.hidden,
                raw.limits,
                raw.step,
            )
        )
    return entries


LEAST_SAMPLE = 3.0
"""Px of the radius of a symbol whose colour can be told in a key."""


def _seen(mark: Mark | None, colour: str | None, channel: str) -> Mark | None:
    """A mark in the colour in which it comes out on the map, where the key is to show that; and large enough for it, but where sizes are shown."""
    if mark is None:
        return None
    if channel != "size" and 0 < mark.radius < LEAST_SAMPLE:
        mark = replace(mark, radius=LEAST_SAMPLE)
    return mark if colour is None else replace(mark, fill=colour, fill_opacity=1.0)


def _text(layer: Layer, section: Section, raw: Entry) -> str:
    """The text of a line, with as many decimals as the layer's maker wants, or as its field has where that tells its limits apart."""
    wanted = layer.key.decimals
    decimals = section.decimals if wanted is None else wanted
    if decimals is None or not raw.numbers:
        return raw.text
    if wanted is None and any(a != b and round(a, decimals) == round(b, decimals) for a, b in raw.numbers):
        return raw.text
    return " · ".join(class_text(ValueClass(*limits, 0), decimals) for limits in raw.numbers)


def _sides(layer: Layer, section: Section) -> tuple[KeySide, ...]:
    """The names of a square's sides, each with its limits: to point at a field is nothing that paper or a finger can do."""
    if not section.square or not section.sides:
        return ()
    across, up = section.square
    known = [raw.numbers for raw in section.entries if not raw.no_data]
    along = [numbers[0] for numbers in known[:across]], [numbers[1] for numbers in known[::across][:up]]
    sides = []
    for (id, name), limits in zip(section.sides, along, strict=True):
        classes = tuple(ValueClass(*each, 0) for each in limits)
        decimals = decimals_for(classes) if layer.key.decimals is None else layer.key.decimals
        edges = [each.lower for each in classes[:1]] + [each.upper for each in classes]
        between = " – ".join(number_text(value, decimals) for value in edges)
        sides.append(KeySide(id, layer.key.entries.get(id, name), name, between))
    return tuple(sides)


def _ramp_words(layer: Layer, section: Section) -> tuple[str, ...]:
    decimals = section.decimals if layer.key.decimals is None else layer.key.decimals
    return tuple(number_text(value, decimals) for value in section.ends) or section.words


def _known_id(layer: Layer, section: Section, position: int, raw: Entry) -> str:
    """What the entry stands for, or its id of documents of version 1 where words were written for that."""
    if not section.rising or section.rule or not isinstance(layer.symbology, Symbols):
        return raw.id
    encodings = layer.symbology.encodings
    classing = getattr(encodings.colour or encodings.size, "classing", None)
    if classing is None or raw.no_data:
        return raw.id
    older = first_version_id(position, classing.model_dump())
    return older if older in layer.key.entries or older in layer.key.hidden else raw.id


def unit_note(layer: Layer, dataset: Dataset) -> str:
    """The unit under the key's heading: as written by the maker; else what a dot or a cell stands for, that of the field, 'per km²' where values are divided by areas, and how
    large symbols are on the ground where they are measured there. The raw name of a field never reaches a reader by itself.

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
    written = written_unit(layer, dataset)
    if written is not None:
        return written
    return " · ".join(filter(None, (_read(layer, dataset), _unit(layer, dataset), _on_the_ground(layer, dataset.kind))))


def numbers_shown(layer: Layer, dataset: Dataset | None) -> str:
    """Of which numbers a layer's key speaks: what is read of the data, the field, and what its values are divided by; of a raster its look and band.
    A unit is written for these, and is not said of others.

    Parameters
    ----------
    layer : Layer
        The layer of the sheet.
    dataset : Dataset | None
        The data; None for a raster.

    Returns
    -------
    str

    Examples
    --------
    >>> from greylatch.sheet.symbology import RasterRamp
    >>> numbers_shown(Layer(id="r", name="Relief", dataset="r.tif", symbology=RasterRamp(band=2)), None)
    'raster-ramp 2'
    """
    look = layer.symbology
    if not isinstance(look, Symbols):
        return f"{look.kind} {getattr(look, 'band', '')}".strip()
    field, normalise = _numbers(layer)
    shown = (_read(layer, dataset) if dataset else "", field, divisor(normalise))
    return " · ".join(filter(None, shown))[:LONGEST_NUMBERS]


def written_unit(layer: Layer, dataset: Dataset | None) -> str | None:
    """The unit that the maker wrote for the numbers that are shown, '' for none; None where none was written, or one for other numbers.

    Parameters
    ----------
    layer : Layer
        The layer of the sheet.
    dataset : Dataset | None
        The data; None for a raster.

    Returns
    -------
    str | None
    """
    key = layer.key
    return key.unit if key.unit_of in (None, numbers_shown(layer, dataset)) else None


def _read(layer: Layer, dataset: Dataset) -> str:
    return layer.reading.said(dataset) if layer.reading else ""


def _unit(layer: Layer, dataset: Dataset) -> str:
    field, normalise = _numbers(layer)
    if isinstance(normalise, NormaliseByField):
        return "%" if normalise.per == PERCENT else ""
    if isinstance(normalise, NormaliseByTotal):
        return divisor(normalise)
    unit = meaning_of(dataset, field).unit if field else ""
    return f"{unit} {divisor(normalise)}".strip()


def _on_the_ground(layer: Layer, kind: str) -> str:
    """One key serves all scales: of symbols that grow with the map it says in words how large they are."""
    look = layer.symbology
    if not isinstance(look, Symbols) or look.rules or look.symbol.ground is None or kind not in ("points", "lines"):
        return ""
    metres = look.symbol.ground * (2 if kind == "points" else 1)
    length = length_text(metres)
    extent = "across" if kind == "points" else "wide"
    return f"the largest {length} {extent}" if look.encodings.size else f"{length} {extent} on the ground"


def unnamed_divisor(layer: Layer, dataset: Dataset) -> str:
    """The field that the values are divided by, where the key has no words for that yet; '' otherwise."""
    normalise = _numbers(layer)[1]
    return normalise.field if isinstance(normalise, NormaliseByField) and written_unit(layer, dataset) is None else ""


def _numbers(layer: Layer) -> tuple[str | None, Normalise | None]:
    """The field whose numbers a layer draws first, and what they are divided by."""
    if not isinstance(layer.symbology, Symbols) or layer.symbology.rules:
        return None, None
    encodings = layer.symbology.encodings
    leading = encodings.colour or encodings.size
    numbers = getattr(leading, "classing", leading)
    categorical = getattr(leading, "by", "") == "category"
    return (None if categorical else getattr(numbers, "field", None)), getattr(numbers, "normalise", None)
