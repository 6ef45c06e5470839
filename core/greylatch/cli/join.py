"""A table joined to areas by key."""

import argparse
from pathlib import Path

from greylatch.cli.printing import print_json
from greylatch.errors import BadInput
from greylatch.formats.cells import BARE_TABLE
from greylatch.formats.files import read_file
from greylatch.formats.written_geojson import write_geojson
from greylatch.places.cross_list import read_cross_list
from greylatch.places.join import joined, key_of, keys_of, match
from greylatch.tables.summing import HOW, Summary, summed

__all__ = ["join_table"]


def _ways(text: str) -> dict[str, Summary]:
    """'carbon_t=sum,name=first' as fields with how they are summed up."""
    ways: dict[str, Summary] = {}
    for part in filter(None, (each.strip() for each in text.split(","))):
        name, _, how = part.rpartition("=")
        if not name or how not in HOW:
            raise BadInput(
                f"'{part}' does not say how a field is summed up.", f"carbon_t=sum does; also {', '.join(HOW)}."
            )
        ways[name.strip()] = how
    return ways


def join_table(arguments: argparse.Namespace) -> None:
    """Print how a table fits areas, and write the joined areas where asked."""
    areas = read_file(arguments.areas, crs=arguments.crs, placed=bool(arguments.out)).dataset
    if areas.shapes is None:
        raise BadInput(f"{Path(arguments.areas).name} holds no shapes.")
    rows = read_file(arguments.table, cells=BARE_TABLE).dataset.columns
    same = read_cross_list(arguments.cross_list) if arguments.cross_list else {}
    keys = keys_of(rows, arguments.table_key)
    carried = [name for name in rows.column_names if name != arguments.table_key]
    if arguments.summarise:
        # Spellings that stand for one area are one.
        meant = {key_of(key): key_of(area) for key, area in same.items()}
        rows = summed(rows, [meant.get(key, key) for key in keys], _ways(arguments.summarise))
        keys, carried = rows["key"].to_pylist(), rows.column_names[1:]
    matching = match(keys_of(areas.columns, arguments.area_key), keys, same, suggest=arguments.suggest)
    suggestions = [{"row": row, **vars(option)} for row, options in matching.suggestions.items() for option in options]
    if not matching.pairs and not arguments.suggest:
        raise BadInput(
            f"Not a single value of '{arguments.table_key}' is found in '{arguments.area_key}'.",
            "Are these the right key fields?",
        )
    if arguments.out:
        write_geojson(joined(areas, rows, matching, carried), arguments.out)
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
