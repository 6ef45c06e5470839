"""What the editor asks while a map is being made: ink, pictures of rasters, distributions, cards, findings."""

import hashlib
from typing import Any
from uuid import UUID

import numpy as np
from django.core.cache import caches
from django.http import Http404, HttpRequest, HttpResponse
from greylatch.classes.classify import Classification, ValueClass
from greylatch.classes.distribution import Distribution, distribution
from greylatch.classes.methods import Method
from greylatch.classes.suggest import ClassCount, suggested_classes
from greylatch.classes.values import values_of
from greylatch.encodings.scatter import Scatter, scatter
from greylatch.encodings.two_way import ColourByTwo
from greylatch.errors import BadInput, BadTemplate, CannotDraw
from greylatch.paint.key import layer_key
from greylatch.paint.passes import RasterPass, VectorPass, pass_of
from greylatch.proof.finding import Finding
from greylatch.proof.findings import findings, mend
from greylatch.proof.provenance import with_credits
from greylatch.rasters.begun import begun_ink
from greylatch.rasters.figures import band_classes, band_numbers
from greylatch.reading.attached import Attached, figures
from greylatch.reading.card import foreign_pictures, render_card, starting_card, unknown_placeholders
from greylatch.reading.template import MAX_TEMPLATE
from greylatch.rules.evaluating import taken
from greylatch.sheet.document import Furniture, Origin
from greylatch.sheet.document import Sheet as Document
from greylatch.sheet.grounds import GroundName, with_ground
from greylatch.sheet.layers import Layer
from greylatch.sheet.parts import Condition, FieldName, Normalise
from greylatch.sheet.symbology import RasterClasses, RasterSymbology, Symbology, Symbols, fields_shown
from greylatch.symbols.ink import Ink
from greylatch.symbols.key import KeySection
from greylatch.symbols.marks import Mark
from greylatch.symbols.packed import packed_ink
from greylatch.tables.dataset import Dataset as Rows
from greylatch.tables.dataset import Kind
from greylatch.tables.fieldtypes import plain
from library.derived import data_of
from library.files import local_path
from library.models import Dataset
from library.seen import current_dataset
from ninja import Field, Router, Schema
from numpy.typing import NDArray
from people.access import allowed_one, person

from sheets.keeping import document_of
from sheets.models import Sheet
from sheets.pictures import picture_of
from sheets.sources import LIT, FeaturesOut, RowsIn, finder, provenance, revisions_for, revisions_named, rows_asked

router = Router(tags=["drawing"])
PICTURE = (288, 180)
BARS = 64


class InkHeader(Schema):
    """What precedes the arrays in an answer of ink: see `greylatch.symbols.packed`. `ruled` says how many features each rule takes, by
    its id, and under '' how many none takes."""

    kind: str
    title: str
    unit: str
    divisor: str = ""
    numbers: str = ""
    key: list[KeySection]
    n: int = 0
    columns: list[str] = []
    slack: float = 0.0
    most: float = 0.0
    drawn: int = 0
    palette: list[Mark] = []
    colours: list[str] = []
    wedges: list[str] = []
    hollow: float = 0.0
    ruled: dict[str, int] = {}
    method: Method | None = None
    classes: list[ValueClass] = []
    missing: int = 0
    fit: float | None = None
    note: str = ""

    def described(self, classification: Classification) -> None:
        """Say what the classes are."""
        self.method, self.classes = classification.method, list(classification.classes)
        self.missing, self.fit, self.note = classification.missing, classification.fit, classification.note


class DistributionIn(RowsIn):
    """Which numbers to describe: of a field, without the rows that any of some conditions takes, or of a raster's band."""

    field: FieldName = ""
    normalise: Normalise | None = None
    without: list[Condition] = Field([], max_length=200)
    band: int | None = Field(None, ge=1)
    low: float | None = Field(None, description="Where the bars of the histogram begin")
    high: float | None = Field(None, description="Where they end")
    logarithmic: bool = False


class RangeIn(DistributionIn):
    """Numbers from `low` to `high`; the lower end itself only where it is `closed`."""

    closed: bool = False


class ScatterIn(RowsIn):
    """Of which two classifications a picture of pairs is wanted."""

    encoding: ColourByTwo


class InkedIn(Schema):
    """In what ink a raster's band is to be drawn: the kind of a symbology."""

    dataset: UUID
    kind: str = Field(max_length=40)
    band: int = Field(1, ge=1)


class CardIn(Schema):
    """A template and the feature to fill it with, by default the first."""

    dataset: UUID
    template: str = Field(max_length=MAX_TEMPLATE)
    fid: int | None = Field(None, ge=0, lt=2**31)
    pictures_from: list[Origin] = Field([], max_length=20)
    look: Symbology | None = Field(None, description="Of the layer: what varies by it is in the card to begin with")


class CardOut(Schema):
    """A filled card, made safe; `unknown` lists placeholders without a field, `pictures_from` whose pictures it names, `mistake`
    what is wrong with the template."""

    html: str
    unknown: list[str]
    pictures_from: list[str]
    mistake: str | None
    suggestion: str


class FindingOut(Schema):
    """A finding."""

    id: str
    layer: str | None
    stage: str
    text: str
    reason: str
    mend: str | None
    accepted: str | None


class MendIn(Schema):
    """A finding to be mended."""

    document: Document
    finding: str = Field(max_length=1_000)


class GroundIn(Schema):
    """A sheet to be laid on another ground; relief is that of a raster dataset."""

    document: Document
    ground: GroundName
    raster: UUID | None = None


BINARY = {
    "responses": {200: {"content": {"application/octet-stream": {"schema": {"type": "string", "format": "binary"}}}}}
}


@router.post("/ink", summary="Ink of a layer", openapi_extra=BINARY)
def ink_of_layer(request: HttpRequest, layer: Layer) -> HttpResponse:
    """Binary: a little-endian uint32 length, that many bytes of JSON (InkHeader, padded with spaces), then the arrays."""
    try:
        dataset = current_dataset(request, UUID(layer.dataset))
    except ValueError as error:
        raise Http404 from error
    named = revisions_named(person(request), layer.others.values())
    vector = pass_of(layer, finder({**named, layer.dataset: dataset.newest}))
    key = layer_key(vector)
    header = InkHeader(
        kind=key.kind, title=key.title, unit=key.unit, divisor=key.divisor, numbers=key.numbers, key=key.sections
    )
    if isinstance(vector, RasterPass) and isinstance(vector.ink, RasterClasses):
        header.described(band_classes(str(vector.source.path), vector.ink.band, vector.ink.classing))
    if not isinstance(vector, VectorPass):
        nothing = Ink((), np.empty(0, dtype=np.uint16))
        return _binary(
            packed_ink(nothing, _shapes_of(key.kind), np.empty(0, dtype=np.int64), header.model_dump(mode="json"))
        )
    inked = vector.ink
    header.n, header.drawn, header.ruled = len(inked.mark), inked.drawn, dict(inked.ruled)
    if inked.classification:
        header.described(inked.classification)
    data = vector.source.dataset
    return _binary(packed_ink(inked, data.kind, data.fids, header.model_dump(mode="json")))


def _shapes_of(kind: str) -> Kind:
    return "points" if kind == "points" else "raster"


@router.get("/sheets/{sheet_id}/picture", summary="A small picture of a sheet")
def picture_of_sheet(request: HttpRequest, sheet_id: UUID) -> HttpResponse:
    """PNG of the whole map for the list of sheets; 204 where there is nothing to draw. Made once for each revision of the sheet and of its data."""
    sheet = allowed_one(person(request), "see", Sheet, pk=sheet_id)
    document = Document.model_validate(document_of(sheet))
    revisions = revisions_for(sheet.owner, document)
    drawn = ",".join(sorted(str(revision.pk) for revision in revisions.values()))
    key = f"picture/3/{sheet.pk}/{sheet.revision}/{hashlib.sha256(drawn.encode()).hexdigest()}"
    data = caches["tiles"].get(key)
    if data is None:
        try:
            data = picture_of(document, finder(revisions), *PICTURE)
        except CannotDraw:
            data = b""
        caches["tiles"].set(key, data)
    answer = HttpResponse(data, content_type="image/png", status=200 if data else 204)
    answer["Cache-Control"] = "private, no-cache"
    return answer


@router.post("/distribution", response=Distribution, summary="Distribution of a field")
def distribution_of_field(request: HttpRequest, payload: DistributionIn) -> Distribution:
    """Of the values as they would be classified."""
    return distribution(_values(request, payload), BARS, payload.low, payload.high, payload.logarithmic)


@router.post("/features", response=FeaturesOut, summary="The features whose number lies in a range")
def features_between(request: HttpRequest, payload: RangeIn) -> FeaturesOut:
    """Those that a bar of the histogram or a class stands for."""
    rows = _rows(request, payload)
    values = values_of(rows, payload.field, payload.normalise)
    low, high = payload.low, payload.high
    above = values > (-np.inf if low is None else low)
    if payload.closed:
        above |= values == low
    fids = rows.fids[above & (values <= (np.inf if high is None else high))]
    return FeaturesOut(fids=fids[:LIT].tolist(), of=len(fids))


@router.post("/scatter", response=Scatter, summary="Two classifications as a picture of pairs")
def pairs_of_numbers(request: HttpRequest, payload: ScatterIn) -> Scatter:
    """Some of the features as dots, all of them in the counts."""
    return scatter(rows_asked(request, payload), payload.encoding)


@router.post("/suggested-classes", response=ClassCount, summary="How many classes suit a field")
def suggested(request: HttpRequest, payload: DistributionIn) -> ClassCount:
    """With the reason."""
    return suggested_classes(_values(request, payload))


def _values(request: HttpRequest, payload: DistributionIn) -> NDArray[np.float64]:
    if payload.band is not None:
        return band_numbers(_raster(request, payload.dataset), payload.band)
    return values_of(_rows(request, payload), payload.field, payload.normalise)


def _rows(request: HttpRequest, payload: DistributionIn) -> Rows:
    rows = rows_asked(request, payload)
    for condition in payload.without:
        rows = rows.taking(~taken(rows, condition))
    return rows


@router.post("/inked", response=RasterSymbology, summary="A raster in another ink")
def inked(request: HttpRequest, payload: InkedIn) -> Any:
    """As a cartographer would begin with it."""
    return begun_ink(payload.kind, _raster(request, payload.dataset), payload.band)


def _raster(request: HttpRequest, dataset_id: UUID) -> str:
    dataset = current_dataset(request, dataset_id)
    if dataset.newest.raster is None:
        raise BadInput(f"'{dataset.title}' is not a raster.")
    return str(local_path(f"{dataset.newest.folder}/raster.tif"))


@router.post("/card", response=CardOut, summary="A card, filled")
def card(request: HttpRequest, payload: CardIn) -> CardOut:
    """Mistakes of the template are an answer, not an error: the template is being typed."""
    dataset = current_dataset(request, payload.dataset)
    data = data_of(dataset.newest)
    columns = data.columns
    fid = int(data.fids[0]) if payload.fid is None and len(data) else payload.fid
    record = {} if fid is None else data.shown(fid)
    fields = [(field["name"], field["type"], field["meaning"]["kind"]) for field in dataset.newest.fields]
    suggestion = starting_card(fields, fields_shown(payload.look) if isinstance(payload.look, Symbols) else ())
    try:
        filled = {name: plain(value) for name, value in record.items()}
        return CardOut(
            html=render_card(payload.template, filled, payload.pictures_from) + _figures(dataset, fid),
            unknown=unknown_placeholders(payload.template, columns.column_names),
            pictures_from=foreign_pictures(payload.template, filled),
            mistake=None,
            suggestion=suggestion,
        )
    except BadTemplate as error:
        return CardOut(html="", unknown=[], pictures_from=[], mistake=str(error), suggestion=suggestion)


def _figures(dataset: Dataset, fid: int | None) -> str:
    """The pictures of a feature, as readers will see them."""
    shown = dataset.pictures.filter(fid=fid) if fid is not None else ()
    return "".join(
        figures([Attached("full", local_path(str(each.file.name)), each.width, each.height, each.credit, each.text)], f"/api/pictures/{each.pk}/")
        for each in shown
    )  # fmt: skip


@router.post("/proof", response=list[FindingOut], summary="Findings on a sheet")
def proof(request: HttpRequest, document: Document) -> list[Finding]:
    """What a careful editor would catch."""
    revisions = revisions_for(person(request), document)
    return findings(document, finder(revisions), provenance(revisions.values()))


@router.post("/mend", response=Document, summary="A sheet with one finding mended")
def mended(request: HttpRequest, payload: MendIn) -> Document:
    """Nothing is kept by this; the editor takes the document as a change like any other."""
    revisions = revisions_for(person(request), payload.document)
    return mend(payload.document, payload.finding, finder(revisions), provenance(revisions.values()))


@router.post("/credits", response=Furniture, summary="What stands around a map, with what its data state")
def credits(request: HttpRequest, document: Document) -> Furniture:
    """Credits, date and terms where the sheet has none. Nothing is kept by this."""
    known = provenance(revisions_for(person(request), document).values())
    shown = [known[layer.dataset] for layer in document.layers if layer.dataset in known and document.shown(layer)]
    return with_credits(document.furniture, shown)


@router.post("/ground", response=Document, summary="A sheet on another ground")
def on_ground(request: HttpRequest, payload: GroundIn) -> Document:
    """Plain, light, dark or relief. Nothing is kept by this; the editor takes the document as a change like any other."""
    if payload.raster is not None:
        raster = current_dataset(request, payload.raster)
        if raster.newest.raster is None:
            raise BadInput(f"'{raster.title}' is not a raster.")
    return with_ground(payload.document, payload.ground, str(payload.raster) if payload.raster else None)


def _binary(data: bytes) -> HttpResponse:
    return HttpResponse(data, content_type="application/octet-stream")
