"""Dates as people write them, where that can only be read in one way."""

import re
from datetime import datetime, time

__all__ = ["read_date"]

_MONTHS = ("jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec")
_NAME = r"(?P<name>jan(?:uary)?|feb(?:ruary)?|mar(?:ch)?|apr(?:il)?|may|june?|july?|aug(?:ust)?|sept?(?:ember)?|oct(?:ober)?|nov(?:ember)?|dec(?:ember)?)\.?"
_DAY, _YEAR, _PART = r"(?P<day>\d{1,2})", r"(?P<year>\d{4})", r"[\s,./-]+"
_TIME = r"(?:[T\s]+(?P<time>\d\d:\d\d(?::\d\d)?))?"
_WRITTEN = tuple(
    re.compile(pattern, re.IGNORECASE)
    for pattern in (
        rf"{_YEAR}(?P<sign>[/.])(?P<month>\d{{1,2}})(?P=sign){_DAY}{_TIME}",
        rf"{_DAY}\.\s?(?P<month>\d{{1,2}})\.\s?{_YEAR}{_TIME}",
        rf"{_DAY}(?:st|nd|rd|th)?{_PART}{_NAME}{_PART}{_YEAR}",
        rf"{_NAME}{_PART}{_DAY}(?:st|nd|rd|th)?{_PART}{_YEAR}",
        rf"{_YEAR}{_PART}{_NAME}{_PART}{_DAY}",
        rf"{_NAME}{_PART}{_YEAR}",
    )
)
"""Common practice, no source. 5/6/2026 is not among them: it is a day in May for some, and in June for others."""


def read_date(text: str) -> datetime | None:
    """A date, or a moment, as ISO 8601 has it, with the year first, with points, or with the English name of its month.

    Parameters
    ----------
    text : str
        What is written.

    Returns
    -------
    datetime | None
        Without a time zone; None for what is no date, or may be another one.

    Examples
    --------
    >>> [str(read_date(text).date()) for text in ("2026-05-31", "2026/5/31", "31.5.2026", "May 31, 2026", "31-May-2026", "May 2026")]
    ['2026-05-31', '2026-05-31', '2026-05-31', '2026-05-31', '2026-05-31', '2026-05-01']
    >>> read_date("5/6/2026") is None, read_date("2026/13/1") is None
    (True, True)
    """
    if len(text) < 8:
        return None
    if text[:4].isdigit():
        try:
            return datetime.fromisoformat(text).replace(tzinfo=None)
        except ValueError:
            pass
    match = next((match for each in _WRITTEN if (match := each.fullmatch(text))), None)
    if match is None:
        return None
    parts = match.groupdict()
    month = _MONTHS.index(parts["name"][:3].lower()) + 1 if parts.get("name") else int(parts["month"])
    try:
        at = time.fromisoformat(parts.get("time") or "00:00")
        return datetime(int(parts["year"]), month, int(parts.get("day") or 1), at.hour, at.minute, at.second)
    except ValueError:
        return None
