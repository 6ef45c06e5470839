"""Tiles of an edition may be WebP; all that were cut before are PNG."""

from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("editions", "0002_sizes")]
    operations = [
        migrations.AddField(
            model_name="edition",
            name="format",
            field=models.CharField(default="png", help_text="png or webp", max_length=4),
        )
    ]
