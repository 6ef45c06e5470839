"""Findings and their mends."""

import numpy as np
import pyarrow as pa
import pytest
import shapely
from greylatch.errors import BadInput
from greylatch.paint.sources import VectorSource
from greylatch.places.crs import LONLAT, parse_crs
from greylatch.places.suggest import keeps_areas
from greylatch.proof.finding import Finding
from greylatch.proof.findings import findings, mend
from greylatch.proof.provenance import Provenance
from greylatch.sheet.document import Projection, Sheet
from greylatch.tables.dataset import Dataset
from greylatch.tables.meaning import guess_meaning

N = 40
VALUES = np.arange(1.0, N + 1) ** 2
SOURCE = VectorSource(
    Dataset(pa.table({"money": VALUES, "percent": VALUES / 16, "name": [f"n{i}" for i in range(N)]}), "areas",
            shapely.box(np.arange(N) / 10, 0, np.arange(N) / 10 + 0.1, 0.1), LONLAT)
)  # fmt: skip
ABOUT = {"d": Provenance(source="A survey")}


def sheet(
    field: str = "percent",
    method: str = "quantile",
    classes: int = 5,
    ramp: dict[str, object] | None = None,
    **more: object,
) -> Sheet:
    symbology = {
        "kind": "classed",
        "classing": {"field": field, "method": method, "classes": classes},
        "ramp": ramp or {"name": "heather"},
    }
    if "breaks" in more:
        symbology["classing"]["breaks"] = more.pop("breaks")  # type: ignore[index]
    layer = {"id": "a", "name": "A", "dataset": "d", "symbology": symbology, **more}
    return Sheet.model_validate({"title": "t", "layers": [layer], "furniture": {"credits": "A survey"}})


def find(*_: object) -> VectorSource:
    return SOURCE


def ids(found: list[Finding]) -> list[str]:
    return [one.id for one in found]


def test_a_good_map_has_no_findings() -> None:
    assert findings(sheet(), find, ABOUT) == []


def test_labels_that_the_typeface_cannot_set_are_found() -> None:
    """Letters for private use, which somebody's own typeface may have, would be drawn as empty boxes."""
    names = [*(f"n{i}" for i in range(N - 2)), "\ue123 A", "B \ue124"]
    source = VectorSource(Dataset(pa.table({"percent": VALUES, "name": names}), "areas", SOURCE.dataset.shapes, LONLAT))
    found = findings(sheet(lettering={"lines": [{"text": "{name}"}]}), lambda *_: source, ABOUT)
    assert [(one.id, one.stage, one.text) for one in found] == [
        ("letters:a", "letter", "2 labels of 'A' cannot be set")
    ]
    assert "No typeface has '\ue123' of" in found[0].reason
    assert ids(findings(sheet(lettering={"lines": [{"text": "{no such}"}]}), find, ABOUT)) == ["broken-letters:a"]


def test_labels_changed_by_hand_of_features_that_are_gone_are_found() -> None:
    by_hand = [{"fid": 2, "hidden": True}, {"fid": 10_000, "turn": 20}]
    found = findings(sheet(lettering={"lines": [{"text": "{percent}"}], "by_hand": by_hand}), find, ABOUT)
    assert [(one.id, one.text) for one in found] == [
        ("letters-by-hand:a", "1 label of 'A' changed by hand is not there")
    ]
    assert "no feature 10000" in found[0].reason


def test_counts_as_colour_are_found_and_divided_by_area() -> None:
    found = findings(sheet("money"), find, ABOUT)
    assert "count-as-colour:a" in ids(found)
    better = mend(sheet("money"), "count-as-colour:a", find, ABOUT)
    assert better.layers[0].symbology.encodings.colour.classing.normalise.by == "area"  # type: ignore[union-attr]
    assert "count-as-colour:a" not in ids(findings(better, find, ABOUT))


def test_empty_classes_are_merged() -> None:
    given = sheet(method="manual", breaks=[10, 10.5, 100.0])
    assert "empty-class:a" in ids(findings(given, find, ABOUT))
    better = mend(given, "empty-class:a", find, ABOUT)
    assert not [one for one in findings(better, find, ABOUT) if one.id.startswith("empty-class")]


def test_close_colours_are_found_for_every_kind_of_reader_and_mended() -> None:
    """CIEDE2000 of neighbouring classes: near red and green of one lightness differ for normal readers, not for deuteranopes."""
    given = sheet(classes=2, ramp={"name": "heather", "replaced": {0: "#b05a3c", 1: "#7d7a2e"}})
    found = ids(findings(given, find, ABOUT))
    assert "close-colours-normal:a" not in found
    assert "close-colours-deutan:a" in found
    better = mend(given, "close-colours-deutan:a", find, ABOUT)
    assert not [one for one in ids(findings(better, find, ABOUT)) if one.startswith("close-colours")]


def test_missing_source_unmatched_rows_and_credits() -> None:
    about = {"d": Provenance("", rows_without_area=3, areas_without_row=1)}
    given = sheet().model_copy(deep=True)
    given.furniture.credits = ""
    assert {"no-source:a", "unmatched-rows:a", "unmatched-areas:a", "no-credits"} <= set(
        ids(findings(given, find, about))
    )
    assert mend(given, "no-credits", find, ABOUT).furniture.credits == "Data: A survey"


def test_too_many_classes_and_unknown_placeholders() -> None:
    found = {one.id: one for one in findings(sheet(classes=12, card="{{name}} {{hight}}"), find, ABOUT)}
    assert "many-classes:a" in found
    assert found["placeholder-hight:a"].stage == "explain"


def test_cards_say_whose_their_pictures_are() -> None:
    shown = SOURCE.dataset.columns.append_column("photo", pa.array(["https://a.example/1.jpg"] * N))
    source = VectorSource(
        Dataset(shown.append_column("by", pa.array(["Isla"] * N)), "areas", SOURCE.dataset.shapes, LONLAT)
    )

    def told(card: str) -> list[str]:
        return ids(findings(sheet(card=card), lambda *_: source, ABOUT))

    assert told("![{{ name }}]({{ photo }})") == ["picture-credit:a"]
    assert told('![{{ name }}]({{ photo }} "{{ by }}")') == told("[{{ name }}]({{ photo }})") == []


def test_a_layer_that_cannot_be_drawn_is_a_finding() -> None:
    found = findings(sheet("name"), find, ABOUT)
    assert found[0].id == "broken:a"
    assert "holds text" in found[0].reason


def test_accepted_findings_keep_their_reason() -> None:
    given = sheet(classes=12)
    given.accepted.append(
        type(given).model_fields["accepted"].annotation.__args__[0](finding="many-classes:a", reason="readers know it")
    )  # type: ignore[union-attr]
    found = {one.id: one.accepted for one in findings(given, find, ABOUT)}
    assert found["many-classes:a"] == "readers know it"


def test_a_finding_that_is_gone_cannot_be_mended() -> None:
    with pytest.raises(BadInput, match="not there any more"):
        mend(sheet(), "empty-class:a", find, ABOUT)


@pytest.mark.parametrize(
    ("name", "values", "expected"),
    [
        ("population", [1200, 88, 3], True),
        ("carbon_t", [1200.5, 88, 3], True),
        ("drained_percent", [12, 100], False),
        ("cases_per_1000", [12, 100], False),
        ("anomaly", [-3, 5], False),
        ("ph", [5.5, 6.1], False),
        ("empty", [float("nan")], False),
    ],
)
def test_what_looks_like_a_count(name: str, values: list[float], expected: bool) -> None:
    assert (guess_meaning(name, pa.chunked_array([pa.array(values, pa.float64())])).kind == "count") is expected


def world(crs: str | None) -> Sheet:
    return sheet().model_copy(update={"projection": Projection(crs=crs) if crs else None})


def test_areas_drawn_out_of_proportion_are_found_and_mended() -> None:
    """On Web Mercator a degree at 60° is four times as large as at the equator; an equal-area projection ends it by one press."""
    boxes = shapely.box(np.arange(N) - 20.0, np.linspace(0, 59, N), np.arange(N) - 19.5, np.linspace(1, 60, N))
    source = VectorSource(Dataset(SOURCE.dataset.columns, "areas", boxes, LONLAT))
    found = findings(world(None), lambda *_: source, ABOUT)
    assert ids(found) == ["uneven-areas"]
    assert "4.0 times" in found[0].reason
    mended = mend(world(None), "uneven-areas", lambda *_: source, ABOUT)
    assert mended.projection is not None and keeps_areas(parse_crs(mended.projection.crs))
    assert findings(mended, lambda *_: source, ABOUT) == []
    # A small map is enlarged alike all over, and a map in true areas not at all.
    assert findings(world(None), find, ABOUT) == []
    assert findings(world("EPSG:8857"), lambda *_: source, ABOUT) == []


def test_what_readers_are_offered_and_will_not_get_is_found_and_taken_out() -> None:
    offered = {
        "filters": [
            {"kind": "range", "layer": "a", "field": "percent"}, {"kind": "choices", "layer": "a", "field": "gone", "title": "Kinds"},
            {"kind": "range", "layer": "b", "field": "percent"},
        ],
        "search": [{"layer": "a", "field": "name"}, {"layer": "a", "field": "title"}], "time": {"layer": "a", "field": "date"},
    }  # fmt: skip
    asked = Sheet.model_validate({**sheet().model_dump(), "reader": offered})
    found = findings(asked, find, ABOUT)
    assert [one.text for one in found] == [
        "The filter by 'Kinds' is left out of the page: 'A' has no field 'gone'",
        "The filter by 'percent' is left out of the page: its layer is not there any more",
        "The search in 'title' is left out of the page: 'A' has no field 'title'",
        "Time is left out of the page: 'A' has no field 'date'",
    ]
    for one in found:
        asked = mend(asked, one.id, find, ABOUT)
    assert findings(asked, find, ABOUT) == []
    assert [each.field for each in asked.reader.filters] == ["percent"] and asked.reader.time is None
    assert [each.field for each in asked.reader.search] == ["name"]
