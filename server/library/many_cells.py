"""Many cells of a table changed at once: seen on real rows first, then made as one step of its history."""

from itertools import chain, count
from typing import Any
from uuid import UUID

from django.http import HttpRequest
from greylatch.errors import BadInput
from greylatch.rules.made_dates import likely_date
from greylatch.rules.many_cells import Calculate, ManyCells, Planned, planned
from ninja import Router, Schema
from people.access import person

from library.derived import data_of
from library.editing import edit
from library.models import Dataset
from library.seen import current_dataset
from library.shown import DatasetOut, shown_to

router = Router(tags=["tables"])
SHOWN = 8
"""Cells that are shown before and after."""


class ManyIn(Schema):
    """What is to be done to many cells."""

    asked: ManyCells


class ChangeOut(Schema):
    """A cell before and after."""

    fid: int
    field: str
    before: Any
    after: Any


class ManyView(Schema):
    """How many cells would change, some of them, and whether a field is made for it."""

    changes: int
    some: list[ChangeOut]
    makes_field: bool


@router.post("/datasets/{dataset_id}/many/look", response=ManyView, summary="What a change of many cells comes to")
def look(request: HttpRequest, dataset_id: UUID, payload: ManyIn) -> ManyView:
    """Nothing is changed yet."""
    plan = _planned(current_dataset(request, dataset_id), payload)
    some = [ChangeOut(**vars(change)) for change in plan.changes[:SHOWN]]
    return ManyView(changes=len(plan.changes), some=some, makes_field=plan.new_field is not None)


class DatesOut(Schema):
    """How dates are worked out of fields that hold their parts; null where there are none."""

    asked: Calculate | None


@router.get("/datasets/{dataset_id}/many/dates", response=DatesOut, summary="How dates are worked out of their parts")
def dates(request: HttpRequest, dataset_id: UUID) -> DatesOut:
    """A change of many cells that makes a field of dates of years, months and days."""
    revision = current_dataset(request, dataset_id).newest
    data = None if revision.raster is not None else data_of(revision)
    expression = data and likely_date(data)
    if data is None or expression is None:
        return DatesOut(asked=None)
    names = chain(["date"], (f"date {n}" for n in count(2)))
    name = next(name for name in names if name not in data.columns.column_names)
    return DatesOut(asked=Calculate(name=name, expression=expression))


@router.post("/datasets/{dataset_id}/many", response=DatasetOut, summary="Change many cells")
def change(request: HttpRequest, dataset_id: UUID, payload: ManyIn) -> DatasetOut:
    """As one step, which can be undone."""
    dataset = current_dataset(request, dataset_id, "change")
    return shown_to(person(request), edit(dataset, person(request), _planned(dataset, payload).edits))


def _planned(dataset: Dataset, payload: ManyIn) -> Planned:
    if dataset.newest.raster is not None:
        raise BadInput("A raster has no rows.")
    return planned(data_of(dataset.newest), payload.asked)
