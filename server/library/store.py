"""Keeping a dataset's data as a revision, whole or absent; and reading it back, once per process."""

import tempfile
import uuid
from contextlib import suppress
from functools import lru_cache
from pathlib import Path
from typing import Any

import pyarrow as pa
import rasterio
import shapely
from django.contrib.auth.models import AbstractBaseUser
from django.contrib.gis.geos import GEOSGeometry
from django.db import DatabaseError
from greylatch.errors import BadInput
from greylatch.formats.files import ReadResult
from greylatch.formats.geoparquet import read_geoparquet, write_geoparquet
from greylatch.paint.sources import RasterSource, Source, VectorSource
from greylatch.places.crs import crs_name, to_lonlat, to_mercator
from greylatch.progress import Progress, silent
from greylatch.rasters.info import check_all_pixels, raster_info
from greylatch.tables.dataset import Dataset as Data
from greylatch.tables.dataset import fields
from jobs.models import Job
from jobs.work import cleans_up
from rasterio.errors import RasterioError
from rasterio.shutil import copy as copy_raster

from library.files import local_path, remove_folder, store_folder
from library.models import Dataset, Feature, Revision

BATCH = 2000


def keep_vector(
    owner: AbstractBaseUser, title: str, found: ReadResult, file_name: str, source: str = "", credit: str = "",
    join: dict[str, Any] | None = None, progress: Progress = silent, job: Job | None = None,
) -> Dataset:  # fmt: skip
    """A new dataset with one revision. On any error, or when stopped, there is no trace of it."""
    data = found.dataset
    described = {
        "rows": len(data), "fields": [vars(one) for one in fields(data.columns)], "crs": crs_name(data.crs) if data.crs else "",
        "crs_reason": found.crs_reason, "bounds": _bounds(data), "notes": found.notes, "join": join,
    }  # fmt: skip
    with tempfile.TemporaryDirectory(prefix="greylatch-") as folder:
        write_geoparquet(data, Path(folder) / "data.parquet")
        with (
            pa.OSFile(str(Path(folder) / "columns.arrow"), "wb") as sink,
            pa.ipc.new_file(sink, data.columns.schema) as writer,
        ):
            writer.write_table(data.columns)
        return _keep(owner, title, data.kind, file_name, source, credit, described, Path(folder), data, progress, job)


def keep_raster(
    owner: AbstractBaseUser,
    title: str,
    path: Path,
    file_name: str,
    source: str = "",
    credit: str = "",
    progress: Progress = silent,
    job: Job | None = None,
) -> Dataset:
    """A new raster dataset, kept as a cloud optimised GeoTIFF with overviews. Raises BadInput for a file that breaks off."""
    progress(0, 3, "reading every pixel")
    check_all_pixels(path)
    progress(1, 3, "making overviews")
    with tempfile.TemporaryDirectory(prefix="greylatch-") as folder:
        target = Path(folder) / "raster.tif"
        try:
            with rasterio.open(path, driver="GTiff") as raster:
                predictor = "FLOATING_POINT" if raster.dtypes[0].startswith("float") else "STANDARD"
                copy_raster(
                    raster,
                    target,
                    driver="COG",
                    compress="DEFLATE",
                    predictor=predictor,
                    resampling="average",
                    bigtiff="IF_SAFER",
                )
        except RasterioError as error:
            raise BadInput(f"{file_name} cannot be read to its end: {error}.") from error
        info = raster_info(target)
        described = {
            "rows": 0, "crs": info.crs, "crs_reason": "Stated in the file.", "bounds": list(info.bounds), "raster": info.as_json(),
        }  # fmt: skip
        progress(2, 3, "keeping it")
        return _keep(owner, title, "raster", file_name, source, credit, described, Path(folder), None, progress, job)


def source_of(revision: Revision) -> Source:
    """The revision's data ready to be drawn; remembered by this process."""
    return _source(str(revision.pk), revision.folder, revision.raster is not None)


def data_of(revision: Revision) -> Data:
    """Columns and shapes of a vector or table revision."""
    return _data(str(revision.pk), revision.folder)


@lru_cache(maxsize=32)
def _source(_revision: str, folder: str, raster: bool) -> Source:
    if raster:
        return RasterSource(local_path(f"{folder}/raster.tif"))
    return VectorSource(_data(_revision, folder))


@lru_cache(maxsize=48)
def _data(_revision: str, folder: str) -> Data:
    data = read_geoparquet(local_path(f"{folder}/data.parquet"))
    # The columns are memory-mapped, so that all processes of a machine share one copy of them.
    with pa.memory_map(str(local_path(f"{folder}/columns.arrow"))) as mapped:
        return data.with_columns(pa.ipc.open_file(mapped).read_all())


def _keep(
    owner: AbstractBaseUser, title: str, kind: str, file_name: str, source: str, credit: str, described: dict[str, Any],
    local: Path, data: Data | None, progress: Progress, job: Job | None,
) -> Dataset:  # fmt: skip
    # Shapes are kept in batches, each for good, so that progress is seen and a stop is heard. Nobody sees the dataset while it
    # has no current revision; that comes last.
    folder = f"datasets/{uuid.uuid4().hex}"
    dataset = Dataset.objects.create(owner=owner, title=title, kind=kind, source=source, credit=credit, job=job)
    try:
        revision = Revision.objects.create(dataset=dataset, number=1, folder=folder, file_name=file_name, **described)
        store_folder(local, folder)
        if data is not None and data.shapes is not None:
            _keep_shapes(revision, data, progress)
        progress(1, 1, "kept")
        dataset.current = revision
        dataset.save(update_fields=["current"])
    except BaseException:
        remove_folder(folder)
        with suppress(DatabaseError):  # where the database itself is gone, `discard` tidies up later
            dataset.current = None
            dataset.delete()
        raise
    return dataset


@cleans_up("import")
def discard(job: Job) -> None:
    """Remove what an import that did not end left behind."""
    for dataset in Dataset.objects.filter(job=job, current=None):
        for folder in dataset.revisions.values_list("folder", flat=True):
            remove_folder(folder)
        dataset.delete()


def _keep_shapes(revision: Revision, data: Data, progress: Progress) -> None:
    assert data.shapes is not None and data.crs is not None
    shapes = to_mercator(data.shapes, data.crs)
    blobs = shapely.to_wkb(shapes)
    empty = shapely.is_empty(shapes)
    for start in range(0, len(blobs), BATCH):
        Feature.objects.bulk_create(
            Feature(revision=revision, row=row, shape=GEOSGeometry(memoryview(blobs[row]), srid=3857))
            for row in range(start, min(start + BATCH, len(blobs)))
            if not empty[row]
        )
        progress(
            min(start + BATCH, len(blobs)),
            len(blobs) + 1,
            f"{min(start + BATCH, len(blobs)):,} of {len(blobs):,} shapes kept",
        )


def _bounds(data: Data) -> list[float] | None:
    if data.shapes is None or data.crs is None:
        return None
    return [float(v) for v in shapely.total_bounds(to_lonlat(data.shapes, data.crs))]
