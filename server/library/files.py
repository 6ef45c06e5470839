"""Files of datasets and editions in Django's storage, and local paths to them for libraries that want one."""

import hashlib
import shutil
import uuid
from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from datetime import UTC, datetime
from pathlib import Path

from django.conf import settings
from django.core.files import File
from django.core.files.storage import default_storage
from greylatch.errors import BadInput


def local_path(name: str) -> Path:
    """A path to the stored file `name`; from a remote storage it is fetched once and kept on this machine. Raises FileNotFoundError
    where the storage has none."""
    try:
        return Path(default_storage.path(name))
    except NotImplementedError:
        kept = home_of_fetched() / name
        if not kept.exists():
            _fetch(name, kept)
        return kept


def home_of_fetched() -> Path:
    """The folder of files that this machine has fetched from a remote storage."""
    return Path(settings.RUN) / "fetched"


def _fetch(name: str, to: Path) -> None:
    """Whole or absent, whoever else fetches it at the same time."""
    to.parent.mkdir(parents=True, exist_ok=True)
    part = to.with_name(f".{to.name}.{uuid.uuid4().hex[:8]}.part")
    try:
        with default_storage.open(name) as source, part.open("wb") as sink:
            shutil.copyfileobj(source, sink)
        part.replace(to)
    finally:
        part.unlink(missing_ok=True)


@contextmanager
def named_as_sent(path: Path, name: str) -> Iterator[None]:
    """What is said of a file within the block names it as its sender does, not as it is stored."""
    try:
        yield
    except BadInput as error:
        raise type(error)(str(error).replace(path.name, name)) from error


def store_folder(local: Path, name: str) -> int:
    """Put all files of a local folder into the storage below `name`, where nothing is yet; returns how many bytes.

    What was written is read again: only files of the same size and digest count as kept. Raises OSError otherwise.
    """
    total = 0
    for file in sorted(local.rglob("*")):
        if not file.is_file():
            continue
        wanted = f"{name}/{file.relative_to(local).as_posix()}"
        with file.open("rb") as source:
            kept_name = default_storage.save(wanted, File(source))
        # A storage may give a file another name where one of that name is there: then it is not where it is looked for.
        if kept_name != wanted:
            default_storage.delete(kept_name)
            raise OSError(f"{wanted} is in the storage already")
        with file.open("rb") as source, default_storage.open(wanted, "rb") as stored:
            same = hashlib.file_digest(source, "sha256").digest() == hashlib.file_digest(stored, "sha256").digest()
        if not same:
            raise OSError(f"{wanted} was not stored as it is")
        total += file.stat().st_size
    return total


def fetch_folder(name: str, local: Path) -> None:
    """Bring all files below a folder of the storage into a local one; those of this machine's disk are only linked to."""
    folders, files = listed(name)  # nothing is kept of a lot without tiles
    local.mkdir(parents=True, exist_ok=True)
    for file in files:
        try:
            (local / file).symlink_to(default_storage.path(f"{name}/{file}"))
        except NotImplementedError:
            _fetch(f"{name}/{file}", local / file)
    for folder in folders:
        fetch_folder(f"{name}/{folder}", local / folder)


def newest(name: str) -> datetime:
    """When anything below a folder in the storage was last written; long ago for an empty one."""
    folders, files = default_storage.listdir(name)
    moments = [newest(f"{name}/{folder}") for folder in folders]
    moments += [default_storage.get_modified_time(f"{name}/{file}") for file in files]
    return max(moments, default=datetime.fromtimestamp(0, UTC))


def remove_folder(name: str) -> None:
    """Take a folder and all below it out of the storage; one that is not there is fine."""
    folders, files = listed(name)
    for folder in folders:
        remove_folder(f"{name}/{folder}")
    for file in files:
        default_storage.delete(f"{name}/{file}")
    default_storage.delete(name)


def remove_folders(names: Iterable[str]) -> None:
    """Take several folders out of the storage."""
    for name in names:
        remove_folder(name)


def remove_files(names: Iterable[str]) -> None:
    """Files of the storage, one after the other; one that is not there, or has no name yet, is no trouble."""
    for name in filter(None, names):
        default_storage.delete(name)


def listed(name: str) -> tuple[list[str], list[str]]:
    """Folders and files in a folder of the storage; none of one that is not there."""
    try:
        return default_storage.listdir(name)
    except (FileNotFoundError, NotADirectoryError):
        return [], []
