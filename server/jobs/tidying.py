"""Taking away what killed processes and forgotten uploads leave behind, so that nothing piles up."""

import logging
import os
import shutil
import time
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import timedelta
from pathlib import Path
from tempfile import mkdtemp

from django.conf import settings
from django.utils import timezone

log = logging.getLogger(__name__)
FORGOTTEN = timedelta(days=1)
"""After which an upload that nobody imported is removed."""
HOUR = 3600.0


@contextmanager
def scratch() -> Iterator[Path]:
    """A folder for the time of a block. Its name says which process made it, so that it goes even when that is killed."""
    home = settings.SCRATCH
    home.mkdir(parents=True, exist_ok=True)
    folder = Path(mkdtemp(prefix=f"{os.getpid()}-", dir=home))
    try:
        yield folder
    finally:
        shutil.rmtree(folder, ignore_errors=True)


def tidy(older_than: float = HOUR) -> dict[str, int]:
    """Remove what belongs to nothing: scratch folders of dead processes, uploads of yesterday, datasets and editions whose
    making did not end, files in the storage that no dataset, edition or upload names,
    what this machine derived of datasets that are gone. Returns how many of each.

    Only what was last written `older_than` seconds ago is taken, since what is being made has no owner yet.
    """
    from editions.tidying import forsaken_editions, forsaken_staging
    from library.tidying import forsaken_datasets, forsaken_derived, forsaken_files, forsaken_uploads

    removed = {
        "scratch": _scratch(),
        "uploads": forsaken_uploads(timezone.now() - FORGOTTEN),
        "datasets": forsaken_datasets(older_than),
        "editions": forsaken_editions(),
        "staging": forsaken_staging(older_than),
        "files": forsaken_files(older_than),
        "derived": forsaken_derived(older_than),
        "cache": _cache(older_than),
    }
    if any(removed.values()):
        log.info("tidied away: %s", removed)
    return removed


def _scratch() -> int:
    removed = 0
    for folder in settings.SCRATCH.glob("*") if settings.SCRATCH.exists() else ():
        pid = folder.name.split("-")[0]
        if not pid.isdigit() or not Path(f"/proc/{pid}").exists():
            shutil.rmtree(folder, ignore_errors=True)
            folder.unlink(missing_ok=True)
            removed += 1
    return removed


def _cache(older_than: float) -> int:
    """Unfinished entries of the tile cache."""
    home, removed = Path(settings.TILE_CACHE), 0
    for file in home.glob("tmp*") if home.exists() else ():
        if file.is_file() and time.time() - file.stat().st_mtime > older_than:
            file.unlink(missing_ok=True)
            removed += 1
    return removed
