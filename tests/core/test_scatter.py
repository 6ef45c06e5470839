"""Two classifications as a picture of pairs. Referee: pandas, which cuts and counts by itself."""

import json
from pathlib import Path

import numpy as np
import pandas as pd
import pyarrow as pa
import pytest
from greylatch.encodings.scatter import MOST, scatter
from greylatch.encodings.suiting import another_number
from greylatch.encodings.two_way import ColourByTwo, square_colours
from greylatch.errors import BadInput
from greylatch.formats.files import read_file
from greylatch.sheet.parts import Classing
from greylatch.tables.dataset import Dataset


def table(n: int, seed: int = 1) -> Dataset:
    rng = np.random.default_rng(seed)
    a, b = rng.gamma(2, 10, n), rng.normal(50, 9, n)
    a[::17], b[::23] = np.nan, np.nan
    return Dataset(pa.table({"a": pa.array(a, from_pandas=True), "b": pa.array(b, from_pandas=True)}), "table")


def two(across: int = 3, up: int = 4, **first: object) -> ColourByTwo:
    return ColourByTwo(
        first=Classing.model_validate({"field": "a", "method": "quantile", "classes": across, **first}),
        second=Classing(field="b", method="equal-interval", classes=up),
    )


def test_counts_and_cells_are_those_of_pandas() -> None:
    data, encoding = table(900), two()
    shown = scatter(data, encoding)
    frame = data.columns.to_pandas().dropna()
    first = pd.cut(frame.a, shown.first, include_lowest=True, labels=False)
    second = pd.cut(frame.b, shown.second, include_lowest=True, labels=False)
    cells = first + 3 * second
    assert shown.counts == cells.value_counts().reindex(range(12), fill_value=0).tolist()
    assert shown.cell == cells.tolist()
    assert (shown.x, shown.y) == (frame.a.tolist(), frame.b.tolist())
    assert shown.of == len(frame) and shown.missing == 900 - len(frame)


def test_colours_are_those_of_the_map() -> None:
    data, encoding = table(200), two()
    shown, encoded = scatter(data, encoding), encoding.encode(data)
    assert shown.colours == [step.colour for step in encoded.steps]
    assert shown.cell == encoded.step[encoded.step >= 0].tolist()
    assert shown.counts == [step.count for step in encoded.steps]
    assert shown.colours[0] == square_colours(encoding.corners, 3, 4)[0][0]


def test_limits_set_by_hand_stand_as_they_are() -> None:
    shown = scatter(table(200), two(method="manual", breaks=[10.5, 30, 300]))
    assert shown.first[1:] == [10.5, 30, 300]


def test_a_limit_is_moved_as_finely_as_its_neighbours_let_it_be_seen() -> None:
    shown = scatter(table(200), two(method="manual", breaks=[10.5, 30, 300]))
    low = shown.first[0]
    assert low < 10.5 and shown.first_steps == [0.1, 1.0, 0.0], "of the last nothing: it stays"
    assert len(shown.second_steps) == len(shown.second) - 1


def test_of_many_pairs_some_are_shown_and_all_are_counted() -> None:
    data, encoding = table(20_000), two()
    shown = scatter(data, encoding)
    assert len(shown.x) == MOST and sum(shown.counts) == shown.of > 17_000
    assert scatter(data, encoding) == shown
    frame = data.columns.to_pandas().dropna()
    # Every so manieth from the first to the last.
    assert (shown.x[0], shown.x[-1]) == (frame.a.iloc[0], frame.a.iloc[-1])


def test_nothing_to_compare_is_said() -> None:
    empty = Dataset(pa.table({"a": pa.array([None, None], pa.float64()), "b": [1.0, 2.0]}), "table")
    with pytest.raises(BadInput, match="a"):
        scatter(empty, two())


def test_a_second_field_is_no_place_and_no_identifier(tmp_path: Path) -> None:
    """Found by pressing: wells by their water table and their longitude."""
    rows = [
        {"well": 1000 + i, "lon": -27 + i / 50, "lat": 52 + i / 90, "depth": i % 7 + 0.5, "ph": 4 + i / 40}
        for i in range(30)
    ]
    features = [
        {"type": "Feature", "properties": row, "geometry": {"type": "Point", "coordinates": [row["lon"], row["lat"]]}}
        for row in rows
    ]
    path = tmp_path / "wells.geojson"
    path.write_text(json.dumps({"type": "FeatureCollection", "features": features}))
    data = read_file(path).dataset
    assert another_number(data, "depth") == "ph"
    begun = ColourByTwo.begun(data, ["depth"])
    assert isinstance(begun, ColourByTwo) and begun.shown() == ["depth", "ph"]
    alone = Dataset(pa.table({"lon": [1.0, 2.0], "depth": [1.0, 2.0]}), "table")
    assert another_number(alone, "depth") == "lon" and another_number(alone, "lon") == "depth"
