"""Files of datasets and editions in Django's storage, and local paths to them for libraries that want one."""

import shutil
from pathlib import Path

from django.conf import settings
from django.core.files import File
from django.core.files.storage import default_storage


def local_path(name: str) -> Path:
    """A path to the stored file `name`; from a remote storage it is fetched once into the local cache."""
    try:
        return Path(default_storage.path(name))
    except NotImplementedError:
        kept = Path(settings.RUN) / "fetched" / name
        if not kept.exists():
            kept.parent.mkdir(parents=True, exist_ok=True)
            part = kept.with_suffix(kept.suffix + ".part")
            with default_storage.open(name) as source, part.open("wb") as sink:
                shutil.copyfileobj(source, sink)
            part.replace(kept)
        return kept


def store_folder(local: Path, name: str) -> None:
    """Put all files of a local folder into the storage below `name`."""
    for file in sorted(local.rglob("*")):
        if file.is_file():
            with file.open("rb") as source:
                default_storage.save(f"{name}/{file.relative_to(local).as_posix()}", File(source))


def remove_folder(name: str) -> None:
    """Take a folder and all below it out of the storage; one that is not there is fine."""
    try:
        folders, files = default_storage.listdir(name)
    except (FileNotFoundError, NotADirectoryError):
        return
    for folder in folders:
        remove_folder(f"{name}/{folder}")
    for file in files:
        default_storage.delete(f"{name}/{file}")
    default_storage.delete(name)
