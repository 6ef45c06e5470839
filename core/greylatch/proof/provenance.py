"""What is known of data besides themselves, and what a map says of it."""

from collections.abc import Iterable
from dataclasses import dataclass

from greylatch.sheet.document import LONGEST_CREDITS, LONGEST_DATE, LONGEST_TERMS, Furniture

__all__ = ["Provenance", "with_credits"]


@dataclass(frozen=True)
class Provenance:
    """Where a dataset comes from, whom it is owed to, on what terms and of when it is, and what a join left over."""

    source: str = ""
    rows_without_area: int = 0
    areas_without_row: int = 0
    credit: str = ""
    licence: str = ""
    dated: str = ""


def with_credits(furniture: Furniture, known: Iterable[Provenance]) -> Furniture:
    """What stands around a map, with the credits, the date and the terms that its data state wherever its maker has written none.

    Parameters
    ----------
    furniture : Furniture
        What stands around the map.
    known : Iterable[Provenance]
        What is known of its data, from the uppermost layer down.

    Returns
    -------
    Furniture

    Examples
    --------
    >>> wells = Provenance("Field books", credit="Survey of the isles", licence="CC BY 4.0", dated="2026")
    >>> peat = Provenance("Peat board", licence="CC BY 4.0", dated="2024")
    >>> filled = with_credits(Furniture(), [wells, peat, wells])
    >>> filled.credits, filled.source_date, filled.terms
    ('Data: Survey of the isles; Peat board', '2024; 2026', 'CC BY 4.0')
    """
    every = list(known)
    owed = _listed(each.credit.strip() or each.source.strip() for each in every)
    stated = {
        "credits": f"Data: {owed}"[:LONGEST_CREDITS] if owed else "",
        "source_date": _listed(sorted(each.dated.strip() for each in every))[:LONGEST_DATE],
        "terms": _listed(each.licence.strip() for each in every)[:LONGEST_TERMS],
    }
    lacking = {name: text for name, text in stated.items() if not getattr(furniture, name).strip()}
    return furniture.model_copy(update=lacking)


def _listed(texts: Iterable[str]) -> str:
    return "; ".join(dict.fromkeys(filter(None, texts)))
