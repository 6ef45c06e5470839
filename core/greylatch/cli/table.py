"""Commands about tables and shapes: info, classify, join."""

import argparse
import json
from dataclasses import asdict
from pathlib import Path
from typing import Any

from greylatch.errors import BadInput
from greylatch.formats.files import file_kind, read_file
from greylatch.formats.geojson import write_geojson
from greylatch.places.crs import crs_name
from greylatch.places.join import joined, keys_of, match
from greylatch.tables.dataset import fields
from greylatch.tables.fieldtypes import finite


def info(given: argparse.Namespace) -> None:
    """Print what a file holds."""
    if file_kind(given.file) == "geotiff":
        from greylatch.rasters.info import open_raster, raster_info, unplaced_raster_info

        with open_raster(given.file, placed=False) as source:
            placed = given.crs is not None or source.crs is not None
        raster = raster_info(given.file, given.crs).as_json() if placed else unplaced_raster_info(given.file)
        print_json({"kind": "raster", **raster}) if given.json else _print_pairs({"kind": "raster", **raster})
        return
    found = read_file(given.file, crs=given.crs, placed=False)
    listed = fields(found.dataset.columns)
    crs = crs_name(found.dataset.crs) if found.dataset.crs else None
    described = {
        "kind": found.dataset.kind, "rows": len(found.dataset), "crs": crs, "crs_reason": found.crs_reason, "notes": found.notes,
        "fields": [{**vars(one), "meaning": asdict(found.dataset.meaning(one.name))} for one in listed],
    }  # fmt: skip
    if given.json:
        print_json(described)
        return
    _print_pairs(
        {key: value for key, value in described.items() if key not in ("fields", "notes")} | {"crs": crs or "not known"}
    )
    for note in found.notes:
        print(f"note: {note}")
    for one in listed:
        meaning = found.dataset.meaning(one.name)
        means = meaning.kind + (f" in {meaning.unit}" if meaning.unit else "")
        print(f"  {one.name}: {one.type}" + (f", {one.missing} missing" if one.missing else "") + f" · {means}")


def classify_field(given: argparse.Namespace) -> None:
    """Print the classes of a field."""
    if given.breaks is not None and given.method != "manual":
        raise BadInput("--breaks goes with --method manual.")
    if given.method == "manual" and not given.breaks:
        raise BadInput("--method manual wants --breaks a,b,c.")
    from greylatch.classes.classify import classify
    from greylatch.classes.values import values_of
    from greylatch.sheet.document import NormaliseByField

    normalise = NormaliseByField(field=given.normalise_by) if given.normalise_by else None
    values = values_of(read_file(given.file, crs=given.crs, placed=False).dataset.described(), given.field, normalise)
    found = classify(values, given.method, given.classes, _numbers(given.breaks) if given.breaks else None)
    if given.json:
        print_json(
            {
                "method": found.method, "field": given.field, "n": found.n, "missing": found.missing, "fit": found.fit,
                "classes": [{"lower": one.lower, "upper": one.upper, "count": one.count} for one in found.classes],
                **({"note": found.note} if found.note else {}),
            }
        )  # fmt: skip
        return
    print(f"{found.method} · {len(found.classes)} classes · fit {found.fit:.3f} · {found.missing} missing")
    if found.note:
        print(f"note: {found.note}")
    for one in found.classes:
        print(f"  {one.lower:>16,.6g} – {one.upper:<16,.6g} {one.count:>8,}")


def join_table(given: argparse.Namespace) -> None:
    """Print how a table fits areas, and write the joined areas where asked."""
    areas = read_file(given.areas, crs=given.crs, placed=bool(given.out)).dataset
    if areas.shapes is None:
        raise BadInput(f"{Path(given.areas).name} holds no shapes.")
    table = read_file(given.table, guess_points=False).dataset
    found = match(
        keys_of(areas.columns, given.area_key), keys_of(table.columns, given.table_key), suggest=given.suggest
    )
    suggestions = [{"row": row, **vars(one)} for row, options in found.suggestions.items() for one in options]
    if not found.pairs and not given.suggest:
        raise BadInput(
            f"Not a single value of '{given.table_key}' is found in '{given.area_key}'.",
            "Are these the right key fields?",
        )
    if given.out:
        carried = [name for name in table.columns.column_names if name != given.table_key]
        write_geojson(joined(areas, table.columns, found, carried), given.out)
    if given.json:
        print_json(
            {
                "matched": found.matched, "rows_without_area": found.rows_without_area,
                "areas_without_row": found.areas_without_row, "duplicate_keys": found.duplicate_keys,
                **({"suggestions": suggestions} if given.suggest else {}),
            }
        )  # fmt: skip
        return
    print(f"{found.matched} areas matched")
    for title, keys in (
        ("rows without an area", found.rows_without_area),
        ("areas without a row", found.areas_without_row),
        ("duplicate keys", found.duplicate_keys),
    ):
        print(f"{len(keys)} {title}" + (": " + ", ".join(keys[:20]) + (" …" if len(keys) > 20 else "") if keys else ""))
    for one in suggestions:
        print(f"  {one['row']} → {one['area']} ({one['likeness']:g}{', sure' if one['sure'] else ''})")


def print_json(value: Any) -> None:
    """One JSON document on standard output."""
    print(json.dumps(finite(value), ensure_ascii=False, indent=1, default=str, allow_nan=False))


def _print_pairs(pairs: dict[str, Any]) -> None:
    for key, value in pairs.items():
        print(f"{key}: {value}")


def _numbers(text: str) -> list[float]:
    try:
        return [float(part) for part in text.split(",")]
    except ValueError as error:
        raise BadInput(f"'{text}' is not a list of numbers.", "Write the breaks as 10,20,30.") from error
