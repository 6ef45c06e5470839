"""The tagged store: features with tags, as a place database, a register or a survey keeps them."""

from django.contrib.gis.db import models
from django.contrib.postgres.indexes import GinIndex


class TaggedFeature(models.Model):
    """A feature with its tags: names with values, as many as anybody cared to write down. Shapes are in degrees (WGS 84)."""

    id = models.BigIntegerField(primary_key=True)
    tags = models.JSONField()
    shape = models.GeometryField(srid=4326)

    class Meta:
        indexes = (GinIndex(fields=("tags",), name="tags_by_name"),)
