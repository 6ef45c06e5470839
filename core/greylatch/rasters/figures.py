"""What the numbers of a band come to: the ends of a stretch, classes, the values that there are. Each raster is read for it once."""

from dataclasses import dataclass, replace
from functools import lru_cache
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from greylatch.classes.classify import Classification, classify
from greylatch.errors import BadInput
from greylatch.rasters.info import raster_info
from greylatch.rasters.values import band_values
from greylatch.sheet.parts import Limits
from greylatch.sheet.symbology import RasterRamp

__all__ = ["ValueCount", "band_classes", "band_numbers", "percentiles", "stretch_ends", "values_there"]

DEVIATIONS = 2.0
"""Standard deviations on either side of the mean at which a ramp of that stretch ends. Common practice, no source."""
MOST_VALUES = 256


@dataclass(frozen=True)
class ValueCount:
    """A value of a raster, and how many of the pixels that were looked at have it."""

    value: float
    count: int


def stretch_ends(path: str, symbology: RasterRamp) -> tuple[float, float]:
    """The values at both ends of the ramp: those given, or found in the band as the stretch says.

    Parameters
    ----------
    path : str
        The file.
    symbology : RasterRamp
        How the layer is drawn.

    Returns
    -------
    tuple[float, float]

    Raises
    ------
    BadInput
        For a band that there is not, and one without a value.
    """
    if symbology.low is not None and symbology.high is not None:
        return symbology.low, symbology.high
    if symbology.stretch == "percentiles":
        low, high = percentiles(path, symbology.band)
    else:
        numbers = _numbers(path, symbology.band)
        least, greatest = float(numbers.min()), float(numbers.max())
        low, high = least, greatest
        if symbology.stretch == "deviations":
            mean, away = float(numbers.mean()), DEVIATIONS * float(numbers.std())
            low, high = max(least, mean - away), min(greatest, mean + away)
    return (symbology.low if symbology.low is not None else low), (
        symbology.high if symbology.high is not None else high
    )


@lru_cache(maxsize=64)
def percentiles(path: str, band: int = 1) -> tuple[float, float]:
    """The 2nd and 98th percentile of a band.

    Parameters
    ----------
    path : str
        The file.
    band : int
        Counted from 1.

    Returns
    -------
    tuple[float, float]

    Raises
    ------
    BadInput
        For a band that there is not, and one without a value.
    """
    if band == 1:
        info = raster_info(path)
        if info.low is None or info.high is None:
            raise BadInput(f"{Path(path).name} holds no data at all.")
        return info.low, info.high
    low, high = np.percentile(_numbers(path, band), (2, 98))
    return float(low), float(high)


def band_classes(path: str, band: int, limits: Limits) -> Classification:
    """The classes of a band's values; no class number for each value, of which there are too many to be kept.

    Parameters
    ----------
    path : str
        The file.
    band : int
        Counted from 1.
    limits : Limits
        How numbers become classes.

    Returns
    -------
    Classification

    Raises
    ------
    BadInput
        As `classify` does, and for a band that there is not.
    """
    return _classified(path, band, limits.model_dump_json())


@lru_cache(maxsize=64)
def _classified(path: str, band: int, limits_json: str) -> Classification:
    limits = Limits.model_validate_json(limits_json)
    values, note = _read(path, band)
    upper = limits.breaks if limits.method == "manual" else None
    classification = classify(values, limits.method, limits.classes, upper, nice=limits.nice)
    notes = " ".join(part for part in (classification.note, note) if part)
    return replace(classification, index=np.empty(0, dtype=np.uint8), note=notes)


def values_there(path: str, band: int = 1) -> list[ValueCount]:
    """The values of a band of which there are few, rising, with how many of the pixels that were looked at have each.

    Parameters
    ----------
    path : str
        The file.
    band : int
        Counted from 1.

    Returns
    -------
    list[ValueCount]

    Raises
    ------
    BadInput
        For more than 256 different ones.
    """
    values, counts = np.unique(_numbers(path, band), return_counts=True)
    if len(values) > MOST_VALUES:
        raise BadInput(
            f"Band {band} has {len(values):,} different values; names are for at most {MOST_VALUES}.",
            "Put them into classes.",
        )
    return [ValueCount(float(value), int(count)) for value, count in zip(values, counts, strict=True)]


def band_numbers(path: str, band: int = 1) -> NDArray[np.float64]:
    """The values of a band that are looked at, NaN where there are no data.

    Parameters
    ----------
    path : str
        The file.
    band : int
        Counted from 1.

    Returns
    -------
    NDArray[np.float64]

    Raises
    ------
    BadInput
        For a band that there is not.
    """
    return _read(path, band)[0]


def _numbers(path: str, band: int) -> NDArray[np.float64]:
    values = band_numbers(path, band)
    numbers = values[np.isfinite(values)]
    if not len(numbers):
        raise BadInput(f"Band {band} of {Path(path).name} holds no data at all.")
    return numbers


@lru_cache(maxsize=2)
def _read(path: str, band: int) -> tuple[NDArray[np.float64], str]:
    """A break that is dragged asks for them again and again."""
    return band_values(path, band)
