"""Commands about conditions: select."""

import argparse
from dataclasses import replace
from pathlib import Path

import numpy as np

from greylatch.cli.printing import print_json
from greylatch.formats.files import read_file
from greylatch.formats.writing import write_file
from greylatch.rules.evaluating import taken
from greylatch.rules.values import OTHER
from greylatch.wording import counted

__all__ = ["select"]


def select(arguments: argparse.Namespace) -> None:
    """Print which rows of a file a condition takes, and write them."""
    data = read_file(arguments.file, crs=arguments.crs).dataset.described()
    if arguments.other:
        data = replace(data, others={OTHER: read_file(arguments.other).dataset})
    rows = taken(data, arguments.where)
    fids = data.fids[rows]
    if arguments.out:
        write_file(data.taking(rows), arguments.out)
    if arguments.json:
        print_json({"matched": len(fids), "of": len(data), "fids": fids.tolist()})
        return
    print(f"{len(fids):,} of {counted(len(data), 'row')}" + (f": {Path(arguments.out)}" if arguments.out else ""))
    if not arguments.out and len(fids):
        names = data.columns.column_names
        print("\t".join(["fid", *names]))
        for position in np.flatnonzero(rows)[:SHOWN].tolist():
            row = data.columns.slice(position, 1).to_pylist()[0]
            print(
                "\t".join([str(data.fids[position]), *("" if row[name] is None else str(row[name]) for name in names)])
            )
        if len(fids) > SHOWN:
            print(f"… {len(fids) - SHOWN:,} more; --out FILE writes them all, --json lists them")


SHOWN = 20
"""Rows that are printed."""
