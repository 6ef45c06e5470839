"""What a file says of itself: its title, where it comes from, whose it is."""

from collections.abc import Mapping
from dataclasses import dataclass

from greylatch.errors import printable

__all__ = ["SILENT", "About", "about"]

_TITLE = ("TITLE", "IDENTIFIER", "NAME", "TIFFTAG_DOCUMENTNAME")
_SOURCE = (
    "AUTHOR_NAME",
    "CREATOR",
    "TIFFTAG_ARTIST",
    "DESCRIPTION",
    "TIFFTAG_IMAGEDESCRIPTION",
    "TIME",
    "TIFFTAG_DATETIME",
)
_CREDIT = ("COPYRIGHT_AUTHOR", "COPYRIGHT_YEAR", "COPYRIGHT_LICENSE", "LICENSE", "LICENCE", "TIFFTAG_COPYRIGHT")
"""Names of metadata, as GDAL gives those of GeoPackage, FlatGeobuf, GPX and TIFF (their drivers' pages)."""
MOST = 300


@dataclass(frozen=True)
class About:
    """In words; '' where the file says nothing."""

    title: str = ""
    source: str = ""
    credit: str = ""


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
    About(title='Dip wells', source='Isla Orr, 2026-05-01', credit='2026')
    """
    known = {name.upper(): " ".join(printable(str(value)).split())[:MOST] for name, value in metadata.items()}
    title = next((known[name] for name in _TITLE if known.get(name)), "")
    parts = [
        known[name][:10] if name in ("TIME", "TIFFTAG_DATETIME") else known[name] for name in _SOURCE if known.get(name)
    ]
    credit = [known[name] for name in _CREDIT if known.get(name)]
    return About("" if title == layer else title, ", ".join(dict.fromkeys(parts)), ", ".join(dict.fromkeys(credit)))
