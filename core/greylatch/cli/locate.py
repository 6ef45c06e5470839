"""The command that finds places by their names."""

import argparse
from collections import Counter
from dataclasses import replace
from pathlib import Path

import numpy as np
import pyarrow as pa
import shapely

from greylatch.cli.printing import print_json
from greylatch.errors import BadInput
from greylatch.formats.cells import BARE_TABLE
from greylatch.formats.files import read_file
from greylatch.formats.writing import write_file
from greylatch.places.crs import LONLAT, to_lonlat
from greylatch.places.locating import Gazetteer, Located
from greylatch.tables.dataset import Dataset, texts

__all__ = ["locate"]

STATUSES = ("exact", "approximate", "ambiguous", "not found")


def locate(arguments: argparse.Namespace) -> None:
    """Print where the names of a table are found, and write the rows with their places."""
    table = read_file(arguments.table, cells=BARE_TABLE).dataset
    places = read_file(arguments.gazetteer, crs=arguments.crs).dataset
    if places.shapes is None:
        raise BadInput(f"{Path(arguments.gazetteer).name} says of no place where it lies.")
    regions = texts(places.columns, arguments.gazetteer_region) if arguments.gazetteer_region else None
    others = texts(places.columns, arguments.gazetteer_alternatives) if arguments.gazetteer_alternatives else None
    gazetteer = Gazetteer(texts(places.columns, arguments.gazetteer_name), regions, others)
    names = texts(table.columns, arguments.name)
    within = texts(table.columns, arguments.region) if arguments.region else [""] * len(names)
    known = {pair: gazetteer.locate(*pair) for pair in dict.fromkeys(zip(names, within, strict=True))}
    found = [known[pair] for pair in zip(names, within, strict=True)]
    if arguments.out:
        write_file(_placed(table, places, found), arguments.out)
    counts = Counter(each.status for each in found)
    if arguments.json:
        print_json(
            {
                **{status.replace(" ", "_"): counts[status] for status in STATUSES},
                "rows": [
                    {
                        "row": row, "status": each.status.replace(" ", "_"),
                        "candidates": [{"name": c.name, "region": c.region, "likeness": c.likeness} for c in each.candidates],
                    }
                    for row, each in enumerate(found)
                ],
            }
        )  # fmt: skip
        return
    print(" · ".join(f"{counts[status]:,} {status}" for status in STATUSES))
    for row, (name, each) in enumerate(zip(names, found, strict=True)):
        if each.status != "exact":
            said = ", ".join(f"{c.name}{f' ({c.region})' if c.region else ''} {c.likeness:g}" for c in each.candidates)
            print(f"  row {row}, '{name}': {each.status}" + (f": {said}" if said else ""))


def _placed(table: Dataset, places: Dataset, found: list[Located]) -> Dataset:
    """The rows at the places that were decided; the others without one."""
    assert places.shapes is not None and places.crs is not None
    middles = to_lonlat(shapely.point_on_surface(places.shapes), places.crs)
    at = [each.place for each in found]
    shapes = np.array([None if place is None else middles[place] for place in at], dtype=object)
    columns = table.columns
    for name, values in (
        ("located_as", [None if each.place is None else each.candidates[0].name for each in found]),
        ("likeness", [None if each.place is None else each.candidates[0].likeness for each in found]),
    ):
        if name not in columns.column_names:
            columns = columns.append_column(name, pa.array(values))
    return replace(table, columns=columns, kind="points", geometry=shapes, crs=LONLAT)
