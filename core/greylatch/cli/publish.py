"""The command that publishes a sheet."""

import argparse
import sys
from pathlib import Path

from greylatch.cli.draw import beside
from greylatch.cli.tiles import progress_line
from greylatch.edition.plan import plan_edition
from greylatch.edition.publish import publish
from greylatch.places.frame import Frame
from greylatch.proof.asked import amiss_in
from greylatch.sheet.reading import read_sheet

__all__ = ["publish_sheet"]


def publish_sheet(arguments: argparse.Namespace) -> None:
    """Write the edition of a sheet document with the files that it names."""
    frame = Frame.of_matrix_set(arguments.matrix_set) if arguments.matrix_set else None
    find = beside(Path(arguments.sheet).parent, arguments.crs)
    plan = plan_edition(
        read_sheet(arguments.sheet),
        find,
        arguments.size,
        arguments.min_zoom,
        arguments.max_zoom,
        arguments.format,
        frame,
    )
    for what, why, _ in amiss_in(plan.sheet, find):
        print(f"note: {what} is left out: {why}.", file=sys.stderr)
    if plan.deeper is not None:
        last = plan.levels.max_zoom
        print(
            f"note: its data would go to level {plan.deeper}; to {last} it is as many tiles as are cut at once.",
            file=sys.stderr,
        )
    page = publish(plan, arguments.out, progress=progress_line)
    print(f"{page['tiles']:,} tiles, levels {page['min_zoom']} to {page['max_zoom']}: {arguments.out}")
