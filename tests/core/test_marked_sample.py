"""Large documents of KML, GML and GPX are seen by their beginning: the same layers and rows as GDAL finds in the whole of them."""

import subprocess
import zipfile
from pathlib import Path
from typing import Any

import geopandas
import numpy as np
import pyarrow as pa
import pytest
import shapely
from greylatch.formats import marked_up, marks, read_by_gdal
from greylatch.formats.bounded import bounded
from greylatch.formats.corrections import Corrections
from greylatch.formats.kinds import Choice, file_kind
from greylatch.formats.marked_sample import ROWS, sample
from greylatch.formats.preview import preview

KML = '<?xml version="1.0"?><kml xmlns="http://www.opengis.net/kml/2.2">{}</kml>'
GPX = '<?xml version="1.0"?><gpx version="1.1" creator="us" xmlns="http://www.topografix.com/GPX/1/1">{}</gpx>'


@pytest.fixture(autouse=True)
def any_size(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(marks, "LARGE", 0)


def placemarks(n: int, more: str = "") -> str:
    return "".join(
        f"<Placemark><name>p{i}</name>{more}<Point><coordinates>{-27 + i / 9_000},52</coordinates></Point></Placemark>"
        for i in range(n)
    )


def folder(name: str, inside: str) -> str:
    return f"<Folder><name>{name}</name>{inside}</Folder>"


def waypoints(n: int) -> str:
    return "".join(f'<wpt lat="52" lon="{-27 + i / 9_000}"><name>w{i}</name></wpt>' for i in range(n))


def track(points: int) -> str:
    inside = "".join(f'<trkpt lat="52" lon="{-27 + i / 9_000}"/>' for i in range(points))
    return f"<trk><name>t</name><trkseg>{inside}</trkseg></trk>"


DOCUMENTS = {
    "one.kml": KML.format(f"<Document><name>all</name>{placemarks(2_345)}</Document>"),
    "many.kml": KML.format(
        "<Document><name>isles</name>"
        + folder("small", placemarks(3))
        + folder("large", placemarks(1_500) + folder("within", placemarks(1_200)))
        + "<Folder/>"
        + folder("just", placemarks(ROWS))
        + placemarks(1_001)
        + "</Document>"
    ),
    "prefixed.kml": KML.format(f"<Document><name>all</name>{placemarks(1_100)}</Document>")
    .replace("</", "</k:").replace("<P", "<k:P").replace("<D", "<k:D").replace("<n", "<k:n").replace("<c", "<k:c").replace("<kml xmlns=", "<k:kml xmlns:k="),
    "told.kml": KML.format(
        "<Document><name>all</name><!-- <Placemark> and </Folder> -->"
        + placemarks(1_300, "<description><![CDATA[<b>It says <Placemark/> here</b>]]></description>")
        + "</Document>"
    ),
    "mixed.gpx": GPX.format(waypoints(1_400) + "".join(track(4) for _ in range(1_050))),
    "lines.gpx": GPX.format(waypoints(70_000).replace("<wpt", "\n<wpt")),
    "few.gpx": GPX.format(waypoints(4)),
}  # fmt: skip


@pytest.mark.parametrize("name", DOCUMENTS)
def test_layers_are_those_of_the_whole(name: str, tmp_path: Path) -> None:
    path = tmp_path / name
    path.write_text(DOCUMENTS[name])
    whole = [layer for layer in read_by_gdal.layers(path) if layer.rows]
    assert marked_up.layers(path) == whole
    for layer in whole:
        seen = marked_up.read(path, Choice(layer=layer.name, head=True)).dataset
        all_of_it = marked_up.read(path, Choice(layer=layer.name)).dataset
        assert len(all_of_it) == layer.rows
        assert len(seen) == min(ROWS, layer.rows)
        assert seen.columns.column_names == all_of_it.columns.column_names
        assert seen.columns.equals(all_of_it.columns.slice(0, len(seen)))


def test_what_marks_cannot_tell_is_read_whole(tmp_path: Path) -> None:
    """A folder that ends in a text, or whose text holds the end of a placemark."""
    for more in ("<description><![CDATA[</Folder>]]></description>", "<description><![CDATA[</Placemark>]]></description>"):  # fmt: skip
        path = tmp_path / f"{len(more)}.kml"
        path.write_text(KML.format("<Document>" + placemarks(1_200, more) + "</Document>"))
        assert [layer.rows for layer in marked_up.layers(path)] == [1_200]
        assert len(marked_up.read(path, Choice(head=True)).dataset) == ROWS


@pytest.mark.parametrize("form", ["GML2", "GML3", "GML3.2"])
def test_gml_of_all_its_forms(form: str, tmp_path: Path) -> None:
    """As GDAL writes it: members of two types in one collection."""
    rows = geopandas.GeoDataFrame(
        {"n": range(1_800)}, geometry=shapely.points(np.linspace(-27, -26, 1_800), 52), crs=4326
    )
    for layer, many in (("wells", 1_800), ("huts", 5)):
        rows.head(many).to_file(tmp_path / "in.gpkg", layer=layer, driver="GPKG")
    path = tmp_path / "of.gml"
    subprocess.run(["ogr2ogr", "-q", "-f", "GML", "-dsco", f"FORMAT={form}", path, tmp_path / "in.gpkg"], check=True)
    for beside in tmp_path.glob("of.xsd"):
        beside.unlink()
    short = sample(path)
    assert short is not None and sum(map(len, short.document)) < 0.8 * path.stat().st_size
    assert dict(short.rows) == {"wells": 1_800, "huts": 5}
    assert {layer.name: layer.rows for layer in marked_up.layers(path)} == {"wells": 1_800, "huts": 5}
    seen = preview(path, "of.gml", Corrections(layer="wells"))
    assert "Seen by its first 1,000 rows of 1,800." in seen.notes and seen.rows[0][-1] == 0


def test_packed_documents_too(tmp_path: Path) -> None:
    path = tmp_path / "isles.kmz"
    with zipfile.ZipFile(path, "w") as archive:
        archive.writestr("doc.kml", DOCUMENTS["many.kml"])
    assert sum(layer.rows for layer in file_kind(path).layers(path)) == 3 + 1_500 + 1_200 + ROWS + 1_001


def test_shapefiles_are_seen_by_their_beginning(tmp_path: Path) -> None:
    rows = geopandas.GeoDataFrame({"n": range(3_000)}, geometry=shapely.points(np.linspace(-27, -26, 3_000), 52))
    rows.set_crs(4326).to_file(tmp_path / "wells.shp")
    path = tmp_path / "wells.zip"
    with zipfile.ZipFile(path, "w") as archive:
        for part in tmp_path.glob("wells.[!z]*"):
            archive.write(part, part.name)
    seen = preview(path, "wells.zip", Corrections())
    assert seen.layers[0].rows == 3_000 and "Seen by its first 1,000 rows of 3,000." in seen.notes
    kind = file_kind(path)
    assert len(kind.read(path, Choice(head=True)).dataset) == 1_000
    assert kind.read(path, Choice()).dataset.columns["n"].to_pylist() == list(range(3_000))
    assert pa.types.is_integer(kind.read(path, Choice(head=True)).dataset.columns.schema.field("n").type)


def rows_of(path: Path, layer: str) -> tuple[pa.Table, list[bytes], list[str], str]:
    """What is read of a layer, in a form that can be sent over and compared."""
    read = marked_up.read(path, Choice(layer=layer))
    shapes = read.dataset.shapes
    assert shapes is not None
    return read.dataset.columns, shapely.to_wkb(shapes).tolist(), read.notes, read.crs_reason


def in_halves(path: Path, layer: str) -> tuple[bool, tuple[pa.Table, list[bytes], list[str], str]]:
    """As within the bounds of an upload, also of a document that is short; and whether its halves were put together."""
    together = []
    both = read_by_gdal._both_halves

    def told(*arguments: Any) -> Any:
        rows = both(*arguments)
        together.append(True)
        return rows

    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(marks, "LARGE", 0)
        patch.setattr(read_by_gdal, "_both_halves", told)
        rows = rows_of(path, layer)
        return bool(together), rows


HALVED = {
    "one.kml": {"all"}, "many.kml": {"small", "large", "within", "just", "isles"}, "prefixed.kml": {"all"}, "mixed.gpx": {"waypoints", "tracks"},
    "lines.gpx": {"waypoints"},
}  # fmt: skip
"""Of the documents those layers that marks tell apart."""


@pytest.mark.parametrize("name", DOCUMENTS)
def test_halves_of_a_document_are_the_whole_of_it(name: str, tmp_path: Path) -> None:
    """Read by two processes a layer has the rows, columns, notes and system that it has when GDAL reads all of it at once."""
    path = tmp_path / name
    path.write_text(DOCUMENTS[name])
    halved = set()
    for layer in read_by_gdal.layers(path):
        if layer.rows:
            by_halves, rows = bounded(path, in_halves, path, layer.name)
            assert rows == rows_of(path, layer.name)
            halved |= {layer.name} if by_halves else set()
    assert halved == HALVED.get(name, set())


def wells(second: str, n: int = 1_400) -> str:
    """A collection whose second half holds something else than its first."""
    member = (
        '<gml:featureMember><u:well gml:id="w{0}"><u:n>{0}</u:n>{1}<u:at><gml:Point srsName="{2}"><gml:pos>52 -27</gml:pos></gml:Point></u:at>'
        "</u:well></gml:featureMember>"
    )
    rows = "".join(
        member.format(
            i, second if i > n / 2 else "<u:v>7</u:v>", "EPSG:3857" if second == "" and i > n / 2 else "EPSG:4326"
        )
        for i in range(n)
    )
    return f'<?xml version="1.0"?><gml:FeatureCollection xmlns:gml="http://www.opengis.net/gml" xmlns:u="http://example.org/u">{rows}</gml:FeatureCollection>'


@pytest.mark.parametrize(
    ("second", "by_halves"),
    [
        ("<u:v>9</u:v>", True), ("<u:v>9.25</u:v>", True), ("<u:v>3000000000</u:v>", True), ("<u:v>9</u:v><u:w>deep</u:w>", True),
        ("<u:v>deep</u:v>", False), ("<u:v>9</u:v><u:v>10</u:v>", False), ("", False),
    ],
)  # fmt: skip
def test_halves_that_do_not_fit_together_are_read_at_once(second: str, by_halves: bool, tmp_path: Path) -> None:
    """Numbers that are decimal in one half only fit; texts where the other has numbers, several values in a row and another system do not."""
    path = tmp_path / "wells.gml"
    path.write_text(wells(second))
    assert bounded(path, in_halves, path, "well") == (by_halves, rows_of(path, "well"))
