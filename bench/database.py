"""A database of a benchmark's own, and Django on it in this process."""

import os
import sys
from pathlib import Path

import psycopg

from tests.browser.conftest import ROOT, server


def new_database(name: str) -> None:
    """An empty one, in the place of what stood there."""
    with psycopg.connect(server("postgres"), autocommit=True) as connection:
        connection.execute(f"DROP DATABASE IF EXISTS {name} WITH (FORCE)")
        connection.execute(f"CREATE DATABASE {name}")


def django_in(folder: Path, name: str) -> None:
    """Set Django up with a run folder and a database, whose tables are made."""
    os.environ |= {
        "GREYLATCH_RUN": str(folder),
        "GREYLATCH_DB_NAME": name,
        "DJANGO_SETTINGS_MODULE": "config.settings",
    }
    (folder / "secret-key").write_text("only for a benchmark")
    sys.path.insert(0, str(ROOT / "server"))
    import django
    from django.core.management import call_command

    django.setup()
    call_command("migrate", interactive=False, verbosity=0)
