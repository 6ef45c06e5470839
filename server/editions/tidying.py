"""Editions and working folders whose publish was cut off."""

import shutil
import time

from jobs.models import Job
from jobs.work import LIVE

from editions.models import Edition
from editions.staging import home_of_staging


def forsaken_editions() -> int:
    """Remove editions that were never published and on which nobody works."""
    cut_off = Edition.objects.filter(published=None).exclude(job__state__in=LIVE)
    n = cut_off.count()
    cut_off.delete()
    return n


def forsaken_staging(older_than: float) -> int:
    """Remove working folders of jobs that have ended."""
    home, removed = home_of_staging(), 0
    live = {job.hex for job in Job.objects.filter(kind="publish", state__in=LIVE).values_list("pk", flat=True)}
    for folder in home.glob("*") if home.exists() else ():
        if folder.name not in live and time.time() - folder.stat().st_mtime > older_than:
            shutil.rmtree(folder, ignore_errors=True)
            removed += 1
    return removed
