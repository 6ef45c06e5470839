"""Where coordinates without a system are likely to lie, and what a glance at them shows."""

import numpy as np
import pytest
import shapely
from greylatch.formats.corrections import Corrections
from greylatch.formats.elsewhere import elsewhere
from greylatch.formats.first_rows import tried
from greylatch.formats.preview import preview
from greylatch.formats.simplified_look import simplified_look
from greylatch.places.crs import parse_crs
from greylatch.places.glance import MOST_LINES, MOST_POINTS, glance
from greylatch.places.likely import Known, likely_systems
from libpysal import examples

ISLES = Known("Catchments", "EPSG:32626", (-27.2, 51.8, -26.6, 52.2))


def test_the_system_of_other_data_comes_first() -> None:
    here = shapely.points([[508_000, 5_770_000], [512_000, 5_775_000]])
    found = likely_systems(here, [ISLES])
    assert (found[0].crs, found[0].swapped) == ("EPSG:32626", False)
    assert len({each.glance.bounds for each in found}) == len(found), "each puts the data somewhere else"


def test_degrees_the_other_way_round_are_seen_by_other_data() -> None:
    found = likely_systems(shapely.points([[52.0, -27.0]]), [ISLES])
    assert [(each.crs, each.swapped) for each in found] == [("EPSG:4326", True), ("EPSG:4326", False)]
    assert found[0].glance.points == [(-27.0, 52.0)]


def test_the_right_system_of_real_counties_is_among_the_five() -> None:
    """Open data: 'columbus' of libpysal (PyPI) is in no system that its file states; 'sids2' in degrees; projected here to that in which
    the state's own offices map (EPSG:32119, NAD83 / North Carolina; PROJ's list)."""
    import geopandas

    frame = geopandas.read_file(examples.load_example("sids2").get_path("sids2.shp")).set_crs(4326)
    west, south = frame.total_bounds[:2]
    near = Known("Cities", "EPSG:4326", (west, south, west + 1, south + 1))
    found = likely_systems(frame.to_crs(32119).geometry.to_numpy(), [near])
    theirs = [each for each in found if np.allclose(each.glance.bounds, frame.total_bounds, atol=0.02)]
    assert theirs and not theirs[0].swapped and "Cities" in theirs[0].reason


def test_a_glance_is_small_and_true() -> None:
    many = shapely.points(np.random.default_rng(1).uniform(0, 10, (50_000, 2)))
    seen = glance(many, parse_crs("EPSG:4326"))
    assert seen is not None and len(seen.points) == MOST_POINTS
    assert np.allclose(seen.bounds, shapely.total_bounds(many), atol=0.5)
    cells = shapely.box(*np.mgrid[0:40, 0:40].reshape(2, -1), *(np.mgrid[0:40, 0:40].reshape(2, -1) + 1))
    seen = glance(cells, parse_crs("EPSG:4326"))
    assert seen is not None and len(seen.lines) == MOST_LINES
    assert glance(shapely.points([[1e9, 1e9]]), parse_crs("EPSG:32626")) is None


def test_files_are_looked_at_as_they_would_lie(demo, tmp_path) -> None:  # type: ignore[no-untyped-def]
    seen = preview(demo / "slips.csv", "slips.csv", Corrections())
    assert seen.problem and seen.glance is None
    found = elsewhere(demo / "slips.csv", Corrections(), [ISLES])
    assert found[0].crs == "EPSG:32626"
    seen = preview(demo / "slips.csv", "slips.csv", Corrections(crs=found[0].crs))
    assert seen.glance is not None and seen.glance.bounds[0] == pytest.approx(-27, abs=0.8) and not seen.problem
    swapped = preview(demo / "dip_wells.csv", "dip_wells.csv", Corrections(swapped=True))
    assert swapped.glance is not None and 51 < swapped.glance.bounds[0] < 53
    raster = preview(demo / "relief.tif", "relief.tif", Corrections())
    assert raster.glance is not None and len(raster.glance.lines) == 1


def test_conditions_are_tried_on_the_first_rows(demo, tmp_path) -> None:  # type: ignore[no-untyped-def]
    """Found with a list of 3,376 airports: it was told that all of its 1,000 rows were kept."""
    longer = tmp_path / "many.csv"
    longer.write_text("code,n\n" + "".join(f"a{row},{row}\n" for row in range(3_376)))
    some = tried(longer, Corrections(), "n < 100")
    assert (some.taken, some.of, some.whole) == (100, 1_000, False)
    file = demo / "catchments.zip"
    assert tried(file, Corrections(), "isles = 'Orrin'").taken == 54
    assert tried(file, Corrections(), "").whole
    wrong = tried(file, Corrections(), "isles = ")
    assert wrong.taken is None and (wrong.line, wrong.column) == (1, 9) and wrong.problem
    assert "isles" in preview(file, "catchments.zip", Corrections()).names


def test_shapes_are_seen_before_and_after(demo) -> None:  # type: ignore[no-untyped-def]
    """No vertex is moved: those of the picture after are among those of the picture before (GEOS's coverage simplifier drops some)."""
    look = simplified_look(demo / "catchments.zip", Corrections(simplify=400))
    assert look.vertices_after < look.vertices_before / 2 and look.bytes_after < look.bytes_before and look.whole
    inner = {tuple(xy) for line in look.before for xy in line}
    after = {tuple(xy) for line in look.after for xy in line if 0 < xy[0] < 1 and 0 < xy[1] < 1}
    assert after <= inner and len(after) < len(inner)


def test_data_all_over_the_world_say_nothing_of_where_others_lie() -> None:
    """A stranger's states reach round the world, since one has isles on both sides of the 180th meridian."""
    boroughs = np.array([shapely.Point(998_506.9, 177_674.7), shapely.Point(1_033_983.9, 196_127.4)])
    states = Known("States", "EPSG:4326", (-179.2, -14.6, 179.8, 71.4))
    assert not any("States" in each.reason for each in likely_systems(boroughs, [states]))
    city = Known("Stops", "EPSG:4326", (-74.2, 40.5, -73.7, 40.9))
    found = likely_systems(boroughs, [states, city])
    assert found[0].reason == "It lies where 'Stops' does." and found[0].crs == "EPSG:2263"
