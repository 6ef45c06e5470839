"""A raster in parts is the raster: put together again it has the same pixels, in the same places."""

import csv
import json
from pathlib import Path

import numpy as np
import pytest
import rasterio
import shapely
from greylatch.cli.main import main
from greylatch.errors import BadInput, Stopped
from greylatch.rasters.cutting import cut_into, part_names, parts_by_count
from greylatch.rasters.info import raster_bounds
from rasterio.merge import merge
from rasterio.transform import from_origin


def whole_again(folder: Path, path: Path) -> None:
    """The referee is rasterio's own merge (PyPI), which knows nothing of how it was cut."""
    with rasterio.open(path) as source:
        files = sorted(folder.glob("*.tif"))
        sources = [rasterio.open(file) for file in files]
        data, transform = merge(sources)
        assert np.array_equal(data, source.read()) and transform.almost_equals(source.transform, 1e-6)
        for part in sources:
            assert (part.crs, part.nodata, part.dtypes, part.colorinterp) == (
                source.crs,
                source.nodata,
                source.dtypes,
                source.colorinterp,
            )
            part.close()


@pytest.mark.parametrize(
    "options",
    [["--columns", "4", "--rows", "3"], ["--columns", "5"], ["--size", "700x500"], ["--size", "20000x16000m"]],
)
def test_the_demo_relief_is_cut_and_put_together(
    options: list[str], demo: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    out = tmp_path / "parts"
    assert main(["cut", str(demo / "relief.tif"), "--out", str(out), *options]) == 0
    whole_again(out, demo / "relief.tif")
    rows = list(csv.DictReader((out / "index.csv").open()))
    features = json.loads((out / "index.geojson").read_text())["features"]
    assert len(rows) == len(features) == len(list(out.glob("*.tif")))
    assert [feature["properties"]["file"] for feature in features] == [row["file"] for row in rows]
    with rasterio.open(demo / "relief.tif") as source:
        boxes = shapely.union_all([shapely.geometry.shape(feature["geometry"]) for feature in features])
        assert boxes.bounds == pytest.approx(raster_bounds(source), abs=1e-4)
    for row in rows:
        with rasterio.open(out / row["file"]) as part:
            assert raster_bounds(part) == pytest.approx(
                [float(row[side]) for side in ("west", "south", "east", "north")], abs=1e-6
            )
    assert f"{len(rows)} parts" in capsys.readouterr().out


def test_palettes_masks_bands_and_descriptions_go_along(tmp_path: Path) -> None:
    rng = np.random.default_rng(2)
    values = rng.integers(0, 4, (1, 300, 410), dtype=np.uint8)
    profile = {
        "driver": "GTiff",
        "width": 410,
        "height": 300,
        "count": 1,
        "dtype": "uint8",
        "crs": "EPSG:4326",
        "transform": from_origin(10, 50, 0.01, 0.01),
    }
    with rasterio.Env(GDAL_TIFF_INTERNAL_MASK=True), rasterio.open(tmp_path / "kinds.tif", "w", **profile) as sink:
        sink.write(values)
        sink.write_colormap(1, {i: (10 * i, 20, 30, 255) for i in range(4)})
        sink.set_band_description(1, "kind of land")
        sink.write_mask(np.where(values[0] == 3, 0, 255).astype(np.uint8))
    parts = cut_into(tmp_path / "kinds.tif", tmp_path / "parts", size="1x1deg", pattern="land {row:02}-{column}")
    assert [part.file for part in parts][:2] == ["land 01-1.tif", "land 01-2.tif"] and len(parts) == 15
    for part in parts:
        with rasterio.open(tmp_path / "parts" / part.file) as cut:
            assert cut.colormap(1)[2] == (20, 20, 30, 255) and cut.descriptions == ("kind of land",)
            assert np.array_equal(cut.dataset_mask() == 0, cut.read(1) == 3)


def test_parts_of_one_number_differ_by_no_more_than_a_pixel() -> None:
    parts = parts_by_count(1003, 57, 7, 4)
    for side, many, whole in (("width", 7, 1003), ("height", 4, 57)):
        sizes = sorted({getattr(window, side) for _, _, window in parts})
        assert sizes[-1] - sizes[0] <= 1
        assert (
            sum(getattr(window, side) for row, column, window in parts if (row if side == "width" else column) == 1)
            == whole
        )
        assert len({(column if side == "width" else row) for row, column, _ in parts}) == many


@pytest.mark.parametrize(
    ("options", "words"),
    [
        ({"columns": 0, "rows": 2}, "cannot be cut into 0"),
        ({"size": "0x3"}, "smaller than a pixel"),
        ({"size": "big"}, "is no size"),
        ({"size": "1x1deg"}, "measured in metres"),
        ({"size": "3x3"}, "at most 10,000"),
        ({}, "how many columns"),
        ({"columns": 2, "size": "5x5"}, "how many columns"),
        ({"columns": 2, "pattern": "{row}"}, "would have one name"),
        ({"columns": 2, "pattern": "{row}{kind}"}, "no pattern"),
        ({"columns": 2, "pattern": "{row.__class__}{column}"}, "no pattern"),
        ({"columns": 2, "pattern": "../{row}{column}"}, "no name for a file"),
    ],
)
def test_what_cannot_be_cut_is_said_and_leaves_nothing(
    options: dict[str, object], words: str, demo: Path, tmp_path: Path
) -> None:
    with pytest.raises(BadInput, match=words):
        cut_into(demo / "relief.tif", tmp_path / "parts", **options)  # type: ignore[arg-type]
    assert not list(tmp_path.iterdir())


def test_a_folder_with_something_in_it_is_left_alone_and_stopping_leaves_none(demo: Path, tmp_path: Path) -> None:
    (tmp_path / "mine").mkdir()
    (tmp_path / "mine" / "letter.txt").write_text("kept")
    with pytest.raises(BadInput, match="is there already"):
        cut_into(demo / "relief.tif", tmp_path / "mine", columns=2)

    def stop(done: int, total: int, what: str) -> None:
        if done == 2:
            raise Stopped

    with pytest.raises(Stopped):
        cut_into(demo / "relief.tif", tmp_path / "parts", columns=4, progress=stop)
    assert [path.name for path in tmp_path.iterdir()] == ["mine"]


def test_names_of_parts_are_plain() -> None:
    assert part_names("{name}_{row}_{column}.TIF", "a", [(1, 2)]) == ["a_1_2.TIF"]
    for pattern in ("{name", "{0}{row}", "a{row}/b{column}", ".{row}{column}", "{row!r:>{column}}"):
        with pytest.raises(BadInput):
            part_names(pattern, "a", [(1, 1), (1, 2)])
