"""Many rows of one key summed up as one."""

from collections.abc import Mapping, Sequence
from typing import Literal, get_args

import pyarrow as pa
import pyarrow.compute as pc

from greylatch.errors import BadInput
from greylatch.tables.dataset import column_named, named
from greylatch.tables.fieldtypes import FieldType
from greylatch.tables.meaning import MeaningKind

__all__ = ["HOW", "Summary", "summed", "usual_summary"]

Summary = Literal["count", "sum", "mean", "median", "minimum", "maximum", "first"]
HOW: tuple[Summary, ...] = get_args(Summary)
ARROW = {"sum": "sum", "mean": "mean", "minimum": "min", "maximum": "max"}


def summed(columns: pa.Table, keys: Sequence[str], how: Mapping[str, Summary]) -> pa.Table:
    """A row for each key, in the order in which they come first: of each field what `how` says. Blank keys are left out; missing values
    count for nothing.

    Parameters
    ----------
    columns : pa.Table
        The rows.
    keys : Sequence[str]
        The key of each.
    how : Mapping[str, Summary]
        How fields are summed up: 'count' of values that are there, 'sum', 'mean', 'median', 'minimum', 'maximum', 'first'.

    Returns
    -------
    pa.Table
        The key as 'key', then the fields.

    Raises
    ------
    BadInput
        For a field that is not there, and for texts of which a number is wanted.

    Examples
    --------
    >>> rows = pa.table({"t": [1, 2, 5], "who": ["Isla", "Orrin", "Isla"]})
    >>> summed(rows, ["a", "b", "a"], {"t": "sum", "who": "count"}).to_pylist()
    [{'key': 'a', 't': 6, 'who': 2}, {'key': 'b', 't': 2, 'who': 1}]
    """
    codes: dict[str, int] = {}
    group = pa.array([codes.setdefault(key, len(codes)) if key else None for key in keys], pa.int64())
    arrays = [pa.array(list(codes), pa.string())]
    for name, summary in how.items():
        if summary not in HOW:
            raise BadInput(f"'{summary}' is no way to sum up.", f"The ways are: {', '.join(HOW)}.")
        values = column_named(columns, name)
        numeric = pa.types.is_integer(values.type) or pa.types.is_floating(values.type)
        if summary in ("sum", "mean", "median") and not numeric:
            raise BadInput(f"'{name}' holds no numbers, of which a {summary} could be taken.")
        arrays.append(_by_group(values, group, len(codes), summary))
    return pa.table(arrays, names=named(["key", *how]))


def usual_summary(type: FieldType, means: MeaningKind) -> Summary:
    """How many values of a field are summed up where nobody has said: amounts are added, figures averaged, names and codes counted; of all
    else the first is taken.

    Parameters
    ----------
    type : FieldType
        What it holds.
    means : MeaningKind
        What it means.

    Returns
    -------
    Summary

    Examples
    --------
    >>> usual_summary("integer", "count"), usual_summary("number", "rate"), usual_summary("text", "name"), usual_summary("date", "date")
    ('sum', 'mean', 'count', 'first')
    """
    if type == "text" or means == "identifier":
        return "count"
    if type not in ("number", "integer"):
        return "first"
    return "sum" if means == "count" else "mean"


def _by_group(values: pa.ChunkedArray, group: pa.Array, many: int, summary: Summary) -> pa.Array:
    table = pa.table({"group": group, "value": values.combine_chunks()}).filter(pc.is_valid(group))
    if summary == "median":
        return _medians(table, many)
    if summary == "count":
        done = table.group_by("group").aggregate([("value", "count")])
        summary_values = done["value_count"]
    elif summary == "first":
        known = table.filter(pc.is_valid(table["value"]))
        done = known.group_by("group", use_threads=False).aggregate([("value", "first")])
        summary_values = done["value_first"]
    else:
        done = table.group_by("group").aggregate([("value", ARROW[summary])])
        summary_values = done[f"value_{ARROW[summary]}"]
    at = pc.index_in(pa.array(range(many), pa.int64()), value_set=done["group"].combine_chunks())
    return summary_values.combine_chunks().take(at)


def _medians(table: pa.Table, many: int) -> pa.Array:
    """Arrow's own median of groups is approximate: the values are sorted, and the middle ones taken."""
    known = table.filter(pc.is_valid(table["value"])).sort_by([("group", "ascending"), ("value", "ascending")])
    values = known["value"].cast(pa.float64()).to_numpy()
    counts = [0] * many
    for each in pc.value_counts(known["group"]).to_pylist():
        counts[each["values"]] = each["counts"]
    medians: list[float | None] = []
    start = 0
    for count in counts:
        medians.append(float(values[start + (count - 1) // 2] + values[start + count // 2]) / 2 if count else None)
        start += count
    return pa.array(medians, pa.float64())
