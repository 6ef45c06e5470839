"""Editions know how much of the disk they take, and get their folder only when they are whole."""

from django.core.files.storage import default_storage
from django.db import migrations, models


def size_of(folder):
    """Bytes of all files below a folder of the storage."""
    folders, files = default_storage.listdir(folder)
    return sum(default_storage.size(f"{folder}/{file}") for file in files) + sum(
        size_of(f"{folder}/{one}") for one in folders
    )


def measure(apps, schema_editor):
    """The sizes of what is published already."""
    for edition in apps.get_model("editions", "Edition").objects.exclude(published=None).only("pk", "folder"):
        try:
            edition.bytes = size_of(edition.folder)
        except (FileNotFoundError, NotADirectoryError):
            continue
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
