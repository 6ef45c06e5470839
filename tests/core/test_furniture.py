"""What stands on pictures of maps besides their layers: a scale bar that is true, an arrow to the north, credits."""

import json
from dataclasses import replace
from pathlib import Path

import numpy as np
import pyproj
import pytest
from greylatch.cli.main import main
from greylatch.paint.furniture import furnished
from greylatch.places.frame import MERCATOR, Frame
from greylatch.places.scale_bar import scale_bar
from greylatch.places.view import View
from greylatch.sheet.document import Furniture, Sheet
from PIL import Image

GEOD = pyproj.Geod(ellps="WGS84")
CONE = "+proj=lcc +lat_1=30 +lat_2=60 +lon_0=10"


def view_around(crs: str, lon: float, lat: float, resolution: float) -> View:
    frame = Frame.named(crs)
    return View.around(frame, *frame.place(lon, lat), resolution, 500, 300)


def drawn(view: View, furniture: Furniture) -> np.ndarray:
    """Where something stands."""
    plain = np.full((view.height, view.width, 4), (200, 220, 210, 255), np.uint8)
    return (furnished(plain, Sheet(title="A", furniture=furniture), view) != plain).any(axis=2)


@pytest.mark.parametrize("crs", ["EPSG:3035", CONE, "EPSG:8857", "+proj=omerc +lat_0=40 +lonc=10 +alpha=30"])
@pytest.mark.parametrize("place", [(25.0, 55.0), (-5.0, 42.0), (10.0, 50.0)])
def test_north_is_where_projs_meridian_convergence_says(crs: str, place: tuple[float, float]) -> None:
    """Reference: PROJ's own factors, by pyproj: the convergence is counted from true north to the grid's, the other way round."""
    frame = Frame.named(crs)
    convergence = pyproj.Proj(frame.crs).get_factors(*place).meridian_convergence
    assert frame.north(*frame.place(*place)) == pytest.approx(-convergence, abs=0.01)


def test_at_a_pole_there_is_no_north() -> None:
    arctic = Frame.named("+proj=laea +lat_0=90")
    assert arctic.north(0, 0) is None
    assert abs(arctic.north(0, 1e6) or 0) == pytest.approx(180) and arctic.north(1e6, 0) == pytest.approx(-90)


@pytest.mark.parametrize(("lat", "resolution"), [(0, 611.5), (52, 76.4), (70, 2.4)])
def test_a_bar_is_as_long_as_it_says(lat: float, resolution: float) -> None:
    """Reference: GeographicLib's geodesics by pyproj."""
    bar = scale_bar(MERCATOR.metres(*MERCATOR.place(-27, lat)) * resolution)
    x, y = MERCATOR.place(-27, lat)
    half = bar.px * resolution / 2
    west, east = MERCATOR.lonlat(x - half, y), MERCATOR.lonlat(x + half, y)
    assert GEOD.inv(*west, *east)[2] == pytest.approx(bar.metres, rel=0.01)
    assert 80 <= bar.px <= 200 and str(bar.metres)[0] in "125"


def test_what_is_wanted_stands_at_the_lower_right() -> None:
    view = view_around("EPSG:3857", -27, 52, 76.4)
    nothing = drawn(view, Furniture())
    bar, arrow = drawn(view, Furniture(scale_bar=True)), drawn(view, Furniture(north_arrow=True))
    assert not nothing.any()
    for part in (bar, arrow):
        ys, xs = np.nonzero(part)
        assert ys.min() > 200 and xs.min() > 300 and ys.max() < 300 - 5 and xs.max() < 500 - 5
    both = drawn(view, Furniture(scale_bar=True, north_arrow=True, credits="Survey of the isles"))
    assert both.sum() > bar.sum() + arrow.sum()


def test_the_arrow_turns_with_the_meridian() -> None:
    """On the cone of Lambert north leans towards its middle meridian: to the left, east of it."""
    rows, columns = np.nonzero(drawn(view_around(CONE, 60, 50, 5000), Furniture(north_arrow=True)))
    tip, foot = columns[rows < np.quantile(rows, 0.2)].mean(), columns[rows > np.quantile(rows, 0.8)].mean()
    assert tip < foot - 8


def test_fine_pictures_have_the_same_twice_as_large() -> None:
    wanted = Furniture(scale_bar=True, north_arrow=True)
    view = view_around("EPSG:3857", -27, 52, 76.4)
    fine = replace(view, width=1000, height=600, ratio=2.0)
    assert drawn(fine, wanted).sum() == pytest.approx(4 * drawn(view, wanted).sum(), rel=0.05)


def test_off_the_globe_nothing_stands() -> None:
    view = View.around(Frame.named("+proj=laea +lat_0=50"), 1.4e7, 0, 1000, 500, 300)
    assert not drawn(view, Furniture(scale_bar=True, north_arrow=True)).any()


def test_sheets_that_say_nothing_are_drawn_bare(demo: Path, tmp_path: Path) -> None:
    """Pictures that scripts draw stay as they were, unless the sheet wants more."""
    sheet = json.loads((demo / "carbon.sheet.json").read_text())
    pictures = {}
    for name, wanted in {"bare": {}, "none": {"scale_bar": False}, "bar": {"scale_bar": True}}.items():
        sheet["furniture"] = {"ground": "#ffffff", **wanted}
        file = demo / f"furniture-{name}.sheet.json"
        file.write_text(json.dumps(sheet))
        assert main(["draw", str(file), "--out", str(tmp_path / f"{name}.png"), "--size", "400x300"]) == 0
        file.unlink()
        pictures[name] = np.asarray(Image.open(tmp_path / f"{name}.png").convert("RGBA"))
    assert np.array_equal(pictures["bare"], pictures["none"])
    assert not np.array_equal(pictures["bare"], pictures["bar"])


@pytest.mark.parametrize("height", [1, 20, 30, 60])
def test_pictures_too_low_for_it_go_without(height: int) -> None:
    wanted = Sheet(title="A", furniture=Furniture(scale_bar=True, north_arrow=True, credits="Survey of the isles"))
    view = View.around(MERCATOR, *MERCATOR.place(-27, 52), 76.4, 500, height)
    assert furnished(np.zeros((height, 500, 4), np.uint8), wanted, view).shape == (height, 500, 4)
