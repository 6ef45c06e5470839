"""Datasets: what a person brought in, revision by revision."""

import uuid
from pathlib import Path
from typing import cast

from django.conf import settings
from django.db import models, transaction
from greylatch.tables.dataset import Kind
from people.models import Owned

from library.files import local_path, remove_files


class Upload(models.Model):
    """A file that was sent and is looked at, before anything of it is kept."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    owner = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE)
    name = models.CharField(max_length=255)
    file = models.FileField(upload_to="uploads/", max_length=300)
    size = models.BigIntegerField()
    job = models.ForeignKey("jobs.Job", models.SET_NULL, null=True, related_name="+", help_text="that brings it in")
    origin = models.JSONField(null=True, help_text="the service that it was fetched from, and what was asked of it")
    created = models.DateTimeField(auto_now_add=True)

    @property
    def path(self) -> Path:
        """Where on this machine its file can be read."""
        return local_path(str(self.file.name))

    def forget(self) -> None:
        """Remove all that is known of it, and the file once that is so: what ends otherwise has it still."""
        name = str(self.file.name)
        self.delete()
        transaction.on_commit(lambda: remove_files([name]))


class KeptIcon(Owned):
    """A picture for points, cleaned, with whose it is."""

    kind = models.CharField(max_length=3)
    content = models.TextField()
    name = models.CharField(max_length=200, blank=True)
    credit = models.CharField(max_length=500, blank=True)
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ("-created",)


class KeptRamp(Owned):
    """A ramp that somebody mixed and keeps: its stops from low to high."""

    name = models.CharField(max_length=60)
    stops = models.JSONField()
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ("-created",)
        constraints = [models.UniqueConstraint(fields=["owner", "name"], name="one_ramp_of_a_name")]


class Dataset(Owned):
    """A table, areas, lines, points or a raster, with where it comes from."""

    title = models.CharField(max_length=200)
    kind = models.CharField(max_length=10)
    source = models.CharField(max_length=500, blank=True)
    credit = models.CharField(max_length=500, blank=True)
    licence = models.CharField(max_length=200, blank=True, help_text="terms of use")
    dated = models.CharField(max_length=40, blank=True, help_text="of when the data are, in words")
    job = models.ForeignKey("jobs.Job", models.SET_NULL, null=True, related_name="+", help_text="that brought it in")
    origin = models.JSONField(
        null=True, help_text="the service that it was fetched from, what was asked of it and how it was corrected"
    )
    next_fid = models.BigIntegerField(default=0, help_text="that the next new feature gets; none is given twice")
    current = models.ForeignKey("Revision", models.PROTECT, null=True, related_name="+")
    created = models.DateTimeField(auto_now_add=True)

    @property
    def holds(self) -> Kind:
        """What it holds, in the core's words."""
        return cast(Kind, self.kind)

    @property
    def newest(self) -> "Revision":
        """Its current state, which every dataset has whose making has ended."""
        assert self.current is not None
        return self.current

    class Meta:
        ordering = ("-created",)


class AttachedPicture(models.Model):
    """A picture of a feature, as it is kept: WebP, with a thumbnail, whose it is, and what it shows in words."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    dataset = models.ForeignKey(Dataset, models.CASCADE, related_name="pictures")
    fid = models.BigIntegerField()
    name = models.CharField(max_length=40, help_text="after its content, as editions have it")
    file = models.FileField(upload_to="pictures/", max_length=300)
    thumb = models.FileField(upload_to="pictures/", max_length=300)
    width = models.PositiveIntegerField()
    height = models.PositiveIntegerField()
    bytes = models.PositiveIntegerField()
    credit = models.CharField(max_length=300, blank=True)
    text = models.CharField(max_length=500, blank=True)
    author = models.ForeignKey(settings.AUTH_USER_MODEL, models.SET_NULL, null=True, related_name="+")
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ("created",)
        indexes = (models.Index(fields=("dataset", "fid")),)

    def forget(self) -> None:
        """Remove all that is known of it, and the files once that is so."""
        names = [str(self.file.name), str(self.thumb.name)]
        self.delete()
        transaction.on_commit(lambda: remove_files(names))


class AcceptedDoubt(models.Model):
    """A doubt about a dataset that somebody took as it is, with the reason."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    dataset = models.ForeignKey(Dataset, models.CASCADE, related_name="accepted")
    doubt = models.CharField(max_length=60, help_text="its id, which says about which rows it is")
    reason = models.CharField(max_length=500)
    author = models.ForeignKey(settings.AUTH_USER_MODEL, models.SET_NULL, null=True, related_name="+")
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["dataset", "doubt"], name="one_reason_for_a_doubt")]


class Revision(models.Model):
    """A state of the data; never changed afterwards, so that tiles and editions may rely on it.

    Rows are in `Attributes` and `Shape`, with the revisions in which they hold, or at first, where they are many, in `Delivered`; a raster is raster.tif in `folder` of the file
    storage.
    """

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    dataset = models.ForeignKey(Dataset, models.CASCADE, related_name="revisions")
    number = models.PositiveIntegerField()
    shaped = models.ForeignKey(
        "self",
        models.CASCADE,
        null=True,
        related_name="+",
        help_text="in which a shape changed last, where not in this one",
    )
    folder = models.CharField(max_length=300, blank=True)
    file_name = models.CharField(max_length=255)
    author = models.ForeignKey(settings.AUTH_USER_MODEL, models.SET_NULL, null=True, related_name="+")
    change = models.CharField(max_length=500, blank=True, help_text="what was done, in words")
    undoes = models.PositiveIntegerField(null=True, help_text="number of the change that it takes back")
    redoes = models.PositiveIntegerField(null=True, help_text="number of the change that it makes again")
    repeats = models.PositiveIntegerField(null=True, help_text="number of the revision that it is the same as")
    rows = models.PositiveIntegerField(default=0)
    fields = models.JSONField(default=list)
    crs = models.CharField(max_length=300, blank=True)
    projjson = models.JSONField(null=True, help_text="its CRS, whole")
    crs_reason = models.CharField(max_length=500, blank=True)
    bounds = models.JSONField(null=True, help_text="west, south, east, north in degrees")
    notes = models.JSONField(default=list)
    raster = models.JSONField(null=True)
    bytes = models.BigIntegerField(default=0, help_text="of its files in the storage")
    join = models.JSONField(null=True, help_text="what was joined and what it left over")
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = (models.UniqueConstraint(fields=("dataset", "number"), name="one_revision_a_number"),)

    @property
    def same_as(self) -> int:
        """The number of the first revision that holds what it holds, as far as that is known."""
        return self.repeats or self.number

    @property
    def shapes_id(self) -> uuid.UUID:
        """The id of the revision in which a shape changed last: by it, all that is made of the shapes is named."""
        return self.shaped_id or self.pk

    @property
    def shapes(self) -> "Revision":
        """That revision."""
        return self.shaped or self


class Held(models.Model):
    """Something of a feature that holds from one revision of its dataset on until another, or still."""

    pk = models.CompositePrimaryKey("dataset_id", "fid", "since")
    # No constraint in the database: to check it a million times over takes longer than to write the rows.
    dataset = models.ForeignKey(Dataset, models.CASCADE, db_index=False, db_constraint=False, related_name="+")
    fid = models.BigIntegerField()
    since = models.PositiveIntegerField()
    until = models.PositiveIntegerField(null=True)

    class Meta:
        abstract = True


def _indexes(name: str) -> tuple[models.Index, ...]:
    """For what an edit changed. What came with the first delivery, which may be millions, needs none."""
    return (
        models.Index(fields=("dataset", "since"), name=f"{name}_begun", condition=models.Q(since__gt=1)),
        models.Index(fields=("dataset", "until"), name=f"{name}_ended", condition=models.Q(until__isnull=False)),
    )


class Attributes(Held):
    """What is known of a feature: its values by the keys of the revision's fields."""

    values = models.JSONField()

    class Meta(Held.Meta):
        indexes = _indexes("record")


class Shape(Held):
    """Where a feature lies: WKB in the coordinates of the dataset's CRS."""

    wkb = models.BinaryField()

    class Meta(Held.Meta):
        indexes = _indexes("shape")


class Delivered(models.Model):
    """A part of the file of a large delivery, whose rows are not on record by themselves yet (see `library.delivered`)."""

    pk = models.CompositePrimaryKey("dataset_id", "part")
    dataset = models.ForeignKey(Dataset, models.CASCADE, db_index=False, related_name="delivered")
    part = models.PositiveIntegerField()
    content = models.BinaryField()


class CrossList(Owned):
    """Which spelling stands for which area or place, settled once and used again: entries as `library.cross_lists` has them."""

    title = models.CharField(max_length=200)
    entries = models.JSONField()
    created = models.DateTimeField(auto_now_add=True)
    changed = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ("title",)
        constraints = [models.UniqueConstraint(fields=["owner", "title"], name="one_cross_list_of_a_title")]
