"""Editions know how much of the disk they take, and get their folder only when they are whole."""

from django.core.files.storage import default_storage
from django.db import migrations, models


def measure(apps, schema_editor):
    """The sizes of what is published already."""
    for edition in apps.get_model("editions", "Edition").objects.exclude(published=None).only("pk", "folder"):
        try:
            files = default_storage.listdir(edition.folder)[1]
        except (FileNotFoundError, NotADirectoryError):
            continue
        edition.bytes = sum(default_storage.size(f"{edition.folder}/{file}") for file in files)
        edition.save(update_fields=["bytes"])


class Migration(migrations.Migration):
    dependencies = [("editions", "0001_initial")]

    operations = [
        migrations.AlterField(
            model_name="edition", name="folder", field=models.CharField(blank=True, max_length=200)
        ),
        migrations.AddField(
            model_name="edition",
            name="bytes",
            field=models.BigIntegerField(default=0, help_text="of its files in the storage"),
        ),
        migrations.RunPython(measure, migrations.RunPython.noop),
    ]
