"""Joining two datasets of the library into a third that remembers its parents."""

from dataclasses import dataclass, replace
from typing import Annotated, Any, Literal
from uuid import UUID

import pyarrow as pa
from django.contrib.auth.models import User
from django.db import transaction
from greylatch.errors import BadInput
from greylatch.formats.result import ReadResult
from greylatch.places.by_place import areas_of
from greylatch.places.delivery import delivery_of
from greylatch.places.join import Match, Suggestion, joined, key_of, keys_of, match
from greylatch.places.likely_fields import likely_keys, likely_to_come_along
from greylatch.sheet.parts import FieldName
from greylatch.tables.dataset import MAX_COLUMNS, Fids, fields
from greylatch.tables.dataset import Dataset as Data
from greylatch.tables.summing import Summary, summed, usual_summary
from ninja import Field, Schema
from people.access import allowed

from library.derived import data_of
from library.models import Dataset
from library.redelivery import replace_rows
from library.revisions import locked
from library.store import keep_vector, said_together

SHOWN, LISTED, TWINS, ROWS = 500, 400, 60, 12
"""Areas that are ringed on the map; rows and areas, keys that stand several times, and rows of each, that are listed."""
MOST_MORE_KEYS = 5
Key = Annotated[str, Field(max_length=1_000)]


class KeyPair(Schema):
    """A field of the areas and one of the table that hold the same."""

    area_key: FieldName
    table_key: FieldName


class SidesIn(Schema):
    """Areas, and a table that is joined to them; null: not chosen yet. `arrived` is what was brought in last."""

    areas: UUID | None = None
    table: UUID | None = None
    arrived: UUID | None = None


class JoinIn(Schema):
    """What to join. By key: `more_keys` are fields that have to agree as well; `same`: a spelling in the table → the area's key, or ''
    to leave the row out; `chosen`: the fid of the row that stands for a key which the table has twice. By place: rows go to the area
    in which they lie, or with `nearest_km` to the nearest. `summarise` says how many rows of an area become one."""

    areas: UUID
    table: UUID
    by: Literal["key", "place"] = "key"
    area_key: FieldName = ""
    table_key: FieldName = ""
    more_keys: list[KeyPair] = Field([], max_length=MOST_MORE_KEYS)
    nearest_km: float | None = Field(None, gt=0, le=20_000)
    summarise: dict[FieldName, Summary] = Field({}, max_length=MAX_COLUMNS)
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
    """A match from both sides. `rows_elsewhere` is how many rows found no area, `bare_areas` how many areas have no row, `twins` how many keys the
    table has several times; the lists go as far as one looks through them. `fids_without_row` are the areas without a row as features."""

    matched: int
    areas: int
    rows: int
    rows_without_area: list[str]
    rows_elsewhere: int
    bare_areas: int
    twins: int
    fids_without_row: list[int]
    areas_without_row: list[str]
    duplicate_keys: list[Twin]
    suggestions: dict[str, list[Suggestion]]
    area_keys: list[str]


def sides_begun(
    person: User, areas: Dataset | None, table: Dataset | None, arrived: UUID | None
) -> tuple[Dataset, Dataset]:
    """What is joined to what, of which either side may be chosen: areas rather than other shapes, and rather a table that was just brought in
    than one with numbers, than any, than rows with shapes. Raises BadInput where there are no two."""
    listed = allowed(person, "see", Dataset).filter(current__isnull=False).select_related("current")
    there = [each for each in listed if each.kind != "raster" and not each.newest.join]
    areas = areas or max(
        (each for each in there if each.kind != "table" and each != table),
        key=lambda each: each.kind == "areas", default=None,
    )  # fmt: skip
    table = table or max(
        (each for each in there if each != areas),
        key=lambda each: (each.kind == "table", each.pk == arrived, _measures(each)), default=None,
    )  # fmt: skip
    if areas is None or table is None:
        raise BadInput(
            "A join needs areas (or points) and other rows: a table with a key that the areas have too, or points that lie in them.",
            "Bring both in first.",
        )
    return areas, table


def _measures(dataset: Dataset) -> bool:
    """Whole numbers alone count or number something, and are there in lists of places too."""
    return any(field["type"] == "number" for field in dataset.newest.fields)


def another_key(areas: Dataset, table: Dataset, asked: JoinIn) -> KeyPair:
    """One more pair of fields that have to agree: those that hold most of the same, of those that are no key yet. Raises BadInput where there
    are none."""
    to, rows = data_of(areas.newest), data_of(table.newest)
    taken = [(asked.area_key, asked.table_key), *((pair.area_key, pair.table_key) for pair in asked.more_keys)]
    likely = likely_keys(to.columns, rows.columns, taken)
    if likely is None:
        raise BadInput(
            "No other two fields hold the same.", "One key has to do, or the fields have to be written alike."
        )
    return KeyPair(area_key=likely[0], table_key=likely[1])


def join_begun(areas: Dataset, table: Dataset) -> JoinIn:
    """A join before anybody has said how: by the fields that hold the same, or, of rows with shapes, by where they lie. Raises BadInput for a
    raster."""
    if "raster" in (areas.kind, table.kind):
        raise BadInput("A raster has no rows to join.")
    to, rows = data_of(areas.newest), data_of(table.newest)
    keys = likely_keys(to.columns, rows.columns) or (_first_text(to), _first_text(rows))
    along = likely_to_come_along(rows, keys[1])
    usual = {each.name: usual_summary(each.type, rows.meaning(each.name).kind) for each in fields(rows.columns)}
    by, summed_up = ("place", {name: usual[name] for name in along}) if table.kind != "table" else ("key", {})
    said = {"areas": areas.pk, "table": table.pk, "by": by, "area_key": keys[0], "table_key": keys[1]}
    return JoinIn.model_validate({**said, "summarise": summed_up, "fields": along})


def _first_text(data: Data) -> str:
    texts = (each.name for each in fields(data.columns) if each.type == "text")
    return next(texts, next(iter(data.columns.column_names), ""))


def join_view(areas: Dataset, table: Dataset, asked: JoinIn) -> JoinView:
    """The match as it stands with what was settled so far."""
    keyed = _keyed(areas, table, asked)
    area_keys, table_keys, matching = keyed.area_keys, keyed.table_keys, _match(keyed, asked, suggest=asked.by == "key")
    rows = data_of(table.newest)
    own = data_of(areas.newest).fids.tolist()
    bare = [fid for place, fid in enumerate(own) if place not in matching.pairs][:SHOWN]
    counts: dict[str, Any] = {
        "matched": matching.matched, "areas": len(area_keys), "rows": len(rows), "fids_without_row": bare,
        "bare_areas": len(area_keys) - matching.matched,
    }  # fmt: skip
    without = matching.areas_without_row[:LISTED]
    if asked.by == "place":  # the places in the list of areas are nobody's names
        return JoinView(
            rows_without_area=[], rows_elsewhere=sum(key == "" for key in table_keys), twins=0, duplicate_keys=[], suggestions={},
            areas_without_row=_named(areas, without), area_keys=[], **counts,
        )  # fmt: skip
    lost = matching.rows_without_area
    twins = [] if asked.summarise else matching.duplicate_keys
    listed = list(dict.fromkeys(lost))[:LISTED] if len(lost) > LISTED else lost
    return JoinView(
        rows_without_area=listed, rows_elsewhere=len(lost), twins=len(twins), duplicate_keys=_twins(rows, keyed, asked, twins[:TWINS]),
        areas_without_row=without, suggestions={key: matching.suggestions.get(key, []) for key in listed},
        area_keys=sorted(set(area_keys)), **counts,
    )  # fmt: skip


def _twins(rows: Data, keyed: "Keyed", asked: JoinIn, keys: list[str]) -> list[Twin]:
    """Keys that the table has several times, with their first rows."""
    places: dict[str, list[int]] = {key: [] for key in keys}
    for place, table_key in enumerate(keyed.table_keys):
        twin = places.get(asked.same.get(table_key, table_key))
        if twin is not None and len(twin) < ROWS:
            twin.append(place)
    out = []
    for key, at in places.items():
        fids = [int(rows.fids[place]) for place in at]
        texts = [" · ".join(f"{k} {v}" for k, v in rows.record(fid).items() if v is not None) for fid in fids]
        out.append(Twin(key=key, rows=fids, texts=texts))
    return out


def keep_join(owner: User, areas: Dataset, table: Dataset, asked: JoinIn) -> Dataset:
    """A new dataset of the areas with the chosen fields, each feature under the fid of its area. Raises BadInput where nothing
    matches or no field is chosen."""
    if not asked.fields:
        raise BadInput("No field of the table was chosen.", "Choose at least one to bring across.")
    rows, record = _joined(areas, table, asked)
    title = asked.title.strip()[:200] or f"{areas.title} with {table.title}"[:200]
    reason = f"As '{areas.title}'."
    return keep_vector(
        owner, title, ReadResult(rows, reason), areas.newest.file_name, said_together(areas, table), record
    )


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
    parents = allowed(author, "see", Dataset).filter(current__isnull=False).select_related("current__dataset")
    areas, table = (parents.filter(pk=join[parent]).first() for parent in ("areas", "table"))
    if areas is None or table is None:
        raise BadInput(f"'{join['table_title' if areas else 'areas_title']}' is not in the library any more.")
    own = {field["name"] for field in areas.newest.fields}
    chosen = join.get("fields") or [field["name"] for field in dataset.newest.fields if field["name"] not in own]
    there = {field["name"] for field in table.newest.fields}
    recorded = JoinIn(
        areas=areas.pk, table=table.pk, area_key=join["area_key"], table_key=join["table_key"], same=join["same"],
        chosen=join["chosen"], fields=[name for name in chosen if name in there], title=dataset.title, by=join.get("by", "key"),
        more_keys=join.get("more_keys", []), nearest_km=join.get("nearest_km"),
        summarise={name: how for name, how in join.get("summarise", {}).items() if name in there},
    )  # fmt: skip
    rows, record = _joined(areas, table, recorded)
    with transaction.atomic():
        held = locked(dataset)
        delivery = delivery_of(data_of(held.newest), rows)
        return replace_rows(held, author, delivery, f"Joined anew: {delivery.words}.", join=record)


def _joined(areas: Dataset, table: Dataset, asked: JoinIn) -> tuple[Data, dict[str, Any]]:
    """The areas with the fields of the table, and what is remembered of how."""
    keyed = _keyed(areas, table, asked)
    matching = _match(keyed, asked)
    brought = data_of(table.newest)
    rows = joined(data_of(areas.newest), keyed.rows, matching, asked.fields)
    # What a sum means need not be what its parts do.
    meanings = {
        name: brought.meanings[name] for name in asked.fields if name in brought.meanings and not asked.summarise
    }
    return replace(rows, meanings={**meanings, **rows.meanings}), {
        "areas": str(areas.pk), "table": str(table.pk), "areas_title": areas.title, "table_title": table.title,
        "areas_revision": areas.newest.number, "table_revision": table.newest.number, "fields": asked.fields,
        "by": asked.by, "more_keys": [pair.model_dump() for pair in asked.more_keys], "nearest_km": asked.nearest_km,
        "summarise": asked.summarise, "area_key": asked.area_key, "table_key": asked.table_key, "same": asked.same, "chosen": asked.chosen, "matched": matching.matched,
        "rows_without_area": matching.rows_without_area, "areas_without_row": matching.areas_without_row, "duplicate_keys": matching.duplicate_keys,
    }  # fmt: skip


@dataclass(frozen=True)
class Keyed:
    """Both sides with their keys: rows of the table as they are, or a row for each key; `fids` are those of the table's own rows."""

    area_keys: list[str]
    table_keys: list[str]
    rows: pa.Table
    fids: Fids | None


def _keyed(areas: Dataset, table: Dataset, asked: JoinIn) -> Keyed:
    if areas.kind not in ("areas", "points", "lines"):
        raise BadInput(f"'{areas.title}' has no shapes to join to.")
    if table.kind == "raster":
        raise BadInput("A raster has no rows to join.")
    shaped, rows = data_of(areas.newest), data_of(table.newest)
    if asked.by == "place":
        at = areas_of(rows, shaped, asked.nearest_km)
        area_keys, table_keys = [str(i + 1) for i in range(len(shaped))], [str(i + 1) if i >= 0 else "" for i in at]
    else:
        pairs = [KeyPair(area_key=asked.area_key, table_key=asked.table_key), *asked.more_keys]
        area_keys = _together([keys_of(shaped.columns, pair.area_key) for pair in pairs])
        table_keys = _together([keys_of(rows.columns, pair.table_key) for pair in pairs])
    if not asked.summarise:
        return Keyed(area_keys, table_keys, rows.columns, rows.fids)
    missing = [name for name in asked.fields if name not in asked.summarise]
    if missing:
        raise BadInput(f"It is not said how '{missing[0]}' is summed up.")
    meant = {key_of(key): key_of(area) for key, area in asked.same.items()}
    sums = summed(rows.described().columns, [meant.get(key, key) for key in table_keys], asked.summarise)
    return Keyed(area_keys, sums["key"].to_pylist(), pa.table(sums.columns[1:], names=list(asked.summarise)), None)


def _together(keys: list[list[str]]) -> list[str]:
    """Several keys as one: blank where one of them is."""
    return [" · ".join(parts) if all(parts) else "" for parts in zip(*keys, strict=True)]


def _match(keyed: Keyed, asked: JoinIn, suggest: bool = False) -> Match:
    at = {} if keyed.fids is None else {int(fid): row for row, fid in enumerate(keyed.fids)}
    chosen = {key: at[fid] for key, fid in asked.chosen.items() if fid in at}
    return match(keyed.area_keys, keyed.table_keys, asked.same, chosen, suggest)


def _named(areas: Dataset, places: list[str]) -> list[str]:
    """Areas by what they are called, as far as they are."""
    data = data_of(areas.newest)
    name = next((field["name"] for field in areas.newest.fields if field["meaning"]["kind"] == "name"), None)
    if name is None:
        return [f"row {place}" for place in places]
    called = keys_of(data.columns, name)
    return [called[int(place) - 1] for place in places]
