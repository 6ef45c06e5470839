"""What a file says of itself: its title, where it comes from, whose it is, on what terms, and of when."""

from collections.abc import Mapping
from dataclasses import dataclass

from greylatch.errors import printable

__all__ = ["SILENT", "About", "about"]

_TITLE = ("TITLE", "IDENTIFIER", "NAME", "TIFFTAG_DOCUMENTNAME")
_SOURCE = ("AUTHOR_NAME", "CREATOR", "TIFFTAG_ARTIST", "DESCRIPTION", "TIFFTAG_IMAGEDESCRIPTION")
_CREDIT = ("COPYRIGHT_AUTHOR", "COPYRIGHT_YEAR", "TIFFTAG_COPYRIGHT")
_LICENCE = ("COPYRIGHT_LICENSE", "LICENSE", "LICENCE")
_DATED = ("TIME", "TIFFTAG_DATETIME", "DATE")
"""Names of metadata, as GDAL gives those of GeoPackage, FlatGeobuf, GPX and TIFF (their drivers' pages)."""
MOST = 300


@dataclass(frozen=True)
class About:
    """In words; '' where the file says nothing."""

    title: str = ""
    source: str = ""
    credit: str = ""
    licence: str = ""
    dated: str = ""


SILENT = About()
"""What most files say."""


def about(metadata: Mapping[str, str], layer: str = "") -> About:
    """What metadata say in the words of the library.

    Parameters
    ----------
    metadata : Mapping[str, str]
        Names and values.
    layer : str
        The name of the layer, which says nothing more where it is the title too.

    Returns
    -------
    About

    Examples
    --------
    >>> about({"NAME": "Dip wells", "AUTHOR_NAME": "Isla Orr", "TIME": "2026-05-01T10:00:00Z", "COPYRIGHT_YEAR": "2026"})
    About(title='Dip wells', source='Isla Orr', credit='2026', licence='', dated='2026-05-01')
    """
    known = {name.upper(): " ".join(printable(str(value)).split())[:MOST] for name, value in metadata.items()}
    title = next((known[name] for name in _TITLE if known.get(name)), "")
    said = ([known[name] for name in names if known.get(name)] for names in (_SOURCE, _CREDIT, _LICENCE))
    source, credit, licence = (", ".join(dict.fromkeys(words)) for words in said)
    # Of a moment the day is enough; TIFF writes it with colons (TIFF 6.0, tag 306).
    dated = next((known[name][:10].replace(":", "-") for name in _DATED if known.get(name)), "")
    return About("" if title == layer else title, source, credit, licence, dated)
