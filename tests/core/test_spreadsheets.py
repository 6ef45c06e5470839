"""Spreadsheets: sheets and rows of names chosen, cells as they were meant. XLSX is written by openpyxl (PyPI) and GDAL, ODS by
GDAL (Debian's gdal-bin); files/wells.xls was written once by xlwt (PyPI)."""

import subprocess
import zipfile
from datetime import date, datetime
from pathlib import Path

import openpyxl
import pytest
from greylatch.errors import BadFile
from greylatch.formats.cells import CellChoice
from greylatch.formats.corrections import Corrections
from greylatch.formats.files import read_file
from greylatch.formats.intake import take_in
from greylatch.formats.preview import preview
from greylatch.formats.spreadsheet import guess_header_row, layers, read_cells

XLS = Path(__file__).parent / "files" / "wells.xls"


@pytest.fixture
def book(tmp_path: Path) -> Path:
    made = openpyxl.Workbook()
    first = made.active
    assert first is not None
    first.title = "Readme"
    first["B2"] = "Wells of 2025"
    wells = made.create_sheet("Wells")
    wells["A1"] = "Wells of 2025"
    rows = [
        ["well", "lon", "lat", "code", "day", "wet"],
        ["Aller", -27.1, 51.9, "007", date(2025, 5, 1), True],
        ["Bo", -27.2, 51.8, "012", datetime(2025, 5, 2, 8, 30), False],
        [],
        ["Cam", -27.3, 51.7, "113", None, True],
    ]
    for row in [[], *rows]:
        wells.append(row)
    made.create_sheet("Empty")
    out = tmp_path / "wells.xlsx"
    made.save(out)
    return out


def test_sheets_are_told_and_the_header_is_found_below_a_title(book: Path) -> None:
    assert [(layer.name, layer.rows) for layer in layers(book)] == [("Readme", 1), ("Wells", 7), ("Empty", 0)]
    raw, header_row = read_cells(book, "Wells")
    assert header_row == 3
    assert raw.names == ["well", "lon", "lat", "code", "day", "wet"]
    assert raw.rows[0] == ["Aller", "-27.1", "51.9", "007", "2025-05-01", "true"]
    assert [row[0] for row in raw.rows] == ["Aller", "Bo", "Cam"], "a blank row is none"


def test_a_sheet_becomes_points_with_types(book: Path) -> None:
    found = read_file(book, layer="Wells").dataset
    assert found.kind == "points" and found.columns["code"].to_pylist() == ["007", "012", "113"]
    assert found.columns["day"].to_pylist() == [datetime(2025, 5, 1), datetime(2025, 5, 2, 8, 30), None]
    assert found.columns["wet"].to_pylist() == [True, False, True]


def test_the_row_of_names_can_be_chosen(book: Path) -> None:
    raw, header_row = read_cells(book, "Wells", header_row=0)
    assert header_row == 0 and raw.rows[0][0] == "Wells of 2025"
    found = read_file(book, layer="Wells", cells=CellChoice(header_row=4, guess_shapes=False)).dataset
    assert found.columns.column_names[0] == "Aller" and len(found) == 2
    with pytest.raises(BadFile, match="ends at row 7"):
        read_cells(book, "Wells", header_row=40)
    with pytest.raises(BadFile, match="There is no sheet 'Springs'. There are Readme, Wells, Empty"):
        read_cells(book, "Springs")
    with pytest.raises(BadFile, match="The sheet 'Empty' is empty"):
        read_cells(book, "Empty")


def test_it_is_seen_and_taken_in_as_chosen(book: Path, tmp_path: Path) -> None:
    seen = preview(book, "wells.xlsx", Corrections())
    assert (seen.format, seen.layer, [layer.name for layer in seen.layers]) == (
        "spreadsheet",
        "Readme",
        ["Readme", "Wells", "Empty"],
    )
    chosen = Corrections(layer="Wells", where="lat < 51.85", fields=[{"name": "well", "rename": "name"}])  # type: ignore[list-item]
    seen = preview(book, "wells.xlsx", chosen)
    assert (seen.kind, seen.header_row, seen.x, seen.problem) == ("points", 3, "lon", None)
    taken = take_in(book, chosen, tmp_path)
    assert taken.notes == ["2 rows of 3 kept by the condition."]
    assert read_file(tmp_path / "data.parquet").dataset.columns.to_pylist() == [{"name": "Bo"}, {"name": "Cam"}]
    wrong = preview(book, "wells.xlsx", chosen.model_copy(update={"where": "lat <"}))
    assert wrong.problem is not None and wrong.problem.startswith("Line 1, column 6")
    with pytest.raises(BadFile, match="The condition takes no row"):
        take_in(book, chosen.model_copy(update={"where": "lat > 60"}), tmp_path)


def test_old_spreadsheets() -> None:
    found = read_file(XLS).dataset
    assert found.columns.to_pylist() == [
        {"well": "007", "depth_m": 1.5, "day": datetime(2025, 5, 1), "wet": True},
        {"well": "012", "depth_m": 2.0, "day": datetime(2025, 5, 2), "wet": False},
        {"well": "113", "depth_m": None, "day": datetime(2025, 5, 3), "wet": True},
    ]


@pytest.mark.parametrize("driver", ["ODS", "XLSX"])
def test_what_gdal_wrote_of_a_table_is_read_as_the_table_is(driver: str, demo: Path, tmp_path: Path) -> None:
    """GDAL's ODS has line breaks between its cells, which OpenDocument allows."""
    out = tmp_path / f"wells.{driver.lower()}"
    subprocess.run(["ogr2ogr", "-f", driver, str(out), str(demo / "dip_wells.csv")], check=True, capture_output=True)
    found, before = read_file(out).dataset, read_file(demo / "dip_wells.csv").dataset
    assert found.columns.to_pylist() == before.columns.to_pylist()


def test_what_is_no_spreadsheet_is_said_to_be_none(book: Path, tmp_path: Path) -> None:
    cut = tmp_path / "cut.xlsx"
    cut.write_bytes(book.read_bytes()[:-30])
    with pytest.raises(BadFile):
        read_file(cut)
    bomb = tmp_path / "bomb.xlsx"
    with zipfile.ZipFile(bomb, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("xl/workbook.xml", b" " * 200_000_000)
    with pytest.raises(BadFile, match=r"would unpack to 0\.2 GB"):
        read_file(bomb)
    word = tmp_path / "letter.xls"
    word.write_bytes(b"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1" + bytes(2000))
    with pytest.raises(BadFile, match="no spreadsheet that can be read"):
        read_file(word)


@pytest.mark.parametrize(
    ("rows", "header"),
    [
        ([["a", "b"], ["1", "2"]], 1),
        ([["1", "2"], ["3", "4"]], 0),
        ([["only"]], 0),
        ([["Title", "", ""], ["a", "b", "c"], ["1", "2", "3"]], 2),
        ([["a", "a"], ["1", "2"]], 0),
    ],
)
def test_which_row_names_the_columns(rows: list[list[str]], header: int) -> None:
    assert guess_header_row(rows) == header


def test_a_locked_one_is_said_to_be_locked(tmp_path: Path) -> None:
    """As OpenDocument 1.3, part 2, 4.16 says it of an encrypted entry. What was tried after its lock was seen hid that before."""
    locked = (
        '<manifest:manifest xmlns:manifest="urn:oasis:names:tc:opendocument:xmlns:manifest:1.0" manifest:version="1.3">'
        '<manifest:file-entry manifest:full-path="content.xml" manifest:media-type="text/xml" manifest:size="9">'
        '<manifest:encryption-data manifest:checksum="q"/></manifest:file-entry></manifest:manifest>'
    )
    with zipfile.ZipFile(tmp_path / "locked.ods", "w") as archive:
        archive.writestr("mimetype", "application/vnd.oasis.opendocument.spreadsheet")
        archive.writestr("META-INF/manifest.xml", locked)
        archive.writestr("content.xml", b"\x00\x01\x02")
    with pytest.raises(BadFile, match=r"locked with a password\. Save it anew without one"):
        read_file(tmp_path / "locked.ods")
