"""Files written in other formats, with fields, rows and shapes of one's own choice, and fields that are worked out."""

import json
from pathlib import Path

import duckdb
import geopandas
import numpy as np
import pyarrow as pa
import pyogrio
import pyproj
import pytest
import shapely
from greylatch.cli.main import main
from greylatch.errors import BadExpression, BadInput
from greylatch.formats.files import read_file
from greylatch.places.crs import LONLAT, parse_crs
from greylatch.places.simplifying import proposed_tolerance, simplified
from greylatch.rules.calculating import calculated
from greylatch.rules.evaluating import taken
from greylatch.tables.dataset import Dataset

from tests.open_data import open_data

ATLAS = Path(__file__).parents[2] / "web" / "node_modules" / "us-atlas"


@pytest.mark.parametrize("ending", ["geojson", "gpkg", "fgb", "parquet"])
def test_what_is_written_is_read_by_gdal_as_it_was(
    ending: str, demo: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    """The referees are GDAL (pyogrio, PyPI) and geopandas (PyPI)."""
    areas, out = demo / "catchments_with_returns.geojson", tmp_path / f"some.{ending}"
    given = [
        "convert",
        str(areas),
        "--out",
        str(out),
        "--fields",
        "name, carbon_t=carbon",
        "--where",
        "carbon_t > 100000",
    ]
    assert main(given) == 0, capsys.readouterr().err
    before = read_file(areas).dataset
    rows = taken(before, "carbon_t > 100000")
    assert before.shapes is not None and 0 < rows.sum() < len(before)
    frame = geopandas.read_parquet(out) if ending == "parquet" else pyogrio.read_dataframe(out)
    assert sorted(frame.columns) == ["carbon", "geometry", "name"]
    order = frame.sort_values("name").index
    mine = sorted(
        zip(
            before.columns["name"].to_pylist(), before.columns["carbon_t"].to_pylist(), before.shapes, rows, strict=True
        ),
        key=lambda row: row[0],
    )
    kept = [(name, carbon, shape) for name, carbon, shape, there in mine if there]
    assert frame["name"][order].tolist() == [name for name, _, _ in kept]
    assert frame["carbon"][order].tolist() == [carbon for _, carbon, _ in kept]
    assert shapely.equals(
        shapely.normalize(frame.geometry.values[order]), shapely.normalize([shape for _, _, shape in kept])
    ).all()


def test_rows_without_a_shape_are_written_too(tmp_path: Path) -> None:
    data = Dataset(pa.table({"a": [1, 2]}), "points", np.array([shapely.Point(1, 2), None], dtype=object), LONLAT)
    from greylatch.formats.writing import write_file

    write_file(data, tmp_path / "a.fgb")
    frame = pyogrio.read_dataframe(tmp_path / "a.fgb")
    assert frame["a"].tolist() == [1, 2] and frame.geometry.isna().tolist() == [False, True]
    with pytest.raises(BadInput, match=r"written as \.csv or \.parquet"):
        write_file(Dataset(pa.table({"a": [1]}), "table"), tmp_path / "b.fgb")


@pytest.mark.parametrize(
    ("options", "words"),
    [
        (["--fields", "nothing"], "There is no field 'nothing'"),
        (["--fields", "name=a,code=a"], "Two fields would be called 'a'"),
        (["--fields", ""], "No field is chosen"),
        (["--simplify", "0"], "above 0"),
        (["--to", "EPSG:8857"], "holds no projection"),
        (["--where", "nothing > 1"], "Line 1, column 1"),
    ],
)
def test_what_cannot_be_converted_is_said(
    options: list[str], words: str, demo: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    out = tmp_path / "out.geojson"
    assert main(["convert", str(demo / "catchments_with_returns.geojson"), "--out", str(out), *options]) == 2
    assert words in capsys.readouterr().err and not out.exists()


def test_shapes_go_elsewhere(demo: Path, tmp_path: Path) -> None:
    out = tmp_path / "wells.fgb"
    assert main(["convert", str(demo / "dip_wells.csv"), "--out", str(out), "--to", "EPSG:32626"]) == 0
    frame = pyogrio.read_dataframe(out)
    back = frame.to_crs(4326).geometry
    first = read_file(demo / "dip_wells.csv").dataset
    assert first.shapes is not None
    xy = np.sort(shapely.get_coordinates(back.values), axis=0)
    assert np.abs(xy - np.sort(shapely.get_coordinates(first.shapes), axis=0)).max() < 1e-7


def test_borders_that_are_shared_stay_shared() -> None:
    """Open data: the Census Bureau's states in us-atlas (npm); whether it is still a coverage is asked of GEOS."""
    frame = pyogrio.read_dataframe(ATLAS / "states-10m.json", layer="states")
    shapes = frame.geometry.values
    whole = shapes[shapely.is_valid(shapes)]
    west = whole[shapely.bounds(whole)[:, 2] < -60]
    clean = shapely.coverage_simplify(west, 0.0)
    data = Dataset(pa.table({"n": range(len(clean))}), "areas", clean, LONLAT)
    simple = simplified(data, 20_000)
    assert simple.shapes is not None and shapely.is_valid(simple.shapes).all()
    before, after = (shapely.get_num_coordinates(each).sum() for each in (clean, simple.shapes))
    assert after < before / 3
    assert shapely.coverage_is_valid(clean) and shapely.coverage_is_valid(simple.shapes)
    assert abs(shapely.area(simple.shapes).sum() / shapely.area(clean).sum() - 1) < 0.01


@pytest.mark.parametrize("projection", ["+proj=laea +lat_0=52 +lon_0=-27", "+proj=eck4"])
def test_what_is_proposed_to_be_lost_is_half_a_pixel_of_a_picture(projection: str) -> None:
    """Of a thousand px, in an equal-area projection of PROJ's about the place: of an isle, and of the earth."""
    place = (-28.0, 51.0, -26.0, 53.0) if "laea" in projection else (-180.0, -90.0, 180.0, 90.0)
    project = pyproj.Transformer.from_crs("EPSG:4326", projection, always_xy=True)
    left, bottom, right, top = project.transform_bounds(*place, densify_pts=99)
    assert proposed_tolerance(place) == pytest.approx(max(right - left, top - bottom) / 2_000, rel=0.2)
    assert proposed_tolerance((5.0, 5.0, 5.0, 5.0)) == 1


def test_lines_keep_within_what_was_asked() -> None:
    """The referee is the Hausdorff distance, of GEOS."""
    rng = np.random.default_rng(5)
    lines = [shapely.LineString(np.cumsum(rng.normal(0, 300, (400, 2)), axis=0)) for _ in range(20)]
    data = Dataset(pa.table({"n": range(20)}), "lines", np.array(lines), parse_crs("EPSG:32626"))
    simple = simplified(data, 250)
    assert simple.shapes is not None and data.shapes is not None
    assert shapely.hausdorff_distance(simple.shapes, data.shapes, densify=0.01).max() <= 251
    assert shapely.get_num_coordinates(simple.shapes).sum() < 20 * 400 * 0.95
    feet = Dataset(data.columns, "lines", data.shapes, parse_crs("EPSG:2225"))
    finer = simplified(feet, 250)
    assert finer.shapes is not None
    assert shapely.get_num_coordinates(finer.shapes).sum() < shapely.get_num_coordinates(simple.shapes).sum()
    points = Dataset(pa.table({"a": [1]}), "points", np.array([shapely.Point(1, 2)]), LONLAT)
    assert simplified(points, 10) is points
    with pytest.raises(BadInput, match="without shapes"):
        simplified(Dataset(pa.table({"a": [1]}), "table"), 10)


def test_a_calculated_field_is_what_duckdb_makes_of_it(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    """Open data: sudden infant deaths in North Carolina (libpysal, PyPI). The referee is DuckDB (PyPI)."""
    content, name = open_data("sids2", tmp_path)
    (tmp_path / name).write_bytes(content)
    out = tmp_path / "out.geojson"
    expression = "SID74 * 1000 / BIR74"
    assert (
        main(["calculate", str(tmp_path / name), "--field", "rate", "--expression", expression, "--out", str(out)]) == 0
    )
    assert "100 of 100 rows" in capsys.readouterr().out
    table = duckdb.from_arrow(read_file(tmp_path / name).dataset.columns)
    wanted = [row[0] for row in table.project(expression).fetchall()]
    features = json.loads(out.read_text())["features"]
    assert [feature["properties"]["rate"] for feature in features] == pytest.approx(wanted)


def test_calculating_replaces_a_field_where_it_stands_and_says_mistakes() -> None:
    data = Dataset(pa.table({"a": [1.0, None], "b": ["x", "y"], "c": [2, 3]}), "table").described()
    made = calculated(data, "b", "a > 0")
    assert made.columns.column_names == ["a", "b", "c"] and made.columns["b"].to_pylist() == [True, None]
    assert "b" not in made.meanings and "a" in made.meanings
    assert calculated(data, " d ", "upper(b)").columns["d"].to_pylist() == ["X", "Y"]
    with pytest.raises(BadExpression, match="There is no field 'q'"):
        calculated(data, "d", "q + 1")
    for name in ("", "x" * 201):
        with pytest.raises(BadInput, match="needs a name"):
            calculated(data, name, "c")
