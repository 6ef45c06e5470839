"""A table joined to areas by key."""

import argparse
from pathlib import Path

from greylatch.cli.printing import print_json
from greylatch.errors import BadInput
from greylatch.formats.files import read_file
from greylatch.formats.geojson import write_geojson
from greylatch.places.join import joined, keys_of, match

__all__ = ["join_table"]


def join_table(arguments: argparse.Namespace) -> None:
    """Print how a table fits areas, and write the joined areas where asked."""
    areas = read_file(arguments.areas, crs=arguments.crs, placed=bool(arguments.out)).dataset
    if areas.shapes is None:
        raise BadInput(f"{Path(arguments.areas).name} holds no shapes.")
    table = read_file(arguments.table, guess_points=False).dataset
    matching = match(
        keys_of(areas.columns, arguments.area_key),
        keys_of(table.columns, arguments.table_key),
        suggest=arguments.suggest,
    )
    suggestions = [{"row": row, **vars(option)} for row, options in matching.suggestions.items() for option in options]
    if not matching.pairs and not arguments.suggest:
        raise BadInput(
            f"Not a single value of '{arguments.table_key}' is found in '{arguments.area_key}'.",
            "Are these the right key fields?",
        )
    if arguments.out:
        carried = [name for name in table.columns.column_names if name != arguments.table_key]
        write_geojson(joined(areas, table.columns, matching, carried), arguments.out)
    if arguments.json:
        print_json(
            {
                "matched": matching.matched, "rows_without_area": matching.rows_without_area,
                "areas_without_row": matching.areas_without_row, "duplicate_keys": matching.duplicate_keys,
                **({"suggestions": suggestions} if arguments.suggest else {}),
            }
        )  # fmt: skip
        return
    print(f"{matching.matched} areas matched")
    for title, keys in (
        ("rows without an area", matching.rows_without_area),
        ("areas without a row", matching.areas_without_row),
        ("duplicate keys", matching.duplicate_keys),
    ):
        print(f"{len(keys)} {title}" + (": " + ", ".join(keys[:20]) + (" …" if len(keys) > 20 else "") if keys else ""))
    for suggestion in suggestions:
        print(
            f"  {suggestion['row']} → {suggestion['area']} ({suggestion['likeness']:g}{', sure' if suggestion['sure'] else ''})"
        )
