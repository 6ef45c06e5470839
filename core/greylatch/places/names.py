"""How names of places are written: what all who compare them leave out of account."""

import unicodedata

__all__ = ["ABBREVIATIONS", "folded"]

ABBREVIATIONS = {
    "st": "saint", "ste": "sainte", "mt": "mount", "ft": "fort", "pt": "point", "gt": "great", "lt": "little", "ltl": "little", "upr": "upper",
    "lr": "lower", "n": "north", "s": "south", "e": "east", "w": "west", "nth": "north", "sth": "south", "&": "and", "is": "island",
    "isl": "island", "isle": "island", "co": "county", "ln": "lane", "rd": "road", "cl": "close", "ave": "avenue", "av": "avenue",
    "sq": "square", "terr": "terrace", "cres": "crescent",
}  # fmt: skip
"""Common ones of English names. Common practice, no source."""


def folded(name: str) -> str:
    """A name without capitals and accents.

    >>> folded("Łódź Mór"), folded("STRASSE") == folded("Straße")
    ('łodz mor', True)
    """
    plain = name.casefold()
    if plain.isascii():
        return plain
    return "".join(c for c in unicodedata.normalize("NFKD", plain) if not unicodedata.combining(c))
