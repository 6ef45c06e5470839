"""What a field means beside its type: a count or a rate, in which unit, with how many decimals, and what stands for "missing"."""

import re
from collections.abc import Collection, Sequence
from dataclasses import dataclass
from typing import Any, Literal

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from numpy.typing import NDArray

from greylatch.tables.epoch import likely_epoch

__all__ = [
    "BY_HAND",
    "CODES",
    "COORDINATES",
    "Meaning",
    "MeaningKind",
    "credit_fields",
    "guess_meaning",
    "is_mark",
    "likeliest_name",
    "most_telling",
    "tells_little",
    "unit_in",
    "without_marks",
    "words_of",
]

MeaningKind = Literal["count", "rate", "measure", "category", "identifier", "date", "name", "picture"]
"""A count or an amount grows with the area that it is counted in; a rate or a share and a measure do not. A picture is one by its
address."""

BY_HAND = "Said by hand."
"""The reason of a meaning that nobody guessed."""
FEW = 20
"""Different texts up to which they are likely categories, where each stands in several rows."""
HEAD = 1_000
"""Rows that mostly tell whether there are more than a few."""
LOOKED = 1 << 16
"""Rows from all over a long column of texts that tell how many of them differ."""
ALMOST = 0.9
"""The share of rows that have another text, from which on texts with digits are codes. Common practice, as that of few."""
MOSTLY = 0.8
"""The share of some texts from which on a field holds addresses of pictures. Common practice."""


PARTS_OF_DATES = {"month", "day", "hour", "minute", "weekday", "week", "quarter"}
"""What a field is called that holds one; nobody adds up months."""


@dataclass(frozen=True)
class Meaning:
    """What a field means. `unit` as readers see it; `decimals` null: as the numbers come; `missing` are values that stand for none;
    `reason` says why that was guessed."""

    kind: MeaningKind
    unit: str = ""
    decimals: int | None = None
    missing: tuple[float | str, ...] = ()
    reason: str = ""


def guess_meaning(name: str, column: pa.ChunkedArray) -> Meaning:
    """What a field probably means, by its name and values. Common practice, no source: amounts are not named per something or as
    a measure, are never negative, and are whole or run past 100.

    Parameters
    ----------
    name : str
        The name.
    column : pa.ChunkedArray
        The values.

    Returns
    -------
    Meaning

    Examples
    --------
    >>> guess_meaning("carbon_t", pa.chunked_array([[1200.5, 88.0]]))
    Meaning(kind='count', unit='t', decimals=None, missing=(), reason='Never negative, and not named as a rate or a measure.')
    >>> guess_meaning("income_per_head", pa.chunked_array([[12000, 34000]])).kind
    'rate'
    """
    kind = column.type
    if pa.types.is_temporal(kind):
        return Meaning("date", reason="It holds dates.")
    if pa.types.is_boolean(kind):
        return Meaning("category", reason="It holds yes and no.")
    if not (pa.types.is_integer(kind) or pa.types.is_floating(kind) or pa.types.is_decimal(kind)):
        return _of_texts(name, column)
    values = column.cast(pa.float64(), safe=False).to_numpy()
    values = values[np.isfinite(values)]
    missing = tuple(mark for mark in MARKS if mark in values and values[values != mark].min(initial=np.inf) >= 0)
    values = values[~np.isin(values, missing)]
    words = words_of(name)
    unit = unit_in(name)
    if words & CODES:
        return Meaning("identifier", "", None, missing, f"Named as a code: {_first(words & CODES)}.")
    if len(words) == 1 and words & PARTS_OF_DATES:
        return Meaning("identifier", "", None, missing, f"Named as a part of a date: {_first(words)}.")
    if likely_epoch(words, values):
        return Meaning("identifier", "", None, missing, "Named as a time, and as large as a moment since 1970 is.")
    if _DIVIDED.search(name):
        return Meaning("rate", "", None, missing, "Named as one thing divided by another: /.")
    if words & RATES or "%" in name:
        return Meaning("rate", unit, None, missing, f"Named as a rate: {_first(words & RATES) or '%'}.")
    if words & MEASURES:
        return Meaning("measure", unit, None, missing, f"Named as a measure: {_first(words & MEASURES)}.")
    if unit in LENGTHS:
        return Meaning("measure", unit, None, missing, f"In {unit}, which are measured, not counted.")
    if _counts_rows(values):
        return Meaning("identifier", "", None, missing, "It numbers the rows one by one.")
    if not len(values) or (values < 0).any():
        return Meaning("measure", unit, None, missing, "It goes below zero." if len(values) else "It is empty.")
    if (values == np.round(values)).all() or values.max() > 100:
        return Meaning("count", unit, None, missing, "Never negative, and not named as a rate or a measure.")
    return Meaning("measure", unit, None, missing, "Small numbers that are not whole.")


def tells_little(name: str, means: MeaningKind) -> bool:
    """Whether a field only says which row it is or where that lies: no map shows it first, and no area wants its mean.

    Parameters
    ----------
    name : str
        The field.
    means : MeaningKind
        What it means.

    Returns
    -------
    bool

    Examples
    --------
    >>> tells_little("Lat", "measure"), tells_little("fips", "identifier"), tells_little("yield_t", "count")
    (True, True, False)
    """
    return means == "identifier" or name.lower() in COORDINATES


def most_telling(
    fields: Sequence[tuple[str, str, MeaningKind]], shown: Collection[str] = ()
) -> list[tuple[str, str, MeaningKind]]:
    """Fields in the order in which they are worth being told of: what the map shows first, what tells little last.

    Parameters
    ----------
    fields : Sequence[tuple[str, str, MeaningKind]]
        Names, with their type and what they mean.
    shown : Collection[str]
        Those by which the layer's look varies.

    Returns
    -------
    list[tuple[str, str, MeaningKind]]

    Examples
    --------
    >>> fields = [("lat", "number", "measure"), ("ha", "number", "count"), ("depth", "number", "measure")]
    >>> [name for name, _, _ in most_telling(fields, ["depth"])]
    ['depth', 'ha', 'lat']
    """
    return sorted(fields, key=lambda field: (field[0] not in shown, tells_little(field[0], field[2])))


def likeliest_name(fields: Sequence[tuple[str, str, MeaningKind]]) -> str | None:
    """The field that most likely names the rows: of texts that are names, the first that is called one; where there is no text, a figure
    rather than a measure, such as where a row lies.

    Parameters
    ----------
    fields : Sequence[tuple[str, str, MeaningKind]]
        Names, with their type and what they mean.

    Returns
    -------
    str | None
        None where there is no field.

    Examples
    --------
    >>> likeliest_name([("STATE_ID", "integer", "identifier"), ("remarks", "text", "name"), ("STATE_NAME", "text", "name")])
    'STATE_NAME'
    >>> likeliest_name([("lat", "number", "measure"), ("car_hours", "number", "count")])
    'car_hours'
    """
    return min(
        (name for name, *_ in fields),
        key={
            name: (
                means == "picture",
                means != "name",
                kind != "text",
                means == "measure",
                not words_of(name) & _CALLED,
                i,
            )
            for i, (name, kind, means) in enumerate(fields)
        }.__getitem__,
        default=None,
    )


def words_of(name: str) -> set[str]:
    """The words of a field's name, also of one that is written together; what begins as a percentage or a value per head is one. How
    many there are of something is no number of something.

    >>> sorted(words_of("TotPop90")), sorted(words_of("PctRural")), sorted(words_of("water_table_cm"))
    (['pop', 'tot'], ['pct', 'rural'], ['cm', 'table', 'water'])
    >>> sorted(words_of("Number of employees")), sorted(words_of("House number"))
    (['employees'], ['house', 'number'])
    """
    name = _HOW_MANY.sub(" ", name)
    words = {word.lower() for word in re.findall(r"[A-Z]+(?=[A-Z][a-z])|[A-Z]?[a-z]+|[A-Z]+", name)}
    return words | {prefix for prefix in ("pct", "percent", "pcgdp") if any(word.startswith(prefix) for word in words)}


def unit_in(name: str) -> str:
    """The unit that a field's name ends with.

    >>> unit_in("water_table_cm"), unit_in("drained percent"), unit_in("area (km2)"), unit_in("name")
    ('cm', '%', 'km²', '')
    >>> unit_in("sq. km"), unit_in("Land area, sq mi")
    ('km²', 'mi²')
    """
    words = [word for word in re.split(r"[\s_()\[\]./-]+", name) if word]
    if len(words) > 1 and words[-2].lower() in ("sq", "square"):
        return UNITS.get(f"sq{words[-1].lower()}", "")
    return UNITS.get(words[-1].lower() if len(words) > 1 else "", "%" if name.endswith("%") else "")


def without_marks(column: pa.ChunkedArray, marks: Sequence[float | str]) -> pa.ChunkedArray:
    """The column with nothing where a value stands for "missing".

    Parameters
    ----------
    column : pa.ChunkedArray
        The values.
    marks : Sequence[float | str]
        What stands for "missing".

    Returns
    -------
    pa.ChunkedArray

    Examples
    --------
    >>> without_marks(pa.chunked_array([[-9999, 3]]), (-9999.0,)).to_pylist()
    [None, 3]
    """
    if not marks:
        return column
    text = pa.types.is_string(column.type)
    compared = column if text else column.cast(pa.float64(), safe=False)
    values = pa.array([mark for mark in marks if isinstance(mark, str) == text], compared.type)
    return pc.if_else(pc.is_in(compared, values), pa.scalar(None, column.type), column)


def credit_fields(names: Sequence[str]) -> list[str]:
    """The fields that say whose the pictures of rows are, by what they are called.

    Parameters
    ----------
    names : Sequence[str]
        All fields.

    Returns
    -------
    list[str]

    Examples
    --------
    >>> credit_fields(["hut", "photo", "photo_by", "sleeps"])
    ['photo_by']
    """
    return [name for name in names if words_of(name) & CREDITS]


def is_mark(value: Any, marks: Sequence[float | str]) -> bool:
    """Whether a value stands for "missing".

    Parameters
    ----------
    value : Any
        The value.
    marks : Sequence[float | str]
        What stands for "missing".

    Returns
    -------
    bool
    """
    return not isinstance(value, bool) and value in marks


def _of_texts(name: str, column: pa.ChunkedArray) -> Meaning:
    words = words_of(name)
    some = _some(column)
    address = _ADDRESS if words & PICTURES else _PICTURE
    if sum(address.fullmatch(text.strip()) is not None for text in some) > MOSTLY * len(some):
        return Meaning("picture", reason="It holds addresses of pictures.")
    if words & CODES:
        return Meaning("identifier", reason=f"Named as a code: {_first(words & CODES)}.")
    # More than a few in some of the rows are more in all of them.
    few = _different(column.slice(0, HEAD)) <= FEW and (distinct := _different(column)) <= FEW
    filled = len(column) - column.null_count
    if few and filled and 2 * distinct <= filled:
        return Meaning("category", reason=f"{distinct} different texts in {filled} rows.")
    if some and all(text.isdigit() for text in some) and any(text != "0" and text[0] == "0" for text in some):
        return Meaning("identifier", reason="Digits with noughts before them.")
    if some and all(any(c.isdigit() for c in text) and " " not in text for text in some):
        # Numbers that were kept as text by mistake stand twice sooner than codes do.
        lettered = all(any(c.isalpha() for c in text) for text in some)
        looked = (
            column.take(np.linspace(0, len(column) - 1, LOOKED, dtype=np.int64)) if len(column) > 2 * LOOKED else column
        )
        if _different(looked) >= (ALMOST if lettered else 1) * (len(looked) - looked.null_count):
            rows = "Every row" if looked is column else f"Each of {len(looked):,} rows from all over"
            return Meaning("identifier", reason=f"{rows} has another one, with digits in it.")
    return Meaning("name", reason="Texts.")


def _different(column: pa.ChunkedArray) -> int:
    # Of a column in which nothing ever was Arrow knows not even that.
    return len(column.drop_null().unique()) if column.null_count < len(column) else 0


def _counts_rows(values: NDArray[np.float64]) -> bool:
    """Whether every whole number from the least to the greatest stands in one row."""
    return len(values) >= 8 and bool((np.sort(values) == values.min() + np.arange(len(values))).all())


def _some(column: pa.ChunkedArray) -> list[str]:
    return [text for text in column.slice(0, 50).to_pylist() if text]


def _first(words: set[str]) -> str:
    return min(words, default="")


MARKS = (-9999.0, -99999.0, -999.0, -32768.0)
"""Numbers that stand for "missing" where all others are not negative. Common practice."""
LENGTHS = {"mm", "cm", "m", "km", "°C", "%"}
# Single letters are no units: 'pop_m' counts men.
UNITS = {
    **{unit: unit for unit in ("mm", "cm", "km", "ha", "t", "kg", "mg")},
    "km2": "km²", "sqkm": "km²", "sqkilometres": "km²", "sqkilometers": "km²", "sqmi": "mi²", "sqmiles": "mi²", "sqm": "m²", "m2": "m²",
    "m3": "m³", "percent": "%", "pct": "%", "degc": "°C", "tonnes": "t", "hectares": "ha",
    "metres": "m", "meters": "m", "kilometres": "km", "eur": "€", "euro": "€", "usd": "$",
}  # fmt: skip
_HOW_MANY = re.compile(r"(?<![^\W_])(number|no|num|nr)[\s_.]+of(?![^\W_])", re.IGNORECASE)
_DIVIDED = re.compile(r"[^\W\d_]\s*/\s*[^\W\d_]")
_ADDRESS = re.compile(r"https?://\S+", re.IGNORECASE)
_PICTURE = re.compile(r"https?://\S+\.(png|jpe?g|gif|webp|avif|svg)([?#]\S*)?", re.IGNORECASE)
_CALLED = {"name", "names", "title", "label", "geoname"}
CODES = frozenset(
    [
        "year", "code", "id", "fips", "fipsno", "zip", "postcode", "rank", "number", "no", "fid", "gid", "key", "polyid", "geoid",
        "objectid", "geocode",
    ]
)  # fmt: skip
PICTURES = frozenset(["picture", "pictures", "photo", "photos", "photograph", "image", "images", "img", "thumbnail"])
CREDITS = frozenset(
    [
        "credit",
        "credits",
        "photographer",
        "attribution",
        "author",
        "artist",
        "by",
        "copyright",
        "licence",
        "license",
        "rights",
    ]
)
COORDINATES = frozenset(["lon", "lat", "long", "lng", "longitude", "latitude", "x", "y", "easting", "northing"])
"""What fields are called that only say where a row lies."""
RATES = frozenset(
    [
        "percent", "pct", "percentage", "share", "rate", "ratio", "density", "per", "capita", "head", "index", "intensity", "pc", "pcgdp",
    ]
)  # fmt: skip
MEASURES = frozenset(
    [
        "mean", "average", "avg", "median", "temperature", "depth", "height", "score", "income", "wage", "salary", "rent", "price",
        "cost", "age", "speed", "elevation", "altitude", "slope", "level", "grade", "lat", "lon", "long", "lng", "latitude", "longitude", "longitud",
        "x", "y", "easting", "northing", "ph", "length", "width", "distance", "thickness", "perimeter",
    ]
)  # fmt: skip
