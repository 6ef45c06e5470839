"""The command that finds places by their names."""

import argparse
from collections import Counter

from greylatch.cli.printing import print_json
from greylatch.formats.cells import BARE_TABLE
from greylatch.formats.files import read_file
from greylatch.formats.writing import write_file
from greylatch.places.located_rows import STATUSES, located_names, middles, named_rows, placed_rows
from greylatch.places.locating import Gazetteer
from greylatch.tables.dataset import texts

__all__ = ["locate"]


def locate(arguments: argparse.Namespace) -> None:
    """Print where the names of a table are found, and write the rows with their places."""
    table = read_file(arguments.table, cells=BARE_TABLE).dataset
    places = read_file(arguments.gazetteer, crs=arguments.crs).dataset
    points = middles(places)
    regions = texts(places.columns, arguments.gazetteer_region) if arguments.gazetteer_region else None
    others = texts(places.columns, arguments.gazetteer_alternatives) if arguments.gazetteer_alternatives else None
    gazetteer = Gazetteer(texts(places.columns, arguments.gazetteer_name), regions, others)
    names = named_rows(table, arguments.name, arguments.region or "")
    known = located_names(names, gazetteer)
    looked_up = [known[named] for named in names]
    if arguments.out:
        write_file(placed_rows(table, names, known, points), arguments.out)
    counts = Counter(each.status for each in looked_up)
    if arguments.json:
        print_json(
            {
                **{status.replace(" ", "_"): counts[status] for status in STATUSES},
                "rows": [
                    {
                        "row": row, "status": each.status.replace(" ", "_"),
                        "candidates": [{"name": c.name, "region": c.region, "likeness": c.likeness} for c in each.candidates],
                    }
                    for row, each in enumerate(looked_up)
                ],
            }
        )  # fmt: skip
        return
    print(" · ".join(f"{counts[status]:,} {status}" for status in STATUSES))
    for row, (named, each) in enumerate(zip(names, looked_up, strict=True)):
        if each.status != "exact":
            said = ", ".join(f"{c.name}{f' ({c.region})' if c.region else ''} {c.likeness:g}" for c in each.candidates)
            print(f"  row {row}, '{named.name}': {each.status}" + (f": {said}" if said else ""))
