"""Where a sheet's datasets are found, as the one who asks may see them."""

from collections.abc import Iterable, Mapping
from dataclasses import replace
from uuid import UUID

from django.contrib.auth.models import User
from django.db.models import F, TextField
from django.db.models.functions import Cast
from django.http import HttpRequest
from greylatch.errors import BadInput, CannotDraw
from greylatch.paint.passes import rows_drawn
from greylatch.paint.sources import Find, Source
from greylatch.places.frame import Frame
from greylatch.proof.provenance import Provenance
from greylatch.readings.kinds import AnyReading
from greylatch.rules.evaluating import filtered
from greylatch.sheet.document import Sheet as Document
from greylatch.sheet.layers import MOST_OTHERS, OtherName
from greylatch.sheet.parts import Condition
from greylatch.tables.dataset import Dataset as Data
from library.derived import data_of, source_of
from library.models import Dataset, Revision
from library.seen import current_dataset
from ninja import Schema
from people.access import allowed, person
from pydantic import Field

from sheets.models import Sheet, SheetRevision, is_uuid


def revisions_for(owner: User, document: Document) -> dict[str, Revision]:
    """The current revision of every dataset that the document names and `owner` may see."""
    return revisions_named(owner, {name for layer in document.layers for name in layer.datasets})


def revisions_named(owner: User, names: Iterable[str]) -> dict[str, Revision]:
    """The current revisions of those datasets that `owner` may see."""
    wanted = [name for name in names if is_uuid(name)]
    if not wanted:
        return {}
    datasets = allowed(owner, "see", Dataset).filter(pk__in=wanted).select_related("current", "current__dataset")
    return {str(dataset.pk): dataset.current for dataset in datasets if dataset.current}


def refuse_foreign(owner: User, document: Document, before: Document | None = None) -> None:
    """Raise BadInput that names the first layer, shown or hidden, whose dataset is somebody else's and was not in the sheet
    `before`."""
    known = {name for layer in before.layers for name in layer.datasets} if before else set()
    wanted = {name for layer in document.layers for name in layer.datasets if name not in known and is_uuid(name)}
    others = Dataset.objects.filter(pk__in=wanted).exclude(pk__in=allowed(owner, "see", Dataset).values("pk"))
    foreign = {str(pk) for pk in others.values_list("pk", flat=True)} if wanted else set()
    for layer in document.layers:
        if any(name in wanted and str(UUID(name)) in foreign for name in layer.datasets):
            raise BadInput(
                f"Layer '{layer.name}' names a dataset that nobody shares with you.", "Choose one of your library."
            )


def allowed_pictures(owner: User) -> list[str]:
    """Whose pictures the cards of the sheets that a person sees may show."""
    newest = SheetRevision.objects.filter(sheet__in=allowed(owner, "see", Sheet), number=F("sheet__revision"))
    return sorted(
        {host for listed in newest.values_list("document__pictures_from", flat=True) for host in listed or []}
    )


def drawing(dataset: Dataset) -> list[SheetRevision]:
    """The sheets, whosever they are, that draw a dataset or compare with it: each as it stands, by title."""
    newest = SheetRevision.objects.filter(number=F("sheet__revision")).select_related("sheet__owner")
    named = newest.annotate(text=Cast("document__layers", TextField())).filter(text__contains=str(dataset.pk))
    return list(named.order_by("sheet__title"))


LIT = 20_000
"""Features that are lit on the map at most."""


class RowsIn(Schema):
    """The rows that a layer draws, as it makes them of a dataset's; of a raster what its reading makes of it."""

    dataset: UUID
    filter: Condition = ""
    reading: AnyReading | None = None
    others: dict[OtherName, UUID] = Field({}, max_length=MOST_OTHERS)


class FeaturesOut(Schema):
    """Which features are meant, as far as they can be shown one by one."""

    fids: list[int]
    of: int


def rows_asked(request: HttpRequest, payload: RowsIn) -> Data:
    """Raise BadInput for a raster of which nothing is made."""
    dataset = current_dataset(request, payload.dataset)
    revision = dataset.newest
    others = others_of(person(request), payload.others)
    if payload.reading is None:
        if revision.raster is not None:
            raise BadInput(f"'{dataset.title}' is a raster, which has no rows.")
        return filtered(replace(data_of(revision), others=others), payload.filter)
    return rows_drawn(source_of(revision), payload.filter, payload.reading, others).dataset


def others_of(owner: User, others: Mapping[str, str | UUID]) -> dict[str, Data]:
    """The datasets that conditions may name. Raise BadInput for one that `owner` may not see, and for a raster."""
    named = revisions_named(owner, map(str, others.values()))
    out = {}
    for name, pk in others.items():
        other = named.get(str(pk))
        if other is None or other.raster is not None:
            raise BadInput(f"'{name}', which conditions may name, is not a dataset of shapes in the library.")
        out[name] = data_of(other)
    return out


def finder(revisions: dict[str, Revision]) -> Find:
    """A finder over these revisions only."""

    def find(name: str, frame: Frame) -> Source:
        if name not in revisions:
            raise CannotDraw("Its dataset is not in the library any more.", "Choose another, or remove the layer.")
        return source_of(revisions[name], frame)

    return find


def provenance(revisions: Iterable[Revision]) -> dict[str, Provenance]:
    """What is known of the data and of the left-overs of their join, by dataset."""
    out = {}
    for revision in revisions:
        join, dataset = revision.join or {}, revision.dataset
        out[str(revision.dataset_id)] = Provenance(
            dataset.source, len(join.get("rows_without_area", [])), len(join.get("areas_without_row", [])), dataset.credit, dataset.licence, dataset.dated
        )  # fmt: skip
    return out
