"""How keys say the limits of classes of whole numbers. Referee: pandas, which puts every number into the class whose words it fits."""

import numpy as np
import pandas as pd
import pyarrow as pa
import pytest
from greylatch.encodings.by_classes import ColourByClasses
from greylatch.sheet.parts import Classing
from greylatch.tables.dataset import Dataset


def texts(values: list[float], **classing: object) -> tuple[list[str], list[int]]:
    data = Dataset(pa.table({"n": values}), "areas")
    steps = ColourByClasses(classing=Classing.model_validate({"field": "n", **classing})).encode(data).steps
    return [step.text for step in steps], [step.count for step in steps]


@pytest.mark.parametrize("method", ["quantile", "equal-interval", "geometric", "head-tail", "standard-deviation", "natural-breaks"])  # fmt: skip
def test_limits_between_two_whole_numbers_are_said_as_the_lower_one(method: str) -> None:
    """Found with airports by hexagon: '2.6 – 10.2' of them. A limit of 22.8 was said as 23, though those with 23 were in the next class."""
    values = np.random.default_rng(4).lognormal(4, 1.2, 300).round() + 1
    words, counts = texts(values.tolist(), method=method)
    assert all("." not in each for each in words)
    ends = [int(each.split(" – ")[-1].replace(",", "")) for each in words]
    said = pd.cut(values, [0, *ends], labels=False)
    assert np.bincount(said, minlength=len(ends)).tolist() == counts, "whoever reads the key counts the same"


def test_limits_are_as_they_are_where_they_say_more() -> None:
    assert texts([1.5, 2, 3, 9.25], method="equal-interval", classes=2)[0] == ["1.5 – 5.4", "5.4 – 9.2"]
    assert texts([1, 2, 3, 9], method="manual", breaks=[2.5, 9], classes=2)[0] == ["1.0 – 2.5", "2.5 – 9.0"], (
        "as they were typed"
    )
    assert texts([1, 2, 3, 9], method="equal-interval", classes=2)[0] == ["1 – 5", "5 – 9"]
    assert texts([0, 1, 1, 2], method="equal-interval", classes=3)[0] == [
        "0.00 – 0.67",
        "0.67 – 1.33",
        "1.33 – 2.00",
    ], "too close"
