"""Words that go with numbers in messages."""


def counted(n: int, one: str, many: str | None = None) -> str:
    """A number with its noun.

    >>> counted(1, "row"), counted(1200, "row"), counted(2, "class", "classes")
    ('1 row', '1,200 rows', '2 classes')
    """
    return f"{n:,} {one if n == 1 else many or f'{one}s'}"
