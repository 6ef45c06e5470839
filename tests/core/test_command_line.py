"""The command line is a contract: JSON shapes, exit codes, one clear line on standard error."""

import json
import subprocess
import sys
from pathlib import Path

import jsonschema
import numpy as np
import pytest
from greylatch.cli.commands import COMMANDS
from greylatch.cli.main import main
from PIL import Image
from pmtiles.reader import MmapSource, Reader


def run(capsys: pytest.CaptureFixture[str], *arguments: object) -> tuple[int, str, str]:
    try:
        code = main([str(a) for a in arguments])
    except SystemExit as stop:
        code = int(stop.code or 0)
    out, err = capsys.readouterr()
    return code, out, err


def test_info(demo: Path, capsys: pytest.CaptureFixture[str]) -> None:
    code, out, _ = run(capsys, "info", demo / "catchments.zip", "--json")
    told = json.loads(out)
    assert code == 0
    assert (told["kind"], told["rows"]) == ("areas", 214)
    assert [f["name"] for f in told["fields"]] == ["code", "name", "isles"]
    assert json.loads(run(capsys, "info", demo / "relief.tif", "--json")[1])["kind"] == "raster"
    assert "drained_percent: number, 4 missing" in run(capsys, "info", demo / "returns.csv")[1]


def test_every_command_is_listed_and_explains_itself(capsys: pytest.CaptureFixture[str]) -> None:
    """Also where only the one that is asked for is made."""
    code, out, _ = run(capsys, "--help")
    assert code == 0
    for name, command in COMMANDS.items():
        assert name in out and command.help in " ".join(out.split())
        code, its, _ = run(capsys, name, "--help")
        assert code == 0 and f"usage: greylatch {name}" in its.replace(Path(sys.argv[0]).name, "greylatch")
    code, _, err = run(capsys, "sketch")
    assert code == 2 and all(f"'{name}'" in err for name in COMMANDS)


def test_classify(demo: Path, capsys: pytest.CaptureFixture[str]) -> None:
    code, out, _ = run(
        capsys, "classify", demo / "returns.csv", "--field", "carbon_t", "--method", "natural-breaks", "--normalise-by", "peat_ha", "--json"
    )  # fmt: skip
    told = json.loads(out)
    assert code == 0
    assert list(told) == ["method", "field", "n", "missing", "fit", "classes"]
    assert list(told["classes"][0]) == ["lower", "upper", "count"]
    assert told["n"] + told["missing"] == 214
    assert sum(one["count"] for one in told["classes"]) == told["n"]
    assert 0.8 < told["fit"] <= 1


def test_classify_by_hand(demo: Path, capsys: pytest.CaptureFixture[str]) -> None:
    out = run(
        capsys,
        "classify",
        demo / "returns.csv",
        "--field",
        "drained_percent",
        "--method",
        "manual",
        "--breaks",
        "20,50,100",
        "--json",
    )[1]
    assert [one["upper"] for one in json.loads(out)["classes"]] == [20, 50, 100, 134]


def test_join(demo: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    out = tmp_path / "joined.geojson"
    code, text, _ = run(
        capsys, "join", demo / "catchments.zip", demo / "returns.csv", "--area-key", "name", "--table-key", "catchment", "--out", out, "--json"
    )  # fmt: skip
    told = json.loads(text)
    assert code == 0
    assert list(told) == ["matched", "rows_without_area", "areas_without_row", "duplicate_keys"]
    assert len(told["duplicate_keys"]) == 1
    assert told["matched"] + len(told["areas_without_row"]) + len(told["duplicate_keys"]) == 214
    assert len(told["rows_without_area"]) == 21
    features = json.loads(out.read_text())["features"]
    assert len(features) == 214
    assert {"name", "carbon_t"} <= set(features[0]["properties"])


@pytest.mark.parametrize("ending", [".pmtiles", ".mbtiles", ""])
def test_tiles(demo: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str], ending: str) -> None:
    out = tmp_path / f"peat{ending}"
    code, text, _ = run(capsys, "tiles", demo / "peat_depth.tif", "--out", out, "--max-zoom", 9, "--size", 512)
    assert (code, out.exists()) == (0, True)
    assert "levels" in text
    if ending == ".pmtiles":
        with out.open("rb") as file:
            assert Reader(MmapSource(file)).header()["max_zoom"] == 9
    if ending == "":
        assert Image.open(next(out.rglob("*.png"))).size == (512, 512)


def test_draw(demo: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    out = tmp_path / "map.png"
    assert run(capsys, "draw", demo / "carbon.sheet.json", "--out", out, "--size", "400x300", "--zoom", 9)[0] == 0
    picture = np.asarray(Image.open(out).convert("RGB"))
    assert picture.shape == (300, 400, 3)
    assert len(np.unique(picture.reshape(-1, 3), axis=0)) > 500
    assert run(capsys, "draw", demo / "carbon.sheet.json", "--out", tmp_path / "map.pmtiles", "--zoom", 9)[0] == 0
    corner = tmp_path / "corner.png"
    assert (
        run(
            capsys,
            "draw",
            demo / "carbon.sheet.json",
            "--out",
            corner,
            "--bbox=-27.4,51.9,-27.2,52",
            "--size",
            "200x200",
        )[0]
        == 0
    )
    assert Image.open(corner).size == (200, 200)


def test_schema_accepts_the_demo_sheet(demo: Path, capsys: pytest.CaptureFixture[str]) -> None:
    schema = json.loads(run(capsys, "schema")[1])
    sheet = json.loads((demo / "carbon.sheet.json").read_text())
    jsonschema.Draft202012Validator.check_schema(schema)
    jsonschema.validate(sheet, schema)
    with pytest.raises(jsonschema.ValidationError):
        jsonschema.validate({**sheet, "colour": "red"}, schema)
    kept = Path(__file__).parents[2] / "docs" / "sheet.schema.json"
    assert json.loads(kept.read_text()) == schema, "run machine/openapi.sh"


@pytest.mark.parametrize(
    ("arguments", "words"),
    [
        (["info", "{demo}/nothing.csv"], "cannot be read"),
        (["info", "{tmp}/fake.tif"], "picture without a place"),
        (["classify", "{demo}/returns.csv", "--field", "catchment", "--method", "quantile"], "holds text, not numbers"),
        (["classify", "{demo}/returns.csv", "--field", "nope", "--method", "quantile"], "no field 'nope'"),
        (["classify", "{demo}/returns.csv", "--field", "peat_ha", "--method", "magic"], "invalid choice"),
        (["classify", "{demo}/returns.csv", "--field", "peat_ha", "--method", "manual"], "wants --breaks"),
        (["classify", "{demo}/returns.csv", "--field", "peat_ha", "--method", "manual", "--breaks", "1,x"], "not a list of numbers"),
        (["classify", "{demo}/returns.csv", "--field", "peat_ha", "--method", "quantile", "--classes", "500"], "between 1 and 64"),
        (["join", "{demo}/catchments.zip", "{demo}/huts.csv", "--area-key", "name", "--table-key", "hut"], "Not a single value"),
        (["tiles", "{demo}/returns.csv", "--out", "{tmp}/x.pmtiles"], "not a readable GeoTIFF"),
        (["tiles", "{demo}/nothing.tif", "--out", "{tmp}/x.pmtiles"], "nothing.tif is not there"),
        (["tiles", "{demo}/relief.tif", "--out", "{tmp}/x.tar"], "not to '.tar'"),
        (["tiles", "{demo}/relief.tif", "--out", "{tmp}/x.pmtiles", "--matrix-set", "Odd"], "not in 'Odd'"),
        (["draw", "{demo}/returns.csv", "--out", "{tmp}/x.png"], "is not JSON"),
        (["draw", "{demo}/carbon.sheet.json", "--out", "{tmp}/x.png", "--size", "huge"], "is not a size"),
        (["draw", "{demo}/carbon.sheet.json", "--out", "{tmp}/x.png", "--bbox", "1,2,3"], "is not a box"),
        (["draw", "{tmp}/gone.sheet.json", "--out", "{tmp}/x.png"], "dataset 'gone.csv' is not there"),
        ([], "required"),
    ],
)  # fmt: skip
def test_bad_input_is_one_line_and_exit_2(
    demo: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str], arguments: list[str], words: str
) -> None:
    (tmp_path / "fake.tif").write_bytes(b"\x89PNG....")
    gone = {"title": "t", "layers": [{"id": "a", "name": "A", "dataset": "gone.csv", "symbology": {"kind": "symbols"}}]}
    (tmp_path / "gone.sheet.json").write_text(json.dumps(gone))
    code, _, err = run(capsys, *[a.format(demo=demo, tmp=tmp_path) for a in arguments])
    assert code == 2
    assert words in err
    assert err.count("\n") == 1
    assert "Traceback" not in err


def test_it_needs_no_server(demo: Path) -> None:
    """A process that could not import Django if it wanted to."""
    code = f"""
import sys
sys.modules["django"] = None
from greylatch.cli.main import main
sys.exit(main(["draw", {str(demo / "carbon.sheet.json")!r}, "--out", {str(demo / "alone.png")!r}, "--size", "64x64"]))
"""
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True)
    assert (done.returncode, done.stderr) == (0, "")


def test_select(demo: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    code, out, _ = run(capsys, "select", demo / "dip_wells.csv", "--where", "water_table_cm > 30", "--json")
    told = json.loads(out)
    assert code == 0
    assert list(told) == ["matched", "of", "fids"]
    assert 0 < told["matched"] == len(told["fids"]) < told["of"]
    where = "S_WITHIN(geometry, other) AND NOT (water_table_cm IS NULL)"
    inside = run(
        capsys, "select", demo / "dip_wells.csv", "--where", where, "--other", demo / "catchments.zip", "--json"
    )
    assert 0 < json.loads(inside[1])["matched"] <= told["of"]
    for name in ("wells.geojson", "wells.gpkg", "wells.parquet", "wells.csv"):
        assert (
            run(capsys, "select", demo / "dip_wells.csv", "--where", "water_table_cm > 30", "--out", tmp_path / name)[0]
            == 0
        )
        rows = (
            json.loads(run(capsys, "info", tmp_path / name, "--json")[1])["rows"]
            if name != "wells.gpkg"
            else told["matched"]
        )
        assert rows == told["matched"]


@pytest.mark.parametrize(
    ("where", "said"),
    [
        ("water_table_cm >", "Line 1, column 17: Something is missing at the end. Expected a field, a number"),
        ("water_table > 3", "Line 1, column 1: There is no field 'water_table'. Is 'water_table_cm' meant?"),
        ("water_table_cm > 3 AND\n foo(2)", "Line 2, column 2: There is no function 'foo'."),
        ("water_table_cm", "comes to a number"),
    ],
)
def test_a_mistake_in_a_condition_is_one_line_with_its_place(
    demo: Path, capsys: pytest.CaptureFixture[str], where: str, said: str
) -> None:
    code, out, err = run(capsys, "select", demo / "dip_wells.csv", "--where", where)
    assert (code, out, err.count("\n")) == (2, "", 1)
    assert said in err


def test_a_selection_is_written_in_a_known_format_only(
    demo: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    code, _, err = run(
        capsys, "select", demo / "returns.csv", "--where", "carbon_t > 0", "--out", tmp_path / "returns.geojson"
    )
    assert code == 2 and "A table without shapes is written as .csv or .parquet." in err
    code, _, err = run(
        capsys, "select", demo / "returns.csv", "--where", "carbon_t > 0", "--out", tmp_path / "returns.doc"
    )
    assert code == 2 and "names no format" in err


def test_a_box_across_the_180th_meridian_shows_what_lies_there(tmp_path: Path) -> None:
    """RFC 7946, 5.2: of a box round Fiji the west is 177 and the east -178."""
    land = {"type": "Polygon", "coordinates": [[[179, -18], [180, -18], [180, -17], [179, -17], [179, -18]]]}
    beyond = {"type": "Polygon", "coordinates": [[[-180, -18], [-179, -18], [-179, -17], [-180, -17], [-180, -18]]]}
    features = [{"type": "Feature", "properties": {"n": i}, "geometry": each} for i, each in enumerate((land, beyond))]
    (tmp_path / "isles.geojson").write_text(json.dumps({"type": "FeatureCollection", "features": features}))
    symbology = {"kind": "symbols", "symbol": {"fill": "#ff0000", "strokes": []}}
    layer = {"id": "a", "name": "A", "dataset": "isles.geojson", "symbology": symbology}
    sheet = {"version": 4, "title": "T", "layers": [layer], "projection": {"crs": "+proj=laea +lat_0=-17.5 +lon_0=180"}}
    (tmp_path / "isles.sheet.json").write_text(json.dumps(sheet))
    picture = tmp_path / "isles.png"
    drawn = [
        "draw",
        str(tmp_path / "isles.sheet.json"),
        "--out",
        str(picture),
        "--size",
        "300x300",
        "--bbox=178,-19,-178,-16",
    ]
    assert main(drawn) == 0
    red = (np.asarray(Image.open(picture).convert("RGB")) == [255, 0, 0]).all(axis=2)
    columns = np.flatnonzero(red.any(axis=0))
    assert abs(columns.mean() - 149.5) < 2 and 140 < np.ptp(columns) < 160
