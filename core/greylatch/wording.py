"""Words that go with numbers in messages."""

__all__ = ["counted", "length_text", "megabytes", "number_text"]

LARGE = 1e9
"""From here on numbers are whole, and would be written by powers of ten otherwise."""


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


def number_text(value: float, decimals: int | None = None, digits: int = 4) -> str:
    """A number of a key, thousands parted.

    Parameters
    ----------
    value : float
        The number.
    decimals : int | None
        How many; None: `digits` significant figures, and no noughts behind them.
    digits : int
        Significant figures where decimals are not said.

    Returns
    -------
    str

    Examples
    --------
    >>> number_text(12345.678), number_text(-0.076672), number_text(12345.678, 1), number_text(2.14e13)
    ('12,350', '−0.07667', '12,345.7', '21,400,000,000,000')
    """
    if decimals is None:
        value = float(f"{value:.{digits}g}")
        text = f"{value:,.0f}" if abs(value) >= LARGE else f"{value:,.10g}"
    else:
        text = f"{value:,.{decimals}f}"
    return text.replace("-", "−")


def length_text(metres: float) -> str:
    """A length on the ground.

    >>> length_text(12), length_text(2_500)
    ('12 m', '2.5 km')
    """
    return f"{number_text(metres / 1000)} km" if metres >= 1000 else f"{number_text(metres)} m"


def megabytes(n: int) -> str:
    """A size for people.

    >>> megabytes(3_200_000), megabytes(5 * 10**9), megabytes(900)
    ('3.2 MB', '5.0 GB', '1 kB')
    """
    if n >= 10**9:
        return f"{n / 10**9:,.1f} GB"
    return f"{n / 10**6:,.1f} MB" if n >= 10**6 else f"{max(1, round(n / 1000))} kB"
