"""Keeping a first delivery of data as a dataset, whole or absent; and removing datasets."""

import uuid
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from contextlib import suppress
from dataclasses import asdict
from pathlib import Path
from typing import Any

import numpy as np
import shapely
from django.contrib.auth.models import User
from django.db import DatabaseError, transaction
from greylatch.errors import BadInput, printable
from greylatch.formats.about import SILENT, About
from greylatch.formats.geoparquet import read_geoparquet, write_geoparquet
from greylatch.formats.intake import Taken
from greylatch.formats.result import ReadResult
from greylatch.places.crs import LONLAT, to_lonlat, transformer_between
from greylatch.places.frame import Frame
from greylatch.places.stated import crs_name, crs_text
from greylatch.progress import Progress, silent
from greylatch.rasters.info import raster_info
from greylatch.rasters.keep import keep_as_cog
from greylatch.tables.dataset import Dataset as Data
from greylatch.tables.record import KeptField, kept_fields, recordable
from jobs.models import Job
from jobs.tidying import scratch

from library.delivered import FILE, MANY, hold, is_held
from library.derived import forget_derived, keep_columns, keep_shapes, placed_and_kept
from library.files import remove_files, remove_folder, remove_folders, store_folder
from library.models import Dataset, Revision
from library.record import write_attributes, write_shapes
from library.row_by_row import soon
from library.tiles import level_of


def keep_vector(
    owner: User, title: str, result: ReadResult, file_name: str, about: About = SILENT,
    join: dict[str, Any] | None = None,
) -> Dataset:  # fmt: skip
    """A new dataset with one revision, made in one transaction: on any error there is no trace of it."""
    with scratch() as folder, transaction.atomic():
        write_geoparquet(result.dataset, folder / FILE)
        return keep_folder(
            owner, title, folder, Taken(kind=result.dataset.kind, crs_reason=result.crs_reason, notes=result.notes), file_name,
            about, join,
        )  # fmt: skip


def keep_raster(owner: User, title: str, path: Path, file_name: str, about: About = SILENT) -> Dataset:
    """A new raster dataset, kept as a cloud optimised GeoTIFF with overviews. Raises BadInput for a file that breaks off."""
    with scratch() as folder, transaction.atomic():
        info = keep_as_cog(path, folder / "raster.tif")
        taken = Taken(kind="raster", crs_reason="Stated in the file.", notes=info.notes)
        return keep_folder(owner, title, folder, taken, file_name, about)


def keep_folder(
    owner: User, title: str, folder: Path, taken: Taken, file_name: str, about: About = SILENT,
    join: dict[str, Any] | None = None, progress: Progress = silent, job: Job | None = None,
    last: Callable[[Dataset], None] | None = None, origin: dict[str, Any] | None = None,
) -> Dataset:  # fmt: skip
    """A new dataset of what lies in a local folder: data.parquet or raster.tif, as `greylatch.formats.intake` writes them.

    A stop is heard between its steps. Nobody sees the dataset while it has no current revision; that comes last, in one
    transaction with what `last` does. On any error there is no trace of it.
    """
    rows = None
    described: dict[str, Any]
    if taken.kind == "raster":
        raster = raster_info(folder / "raster.tif")
        described = {"rows": 0, "crs": raster.crs, "bounds": list(raster.bounds), "raster": raster.as_json()}
    else:
        rows = read_geoparquet(folder / FILE)
        rows = rows.with_columns(recordable(rows.columns))
        progress(0, len(rows), f"{len(rows):,} rows read")
        described = {**described_rows(rows, kept_fields(rows.columns, None, rows.meanings)), "join": join}
    described |= {
        "crs": printable(described["crs"])[:300],
        "crs_reason": printable(taken.crs_reason)[:500],
        "notes": taken.notes,
    }
    dataset = Dataset.objects.create(
        owner=owner, title=title[:200], kind=taken.kind, source=about.source[:500], credit=about.credit[:500], licence=about.licence[:200],
        dated=about.dated[:40], origin=origin, job=job,
        next_fid=0 if rows is None else int(rows.fids.max(initial=-1)) + 1,
    )  # fmt: skip
    name = f"datasets/{uuid.uuid4().hex}" if rows is None else ""
    try:
        revision = Revision.objects.create(
            dataset=dataset, number=1, folder=name, file_name=printable(file_name)[-255:], author=owner,
            change=f"Delivered as {printable(file_name)}."[:500], **described,
        )  # fmt: skip
        many = rows is not None and len(rows) >= MANY
        if rows is None:
            revision.bytes = store_folder(folder, name)
        else:
            revision.bytes = put_on_record(revision, rows, folder / FILE if many else None, progress)
        with transaction.atomic():
            revision.save(update_fields=["bytes"])
            dataset.current = revision
            dataset.save(update_fields=["current"])
            if last is not None:
                last(dataset)
            if many:
                transaction.on_commit(lambda: soon(dataset.pk))
    except BaseException:
        if name:
            remove_folder(name)
        forget_derived(dataset.pk)
        if job is not None:  # otherwise the transaction around all this takes it back
            with suppress(DatabaseError):  # where the database itself is gone, `discard` tidies up later
                dataset.current = None
                dataset.delete()
        raise
    return dataset


def put_on_record(revision: Revision, rows: Data, file: Path | None, progress: Progress = silent) -> int:
    """Write the rows of a first delivery to the database, one by one or, where it is given, the `file` that holds them; and what is derived of
    them to this machine. Returns how many bytes."""
    keys = [field["key"] for field in revision.fields]
    with ThreadPoolExecutor(1) as beside:
        # PostgreSQL takes the rows while this process gets ready what their first map asks.
        ready = beside.submit(_made_ready, revision, rows)
        if file is not None:
            total = hold(revision.dataset_id, file)
            progress(len(rows), len(rows), f"{len(rows):,} rows kept")
        else:
            total = write_attributes(revision.dataset_id, revision.number, rows.fids, rows.columns, keys, progress)
            total += 0 if rows.geometry is None else write_shapes(revision.dataset_id, revision.number, rows, progress)
        if rows.geometry is not None:
            keep_shapes(revision, rows)
        keep_columns(revision, rows.fids, rows.columns.rename_columns(keys))
        ready.result()
    return total


def _made_ready(revision: Revision, rows: Data) -> None:
    """Keep the shapes of a first delivery as they lie on the usual map. This asks nothing of the database."""
    if rows.geometry is not None:
        with suppress(BadInput):  # what lies nowhere on this map says so when it is drawn
            level_of(revision, placed_and_kept(revision, rows))


def described_rows(rows: Data, kept: list[KeptField]) -> dict[str, Any]:
    """What a revision says of its rows."""
    return {
        "rows": len(rows), "fields": [asdict(field) for field in kept], "bounds": bounds_of(rows),
        "crs": crs_name(rows.crs) if rows.crs else "", "projjson": rows.crs.to_json_dict() if rows.crs else None,
    }  # fmt: skip


def discard(job: Job) -> None:
    """Remove what an import that did not end left behind."""
    for dataset in Dataset.objects.filter(job=job, current=None):
        forget(dataset)


def forget(dataset: Dataset) -> None:
    """Remove a dataset and its files; the files last, so that nothing is named that is not there."""
    folders = list(dataset.revisions.values_list("folder", flat=True))
    pk = dataset.pk
    files = [name for names in dataset.pictures.values_list("file", "thumb") for name in names]
    with transaction.atomic():
        is_held(pk, alone=True)  # whoever puts its rows on record has done so by then: none comes after it is gone
        Dataset.objects.filter(pk=pk).update(current=None)
        dataset.delete()
        transaction.on_commit(lambda: remove_folders(filter(None, folders)))
        transaction.on_commit(lambda: remove_files(files))
        transaction.on_commit(lambda: forget_derived(pk))


def bounds_of(data: Data) -> list[float] | None:
    if data.geometry is None or data.crs is None:
        return None
    if data.places is not None:
        lonlat = np.array(transformer_between(data.crs, LONLAT).transform(*data.places.T))
        # What lies beyond goes on as shapes, which are cut or refused.
        if (np.abs(lonlat) <= np.array([[180], [90]])).all():
            return [*map(float, lonlat.min(axis=1)), *map(float, lonlat.max(axis=1))]
    assert data.shapes is not None
    if data.crs.is_projected:  # which says so of coordinates that are no places in it
        Frame.named(crs_text(data.crs)).project(data.shapes, data.crs)
    return [float(v) for v in shapely.total_bounds(to_lonlat(data.shapes, data.crs))]


def said_together(*datasets: Dataset) -> About:
    """What is said of data that were made of several."""

    def joined(what: str) -> str:
        return "; ".join(dict.fromkeys(str(getattr(dataset, what)) for dataset in datasets if getattr(dataset, what)))

    return About("", joined("source"), joined("credit"), joined("licence"), joined("dated"))
