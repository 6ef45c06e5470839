"""How a dataset is drawn before anybody has said how, and what a symbology begins with when something is to vary."""

from collections.abc import Collection, Mapping, Sequence

from greylatch.encodings.channels import KINDS, Channel, Encodings
from greylatch.encodings.encoded import Encoding
from greylatch.encodings.largest import ColourByLargest, total_of
from greylatch.encodings.shares import Shares
from greylatch.encodings.suiting import numeric_fields, telling_numbers
from greylatch.errors import BadInput
from greylatch.readings.begun import colours_of_cells
from greylatch.readings.contours import INDEX, NUMBERED
from greylatch.readings.kinds import READINGS, AnyReading
from greylatch.sheet.layers import Layer
from greylatch.sheet.lettering import MOST_LINES, SMALLEST_TYPE, LabelLine, Lettering
from greylatch.sheet.parts import RampChoice, Stroke, Symbol
from greylatch.sheet.symbology import TOGETHER, Picture, RasterRamp, Rule, Symbology, Symbols
from greylatch.sheet.template import FieldIn, as_field, parts_of
from greylatch.tables.dataset import Dataset, Kind
from greylatch.tables.fieldtypes import FieldType
from greylatch.tables.meaning import MeaningKind, likeliest_name, most_telling

__all__ = [
    "HUES",
    "another_line",
    "first_layer",
    "first_lettering",
    "first_symbol",
    "letters_of_contours",
    "look_of_reading",
    "offered",
    "showing",
    "varied",
]

HUES: Mapping[Kind, tuple[str, ...]] = {
    "areas": ("#c9c2b0", "#b4c2ae", "#c6b2bc", "#aebfc9", "#d3bd9c", "#b9b9b3"),
    "lines": ("#4f6f7c", "#9a5a40", "#5f7444", "#75597f", "#9a7c34", "#4a4a50"),
    "points": ("#3f6f8f", "#b8583c", "#5f7f3f", "#7d5a8c", "#b08a2e", "#3f3f46"),
}
"""The colours that layers begin with: each in the first that no other layer of its sheet has."""
SMALLER = 2.0
"""Px by which the next line of a label is smaller than the one above it. Ours, with no source."""
PIE = 9.0
"""Px of the radius from which on wedges are told apart. Common practice."""
DOT = 1.1
"""Px of the radius of dots of which there are thousands."""
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
    ('symbols', 'raster-ramp')
    """
    look: Symbology = Symbols(symbol=first_symbol(kind))
    if kind == "raster":
        look = RasterRamp(ramp=RampChoice(name="upland")) if raster_colour == "one band" else Picture()
    return Layer(id="layer", name=title[:NAME] or "Layer", dataset=dataset, symbology=look)


def offered(kind: Kind) -> list[str]:
    """What may be drawn of data in place of themselves, each by a word: readings of them, and what all points are drawn as together.

    Parameters
    ----------
    kind : Kind
        What they are.

    Returns
    -------
    list[str]

    Examples
    --------
    >>> offered("areas"), offered("points")
    (['centres', 'dots'], ['hexagon', 'square', 'rounds', 'clusters', 'heat'])
    """
    ways = [way for reading in READINGS if kind in reading.of for way in reading.ways]
    return [*ways, *(TOGETHER if kind == "points" else ())]


def look_of_reading(reading: AnyReading, kind: Kind) -> Symbols:
    """How what a reading makes is drawn first: cells by what they hold, dots small and without an edge, contours as thin brown lines with
    thicker index lines.

    Parameters
    ----------
    reading : AnyReading
        What is drawn in place of the data.
    kind : Kind
        What it makes of them.

    Returns
    -------
    Symbols

    Examples
    --------
    >>> from greylatch.readings.dots import Dots
    >>> look_of_reading(Dots(field="people", each=100), "points").symbol.radius
    1.1
    """
    if reading.by == "contours":
        return _look_of_contours()
    symbol = first_symbol(kind)
    if reading.by == "dots":
        symbol = symbol.model_copy(update={"radius": DOT, "strokes": []})
    return Symbols(symbol=symbol, encodings=Encodings(colour=colours_of_cells() if reading.by == "grid" else None))


def _look_of_contours() -> Symbols:
    thin, thick = Stroke(colour="#8a6a48", width=0.5), Stroke(colour="#7a5836", width=1.1)
    rule = Rule(id="index", name="index lines", where=f"{INDEX} = TRUE", symbol=Symbol(strokes=[thick]))
    return Symbols(symbol=Symbol(strokes=[thin]), rules=[rule])


def letters_of_contours() -> Lettering:
    """The heights of index lines, along them."""
    return Lettering(lines=[LabelLine(text=as_field(NUMBERED), size=9.0, colour="#7a5836")], course="turned")


def first_lettering(fields: Sequence[tuple[str, FieldType, MeaningKind]], kind: Kind = "areas") -> Lettering | None:
    """Labels of the field that is likeliest to hold names; of a raster those of contours through it.

    Parameters
    ----------
    fields : Sequence[tuple[str, FieldType, MeaningKind]]
        Names, with their type and what they mean.
    kind : Kind
        What the data are; along lines names follow them.

    Returns
    -------
    Lettering | None
        None where there is no field.

    Examples
    --------
    >>> first_lettering([("ha", "number", "measure"), ("isle", "text", "name")]).lines[0].text
    '{isle}'
    """
    if kind == "raster":
        return letters_of_contours()
    named = likeliest_name(fields)
    if named is None:
        return None
    lettering = Lettering(lines=[LabelLine(text=as_field(named))], throughout=kind == "areas")
    return lettering.model_copy(update={"course": "turned"}) if kind == "lines" else lettering


def another_line(
    lettering: Lettering, fields: Sequence[tuple[str, FieldType, MeaningKind]], shown: Collection[str] = ()
) -> LabelLine:
    """One more line of labels, smaller than the last: of a field that none of them says, what the map shows before all else.

    Parameters
    ----------
    lettering : Lettering
        The labels.
    fields : Sequence[tuple[str, FieldType, MeaningKind]]
        Names, with their type and what they mean.
    shown : Collection[str]
        Those by which the layer's look varies.

    Returns
    -------
    LabelLine

    Raises
    ------
    BadInput
        Where there is no room for another, or no field.

    Examples
    --------
    >>> fields = [("isle", "text", "name"), ("lat", "number", "measure"), ("ha", "number", "count")]
    >>> line = another_line(first_lettering(fields), fields)
    >>> line.text, line.size
    ('{ha}', 10.0)
    """
    if len(lettering.lines) >= MOST_LINES:
        raise BadInput(f"A label has {MOST_LINES} lines at most.")
    said = {part.name for line in lettering.lines for part in parts_of(line.text) if isinstance(part, FieldIn)}
    free = [field for field in fields if field[0] not in said] or list(fields)
    if not free:
        raise BadInput("There is no field that a label could say.")
    name, _, _ = most_telling(free, shown)[0]
    last = lettering.lines[-1]
    return last.model_copy(update={"text": as_field(name), "size": max(SMALLEST_TYPE, last.size - SMALLER)})


def showing(old: Symbols, dataset: Dataset, field: str) -> Symbols:
    """The symbology that shows a field as a cartographer would begin: categories as hues; of points counts and measures as sizes; all else as colours
    by class.

    Parameters
    ----------
    old : Symbols
        The symbology as it is.
    dataset : Dataset
        The layer's data.
    field : str
        The field, or an expression.

    Returns
    -------
    Symbols
    """
    named = field in dataset.columns.column_names
    if named and field not in numeric_fields(dataset):
        return varied(old, dataset, "colour", "category", [field])
    by_size = dataset.kind == "points" and named and dataset.meaning(field).kind != "rate"
    alike = old.model_copy(update={"encodings": old.encodings.model_copy(update={"colour": None, "size": None})})
    return varied(alike, dataset, "size" if by_size else "colour", "classes", [field])


def _suiting(shown: Sequence[str], dataset: Dataset, by: str) -> list[str]:
    """Of what is shown now that which a kind of encoding can show: words make categories and nothing else."""
    words = set(dataset.columns.column_names) - set(numeric_fields(dataset))
    return list(shown) if by == "category" else [name for name in shown if name not in words]


def varied(old: Symbols, dataset: Dataset, channel: Channel, by: str | None, fields: Sequence[str] = ()) -> Symbols:
    """A symbology in which a channel varies in another way: `by` is the kind of its encoding, None ends its varying.

    What the old encoding of that channel says (its classes, ramp, sizes, field) is taken along where the new one says it too; `fields`
    that are named begin anew.

    Parameters
    ----------
    old : Symbols
        The symbology as it is.
    dataset : Dataset
        The layer's data.
    channel : Channel
        What is to vary.
    by : str | None
        By what: 'classes', 'category', 'value', 'two-way', 'largest', 'shares'.
    fields : Sequence[str]
        The fields to be shown; without, those shown now.

    Returns
    -------
    Symbols

    Raises
    ------
    BadInput
        Where a field is wanted and none is known, and for what a channel cannot vary by.
    """
    if dataset.kind in ("raster", "table"):
        raise BadInput(f"A {dataset.kind} is not drawn by symbols.")
    before = getattr(old.encodings, channel)
    other = old.encodings.size if channel == "colour" else old.encodings.colour
    encoding = None
    if by is not None:
        kind = KINDS[channel].get(by)
        if kind is None:
            raise BadInput(f"The {channel} of symbols does not vary by '{by}'.")
        along: Encoding | None = before or other
        shown = list(fields) or _suiting(along.shown() if along else [], dataset, by)
        parts = old.encodings.shares or old.encodings.colour
        if channel == "size" and before is None and not fields and isinstance(parts, Shares | ColourByLargest):
            # Several fields are shown as parts of something: how much there is of it is their sum.
            shown = [total_of(parts.fields)]
        shown = shown or (dataset.columns.column_names if by == "category" else telling_numbers(dataset)[:1])
        if not shown:
            raise BadInput("There is no field of numbers to show.", "Calculate one, or correct what the fields hold.")
        encoding = kind.begun(dataset, shown, None if fields else along)
    encodings = old.encodings.model_copy(update={channel: encoding})
    symbol = old.symbol
    if channel == "size" and encoding is not None and before is None and dataset.kind == "points":
        # Symbols that lie on one another are told apart by a light edge and by what shines through.
        symbol = symbol.model_copy(
            update={
                "fill_opacity": min(symbol.fill_opacity, 0.8),
                "strokes": symbol.strokes or [Stroke(colour="#ffffff", width=0.8)],
            }
        )
    if channel == "shares" and encoding is not None and before is None and encodings.size is None:
        symbol = symbol.model_copy(update={"radius": max(symbol.radius, PIE)})
    return old.model_copy(update={"symbol": symbol, "encodings": encodings})


def first_symbol(kind: Kind) -> Symbol:
    """What marks of areas, lines or points look like first.

    Parameters
    ----------
    kind : Kind
        What they are.

    Returns
    -------
    Symbol

    Examples
    --------
    >>> first_symbol("lines").strokes[0].width
    1.2
    """
    if kind == "lines":
        return Symbol(strokes=[Stroke(colour=HUES[kind][0], width=1.2)])
    if kind == "points":
        return Symbol(fill=HUES[kind][0], radius=3.5, strokes=[Stroke(colour="#ffffff", width=0.8)])
    return Symbol(fill=HUES["areas"][0], strokes=[Stroke(colour="#5d5a52", width=0.6)])
