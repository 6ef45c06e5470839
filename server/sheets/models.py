"""Sheets, with every revision that was ever kept: undo is a list of revisions."""

import uuid

from django.conf import settings
from django.db import models


class Sheet(models.Model):
    """One map. Its document is that of revision `revision`."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    owner = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, related_name="sheets")
    title = models.CharField(max_length=200)
    revision = models.PositiveIntegerField(default=1)
    changed = models.DateTimeField(auto_now=True)
    created = models.DateTimeField(auto_now_add=True)

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
