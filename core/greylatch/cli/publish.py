"""The command that publishes a sheet."""

import argparse
from pathlib import Path

from greylatch.cli.draw import beside
from greylatch.cli.tiles import progress_line
from greylatch.edition.plan import plan_edition
from greylatch.edition.publish import publish
from greylatch.places.frame import Frame
from greylatch.sheet.reading import read_sheet


def publish_sheet(given: argparse.Namespace) -> None:
    """Write the edition of a sheet document with the files that it names."""
    frame = Frame.of_matrix_set(given.matrix_set) if given.matrix_set else None
    find = beside(Path(given.sheet).parent, given.crs)
    plan = plan_edition(read_sheet(given.sheet), find, given.size, given.min_zoom, given.max_zoom, given.format, frame)
    told = publish(plan, given.out, progress=progress_line)
    print(f"{told['tiles']:,} tiles, levels {told['min_zoom']} to {told['max_zoom']}: {given.out}")
