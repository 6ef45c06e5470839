"""Doubts about numbers: shares beyond a hundred, rates of a handful, values far from all others."""

from collections.abc import Iterator

import numpy as np
import pyarrow as pa
from numpy.typing import NDArray

from greylatch.doubts.doubt import Doubt, about
from greylatch.doubts.mending import cleared
from greylatch.tables.dataset import Dataset, numbers
from greylatch.wording import counted, number_text

__all__ = ["few_cases", "outliers", "shares"]

HUNDRED, ROUNDING = 100.0, 1e-6
HANDFUL = 20
"""Cases below which a rate says little. Common practice."""
NEARLY_ALL = 0.95
FAR = 12.0
"""Robust standard deviations from the median beyond which a value is doubted: far more than any usual distribution has."""
FEWEST = 12
"""Rows from which on it can be said what is usual."""
SELDOM = 0.01
"""The share of rows up to which values are outliers: more of them are a part of the distribution."""
NORMAL = 1.4826
"""By which the median absolute deviation is a standard deviation, of a normal distribution (Hampel 1974)."""


def shares(dataset: Dataset) -> Iterator[Doubt]:
    """Percentages below 0 and above 100."""
    for name, values in _numeric(dataset):
        if dataset.meaning(name).unit != "%":
            continue
        beyond = (values > HUNDRED + ROUNDING) | (values < -ROUNDING)
        if beyond.any() and beyond.sum() < (1 - NEARLY_ALL) * len(values) + 1:
            yield about(
                dataset,
                "percentage",
                name,
                beyond,
                f"{counted(int(beyond.sum()), 'row')} with a percentage beyond 0 to 100 in '{name}'.",
                cleared(name),
            )


def few_cases(dataset: Dataset) -> Iterator[Doubt]:
    """Rates of a handful of cases: where a rate times some number of cases is whole in nearly every row, they are what it is a rate of."""
    numeric = dict(_numeric(dataset))
    rates = [name for name in numeric if dataset.meaning(name).kind == "rate"]
    counts = [name for name in numeric if dataset.meaning(name).kind == "count" and _whole(numeric[name])]
    for rate in rates:
        for per in (HUNDRED, 1.0, 1000.0):
            base = next((name for name in counts if _is_base(numeric[rate], numeric[name], per)), None)
            if base is None:
                continue
            few = (numeric[base] < HANDFUL) & (numeric[base] > 0) & np.isfinite(numeric[rate])
            if few.any():
                yield about(
                    dataset,
                    "few cases",
                    rate,
                    few,
                    f"'{rate}' is of fewer than {HANDFUL} in '{base}' in {counted(int(few.sum()), 'row')}.",
                )
            break


def outliers(dataset: Dataset) -> Iterator[Doubt]:
    """Values that lie far from all others, by the median and the median absolute deviation (Hampel 1974); of amounts, which are seldom
    even, by their logarithms."""
    for name, values in _numeric(dataset):
        if dataset.meaning(name).kind in ("identifier", "category"):
            continue
        known = values[np.isfinite(values)]
        if len(known) < FEWEST:
            continue
        skewed = known.min() > 0
        measure = np.log(np.where(values > 0, values, np.nan)) if skewed else values
        middle = np.nanmedian(measure)
        spread = NORMAL * np.nanmedian(np.abs(measure - middle))
        if not spread > 0:
            continue
        with np.errstate(invalid="ignore"):
            far = np.abs(measure - middle) > FAR * spread
        if far.any() and far.sum() <= max(1, SELDOM * len(known)):
            row = int(np.argmax(np.where(far, np.abs(measure - middle), -1)))
            yield about(
                dataset,
                "outlier",
                name,
                far,
                f"{values[row]:,.10g} in '{name}' lies far from all others, whose median is {number_text(np.nanmedian(values), digits=6)}.",
                cleared(name),
            )


def _numeric(dataset: Dataset) -> Iterator[tuple[str, NDArray[np.float64]]]:
    for name in dataset.columns.column_names:
        kind = dataset.columns[name].type
        if pa.types.is_integer(kind) or pa.types.is_floating(kind) or pa.types.is_decimal(kind):
            values = numbers(dataset.columns, name)
            # What stands for no value is another doubt.
            yield name, np.where(np.isin(values, dataset.meaning(name).missing), np.nan, values)


def _whole(values: NDArray[np.float64]) -> bool:
    known = values[np.isfinite(values)]
    return bool(len(known) and (known == np.round(known)).all())


def _is_base(rate: NDArray[np.float64], base: NDArray[np.float64], per: float) -> bool:
    """Whether rates are whole numbers of cases out of `base`, more surely than chance would have it: of few cases only, and to the figure."""
    known = np.isfinite(rate) & np.isfinite(base) & (base > 0) & (rate > 0)
    if known.sum() < FEWEST:
        return False
    cases = rate[known] * base[known] / per
    # A rate of so many decimals tells cases apart only where they are not too many.
    decimals = 10.0 ** -_decimals(rate[known])
    slack = np.maximum(ROUNDING, decimals / 2 * base[known] / per)
    telling = slack < 0.25
    if telling.sum() < FEWEST:
        return False
    return bool((np.abs(cases - np.round(cases))[telling] <= slack[telling]).mean() >= NEARLY_ALL)


def _decimals(values: NDArray[np.float64]) -> int:
    for decimals in range(7):
        if np.allclose(values, np.round(values, decimals), rtol=0, atol=1e-9):
            return decimals
    return 12
