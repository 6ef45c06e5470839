"""Classes of values that count differently, rounded limits, and classes of rasters, against values repeated as often as they count
(mapclassify and numpy are the referees)."""

from __future__ import annotations

from pathlib import Path

import mapclassify
import numpy as np
import pyarrow as pa
import pytest
import rasterio
from greylatch.classes.classify import classify
from greylatch.classes.nice import nice_breaks
from greylatch.classes.values import numbers_of
from greylatch.errors import BadInput
from greylatch.rasters.values import MOST, band_values
from greylatch.tables.dataset import Dataset

RNG = np.random.default_rng(17)
VALUES = RNG.lognormal(3, 1, 400).round(2)
PEOPLE = RNG.integers(0, 9, 400).astype(float)
REPEATED = np.repeat(VALUES, PEOPLE.astype(int))


def test_weighted_natural_breaks_are_those_of_repeated_values() -> None:
    ours = classify(VALUES, "natural-breaks", 5, weights=PEOPLE)
    referee = mapclassify.FisherJenks(REPEATED, 5)
    assert ours.breaks[:-1] == pytest.approx(referee.bins[:-1])
    assert ours.fit == pytest.approx(classify(REPEATED, "natural-breaks", 5).fit)


@pytest.mark.parametrize("method", ["standard-deviation", "head-tail", "equal-interval", "geometric", "pretty"])
def test_other_methods_weigh_as_if_values_were_repeated(method: str) -> None:
    ours = classify(VALUES, method, 5, weights=PEOPLE)  # type: ignore[arg-type]
    there = classify(REPEATED, method, 5)  # type: ignore[arg-type]
    assert ours.breaks[:-1] == pytest.approx(there.breaks[:-1])


def test_weighted_quantiles_hold_as_many_people_each() -> None:
    ours = classify(VALUES, "quantile", 4, weights=PEOPLE)
    expected = np.quantile(REPEATED, [0.25, 0.5, 0.75], method="inverted_cdf")
    assert ours.breaks[:-1] == pytest.approx(expected)
    held = np.bincount(ours.index, weights=PEOPLE)
    assert held == pytest.approx(np.full(4, PEOPLE.sum() / 4), abs=PEOPLE.max())
    assert classify(VALUES, "quantile", 4, weights=np.ones(400)).n == 400


def test_a_value_that_counts_for_nothing_has_a_class_but_no_part_in_the_limits() -> None:
    values, weights = np.array([1.0, 2, 3, 4, 100]), np.array([1.0, 1, 1, 1, 0])
    ours = classify(values, "equal-interval", 3, weights=weights)
    assert ours.breaks == [2, 3, 100]
    assert ours.index.tolist() == [0, 0, 1, 2, 2]
    missing = classify(values, "equal-interval", 3, weights=np.array([1.0, 1, 1, 1, np.nan]))
    assert missing.breaks == ours.breaks
    with pytest.raises(BadInput, match="Row 2 has a weight below zero"):
        classify(values, "quantile", 2, weights=np.array([1.0, -1, 1, 1, 1]))
    with pytest.raises(BadInput, match="zero or missing"):
        classify(values, "quantile", 2, weights=np.zeros(5))


def test_nice_limits_are_round_near_and_rising() -> None:
    for scale in (1e-6, 0.01, 1.0, 1e4, 1e9):
        for method in ("natural-breaks", "quantile", "standard-deviation"):
            values = VALUES * scale
            rough = classify(values, method, 6)
            low, limits = nice_breaks(values.min(), np.array(rough.breaks))
            assert low <= values.min() and np.isclose(low, values.min(), atol=0.2 * (rough.breaks[0] - values.min()))
            widths = np.diff([values.min(), *rough.breaks])
            assert (np.diff(limits) > 0).all()
            narrow = np.minimum(widths[:-1], widths[1:])
            assert (np.abs(limits - rough.breaks)[:-1] <= 0.2 * narrow * (1 + 1e-9)).all()
            assert limits[-1] >= values.max()
            # Nobody has to say more digits than a limit's neighbours ask for.
            assert max(len(f"{limit:.12g}".replace("0", "").replace(".", "").split("e")[0]) for limit in limits) <= 3


def test_rounding_says_what_it_moves() -> None:
    rough = classify(VALUES, "quantile", 5)
    nice = classify(VALUES, "quantile", 5, nice=True)
    moved = int((rough.index != nice.index).sum())
    assert f"Rounded: {moved} values in another class, fit {rough.fit:.3f} before and {nice.fit:.3f} now." in nice.note
    assert classify(VALUES, "manual", limits=[9.87, 300], nice=True).breaks[0] == 9.87
    low, limits = nice_breaks(-4.2, np.array([-0.3, 0.4, 11.0]))
    assert (low, limits.tolist()) == (-4.5, [-0.2, 0.5, 12.0])
    assert nice.classes[0].lower == nice_breaks(VALUES.min(), np.array(rough.breaks))[0]


def test_an_expression_stands_where_a_field_can() -> None:
    data = Dataset(
        pa.table({"t": [10, 4, None], "ha": [4, 0, 2], "t / ha": [7.0, 7, 7], "isle": ["a", "b", "c"]}), "table"
    )
    assert numbers_of(data, "t / ha").tolist() == [7, 7, 7], "a field of that name goes first"
    assert numbers_of(data, "t / ha * 1").tolist()[:2] == [2.5, pytest.approx(np.nan, nan_ok=True)]
    for text, said in (
        ("tt", "There is no field 'tt'"), ("t / hha", "Is 'ha' meant?"), ("t +", "missing at the end"),
        ("upper(isle)", "This comes to a text. Expected a number"), ("isle", "holds text, not numbers"),
    ):  # fmt: skip
        with pytest.raises(BadInput, match=said.replace("?", r"\?")):
            numbers_of(data, text)


def test_the_numbers_of_a_band_are_taken_evenly(tmp_path: Path) -> None:
    def written(name: str, height: int, width: int, kind: str = "float32", bands: int = 2) -> tuple[Path, np.ndarray]:
        pixels = RNG.normal(50, 10, (bands, height, width)).astype(kind)
        pixels[:, 0, 0] = 0
        profile = {"driver": "GTiff", "height": height, "width": width, "count": bands, "dtype": kind, "nodata": 0}
        transform = rasterio.transform.from_origin(-27, 52, 0.001, 0.001)
        with rasterio.open(tmp_path / name, "w", crs="EPSG:4326", transform=transform, **profile) as out:
            out.write(pixels)
        return tmp_path / name, pixels

    path, pixels = written("small.tif", 700, 90)
    values, note = band_values(path, 2)
    assert note == "" and np.isnan(values[0])
    assert values[1:].tolist() == pixels[1].ravel()[1:].tolist()
    path, pixels = written("large.tif", 4_100, 2_000, "int16", 1)
    values, note = band_values(path)
    step = int(np.ceil(np.sqrt(4_100 * 2_000 / MOST)))
    assert note == f"Of every {step} × {step} pixels one was taken."
    assert values[1:].tolist() == pixels[0, ::step, ::step].ravel()[1:].tolist()
    with pytest.raises(BadInput, match="has one band, and band 2"):
        band_values(path, 2)
    path, _ = written("complex.tif", 9, 9, "complex64", 1)
    with pytest.raises(BadInput, match="complex numbers"):
        band_values(path)
