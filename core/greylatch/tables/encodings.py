"""Encodings compared on the rows of a text in which they differ."""

from dataclasses import dataclass
from pathlib import Path

__all__ = ["COMMON", "OFFERED", "EncodingSeen", "compared"]

COMMON = ("utf-8", "cp1252", "latin_1", "cp1250", "cp1251", "cp1253", "cp437", "mac_roman")
"""Those of most tables that are not UTF-8. Common practice, no source."""
OFFERED = ("utf-8", "utf-8-sig", "utf-16", *COMMON[1:])
"""Those with the two that say themselves what they are."""
SAMPLE, MOST, LONGEST = 1 << 20, 4, 160
"""Bytes that are looked at, lines that are shown, characters of each."""


@dataclass(frozen=True)
class EncodingSeen:
    """Encodings under which the lines read alike, and how; `fits` says whether every byte of them stands for something."""

    encodings: list[str]
    lines: list[str]
    fits: bool


def compared(path: str | Path) -> list[EncodingSeen]:
    """How the first lines with other than plain letters read under the common encodings; those that fit come first. Nothing where
    all are plain: then it makes no difference.

    Parameters
    ----------
    path : str | Path
        The file.

    Returns
    -------
    list[EncodingSeen]

    Raises
    ------
    OSError
        Where it can't be read.
    """
    with open(path, "rb") as file:
        lines = file.read(SAMPLE).splitlines()
    odd = list(dict.fromkeys(line for line in lines if any(byte > 127 for byte in line)))[:MOST]
    if not odd or b"\0" in b"".join(odd):
        return []
    seen: dict[tuple[str, ...], EncodingSeen] = {}
    for encoding in COMMON:
        texts = tuple(line.decode(encoding, "replace")[:LONGEST] for line in odd)
        fits = not any("\ufffd" in text for text in texts)
        seen.setdefault(texts, EncodingSeen([], list(texts), fits)).encodings.append(encoding)
    return sorted(seen.values(), key=lambda each: not each.fits)
