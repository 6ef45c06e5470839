from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("jobs", "0003_parts")]

    operations = [
        migrations.AddField(
            "part",
            "kept",
            models.CharField(blank=True, default="", help_text="where in the storage what it made lies until all parts are done", max_length=200),
        ),
    ]
