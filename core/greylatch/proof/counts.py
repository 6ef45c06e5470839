"""Telling totals, which grow with an area, from rates, which do not."""

import re

import numpy as np
from numpy.typing import NDArray

RATES = frozenset(
    [
        "percent",
        "pct",
        "percentage",
        "share",
        "rate",
        "ratio",
        "density",
        "mean",
        "average",
        "avg",
        "median",
        "index",
        "per",
        "temperature",
        "depth",
        "height",
        "score",
        "income",
        "wage",
        "salary",
        "rent",
        "price",
        "cost",
        "age",
        "capita",
        "head",
        "intensity",
        "speed",
        "elevation",
        "altitude",
        "slope",
        "level",
        "grade",
        "rank",
        "year",
        "code",
        "id",
        "fips",
        "zip",
        "lat",
        "lon",
        "latitude",
        "longitude",
        "gdp_pc",
        "ph",
    ]
)


def looks_like_count(name: str, values: NDArray[np.float64]) -> bool:
    """Whether a field is probably a count or an amount: whole, or large, non-negative numbers not named as a rate, as a measure
    (income, age, height) or as what only tells things apart (a year, a code).

    Common practice, no source: amounts are not named per something, are never negative, and are whole or run past 100.

    >>> looks_like_count("carbon_t", np.array([1200.0, 88.0])), looks_like_count("drained_percent", np.array([12.0, 88.0]))
    (True, False)
    """
    numbers = values[np.isfinite(values)]
    named_as_rate = bool(RATES & set(re.split(r"[^a-z]+", name.lower()))) or "%" in name
    if len(numbers) == 0 or named_as_rate or bool((numbers < 0).any()):
        return False
    return bool((numbers == np.round(numbers)).all()) or float(numbers.max()) > 100
