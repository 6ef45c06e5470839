"""Joining two datasets of the library into a third that remembers its parents."""

from dataclasses import replace
from typing import Annotated, Any
from uuid import UUID

from django.contrib.auth.models import User
from django.db import transaction
from greylatch.errors import BadInput
from greylatch.formats.result import ReadResult
from greylatch.places.delivery import delivery_of
from greylatch.places.join import Match, Suggestion, joined, keys_of, match
from greylatch.sheet.parts import FieldName
from greylatch.tables.dataset import MAX_COLUMNS
from greylatch.tables.dataset import Dataset as Data
from ninja import Field, Schema

from library.derived import data_of
from library.models import Dataset
from library.redelivery import replace_rows
from library.revisions import locked
from library.store import keep_vector

Key = Annotated[str, Field(max_length=1_000)]


class JoinIn(Schema):
    """What to join. `same`: a spelling in the table → the area's key, or '' to leave the row out. `chosen`: the fid
    of the row that stands for a key which the table has twice."""

    areas: UUID
    table: UUID
    area_key: FieldName
    table_key: FieldName
    same: dict[Key, Key] = Field({}, max_length=20_000)
    chosen: dict[Key, int] = Field({}, max_length=20_000)
    fields: list[FieldName] = Field([], max_length=MAX_COLUMNS)
    title: str = Field("", max_length=200)


class Twin(Schema):
    """A key that the table has several times, with the fids of its rows and what stands in them."""

    key: str
    rows: list[int]
    texts: list[str]


class JoinView(Schema):
    """A match from both sides."""

    matched: int
    areas: int
    rows: int
    rows_without_area: list[str]
    areas_without_row: list[str]
    duplicate_keys: list[Twin]
    suggestions: dict[str, list[Suggestion]]
    area_keys: list[str]


def join_view(areas: Dataset, table: Dataset, asked: JoinIn) -> JoinView:
    """The match as it stands with what was settled so far."""
    area_keys, table_keys, matching = _match(areas, table, asked, suggest=True)
    rows = data_of(table.newest)
    twins = []
    for key in matching.duplicate_keys:
        fids = [
            int(rows.fids[i]) for i, table_key in enumerate(table_keys) if asked.same.get(table_key, table_key) == key
        ]
        texts = [" · ".join(f"{k} {v}" for k, v in rows.record(fid).items() if v is not None) for fid in fids]
        twins.append(Twin(key=key, rows=fids, texts=texts))
    return JoinView(
        matched=matching.matched, areas=len(area_keys), rows=len(table_keys), rows_without_area=matching.rows_without_area,
        areas_without_row=matching.areas_without_row, duplicate_keys=twins, suggestions=matching.suggestions, area_keys=sorted(set(area_keys)),
    )  # fmt: skip


def keep_join(owner: User, areas: Dataset, table: Dataset, asked: JoinIn) -> Dataset:
    """A new dataset of the areas with the chosen fields, each feature under the fid of its area. Raises BadInput where nothing
    matches or no field is chosen."""
    if not asked.fields:
        raise BadInput("No field of the table was chosen.", "Choose at least one to bring across.")
    rows, record = _joined(areas, table, asked)
    source = "; ".join(dict.fromkeys(s for s in (areas.source, table.source) if s))
    credit = "; ".join(dict.fromkeys(s for s in (areas.credit, table.credit) if s))
    title = asked.title.strip()[:200] or f"{areas.title} with {table.title}"[:200]
    reason = f"As '{areas.title}'."
    return keep_vector(owner, title, ReadResult(rows, reason), areas.newest.file_name, source, credit, record)


def parents_changed(dataset: Dataset) -> bool:
    """Whether what a dataset was joined from holds something else now."""
    join = dataset.newest.join
    if not join:
        return False
    now = dict(Dataset.objects.filter(pk__in=(join["areas"], join["table"])).values_list("pk", "current__number"))
    made_of = {UUID(join[parent]): join.get(f"{parent}_revision", 1) for parent in ("areas", "table")}
    return any(now.get(pk, number) != number for pk, number in made_of.items())


def remake(dataset: Dataset, author: User) -> Dataset:
    """Join the parents as they are now, by the cross-reference that was settled, in place of what was joined before. Raises
    BadInput for a dataset that was not joined, and where a parent is gone."""
    join = dataset.newest.join
    if not join:
        raise BadInput(f"'{dataset.title}' was not joined.")
    parents = Dataset.objects.filter(owner=dataset.owner, current__isnull=False).select_related("current__dataset")
    areas, table = (parents.filter(pk=join[parent]).first() for parent in ("areas", "table"))
    if areas is None or table is None:
        raise BadInput(f"'{join['table_title' if areas else 'areas_title']}' is not in the library any more.")
    own = {field["name"] for field in areas.newest.fields}
    chosen = join.get("fields") or [field["name"] for field in dataset.newest.fields if field["name"] not in own]
    there = {field["name"] for field in table.newest.fields}
    recorded = JoinIn(
        areas=areas.pk, table=table.pk, area_key=join["area_key"], table_key=join["table_key"], same=join["same"],
        chosen=join["chosen"], fields=[name for name in chosen if name in there], title=dataset.title,
    )  # fmt: skip
    rows, record = _joined(areas, table, recorded)
    with transaction.atomic():
        held = locked(dataset)
        delivery = delivery_of(data_of(held.newest), rows)
        return replace_rows(held, author, delivery, f"Joined anew: {delivery.words}.", join=record)


def _joined(areas: Dataset, table: Dataset, asked: JoinIn) -> tuple[Data, dict[str, Any]]:
    """The areas with the fields of the table, and what is remembered of how."""
    _, _, matching = _match(areas, table, asked)
    brought = data_of(table.newest)
    rows = joined(data_of(areas.newest), brought.columns, matching, asked.fields)
    meanings = {name: brought.meanings[name] for name in asked.fields if name in brought.meanings}
    return replace(rows, meanings={**meanings, **rows.meanings}), {
        "areas": str(areas.pk), "table": str(table.pk), "areas_title": areas.title, "table_title": table.title,
        "areas_revision": areas.newest.number, "table_revision": table.newest.number, "fields": asked.fields,
        "area_key": asked.area_key, "table_key": asked.table_key, "same": asked.same, "chosen": asked.chosen, "matched": matching.matched,
        "rows_without_area": matching.rows_without_area, "areas_without_row": matching.areas_without_row, "duplicate_keys": matching.duplicate_keys,
    }  # fmt: skip


def _match(areas: Dataset, table: Dataset, asked: JoinIn, suggest: bool = False) -> tuple[list[str], list[str], Match]:
    if areas.kind not in ("areas", "points", "lines"):
        raise BadInput(f"'{areas.title}' has no shapes to join to.")
    if table.kind == "raster":
        raise BadInput("A raster has no rows to join.")
    rows = data_of(table.newest)
    area_keys = keys_of(data_of(areas.newest).columns, asked.area_key)
    table_keys = keys_of(rows.columns, asked.table_key)
    at = {int(fid): row for row, fid in enumerate(rows.fids)}
    chosen = {key: at[fid] for key, fid in asked.chosen.items() if fid in at}
    return area_keys, table_keys, match(area_keys, table_keys, asked.same, chosen, suggest)
