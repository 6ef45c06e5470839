"""Keeping sheets: checked, numbered, and never over somebody else's change."""

from typing import Any

from django.contrib.auth.models import User
from django.db import transaction
from greylatch.errors import GreyLatchError
from greylatch.sheet.document import Sheet as Document
from greylatch.sheet.reading import parse_sheet
from people.sharing import carry

from sheets.models import Sheet, SheetRevision


class Stale(GreyLatchError):
    """A save started from a revision that is no longer the newest."""

    def __init__(self, sheet: Sheet) -> None:
        super().__init__(f"This sheet was changed elsewhere: revision {sheet.revision} is the newest.")
        self.sheet = sheet


def create(owner: User, document: dict[str, Any]) -> Sheet:
    """A new sheet. Raises BadInput for a document that is none."""
    checked = parse_sheet(document)
    with transaction.atomic():
        sheet = Sheet.objects.create(owner=owner, title=checked.title)
        SheetRevision.objects.create(sheet=sheet, number=1, document=checked.model_dump(mode="json"))
    return sheet


def keep(sheet: Sheet, base: int, document: Document, by: User) -> Sheet:
    """Keep `document` as the next revision after `base`; who sees the sheet sees its datasets. Raises Stale with the sheet as it stands where `base` is not the newest."""
    with transaction.atomic():
        now = Sheet.objects.select_for_update().get(pk=sheet.pk)
        if now.revision != base:
            raise Stale(now)
        now.revision += 1
        now.title = document.title
        now.save(update_fields=["revision", "title", "changed"])
        SheetRevision.objects.create(sheet=now, number=now.revision, document=document.model_dump(mode="json"))
        carry(now, by)
    return now


def document_of(sheet: Sheet, number: int | None = None) -> dict[str, Any]:
    """The document of a revision, by default the newest."""
    return dict(sheet.revisions.get(number=number or sheet.revision).document)
