"""What conditions and expressions come to, for all rows at once."""

from collections.abc import Mapping
from typing import Any

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
import shapely
from numpy.typing import NDArray

from greylatch.errors import BadInput
from greylatch.rules.language import Expression, Node, closest, parsed
from greylatch.rules.literals import box_literal, instant_literal, shape_literal, times
from greylatch.rules.operations import OPERATIONS, Operation
from greylatch.rules.spatial import FixedShapes
from greylatch.rules.temporal import AGES
from greylatch.rules.values import WORDS, Kind, Rows, Value
from greylatch.tables.dataset import Dataset

__all__ = ["computed", "computed_numbers", "filtered", "kind_of", "taken"]

WHOLE = 2**53
"""Up to which a number of the text is taken as a whole one."""


def taken(dataset: Dataset, condition: str) -> NDArray[np.bool_]:
    """Which rows a condition takes. One that is neither true nor false of a row, since a value is missing, does not take it.

    Parameters
    ----------
    dataset : Dataset
        The data.
    condition : str
        CQL2 text. A row's shape is called `geometry`, its area `area_km2`, its length `length_km`; the shapes of `dataset.others` go by
        their names.

    Returns
    -------
    NDArray[np.bool_]

    Raises
    ------
    BadExpression
        With line and column of a mistake.

    Examples
    --------
    >>> taken(Dataset(pa.table({"peat_m": [1.5, None, 3]}), "table"), "peat_m > 1 AND NOT peat_m > 2").tolist()
    [True, False, False]
    """
    expression = parsed(condition)
    value = _value(expression, expression.node, Rows(dataset))
    if value.kind not in ("truth", "nothing"):
        raise expression.mistake(
            f"This comes to {value.said}, which takes no rows.", "", "a condition, such as peat_m > 2"
        )
    return np.asarray(pc.fill_null(_column(value, len(dataset)), False).to_numpy(zero_copy_only=False), dtype=np.bool_)


def filtered(dataset: Dataset, condition: str) -> Dataset:
    """Only the rows that a condition takes; all of them, the very same, where it is blank.

    Parameters
    ----------
    dataset : Dataset
        The data.
    condition : str
        CQL2 text, or ''.

    Returns
    -------
    Dataset

    Raises
    ------
    BadExpression
        With line and column of a mistake.

    Examples
    --------
    >>> filtered(Dataset(pa.table({"peat_m": [1.5, 3]}), "table"), "peat_m > 2").fids.tolist()
    [1]
    """
    return dataset.taking(taken(dataset, condition)) if condition.strip() else dataset


def computed(dataset: Dataset, expression: str) -> pa.Array:
    """What an expression comes to, row by row: numbers, text, truth values or instants; null where it has no value.

    Parameters
    ----------
    dataset : Dataset
        The data.
    expression : str
        CQL2 text.

    Returns
    -------
    pa.Array

    Raises
    ------
    BadExpression
        With line and column of a mistake.

    Examples
    --------
    >>> computed(Dataset(pa.table({"t": [10, 4], "ha": [4, 0]}), "table"), "t / ha").to_pylist()
    [2.5, None]
    """
    read = parsed(expression)
    value = _value(read, read.node, Rows(dataset))
    if value.kind in ("shape", "interval", "list"):
        raise read.mistake(f"This comes to {value.said}.", "", "a number, a text, a date or a condition")
    return _column(value, len(dataset))


def computed_numbers(dataset: Dataset, expression: str) -> NDArray[np.float64]:
    """What an expression comes to where that is a number, as float64; NaN where it has no value.

    Parameters
    ----------
    dataset : Dataset
        The data.
    expression : str
        CQL2 text.

    Returns
    -------
    NDArray[np.float64]

    Raises
    ------
    BadExpression
        With line and column of a mistake, and for an expression that gives something else.

    Examples
    --------
    >>> computed_numbers(Dataset(pa.table({"t": [10, 4], "ha": [4, 0]}), "table"), "t / ha").tolist()
    [2.5, nan]
    """
    kind = kind_of(dataset, expression)
    if kind != "number":
        raise parsed(expression).mistake(f"This comes to {WORDS[kind]}.", "", "a number, such as carbon_t / peat_ha")
    values = computed(dataset, expression).cast(pa.float64(), safe=False)
    return np.asarray(values.to_numpy(zero_copy_only=False), dtype=np.float64)


def kind_of(dataset: Dataset, expression: str) -> Kind:
    """What kind of value an expression gives, worked out without a row.

    Parameters
    ----------
    dataset : Dataset
        The data, of which only the fields matter.
    expression : str
        CQL2 text.

    Returns
    -------
    Kind

    Raises
    ------
    BadExpression
        With line and column of a mistake.

    Examples
    --------
    >>> kind_of(Dataset(pa.table({"t": [10, 4]}), "table"), "t / 2 > 3")
    'truth'
    """
    read = parsed(expression)
    none = Dataset(
        dataset.columns.slice(0, 0), dataset.kind, None if dataset.shapes is None else dataset.shapes[:0], dataset.crs,
        dataset.fids[:0], dataset.meanings, dataset.others,
    )  # fmt: skip
    return _value(read, read.node, Rows(none)).kind


def _value(expression: Expression, node: Node, rows: Rows) -> Value:
    """What a node comes to."""
    if isinstance(node, dict):
        if "op" in node:
            return _operated(expression, node, rows)
        if "property" in node:
            return _property(expression, node["property"], rows)
        return _literal(expression, node, rows)
    if node is None:
        return Value("nothing", pa.scalar(None))
    if isinstance(node, bool):
        return Value("truth", pa.scalar(node))
    if isinstance(node, (int, float)):
        whole = float(node).is_integer() and abs(node) < WHOLE
        return Value("number", pa.scalar(int(node)) if whole else pa.scalar(float(node)))
    if isinstance(node, str):
        return Value("text", pa.scalar(node))
    if isinstance(node, list):
        return Value("list", [_value(expression, member, rows) for member in node])
    raise expression.mistake("This can't be read.", "")


def _property(expression: Expression, name: str, rows: Rows) -> Value:
    value = rows.value(name)
    if value is None:
        problem = f"There is no field '{name}'." + (
            " Texts stand in 'single quotes'." if not closest(name, rows.names) else ""
        )
        fields = ", ".join(rows.names[:12]) + (", …" if len(rows.names) > 12 else "")
        raise expression.mistake(
            f"{problem} {closest(name, rows.names)}".strip(), name, f"one of {fields}" if fields else ""
        )
    if value.kind == "shape" and name in rows.dataset.others and name not in rows.dataset.columns.column_names:
        return Value("shape", FixedShapes(value.data))
    return value


def _literal(expression: Expression, node: Mapping[str, Any], rows: Rows) -> Value:
    for key in ("date", "timestamp"):
        if key in node:
            return Value("time", instant_literal(expression, node[key]))
    if "interval" in node:
        first, last = node["interval"]
        ends = _ends(expression, first, rows, 0), _ends(expression, last, rows, 1)
        return Value("interval", ends)
    if "bbox" in node:
        return Value(
            "shape", FixedShapes(np.array([box_literal(expression, [float(v) for v in node["bbox"]])], dtype=object))
        )
    if "type" in node:
        return Value("shape", FixedShapes(np.array([shape_literal(expression, node)], dtype=object)))
    raise expression.mistake("This can't be read.", "")


def _ends(expression: Expression, end: Node, rows: Rows, which: int) -> NDArray[np.datetime64]:
    """One end of an interval."""
    if end == "..":
        return np.array(AGES[which])
    if isinstance(end, str):
        return times(instant_literal(expression, end, bool(which)))
    value = _value(expression, end, rows)
    if value.kind != "time":
        raise expression.mistake(f"An interval ends at a date, and this is {value.said}.", _word(end))
    return times(value.data)


def _operated(expression: Expression, node: Mapping[str, Any], rows: Rows) -> Value:
    name = str(node["op"])
    operation = OPERATIONS.get(name) or OPERATIONS.get(name.lower())
    if name == "in":
        return _within_list(expression, node["args"], rows)
    if operation is None:
        there = [each for each, known in OPERATIONS.items() if known.text]
        raise expression.mistake(f"There is no function '{name}'. {closest(name.lower(), there)}".strip(), name)
    values = [_value(expression, argument, rows) for argument in node["args"]]
    _check_count(expression, name, operation, len(values))
    values = _of_kinds(expression, node, operation, values)
    gives = operation.gives or _shared_kind(values)
    try:
        return Value(gives, operation.work(*(value.data for value in values)))
    except BadInput as error:
        raise expression.mistake(str(error), name) from error
    except pa.ArrowException as error:
        raise expression.mistake(f"This can't be worked out: {str(error).splitlines()[0][:200]}.", name) from error


def _check_count(expression: Expression, name: str, operation: Operation, count: int) -> None:
    most = count if operation.repeated else len(operation.takes)
    if not operation.fewest <= count <= most:
        wanted = f"{operation.fewest}" + (
            " or more" if operation.repeated else f" to {most}" if most > operation.fewest else ""
        )
        raise expression.mistake(f"'{name}' takes {wanted}, and here are {count}.", name, operation.text)


def _of_kinds(
    expression: Expression, node: Mapping[str, Any], operation: Operation, values: list[Value]
) -> list[Value]:
    """The arguments in the kinds that the operation takes, or the mistake that they are not."""
    arguments = node["args"]
    shared = _shared_kind(values)
    if operation.takes[0] is None and shared in ("shape", "list", "interval") and node["op"] != "isNull":
        raise expression.mistake(f"'{node['op']}' compares no {WORDS[shared].split(' ', 1)[1]}s.", _word(arguments[0]))
    out = []
    for i, value in enumerate(values):
        wanted: Kind = operation.kind_of(i) or shared
        if wanted == "interval" and value.kind == "time":
            ends = times(value.data)
            value = Value("interval", (ends, ends))
        elif value.kind == "nothing" and wanted not in ("nothing", "shape", "interval", "list"):
            value = Value(wanted, pa.scalar(None, _ARROW[wanted]))
        if value.kind != wanted:
            raise _wrong_kind(expression, node, i, value, wanted, values)
        out.append(Value(value.kind, _as_arrow(value.data)) if node["op"] == "isNull" else value)
    return out


def _shared_kind(values: list[Value]) -> Kind:
    """The kind of the first that is not NULL."""
    kinds: list[Kind] = [value.kind for value in values if value.kind != "nothing"]
    return kinds[0] if kinds else "nothing"


_ARROW: Mapping[str, pa.DataType] = {
    "number": pa.float64(),
    "text": pa.string(),
    "truth": pa.bool_(),
    "time": pa.timestamp("us"),
}


def _as_arrow(data: Any) -> Any:
    """Something of which Arrow can say whether it is missing."""
    if isinstance(data, FixedShapes):
        return pa.scalar(True)
    if isinstance(data, np.ndarray):
        return pa.array(np.ones(len(data), dtype=np.bool_), mask=shapely.is_missing(data) | shapely.is_empty(data))
    return data


def _wrong_kind(
    expression: Expression, node: Mapping[str, Any], i: int, value: Value, wanted: Kind, values: list[Value]
) -> BadInput:  # fmt: skip
    word, said = _word(node["args"][i]), _said(node["args"][i], value)
    hint = ""
    if {wanted, value.kind} == {"time", "text"}:
        hint = " Dates are written DATE('2026-03-31')."
    elif wanted == "number" and value.kind == "text" and not word.startswith("'"):
        hint = f" number({word}) reads one from it."
    if OPERATIONS[str(node["op"]).lower() if node["op"] != "isNull" else "isNull"].takes[0] is None:
        other = next(k for k, each in enumerate(values) if each.kind == wanted)
        return expression.mistake(
            f"{said}, and {_said(node['args'][other], values[other])}.{hint}", word, WORDS[wanted]
        )
    return expression.mistake(f"{said}, and '{node['op']}' takes {WORDS[wanted]}.{hint}", word, WORDS[wanted])


def _said(node: Node, value: Value) -> str:
    """What a part of the text is: 'isle' is a text."""
    word = _word(node)
    return f"{word if word.startswith(chr(39)) else repr(word)} is {value.said}" if word else f"This is {value.said}"


def _within_list(expression: Expression, arguments: list[Node], rows: Rows) -> Value:
    """Whether a value is among several."""
    value, listed = _value(expression, arguments[0], rows), _value(expression, arguments[1], rows)
    members = listed.data if listed.kind == "list" else [listed]
    if value.kind in ("shape", "interval", "list"):  # OGC 21-065r2, 7.3: what is looked for in a list is scalar
        raise expression.mistake(
            f"{_said(arguments[0], value)}, which is not looked for in a list.", _word(arguments[0])
        )
    out: Any = None
    known = [member for member in members if member.kind != "nothing"]
    for member, argument in zip(
        members, arguments[1] if isinstance(arguments[1], list) else [arguments[1]], strict=True
    ):
        if member.kind not in (value.kind, "nothing"):
            problem = f"{_said(argument, member)}, and {_said(arguments[0], value)}."
            raise expression.mistake(problem, _word(argument), WORDS[value.kind])
    if known and all(isinstance(member.data, pa.Scalar) for member in known):
        plain = pa.array([member.data.as_py() for member in known])
        data = value.data
        kind = data.type if pa.types.is_temporal(data.type) or pa.types.is_string(data.type) else plain.type
        if value.kind == "number":
            data, kind = data.cast(pa.float64(), safe=False), pa.float64()
        out = pc.is_in(data, value_set=plain.cast(kind), skip_nulls=True)
        out = pc.if_else(pc.is_null(data), pa.scalar(None, pa.bool_()), out)
    else:
        for member in known:
            same = pc.equal(value.data, member.data)
            out = same if out is None else pc.or_kleene(out, same)
    if len(known) < len(members):  # one that is missing may be the one
        out = pc.or_kleene(out, pa.scalar(None, pa.bool_())) if out is not None else pa.scalar(None, pa.bool_())
    return Value("truth", out if out is not None else pa.scalar(False))


def _word(node: Node) -> str:
    """The word of the text that a node is likeliest to have come from, to say where it is."""
    if isinstance(node, dict):
        for key in ("property", "op", "type"):
            if key in node:
                return str(node[key])
        for key in ("date", "timestamp"):
            if key in node:
                return f"'{node[key]}'"
        return _word(node["args"][0]) if node.get("args") else ""
    if isinstance(node, str):
        return "'" + node.replace("'", "''") + "'"
    if isinstance(node, float):
        return f"{node:g}"
    return str(node)


def _column(value: Value, count: int) -> pa.Array:
    """One value for each row."""
    data = value.data
    if isinstance(data, pa.Scalar):
        if value.kind == "nothing":
            return pa.nulls(count, pa.bool_())
        return pa.repeat(data, count)
    return data.combine_chunks() if isinstance(data, pa.ChunkedArray) else data
