"""Numbers as people write them in texts: with thousands apart, a comma or a point before the decimals, a sign of percent, a unit."""

import re

from greylatch.tables.number_marks import Thousands

__all__ = ["NUMBER", "UNIT_FACTORS", "measured_in", "written_number"]

NUMBER = re.compile(r"\s*[+-]?(\d{1,3}([ ,.'’ ]\d{3})+|\d+)([.,]\d+)?\s*%?\s*")
_MEASURED = re.compile(r"\s*([+-]?[\d.,]+)\s*([A-Za-zµ²³°/%‰]{1,8})\s*")
UNIT_FACTORS: dict[str, tuple[str, float]] = {
    "mm": ("m", 1e-3), "cm": ("m", 1e-2), "dm": ("m", 0.1), "m": ("m", 1.0), "km": ("m", 1e3), "in": ("m", 0.0254), "ft": ("m", 0.3048),
    "yd": ("m", 0.9144), "mi": ("m", 1609.344), "mg": ("kg", 1e-6), "g": ("kg", 1e-3), "kg": ("kg", 1.0), "t": ("kg", 1e3),
    "lb": ("kg", 0.45359237), "m²": ("m²", 1.0), "m2": ("m²", 1.0), "ha": ("m²", 1e4), "km²": ("m²", 1e6), "km2": ("m²", 1e6),
    "ml": ("l", 1e-3), "l": ("l", 1.0), "m³": ("l", 1e3), "m3": ("l", 1e3), "%": ("1", 0.01), "‰": ("1", 0.001),
}  # fmt: skip
"""Of what each is how many (BIPM, The International System of Units, 9th edition; international yard and pound of 1959)."""


def written_number(text: str, thousands: Thousands | None = None) -> float | None:
    """The number that a text is; None for one that is none. Of one comma or point with three digits after it the thousands are meant
    where there are several, or blanks; alone it is taken as before decimals, unless it is what parts `thousands` around it.

    Parameters
    ----------
    text : str
        The text.
    thousands : Thousands | None
        What parts thousands in others of its kind, where that is known.

    Returns
    -------
    float | None

    Examples
    --------
    >>> written_number("1 234,5"), written_number("12 %"), written_number("1.234.567"), written_number("many")
    (1234.5, 12.0, 1234567.0, None)
    >>> written_number("2,263"), written_number("2,263", thousands=",")
    (2.263, 2263.0)
    """
    if not NUMBER.fullmatch(text):
        return None
    plain = re.sub(r"[\s'’ %]", "", text)
    points = [character for character in plain if character in ".,"]
    if len(set(points)) == 2:  # the last of the two stands before the decimals
        thousands = "," if plain.rindex(".") > plain.rindex(",") else "."
        plain = plain.replace(thousands, "")
    elif len(points) > 1 or points == [thousands]:
        plain = plain.replace(points[0], "")
    return float(plain.replace(",", "."))


def measured_in(text: str, unit: str, thousands: Thousands | None = None) -> float | None:
    """The number in a text with a unit beside it, in another unit of the same kind; None where that can't be told.

    Parameters
    ----------
    text : str
        The text.
    unit : str
        The unit that is wanted.
    thousands : Thousands | None
        What parts thousands in others of its kind, where that is known.

    Returns
    -------
    float | None

    Examples
    --------
    >>> measured_in("2.5 m", "cm"), measured_in("250cm", "cm"), measured_in("3 kg", "cm"), measured_in("7", "cm")
    (250.0, 250.0, None, 7.0)
    """
    match = _MEASURED.fullmatch(text)
    if match is None:
        return written_number(text, thousands)
    number = written_number(match[1], thousands)
    if number is None or match[2] == unit:
        return number
    here, there = UNIT_FACTORS.get(match[2]), UNIT_FACTORS.get(unit)
    if here is None or there is None or here[0] != there[0]:
        return None
    return float(f"{number * here[1] / there[1]:.12g}")
