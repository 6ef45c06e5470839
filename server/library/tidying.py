"""Datasets, uploads and files that belong to nothing."""

import shutil
import time
from datetime import datetime, timedelta
from pathlib import Path

from django.conf import settings
from django.core.files.storage import default_storage
from django.utils import timezone
from editions.models import Edition
from jobs.work import LIVE

from library.files import home_of_fetched, listed, newest, remove_files, remove_folder
from library.models import AttachedPicture, Dataset, Revision, Upload
from library.store import forget


def forsaken_uploads(before: datetime) -> int:
    """Remove uploads that nobody imported."""
    old = list(Upload.objects.filter(created__lt=before).exclude(job__state__in=LIVE))
    for upload in old:
        upload.forget()
    return len(old)


def forsaken_datasets(older_than: float) -> int:
    """Remove datasets whose making was cut off."""
    limit = timezone.now() - timedelta(seconds=older_than)
    cut_off = list(Dataset.objects.filter(current=None, created__lt=limit).exclude(job__state__in=LIVE))
    for dataset in cut_off:
        forget(dataset)
    return len(cut_off)


def forsaken_files(older_than: float) -> int:
    """Remove folders and uploaded files in the storage that nothing in the database names."""
    limit = timezone.now() - timedelta(seconds=older_than)
    named = set(Revision.objects.values_list("folder", flat=True)) | set(
        Edition.objects.values_list("folder", flat=True)
    )
    removed = 0
    for home in ("datasets", "editions"):
        for folder in listed(home)[0]:
            name = f"{home}/{folder}"
            if name not in named and newest(name) < limit:
                remove_folder(name)
                removed += 1
    fetched = home_of_fetched()
    for copy in [*fetched.glob("datasets/*"), *fetched.glob("editions/*")]:
        if copy.relative_to(fetched).as_posix() not in named:
            shutil.rmtree(copy, ignore_errors=True)
            removed += 1
    pictures = AttachedPicture.objects.values_list("file", "thumb")
    kept = {*Upload.objects.values_list("file", flat=True), *(name for names in pictures for name in names)}
    removed += _old_cuts()
    for home in ("uploads", "pictures"):
        for file in listed(home)[1]:
            name = f"{home}/{file}"
            if name not in kept and default_storage.get_modified_time(name) < limit:
                default_storage.delete(name)
                removed += 1
        for copy in fetched.glob(f"{home}/*"):
            if f"{home}/{copy.name}" not in kept:
                copy.unlink(missing_ok=True)
    return removed


def _old_cuts() -> int:
    """Zips of parts that were ready a day ago: they are fetched at once, or not at all."""
    old = timezone.now() - timedelta(days=1)
    files = [f"cuts/{file}" for file in listed("cuts")[1]]
    past = [name for name in files if default_storage.get_modified_time(name) < old]
    remove_files(past)
    for copy in home_of_fetched().glob("cuts/*"):
        if f"cuts/{copy.name}" not in set(files) - set(past):
            copy.unlink(missing_ok=True)
    return len(past)


def forsaken_derived(older_than: float) -> int:
    """Remove what this machine made of datasets that are not there any more, and files whose writing was cut off."""
    home, limit, removed = Path(settings.DERIVED), time.time() - older_than, 0
    known = {str(pk) for pk in Dataset.objects.values_list("pk", flat=True)}
    for folder in home.glob("*") if home.exists() else ():
        left = [folder] if folder.name not in known else list(folder.glob(".*.part"))
        for leftover in left:
            if leftover.stat().st_mtime <= limit:
                shutil.rmtree(leftover) if leftover.is_dir() else leftover.unlink(missing_ok=True)
                removed += 1
    return removed
