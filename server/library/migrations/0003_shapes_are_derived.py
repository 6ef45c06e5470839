"""Shapes in Web Mercator are no longer kept: tiles of any projection are cut from the file of the revision."""

from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("library", "0002_sizes")]
    operations = [migrations.DeleteModel(name="Feature")]
