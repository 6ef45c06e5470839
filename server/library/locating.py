"""Places found by name for the rows of a table, with what is decided by hand; and the dataset of points that comes of it."""

from collections import Counter, OrderedDict
from typing import Annotated
from uuid import UUID

import numpy as np
import shapely
from django.contrib.auth.models import User
from greylatch.errors import BadInput
from greylatch.formats.result import ReadResult
from greylatch.places.located_rows import (
    STATUSES,
    Decision,
    Named,
    kilometres_from,
    located_names,
    middles,
    named_rows,
    placed_rows,
)
from greylatch.places.locating import Gazetteer, Located
from greylatch.sheet.parts import FieldName
from greylatch.tables.dataset import Dataset as Data
from greylatch.tables.dataset import texts
from ninja import Field, Schema
from numpy.typing import NDArray
from people.access import allowed_one

from library.cross_lists import PlaceAt, entries_of
from library.derived import data_of
from library.models import CrossList, Dataset
from library.store import keep_vector, said_together

Word = Annotated[str, Field(max_length=1_000)]
LISTED, DOTS = 300, 2_000
"""Names that are listed of each status but the exact; places that are shown on the map."""
KEPT = 4
_known: OrderedDict[tuple[object, ...], dict[Named, Located]] = OrderedDict()


class DecidedIn(Schema):
    """What was decided of a name: the feature of the gazetteer that it means, or a place in degrees; neither leaves it out."""

    name: Word
    region: Word = ""
    place: int | None = None
    at: PlaceAt | None = None


class LocateIn(Schema):
    """Which names of a table are to be found in which gazetteer. `region` is a field of the table, `within` the one region of all
    its rows; `others` a field of other names of each place, parted by ; or |; `cross_list` one whose entries decide what `decided` doesn't."""

    table: UUID
    name: FieldName
    region: FieldName = ""
    within: Word = ""
    gazetteer: UUID
    gazetteer_name: FieldName
    gazetteer_region: FieldName = ""
    others: FieldName = ""
    cross_list: UUID | None = None
    decided: list[DecidedIn] = Field([], max_length=20_000)
    title: str = Field("", max_length=200)


class CandidateOut(Schema):
    """A place that a name may mean, how like its name is (0..100), where it lies, and how far from the middle of the others."""

    place: int
    name: str
    region: str
    likeness: float
    at: list[float]
    kilometres: float | None


class NameOut(Schema):
    """A name that rows of the table have, what came of it, and the places that it may mean."""

    name: str
    region: str
    rows: int
    status: str
    candidates: list[CandidateOut]


class DotOut(Schema):
    """A place that was found, and how."""

    at: list[float]
    status: str


class PlacesView(Schema):
    """What came of all names, in rows of the table by status; those that want a look; and where all of them lie."""

    counts: dict[str, int]
    rows: int
    names: list[NameOut]
    dots: list[DotOut]


def places_view(who: User, table: Dataset, gazetteer: Dataset, asked: LocateIn) -> PlacesView:
    """The names as they stand with what was decided so far."""
    names, located, points = _looked_up(table, gazetteer, asked)
    decided = _decisions(who, gazetteer, asked)
    rows = Counter(names)
    statuses = {named: _status(located[named], decided.get(named)) for named in rows}
    counts = dict.fromkeys((*STATUSES, "by hand", "left out"), 0)
    for named, n in rows.items():
        counts[statuses[named]] += n
    at = {named: _place(located[named], decided.get(named), points) for named in rows}
    placed = np.array([point for point in at.values() if point is not None], dtype=object)
    middle = tuple(np.median(shapely.get_coordinates(placed), axis=0)) if len(placed) else None
    fids = data_of(gazetteer.newest).fids
    listed: list[NameOut] = []
    shown: Counter[str] = Counter()
    for named, n in rows.items():
        status = statuses[named]
        shown[status] += 1
        if status == "exact" or shown[status] > LISTED:
            continue
        candidates = _candidates(located[named], points, fids, middle)
        listed.append(NameOut(name=named.name, region=named.region, rows=n, status=status, candidates=candidates))
    step = max(1, len(placed) // DOTS)
    dots = [
        DotOut(at=[point.x, point.y], status=statuses[named])
        for named, point in list(at.items())[::step]
        if point is not None
    ]
    return PlacesView(counts=counts, rows=len(names), names=listed, dots=dots)


def keep_located(who: User, table: Dataset, gazetteer: Dataset, asked: LocateIn) -> Dataset:
    """The rows of the table as points, each under its fid. Raises BadInput where none lies anywhere."""
    names, located, points = _looked_up(table, gazetteer, asked)
    rows = placed_rows(data_of(table.newest), names, located, points, _decisions(who, gazetteer, asked))
    assert rows.shapes is not None
    if shapely.is_empty(rows.shapes).all():
        raise BadInput("Not one of the names was found.", "Choose another field of names, or another gazetteer.")
    title = asked.title.strip()[:200] or f"{table.title}, located"[:200]
    nowhere = int(shapely.is_empty(rows.shapes).sum())
    notes = [f"{nowhere:,} of {len(rows):,} rows lie nowhere: their names were not found."] if nowhere else []
    reason = f"Found by name in '{gazetteer.title}'."
    return keep_vector(
        who, title, ReadResult(rows, reason, notes), table.newest.file_name, said_together(table, gazetteer)
    )


def _looked_up(
    table: Dataset, gazetteer: Dataset, asked: LocateIn
) -> tuple[list[Named], dict[Named, Located], NDArray[np.object_]]:  # fmt: skip
    if table.kind == "raster" or gazetteer.kind == "raster":
        raise BadInput("A raster has no names.")
    rows, places = data_of(table.newest), data_of(gazetteer.newest)
    points = middles(places)
    names = named_rows(rows, asked.name, asked.region, asked.within)
    key = (
        table.newest.pk, gazetteer.newest.pk, asked.name, asked.region, asked.within, asked.gazetteer_name, asked.gazetteer_region,
        asked.others,
    )  # fmt: skip
    if key not in _known:
        regions = texts(places.columns, asked.gazetteer_region) if asked.gazetteer_region else None
        others = texts(places.columns, asked.others) if asked.others else None
        _known[key] = located_names(names, Gazetteer(texts(places.columns, asked.gazetteer_name), regions, others))
        while len(_known) > KEPT:
            _known.popitem(last=False)
    return names, _known[key], points


def _decisions(who: User, gazetteer: Dataset, asked: LocateIn) -> dict[Named, Decision]:
    places = data_of(gazetteer.newest)
    return _listed(who, gazetteer, places, asked) | {
        Named(each.name, each.region): Decision(
            None if each.place is None else places.row_of(each.place), _point(each.at)
        )
        for each in asked.decided
    }


def _listed(who: User, gazetteer: Dataset, places: Data, asked: LocateIn) -> dict[Named, Decision]:
    """What a cross-list decides: its names are those of the gazetteer, in the region that it says. One that is not there any more
    decides nothing."""
    if asked.cross_list is None:
        return {}
    kept = allowed_one(who, "see", CrossList, pk=asked.cross_list)
    names = texts(places.columns, asked.gazetteer_name)
    regions = texts(places.columns, asked.gazetteer_region) if asked.gazetteer_region else [""] * len(names)
    rows: dict[tuple[str, str], int] = {}
    for row, (name, region) in enumerate(zip(names, regions, strict=True)):
        rows.setdefault((name, region), row)
        rows.setdefault((name, ""), row)
    out: dict[Named, Decision] = {}
    for entry in entries_of(kept):
        place = rows.get((entry.means, entry.means_region))
        if entry.at or place is not None or not entry.means:
            out[Named(entry.spelling, entry.region)] = Decision(None if entry.at else place, _point(entry.at))
    return out


def _point(at: list[float] | None) -> tuple[float, float] | None:
    return (at[0], at[1]) if at else None


def _status(located: Located, decision: Decision | None) -> str:
    if decision is None:
        return located.status
    return "by hand" if decision.at or decision.place is not None else "left out"


def _place(located: Located, decision: Decision | None, points: NDArray[np.object_]) -> shapely.Point | None:
    if decision is not None and decision.at:
        return shapely.Point(decision.at)
    place = located.place if decision is None else decision.place
    return None if place is None else points[place]


def _candidates(
    located: Located, points: NDArray[np.object_], fids: NDArray[np.int64], middle: tuple[float, ...] | None
) -> list[CandidateOut]:
    at = points[[each.place for each in located.candidates]] if located.candidates else points[:0]
    far = kilometres_from((middle[0], middle[1]), at).round(1).tolist() if middle else [None] * len(at)
    return [
        CandidateOut(
            place=int(fids[each.place]), name=each.name, region=each.region, likeness=each.likeness, at=[point.x, point.y], kilometres=km
        )
        for each, point, km in zip(located.candidates, at, far, strict=True)
    ]  # fmt: skip
