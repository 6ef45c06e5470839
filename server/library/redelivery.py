"""Replacing a dataset's data: by a new delivery of its file, or, for a join, by what its parents hold now."""

from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import Any, Literal
from uuid import UUID

import numpy as np
from django.contrib.auth.models import User
from django.db import transaction
from greylatch.errors import BadInput, CannotDraw
from greylatch.formats.bounded import bounded
from greylatch.formats.corrections import Corrections
from greylatch.formats.geoparquet import read_geoparquet
from greylatch.formats.intake import Taken, take_in
from greylatch.places.delivery import BETWEEN, Delivery, delivery
from greylatch.proof.fitting import unfit
from greylatch.sheet.document import Sheet as Document
from greylatch.sheet.parts import FieldName
from greylatch.symbols.held import with_breaks_held
from greylatch.tables.dataset import Dataset as Data
from greylatch.tables.dataset import fields
from greylatch.tables.fieldtypes import plain
from greylatch.tables.record import fields_after
from jobs.tidying import scratch
from ninja import Schema
from people.access import may
from pydantic import Field
from sheets.keeping import keep
from sheets.models import Sheet
from sheets.sources import drawing, others_of

from library.derived import data_of, fields_of, keep_columns, keep_shapes
from library.files import named_as_sent
from library.models import Attributes, Dataset, Revision, Shape, Upload
from library.quota import check_room
from library.record import end, write_attributes, write_shapes
from library.revisions import keys_ever, locked, make_current, next_revision
from library.store import described_rows

EXAMPLES = 12


class RedeliveryIn(Corrections):
    """The file as corrected, the field by which rows are known again, and whether classes keep their limits."""

    upload: UUID
    key: FieldName
    more: list[FieldName] = Field([], max_length=3, description="Fields that have to agree as well")
    breaks: Literal["kept", "anew"] = "kept"


class Difference(Schema):
    """A row that a delivery changes: its key, and by field what was and what will be."""

    key: str
    was: dict[str, Any]
    now: dict[str, Any]


class RedeliveryView(Schema):
    """What a delivery would change: numbers of rows with some of them, fields, and what of the sheets would not fit any more."""

    new: int
    gone: int
    changed: int
    moved: int
    same: int
    new_keys: list[str]
    gone_keys: list[str]
    differences: list[Difference]
    fields_new: list[str]
    fields_gone: list[str]
    retyped: list[str]
    emptied: list[str]
    unfit: list[str]


def look(person: User, dataset: Dataset, upload: Upload, asked: RedeliveryIn) -> RedeliveryView:
    """Compare before anything happens. Raises BadInput where the file can't be read or nothing in it is known again."""
    now = data_of(dataset.newest)
    with scratch() as folder:
        compared = delivery(now, read_delivery(upload, asked, folder)[1], asked.key, dataset.next_fid, asked.more)
    rows = compared.rows

    def keys(data: Data, fids: Any) -> list[str]:
        return [named(data.record(int(fid))) for fid in fids[:EXAMPLES]]

    def named(record: dict[str, Any]) -> str:
        return BETWEEN.join(str(plain(record[key])) for key in (asked.key, *asked.more))

    differences = []
    for fid in compared.changed[:EXAMPLES]:
        was, will = now.record(int(fid)), rows.record(int(fid))
        other = [name for name in will if name in was and will[name] != was[name]]
        differences.append(
            Difference(
                key=named(will), was={name: plain(was[name]) for name in other},
                now={name: plain(will[name]) for name in other},
            )
        )  # fmt: skip
    types = {field.name: field.type for field in fields(rows.columns)}
    return RedeliveryView(
        new=len(compared.new), gone=len(compared.gone), changed=len(compared.changed), moved=len(compared.moved), same=compared.same,
        new_keys=keys(rows, compared.new), gone_keys=keys(now, compared.gone), differences=differences,
        fields_new=compared.fields_new, fields_gone=compared.fields_gone,
        retyped=[f"{field.name}: {field.was} → {field.now}" for field in compared.retyped], emptied=compared.emptied,
        unfit=[f"{sheet.title}: {words}" for sheet, document in sheets_with(dataset) if may(person, "see", sheet) for words in unfit(document, str(dataset.pk), types)],
    )  # fmt: skip


def read_delivery(upload: Upload, asked: Corrections, folder: Path) -> tuple[Taken, Data]:
    """The rows of an uploaded file as corrected."""
    path = upload.path
    # The reader's process knows the core only, so it gets no more of what was asked than the core's part.
    corrections = Corrections.model_validate(asked.model_dump(include=set(Corrections.model_fields)))
    with named_as_sent(path, upload.name):
        taken = bounded(path, take_in, path, corrections, folder)
    if taken.kind == "raster":
        raise BadInput("A raster can't take the place of rows.")
    return taken, read_geoparquet(folder / "data.parquet")


def deliver(
    dataset: Dataset, author: User, upload: Upload, asked: RedeliveryIn, folder: Path,
    last: Callable[[Dataset], None], unless_same: bool = False,
) -> None:  # fmt: skip
    """Replace the rows by those of an upload, whole or not at all; `last` is done in the same transaction. `unless_same` leaves rows
    alone that are the same as before."""
    taken, rows = read_delivery(upload, asked, folder)
    with transaction.atomic():
        held = locked(dataset)
        before = data_of(held.newest)
        compared = delivery(before, rows, asked.key, held.next_fid, asked.more)
        if unless_same and compared.nothing:
            last(held)
            return
        if asked.breaks == "kept":
            hold_breaks(held, before)
        words = f"New delivery {upload.name}: {compared.words}."
        described = {"file_name": upload.name[-255:], "crs_reason": taken.crs_reason[:500], "notes": taken.notes}
        last(replace_rows(held, author, compared, words, **described))


def replace_rows(dataset: Dataset, author: User, compared: Delivery, words: str, **described: Any) -> Dataset:
    """The next revision holds the rows of a delivery; what is the same in both is not written again. In a transaction of its
    caller's, which holds the dataset."""
    base, rows = dataset.newest, compared.rows
    number = next_revision(dataset)
    kept = fields_after(fields_of(base), rows.columns, keys_ever(dataset), rows.meanings)
    keys = [field.key for field in kept]
    everything = bool(compared.fields_new or compared.retyped)
    touched = rows.fids if everything else np.union1d(compared.changed, compared.new)
    mask = np.isin(rows.fids, touched)
    end(Attributes, dataset.pk, [*touched, *compared.gone], number)
    size = write_attributes(dataset.pk, number, touched, rows.columns.filter(mask), keys)
    placed = np.isin(rows.fids, np.union1d(compared.moved, compared.new))
    moved = rows.shapes is not None and bool(placed.any() or len(compared.gone))
    if rows.shapes is not None and moved:
        end(Shape, dataset.pk, [*rows.fids[placed], *compared.gone], number)
        size += write_shapes(dataset.pk, number, rows.taking(placed))
    check_room(author, size)
    dataset.next_fid = max(dataset.next_fid, int(rows.fids.max(initial=-1)) + 1)
    after = {**described_rows(rows, kept), **described, "bytes": size}
    make_current(
        dataset,
        base,
        author,
        number=number,
        change=words[:500],
        shaped=None if moved else base.shapes,
        **after,
    )
    newest = dataset.newest
    transaction.on_commit(lambda: _keep_derived(newest, rows, keys, moved))
    return dataset


def sheets_with(dataset: Dataset) -> list[tuple[Sheet, Document]]:
    """The sheets that draw a dataset, whosever they are, with their documents."""
    documents = [(each.sheet, Document.model_validate(each.document)) for each in drawing(dataset)]
    wanted = str(dataset.pk)
    return [
        (sheet, document) for sheet, document in documents if any(layer.dataset == wanted for layer in document.layers)
    ]


def hold_breaks(dataset: Dataset, before: Data) -> None:
    """Write the class limits that are now computed into the sheets that draw the dataset, as a change of theirs."""
    wanted = str(dataset.pk)
    for sheet, document in sheets_with(dataset):
        layers = []
        for layer in document.layers:
            try:
                drawn = replace(before, others=others_of(sheet.owner, layer.others))
                layers.append(with_breaks_held(layer, drawn) if layer.dataset == wanted else layer)
            except (CannotDraw, BadInput):  # a layer that can't be drawn has no classes to keep
                layers.append(layer)
        if layers != document.layers:
            keep(sheet, sheet.revision, document.model_copy(update={"layers": layers}), sheet.owner)


def _keep_derived(revision: Revision, rows: Data, keys: list[str], moved: bool) -> None:
    keep_columns(revision, rows.fids, rows.columns.rename_columns(keys))
    if moved and rows.shapes is not None:
        keep_shapes(revision, rows)
