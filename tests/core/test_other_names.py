"""Names by which conditions speak of other datasets. Referee: the sheet's own pattern of them, and the parser of conditions."""

import pytest
from greylatch.rules.language import parsed
from greylatch.rules.other_names import other_name
from greylatch.sheet.layers import OtherName
from pydantic import TypeAdapter

NAMES = TypeAdapter(OtherName)


@pytest.mark.parametrize(
    ("title", "name"),
    [
        ("Returns per catchment", "returns_per_catchment"), ("Mère d’Orrin (2026)", "mere_d_orrin_2026"), ("2026", "data_2026"),
        ("地図", "data"), ("", "data"), ("…", "data"), ("Wells_", "wells"), ("x" * 90, "x" * 40), ("a" * 39 + " b", "a" * 39),
    ],
)  # fmt: skip
def test_a_name_is_made_of_the_title(title: str, name: str) -> None:
    assert other_name(title) == name
    assert NAMES.validate_python(name) == name
    parsed(f"S_INTERSECTS(geometry, {name})")


def test_it_is_one_that_no_other_has() -> None:
    assert other_name("Wells", ["wells", "wells_2"]) == "wells_3"
    assert other_name("Wells", ["wells_2"]) == "wells"
    assert other_name("地図", {"data": "a"}) == "data_2"
