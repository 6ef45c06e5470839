"""Where a dataset is used: sheets that draw it, editions that readers have, datasets joined from it."""

from uuid import UUID

from django.http import HttpRequest
from library.models import Dataset
from library.seen import current_dataset
from ninja import Router, Schema
from people.access import allowed, person
from sheets.models import Sheet
from sheets.sources import drawing

from editions.models import Edition

router = Router(tags=["library"])


class SheetUse(Schema):
    """A sheet that draws a dataset or compares with it; `id` is null for one that the one who asks does not see."""

    id: UUID | None
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
    who = person(request)
    drawn = [each.sheet for each in drawing(dataset)]
    seen = set(allowed(who, "see", Sheet).values_list("pk", flat=True))
    published = (
        Edition.objects.filter(data__dataset=dataset, published__isnull=False).select_related("sheet").distinct()
    )
    others = allowed(who, "see", Dataset).filter(current__join__isnull=False).select_related("current")
    return Uses(
        sheets=[
            SheetUse(id=sheet.pk, title=sheet.title)
            if sheet.pk in seen
            else SheetUse(id=None, title=f"a sheet of {sheet.owner.get_username()}")
            for sheet in drawn
        ],
        editions=[EditionUse(sheet=edition.sheet.title, number=edition.number) for edition in published],
        joined=[each.title for each in others if named in (each.newest.join or {}).values()],
    )
