"""Undo is each person's own: what the history of the table said of its steps is said of those who made them."""

from collections import defaultdict
from typing import Any

from django.db import migrations, models


def per_person(apps: Any, schema_editor: Any) -> None:
    """A step back that somebody made over another's change becomes a change of its own: its author can take it back."""
    revisions = apps.get_model("library", "Revision").objects.order_by("dataset_id", "number")
    undone: dict[Any, set[int]] = defaultdict(set)
    done: dict[Any, set[int]] = defaultdict(set)
    repeats: dict[Any, int | None] = {}
    for revision in revisions.only("dataset_id", "number", "author_id", "change", "repeats", "again").iterator():
        who = revision.dataset_id, revision.author_id
        repeats[revision.dataset_id, revision.number] = revision.repeats
        if revision.change.startswith("Undone: ") and revision.again:
            last = revision.again[0]
            number = repeats.get((revision.dataset_id, last)) or last
            if number in done[who]:
                revision.undoes = number
                done[who].remove(number)
                undone[who].add(number)
        elif revision.change.startswith("Again: ") and revision.repeats in undone[who]:
            revision.redoes = revision.repeats
            undone[who].remove(revision.repeats)
            done[who].add(revision.repeats)
        if revision.undoes or revision.redoes:
            revision.save(update_fields=["undoes", "redoes"])
        else:
            done[who].add(revision.number)
            undone[who].clear()


class Migration(migrations.Migration):
    dependencies = [("library", "0012_attached_pictures")]

    operations = [
        migrations.AddField(
            "revision", "undoes",
            models.PositiveIntegerField(help_text="number of the change that it takes back", null=True),
        ),
        migrations.AddField(
            "revision", "redoes",
            models.PositiveIntegerField(help_text="number of the change that it makes again", null=True),
        ),
        migrations.RunPython(per_person, migrations.RunPython.noop),
        migrations.RemoveField("revision", "before"),
        migrations.RemoveField("revision", "again"),
    ]  # fmt: skip
