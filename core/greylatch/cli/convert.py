"""Commands that write shapes and tables anew: convert, calculate."""

import argparse
from pathlib import Path

import shapely

from greylatch.cli.projection import elsewhere
from greylatch.errors import BadInput
from greylatch.formats.files import read_file
from greylatch.formats.writing import write_file
from greylatch.places.frame import Frame
from greylatch.places.simplifying import simplified
from greylatch.rules.calculating import calculated
from greylatch.rules.evaluating import filtered
from greylatch.tables.chosen_fields import with_fields
from greylatch.tables.dataset import Dataset
from greylatch.wording import counted

__all__ = ["calculate", "convert"]


def convert(arguments: argparse.Namespace) -> None:
    """Write a file's rows in another format: some of them, some fields, with simpler shapes, elsewhere."""
    out = Path(arguments.out)
    if arguments.to and out.suffix.lower() in (".geojson", ".csv"):
        raise BadInput(f"{out.suffix} holds no projection.", "Write .parquet, .gpkg or .fgb.")
    placed = out.suffix.lower() != ".csv"
    result = read_file(arguments.file, crs=arguments.crs, placed=placed, layer=arguments.layer)
    data = result.dataset.described()
    data = filtered(data, arguments.where or "")
    summary = ""
    if arguments.simplify is not None:
        before, data = _vertices(data), simplified(data, arguments.simplify)
        summary = f", {_vertices(data):,} of {before:,} vertices"
    if arguments.to:
        data, beyond = elsewhere(data, Frame.named(arguments.to))
        summary += beyond
    if arguments.fields is not None:
        data = with_fields(data, _pairs(arguments.fields))
    write_file(data, out)
    for note in result.notes:
        print(f"note: {note}")
    print(f"{counted(len(data), 'row')}{summary}: {out}")


def calculate(arguments: argparse.Namespace) -> None:
    """Write a file with a field that an expression gives."""
    data = read_file(arguments.file, crs=arguments.crs).dataset.described()
    computed = calculated(data, arguments.field, arguments.expression)
    write_file(computed, arguments.out)
    known = len(computed) - computed.columns[arguments.field.strip()].null_count
    print(f"'{arguments.field.strip()}' for {known:,} of {counted(len(computed), 'row')}: {arguments.out}")


def _pairs(asked: str) -> list[tuple[str, str]]:
    """The fields of 'a,b=c', each with what it is to be called."""
    parted = [part.partition("=") for part in (each.strip() for each in asked.split(",")) if part]
    return [(old, new) for old, _, new in parted]


def _vertices(data: Dataset) -> int:
    return 0 if data.shapes is None else int(shapely.get_num_coordinates(data.shapes).sum())
