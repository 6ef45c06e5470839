"""Several rasters as one. The referee is GDAL's own gdalbuildvrt (Debian's gdal-bin)."""

import subprocess
from pathlib import Path
from typing import Any

import numpy as np
import pytest
import rasterio
from greylatch.errors import BadFile
from greylatch.formats.corrections import Corrections
from greylatch.formats.preview import preview
from greylatch.rasters.cutting import cut_into
from greylatch.rasters.keep import keep_as_cog
from greylatch.rasters.mosaic import mosaic
from rasterio.transform import from_origin


def tif(path: Path, values: np.ndarray, west: float = 0, north: float = 10, **look: Any) -> Path:  # type: ignore[type-arg]
    bands = values if values.ndim == 3 else values[np.newaxis]
    look = {"crs": "EPSG:32626", "transform": from_origin(west, north, 1, 1), **look}
    with rasterio.open(
        path,
        "w",
        driver="GTiff",
        width=bands.shape[2],
        height=bands.shape[1],
        count=len(bands),
        dtype=bands.dtype,
        **look,
    ) as target:
        target.write(bands)
    return path


def test_parts_come_together_as_what_they_were_cut_of(demo: Path, tmp_path: Path) -> None:
    cut_into(demo / "relief.tif", tmp_path / "parts", columns=3, rows=2)
    parts = sorted((tmp_path / "parts").glob("*.tif"))
    assert len(parts) == 6
    notes = mosaic(parts, tmp_path / "whole.tif")
    assert notes[0].startswith("Put together of 6 rasters")
    with rasterio.open(demo / "relief.tif") as before, rasterio.open(tmp_path / "whole.tif") as after:
        assert (after.crs, after.transform, after.shape) == (before.crs, before.transform, before.shape)
        assert np.array_equal(after.read(masked=True).filled(-1), before.read(masked=True).filled(-1))


def test_gaps_and_overlaps_are_those_of_gdal(tmp_path: Path) -> None:
    first = tif(tmp_path / "a.tif", np.arange(1, 26, dtype="int16").reshape(5, 5), nodata=-9999)
    second = tif(tmp_path / "b.tif", np.full((5, 5), 99, "int16"), west=3, north=7, nodata=-9999)
    mosaic([first, second], tmp_path / "ours.tif")
    # Of two GDAL shows the last: the first one given last.
    subprocess.run(["gdalbuildvrt", "-q", tmp_path / "theirs.vrt", second, first], check=True)
    with rasterio.open(tmp_path / "ours.tif") as ours, rasterio.open(tmp_path / "theirs.vrt") as theirs:
        assert np.array_equal(ours.read(1), theirs.read(1)) and (ours.read(1) == -9999).any()


def test_palettes_and_pictures_stay_what_they_are(tmp_path: Path) -> None:
    paths = [tif(tmp_path / f"{i}.tif", np.full((4, 4), i, "uint8"), west=4 * i) for i in range(2)]
    for path in paths:
        with rasterio.open(path, "r+") as target:
            target.write_colormap(1, {0: (255, 0, 0, 255), 1: (0, 0, 255, 255)})
    notes = mosaic(paths, tmp_path / "out.tif")
    assert "taken as that" in notes[1]
    with rasterio.open(tmp_path / "out.tif") as made:
        assert made.colormap(1)[1] == (0, 0, 255, 255) and made.read(1)[0].tolist() == [0] * 4 + [1] * 4


@pytest.mark.parametrize(
    ("other", "said"),
    [
        ({"crs": "EPSG:32625"}, "b.tif is in another projection than a.tif"),
        ({"transform": from_origin(5, 10, 2, 2)}, "The pixels of b.tif are of another size"),
        ({"transform": rasterio.Affine(1, 0.2, 5, 0, -1, 10)}, "b.tif is turned or upside down"),
        ({"values": np.zeros((2, 4, 4), "uint8")}, "b.tif has other bands"),
        ({"values": np.zeros((4, 4), "float32")}, "b.tif has other bands"),
        ({"transform": from_origin(9e6, 10, 1, 1)}, "pixels. Do they lie beside one another?"),
    ],
)
def test_what_does_not_fit_is_named(other: dict[str, Any], said: str, tmp_path: Path) -> None:
    first = tif(tmp_path / "a.tif", np.zeros((4, 1000 if "beside" in said else 4), "uint8"))
    second = tif(
        tmp_path / "b.tif", other.pop("values", np.zeros((1000 if "beside" in said else 4, 4), "uint8")), **other
    )
    with pytest.raises(BadFile, match=said.replace("?", r"\?")):
        mosaic([first, second], tmp_path / "out.tif")
    assert sorted(path.name for path in tmp_path.iterdir()) == ["a.tif", "b.tif"]


def test_one_is_no_mosaic(demo: Path, tmp_path: Path) -> None:
    with pytest.raises(BadFile, match="two rasters or more"):
        mosaic([demo / "relief.tif"], tmp_path / "out.tif")


def test_what_is_said_to_hold_nothing_hides_nothing_of_another(tmp_path: Path) -> None:
    """Scenes of a survey lie askew in frames of one value, and do not say that it stands for nothing."""
    left, right = np.full((4, 6), 7, "uint16"), np.full((4, 6), 9, "uint16")
    left[:, 4:] = right[:, :1] = 255
    scenes = [tif(tmp_path / "left.tif", left), tif(tmp_path / "right.tif", right, west=3)]
    mosaic(scenes, tmp_path / "as_they_are.tif")
    notes = mosaic(scenes, tmp_path / "said.tif", nodata=255)
    with rasterio.open(tmp_path / "as_they_are.tif") as bare, rasterio.open(tmp_path / "said.tif") as said:
        assert bare.read(1)[0].tolist() == [7, 7, 7, 7, 255, 255, 9, 9, 9]
        assert said.read(1)[0].tolist() == [7, 7, 7, 7, 9, 9, 9, 9, 9] and said.nodata == 255
    assert len(notes) == 1


def test_pixels_that_hold_nothing_can_be_said_by_hand(tmp_path: Path) -> None:
    """In the preview, and in what is kept; the file that was sent stays as it is."""
    scene = tif(tmp_path / "scene.tif", np.array([[0, 0, 5], [0, 6, 7]], "uint16"))
    plain, said = (preview(scene, "scene.tif", Corrections(nodata=nodata)) for nodata in (None, 0.0))
    assert plain.raster and said.raster and plain.look and said.look
    assert (plain.raster["nodata"], said.raster["nodata"]) == (None, 0.0)
    assert (plain.look.bands[0].missing, said.look.bands[0].missing) == (0.0, 0.5)
    info = keep_as_cog(scene, tmp_path / "kept.tif", nodata=0)
    assert info.nodata == 0 and info.first_band.minimum == 5
    with rasterio.open(scene) as sent:
        assert sent.nodata is None
    for no_value in (-1.0, 0.5, 70_000.0):
        with pytest.raises(BadFile, match="No pixel of type uint16 holds"):
            keep_as_cog(scene, tmp_path / "never.tif", nodata=no_value)
