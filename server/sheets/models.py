"""Sheets, with every revision that was ever kept: undo is a list of revisions."""

from collections.abc import Iterable
from uuid import UUID

from django.contrib.auth.models import User
from django.db import models
from library.models import Dataset
from people.access import allowed
from people.models import Owned


class Sheet(Owned):
    """One map. Its document is that of revision `revision`."""

    title = models.CharField(max_length=200)
    revision = models.PositiveIntegerField(default=1)
    changed = models.DateTimeField(auto_now=True)
    created = models.DateTimeField(auto_now_add=True)

    def seen_with(self, by: User) -> Iterable[tuple[UUID, int]]:
        """The datasets that it draws or compares with, with their owners."""
        layers = self.revisions.get(number=self.revision).document.get("layers", [])
        named = {name for layer in layers for name in (layer.get("dataset"), *(layer.get("others") or {}).values())}
        there = Dataset.objects.filter(pk__in=[name for name in named if is_uuid(name)])
        return (allowed(by, "see", there) | allowed(self.owner, "see", there)).values_list("pk", "owner")

    class Meta:
        ordering = ("-changed",)


class SheetRevision(models.Model):
    """A document as it was kept once."""

    sheet = models.ForeignKey(Sheet, models.CASCADE, related_name="revisions")
    number = models.PositiveIntegerField()
    document = models.JSONField()
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ("-number",)
        constraints = (models.UniqueConstraint(fields=("sheet", "number"), name="one_document_a_number"),)


def is_uuid(text: object) -> bool:
    """Whether a dataset can be named so."""
    try:
        UUID(str(text))
        return True
    except ValueError:
        return False
