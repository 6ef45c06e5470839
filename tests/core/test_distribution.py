"""Histograms of all numbers and of parts of them, along linear and logarithmic axes, with numpy as the referee."""

import numpy as np
import pyarrow as pa
import pytest
from greylatch.classes.distribution import distribution, step_of_hand
from greylatch.classes.values import values_of
from greylatch.sheet.parts import NormaliseByField
from greylatch.tables.dataset import Dataset

VALUES = np.append(np.random.default_rng(5).lognormal(3, 1.5, 4_000), [np.nan, np.inf, -2.0, 0.0])
FINITE = VALUES[np.isfinite(VALUES)]


def test_figures_are_of_all_whatever_part_is_shown() -> None:
    whole, part = distribution(VALUES), distribution(VALUES, low=10, high=50)
    for made in (whole, part):
        assert (made.n, made.missing, made.minimum, made.maximum) == (4_002, 2, -2.0, FINITE.max())
        assert made.mean == pytest.approx(FINITE.mean()) and made.median == pytest.approx(np.median(FINITE))


@pytest.mark.parametrize(("low", "high"), [(None, None), (10.0, 50.0), (None, 20.0), (100.0, None)])
def test_bars_of_a_part_are_numpys(low: float | None, high: float | None) -> None:
    made = distribution(VALUES, 32, low, high)
    inside = FINITE[((-np.inf if low is None else low) <= FINITE) & ((np.inf if high is None else high) >= FINITE)]
    counts, edges = np.histogram(inside, 32)
    assert made.counts == counts.tolist() and made.edges == pytest.approx(edges.tolist())


def test_a_logarithmic_axis_has_bars_that_grow_alike() -> None:
    made = distribution(VALUES, 20, logarithmic=True)
    steps = np.diff(np.log(made.edges))
    assert np.ptp(steps) < 1e-9
    assert sum(made.counts) == (FINITE > 0).sum()
    counts, _ = np.histogram(FINITE[FINITE > 0], made.edges)
    assert made.counts == counts.tolist()
    part = distribution(VALUES, 20, 5, 500, True)
    assert part.edges[0] >= 5 and part.edges[-1] <= 500


def test_a_hand_takes_round_values_as_close_as_it_can_point() -> None:
    """Of every histogram a bin, a few px wide, holds four to forty steps, each a power of ten."""
    for made in (
        distribution(VALUES),
        distribution(VALUES, 20, logarithmic=True),
        distribution(VALUES, low=10, high=50),
    ):
        steps, widths = np.array(made.steps), np.diff(made.edges)
        assert len(steps) == len(made.counts)
        assert (np.log10(steps) % 1 == 0).all() and ((widths / steps >= 4) & (widths / steps < 40)).all()
    assert distribution(np.array([7.0])).steps != [] and distribution(np.array([])).steps == []
    assert [step_of_hand(width) for width in (0.0, -1.0, float("inf"), float("nan"))] == [0, 0, 0, 0]


@pytest.mark.parametrize("values", [[-3.0, -1.0], [0.0], []])
def test_without_a_number_above_zero_there_is_no_bar(values: list[float]) -> None:
    assert distribution(np.array(values), logarithmic=True).counts == []


def test_one_number_alone_has_one_bar() -> None:
    assert distribution(np.array([7.0, 7.0]), logarithmic=True).counts == [2]
    assert distribution(np.array([7.0, 9.0]), low=8).counts == [1]


def test_rates_of_few_are_not_known() -> None:
    """8 of 10 is as good a rate as any; 1 of 1 says nothing. A handbook's rule, common practice, no source."""
    data = Dataset(pa.table({"sick": [8, 1, 0, 3], "people": [10, 1, 0, None]}), "table")
    percent = NormaliseByField(field="people", per=100)
    assert values_of(data, "sick", percent).tolist()[:2] == [80, 100]
    rated = values_of(data, "sick", percent.model_copy(update={"least": 5}))
    assert rated[0] == 80 and np.isnan(rated[1:]).all()
