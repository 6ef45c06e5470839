"""Editions and working folders whose publish was cut off."""

import shutil
from datetime import timedelta

from django.conf import settings
from django.utils import timezone
from jobs.models import Job
from jobs.work import LIVE
from library.files import listed, newest, remove_folder

from editions.models import Edition
from editions.staging import HOME


def forsaken_editions() -> int:
    """Remove editions that were never published and on which nobody works."""
    cut_off = Edition.objects.filter(published=None).exclude(job__state__in=LIVE)
    n = cut_off.count()
    cut_off.delete()
    return n


def forsaken_staging(older_than: float) -> int:
    """Remove what was kept for publishes that have ended."""
    live = {job.hex for job in Job.objects.filter(kind="publish", state__in=LIVE).values_list("pk", flat=True)}
    limit = timezone.now() - timedelta(seconds=older_than)
    removed = 0
    for folder in listed(HOME)[0]:
        if folder not in live and newest(f"{HOME}/{folder}") < limit:
            remove_folder(f"{HOME}/{folder}")
            removed += 1
    # Earlier versions staged beside the storage; what was under way then has ended.
    shutil.rmtree(settings.RUN / "staging", ignore_errors=True)
    return removed
