"""What a file holds: a command that is called often, and so loads little."""

import argparse
from dataclasses import asdict
from typing import Any

from greylatch.cli.printing import print_json
from greylatch.formats.files import read_file
from greylatch.formats.kinds import file_kind
from greylatch.places.stated import crs_name
from greylatch.tables.dataset import fields
from greylatch.wording import counted

__all__ = ["info"]


def info(arguments: argparse.Namespace) -> None:
    """Print what a file holds."""
    kind = file_kind(arguments.file)
    if kind.holds == "raster":
        from greylatch.rasters.info import open_raster, raster_info, unplaced_raster_info

        with open_raster(arguments.file, placed=False) as source:
            placed = arguments.crs is not None or source.crs is not None
        raster = (
            raster_info(arguments.file, arguments.crs).as_json() if placed else unplaced_raster_info(arguments.file)
        )
        print_json({"kind": "raster", **raster}) if arguments.json else _print_pairs({"kind": "raster", **raster})
        return
    result = read_file(arguments.file, crs=arguments.crs, placed=False, layer=arguments.layer, mended=False)
    layers = kind.layers(arguments.file)
    listed = fields(result.dataset.columns)
    meanings = {field.name: result.dataset.meaning(field.name) for field in listed}
    crs = crs_name(result.dataset.system) if result.dataset.system else None
    described = {
        "kind": result.dataset.kind, "format": kind.title, "layers": [{"name": layer.name, "kind": layer.kind, "rows": layer.rows} for layer in layers], "rows": len(result.dataset), "crs": crs, "crs_reason": result.crs_reason, "notes": result.notes,
        "fields": [{**vars(field), "meaning": asdict(meanings[field.name])} for field in listed],
    }  # fmt: skip
    if arguments.json:
        print_json(described)
        return
    _print_pairs(
        {key: value for key, value in described.items() if key not in ("fields", "notes", "layers")}
        | {"crs": crs or "not known"}
    )
    for note in result.notes:
        print(f"note: {note}")
    for layer in layers if len(layers) > 1 else ():
        print(f"layer: {layer.name} ({counted(layer.rows, 'row')}, {layer.kind})")
    for field in listed:
        meaning = meanings[field.name]
        means = meaning.kind + (f" in {meaning.unit}" if meaning.unit else "")
        print(f"  {field.name}: {field.type}" + (f", {field.missing} missing" if field.missing else "") + f" · {means}")


def _print_pairs(pairs: dict[str, Any]) -> None:
    for key, value in pairs.items():
        print(f"{key}: {value}")
