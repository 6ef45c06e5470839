"""Parts of a sheet as they begin: the editor repeats none of what the core says by default."""

from uuid import UUID

from django.http import HttpRequest
from greylatch.classes.methods import MAX_CLASSES
from greylatch.encodings.by_category import Category, categories_of
from greylatch.encodings.channels import Channel, Encodings
from greylatch.errors import BadInput
from greylatch.readings.begun import begun, colours_of_cells
from greylatch.readings.kinds import AnyReading
from greylatch.rules.evaluating import filtered
from greylatch.sheet.document import Graticule
from greylatch.sheet.document import Sheet as Document
from greylatch.sheet.layers import Glow, Group, Shadow
from greylatch.sheet.parts import NO_DATA_COLOUR, Colour, Condition, FieldName, Pattern, Stroke
from greylatch.sheet.symbology import Departure, Heat, Rule, Symbols
from greylatch.symbols.shapes import SHAPES
from greylatch.symbols.splitting import split_into_rules
from greylatch.symbols.starting import first_layer, showing, varied
from library.derived import data_of
from library.models import Dataset
from ninja import Router, Schema
from people.access import own, person
from pydantic import Field

router = Router(tags=["drawing"])
HEAT = "heat"
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
    stroke: Stroke
    pattern: Pattern
    shadow: Shadow
    glow: Glow
    rule: Rule
    group: Group
    departure: Departure
    shapes: list[Shape]


class VaryIn(Schema):
    """A channel of a symbology that is to vary by something else; `by` null ends its varying."""

    dataset: UUID
    symbology: Symbols
    channel: Channel
    by: str | None = Field(None, max_length=40)
    fields: list[FieldName] = Field([], max_length=24)
    reading: AnyReading | None = None


class ShowIn(Schema):
    """A field that a layer is to show."""

    dataset: UUID
    symbology: Symbols
    field: FieldName


class ReadIn(Schema):
    """Of what a layer is to be drawn: 'centres', 'hexagon', 'square', 'dots' or 'heat'; null: its features."""

    dataset: UUID
    by: str | None = Field(None, max_length=40)


class ReadOut(Schema):
    """A reading, and a look for it."""

    reading: AnyReading | None
    symbology: Symbols | Heat


class SplitIn(Schema):
    """A symbology whose classes or categories are to become rules, for the rows that a filter takes."""

    dataset: UUID
    symbology: Symbols
    filter: Condition = ""


class CategoriesIn(Schema):
    """A field whose values are to become categories."""

    dataset: UUID
    field: FieldName
    most: int = Field(1_000, ge=1, le=1_000)


@router.get("/starting", response=StartingOut, summary="Parts of a sheet as they begin")
def starting(request: HttpRequest) -> StartingOut:
    """The same for everybody."""
    person(request)
    return StartingOut(
        sheet=Document(title=UNTITLED), graticule=Graticule(), most_classes=MAX_CLASSES, no_data=NO_DATA_COLOUR,
        stroke=Stroke(), pattern=Pattern(), shadow=Shadow(), glow=Glow(), rule=Rule(id="rule", name="Rule", where=""),
        group=Group(id="group", name="Group"), departure=Departure(),
        shapes=[Shape(name=name, path=path) for name, path in SHAPES.items()],
    )  # fmt: skip


@router.post("/varied", response=Symbols, summary="A symbology in which a channel varies otherwise")
def vary(request: HttpRequest, payload: VaryIn) -> Symbols:
    """With what it has of the old encoding."""
    dataset = own(Dataset.objects.select_related("current"), person(request), pk=payload.dataset)
    if dataset.holds == "raster":
        raise BadInput("A raster is not drawn by symbols.")
    data = data_of(dataset.newest)
    if payload.reading is not None:
        data = payload.reading.derived(data)
    return varied(payload.symbology, data, payload.channel, payload.by, payload.fields)


@router.post("/shown", response=Symbols, summary="A symbology that shows a field")
def show(request: HttpRequest, payload: ShowIn) -> Symbols:
    """As a cartographer would begin with such a field."""
    dataset = own(Dataset.objects.select_related("current"), person(request), pk=payload.dataset)
    if dataset.holds == "raster":
        raise BadInput("A raster is not drawn by symbols.")
    return showing(payload.symbology, data_of(dataset.newest), payload.field)


@router.post("/read", response=ReadOut, summary="A layer of which something else is drawn")
def read(request: HttpRequest, payload: ReadIn) -> ReadOut:
    """Features, their centres, cells with what they hold, or dots; each in a look that suits it."""
    dataset = own(Dataset.objects.select_related("current"), person(request), pk=payload.dataset)
    if dataset.holds in ("raster", "table"):
        raise BadInput(f"A {dataset.holds} has no features.")
    if payload.by is None:
        return ReadOut(reading=None, symbology=first_layer("", "", dataset.holds).symbology)  # type: ignore[arg-type]
    if payload.by == HEAT:
        if dataset.holds != "points":
            raise BadInput(f"A heat surface needs points, and this dataset holds {dataset.holds}.")
        return ReadOut(reading=None, symbology=Heat())
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


@router.post("/split", response=Symbols, summary="A symbology split into rules")
def split(request: HttpRequest, payload: SplitIn) -> Symbols:
    """The same picture by a rule for each class or category."""
    dataset = own(Dataset.objects.select_related("current"), person(request), pk=payload.dataset)
    return split_into_rules(payload.symbology, filtered(data_of(dataset.newest), payload.filter))


@router.post("/categories", response=list[Category], summary="The values of a field as categories")
def categories(request: HttpRequest, payload: CategoriesIn) -> list[Category]:
    """The commonest first."""
    dataset = own(Dataset.objects.select_related("current"), person(request), pk=payload.dataset)
    return categories_of(data_of(dataset.newest), payload.field, payload.most)
