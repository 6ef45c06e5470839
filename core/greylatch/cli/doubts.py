"""The command that tells what is doubtful about a file's data."""

import argparse

from greylatch.cli.printing import print_json
from greylatch.doubts.finding import doubts_about
from greylatch.formats.files import read_file

__all__ = ["doubts"]

SHOWN = 12


def doubts(arguments: argparse.Namespace) -> None:
    """Print what a careful reader would ask about the data, with the rows."""
    listed = doubts_about(read_file(arguments.file, crs=arguments.crs, placed=False).dataset)
    if arguments.json:
        print_json([{"kind": each.kind, "field": each.field, "rows": each.rows, "text": each.text} for each in listed])
        return
    print("No doubts." if not listed else f"{len(listed)} to look at")
    for doubt in listed:
        rows = ", ".join(map(str, doubt.rows[:SHOWN])) + (" …" if len(doubt.rows) > SHOWN else "")
        print(f"  {doubt.kind}: {doubt.text}" + (f" Rows {rows}" if rows else ""))
