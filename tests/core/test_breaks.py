"""Class breaks against reference libraries, published values and brute force."""

import itertools
import warnings

import mapclassify
import numpy as np
import pytest
from greylatch.classes.breaks import breaks
from greylatch.classes.classify import NO_DATA, assign, classify, fit, within_sum_of_squares
from greylatch.classes.methods import METHODS
from greylatch.classes.natural import natural_breaks
from greylatch.errors import BadInput
from hypothesis import example, given, settings
from hypothesis import strategies as st
from hypothesis.extra.numpy import arrays

# The 58 employment rates that mapclassify ships (PyPI, BSD); five classes computed with that library on 2026-11-24.
RATES = mapclassify.load_example().to_numpy().astype(float)
PUBLISHED = {
    "natural-breaks": ([75.29, 192.05, 370.5, 722.85, 4111.45], [49, 3, 4, 1, 1]),
    "quantile": ([1.464, 5.798, 13.278, 54.616, 4111.45], [12, 11, 12, 11, 12]),
    "equal-interval": ([822.394, 1644.658, 2466.922, 3289.186, 4111.45], [57, 0, 0, 0, 1]),
}


@pytest.mark.parametrize("method", PUBLISHED)
def test_five_classes_of_employment_rates(method: str) -> None:
    limits, counts = PUBLISHED[method]
    found = classify(RATES, method, 5)  # type: ignore[arg-type]
    assert found.breaks == pytest.approx(limits, abs=0.0006)
    assert [one.count for one in found.classes] == counts


def test_head_tail_as_mapclassify() -> None:
    assert breaks(RATES, "head-tail", 64) == pytest.approx(mapclassify.HeadTailBreaks(RATES).bins)


def test_standard_deviation_as_mapclassify() -> None:
    """Limits half a deviation and one and a half from the mean, as an odd number of classes has them. mapclassify takes the
    sample's deviation, so its own is scaled to the population's."""
    n = len(RATES)
    theirs = mapclassify.StdMean(RATES, multiples=[m * np.sqrt((n - 1) / n) for m in (-1.5, -0.5, 0.5, 1.5)]).bins
    ours = breaks(RATES, "standard-deviation", 5)
    assert ours == pytest.approx([limit for limit in theirs if limit >= RATES.min()])


@pytest.mark.parametrize("k", [2, 3, 4])
def test_natural_breaks_are_the_optimum(k: int) -> None:
    """Fisher (1958): the least within-class sum of squares, here found by trying every partition."""
    rng = np.random.default_rng(k)
    for _ in range(20):
        values = np.sort(rng.lognormal(size=12).round(2))
        if len(np.unique(values)) < k:
            continue
        best = min(
            sum(((part - part.mean()) ** 2).sum() for part in np.split(values, cuts))
            for cuts in itertools.combinations(range(1, len(values)), k - 1)
        )
        ours = within_sum_of_squares(values, assign(values, natural_breaks(values, k)))
        assert ours == pytest.approx(best)


def test_natural_breaks_are_no_worse_than_fisher_jenks() -> None:
    values = np.random.default_rng(3).lognormal(size=2000)
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        theirs = mapclassify.FisherJenks(values, k=6)
    ours = natural_breaks(values, 6)
    assert within_sum_of_squares(values, assign(values, ours)) <= within_sum_of_squares(
        values, assign(values, theirs.bins)
    ) * (1 + 1e-12)


def test_natural_breaks_of_large_close_values() -> None:
    """A million apart from zero by 1e9 and from each other by one: prefix sums must not cancel."""
    values = 1e9 + np.repeat([0.0, 1.0, 10.0, 11.0, 30.0], 7)
    assert natural_breaks(values, 3).tolist() == [1e9 + 1, 1e9 + 11, 1e9 + 30]


def test_a_value_on_a_break_belongs_to_the_class_below() -> None:
    found = classify(np.array([0.0, 10, 10, 20, 20.001]), "manual", limits=[10, 20, 30])
    assert found.index.tolist() == [0, 0, 0, 1, 2]
    assert found.classes[0].lower == 0


def test_no_data_is_counted_apart() -> None:
    found = classify(np.array([1.0, np.nan, 2, np.inf, -np.inf, 3]), "equal-interval", 2)
    assert (found.missing, found.n) == (3, 3)
    assert found.index.tolist() == [0, NO_DATA, 0, NO_DATA, NO_DATA, 1]


def test_pretty_limits_are_round() -> None:
    """Common practice: multiples of 1, 2, 2.5 or 5 times a power of ten."""
    limits = breaks(np.array([0.3, 12, 40, 61, 97.2]), "pretty", 5)
    assert limits.tolist() == [20, 40, 60, 80, 100]
    assert breaks(np.append(np.linspace(0.1, 0.7, 9), 0.72), "pretty", 6).tolist() == [
        0.2,
        0.3,
        0.4,
        0.5,
        0.6,
        0.7,
        0.8,
    ]


def test_geometric_is_a_progression() -> None:
    limits = breaks(np.array([1.0, 16.0, 3.0, 5.0]), "geometric", 4)
    assert limits == pytest.approx([2, 4, 8, 16])


def test_fit_is_one_for_perfect_classes() -> None:
    assert fit(np.array([1.0, 1, 5, 5]), np.array([0, 0, 1, 1], dtype=np.uint8)) == 1


@pytest.mark.parametrize(
    ("values", "method", "k", "words"),
    [
        ([], "quantile", 5, "every value is missing"),
        ([1, 2, 2], "natural-breaks", 4, "only 2 distinct values"),
        ([-1, 2, 5], "geometric", 2, "above zero"),
        ([1, 2, 3], "quantile", 0, "between 1 and 64"),
    ],
)
def test_bad_input_is_named(values: list[float], method: str, k: int, words: str) -> None:
    with pytest.raises(BadInput, match=words):
        classify(np.array(values, dtype=float), method, k)  # type: ignore[arg-type]


@pytest.mark.parametrize("method", METHODS)
def test_numbers_too_large_to_square_are_named(method: str) -> None:
    with pytest.raises(BadInput, match=r"Row 3 has -1e\+308: numbers beyond ±1e\+150"):
        classify(np.array([np.nan, 50.0, -1e308, 51.0]), method, 2, [51.0])  # type: ignore[arg-type]


def test_breaks_by_hand_must_rise() -> None:
    with pytest.raises(BadInput, match="Break 2 .* is not above"):
        classify(np.array([1.0, 2]), "manual", limits=[3, 3])


def test_one_value_only_makes_one_class() -> None:
    assert classify(np.full(9, 7.0), "quantile", 5).breaks == [7]


@settings(deadline=None, max_examples=150)
@given(
    arrays(np.float64, st.integers(2, 60), elements=st.floats(-1e6, 1e6, width=32)),
    st.sampled_from([m for m in METHODS if m not in ("manual", "geometric")]),
    st.integers(1, 7),
)
def test_every_number_falls_in_exactly_one_class(values: np.ndarray, method: str, k: int) -> None:
    distinct = len(np.unique(values))
    if distinct < k:
        return
    found = classify(values, method, k)  # type: ignore[arg-type]
    assert sum(one.count for one in found.classes) == len(values)
    assert np.all(np.diff(found.breaks) > 0) if len(found.breaks) > 1 else True
    assert found.breaks[-1] >= values.max() - 1e-9
    assert 0 <= found.fit <= 1 + 1e-9


def least_sum_of_squares(values: np.ndarray, k: int) -> float:
    """Fisher (1958), the plain recurrence over all distinct values and all last classes: slow, and with nothing left out."""
    x, counts = np.unique(values, return_counts=True)
    weight, total, square = (np.concatenate([[0.0], np.cumsum(p)]) for p in (counts, counts * x, counts * x * x))
    i, j = np.arange(len(x))[:, None], np.arange(len(x))[None, :] + 1
    with np.errstate(divide="ignore", invalid="ignore"):
        cost = square[j] - square[i] - (total[j] - total[i]) ** 2 / (weight[j] - weight[i])
    cost[i >= j] = np.inf
    best = cost[0]
    for _ in range(k - 1):
        best = np.min(np.concatenate([[np.inf], best[:-1]])[:, None] + cost, axis=0)
    return float(best[-1])


SHAPES = {
    "lognormal": lambda rng, n: rng.lognormal(size=n),
    "even": lambda rng, n: rng.random(n),
    "heavy tail": lambda rng, n: rng.pareto(1.2, size=n),
    "many ties": lambda rng, n: rng.exponential(size=n).round(1),
    "clusters": lambda rng, n: rng.normal(rng.integers(0, 4, n) * 10.0, 0.1),
    "one far away": lambda rng, n: np.append(rng.normal(size=n - 1), 1e4),
}


@pytest.mark.parametrize("shape", SHAPES)
@pytest.mark.parametrize("k", [2, 5, 9])
def test_natural_breaks_are_the_optimum_where_most_places_are_never_tried(shape: str, k: int) -> None:
    for seed in range(4):
        values = SHAPES[shape](np.random.default_rng(seed), 700)
        found = classify(values, "natural-breaks", k)
        ours = within_sum_of_squares(values, found.index)
        assert ours <= least_sum_of_squares(values, k) * (1 + 1e-7) + 1e-9


@given(
    st.lists(st.floats(allow_nan=False, allow_infinity=False), min_size=3, max_size=60, unique=True), st.integers(1, 6)
)
@example([-1e308, 50.1, 50.5, 51.1, 52.0, 54.3, 54.4], 3)  # one spoiled number in a column ended the process
@example([5e-324, 1e-310, 1.7e308, -1.7e308], 4)
def test_natural_breaks_of_any_numbers_that_there_are(values: list[float], k: int) -> None:
    k = min(k, len(values))
    limits = natural_breaks(np.array(values), k)
    assert len(limits) == k and limits[-1] == max(values) and (np.diff(limits) > 0).all()
