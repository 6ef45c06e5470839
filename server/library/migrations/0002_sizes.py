"""Uploads know the job that brings them in, revisions how much of the disk they take."""

import django.db.models.deletion
from django.core.files.storage import default_storage
from django.db import migrations, models


def measure(apps, schema_editor):
    """The sizes of what is kept already."""
    for revision in apps.get_model("library", "Revision").objects.only("pk", "folder"):
        try:
            files = default_storage.listdir(revision.folder)[1]
        except (FileNotFoundError, NotADirectoryError):
            continue
        revision.bytes = sum(default_storage.size(f"{revision.folder}/{file}") for file in files)
        revision.save(update_fields=["bytes"])


class Migration(migrations.Migration):
    dependencies = [("library", "0001_initial"), ("jobs", "0003_parts")]

    operations = [
        migrations.AddField(
            model_name="upload",
            name="job",
            field=models.ForeignKey(
                help_text="that brings it in",
                null=True,
                on_delete=django.db.models.deletion.SET_NULL,
                related_name="+",
                to="jobs.job",
            ),
        ),
        migrations.AddField(
            model_name="revision",
            name="bytes",
            field=models.BigIntegerField(default=0, help_text="of its files in the storage"),
        ),
        migrations.RunPython(measure, migrations.RunPython.noop),
    ]
