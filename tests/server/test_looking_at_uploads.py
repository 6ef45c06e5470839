"""What is asked of a file that was sent, before anything of it is kept."""

from pathlib import Path
from typing import Any

import pytest
from django.test import Client
from library.models import Dataset, Upload

from tests.server.conftest import fetch, send, upload

XLS = Path(__file__).parents[1] / "core" / "files" / "wells.xls"


@pytest.fixture
def areas(owner: Client, demo: Path, named: dict[str, Dataset]) -> str:
    return str(upload(owner, "catchments.zip", (demo / "catchments.zip").read_bytes())[1]["id"])


def test_a_sheet_is_seen_with_its_layers(owner: Client) -> None:
    status, sent = upload(owner, "wells.xls", XLS.read_bytes())
    seen = sent["preview"]
    assert status == 200 and (seen["format"], seen["layer"], seen["header_row"]) == ("spreadsheet", "Wells", 4)
    assert [(layer["name"], layer["rows"]) for layer in seen["layers"]] == [("Wells", 7), ("Notes", 1)]
    status, other = send(owner, f"/uploads/{sent['id']}/preview", {"layer": "Springs"})
    assert status == 422 and "There is no sheet 'Springs'" in other["detail"]
    _, anew = send(owner, f"/uploads/{sent['id']}/preview", {"header_row": 0})
    assert anew["fields"][0]["name"] == "column_1" and anew["rows"][0][0] == "Dip wells of Vaskerry"


def test_files_are_named_as_they_were_sent(owner: Client) -> None:
    for name, content, said in (
        ("a.kml", b"<?xml version='1.0'?><!DOCTYPE kml><kml/>", "document type"),
        ("a.gpkg", b"SQLite format 3\0" + bytes(100), "a.gpkg is a database, but no GeoPackage"),
        ("a.xlsx", b"PK\x03\x04" + bytes(100), "not a zip file that can be read"),
        ("a.exe", b"MZ", "Files that end in '.exe' are not read"),
    ):
        status, told = upload(owner, name, content)
        assert status == 422 and said in told["detail"], told


def test_a_condition_is_tried_and_its_mistake_is_an_answer(owner: Client, areas: str) -> None:
    def tried(text: str, **corrections: Any) -> Any:
        status, answer = send(owner, f"/uploads/{areas}/condition", {"corrections": corrections, "text": text})
        assert status == 200
        return answer

    assert tried("isles = 'Orrin'") == {"taken": 54, "of": 214, "mistake": None, "whole": True}
    assert tried("") == {"taken": 214, "of": 214, "mistake": None, "whole": True}
    assert tried("area_km2 > 0")["taken"] == 214, "shapes can be asked for"
    wrong = tried("isles = ")
    assert wrong["taken"] is None and (wrong["mistake"]["line"], wrong["mistake"]["column"]) == (1, 9)


def test_shapes_are_looked_at_with_fewer_vertices(owner: Client, areas: str) -> None:
    status, look = send(owner, f"/uploads/{areas}/simplified", {"simplify": 500})
    assert status == 200 and look["vertices_after"] < look["vertices_before"] and look["before"] and look["after"]
    assert send(owner, f"/uploads/{areas}/simplified", {})[0] == 422
    assert send(owner, f"/uploads/{areas}/simplified", {"simplify": -1})[0] == 422


def test_the_systems_of_ones_own_data_are_tried_first(owner: Client, demo: Path, named: dict[str, Dataset]) -> None:
    slips = upload(owner, "slips.csv", (demo / "slips.csv").read_bytes())[1]["id"]
    status, found = send(owner, f"/uploads/{slips}/elsewhere", {})
    assert status == 200 and found[0]["crs"] == "EPSG:32626" and "which has this system" in found[0]["reason"]
    assert all(len(each["glance"]["bounds"]) == 4 for each in found) and len(found) <= 5
    bare = upload(owner, "bare.csv", b"a,b\nx,y\n")[1]["id"]
    assert "no coordinates" in send(owner, f"/uploads/{bare}/elsewhere", {})[1]["detail"]


def test_rows_fields_and_detail_are_kept_as_chosen(owner: Client, areas: str) -> None:
    chosen = {
        "where": "isles = 'Orrin'",
        "fields": [{"name": "name", "rename": "parish"}],
        "simplify": 300,
        "title": "Parishes",
    }
    job = send(owner, f"/uploads/{areas}/import", chosen)[1]
    done = fetch(owner, f"/jobs/{job['id']}")[1]
    made = fetch(owner, f"/datasets/{done['result']['dataset']}")[1]
    assert (made["rows"], [field["name"] for field in made["fields"]], made["title"]) == (54, ["parish"], "Parishes")
    assert "54 rows of 214 kept by the condition." in made["notes"]
    assert any("vertices kept" in note for note in made["notes"])


def test_what_takes_no_row_keeps_nothing(owner: Client, areas: str) -> None:
    before = Dataset.objects.count()
    job = send(owner, f"/uploads/{areas}/import", {"where": "isles = 'Nowhere'"})[1]
    done = fetch(owner, f"/jobs/{job['id']}")[1]
    assert done["state"] == "failed" and "takes no row" in done["message"] and Dataset.objects.count() == before


def test_encodings_are_compared_where_they_differ(owner: Client) -> None:
    odd = upload(owner, "a.csv", "name,v\nHöhe,1\nArd,2\n".encode("cp1252"))[1]["id"]
    _, seen = send(owner, f"/uploads/{odd}/encodings", {})
    assert any(each["lines"] == ["Höhe,1"] and "cp1252" in each["encodings"] for each in seen)
    plain = upload(owner, "b.csv", b"name,v\nArd,1\n")[1]["id"]
    assert send(owner, f"/uploads/{plain}/encodings", {})[1] == []


@pytest.mark.parametrize("asked", ["preview", "elsewhere", "condition", "simplified", "encodings"])
def test_who_looks_at_what_is_brought_in_meanwhile_is_told_so(owner: Client, asked: str) -> None:
    """As when 'Bring in' is pressed before the looks of the preview have come: no trouble of the server."""
    sent = upload(owner, "a.csv", b"name,v\nArd,1\n")[1]["id"]
    Path(Upload.objects.get(pk=sent).path).unlink()
    body = {"text": "v > 1", "corrections": {}} if asked == "condition" else {}
    assert send(owner, f"/uploads/{sent}/{asked}", body)[0] == 404
