"""Parts of a sheet as they begin: the editor repeats none of what the core says by default."""

from uuid import UUID

import numpy as np
from django.http import HttpRequest
from greylatch.encodings.by_category import Category, ColourByCategory, Other, categories_of
from greylatch.encodings.channels import Channel
from greylatch.encodings.neighbours import parted
from greylatch.errors import BadInput
from greylatch.lettering.faces import FAMILIES, CutsOf, cuts_of
from greylatch.rasters.figures import percentiles
from greylatch.reading.starting_filter import filter_of, first_asked, starting_search
from greylatch.reading.starting_near import starting_near
from greylatch.reading.starting_time import starting_time
from greylatch.readings.begun import begun, begun_contours
from greylatch.readings.kinds import KEEPING_ROWS, AnyReading
from greylatch.rules.other_names import other_name
from greylatch.rules.telling import condition_telling
from greylatch.sheet.document import SEA, Furniture, Graticule
from greylatch.sheet.document import Sheet as Document
from greylatch.sheet.layers import MOST_OTHERS, Glow, Group, Layer, OtherName
from greylatch.sheet.lettering import LABEL_SHADOW, LabelLine, Lettering
from greylatch.sheet.lettering import Frame as LabelFrame
from greylatch.sheet.parts import (
    INNER_LINE,
    NO_DATA_COLOUR,
    Colour,
    FieldName,
    Identifier,
    Pattern,
    RampChoice,
    Shadow,
    Stroke,
)
from greylatch.sheet.reader import MOST_FILTERS, Near, ReaderFilter, Search, Time
from greylatch.sheet.symbology import TOGETHER, Departure, Pins, Rule, Symbology, Symbols, fields_shown
from greylatch.symbols.adding import NOTHING_YET, another_rule, in_a_hue_of_its_own, place_among
from greylatch.symbols.carried_over import carried_over
from greylatch.symbols.gestures import Gestures
from greylatch.symbols.north_arrow import NORTH_ARROW, NorthArrow
from greylatch.symbols.shapes import SHAPES
from greylatch.symbols.splitting import split_into_rules
from greylatch.symbols.starting import another_line, first_layer, letters_of_contours, look_of_reading, showing, varied
from greylatch.tables.dataset import Dataset as Data
from greylatch.tables.dataset import column_named, field_type, fields
from greylatch.tables.encodings import OFFERED
from greylatch.tables.fieldtypes import FieldType
from greylatch.tables.meaning import MeaningKind
from library.derived import data_of
from library.files import local_path
from library.seen import current_dataset
from ninja import Router, Schema
from people.access import person
from pydantic import Field

from sheets.sources import LIT, RowsIn, revisions_named, rows_asked

router = Router(tags=["drawing"])
CONTOURS = "contours"
UNTITLED = "Untitled sheet"


class Shape(Schema):
    """A shape of points: its name and its outline as SVG path data at a radius of 1 ('' is a circle)."""

    name: str
    path: str


class StartingOut(Schema):
    """A sheet without a layer, and the parts that it may have, as they begin."""

    sheet: Document
    graticule: Graticule
    sea: Colour
    ramp: RampChoice
    no_data: Colour
    other: Other
    frame: LabelFrame
    label_shadow: Shadow
    stroke: Stroke
    inner: Stroke
    pattern: Pattern
    shadow: Shadow
    glow: Glow
    nothing_yet: str
    group: Group
    departure: Departure
    pins: Pins
    shapes: list[Shape]
    north_arrow: NorthArrow
    time: Time
    near: Near
    encodings: list[str]
    gestures: Gestures
    keeping_rows: list[str]
    families: dict[str, CutsOf]


class VaryIn(RowsIn):
    """A channel of a symbology that is to vary by something else; `by` null ends its varying."""

    symbology: Symbols
    channel: Channel
    by: str | None = Field(None, max_length=40)
    fields: list[FieldName] = Field([], max_length=24)


class ShowIn(RowsIn):
    """A field that a layer is to show."""

    symbology: Symbols
    field: FieldName


class ReadIn(Schema):
    """Of what a layer is to be drawn: 'centres', 'hexagon', 'square', 'dots', 'heat', 'clusters' or, of a raster, 'contours'; null: its features,
    or the raster. `before` is the layer as it is: what its look says of the same rows is taken along."""

    dataset: UUID
    by: str | None = Field(None, max_length=40)
    before: Layer | None = None


class ReadOut(Schema):
    """A reading, and a look for it."""

    reading: AnyReading | None
    symbology: Symbology
    lettering: Lettering | None = None
    card: str = ""


class SplitIn(RowsIn):
    """A symbology whose classes or categories are to become rules."""

    symbology: Symbols


class RuleIn(RowsIn):
    """A symbology that gets one more rule: for some features, or for none yet."""

    symbology: Symbols
    fids: list[int] = Field([], max_length=LIT)


class CategoriesIn(RowsIn):
    """A field whose values are to become categories."""

    field: FieldName
    most: int = Field(1_000, ge=1, le=1_000)


class AddIn(Schema):
    """A dataset that is to be drawn over and under layers, from the top down."""

    dataset: UUID
    layers: list[Layer] = Field([], max_length=100)


class AddOut(Schema):
    """Its layer, and how many of the others lie over it."""

    layer: Layer
    at: int


class FilterIn(RowsIn):
    """A layer whose features readers are to choose among: by a field, or by the one that is likeliest asked about, of which the map shows one and some
    are `taken`."""

    layer: Identifier
    field: FieldName | None = None
    shown: FieldName | None = None
    taken: list[FieldName] = Field([], max_length=MOST_FILTERS)


class SearchIn(RowsIn):
    """A layer whose features readers are to find."""

    layer: Identifier


class OtherIn(Schema):
    """A dataset that conditions are to speak of, and the names that others have already."""

    dataset: UUID
    taken: list[OtherName] = Field([], max_length=MOST_OTHERS)


class LineIn(RowsIn):
    """The labels of a layer that are to say more, and its look."""

    lettering: Lettering
    symbology: Symbology


class TimeIn(RowsIn):
    """A layer whose features are to be played through time, by a field of dates."""

    layer: Identifier
    field: FieldName


class NearIn(Schema):
    """The data around which readers are to look."""

    dataset: UUID


class PartIn(RowsIn):
    """Categories with colours that are to be given out anew."""

    encoding: ColourByCategory


@router.get("/starting", response=StartingOut, summary="Parts of a sheet as they begin")
def starting(request: HttpRequest) -> StartingOut:
    """The same for everybody."""
    person(request)
    return StartingOut(
        sheet=Document(title=UNTITLED, furniture=Furniture(scale_bar=True)), graticule=Graticule(), sea=SEA, ramp=RampChoice(), no_data=NO_DATA_COLOUR,
        stroke=Stroke(), inner=INNER_LINE, pattern=Pattern(), shadow=Shadow(), glow=Glow(), nothing_yet=NOTHING_YET,
        group=Group(id="group", name="Group"), departure=Departure(), pins=Pins(), other=Other(),
        frame=LabelFrame(), label_shadow=LABEL_SHADOW,
        shapes=[Shape(name=name, path=path) for name, path in SHAPES.items()], north_arrow=NORTH_ARROW, near=Near(), encodings=list(OFFERED), time=Time(layer="layer", field=""),
        gestures=Gestures(), keeping_rows=list(KEEPING_ROWS), families={family: cuts_of(family) for family in FAMILIES},
    )  # fmt: skip


@router.post("/added", response=AddOut, summary="A dataset as a layer among others")
def add(request: HttpRequest, payload: AddIn) -> AddOut:
    """In a look of its own, and where it hides nothing."""
    dataset = current_dataset(request, payload.dataset)
    if dataset.holds == "table":
        raise BadInput("A table has no features to be drawn.", "Join it to areas, or look for its places by name.")
    colour = (dataset.newest.raster or {}).get("colour")
    layer = first_layer(str(dataset.pk), dataset.title, dataset.holds, colour)
    there = revisions_named(person(request), {other.dataset for other in payload.layers})
    kinds = {name: revision.dataset.holds for name, revision in there.items()}
    return AddOut(
        layer=in_a_hue_of_its_own(layer, dataset.holds, payload.layers),
        at=place_among(dataset.holds, payload.layers, kinds),
    )


@router.post("/filter", response=ReaderFilter, summary="By what readers choose among features at first")
def begun_filter(request: HttpRequest, payload: FilterIn) -> ReaderFilter:
    """Numbers and dates between two ends, all else from a list."""
    data = rows_asked(request, payload)
    asked = payload.field or first_asked(asked_fields(data), payload.shown, payload.taken)
    if asked is None:
        raise BadInput("There is no field by which readers could choose.")
    return filter_of(payload.layer, asked, field_type(column_named(data.columns, asked).type))


@router.post("/search", response=Search, summary="By what readers find features at first")
def begun_search(request: HttpRequest, payload: SearchIn) -> Search:
    """By what is likeliest their name."""
    search = starting_search(payload.layer, asked_fields(rows_asked(request, payload)))
    if search is None:
        raise BadInput("There is no field by which readers could search.")
    return search


@router.post("/other-name", response=str, summary="By what name conditions speak of another dataset")
def begun_other(request: HttpRequest, payload: OtherIn) -> str:
    """Made of its title, and one that no other has."""
    return other_name(current_dataset(request, payload.dataset).title, payload.taken)


@router.post("/line", response=LabelLine, summary="One more line of a layer's labels")
def begun_line(request: HttpRequest, payload: LineIn) -> LabelLine:
    """What the map shows before all else."""
    look = payload.symbology
    shown = fields_shown(look) if isinstance(look, Symbols) else ()
    return another_line(payload.lettering, asked_fields(rows_asked(request, payload)), shown)


def asked_fields(data: Data) -> list[tuple[str, FieldType, MeaningKind]]:
    """Names, with their type and what they mean."""
    return [(field.name, field.type, data.meaning(field.name).kind) for field in fields(data.columns)]


@router.post("/time", response=Time, summary="How a layer is played through time at first")
def begun_time(request: HttpRequest, payload: TimeIn) -> Time:
    """By steps that suit how long all of it lasts."""
    data = rows_asked(request, payload)
    if field_type(column_named(data.columns, payload.field).type) != "date":
        raise BadInput(f"'{payload.field}' holds no dates.")
    return starting_time(payload.layer, payload.field, data.columns[payload.field])


@router.post("/near", response=Near, summary="How far readers look around a place at first")
def begun_near(request: HttpRequest, payload: NearIn) -> Near:
    """A distance that suits how far the data reach."""
    bounds = current_dataset(request, payload.dataset).newest.bounds
    return starting_near(tuple(bounds)) if bounds else Near()


@router.post("/varied", response=Symbols, summary="A symbology in which a channel varies otherwise")
def vary(request: HttpRequest, payload: VaryIn) -> Symbols:
    """With what it has of the old encoding."""
    return varied(payload.symbology, rows_asked(request, payload), payload.channel, payload.by, payload.fields)


@router.post("/shown", response=Symbols, summary="A symbology that shows a field")
def show(request: HttpRequest, payload: ShowIn) -> Symbols:
    """As a cartographer would begin with such a field."""
    return showing(payload.symbology, rows_asked(request, payload), payload.field)


@router.post("/read", response=ReadOut, summary="A layer of which something else is drawn")
def read(request: HttpRequest, payload: ReadIn) -> ReadOut:
    """Features, their centres, cells with what they hold, or dots; each in a look that suits it."""
    dataset = current_dataset(request, payload.dataset)
    if dataset.holds == "table":
        raise BadInput("A table has no features.")
    revision = dataset.newest
    colour = revision.raster["colour"] if revision.raster else None
    before = payload.before
    if (
        before is not None
        and isinstance(before.symbology, Symbols)
        and _same_rows(payload.by)
        and _same_rows(before.reading.by if before.reading else None)
    ):
        asked = None if payload.by is None else begun(payload.by, data_of(revision))
        kinds = (each.kind_of(dataset.holds) if each else dataset.holds for each in (before.reading, asked))
        carried = carried_over(before.symbology, *kinds)
        return ReadOut(reading=asked, symbology=carried, lettering=before.lettering, card=before.card)
    if payload.by is None:
        return ReadOut(reading=None, symbology=first_layer("", "", dataset.holds, colour).symbology)
    if revision.raster is not None:
        if payload.by != CONTOURS:
            raise BadInput(f"A raster has no features that could be drawn as '{payload.by}'.")
        ends = percentiles(str(local_path(f"{revision.folder}/raster.tif")))
        contours = begun_contours(*ends)
        look = look_of_reading(contours, contours.makes)
        return ReadOut(reading=contours, symbology=look, lettering=letters_of_contours())
    if payload.by in TOGETHER:
        if dataset.holds != "points":
            raise BadInput(f"Only points are drawn as '{payload.by}', and this dataset holds {dataset.holds}.")
        return ReadOut(reading=None, symbology=TOGETHER[payload.by]())
    reading = begun(payload.by, data_of(dataset.newest))
    return ReadOut(reading=reading, symbology=look_of_reading(reading, reading.kind_of(dataset.holds)))


def _same_rows(by: str | None) -> bool:
    """Whether what is drawn are the rows of a dataset, and not cells, dots or contours."""
    return by is None or by in KEEPING_ROWS


@router.post("/rule", response=Rule, summary="One more rule of a symbology")
def begin_rule(request: HttpRequest, payload: RuleIn) -> Rule:
    """In a hue that no other of its rules has."""
    dataset = current_dataset(request, payload.dataset)
    kind = payload.reading.kind_of(dataset.holds) if payload.reading else dataset.holds
    if not payload.fids:
        return another_rule(payload.symbology, kind)
    chosen = np.array(payload.fids, dtype=np.int64)
    return another_rule(payload.symbology, kind, condition_telling(rows_asked(request, payload), chosen))


@router.post("/split", response=Symbols, summary="A symbology split into rules")
def split(request: HttpRequest, payload: SplitIn) -> Symbols:
    """The same picture by a rule for each class or category."""
    return split_into_rules(payload.symbology, rows_asked(request, payload))


@router.post("/categories/parted", response=ColourByCategory, summary="Categories whose neighbours look unlike them")
def part(request: HttpRequest, payload: PartIn) -> ColourByCategory:
    """The same colours, given to other categories."""
    return parted(rows_asked(request, payload), payload.encoding)


@router.post("/categories", response=list[Category], summary="The values of a field as categories")
def categories(request: HttpRequest, payload: CategoriesIn) -> list[Category]:
    """The commonest first."""
    return categories_of(rows_asked(request, payload), payload.field, payload.most)
