"""Jobs know what is to be done and in which parts; the queue only wakes workers."""

import django.db.models.deletion
from django.db import migrations, models
from django.utils import timezone

CUT_OFF = "Grey Latch was brought up to date while this was under way. Nothing was kept; start it again."


def end_jobs_under_way(apps, schema_editor):
    """What was under way in the old queue can't go on: nobody knows its parts."""
    apps.get_model("jobs", "Job").objects.filter(state__in=("waiting", "running")).update(
        state="failed", message=CUT_OFF, ended=timezone.now()
    )


class Migration(migrations.Migration):
    dependencies = [("jobs", "0002_at_work")]

    operations = [
        migrations.RemoveField(model_name="job", name="at_work"),
        migrations.RemoveField(model_name="job", name="heard"),
        migrations.AddField(model_name="job", name="arguments", field=models.JSONField(default=dict)),
        migrations.AddField(
            model_name="job",
            name="needed",
            field=models.BigIntegerField(default=0, help_text="bytes of disk, as estimated when it was begun"),
        ),
        migrations.CreateModel(
            name="Part",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("stage", models.CharField(max_length=20)),
                ("number", models.PositiveIntegerField()),
                (
                    "state",
                    models.CharField(
                        choices=[("waiting", "Waiting"), ("running", "Running"), ("done", "Done")],
                        default="waiting",
                        max_length=10,
                    ),
                ),
                ("tries", models.PositiveSmallIntegerField(default=0)),
                ("claim", models.UUIDField(null=True)),
                ("sent", models.DateTimeField(help_text="when a worker was last called", null=True)),
                ("heard", models.DateTimeField(help_text="when its worker was last heard of", null=True)),
                (
                    "job",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="parts", to="jobs.job"
                    ),
                ),
            ],
            options={
                "indexes": [models.Index(fields=["state", "heard"], name="jobs_part_state_3341a0_idx")],
                "constraints": [
                    models.UniqueConstraint(fields=("job", "stage", "number"), name="one_part_a_number")
                ],
            },
        ),
        migrations.RunPython(end_jobs_under_way, migrations.RunPython.noop),
    ]
