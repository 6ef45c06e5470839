"""Colours of categories given out so that neighbours on the map look unlike."""

import itertools
from dataclasses import replace
from pathlib import Path

import numpy as np
import pyarrow as pa
import pytest
import shapely
from coloraide import Color
from greylatch.colour.difference import VISIONS, seen_as
from greylatch.colour.ramps import ramp_colours
from greylatch.encodings.by_category import Category, ColourByCategory
from greylatch.encodings.neighbours import neighbouring, parted
from greylatch.errors import BadInput
from greylatch.formats.files import read_file
from greylatch.tables.dataset import Dataset

from tests.open_data import open_data


def board(words: str) -> Dataset:
    """Squares in a row, each of a category."""
    n = len(words)
    return Dataset(pa.table({"c": list(words)}), "areas", shapely.box(np.arange(n), 0, np.arange(1, n + 1), 1))


def worst(a: str, b: str) -> float:
    """How far two colours are apart, by coloraide's own measure in OKLab."""
    return min(Color(seen_as(a, vision)).delta_e(seen_as(b, vision), method="ok") for vision in VISIONS)


def test_neighbours_get_the_colours_that_are_furthest_apart() -> None:
    """Against every order there is, of five categories."""
    colours = ["#b03020", "#b84030", "#2050a0", "#2858a8", "#e0d040"]
    data = board("abababcdcdcdeabcdeae")
    given = ColourByCategory(
        field="c", categories=[Category(values=[c], colour=colour) for c, colour in zip("abcde", colours, strict=True)]
    )
    first, second = neighbouring(data)
    pairs = [(data.columns["c"][i].as_py(), data.columns["c"][j].as_py()) for i, j in zip(first, second, strict=True)]

    def cost(order: tuple[str, ...]) -> float:
        own = dict(zip("abcde", order, strict=True))
        return sum(np.exp(-worst(own[a], own[b]) / 0.08) for a, b in pairs if a != b)

    out = [category.colour or "" for category in parted(data, given).categories]
    assert sorted(out) == sorted(colours)
    assert cost(tuple(out)) == pytest.approx(min(map(cost, itertools.permutations(colours))))


def test_countries_of_the_world_are_parted(tmp_path: Path) -> None:
    """Open data: the countries of world-atlas (npm), by the first letter of their names."""
    content, name = open_data("countries", tmp_path)
    (tmp_path / name).write_bytes(content)
    data = read_file(tmp_path / name).dataset
    letters = pa.array([str(country)[0] for country in data.columns["name"].to_pylist()])
    data = replace(data, columns=data.columns.append_column("letter", letters))
    before = ColourByCategory(field="letter", categories=[Category(values=[each]) for each in "ABCEGIMNST"])
    after = parted(data, before)
    assert len({category.colour for category in after.categories}) == 10
    pairs = np.transpose(neighbouring(data)).tolist()
    names = letters.to_pylist()

    def cost(encoding: ColourByCategory) -> float:
        own = {each.values[0]: each.colour or "" for each in encoding.categories}
        both = [(names[i], names[j]) for i, j in pairs if names[i] in own and names[j] in own and names[i] != names[j]]
        return sum(np.exp(-worst(own[a], own[b]) / 0.08) for a, b in both)

    by_place = zip(before.categories, ramp_colours(before.ramp, 10), strict=True)
    first = before.model_copy(
        update={"categories": [each.model_copy(update={"colour": colour}) for each, colour in by_place]}
    )
    assert cost(parted(data, after)) <= cost(after) < 0.7 * cost(first)


def test_points_and_lines_have_neighbours_and_odd_ones_are_told() -> None:
    line = Dataset(pa.table({"c": list("abc")}), "points", shapely.points([0.0, 2, 1], 0))
    assert sorted(map(tuple, np.transpose(neighbouring(line)).tolist())) == [(0, 2), (1, 2)]
    square = Dataset(pa.table({"c": list("abcd")}), "points", shapely.points([0.0, 1, 1, 0], [0.0, 0, 1, 1]))
    assert len(neighbouring(square)[0]) == 5
    crossing = shapely.linestrings([[[0, 0], [1, 1]], [[0, 1], [1, 0]], [[5, 5], [6, 6]]])
    assert [rows.tolist() for rows in neighbouring(Dataset(pa.table({"c": list("abc")}), "lines", crossing))] == [
        [0],
        [1],
    ]
    with pytest.raises(BadInput, match="fewer than three"):
        parted(board("ab"), ColourByCategory(field="c"))
    many = Dataset(
        pa.table({"c": [f"c{i}" for i in range(80)]}), "areas", shapely.box(np.arange(80), 0, np.arange(1, 81), 1)
    )
    named = ColourByCategory(field="c", categories=[Category(values=[f"c{i}"]) for i in range(80)])
    with pytest.raises(BadInput, match="80 categories"):
        parted(many, named)
    apart = Dataset(pa.table({"c": list("abc")}), "areas", shapely.box(np.arange(3) * 5, 0, np.arange(3) * 5 + 1, 1))
    with pytest.raises(BadInput, match="No two categories"):
        parted(apart, ColourByCategory(field="c"))
