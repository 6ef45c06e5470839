"""Files as strangers send them: guessed right, or refused in one clear line."""

import csv
import io
import json
import shutil
import struct
import zipfile
from pathlib import Path

import geopandas as gpd
import numpy as np
import pyogrio
import pytest
import shapely
from greylatch.errors import BadInput
from greylatch.formats.files import read_file
from greylatch.formats.geoparquet import read_geoparquet, write_geoparquet
from greylatch.formats.kinds import file_kind
from greylatch.formats.written_geojson import feature_collection
from greylatch.formats.zipped import unpack
from greylatch.tables import delimited
from greylatch.tables.dataset import fields
from greylatch.tables.delimited import Dialect, guess_dialect, read_delimited, with_corrections
from greylatch.tables.fieldtypes import guess_types, typed_columns
from libpysal import examples


def write(path: Path, text: str, encoding: str = "utf-8") -> Path:
    path.write_bytes(text.encode(encoding))
    return path


@pytest.mark.parametrize(
    ("text", "encoding", "expected"),
    [
        ("a,b\n1,2\n", "utf-8", Dialect("utf-8", ",", True)),
        ("a;b\n1,5;2\n", "utf-8", Dialect("utf-8", ";", True)),
        ("a\tb\n1\t2\n", "utf-8-sig", Dialect("utf-8-sig", "\t", True)),
        ("1|2\n3|4\n", "utf-8", Dialect("utf-8", "|", False)),
        ("name,height\nHöhe,2\nMünster,3\nÄrger,4\n", "cp1252", Dialect("cp1252", ",", True)),
    ],
)
def test_dialects_are_guessed(tmp_path: Path, text: str, encoding: str, expected: Dialect) -> None:
    path = write(tmp_path / "t.csv", text, encoding)
    found = guess_dialect(path)
    raw = read_delimited(path, found)
    assert (found.delimiter, found.header) == (expected.delimiter, expected.header)
    if encoding == "cp1252":
        assert [row[0] for row in raw.rows] == ["Höhe", "Münster", "Ärger"]
    else:
        assert found.encoding == expected.encoding


def test_types_are_guessed_and_codes_stay_text(tmp_path: Path) -> None:
    raw = read_delimited(
        write(tmp_path / "t.csv", "code,n,x,day,yes,empty\n007,1,1.5,2026-05-31,true,\n012,,2e3,2026-06-01,no,NA\n"),
        Dialect("utf-8", ",", True),
    )
    types = guess_types(raw)
    assert types == {"code": "text", "n": "integer", "x": "number", "day": "date", "yes": "boolean", "empty": "text"}
    columns = typed_columns(raw, types)
    assert columns["n"].to_pylist() == [1, None]
    assert [one.missing for one in fields(columns)] == [0, 1, 0, 0, 0, 2]


def test_a_cell_that_does_not_fit_is_named(tmp_path: Path) -> None:
    raw = read_delimited(write(tmp_path / "t.csv", "a\n1\nx\n"), Dialect("utf-8", ",", True))
    with pytest.raises(BadInput, match="Field 'a', line 3: 'x' is not a number"):
        typed_columns(raw, {"a": "number"})


def test_lines_that_end_as_on_old_machines(tmp_path: Path) -> None:
    path = tmp_path / "old.csv"
    path.write_bytes(b"id,X_CENTROID,Y_CENTROID\r1,378906.83,17310.41\r2,334095.21,25283.2\r")
    found = read_file(path, placed=False).dataset
    assert (
        found.kind == "points" and found.columns.column_names == ["id", "X_CENTROID", "Y_CENTROID"] and len(found) == 2
    )


def test_ragged_rows_are_named_with_their_lines(tmp_path: Path) -> None:
    head = ",".join(f"c{i}" for i in range(50))
    rows = [",".join("1" for _ in range(50 - (i % 7 == 3))) for i in range(20)]
    path = write(tmp_path / "wide.csv", "\n".join([head, *rows]))
    with pytest.raises(
        BadInput, match=r"3 rows without the header's 50 cells: line 5 has 49; line 12 has 49; line 19 has 49"
    ):
        read_file(path)
    padded = read_delimited(path, with_corrections(guess_dialect(path), ragged="pad"))
    assert all(len(row) == 50 for row in padded.rows)


def test_an_encoding_that_does_not_fit_names_the_line(tmp_path: Path) -> None:
    path = write(tmp_path / "t.csv", "a,b\n1,x\n2,ÿþ\n", "latin_1")
    with pytest.raises(BadInput, match="the bytes are not utf-8"):
        read_delimited(path, Dialect("utf-8", ",", True))
    with pytest.raises(BadInput, match="no encoding 'klingon'"):
        read_delimited(path, Dialect("klingon", ",", True))
    assert "�" in read_delimited(path, Dialect("utf-8", ",", True), limit=5).rows[1][1]


def test_points_from_projected_coordinates_need_a_projection(demo: Path) -> None:
    with pytest.raises(BadInput, match="not degrees. Choose their projection"):
        read_file(demo / "slips.csv")
    found = read_file(demo / "slips.csv", crs="EPSG:32626")
    assert (found.dataset.kind, len(found.dataset), found.crs_reason) == ("points", 6000, "Chosen by hand.")


def test_zipped_shapefile(demo: Path) -> None:
    found = read_file(demo / "catchments.zip")
    data = found.dataset
    assert (data.kind, len(data), found.crs_reason) == ("areas", 214, "Stated in the .prj file.")
    assert data.crs is not None
    assert data.crs.to_epsg() == 32626
    assert data.shapes is not None
    assert sum(shapely.get_num_interior_rings(s) > 0 for s in data.shapes) >= 1
    assert shapely.get_num_geometries(data.shapes).max() > 1


def test_shapefile_without_prj_says_so(demo: Path, tmp_path: Path) -> None:
    bare = tmp_path / "bare.zip"
    with zipfile.ZipFile(demo / "catchments.zip") as source, zipfile.ZipFile(bare, "w") as sink:
        for name in source.namelist():
            if not name.endswith(".prj"):
                sink.writestr(name, source.read(name))
    with pytest.raises(BadInput, match="has no .prj"):
        read_file(bare)
    assert read_file(bare, crs="EPSG:32626").dataset.kind == "areas"


def test_open_shapefile_of_libpysal() -> None:
    """The Columbus neighbourhoods that libpysal ships (49 areas, attribute CRIME)."""
    path = Path(examples.get_path("columbus.shp"))
    packed = io.BytesIO()
    with zipfile.ZipFile(packed, "w") as archive:
        for ending in (".shp", ".shx", ".dbf"):
            archive.write(path.with_suffix(ending), f"columbus{ending}")
    out = path.parent / "columbus-packed.zip"
    out.write_bytes(packed.getvalue())
    try:
        found = read_file(out)
    finally:
        out.unlink()
    assert (len(found.dataset), found.dataset.kind) == (49, "areas")
    assert "CRIME" in found.dataset.columns.column_names
    assert "no .prj" in found.crs_reason


@pytest.mark.parametrize("name", ["baltim", "virginia", "juvenile"])
def test_shapefiles_that_lie_unpacked_are_read_and_left_alone(name: str, tmp_path: Path) -> None:
    """As libpysal ships them, against GDAL's own reading."""
    main = next(iter(sorted((Path(examples.__file__).parent / name).rglob("*.shp"))))
    theirs = pyogrio.read_dataframe(main)
    for part in main.parent.glob(f"{main.stem}.*"):
        shutil.copy(part, tmp_path / part.name.upper())
    there = sorted(file.name for file in tmp_path.iterdir())
    main = tmp_path / main.name.upper()
    main = main.rename(main.with_suffix(".shp"))
    found = read_file(main, crs="EPSG:32617")
    assert (len(found.dataset), found.dataset.columns.column_names) == (
        len(theirs),
        [field for field in theirs.columns if field != "geometry"],
    )
    assert sorted(file.name.upper() for file in tmp_path.iterdir()) == there


def test_a_main_file_alone_is_refused_in_words(tmp_path: Path) -> None:
    main = Path(examples.get_path("columbus.shp"))
    shutil.copy(main, tmp_path)
    with pytest.raises(BadInput, match="make up a Shapefile") as refused:
        read_file(tmp_path / main.name)
    assert "Zip it together" in str(refused.value)
    shutil.copy(main.with_suffix(".dbf"), tmp_path)
    with pytest.raises(BadInput, match=r"columbus\.shx is missing"):
        read_file(tmp_path / main.name)


def zip_with(path: Path, name: str, data: bytes = b"x", **info: int) -> Path:
    with zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED) as archive:
        entry = zipfile.ZipInfo(name)
        entry.compress_type = zipfile.ZIP_DEFLATED
        entry.external_attr = info.get("external_attr", 0)
        archive.writestr(entry, data)
    return path


@pytest.mark.parametrize("name", ["../evil.shp", "/etc/evil.shp", "a/../../evil.shp", "c:\\evil.shp", "..\\evil.shp"])
def test_paths_that_lead_out_of_a_zip_are_refused(tmp_path: Path, name: str) -> None:
    out = tmp_path / "out"
    out.mkdir()
    with pytest.raises(BadInput, match="leads out of the zip"):
        unpack(zip_with(tmp_path / "z.zip", name), out, {".shp"})
    assert list(out.iterdir()) == []


def test_links_in_a_zip_are_refused(tmp_path: Path) -> None:
    with pytest.raises(BadInput, match="is a link"):
        unpack(zip_with(tmp_path / "z.zip", "a.shp", external_attr=0o120777 << 16), tmp_path, {".shp"})


def test_ten_gigabytes_in_a_zip_are_refused_before_anything_is_unpacked(ten_gigabytes: Path, tmp_path: Path) -> None:
    with pytest.raises(BadInput, match=r"would unpack to 10\.0 GB"):
        unpack(ten_gigabytes, tmp_path, {".shp"})
    assert list(tmp_path.iterdir()) == []


@pytest.mark.parametrize(("claim", "most"), [(1000, 4000), (9000, 10_000)])
def test_a_zip_that_says_less_than_it_holds_leaves_nothing(
    ten_gigabytes: Path, tmp_path: Path, claim: int, most: int
) -> None:
    """The same ten gigabytes under a directory that says a few bytes: no more than these are ever read."""
    packed = ten_gigabytes.read_bytes()
    said = struct.pack("<Q", 10 * 1024**3)
    assert packed.count(said) == 2
    liar = tmp_path / "liar.zip"
    liar.write_bytes(packed.replace(said, struct.pack("<Q", claim)))
    with pytest.raises(BadInput, match="not a zip"):
        unpack(liar, tmp_path, {".shp"}, max_unpacked=most)
    assert list(tmp_path.iterdir()) == [liar]


def test_too_many_entries_and_twins_in_a_zip_are_refused(tmp_path: Path) -> None:
    many, twins = tmp_path / "many.zip", tmp_path / "twins.zip"
    with zipfile.ZipFile(many, "w") as archive:
        for i in range(2001):
            archive.writestr(f"{i}.shp", b"")
    with pytest.raises(BadInput, match="2,001 entries"):
        unpack(many, tmp_path, {".shp"})
    with zipfile.ZipFile(twins, "w") as archive:
        archive.writestr("a/one.shp", b"1")
        archive.writestr("b/one.shp", b"2")
    with pytest.raises(BadInput, match="two files of the same name"):
        unpack(twins, tmp_path, {".shp"})
    assert list(tmp_path.glob("*.shp")) == []


@pytest.mark.parametrize(
    ("name", "data", "words"),
    [
        ("a.tif", b"\x89PNG\r\n\x1a\n....", "picture without a place"),
        ("a.shp", b"\x00\x00\x27\x0a\0\0\0\0", "Zip it together with its .shp, .shx, .dbf"),
        ("a.dbf", b"\x03\x7a\x06\0\0", "Zip it together with its .shp, .shx, .dbf"),
        ("a.gpkg", b"SQLite format 3\0\x10", "GeoPackage"),
        ("a.kml", b"\xef\xbb\xbf\n<?xml version='1.0'?><kml/>", "XML"),
        ("a.zip", b"MZ\x90\0....", "not what its name says"),
        ("a.csv", b"a,b\0\0\0\1\2", "not a text file"),
        ("a.csv", b"", "empty"),
        ("a.geojson", b'{"type": "FeatureCollection", "features": [', "line 1, column"),
        ("a.geojson", b'{"type": "Topology"}', "TopoJSON"),
        (
            "a.geojson",
            b'{"type": "FeatureCollection", "features": [{"type": "Feature", "geometry": {"type": "Point"}}]}',
            "shape of feature 1",
        ),
        ("a.zip", b"PK\x03\x04broken", "not a zip file"),
    ],
)
def test_files_that_are_not_what_they_say(tmp_path: Path, name: str, data: bytes, words: str) -> None:
    path = tmp_path / name
    path.write_bytes(data)
    with pytest.raises(BadInput, match=words):
        read_file(path)


def test_a_text_with_a_foreign_driver_inside_stays_text(tmp_path: Path) -> None:
    """A description of a virtual dataset that would read other files is only ever a table of text."""
    path = write(
        tmp_path / "a.csv", "<OGRVRTDataSource><OGRVRTLayer name='x'>\n<SrcDataSource>/etc/passwd</SrcDataSource>\n"
    )
    assert file_kind(path).name == "delimited"
    assert read_file(path).dataset.kind == "table"


def test_crossing_rings_are_repaired_and_told(tmp_path: Path) -> None:
    bow = {"type": "Polygon", "coordinates": [[[0, 0], [1, 1], [1, 0], [0, 1], [0, 0]]]}
    path = write(
        tmp_path / "a.geojson",
        json.dumps(
            {"type": "FeatureCollection", "features": [{"type": "Feature", "properties": {"n": 1}, "geometry": bow}]}
        ),
    )
    found = read_file(path)
    assert found.notes == ["1 area had rings that cross themselves, now repaired: row 1."]
    assert found.dataset.shapes is not None
    assert shapely.is_valid(found.dataset.shapes).all()
    assert shapely.area(found.dataset.shapes[0]) == pytest.approx(0.5)


def test_geojson_round_trip_as_rfc_7946_and_geopandas_see_it(demo: Path, tmp_path: Path) -> None:
    data = read_file(demo / "catchments.zip").dataset
    written = feature_collection(data)
    for feature in written["features"][:30]:
        rings = feature["geometry"]["coordinates"][0]
        ring = rings if feature["geometry"]["type"] == "Polygon" else rings[0]
        exterior = ring if not isinstance(ring[0][0], (list, tuple)) else ring[0]
        assert shapely.LinearRing(exterior).is_ccw  # RFC 7946, section 3.1.6
    path = write(tmp_path / "out.geojson", json.dumps(written))
    theirs = gpd.read_file(path)
    expected = gpd.GeoSeries(list(data.shapes), crs=data.crs).to_crs(4326)  # type: ignore[arg-type]
    assert shapely.hausdorff_distance(theirs.geometry.values, expected.values).max() < 1e-6
    assert list(theirs["code"]) == data.columns["code"].to_pylist()


def test_geoparquet_is_read_by_geopandas(demo: Path, tmp_path: Path) -> None:
    data = read_file(demo / "catchments.zip").dataset
    write_geoparquet(data, tmp_path / "a.parquet")
    theirs = gpd.read_parquet(tmp_path / "a.parquet")
    assert theirs.crs.to_epsg() == 32626
    assert len(theirs) == 214
    back = read_geoparquet(tmp_path / "a.parquet")
    assert shapely.equals(back.shapes, data.shapes).all()
    with pytest.raises(BadInput, match="not a readable Parquet"):
        read_geoparquet(write(tmp_path / "b.parquet", "PAR1 nonsense"))


def test_ditches_are_lines(demo: Path) -> None:
    assert read_file(demo / "ditches.geojson").dataset.kind == "lines"
    assert len(pyogrio.read_dataframe(demo / "ditches.geojson")) == 3800


def test_reading_at_once_and_line_by_line_are_the_same(tmp_path: Path) -> None:
    """Files made of what trips readers up, against Python's csv module; what is read at once has the same cells."""
    pieces = ["a", "1", ",", "\n", '"', '""', " ", "\r\n", "é", "x,y\n", '"q,q"', "\t", "\r"]
    rng = np.random.default_rng(11)
    path, dialect, at_once = tmp_path / "odd.csv", Dialect("utf-8", ",", True), 0
    for _ in range(3_000):
        path.write_bytes(("a,b\n" + "".join(rng.choice(pieces, rng.integers(0, 14)))).encode())
        found = delimited._at_once(path, dialect)
        if found is None:
            continue
        at_once += 1
        with path.open(encoding="utf-8", newline="") as file:
            cells = [row for row in csv.reader(file) if row and not (len(row) == 1 and not row[0].strip())]
        assert [found.names, *found.rows] == [["a", "b"], *cells[1:]]
    assert at_once > 300


@pytest.mark.parametrize(
    ("rows", "header"),
    [
        ("state,1929,1930,1931\nArda,323,267,224\nBel,600,520,429\n", True),
        ("id,2019,2020\n1,3.5,4\n2,4,4.5\n", True),
        ("isle,id,2020\nArda,1,3.5\nBel,2,7\n", True),
        ("isle,2020\nArda,2021\nBel,2019\n", False),
        ("isle,2020\nArda,323\nBel,267\n", False),
        ("Arda,1,2,3\nBel,4,5,6\n", False),
        ("Arda,5,17,3\nBel,4,5,6\n", False),
        ("week,1,2,3,4\nArda,5,0,7,1\n", True),
        ("1929,1930\n3,4\n", False),
        ("Arda,2001,2002\n", False),
        # Twins and an empty corner, as the census bureau and data frames write them.
        ("area,area,name,people\n05,06,Arda,630\n07,08,Bel,813\n", True),
        (",depth,of\n0,2.5,Aller\n1,3,Bren\n", True),
        ("Arda,Arda,Bel\nBel,Arda,Bel\n", False),
    ],
)
def test_what_names_columns_is_told_from_what_stands_below(tmp_path: Path, rows: str, header: bool) -> None:
    """Tables of one column for each year are what statistical offices hand out (libpysal's incomes of states among them)."""
    assert guess_dialect(write(tmp_path / "t.csv", rows)).header is header


def test_incomes_of_states_by_year_have_their_names() -> None:
    """Open data that libpysal ships: 48 states, personal income for 1929 to 2009."""
    columns = read_file(examples.get_path("usjoin.csv")).dataset.columns
    assert columns.column_names == ["Name", "STATE_FIPS", *map(str, range(1929, 2010))]
    assert (columns.num_rows, columns["2009"][0].as_py()) == (48, 32274)
