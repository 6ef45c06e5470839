"""Write a whole installation into a folder: database, file storage, secret key."""

import hashlib
import json
import os
import shutil
import subprocess
from pathlib import Path

from django.conf import settings
from django.core.files.storage import default_storage
from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.db import connection
from django.utils import timezone

DUMP, FILES, KEY, MANIFEST = "database.dump", "files", "secret-key", "manifest.json"
KEPT = ("datasets", "editions", "uploads")


class Command(BaseCommand):
    """Whole or absent: the folder appears when all of it is there."""

    help = __doc__ or ""

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("folder", type=Path)

    def handle(self, *args: object, folder: Path, **options: object) -> None:
        if folder.exists() and (not folder.is_dir() or any(folder.iterdir())):
            raise CommandError(f"{folder} is there already. Name a new folder.")
        part = folder.with_name(f".{folder.name}.part")
        shutil.rmtree(part, ignore_errors=True)
        part.mkdir(parents=True, mode=0o700)
        try:
            # Files never change once they are written. Those that come in while the database is written are fetched
            # afterwards, so every file that it names is there.
            copy_storage(part / FILES)
            postgres(
                "pg_dump",
                "--format=custom",
                "--no-owner",
                "--file",
                str(part / DUMP),
                database()["NAME"],
            )
            copy_storage(part / FILES)
            (part / KEY).write_text(settings.SECRET_KEY)
            listed = {name: {"size": path.stat().st_size, "sha256": digest(path)} for name, path in files_below(part)}
            manifest = {"made": timezone.now().isoformat(), "files": listed}
            (part / MANIFEST).write_text(json.dumps(manifest, indent=1), "utf-8")
            if folder.exists():
                folder.rmdir()
            part.replace(folder)
        except BaseException:
            shutil.rmtree(part, ignore_errors=True)
            raise
        self.stdout.write(f"{len(listed)} files: {folder}")


def copy_storage(into: Path) -> None:
    """Copy what the storage holds and `into` does not."""
    for name in stored_names():
        target = into / name
        if target.exists():
            continue
        target.parent.mkdir(parents=True, exist_ok=True)
        try:
            with default_storage.open(name) as source, target.open("wb") as sink:
                shutil.copyfileobj(source, sink)
        except FileNotFoundError:  # removed meanwhile, and so named by nothing any more
            target.unlink(missing_ok=True)


def stored_names() -> list[str]:
    """The names of all files in the storage."""
    names: list[str] = []
    waiting = list(KEPT)
    while waiting:
        home = waiting.pop()
        try:
            folders, files = default_storage.listdir(home)
        except (FileNotFoundError, NotADirectoryError):
            continue
        waiting += [f"{home}/{folder}" for folder in folders]
        names += [f"{home}/{file}" for file in files]
    return sorted(names)


def files_below(folder: Path) -> list[tuple[str, Path]]:
    """Every file with its name relative to `folder`."""
    return [(path.relative_to(folder).as_posix(), path) for path in sorted(folder.rglob("*")) if path.is_file()]


def digest(path: Path) -> str:
    """SHA-256 of a file."""
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()


def database() -> dict[str, str]:
    """How the database is reached, by the names that settings give to it."""
    return {name: str(value) for name, value in settings.DATABASES["default"].items()}


def postgres(program: str, *arguments: str) -> None:
    """Run one of PostgreSQL's programs on our database. Raises CommandError with its words."""
    address = database()
    environment = {
        **os.environ, "PGHOST": address["HOST"], "PGPORT": address["PORT"], "PGUSER": address["USER"], "PGPASSWORD": address["PASSWORD"],
    }  # fmt: skip
    major = connection.cursor().connection.info.server_version // 10_000
    path = Path(f"/usr/lib/postgresql/{major}/bin/{program}")
    done = subprocess.run(  # noqa: S603 (the program is PostgreSQL's, the arguments are ours)
        [str(path) if path.exists() else program, *arguments], env=environment, capture_output=True, text=True
    )
    if done.returncode:
        raise CommandError(f"{program}: {done.stderr.strip()[-500:]}")
