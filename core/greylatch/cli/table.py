"""Commands about tables and shapes: info, classify, join."""

import argparse
import json
from dataclasses import asdict
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from greylatch.classes.classify import NO_DATA, Classification
from greylatch.errors import BadInput
from greylatch.formats.files import file_kind, read_file
from greylatch.formats.geojson import write_geojson
from greylatch.places.crs import crs_name
from greylatch.places.join import joined, keys_of, match
from greylatch.tables.dataset import fields
from greylatch.tables.fieldtypes import finite

__all__ = ["print_json"]


def info(arguments: argparse.Namespace) -> None:
    """Print what a file holds."""
    if file_kind(arguments.file) == "geotiff":
        from greylatch.rasters.info import open_raster, raster_info, unplaced_raster_info

        with open_raster(arguments.file, placed=False) as source:
            placed = arguments.crs is not None or source.crs is not None
        raster = (
            raster_info(arguments.file, arguments.crs).as_json() if placed else unplaced_raster_info(arguments.file)
        )
        print_json({"kind": "raster", **raster}) if arguments.json else _print_pairs({"kind": "raster", **raster})
        return
    result = read_file(arguments.file, crs=arguments.crs, placed=False)
    listed = fields(result.dataset.columns)
    crs = crs_name(result.dataset.crs) if result.dataset.crs else None
    described = {
        "kind": result.dataset.kind, "rows": len(result.dataset), "crs": crs, "crs_reason": result.crs_reason, "notes": result.notes,
        "fields": [{**vars(field), "meaning": asdict(result.dataset.meaning(field.name))} for field in listed],
    }  # fmt: skip
    if arguments.json:
        print_json(described)
        return
    _print_pairs(
        {key: value for key, value in described.items() if key not in ("fields", "notes")} | {"crs": crs or "not known"}
    )
    for note in result.notes:
        print(f"note: {note}")
    for field in listed:
        meaning = result.dataset.meaning(field.name)
        means = meaning.kind + (f" in {meaning.unit}" if meaning.unit else "")
        print(f"  {field.name}: {field.type}" + (f", {field.missing} missing" if field.missing else "") + f" · {means}")


def classify_field(arguments: argparse.Namespace) -> None:
    """Print the classes of a field, of an expression, or of a raster's band."""
    if arguments.breaks is not None and arguments.method != "manual":
        raise BadInput("--breaks goes with --method manual.")
    if arguments.method == "manual" and not arguments.breaks:
        raise BadInput("--method manual wants --breaks a,b,c.")
    if arguments.nice and arguments.method == "manual":
        raise BadInput("--nice goes with limits that are computed.")
    from greylatch.classes.classify import classify

    values, weights, described, notes = _classified(arguments)
    limits = _numbers(arguments.breaks) if arguments.breaks else None
    classification = classify(values, arguments.method, arguments.classes, limits, weights, arguments.nice)
    notes += [classification.note] if classification.note else []
    if arguments.json:
        heavy = [{}] * len(classification.classes) if weights is None else _weights_of(classification, weights)
        print_json(
            {
                "method": classification.method, **described, "n": classification.n, "missing": classification.missing, "fit": classification.fit,
                "classes": [
                    {"lower": value_class.lower, "upper": value_class.upper, "count": value_class.count, **more}
                    for value_class, more in zip(classification.classes, heavy, strict=True)
                ],
                **({"note": " ".join(notes)} if notes else {}),
            }
        )  # fmt: skip
        return
    print(
        f"{classification.method} · {len(classification.classes)} classes · fit {classification.fit:.3f} · {classification.missing} missing"
    )
    for note in notes:
        print(f"note: {note}")
    for value_class in classification.classes:
        print(f"  {value_class.lower:>16,.6g} – {value_class.upper:<16,.6g} {value_class.count:>8,}")


def _classified(
    arguments: argparse.Namespace,
) -> tuple[NDArray[np.float64], NDArray[np.float64] | None, dict[str, Any], list[str]]:
    """The values to be classified, how much each counts, what they are, and what is to be said of them."""
    if file_kind(arguments.file) == "geotiff":
        from greylatch.rasters.values import band_values

        if arguments.field or arguments.weight or arguments.normalise_by:
            raise BadInput("A raster has bands and no fields: --band N.")
        values, note = band_values(arguments.file, arguments.band or 1)
        return values, None, {"band": arguments.band or 1}, [note] if note else []
    from greylatch.classes.values import numbers_of, values_of
    from greylatch.sheet.document import NormaliseByField

    if arguments.band is not None:
        raise BadInput("--band goes with a raster.")
    if not arguments.field:
        raise BadInput("--field FIELD says what is to be classified.")
    normalise = NormaliseByField(field=arguments.normalise_by) if arguments.normalise_by else None
    data = read_file(arguments.file, crs=arguments.crs, placed=False).dataset.described()
    weights = numbers_of(data, arguments.weight) if arguments.weight else None
    return values_of(data, arguments.field, normalise), weights, {"field": arguments.field}, []


def _weights_of(classification: Classification, weights: NDArray[np.float64]) -> list[dict[str, float]]:
    """What each class weighs."""
    classed = classification.index != NO_DATA
    heavy = np.nan_to_num(weights[classed], nan=0.0, posinf=0.0, neginf=0.0)
    sums = np.bincount(classification.index[classed], weights=heavy, minlength=len(classification.classes))
    return [{"weight": float(total)} for total in sums]


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
