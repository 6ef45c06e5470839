"""Commands that write shapes and tables anew: convert, calculate."""

import argparse
from dataclasses import replace
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
from greylatch.tables.dataset import Dataset
from greylatch.wording import counted

__all__ = ["calculate", "convert"]


def convert(arguments: argparse.Namespace) -> None:
    """Write a file's rows in another format: some of them, some fields, with simpler shapes, elsewhere."""
    out = Path(arguments.out)
    if arguments.to and out.suffix.lower() in (".geojson", ".csv"):
        raise BadInput(f"{out.suffix} holds no projection.", "Write .parquet, .gpkg or .fgb.")
    data = read_file(arguments.file, crs=arguments.crs, placed=out.suffix.lower() != ".csv").dataset.described()
    data = filtered(data, arguments.where or "")
    told = ""
    if arguments.simplify is not None:
        before, data = _vertices(data), simplified(data, arguments.simplify)
        told = f", {_vertices(data):,} of {before:,} vertices"
    if arguments.to:
        data, beyond = elsewhere(data, Frame.named(arguments.to))
        told += beyond
    if arguments.fields is not None:
        data = with_fields(data, arguments.fields)
    write_file(data, out)
    print(f"{counted(len(data), 'row')}{told}: {out}")


def calculate(arguments: argparse.Namespace) -> None:
    """Write a file with a field that an expression gives."""
    data = read_file(arguments.file, crs=arguments.crs).dataset.described()
    made = calculated(data, arguments.field, arguments.expression)
    write_file(made, arguments.out)
    known = len(made) - made.columns[arguments.field.strip()].null_count
    print(f"'{arguments.field.strip()}' for {known:,} of {counted(len(made), 'row')}: {arguments.out}")


def with_fields(data: Dataset, asked: str) -> Dataset:
    """Only the fields of a list, those of the form b=c under their new name.

    Raises
    ------
    BadInput
        For a field that is not there, and for two of one name.
    """
    pairs = [part.partition("=") for part in (each.strip() for each in asked.split(",")) if part]
    named = {old.strip(): (new.strip() or old.strip()) for old, _, new in pairs}
    missing = [name for name in named if name not in data.columns.column_names]
    if missing:
        there = ", ".join(data.columns.column_names[:12])
        raise BadInput(f"There is no field '{missing[0]}'.", f"The fields are: {there}.")
    twice = [name for name in named.values() if list(named.values()).count(name) > 1]
    if twice or not named:
        raise BadInput(f"Two fields would be called '{twice[0]}'." if twice else "No field is named.")
    columns = data.columns.select(list(named)).rename_columns(list(named.values()))
    meanings = {new: data.meanings[old] for old, new in named.items() if old in data.meanings}
    return replace(data, columns=columns, meanings=meanings)


def _vertices(data: Dataset) -> int:
    return 0 if data.shapes is None else int(shapely.get_num_coordinates(data.shapes).sum())
