"""The command that cuts a raster into parts."""

import argparse
from pathlib import Path

from greylatch.cli.tiles import progress_line
from greylatch.rasters.cutting import cut_into
from greylatch.rasters.info import corrected
from greylatch.wording import counted

__all__ = ["cut_into_parts"]


def cut_into_parts(arguments: argparse.Namespace) -> None:
    """Cut a GeoTIFF into parts, with progress on standard error where that is a terminal."""
    with corrected(arguments.raster, arguments.crs) as raster:
        parts = cut_into(
            raster, arguments.out, arguments.columns, arguments.rows, arguments.size, arguments.name, Path(arguments.raster).stem,
            progress_line,
        )  # fmt: skip
    print(f"{counted(len(parts), 'part')}, {parts[0].file} first: {arguments.out}")
