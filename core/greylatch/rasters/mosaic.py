"""Several rasters put together as one: those of a sheet series, say, or the tiles of a survey."""

from collections.abc import Sequence
from contextlib import ExitStack
from pathlib import Path

import numpy as np
import rasterio
from rasterio.io import DatasetReader
from rasterio.merge import merge

from greylatch.errors import BadFile
from greylatch.rasters.info import MAX_PIXELS, corrected, open_raster

__all__ = ["mosaic"]

MEGABYTES = 64
"""Of pixels that are held at a time."""
UNEVEN = 0.01
"""By which part of a pixel sizes may differ."""


def mosaic(
    paths: Sequence[str | Path], out: str | Path, names: Sequence[str] | None = None, nodata: float | None = None
) -> list[str]:
    """Write rasters of one system, size of pixel, type and number of bands as one GeoTIFF, whole or absent. Where they lie over one another the first
    counts. Pixels that none of them has are nodata.

    Parameters
    ----------
    paths : Sequence[str | Path]
        The files.
    out : str | Path
        The GeoTIFF to be written.
    names : Sequence[str] | None
        What the files are called in errors; None calls them by their own names.
    nodata : float | None
        The value of pixels that hold nothing, and hide nothing of another; None leaves what the files say.

    Returns
    -------
    list[str]
        What was noticed.

    Raises
    ------
    BadFile
        That names the file that does not fit the first.
    """
    called = list(names or [Path(path).name for path in paths])
    if len(paths) < 2:
        raise BadFile("A mosaic is made of two rasters or more.")
    target = Path(out)
    part = target.with_name(f".{target.name}.part")
    with ExitStack() as stack:
        there = [stack.enter_context(corrected(path, nodata=nodata)) for path in paths]
        sources = [stack.enter_context(open_raster(path)) for path in there]
        for source, name in zip(sources[1:], called[1:], strict=True):
            _check(sources[0], source, called[0], name)
        west, south = min(s.bounds.left for s in sources), min(s.bounds.bottom for s in sources)
        east, north = max(s.bounds.right for s in sources), max(s.bounds.top for s in sources)
        across, up = sources[0].res
        pixels = round((east - west) / across) * round((north - south) / up)
        if pixels > MAX_PIXELS:
            raise BadFile(f"Together they would have {pixels:,} pixels.", "Do they lie beside one another?")
        hole, notes = _nodata(sources)
        try:
            merge(
                sources, nodata=hole, dst_path=part, mem_limit=MEGABYTES,
                dst_kwds={"driver": "GTiff", "compress": "deflate", "tiled": True, "blockxsize": 256, "blockysize": 256, "bigtiff": "if_safer"},
            )  # fmt: skip
            _colours(sources[0], part)
            part.replace(target)
        finally:
            part.unlink(missing_ok=True)
    return [f"Put together of {len(paths)} rasters: {', '.join(called[:6])}{', …' if len(called) > 6 else ''}.", *notes]


def _check(first: DatasetReader, other: DatasetReader, first_name: str, name: str) -> None:
    if other.crs != first.crs:
        raise BadFile(f"{name} is in another projection than {first_name}.", "Reproject one of them first.")
    if other.count != first.count or other.dtypes != first.dtypes:
        raise BadFile(f"{name} has other bands than {first_name}.")
    for source, called in ((first, first_name), (other, name)):
        if source.transform.b or source.transform.d or source.transform.e > 0:
            raise BadFile(
                f"{called} is turned or upside down; it can't be put together with others.", "Reproject it first."
            )
    if any(abs(a / b - 1) > UNEVEN for a, b in zip(other.res, first.res, strict=True)):
        raise BadFile(f"The pixels of {name} are of another size than those of {first_name}.")
    if _palette(first) != _palette(other):
        raise BadFile(f"{name} has another palette than {first_name}.")


def _nodata(sources: Sequence[DatasetReader]) -> tuple[float | None, list[str]]:
    """What marks pixels that none of them has."""
    known = next((source.nodata for source in sources if source.nodata is not None), None)
    if known is not None:
        return known, []
    if np.issubdtype(np.dtype(sources[0].dtypes[0]), np.floating):
        return float("nan"), []
    return 0, ["None of them says what stands for no data: pixels between them hold 0, which is taken as that."]


def _palette(source: DatasetReader) -> dict[int, tuple[int, ...]] | None:
    try:
        return dict(source.colormap(1))
    except ValueError:
        return None


def _colours(first: DatasetReader, out: Path) -> None:
    palette = _palette(first)
    with rasterio.open(out, "r+") as target:
        if palette:
            target.write_colormap(1, palette)
        else:
            target.colorinterp = first.colorinterp
