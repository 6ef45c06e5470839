"""The command that fills a card."""

import argparse
from pathlib import Path

from greylatch.errors import BadInput
from greylatch.formats.files import read_file
from greylatch.reading.card import render_card
from greylatch.reading.template import MAX_TEMPLATE
from greylatch.tables.fieldtypes import plain

__all__ = ["card"]


def card(arguments: argparse.Namespace) -> None:
    """Print the safe HTML of a card filled with one row, counted from 0 as features are."""
    template = arguments.template
    if template.startswith("@"):
        with Path(template[1:]).open("rb") as file:
            try:
                template = file.read(4 * MAX_TEMPLATE + 1).decode("utf-8")
            except UnicodeDecodeError as error:
                raise BadInput(f"The template {template[1:]} is not UTF-8 text.") from error
    columns = read_file(arguments.file, crs=arguments.crs).dataset.columns
    if not 0 <= arguments.row < columns.num_rows:
        raise BadInput(f"There is no row {arguments.row}.", f"The file has rows 0 to {columns.num_rows - 1:,}.")
    row = columns.slice(arguments.row, 1).to_pylist()[0]
    print(render_card(template, {name: plain(value) for name, value in row.items()}), end="")
