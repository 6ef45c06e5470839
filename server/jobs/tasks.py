"""What the queue runs: one part of a job, and the sweep that sets right what was lost."""

import uuid

from celery import Task, shared_task
from config.away import DATABASE_AWAY

from jobs.tidying import tidy
from jobs.work import run, sweep


@shared_task(bind=True, autoretry_for=DATABASE_AWAY, retry_backoff=2, max_retries=6)
def run_part(self: Task, part: int) -> None:
    """Do one part. While the database is away the same try is made again."""
    run(part, uuid.uuid5(uuid.NAMESPACE_OID, str(self.request.id)))


@shared_task
def sweep_all() -> None:
    """Every so often: jobs that lost their worker or their message, and what killed processes left behind."""
    from library.row_by_row import put_left_behind

    sweep()
    tidy()
    put_left_behind()
