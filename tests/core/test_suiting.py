"""Which fields an encoding begins with."""

import pyarrow as pa
import pytest
from greylatch.encodings.suiting import parts_of_a_whole, two_or_more
from greylatch.errors import BadInput
from greylatch.tables.dataset import Dataset


def counted(**columns: list[float]) -> Dataset:
    return Dataset(pa.table(columns), "table")


def test_the_whole_is_no_part_of_itself() -> None:
    """As in a table of votes, whose last column says how many there were."""
    votes = counted(lon=[4.0, 5.0], left=[20.0, 30.0], right=[40.0, 10.0], turnout_pct=[60.0, 40.0], Total=[60.0, 40.0])
    assert parts_of_a_whole(votes) == ["left", "right"]
    assert two_or_more(votes, ["right"]) == ["right", "left"]
    assert two_or_more(votes, ["left", "Total"]) == ["left", "Total"], "who asks for it has it"
    with pytest.raises(BadInput, match="needs two fields of numbers"):
        two_or_more(counted(left=[20.0], total=[60.0]), ["left"])


def test_parts_are_of_one_unit_and_those_of_the_field_that_is_shown() -> None:
    """A stranger's municipalities began as pies of square kilometres and of people."""
    towns = counted(land_area_km2=[12.0], people_1996=[900.0], people_2001=[950.0], lake_km2=[3.0], people_2006=[990.0])
    assert two_or_more(towns, []) == ["people_1996", "people_2001", "people_2006"]
    assert two_or_more(towns, ["lake_km2"]) == ["lake_km2", "land_area_km2"]
    # Found with municipalities that were sized by their land: it was a wedge beside their people.
    assert two_or_more(counted(land_km2=[9.0], people_1996=[1.0], people_2001=[2.0]), ["land_km2"]) == [
        "people_1996",
        "people_2001",
    ]
    assert two_or_more(counted(oak_ha=[1.0], sheep=[2.0]), ["sheep"]) == ["sheep", "oak_ha"], "there is nothing else"
