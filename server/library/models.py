"""Datasets: what a person brought in, revision by revision."""

import uuid

from django.conf import settings
from django.db import models


class Upload(models.Model):
    """A file that was sent and is looked at, before anything of it is kept."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    owner = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE)
    name = models.CharField(max_length=255)
    file = models.FileField(upload_to="uploads/", max_length=300)
    size = models.BigIntegerField()
    job = models.ForeignKey("jobs.Job", models.SET_NULL, null=True, related_name="+", help_text="that brings it in")
    created = models.DateTimeField(auto_now_add=True)

    def forget(self) -> None:
        """Remove the file and all that is known of it."""
        self.file.delete(save=False)
        self.delete()


class Dataset(models.Model):
    """A table, areas, lines, points or a raster, with where it comes from."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    owner = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, related_name="datasets")
    title = models.CharField(max_length=200)
    kind = models.CharField(max_length=10)
    source = models.CharField(max_length=500, blank=True)
    credit = models.CharField(max_length=500, blank=True)
    job = models.ForeignKey("jobs.Job", models.SET_NULL, null=True, related_name="+", help_text="that brought it in")
    current = models.ForeignKey("Revision", models.PROTECT, null=True, related_name="+")
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ("-created",)


class Revision(models.Model):
    """The data as they were delivered once; never changed afterwards, so that tiles and editions may rely on it.

    `folder` in the file storage holds data.parquet (GeoParquet, source coordinates) and columns.arrow, or raster.tif.
    """

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    dataset = models.ForeignKey(Dataset, models.CASCADE, related_name="revisions")
    number = models.PositiveIntegerField()
    folder = models.CharField(max_length=300)
    file_name = models.CharField(max_length=255)
    rows = models.PositiveIntegerField(default=0)
    fields = models.JSONField(default=list)
    crs = models.CharField(max_length=300, blank=True)
    crs_reason = models.CharField(max_length=500, blank=True)
    bounds = models.JSONField(null=True, help_text="west, south, east, north in degrees")
    notes = models.JSONField(default=list)
    raster = models.JSONField(null=True)
    bytes = models.BigIntegerField(default=0, help_text="of its files in the storage")
    join = models.JSONField(null=True, help_text="what was joined and what it left over")
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = (models.UniqueConstraint(fields=("dataset", "number"), name="one_revision_a_number"),)
