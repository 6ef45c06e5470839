"""Joining two datasets of the library into a third that remembers its parents."""

from typing import Annotated, Any
from uuid import UUID

from django.contrib.auth.models import AbstractBaseUser
from greylatch.errors import BadInput
from greylatch.formats.files import ReadResult
from greylatch.places.join import Match, Suggestion, joined, keys_of, match
from greylatch.sheet.document import FieldName
from greylatch.tables.dataset import MAX_COLUMNS
from ninja import Field, Schema

from library.models import Dataset
from library.store import data_of, keep_vector

Key = Annotated[str, Field(max_length=1_000)]


class JoinIn(Schema):
    """What to join. `same`: a spelling in the table → the area's key, or '' to leave the row out. `chosen`: which row
    stands for a key that the table has twice."""

    areas: UUID
    table: UUID
    area_key: FieldName
    table_key: FieldName
    same: dict[Key, Key] = Field({}, max_length=20_000)
    chosen: dict[Key, int] = Field({}, max_length=20_000)
    fields: list[FieldName] = Field([], max_length=MAX_COLUMNS)
    title: str = Field("", max_length=200)


class Twin(Schema):
    """A key that the table has several times, with the row numbers and what stands in them."""

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


def join_view(areas: Dataset, table: Dataset, given: JoinIn) -> JoinView:
    """The match as it stands with what was settled so far."""
    area_keys, table_keys, found = _match(areas, table, given, suggest=True)
    columns = data_of(table.current).columns
    twins = []
    for key in found.duplicate_keys:
        rows = [i for i, one in enumerate(table_keys) if given.same.get(one, one) == key]
        texts = [
            " · ".join(f"{k} {v}" for k, v in columns.slice(i, 1).to_pylist()[0].items() if v is not None) for i in rows
        ]
        twins.append(Twin(key=key, rows=rows, texts=texts))
    return JoinView(
        matched=found.matched, areas=len(area_keys), rows=len(table_keys), rows_without_area=found.rows_without_area,
        areas_without_row=found.areas_without_row, duplicate_keys=twins, suggestions=found.suggestions, area_keys=sorted(set(area_keys)),
    )  # fmt: skip


def keep_join(owner: AbstractBaseUser, areas: Dataset, table: Dataset, given: JoinIn) -> Dataset:
    """A new dataset of the areas with the chosen fields. Raises BadInput where nothing matches or no field is chosen."""
    if not given.fields:
        raise BadInput("No field of the table was chosen.", "Choose at least one to bring across.")
    _, _, found = _match(areas, table, given)
    result = joined(data_of(areas.current), data_of(table.current).columns, found, given.fields)
    record: dict[str, Any] = {
        "areas": str(areas.pk), "table": str(table.pk), "areas_title": areas.title, "table_title": table.title,
        "area_key": given.area_key, "table_key": given.table_key, "same": given.same, "chosen": given.chosen, "matched": found.matched,
        "rows_without_area": found.rows_without_area, "areas_without_row": found.areas_without_row, "duplicate_keys": found.duplicate_keys,
    }  # fmt: skip
    source = "; ".join(dict.fromkeys(s for s in (areas.source, table.source) if s))
    credit = "; ".join(dict.fromkeys(s for s in (areas.credit, table.credit) if s))
    title = given.title.strip()[:200] or f"{areas.title} with {table.title}"[:200]
    reason = f"As '{areas.title}'."
    return keep_vector(owner, title, ReadResult(result, reason), areas.current.file_name, source, credit, record)


def _match(areas: Dataset, table: Dataset, given: JoinIn, suggest: bool = False) -> tuple[list[str], list[str], Match]:
    if areas.kind not in ("areas", "points", "lines"):
        raise BadInput(f"'{areas.title}' has no shapes to join to.")
    if table.kind == "raster":
        raise BadInput("A raster has no rows to join.")
    area_keys = keys_of(data_of(areas.current).columns, given.area_key)
    table_keys = keys_of(data_of(table.current).columns, given.table_key)
    return area_keys, table_keys, match(area_keys, table_keys, given.same, given.chosen, suggest)
