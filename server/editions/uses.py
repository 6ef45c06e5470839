"""Where a dataset is used: sheets that draw it, editions that readers have, datasets joined from it."""

import json
from uuid import UUID

from django.db.models import F
from django.http import HttpRequest
from library.api import current_dataset
from library.models import Dataset
from ninja import Router, Schema
from people.access import person
from sheets.models import SheetRevision

from editions.models import Edition

router = Router(tags=["library"])


class SheetUse(Schema):
    """A sheet that draws a dataset or compares with it."""

    id: UUID
    title: str


class EditionUse(Schema):
    """A published edition that holds a state of it: its data stay."""

    sheet: str
    number: int


class Uses(Schema):
    """All of them."""

    sheets: list[SheetUse]
    editions: list[EditionUse]
    joined: list[str]


@router.get("/datasets/{dataset_id}/uses", response=Uses, summary="Where a dataset is used")
def uses(request: HttpRequest, dataset_id: UUID) -> Uses:
    """As the sheets stand now."""
    dataset = current_dataset(request, dataset_id)
    named = str(dataset.pk)
    now = SheetRevision.objects.filter(sheet__owner=person(request), number=F("sheet__revision")).select_related(
        "sheet"
    )
    drawn = [each.sheet for each in now if named in json.dumps(each.document.get("layers", []))]
    published = (
        Edition.objects.filter(data__dataset=dataset, published__isnull=False).select_related("sheet").distinct()
    )
    others = Dataset.objects.filter(owner=person(request), current__join__isnull=False).select_related("current")
    return Uses(
        sheets=[SheetUse(id=sheet.pk, title=sheet.title) for sheet in dict.fromkeys(drawn)],
        editions=[EditionUse(sheet=edition.sheet.title, number=edition.number) for edition in published],
        joined=[each.title for each in others if named in (each.newest.join or {}).values()],
    )
