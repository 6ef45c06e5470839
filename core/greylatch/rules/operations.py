"""The operations of conditions and expressions on values: one entry each, of what it takes and gives."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import pyarrow as pa
import pyarrow.compute as pc

from greylatch.rules.made_dates import date_of, read_dates, since_1970
from greylatch.rules.spatial import SPATIAL, within_distance
from greylatch.rules.temporal import TEMPORAL
from greylatch.rules.values import Kind

__all__ = ["OPERATIONS", "Operation"]


@dataclass(frozen=True)
class Operation:
    """An operation, or a function with the `text` of how it is called: the kinds that it takes in order, the last of them `repeated` or
    the `optional` ones left out, and the kind that it gives. None as a kind takes any, all of them of one kind."""

    takes: tuple[Kind | None, ...]
    gives: Kind | None
    work: Callable[..., Any]
    optional: int = 0
    repeated: bool = False
    text: str = ""

    @property
    def fewest(self) -> int:
        """With how many arguments it does."""
        return len(self.takes) - self.optional

    def kind_of(self, position: int) -> Kind | None:
        """What it takes at a position."""
        return self.takes[min(position, len(self.takes) - 1)]


def _fractional(value: Any) -> Any:
    return value.cast(pa.float64(), safe=False)


def _calculated(work: Callable[[Any, Any], Any]) -> Callable[[Any, Any], Any]:
    """Arithmetic in floating point; what has no result, such as a quotient by zero, is missing."""

    def calculate(a: Any, b: Any) -> Any:
        return _known(work(_fractional(a), _fractional(b)))

    return calculate


def _known(value: Any) -> Any:
    return pc.if_else(pc.is_finite(value), value, pa.scalar(None, pa.float64()))


def _of_number(work: Callable[[Any], Any]) -> Callable[[Any], Any]:
    return lambda value: _known(work(_fractional(value)))


def _rest(a: Any, b: Any) -> Any:
    """With the sign of the dividend, as SQL has it."""
    return pc.subtract(a, pc.multiply(b, pc.trunc(pc.divide(a, b))))


def _rounded(value: Any, decimals: Any = None) -> Any:
    places = 0 if decimals is None else int(_one(decimals, 0))
    return _known(pc.round(_fractional(value), places, "half_towards_infinity"))


def _one(value: Any, default: Any) -> Any:
    """The value of an argument that is one for all rows."""
    if isinstance(value, pa.Scalar):
        return value.as_py() if value.is_valid else default
    distinct = pc.unique(value).drop_null()
    return distinct[0].as_py() if len(distinct) else default


def _like(text: Any, pattern: Any) -> Any:
    """% stands for any characters, _ for one, \\ before them for themselves."""
    return pc.match_like(text, pattern=str(_one(pattern, "")))


def _plain(text: Any) -> Any:
    """Without accents: the marks that stand by themselves after taking letters apart are left out."""
    return pc.replace_substring_regex(pc.utf8_normalize(text, "NFD"), pattern=r"\pM+", replacement="")


def _part(text: Any, start: Any, length: Any = None) -> Any:
    begin = int(_one(start, 1)) - 1
    stop = None if length is None else begin + int(_one(length, 0))
    return pc.utf8_slice_codeunits(text, max(begin, 0), stop if stop is None else max(stop, 0))


def _joined(*texts: Any) -> Any:
    return pc.binary_join_element_wise(*texts, pa.scalar(""), null_handling="skip")


def _as_number(text: Any) -> Any:
    """Of a text that is a number, with a point; missing for others."""
    trimmed = pc.utf8_trim_whitespace(text)
    good = pc.match_substring_regex(trimmed, pattern=r"^[+-]?([0-9]+\.?[0-9]*|\.[0-9]+)([eE][+-]?[0-9]+)?$")
    return _known(pc.cast(pc.if_else(good, trimmed, pa.scalar(None, pa.string())), pa.float64()))


def _as_text(value: Any) -> Any:
    return value.cast(pa.string())


OPERATIONS: Mapping[str, Operation] = {
    # Three truth values, as SQL and CQL2 have them: what is missing is neither true nor false.
    "and": Operation(("truth",), "truth", lambda *all_of: _folded(pc.and_kleene, all_of), repeated=True),
    "or": Operation(("truth",), "truth", lambda *any_of: _folded(pc.or_kleene, any_of), repeated=True),
    "not": Operation(("truth",), "truth", pc.invert),
    "isNull": Operation((None,), "truth", pc.is_null),
    "=": Operation((None, None), "truth", pc.equal),
    "<>": Operation((None, None), "truth", pc.not_equal),
    "<": Operation((None, None), "truth", pc.less),
    ">": Operation((None, None), "truth", pc.greater),
    "<=": Operation((None, None), "truth", pc.less_equal),
    ">=": Operation((None, None), "truth", pc.greater_equal),
    "between": Operation(
        (None, None, None), "truth", lambda v, low, high: pc.and_kleene(pc.greater_equal(v, low), pc.less_equal(v, high))
    ),
    "like": Operation(("text", "text"), "truth", _like),
    "casei": Operation(("text",), "text", pc.utf8_lower, text="casei(text): without regard to capitals"),
    "accenti": Operation(("text",), "text", _plain, text="accenti(text): without regard to accents"),
    "+": Operation(("number", "number"), "number", _calculated(pc.add)),
    "-": Operation(("number", "number"), "number", _calculated(pc.subtract)),
    "*": Operation(("number", "number"), "number", _calculated(pc.multiply)),
    "/": Operation(("number", "number"), "number", _calculated(pc.divide)),
    "%": Operation(("number", "number"), "number", _calculated(_rest)),
    "div": Operation(("number", "number"), "number", _calculated(lambda a, b: pc.trunc(pc.divide(a, b)))),
    "^": Operation(("number", "number"), "number", _calculated(pc.power)),
    "abs": Operation(("number",), "number", _of_number(pc.abs), text="abs(number): without its sign"),
    "round": Operation(("number", "number"), "number", _rounded, optional=1, text="round(number, decimals)"),
    "floor": Operation(("number",), "number", _of_number(pc.floor), text="floor(number): the next whole one below"),
    "ceil": Operation(("number",), "number", _of_number(pc.ceil), text="ceil(number): the next whole one above"),
    "sqrt": Operation(("number",), "number", _of_number(pc.sqrt), text="sqrt(number): its square root"),
    "ln": Operation(("number",), "number", _of_number(pc.ln), text="ln(number): its natural logarithm"),
    "log10": Operation(("number",), "number", _of_number(pc.log10), text="log10(number): its logarithm to base 10"),
    "exp": Operation(("number",), "number", _of_number(pc.exp), text="exp(number): e to its power"),
    "least": Operation(("number",), "number", lambda *of: pc.min_element_wise(*map(_fractional, of)), repeated=True,
                       text="least(number, …): the smallest of several"),
    "greatest": Operation(("number",), "number", lambda *of: pc.max_element_wise(*map(_fractional, of)), repeated=True,
                          text="greatest(number, …): the largest of several"),
    "coalesce": Operation((None,), None, pc.coalesce, repeated=True, text="coalesce(value, …): the first that is there"),
    "number": Operation(("text",), "number", _as_number, text="number(text): the number that a text is"),
    "text": Operation(("number",), "text", _as_text, text="text(number): a number as text"),
    "upper": Operation(("text",), "text", pc.utf8_upper, text="upper(text): in capitals"),
    "lower": Operation(("text",), "text", pc.utf8_lower, text="lower(text): in small letters"),
    "trim": Operation(("text",), "text", pc.utf8_trim_whitespace, text="trim(text): without blanks around it"),
    "length": Operation(("text",), "number", pc.utf8_length, text="length(text): how many characters it has"),
    "substr": Operation(("text", "number", "number"), "text", _part, optional=1, text="substr(text, first, how many)"),
    "concat": Operation(("text",), "text", _joined, repeated=True, text="concat(text, …): one after the other"),
    "year": Operation(("time",), "number", pc.year, text="year(date)"),
    "month": Operation(("time",), "number", pc.month, text="month(date): 1 to 12"),
    "day": Operation(("time",), "number", pc.day, text="day(date): of the month"),
    "date_of": Operation(("number",) * 5, "time", date_of, optional=4, text="date_of(year, month, day, hour, minute)"),
    "since_1970": Operation(("number",), "time", since_1970, text="since_1970(number): the date that so many seconds or milliseconds are"),
    "as_date": Operation(("text",), "time", read_dates, text="as_date(text): the date that a text is"),
    **{
        name: Operation(("shape", "shape"), "truth", work, text=f"{name}(geometry, shape)")
        for name, work in SPATIAL.items()
    },
    "s_dwithin": Operation(("shape", "shape", "number", "text"), "truth", within_distance, optional=1,
                           text="s_dwithin(geometry, shape, distance, 'm' or 'km'): on the ground"),
    **{
        name: Operation(("interval", "interval"), "truth", work, text=f"{name}(date, date or INTERVAL(…))")
        for name, work in TEMPORAL.items()
    },
}  # fmt: skip


def _folded(work: Callable[[Any, Any], Any], values: Sequence[Any]) -> Any:
    out = values[0]
    for value in values[1:]:
        out = work(out, value)
    return out
