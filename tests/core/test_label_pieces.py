"""Lines in pieces: what runs on under one name is lettered as one line."""

import numpy as np
import pyarrow as pa
import shapely
from greylatch.lettering.pieces import joined_pieces
from greylatch.paint.lettered import to_letter
from greylatch.paint.sources import VectorSource
from greylatch.places.crs import WEB_MERCATOR
from greylatch.sheet.lettering import HandLabel, LabelLine, Lettering
from greylatch.sheet.symbology import Symbols
from greylatch.symbols.ink import ink
from greylatch.tables.dataset import Dataset


def lines(*wkt: str) -> np.ndarray:  # type: ignore[type-arg]
    return np.array(shapely.from_wkt(list(wkt)), dtype=object)


def river(n: int, gap: float = 0.0) -> np.ndarray:  # type: ignore[type-arg]
    return np.array([shapely.LineString([(i * 10 + gap, 0), ((i + 1) * 10, 0)]) for i in range(n)], dtype=object)


def test_pieces_of_one_name_are_one_line_and_their_longest_carries_it() -> None:
    shapes = np.append(river(4), lines("LINESTRING (40 0, 75 0)", "LINESTRING (75 0, 80 5)"))
    out, carry = joined_pieces(shapes, ["Wend"] * 5 + ["Carrow"])
    assert carry.tolist() == [False, False, False, False, True, True]
    assert shapely.length(out[4]) == 75 and out[5].equals(shapes[5])
    assert joined_pieces(shapes, ["Wend"] * 5 + ["Carrow"], first={1})[1].tolist() == [False, True, *[False] * 3, True]


def test_ends_that_nearly_meet_are_one() -> None:
    """Found on strangers' lines: a topology's coordinates are whole numbers, and left gaps of 7 m at every station."""
    assert joined_pieces(river(12, gap=0.1), ["Wend"] * 12)[1].sum() == 1
    assert joined_pieces(river(12, gap=1.0), ["Wend"] * 12)[1].sum() == 12


def test_what_branches_or_stands_apart_is_several_lines() -> None:
    fork = lines("LINESTRING (0 0, 10 0)", "LINESTRING (10 0, 20 5)", "LINESTRING (10 0, 20 -5)")
    assert joined_pieces(fork, ["Wend"] * 3)[1].all()
    apart = lines("LINESTRING (0 0, 10 0)", "LINESTRING (50 0, 60 0)", "LINESTRING (60 0, 70 0)", "LINESTRING EMPTY")
    assert joined_pieces(apart, ["Wend", "Wend", "", "Wend"])[1].tolist() == [True, True, False, False]
    crossing = lines("LINESTRING (0 0, 10 0)", "LINESTRING (5 -5, 5 5)")
    assert joined_pieces(crossing, ["Wend"] * 2)[1].all()


def test_rows_of_several_pieces() -> None:
    rows = lines("MULTILINESTRING ((0 0, 10 0), (100 0, 104 0))", "LINESTRING (10 0, 30 0)")
    out, carry = joined_pieces(rows, ["Wend"] * 2)
    assert carry.all(), "the short piece stands apart and is lettered, too"
    assert shapely.length(out[1]) == 30 and shapely.length(out[0]) == 4


def test_many_lines_of_their_own_names_stay_as_they_are() -> None:
    shapes = river(1_000)
    out, carry = joined_pieces(shapes, [f"n{i}" for i in range(1_000)])
    assert carry.all() and (out == shapes).all()


def test_labels_that_follow_lines_ask_for_whole_ones() -> None:
    dataset = Dataset(pa.table({"name": ["Wend"] * 6}), "lines", river(6), WEB_MERCATOR)
    source, inked = VectorSource(dataset), ink(dataset, Symbols())
    line = LabelLine(text="{name}")
    asked = to_letter(source, inked, Lettering(lines=[line], course="curved"))
    assert [bool(text) for text in asked.texts] == [True, *[False] * 5]
    assert asked.anchors[0].tolist() == [30, 0], "the middle of the whole"
    by_hand = Lettering(lines=[line], course="turned", by_hand=[HandLabel(fid=3, turn=5)])
    assert [bool(text) for text in to_letter(source, inked, by_hand).texts] == [False] * 3 + [True] + [False] * 2
    level = to_letter(source, inked, Lettering(lines=[line]))
    assert all(level.texts) and level.anchors[5].tolist() == [55, 0]
