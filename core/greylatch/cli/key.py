"""The command that writes a sheet's key."""

import argparse
import json
from pathlib import Path
from typing import Any

from greylatch.cli.draw import beside
from greylatch.errors import BadInput
from greylatch.paint.key import LayerKey, sheet_key
from greylatch.paint.key_picture import key_pixels, key_svg
from greylatch.paint.passes import compose
from greylatch.sheet.reading import read_sheet
from greylatch.tiles.image import png
from greylatch.wording import counted

__all__ = ["write_key"]


def write_key(arguments: argparse.Namespace) -> None:
    """Write the key as readers see it: a picture, or what it says."""
    sheet, out = read_sheet(arguments.sheet), Path(arguments.out)
    composition = compose(sheet, beside(Path(arguments.sheet).parent, arguments.crs))
    keys = sheet_key(composition)
    writers = {".svg": key_svg, ".png": lambda keys: png(key_pixels(keys)), ".json": _as_json}
    if out.suffix.lower() not in writers:
        raise BadInput(f"A key is written as .svg, .png or .json, not as '{out.suffix}'.")
    out.write_bytes(writers[out.suffix.lower()](keys))
    print(f"{counted(len(keys), 'layer')} in the key: {out}")


def _as_json(keys: list[LayerKey]) -> bytes:
    return json.dumps([_told(key) for key in keys], indent=1, ensure_ascii=False).encode()


def _told(key: LayerKey) -> dict[str, Any]:
    entries = [
        {"id": entry.id, "text": entry.text, "count": entry.count, "colour": entry.mark.colour_of(key.kind)}
        for entry in key.entries
        if entry.mark and not entry.hidden
    ]
    ramps = [
        {"colours": section.ramp, "low": section.ends[0], "high": section.ends[-1]}
        for section in key.sections
        if section.ramp and section.ends
    ]
    ramp = {"ramp": ramps[0]} if ramps else {}
    squares = [
        {
            name: {"text": side.text, "limits": side.limits}
            for name, side in zip(("across", "up"), section.sides, strict=True)
        }
        for section in key.sections
        if section.sides
    ]
    square = {"square": squares[0]} if squares else {}
    return {
        "layer": key.layer,
        "title": key.title,
        "unit": key.unit,
        "kind": key.kind,
        "entries": entries,
        **ramp,
        **square,
    }
