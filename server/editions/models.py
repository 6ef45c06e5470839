"""Editions: what readers see. A published edition never changes; the address points at the one that is current."""

import secrets
from datetime import datetime
from typing import cast

from django.conf import settings
from django.db import models
from greylatch.tiles.archive import RasterFormat
from library.models import Revision
from sheets.models import Sheet


def new_slug() -> str:
    """An address that cannot be guessed."""
    return secrets.token_urlsafe(9)


class Readers(models.TextChoices):
    """Who reads what stands at an address."""

    ANYONE = "anyone", "anyone who has it"
    SHARED = "shared", "those who see the sheet"
    OWNER = "owner", "its owner"


class Address(models.Model):
    """Where a sheet's editions stand. It exists from the first publish on and stays the same."""

    sheet = models.OneToOneField(Sheet, models.CASCADE, related_name="address")
    slug = models.SlugField(max_length=40, unique=True, default=new_slug)
    current = models.ForeignKey("Edition", models.SET_NULL, null=True, related_name="+")
    readers = models.CharField(max_length=8, choices=Readers.choices, default=Readers.ANYONE)
    sites = models.JSONField(default=list, help_text="origins whose pages may show it; none: all pages may")

    @property
    def public(self) -> bool:
        """Whether anyone reads it, on anybody's page."""
        return self.readers == Readers.ANYONE and not self.sites


class Edition(models.Model):
    """A sheet frozen with the data revisions that it used. Only `published` ones can be read."""

    sheet = models.ForeignKey(Sheet, models.CASCADE, related_name="editions")
    number = models.PositiveIntegerField()
    job = models.OneToOneField("jobs.Job", models.SET_NULL, null=True, related_name="edition")
    publisher = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, related_name="+")
    document = models.JSONField()
    data = models.ManyToManyField(Revision, related_name="editions")
    described = models.JSONField(default=dict, help_text="what its `edition.json` says")
    folder = models.CharField(max_length=200, blank=True)
    bytes = models.BigIntegerField(default=0, help_text="of its files in the storage")
    size = models.PositiveSmallIntegerField(default=256)
    format = models.CharField(max_length=4, default="png", help_text="png or webp")
    min_zoom = models.PositiveSmallIntegerField(default=0)
    max_zoom = models.PositiveSmallIntegerField(default=0)
    published = models.DateTimeField(null=True)

    class Meta:
        ordering = ("-number",)
        constraints = (models.UniqueConstraint(fields=("sheet", "number"), name="one_edition_a_number"),)

    @property
    def pictures(self) -> RasterFormat:
        """As what its tiles are kept."""
        return cast(RasterFormat, self.format)

    @property
    def published_at(self) -> datetime:
        """When it was published, which has happened to all that anybody sees."""
        assert self.published is not None
        return self.published

    @property
    def crs(self) -> str:
        """In which projection its map lies."""
        return str((self.document.get("projection") or {}).get("crs", "EPSG:3857"))
