"""Places found by their names: what is the same, what is nearly so, what may be one of several, and what is nowhere."""

import json
from pathlib import Path

import geopandas
import pyogrio
import pytest
from greylatch.cli.main import main
from greylatch.errors import BadInput
from greylatch.places.locating import Gazetteer, name_key

ATLAS = Path(__file__).parents[2] / "web" / "node_modules" / "us-atlas"


@pytest.mark.parametrize(
    ("written", "meant"),
    [
        ("SAINT ORRIN", "St. Orrin"), ("Mt Skara", "Mount Skara"), ("Skara, Upper", "Upper Skara"), ("Upper  Skara ", "upper skara"),
        ("Crème-Brûlée", "Creme Brulee"), ("O'Hara's Bay", "OHaras Bay"), ("N. Pellay", "North Pellay"), ("Bay & Ness", "Bay and Ness"),
        ("12 Kiln St.", "12 Kiln Street"), ("KILN LN 12", "12 Kiln Lane"), ("3 St. Orrin's Rd", "3 Saint Orrin's Road"),
        ("Skara (Upper)", "Upper Skara"), ("Łódź", "ŁÓDŹ"), ("Ard_Mor", "Ard Mor"),
    ],
)  # fmt: skip
def test_names_that_are_the_same(written: str, meant: str) -> None:
    assert name_key(written) == name_key(meant)
    assert Gazetteer([meant, "Elsewhere"]).locate(written).status == "exact"


def test_names_that_are_not_the_same() -> None:
    places = Gazetteer(["East Harness", "West Harness", "Niger", "Nigeria", "Zone 1", "Zone 2", "Ard"])
    for name in ("North Harness", "Nigera", "Zone 3"):
        found = places.locate(name)
        assert found.place is None, (name, found)
    assert places.locate("Niger").candidates[0].name == "Niger"
    assert places.locate("").status == places.locate(" . ").status == "not found"
    assert places.locate("Vulpinia").status == "not found"


def test_a_region_decides_and_a_wrong_one_is_told() -> None:
    places = Gazetteer(["Skara", "Skara", "Ness", "Ard (old harbour)"], ["Hallan", "Orrin", "Orrin", "Hallan"])
    assert places.locate("Skara").status == "ambiguous"
    assert places.locate("Skara", "ORRIN").place == 1
    wrong = places.locate("Ness", "Hallan")
    assert (wrong.status, wrong.candidates[0].region) == ("ambiguous", "Orrin")
    assert places.locate("Ard", "Hallan").place == 3
    with pytest.raises(BadInput, match="no field of regions"):
        Gazetteer(["Ness"]).locate("Ness", "Orrin")


def test_other_names_lead_to_the_same_place() -> None:
    places = Gazetteer(["Nether Skara", "Ness"], alternatives=["Skaravik; Lower Skara", ""])
    assert [places.locate(name).place for name in ("Skaravik", "lower skara", "Skaravk")] == [0, 0, 0]


def test_another_number_is_another_house() -> None:
    """However alike: the same slip in the same street is sure, a number that is not there is not."""
    houses = Gazetteer([f"{number} Harbour Street" for number in range(1, 30)] + ["4 Shore Road", "4 Shore Close"])
    found = houses.locate("4 Harbur Street")
    assert (found.status, found.candidates[0].name) == ("approximate", "4 Harbour Street")
    assert [houses.locate(name).place for name in ("31 Harbour Street", "4 Shore", "4 Shore Rose")] == [None] * 3


def test_the_demo_smallholdings_are_found_at_their_doors(demo: Path, capsys: pytest.CaptureFixture[str]) -> None:
    fields = ["--name", "address", "--region", "place"]
    where = ["--gazetteer", str(demo / "addresses.csv"), "--gazetteer-name", "address", "--gazetteer-region", "place"]
    assert main(["locate", str(demo / "smallholdings.csv"), *fields, *where, "--json"]) == 0
    told = json.loads(capsys.readouterr().out)
    assert told["exact"] >= 110 and told["approximate"] >= 25 and told["ambiguous"] <= 8 and told["not_found"] == 0
    written = pyogrio.read_dataframe(demo / "smallholdings.csv", read_geometry=False)["address"]
    for row in (each for each in told["rows"] if each["status"] == "approximate"):
        house, name = row["candidates"][0]["name"], written[row["row"]]
        assert house.split()[0] in name.split(), (name, house)


def test_counties_of_the_census_with_a_slip_each_are_found_in_their_states() -> None:
    """Open data: the counties of us-atlas (npm), each with a letter left out; none may be taken for another."""
    counties = pyogrio.read_dataframe(ATLAS / "counties-10m.json", layer="counties", read_geometry=False)
    names, states = counties["name"].tolist(), [str(code).zfill(5)[:2] for code in counties["id"]]
    places = Gazetteer(names, states)
    right = wrong = 0
    for i, (name, state) in enumerate(zip(names, states, strict=True)):
        if len(name) < 6:
            continue
        at = 1 + i % (len(name) - 2)
        found = places.locate(name[:at] + name[at + 1 :], state)
        if found.place is not None:
            right += name_key(names[found.place]) == name_key(name) and states[found.place] == state
            wrong += not (name_key(names[found.place]) == name_key(name) and states[found.place] == state)
    assert wrong <= 2 and right > 2_000, (right, wrong)


def test_the_command_line_finds_the_demo_huts(demo: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    given = [
        "locate", str(demo / "huts.csv"), "--name", "near", "--region", "group", "--gazetteer", str(demo / "gazetteer.csv"), "--gazetteer-name",
        "name", "--gazetteer-region", "group",
    ]  # fmt: skip
    assert main([*given, "--json", "--out", str(tmp_path / "huts.geojson")]) == 0
    told = json.loads(capsys.readouterr().out)
    assert told["exact"] + told["approximate"] + told["ambiguous"] + told["not_found"] == len(told["rows"]) == 90
    assert told["exact"] >= 75 and told["approximate"] >= 8 and told["not_found"] == 0
    row = told["rows"][3]
    assert row["status"] == "approximate" and row["candidates"][0]["name"] == "West Cressabeck"
    frame = geopandas.read_file(tmp_path / "huts.geojson")
    assert len(frame) == 90 and int((~frame.geometry.isna()).sum()) == told["exact"] + told["approximate"]
    assert frame["located_as"][3] == "West Cressabeck"
    assert main([*given[:-2], "--json"]) == 2
    assert "no field of regions" in capsys.readouterr().err


def test_names_cut_short_are_offered_and_never_taken_unseen() -> None:
    """States as newspapers cut them short (common practice), against the names of us-atlas (npm)."""
    atlas = json.loads((ATLAS / "states-10m.json").read_text())
    states = Gazetteer([state["properties"]["name"] for state in atlas["objects"]["states"]["geometries"]])
    meant = {
        "Calif.": ["California"], "Mass.": ["Massachusetts"], "N. Car.": ["North Carolina"], "N. Mex.": ["New Mexico"],
        "Miss.": ["Mississippi", "Missouri"], "Fla.": [], "Calif": [],
    }  # fmt: skip
    for name, names in meant.items():
        located = states.locate(name)
        assert sorted(each.name for each in located.candidates) == names, name
        assert located.status == ("ambiguous" if names else "not found")
