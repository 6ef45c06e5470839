"""Bring a backup back into an installation that is empty."""

import json
from pathlib import Path

from django.conf import settings
from django.core.files import File
from django.core.files.storage import default_storage
from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.db import connection

from people.management.commands.backup import DUMP, FILES, KEY, MANIFEST, database, digest, files_below, postgres


class Command(BaseCommand):
    """Checks every file first; the database comes last and in one transaction, so a restore that is cut off is begun again."""

    help = __doc__ or ""

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("folder", type=Path)

    def handle(self, *args: object, folder: Path, **options: object) -> None:
        check(folder)
        if connection.introspection.table_names():
            raise CommandError("This installation is not empty. Restore into a new run folder or a new database.")
        for name, path in files_below(folder / FILES):
            if default_storage.exists(name):
                default_storage.delete(name)
            with path.open("rb") as source:
                stored = default_storage.save(name, File(source))
            if stored != name:
                raise CommandError(f"{name} could not be put in its place.")
        connection.close()
        name = database()["NAME"]
        postgres(
            "pg_restore", "--exit-on-error", "--single-transaction", "--no-owner", "--dbname", name, str(folder / DUMP)
        )
        key = Path(settings.RUN) / "secret-key"
        key.write_text((folder / KEY).read_text())
        key.chmod(0o600)
        self.stdout.write(f"Restored from {folder}. Start Grey Latch with it.")


def check(folder: Path) -> None:
    """Raise CommandError where a file of the backup is missing or is not what was written."""
    try:
        listed = json.loads((folder / MANIFEST).read_text("utf-8"))["files"]
    except (OSError, ValueError, KeyError) as error:
        raise CommandError(f"{folder} is no backup: its {MANIFEST} cannot be read.") from error
    for name, figures in listed.items():
        path = folder / name
        if not path.resolve().is_relative_to(folder.resolve()):
            raise CommandError(f"The backup names a file outside of it: {name}.")
        if not path.is_file() or path.stat().st_size != figures["size"] or digest(path) != figures["sha256"]:
            raise CommandError(f"{name} is missing from the backup, or is not what was written.")
