"""A dataset as the editor is told of it: what it holds, what may be drawn of it, and what whoever asks may do with it."""

from collections.abc import Mapping, Sequence
from dataclasses import asdict
from datetime import datetime
from typing import Any
from uuid import UUID

from django.contrib.auth.models import User
from greylatch.encodings.channels import Channel, may_vary
from greylatch.readings.kinds import READINGS
from greylatch.readings.reading import Reading
from greylatch.sheet.lettering import Lettering
from greylatch.symbols.starting import first_lettering, offered
from greylatch.tables.dataset import Kind
from greylatch.tables.fieldtypes import FieldType
from greylatch.tables.meaning import Meaning, MeaningKind, tells_little
from greylatch.tables.summing import Summary, usual_summary
from ninja import Schema
from people.access import Standing, Verb, rights

from library.joining import parents_changed
from library.models import Dataset, Revision
from library.origin import Origin
from library.undoing import Steps, steps_of


class MeaningOut(Schema):
    """What a field means, and why that was guessed."""

    kind: MeaningKind
    unit: str
    decimals: int | None
    missing: list[float | str]
    reason: str


class FieldOut(Schema):
    """A field, how many of its values are missing, and what it means. One that `tells_little` is listed last; many values of it are `summed` up so at
    first."""

    name: str
    type: FieldType
    missing: int
    meaning: MeaningOut
    tells_little: bool
    summed: Summary


class ReadingOut(Schema):
    """What a reading makes of a dataset: of which kind, with which fields, and what may vary of it, by what."""

    kind: Kind
    fields: list[FieldOut]
    channels: dict[Channel, list[str]]


class OriginOut(Schema):
    """The service that a dataset was fetched from: of which kind and at which address, when last, how often again, and why it could
    not be fetched lately."""

    kind: str
    address: str
    fetched: datetime
    every: str
    trouble: str


class DatasetOut(Standing):
    """A dataset as it stands. Tiles of its shapes are those of the revision `shapes`, in which one changed last. `channels` may vary when it is
    drawn, each by what it lists; `offered` may be drawn in place of it, `readings` are what each kind of reading makes of it; `lettering` are
    the first labels of it."""

    id: UUID
    revision: UUID
    shapes: UUID
    title: str
    kind: str
    source: str
    credit: str
    licence: str
    dated: str
    origin: OriginOut | None
    vetted: datetime | None
    vetted_by: str | None
    rows: int
    fields: list[FieldOut]
    crs: str
    crs_reason: str
    bounds: list[float] | None
    notes: list[str]
    raster: dict[str, Any] | None
    join: dict[str, Any] | None
    file_name: str
    created: datetime
    can_undo: bool
    can_redo: bool
    parents_changed: bool
    channels: dict[Channel, list[str]]
    offered: list[str]
    readings: dict[str, ReadingOut]
    lettering: Lettering | None


def shown_to(person: User, dataset: Dataset) -> DatasetOut:
    """A dataset as `person` sees it."""
    return described(dataset, rights(person, dataset), steps_of(person, [dataset.pk])[dataset.pk])


def described(dataset: Dataset, may: list[Verb], own: Steps) -> DatasetOut:
    """A dataset with its current revision, what the one who asks may do with it, and what of it they did themselves."""
    revision = dataset.current
    assert revision is not None
    fields = fields_out(revision)
    return DatasetOut(
        id=dataset.pk, revision=revision.pk, shapes=revision.shapes_id, title=dataset.title, kind=dataset.kind, source=dataset.source, credit=dataset.credit, rows=revision.rows,
        origin=_origin(dataset), licence=dataset.licence, dated=dataset.dated, owner=dataset.owner.get_username(), may=may,
        vetted_by=dataset.vetted_by.get_username() if dataset.vetted_by else None, vetted=dataset.vetted,
        fields=fields, crs=revision.crs, crs_reason=revision.crs_reason, bounds=revision.bounds,
        notes=revision.notes, raster=revision.raster, join=revision.join, file_name=revision.file_name, created=dataset.created,
        can_undo=bool(own.undo), can_redo=bool(own.redo), parents_changed=parents_changed(dataset),
        channels=_channels(dataset.holds, fields), offered=offered(dataset.holds),
        readings={reading.named(): _reading_out(reading, fields) for reading in READINGS if dataset.holds in reading.of},
        lettering=first_lettering([(field.name, field.type, field.meaning.kind) for field in fields], dataset.holds),
    )  # fmt: skip


def fields_out(revision: Revision) -> list[FieldOut]:
    """Its fields, as the editor is told of them."""
    return [_field_out(field) for field in revision.fields]


def _field_out(field: Mapping[str, Any]) -> FieldOut:
    type, means = field["type"], field["meaning"]["kind"]
    return FieldOut.model_validate(
        {**field, "tells_little": tells_little(field["name"], means), "summed": usual_summary(type, means)}
    )


def _channels(kind: Kind, fields: Sequence[FieldOut]) -> dict[Channel, list[str]]:
    return may_vary(kind, len(fields), sum(field.type in ("number", "integer") for field in fields))


def _reading_out(reading: type[Reading], of: Sequence[FieldOut]) -> ReadingOut:
    fields = list(of)
    if reading.own_fields is not None:
        fields = [
            _field_out({"name": name, "type": type, "missing": 0, "meaning": asdict(Meaning("count"))})
            for name, type in reading.own_fields.items()
        ]
    return ReadingOut(kind=reading.makes, fields=fields, channels=_channels(reading.makes, fields))


def _origin(dataset: Dataset) -> OriginOut | None:
    origin = Origin.of(dataset)
    if origin is None:
        return None
    return OriginOut(
        kind=origin.kind, address=origin.address, fetched=origin.fetched, every=origin.every, trouble=origin.trouble
    )
