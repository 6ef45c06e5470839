"""Slope, contours, stretches, classes and named values of rasters, against gdaldem, gdal_contour and mapclassify."""

import subprocess
from pathlib import Path

import geopandas
import mapclassify
import numpy as np
import pytest
import rasterio
import shapely
from greylatch.errors import BadInput, CannotDraw
from greylatch.paint.key import layer_key
from greylatch.paint.passes import Composition, RasterPass, VectorPass, pass_of
from greylatch.paint.picture import paint
from greylatch.paint.sources import RasterSource, Source
from greylatch.paint.trials import trials
from greylatch.places.frame import MERCATOR, Frame
from greylatch.places.view import View
from greylatch.rasters.contours import contour_lines
from greylatch.rasters.figures import band_classes, stretch_ends, values_there
from greylatch.rasters.ink import draw_raster
from greylatch.rasters.shade import slope
from greylatch.readings.centres import Centres
from greylatch.readings.contours import Contours
from greylatch.sheet.document import Furniture
from greylatch.sheet.layers import KeyText, Layer
from greylatch.sheet.parts import Limits, RampChoice
from greylatch.sheet.symbology import (
    NamedValue,
    NamedValues,
    RasterClasses,
    RasterRamp,
    RasterSymbology,
    Slope,
    Symbology,
    Symbols,
)
from rasterio.transform import from_origin


@pytest.fixture
def steps(tmp_path: Path) -> Path:
    """Two bands of 60 × 40 pixels: heights that rise to the east by one a pixel, and three kinds of land."""
    path = tmp_path / "steps.tif"
    rising = np.tile(np.arange(60, dtype=np.float32), (40, 1))
    rising[:, -1] = -1
    kinds = np.repeat([1, 2, 5], 20)[None, :].repeat(40, axis=0).astype(np.float32)
    profile = {"width": 60, "height": 40, "count": 2, "dtype": "float32", "nodata": -1}
    with rasterio.open(
        path, "w", driver="GTiff", crs="EPSG:32626", transform=from_origin(5e5, 58e5, 10, 10), **profile
    ) as out:
        out.write(rising, 1)
        out.write(kinds, 2)
    return path


def key_of(path: Path, symbology: Symbology, key: KeyText | None = None) -> list[tuple[str, str]]:
    layer = Layer(id="a", name="Land", dataset="d", symbology=symbology, key=key or KeyText())
    return [
        (entry.id, entry.text) for entry in layer_key(pass_of(layer, lambda name, frame: RasterSource(path))).entries
    ]


def drawn(path: Path, symbology: RasterSymbology, size: int = 64) -> np.ndarray:
    source = RasterSource(path)
    rgba = draw_raster(path, symbology, View.fitted(MERCATOR, source.bounds, size, size))
    assert rgba is not None
    return rgba


def colours(rgba: np.ndarray) -> set[str]:
    seen = rgba[rgba[..., 3] > 0][:, :3]
    return {"#{:02x}{:02x}{:02x}".format(*colour) for colour in np.unique(seen, axis=0).tolist()}


def test_slope_as_gdaldem(demo: Path, tmp_path: Path) -> None:
    """Degrees, as `gdaldem slope` of Debian's gdal-bin gives them (Horn 1981)."""
    out = tmp_path / "slope.tif"
    subprocess.run(["gdaldem", "slope", "-q", demo / "relief.tif", out], check=True, capture_output=True)
    with rasterio.open(out) as theirs, rasterio.open(demo / "relief.tif") as relief:
        expected = theirs.read(1, masked=True).filled(np.nan)
        heights = relief.read(1, masked=True).filled(np.nan).astype(float)
    ours = slope(heights, (25, 25))
    both = np.isfinite(expected) & np.isfinite(ours)
    assert both.sum() > 500_000
    assert np.abs(ours[both] - expected[both]).max() < 1e-3


def test_contours_as_gdal_contour(demo: Path, tmp_path: Path) -> None:
    """The same heights, and lines of nearly the same length within half a pixel of one another, as `gdal_contour` of Debian's gdal-bin
    makes them. It goes on to the corners of pixels without data, where ours end in the middle of the last ones with some."""
    out = tmp_path / "contours.gpkg"
    subprocess.run(
        ["gdal_contour", "-q", "-a", "height", "-i", "50", demo / "relief.tif", out], check=True, capture_output=True
    )
    theirs = geopandas.read_file(out).dissolve("height")
    ours = contour_lines(demo / "relief.tif", Contours(interval=50))
    assert ours.shapes is not None
    by_height = dict(zip(ours.columns["height"].to_pylist(), ours.shapes, strict=True))
    inland = sorted(set(by_height) & set(theirs.index) - {0.0})
    assert len(inland) >= len(theirs) - 1 > 5
    for height in inland:
        mine, other = by_height[height], theirs.geometry[height]
        assert mine.length == pytest.approx(other.length, rel=0.02)
        points = shapely.points(shapely.get_coordinates(mine))
        shapely.prepare(other)
        assert float(np.mean(shapely.dwithin(points, other, 12.5))) > 0.98


def test_contours_of_a_plane(steps: Path) -> None:
    """Heights stand in the middles of pixels: 20 lies at the 21st pixel's middle, 205 m from the left edge."""
    lines = contour_lines(steps, Contours(interval=10, index=2))
    assert lines.shapes is not None
    assert lines.kind == "lines"
    assert lines.columns["height"].to_pylist() == [0, 10, 20, 30, 40, 50]
    assert lines.columns["index_line"].to_pylist() == [True, False] * 3
    assert lines.columns["index_height"].to_pylist() == [0, None, 20, None, 40, None]
    assert shapely.bounds(lines.shapes[2]).tolist() == [500_205, 5_799_605, 500_205, 5_799_995]


@pytest.mark.parametrize(
    ("contours", "said"),
    [
        (Contours(interval=1_000, base=-500), "No contour at this interval"),
        (Contours(interval=0.001), "at most 1,000"),
        (Contours(band=3), "band 3 was asked for"),
    ],
)
def test_contours_that_cannot_be(steps: Path, contours: Contours, said: str) -> None:
    with pytest.raises(BadInput, match=said):
        contour_lines(steps, contours)


def test_a_layer_draws_the_contours_of_a_raster(steps: Path) -> None:
    def find(name: str, frame: Frame) -> Source:
        return RasterSource(steps, frame)

    layer = Layer(
        id="a", name="Heights", dataset="d", symbology=Symbols(), reading=Contours(interval=10), filter="height > 15"
    )
    pass_ = pass_of(layer, find)
    assert isinstance(pass_, VectorPass)
    assert pass_.source.dataset.columns["height"].to_pylist() == [20, 30, 40, 50]
    with pytest.raises(CannotDraw, match="made of shapes"):
        pass_of(layer.model_copy(update={"reading": Centres()}), find)
    with pytest.raises(CannotDraw, match="is a raster"):
        pass_of(layer.model_copy(update={"reading": None}), find)


def test_ends_of_stretches(steps: Path) -> None:
    """The band holds 0 to 58 alike often: extremes, two deviations around the mean (numpy's), and percentiles."""
    values = np.tile(np.arange(59.0), 40)
    path = str(steps)
    assert stretch_ends(path, RasterRamp(stretch="extremes")) == (0, 58)
    assert stretch_ends(path, RasterRamp(stretch="deviations")) == pytest.approx((0, 58))
    assert stretch_ends(path, RasterRamp(stretch="percentiles", high=50))[1] == 50
    assert stretch_ends(path, RasterRamp())[0] == pytest.approx(np.percentile(values, 2), abs=0.5)
    # What the second band is stretched to is its own, not the first's.
    assert stretch_ends(path, RasterRamp(band=2, stretch="extremes")) == (1, 5)
    assert stretch_ends(path, RasterRamp(band=2)) == (1, 5)
    low, high = stretch_ends(path, RasterRamp(band=2, stretch="deviations"))
    three = np.array([1.0, 2, 5])
    assert (low, high) == pytest.approx((1, min(5, three.mean() + 2 * three.std())))


def test_classes_of_a_band_as_mapclassify(demo: Path) -> None:
    with rasterio.open(demo / "peat_depth.tif") as source:
        values = source.read(1, masked=True).compressed().astype(float)
    ours = band_classes(str(demo / "peat_depth.tif"), 1, Limits(method="quantile", classes=4))
    assert ours.breaks == pytest.approx(mapclassify.Quantiles(values, 4).bins.tolist(), rel=1e-6)
    # Every second pixel of every second row: there are more than four million.
    assert ours.n == pytest.approx(len(values) / 4, rel=0.01)


def test_a_band_is_drawn_by_class(steps: Path) -> None:
    look = RasterClasses(
        classing=Limits(method="manual", breaks=[19, 39, 58]), ramp=RampChoice(stops=["#ff0000", "#0000ff"])
    )
    rgba = drawn(steps, look)
    assert len(colours(rgba)) == 3
    assert {"#ff0000", "#0000ff"} < colours(rgba)
    assert key_of(steps, look) == [
        ("band 1 39–58", "39 – 58"), ("band 1 19–39", "19 – 39"), ("band 1 0–19", "0 – 19"),
    ]  # fmt: skip
    words = KeyText(entries={"band 1 0–19": "low"})
    assert key_of(steps, look, words)[-1] == ("band 1 0–19", "low")


def test_values_that_stand_for_something(steps: Path) -> None:
    named = [
        NamedValue(value=1, name="heath", colour="#aa0000"),
        NamedValue(value=2, name="bog", colour="#00aa00", drawn=False),
    ]
    look = NamedValues(band=2, values=[*named, NamedValue(value=5, colour="#0000aa")])
    # Seen from far away too no two kinds are mixed to a third.
    assert colours(drawn(steps, look, 16)) == {"#aa0000", "#0000aa"}
    assert key_of(steps, look) == [("value 1", "heath"), ("value 2", "bog"), ("value 5", "5")]
    assert [(one.value, one.count) for one in values_there(str(steps), 2)] == [(1, 800), (2, 800), (5, 800)]


def test_too_many_values_to_be_named(demo: Path) -> None:
    with pytest.raises(BadInput, match="at most 256"):
        values_there(str(demo / "peat_depth.tif"))


def test_slope_has_a_key_in_degrees(steps: Path) -> None:
    """One in ten rises by 5.71°: arctan 0.1, a handbook's value."""
    source = RasterSource(steps)
    layer = Layer(id="a", name="Slope", dataset="d", symbology=Slope(low=0, high=10))
    pass_ = pass_of(layer, lambda name, frame: source)
    assert isinstance(pass_, RasterPass)
    (section,) = layer_key(pass_).sections
    assert section.ends == (0, 10)
    assert len(colours(drawn(steps, Slope(low=5.70, high=5.72)))) <= 2


def test_classes_of_a_raster_are_tried_otherwise_on_small_maps(demo: Path) -> None:
    """Each as if it were the layer's own: the referee is that layer painted, and Jenks's fit, which natural breaks have the best of."""
    look = RasterClasses(classing=Limits(method="quantile", classes=5))
    source = RasterSource(demo / "relief.tif")
    layer = Layer(id="r", name="Relief", dataset="relief.tif", symbology=look, opacity=0.5, blend="multiply")
    tried = trials(RasterPass(layer, source, look), 90, 60)
    assert 8 <= len(tried) <= 12 and tried[0].classing == look.classing
    assert len({trial.picture.tobytes() for trial in tried}) == len(tried)
    of_five = [trial for trial in tried if trial.classes == 5]
    assert max(of_five, key=lambda trial: trial.fit).classing.method == "natural-breaks"
    chosen = look.model_copy(update={"classing": tried[1].classing})
    alone = RasterPass(layer.model_copy(update={"opacity": 1.0, "blend": "normal"}), source, chosen)
    view = View.fitted(source.frame, source.bounds, 90, 60)
    assert (paint(Composition([alone], [], Furniture()), view, ground=False) == tried[1].picture).all()
    ramps = trials(RasterPass(layer, source, look), 90, 60, "ramps")
    assert ramps[0].ramp == look.ramp and len({trial.colours for trial in ramps}) == len(ramps) > 5
    with pytest.raises(BadInput, match="not in classes"):
        trials(RasterPass(layer, source, RasterRamp()), 90, 60)
