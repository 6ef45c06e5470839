"""Where a publish works until it is whole."""

from pathlib import Path

from django.conf import settings
from jobs.models import Job


def home_of_staging() -> Path:
    """The folder of all working folders."""
    return Path(settings.RUN) / "staging"


def staging(job: Job) -> Path:
    """The working folder of a publish, shared by the workers of one machine or through a shared disk."""
    return home_of_staging() / job.pk.hex
