"""Keeping a dataset's data as a revision, whole or absent; and reading it back, once per process."""

import uuid
from collections.abc import Callable
from contextlib import suppress
from functools import lru_cache
from pathlib import Path
from typing import Any

import pyarrow as pa
import shapely
from django.contrib.auth.models import AbstractBaseUser
from django.db import DatabaseError, transaction
from greylatch.errors import printable
from greylatch.formats.files import ReadResult
from greylatch.formats.geoparquet import read_geoparquet, write_geoparquet
from greylatch.formats.intake import Taken
from greylatch.paint.sources import RasterSource, Source, VectorSource
from greylatch.places.crs import crs_name, crs_text, to_lonlat
from greylatch.places.frame import MERCATOR, Frame
from greylatch.progress import Progress, silent
from greylatch.rasters.info import raster_info
from greylatch.rasters.keep import keep_as_cog
from greylatch.tables.dataset import Dataset as Data
from greylatch.tables.dataset import fields
from jobs.models import Job
from jobs.tidying import scratch

from library.files import local_path, remove_folder, store_folder
from library.models import Dataset, Revision


def keep_vector(
    owner: AbstractBaseUser, title: str, found: ReadResult, file_name: str, source: str = "", credit: str = "",
    join: dict[str, Any] | None = None,
) -> Dataset:  # fmt: skip
    """A new dataset with one revision, made in one transaction: on any error there is no trace of it."""
    with scratch() as folder, transaction.atomic():
        write_geoparquet(found.dataset, folder / "data.parquet")
        return keep_folder(
            owner, title, folder, Taken(kind=found.dataset.kind, crs_reason=found.crs_reason, notes=found.notes), file_name, source,
            credit, join,
        )  # fmt: skip


def keep_raster(
    owner: AbstractBaseUser, title: str, path: Path, file_name: str, source: str = "", credit: str = ""
) -> Dataset:
    """A new raster dataset, kept as a cloud optimised GeoTIFF with overviews. Raises BadInput for a file that breaks off."""
    with scratch() as folder, transaction.atomic():
        info = keep_as_cog(path, folder / "raster.tif")
        taken = Taken(kind="raster", crs_reason="Stated in the file.", notes=info.notes)
        return keep_folder(owner, title, folder, taken, file_name, source, credit)


def keep_folder(
    owner: AbstractBaseUser, title: str, folder: Path, taken: Taken, file_name: str, source: str = "", credit: str = "",
    join: dict[str, Any] | None = None, progress: Progress = silent, job: Job | None = None,
    last: Callable[[Dataset], None] | None = None,
) -> Dataset:  # fmt: skip
    """A new dataset of what lies in a local folder: data.parquet or raster.tif, as `greylatch.formats.intake` writes them.

    A stop is heard between its steps. Nobody sees the dataset while it has no current revision; that comes last, in one
    transaction with what `last` does. On any error there is no trace of it.
    """
    data = None
    if taken.kind == "raster":
        raster = raster_info(folder / "raster.tif")
        described: dict[str, Any] = {
            "rows": 0,
            "crs": raster.crs,
            "bounds": list(raster.bounds),
            "raster": raster.as_json(),
        }
    else:
        data = read_geoparquet(folder / "data.parquet")
        progress(1, 2, f"{len(data):,} rows read")
        with (
            pa.OSFile(str(folder / "columns.arrow"), "wb") as sink,
            pa.ipc.new_file(sink, data.columns.schema) as writer,
        ):
            writer.write_table(data.columns)
        described = {
            "rows": len(data), "fields": [vars(one) for one in fields(data.columns)], "bounds": _bounds(data), "join": join,
            "crs": crs_name(data.crs) if data.crs else "",
        }  # fmt: skip
    described |= {
        "crs": printable(described["crs"])[:300],
        "crs_reason": printable(taken.crs_reason)[:500],
        "notes": taken.notes,
    }
    name = f"datasets/{uuid.uuid4().hex}"
    dataset = Dataset.objects.create(
        owner=owner, title=title[:200], kind=taken.kind, source=source[:500], credit=credit[:500], job=job
    )
    try:
        revision = Revision.objects.create(
            dataset=dataset, number=1, folder=name, file_name=printable(file_name)[-255:], **described
        )
        revision.bytes = store_folder(folder, name)
        progress(2, 2, "putting it in place")
        with transaction.atomic():
            revision.save(update_fields=["bytes"])
            dataset.current = revision
            dataset.save(update_fields=["current"])
            if last is not None:
                last(dataset)
    except BaseException:
        remove_folder(name)
        if job is not None:  # otherwise the transaction around all this takes it back
            with suppress(DatabaseError):  # where the database itself is gone, `discard` tidies up later
                dataset.current = None
                dataset.delete()
        raise
    return dataset


def source_of(revision: Revision, frame: Frame = MERCATOR) -> Source:
    """The revision's data ready to be drawn in a frame; remembered by this process."""
    return _source(str(revision.pk), revision.folder, revision.raster is not None, frame)


def data_of(revision: Revision) -> Data:
    """Columns and shapes of a vector or table revision."""
    return _data(str(revision.pk), revision.folder)


@lru_cache(maxsize=32)
def _source(_revision: str, folder: str, raster: bool, frame: Frame) -> Source:
    if raster:
        return RasterSource(local_path(f"{folder}/raster.tif"), frame)
    return VectorSource(_data(_revision, folder), frame)


@lru_cache(maxsize=48)
def _data(_revision: str, folder: str) -> Data:
    data = read_geoparquet(local_path(f"{folder}/data.parquet"))
    # The columns are memory-mapped, so that all processes of a machine share one copy of them.
    with pa.memory_map(str(local_path(f"{folder}/columns.arrow"))) as mapped:
        return data.with_columns(pa.ipc.open_file(mapped).read_all())


def discard(job: Job) -> None:
    """Remove what an import that did not end left behind."""
    for dataset in Dataset.objects.filter(job=job, current=None):
        forget(dataset)


def forget(dataset: Dataset) -> None:
    """Remove a dataset and its files; the files last, so that nothing is named that is not there."""
    folders = list(dataset.revisions.values_list("folder", flat=True))
    with transaction.atomic():
        Dataset.objects.filter(pk=dataset.pk).update(current=None)
        dataset.delete()
        transaction.on_commit(lambda: [remove_folder(folder) for folder in folders])


def _bounds(data: Data) -> list[float] | None:
    if data.shapes is None or data.crs is None:
        return None
    if data.crs.is_projected:  # which says so of coordinates that are no places in it
        Frame.named(crs_text(data.crs)).project(data.shapes, data.crs)
    return [float(v) for v in shapely.total_bounds(to_lonlat(data.shapes, data.crs))]
