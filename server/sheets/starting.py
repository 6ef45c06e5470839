"""Parts of a sheet as they begin: the editor repeats none of what the core says by default."""

from uuid import UUID

from django.http import HttpRequest
from greylatch.classes.methods import MAX_CLASSES
from greylatch.encodings.by_category import Category, ColourByCategory, Other, categories_of
from greylatch.encodings.channels import Channel, Encodings
from greylatch.encodings.neighbours import parted
from greylatch.errors import BadInput
from greylatch.rasters.figures import percentiles
from greylatch.reading.starting_near import starting_near
from greylatch.reading.starting_time import starting_time
from greylatch.readings.begun import begun, begun_contours, colours_of_cells
from greylatch.readings.kinds import AnyReading
from greylatch.sheet.document import Furniture, Graticule
from greylatch.sheet.document import Sheet as Document
from greylatch.sheet.layers import Glow, Group, Layer
from greylatch.sheet.lettering import LABEL_SHADOW, Lettering
from greylatch.sheet.lettering import Frame as LabelFrame
from greylatch.sheet.parts import NO_DATA_COLOUR, Colour, FieldName, Identifier, Pattern, Shadow, Stroke
from greylatch.sheet.reader import ChoiceFilter, Near, RangeFilter, Time
from greylatch.sheet.symbology import Clusters, Departure, Heat, Pins, Rule, Symbology, Symbols
from greylatch.symbols.carried_over import carried_over
from greylatch.symbols.north_arrow import NORTH_ARROW, NorthArrow
from greylatch.symbols.shapes import SHAPES
from greylatch.symbols.splitting import split_into_rules
from greylatch.symbols.starting import first_layer, letters_of_contours, look_of_contours, showing, varied
from greylatch.tables.dataset import column_named, field_type
from library.derived import data_of
from library.files import local_path
from library.seen import current_dataset
from ninja import Router, Schema
from people.access import person
from pydantic import Field

from sheets.sources import RowsIn, rows_asked

router = Router(tags=["drawing"])
CONTOURS = "contours"
GATHERED: dict[str, type[Heat] | type[Clusters]] = {"heat": Heat, "clusters": Clusters}
"""What all points together may be drawn as."""
SAME_ROWS = (None, "centres")
"""What draws a mark for each feature: what is said of one is said of the other."""
UNTITLED = "Untitled sheet"


class Shape(Schema):
    """A shape of points: its name and its outline as SVG path data at a radius of 1 ('' is a circle)."""

    name: str
    path: str


class StartingOut(Schema):
    """A sheet without a layer, and the parts that it may have, as they begin."""

    sheet: Document
    graticule: Graticule
    most_classes: int
    no_data: Colour
    other: Other
    frame: LabelFrame
    label_shadow: Shadow
    stroke: Stroke
    pattern: Pattern
    shadow: Shadow
    glow: Glow
    rule: Rule
    group: Group
    departure: Departure
    pins: Pins
    shapes: list[Shape]
    north_arrow: NorthArrow
    range_filter: RangeFilter
    choice_filter: ChoiceFilter
    time: Time
    near: Near


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


class CategoriesIn(RowsIn):
    """A field whose values are to become categories."""

    field: FieldName
    most: int = Field(1_000, ge=1, le=1_000)


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
        sheet=Document(title=UNTITLED, furniture=Furniture(scale_bar=True)), graticule=Graticule(), most_classes=MAX_CLASSES, no_data=NO_DATA_COLOUR,
        stroke=Stroke(), pattern=Pattern(), shadow=Shadow(), glow=Glow(), rule=Rule(id="rule", name="Rule", where=""),
        group=Group(id="group", name="Group"), departure=Departure(), pins=Pins(), other=Other(),
        frame=LabelFrame(), label_shadow=LABEL_SHADOW,
        shapes=[Shape(name=name, path=path) for name, path in SHAPES.items()], north_arrow=NORTH_ARROW, near=Near(), time=Time(layer="layer", field=""),
        range_filter=RangeFilter(layer="layer", field=""), choice_filter=ChoiceFilter(layer="layer", field=""),
    )  # fmt: skip


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
    if before is not None and isinstance(before.symbology, Symbols) and payload.by in SAME_ROWS and _same_rows(before):
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
        return ReadOut(reading=begun_contours(*ends), symbology=look_of_contours(), lettering=letters_of_contours())
    if payload.by in GATHERED:
        if dataset.holds != "points":
            raise BadInput(f"Only points are drawn as '{payload.by}', and this dataset holds {dataset.holds}.")
        return ReadOut(reading=None, symbology=GATHERED[payload.by]())
    reading = begun(payload.by, data_of(dataset.newest))
    kind = reading.kind_of(dataset.holds)
    look = first_layer("", "", kind).symbology
    assert isinstance(look, Symbols)
    if reading.by == "grid":
        look = look.model_copy(update={"encodings": Encodings(colour=colours_of_cells())})
    if reading.by == "dots":
        dot = look.symbol.model_copy(update={"radius": 1.1, "strokes": []})
        look = look.model_copy(update={"symbol": dot})
    return ReadOut(reading=reading, symbology=look)


def _same_rows(layer: Layer) -> bool:
    """Whether what a layer draws are the rows of its dataset, and not cells, dots or contours."""
    return layer.reading is None or layer.reading.by in SAME_ROWS


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
