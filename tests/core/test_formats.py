"""Files of every kind that are read. Those written by GDAL's ogr2ogr (Debian's gdal-bin) and geopandas (PyPI) are the outside reference:
what they wrote of the demo is what is read."""

import json
import sqlite3
import subprocess
import sys
import zipfile
from datetime import UTC
from pathlib import Path

import geopandas
import numpy as np
import pyarrow as pa
import pyarrow.parquet as pq
import pytest
import shapely
from greylatch.cli.main import main
from greylatch.errors import BadFile, BadInput
from greylatch.formats.arrow_columns import plain_columns
from greylatch.formats.corrections import Corrections
from greylatch.formats.files import read_file
from greylatch.formats.kinds import file_kind
from greylatch.formats.preview import preview
from greylatch.formats.read_by_gdal import DRIVERS
from greylatch.formats.result import ReadResult
from greylatch.places.crs import to_lonlat

ATLAS = Path(__file__).parents[2] / "web" / "node_modules" / "world-atlas"


def ogr2ogr(*arguments: str) -> None:
    subprocess.run(["ogr2ogr", "-q", *arguments], check=True, capture_output=True)


@pytest.fixture(scope="module")
def catchments(demo: Path) -> ReadResult:
    return read_file(demo / "catchments.zip")


@pytest.mark.parametrize(
    ("driver", "name", "degrees"),
    [
        ("GPKG", "c.gpkg", False),
        ("FlatGeobuf", "c.fgb", False),
        ("LIBKML", "c.kml", True),
        ("LIBKML", "c.kmz", True),
        ("KML", "plain.kml", True),
        ("GML", "c.gml", False),
        ("GeoJSONSeq", "c.geojsonl", True),
        ("GeoJSONSeq", "rs.geojsons", True),
    ],
)
def test_what_gdal_wrote_is_read(
    driver: str, name: str, degrees: bool, demo: Path, catchments: ReadResult, tmp_path: Path
) -> None:
    out = tmp_path / name
    extra = ["-lco", "RS=YES"] if name == "rs.geojsons" else []
    ogr2ogr("-f", driver, str(out), f"/vsizip/{demo / 'catchments.zip'}", "-nlt", "PROMOTE_TO_MULTI", *extra)
    found, before = read_file(out).dataset, catchments.dataset
    assert found.kind == "areas" and len(found) == len(before)
    codes, expected = found.columns["code"].to_pylist(), before.columns["code"].to_pylist()
    order = [codes.index(code) for code in expected]
    assert sorted(codes) == sorted(expected)
    assert found.crs is not None and before.crs is not None and before.shapes is not None and found.shapes is not None
    assert found.crs.is_geographic == degrees
    theirs = to_lonlat(before.shapes, before.crs)
    mine = to_lonlat(found.shapes, found.crs)[order]
    far = shapely.hausdorff_distance(mine, theirs)
    assert far.max() < 1e-6, "within a decimetre"


def test_layers_are_told_with_their_rows_and_chosen(
    demo: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    out = tmp_path / "many.gpkg"
    ogr2ogr("-f", "GPKG", str(out), f"/vsizip/{demo / 'catchments.zip'}", "-nlt", "PROMOTE_TO_MULTI")
    ogr2ogr("-f", "GPKG", "-update", str(out), str(demo / "ditches.geojson"), "-nln", "ditches")
    ogr2ogr("-f", "GPKG", "-update", str(out), str(demo / "returns.csv"), "-nln", "returns")
    assert main(["info", str(out), "--json"]) == 0
    told = json.loads(capsys.readouterr().out)
    kinds = {layer["name"]: (layer["kind"], layer["rows"]) for layer in told["layers"]}
    returns = len(read_file(demo / "returns.csv").dataset)
    assert kinds["catchments"] == ("areas", 214) and kinds["ditches"][0] == "lines"
    assert kinds["returns"] == ("table", returns)
    assert told["kind"] == "areas" and "one of 3 layers" in told["notes"][0]
    assert main(["info", str(out), "--layer", "returns", "--json"]) == 0
    assert json.loads(capsys.readouterr().out)["kind"] == "table"
    csv = tmp_path / "ditches.csv"
    assert main(["convert", str(out), "--layer", "ditches", "--out", str(csv)]) == 0
    assert len(read_file(csv).dataset) == kinds["ditches"][1]
    capsys.readouterr()
    assert main(["info", str(out), "--layer", "brooks"]) == 2
    assert "no layer 'brooks'" in capsys.readouterr().err
    assert main(["info", str(demo / "ditches.geojson"), "--layer", "ditches"]) == 2
    assert "has no layers" in capsys.readouterr().err


def test_topologies_are_read_by_object() -> None:
    """world-atlas (npm, Natural Earth): the referee unravels the arcs as the TopoJSON specification says."""
    for name, rows in (("countries", 177), ("land", 1)):
        found = read_file(ATLAS / "countries-110m.json", layer=name).dataset
        assert (found.kind, len(found)) == ("areas", rows)
    document = json.loads((ATLAS / "countries-110m.json").read_text())
    scale, translate = document["transform"]["scale"], document["transform"]["translate"]
    arcs = [np.cumsum(arc, axis=0) * scale + translate for arc in document["arcs"]]

    def ring(indices: list[int]) -> np.ndarray:  # type: ignore[type-arg]
        parts = [arcs[i] if i >= 0 else arcs[~i][::-1] for i in indices]
        return np.concatenate([parts[0], *(part[1:] for part in parts[1:])])

    found = read_file(ATLAS / "countries-110m.json").dataset
    names = found.columns["name"].to_pylist()
    for country in document["objects"]["countries"]["geometries"]:
        if country["type"] == "Polygon":
            theirs = shapely.Polygon(ring(country["arcs"][0]), [ring(hole) for hole in country["arcs"][1:]])
            assert found.shapes is not None
            mine = found.shapes[names.index(country["properties"]["name"])]
            if theirs.is_valid:
                assert mine.symmetric_difference(theirs).area < 1e-6 * theirs.area, country["properties"]["name"]


def test_several_shapefiles_in_a_zip_are_layers(demo: Path, tmp_path: Path) -> None:
    folder = tmp_path / "s"
    folder.mkdir()
    ogr2ogr(str(folder / "areas.shp"), f"/vsizip/{demo / 'catchments.zip'}")
    ogr2ogr(str(folder / "ditches.shp"), str(demo / "ditches.geojson"))
    packed = tmp_path / "two.zip"
    with zipfile.ZipFile(packed, "w") as archive:
        for part in folder.iterdir():
            archive.write(part, f"data/{part.name}")
    assert [(layer.name, layer.kind) for layer in file_kind(packed).layers(packed)] == [
        ("areas", "areas"),
        ("ditches", "lines"),
    ]
    assert read_file(packed, layer="ditches").dataset.kind == "lines"


@pytest.mark.parametrize("how", ["AS_WKT", "hex"])
def test_shapes_written_in_a_column(how: str, demo: Path, catchments: ReadResult, tmp_path: Path) -> None:
    out = tmp_path / "c.csv"
    if how == "AS_WKT":
        ogr2ogr("-f", "CSV", str(out), f"/vsizip/{demo / 'catchments.zip'}", "-lco", "GEOMETRY=AS_WKT")
        with pytest.raises(BadInput, match="Choose their projection"):
            read_file(out)
        found = read_file(out, crs="EPSG:32626").dataset
    else:  # as PostGIS writes it: extended WKB with the system in it
        assert catchments.dataset.shapes is not None
        texts = shapely.to_wkb(shapely.set_srid(catchments.dataset.shapes, 32626), hex=True, include_srid=True)
        out.write_text("shape,code\n" + "".join(f"{t},{i}\n" for i, t in enumerate(texts)))
        found = read_file(out).dataset
    assert found.crs is not None and found.crs.to_epsg() == 32626
    assert found.shapes is not None and catchments.dataset.shapes is not None
    assert shapely.hausdorff_distance(found.shapes, catchments.dataset.shapes).max() < 0.01


def test_a_shape_that_is_none_is_named_by_its_row(tmp_path: Path) -> None:
    file = tmp_path / "a.csv"
    file.write_text("name;shape\na;POINT (1 2)\nb;\nc;POINT (1 2\n")
    with pytest.raises(BadInput, match=r"Row 3, field 'shape': 'POINT \(1 2' is no shape"):
        read_file(file)
    file.write_text("name;shape\na;SRID=4326;POINT (1 2)\n".replace("4326;", "4326\\;"))
    file.write_text('name,shape\na,"SRID=32626;POINT (500000 5700000)"\nb,"SRID=4326;POINT (1 2)"\n')
    with pytest.raises(BadInput, match="several systems: 32626, 4326"):
        read_file(file)


def test_arcs_come_as_lines(tmp_path: Path) -> None:
    """A half circle of radius 1 by GML's ArcString: its area is π / 2."""
    file = tmp_path / "arc.gml"
    file.write_text(
        """<?xml version="1.0"?><a:Of xmlns:a="urn:a" xmlns:gml="http://www.opengis.net/gml/3.2"><gml:featureMember>
        <a:Field gml:id="f"><a:shape><gml:Surface srsName="EPSG:32626"><gml:patches><gml:PolygonPatch><gml:exterior><gml:Ring>
        <gml:curveMember><gml:Curve><gml:segments><gml:ArcString><gml:posList>-1 0 0 1 1 0</gml:posList></gml:ArcString>
        <gml:LineStringSegment><gml:posList>1 0 -1 0</gml:posList></gml:LineStringSegment></gml:segments></gml:Curve></gml:curveMember>
        </gml:Ring></gml:exterior></gml:PolygonPatch></gml:patches></gml:Surface></a:shape></a:Field></gml:featureMember></a:Of>"""
    )
    shapes = read_file(file).dataset.shapes
    assert shapes is not None and shapes[0].area == pytest.approx(np.pi / 2, rel=0.005)


def test_gdal_knows_no_driver_but_those_allowed() -> None:
    """A driver more could follow references out of a file that is sent, or call an address."""
    listed = "from greylatch.formats.read_by_gdal import pyogrio_with_few_drivers as few; print('|'.join(few().list_drivers()))"
    found = subprocess.run([sys.executable, "-c", listed], check=True, capture_output=True, text=True)
    assert {*DRIVERS, "MEM"} >= set(found.stdout.strip().split("|")) >= {"GPKG", "LIBKML"}
    assert not found.stderr


ENTITIES = '<!DOCTYPE kml [<!ENTITY a SYSTEM "file:///etc/passwd">]>'
PLACEMARK = "<Placemark><name>{}</name><Point><coordinates>1,2</coordinates></Point></Placemark>"


def test_documents_with_entities_are_refused(tmp_path: Path) -> None:
    """OWASP's cheat sheet on XML external entities, and defusedxml's rule: no document type at all."""
    file = tmp_path / "a.kml"
    document = '<kml xmlns="http://www.opengis.net/kml/2.2"><Document>{}</Document></kml>'
    file.write_text('<?xml version="1.0"?>' + ENTITIES + document.format(PLACEMARK.format("&a;")))
    with pytest.raises(BadInput, match="document type"):
        read_file(file)
    file.write_text("<!-- <!DOCTYPE --> " + document.format(PLACEMARK.format("Aller")))
    assert read_file(file).dataset.columns["Name"].to_pylist() == ["Aller"]


def test_no_other_file_is_opened_for_a_document(tmp_path: Path) -> None:
    """Neither a schema that it names, nor a link of KML's."""
    secret = tmp_path / "secret.kml"
    secret.write_text(f'<kml xmlns="http://www.opengis.net/kml/2.2">{PLACEMARK.format("Secret")}</kml>')
    link = f"<NetworkLink><Link><href>{secret}</href></Link></NetworkLink>"
    file = tmp_path / "a.kml"
    file.write_text(
        f'<kml xmlns="http://www.opengis.net/kml/2.2"><Document>{PLACEMARK.format("Aller")}{link}</Document></kml>'
    )
    assert read_file(file).dataset.columns["Name"].to_pylist() == ["Aller"]
    assert sorted(path.name for path in tmp_path.iterdir()) == ["a.kml", "secret.kml"], "nothing is left beside it"


def test_a_view_in_a_geopackage_is_not_run(tmp_path: Path) -> None:
    file = tmp_path / "a.gpkg"
    geopandas.GeoDataFrame({"a": [1]}, geometry=[shapely.Point(1, 2)], crs=4326).to_file(file, layer="real")
    with sqlite3.connect(file) as database:
        database.execute("CREATE VIEW looked AS SELECT fid AS OGC_FID, * FROM real")
        database.execute(
            "INSERT INTO gpkg_contents (table_name, data_type, identifier, srs_id) VALUES ('looked', 'attributes', 'looked', 4326)"
        )
    assert [layer.name for layer in file_kind(file).layers(file)] == ["real"]
    with pytest.raises(BadFile, match="no layer 'looked'"):
        read_file(file, layer="looked")


def test_another_database_is_said_to_be_one(tmp_path: Path) -> None:
    file = tmp_path / "a.gpkg"
    with sqlite3.connect(file) as database:
        database.execute("CREATE TABLE a (b)")
    with pytest.raises(BadFile, match="a database, but no GeoPackage"):
        read_file(file)


def test_lines_of_geojson_name_the_line_of_a_mistake(tmp_path: Path) -> None:
    feature = '{"type":"Feature","properties":{"a":%s},"geometry":{"type":"Point","coordinates":[1,2]}}'
    file = tmp_path / "a.geojsonl"
    file.write_text("\n".join([feature % 1, "", feature % "NaN"]))
    assert read_file(file).dataset.columns["a"].to_pylist() == [1, None]
    file.write_text("\n".join([feature % 1, feature % 2, '{"type":"Feature",']))
    with pytest.raises(BadFile, match="Line 3 of the GeoJSON"):
        read_file(file)


def test_parquet_of_strangers(tmp_path: Path) -> None:
    """As geopandas writes it, with what it has beside simple columns; and with what is no GeoParquet."""
    file = tmp_path / "a.parquet"
    bow = shapely.Polygon([(0, 0), (1, 1), (1, 0), (0, 1)])
    frame = geopandas.GeoDataFrame(
        {"tags": [["a"], []], "n": [1, 2]}, geometry=[bow, shapely.box(2, 2, 3, 3)], crs=4326
    )
    frame.to_parquet(file)
    found = read_file(file)
    assert found.dataset.columns["tags"].to_pylist() == ['["a"]', "[]"]
    assert "cross themselves, now repaired: row 1" in found.notes[0]
    table = pq.read_table(file)
    for broken in (
        b"{",
        b'{"primary_column":"x"}',
        b'{"primary_column":"x","columns":{"x":{"encoding":"WKB"}}}',
        b"[]",
    ):
        pq.write_table(table.replace_schema_metadata({b"geo": broken}), file)
        with pytest.raises(BadFile):
            read_file(file)
    file.write_bytes(file.read_bytes()[:-20])
    with pytest.raises(BadFile, match="not a readable Parquet file"):
        read_file(file)


def test_columns_of_every_type_are_kept_or_said_to_be_left_out() -> None:
    from datetime import date, datetime, time
    from decimal import Decimal

    notes: list[str] = []
    columns = plain_columns(
        pa.table(
            {
                "decimal": pa.array([Decimal("1.50")]),
                "large": pa.array(["x"], pa.large_string()),
                "coded": pa.array(["x"]).dictionary_encode(),
                "day": pa.array([date(2026, 5, 1)]),
                "zoned": pa.array([datetime(2026, 5, 1, 12, tzinfo=UTC)], pa.timestamp("us", "Europe/Rome")),
                "hour": pa.array([time(8, 30)]),
                "huge": pa.array([2**63 + 2**11], pa.uint64()),
                "nothing": pa.nulls(1),
                "bytes": pa.array([b"x"]),
                "within": pa.array([{"a": 1}]),
            }
        ),
        notes,
    )
    assert notes == ["1 field of bytes left out: bytes."]
    assert columns.to_pylist() == [
        {
            "decimal": 1.5, "large": "x", "coded": "x", "day": datetime(2026, 5, 1), "zoned": datetime(2026, 5, 1, 12),
            "hour": "08:30:00", "huge": float(2**63 + 2**11), "nothing": None, "within": '{"a": 1}',
        }
    ]  # fmt: skip


def test_one_broken_shape_does_not_lose_the_others(demo: Path, tmp_path: Path) -> None:
    """A track of one point, as gpxpy's (PyPI) test files have it."""
    file = tmp_path / "a.gpx"
    track = "<trk><name>{}</name><trkseg>{}</trkseg></trk>"
    point = '<trkpt lat="52" lon="{}"/>'
    file.write_text(
        f'<gpx version="1.1" creator="a" xmlns="http://www.topografix.com/GPX/1/1">{track.format("short", point.format(1))}'
        f"{track.format('long', point.format(1) + point.format(2))}</gpx>"
    )
    found = read_file(file, layer="tracks")
    assert found.dataset.columns["name"].to_pylist() == ["short", "long"]
    assert found.notes == ["1 shape broken beyond reading: row 1.", "1 row without a shape: row 1."]


def test_what_a_file_says_of_itself_is_taken_over(demo: Path, tmp_path: Path) -> None:
    gpx = tmp_path / "a.gpx"
    gpx.write_text(
        '<gpx version="1.1" creator="a" xmlns="http://www.topografix.com/GPX/1/1"><metadata><name>Round the isles</name><author><name>Isla Orr'
        '</name></author><copyright author="The Survey"><year>2026</year></copyright></metadata><wpt lat="52" lon="-27"/></gpx>'
    )
    seen = preview(gpx, "a.gpx", Corrections())
    assert (seen.title, seen.source, seen.credit) == ("Round the isles", "Isla Orr", "The Survey, 2026")
    packed = tmp_path / "c.gpkg"
    ogr2ogr(
        "-f",
        "GPKG",
        str(packed),
        str(demo / "ditches.geojson"),
        "-nln",
        "d",
        "-lco",
        "IDENTIFIER=Ditches of 2026",
        "-lco",
        "DESCRIPTION=From pictures",
    )
    seen = preview(packed, "c.gpkg", Corrections())
    assert (seen.title, seen.source) == ("Ditches of 2026", "From pictures")
    assert preview(packed, "c.gpkg", Corrections(title="Mine")).title == "Mine"
    flat = tmp_path / "d.fgb"
    geopandas.read_file(demo / "ditches.geojson").to_file(flat, driver="FlatGeobuf", TITLE="Open ditches")
    assert preview(flat, "d.fgb", Corrections()).title == "Open ditches"
    relief = tmp_path / "r.tif"
    subprocess.run(
        ["gdal_translate", "-q", "-mo", "TIFFTAG_COPYRIGHT=The Survey", str(demo / "relief.tif"), str(relief)],
        check=True,
    )
    assert preview(relief, "r.tif", Corrections()).credit == "The Survey"
    assert preview(demo / "ditches.geojson", "ditches.geojson", Corrections()).title == "Ditches", (
        "it says nothing: its name does"
    )
