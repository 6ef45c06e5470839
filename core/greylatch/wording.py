"""Words that go with numbers in messages."""

__all__ = ["counted", "megabytes"]


def counted(n: int, single: str, many: str | None = None) -> str:
    """A number with its noun.

    Parameters
    ----------
    n : int
        How many.
    single : str
        The noun for one.
    many : str | None
        The noun for several; None adds an s.

    Returns
    -------
    str

    Examples
    --------
    >>> counted(1, "row"), counted(1200, "row"), counted(2, "class", "classes")
    ('1 row', '1,200 rows', '2 classes')
    """
    return f"{n:,} {single if n == 1 else many or f'{single}s'}"


def megabytes(n: int) -> str:
    """A size for people.

    >>> megabytes(3_200_000), megabytes(5 * 10**9), megabytes(900)
    ('3.2 MB', '5.0 GB', '1 kB')
    """
    if n >= 10**9:
        return f"{n / 10**9:,.1f} GB"
    return f"{n / 10**6:,.1f} MB" if n >= 10**6 else f"{max(1, round(n / 1000))} kB"
