"""Putting a large delivery on record row by row, once it is in the library and its first map is drawn."""

from contextlib import suppress
from datetime import timedelta
from uuid import UUID

from celery import Task, shared_task
from config.away import DATABASE_AWAY
from django.db import transaction
from django.utils import timezone
from jobs.work import QUEUE_AWAY

from library import delivered
from library.models import Dataset, Delivered, Revision
from library.record import write_attributes, write_shapes

SOON = 8
"""Seconds: by then the first map is drawn, for which both would want the processor."""
LOST = 120
"""Seconds after which a turn is lost."""


def row_by_row(dataset: UUID) -> bool:
    """Have each row of a dataset on record by itself, in place of the delivery as it came. Returns whether there was anything to do; whoever
    else does it is waited for."""
    with transaction.atomic():
        if not delivered.is_held(dataset) or not delivered.is_held(dataset, alone=True):
            return False
        rows = delivered.held(dataset)
        assert rows is not None
        size = write_attributes(dataset, 1, rows.fids, rows.columns, rows.columns.column_names)
        if rows.geometry is not None:
            size += write_shapes(dataset, 1, rows)
        Revision.objects.filter(dataset=dataset, number=1).update(bytes=size)
        Delivered.objects.filter(dataset=dataset).delete()
    return True


def soon(dataset: UUID) -> None:
    """Have a worker do it in a while. Where none can be called it is done by the next sweep, or by the first change."""
    with suppress(*QUEUE_AWAY):
        put_row_by_row.apply_async((str(dataset),), countdown=SOON)


@shared_task(bind=True, autoretry_for=DATABASE_AWAY, retry_backoff=2, max_retries=6)
def put_row_by_row(self: Task, dataset: str) -> None:
    """Do it."""
    row_by_row(UUID(dataset))


def put_left_behind() -> int:
    """Do it for all datasets whose turn was lost; returns how many."""
    before = timezone.now() - timedelta(seconds=LOST)
    whole = Dataset.objects.filter(current__isnull=False, created__lt=before).exclude(delivered=None).distinct()
    return sum(row_by_row(pk) for pk in list(whole.values_list("pk", flat=True)))
