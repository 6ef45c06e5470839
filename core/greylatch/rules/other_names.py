"""By what names conditions speak of other datasets."""

import re
import unicodedata
from collections.abc import Collection

__all__ = ["LONGEST_STEM", "other_name"]

LONGEST_STEM = 40
"""Letters of a title that a name takes over."""


def other_name(title: str, taken: Collection[str] = ()) -> str:
    """A name for a dataset in the conditions of a layer, made of its title: plain letters, figures and underscores, so that it needs no
    quotes.

    Parameters
    ----------
    title : str
        Of the dataset.
    taken : Collection[str]
        Names that others have already.

    Returns
    -------
    str

    Examples
    --------
    >>> other_name("Mère d'Orrin (2026)"), other_name("2026"), other_name("Wells", ["wells", "wells_2"])
    ('mere_d_orrin_2026', 'data_2026', 'wells_3')
    """
    letters = "".join(each for each in unicodedata.normalize("NFD", title) if not unicodedata.combining(each))
    plain = re.sub(r"[^A-Za-z0-9]+", "_", letters).strip("_").lower()[:LONGEST_STEM].rstrip("_")
    stem = plain if plain[:1].isalpha() else f"data_{plain}".rstrip("_")
    numbered = (f"{stem}_{n}" for n in range(2, len(taken) + 3))
    return next(name for name in (stem, *numbered) if name not in taken)
