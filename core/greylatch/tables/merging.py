"""One change among others taken back, or made again: what it did goes, what others did since stays."""

from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Any

from greylatch.errors import Conflict
from greylatch.tables.edit import said
from greylatch.tables.record import KeptField

__all__ = ["merged_fields", "merged_rows", "merged_shapes"]

Row = Mapping[str, Any]


def merged_rows(
    was: Mapping[int, Row], then: Mapping[int, Row], now: Mapping[int, Row], names: Mapping[str, str]
) -> dict[int, Row | None]:
    """The rows that become others when the step from `was` to `then` is made upon `now`, cell by cell.

    Parameters
    ----------
    was, then : Mapping[int, Row]
        Rows on record (values by key) by fid that the step is about, before it and after it; a row that is in one alone comes or goes.
    now : Mapping[int, Row]
        Those of them that there are now.
    names : Mapping[str, str]
        What the fields are called, by key.

    Returns
    -------
    dict[int, Row | None]
        By fid; None for a row that goes.

    Raises
    ------
    Conflict
        That names row and field, where somebody wrote something else meanwhile.

    Examples
    --------
    >>> merged_rows({1: {"a": 2, "b": 1}}, {1: {"a": 1, "b": 1}}, {1: {"a": 2, "b": 7}}, {})
    {1: {'a': 1, 'b': 7}}
    """
    changed: dict[int, Row | None] = {}
    for fid in {**was, **then}:
        before, after, here = was.get(fid), then.get(fid), now.get(fid)
        if here == after:
            continue
        if before is None or after is None or here is None:
            if here != before:
                raise Conflict(f"Row {fid + 1}:", "somebody else changed or deleted it meanwhile, and it stays so.")
            changed[fid] = after
            continue
        row = dict(here)
        for key in {**before, **after}:
            if before.get(key) == after.get(key) or here.get(key) == after.get(key):
                continue
            if here.get(key) != before.get(key):
                raise Conflict(
                    f"Row {fid + 1}, field '{names.get(key, key)}':",
                    f"somebody else wrote {said(here.get(key))} there meanwhile, and it stays so.",
                )
            row[key] = after.get(key)
        if row != here:
            changed[fid] = row
    return changed


def merged_shapes(
    was: Mapping[int, bytes], then: Mapping[int, bytes], now: Mapping[int, bytes]
) -> dict[int, bytes | None]:
    """The same for shapes, which are whole: as WKB by fid.

    Parameters
    ----------
    was, then : Mapping[int, bytes]
        Before the step and after it.
    now : Mapping[int, bytes]
        As they are.

    Returns
    -------
    dict[int, bytes | None]

    Raises
    ------
    Conflict
        Where somebody moved one of them elsewhere meanwhile.

    Examples
    --------
    >>> merged_shapes({1: b"there"}, {1: b"here"}, {1: b"there", 2: b"x"})
    {1: b'here'}
    """
    changed: dict[int, bytes | None] = {}
    for fid in {**was, **then}:
        here, after = now.get(fid), then.get(fid)
        if here == after:
            continue
        if here != was.get(fid):
            raise Conflict(f"Row {fid + 1}:", "somebody else moved it meanwhile, and it stays where it is.")
        changed[fid] = after
    return changed


def merged_fields(
    was: Sequence[KeptField], then: Sequence[KeptField], now: Sequence[KeptField]
) -> tuple[list[KeptField], set[str]]:
    """The fields after the step from `was` to `then` is made upon `now`.

    Parameters
    ----------
    was, then, now : Sequence[KeptField]
        Before the step, after it, and as they are. How many values are missing is left out of account.

    Returns
    -------
    fields : list[KeptField]
        With `missing` as it was said of them last.
    recount : set[str]
        The keys of those that came or mean something else: what is missing in them is to be counted anew.

    Raises
    ------
    Conflict
        That names the field, where somebody else described or deleted it meanwhile, or where its name is taken.

    Examples
    --------
    >>> one, two, three = (KeptField(key, "number", 0, key, "double") for key in "abc")
    >>> fields, recount = merged_fields([one, two], [one], [one, two, three])
    >>> [field.key for field in fields], recount
    (['a', 'c'], set())
    """
    before, after = ({field.key: replace(field, missing=0) for field in fields} for fields in (was, then))
    merged, recount = {field.key: field for field in now}, set[str]()
    for key in {**before, **after}:
        old, new = before.get(key), after.get(key)
        here = replace(merged[key], missing=0) if key in merged else None
        if old == new or here == new:
            continue
        name = (new or old or merged[key]).name
        if here != old:
            raise Conflict(f"Field '{name}':", "somebody else changed it meanwhile, and it stays so.")
        if new is None:
            del merged[key]
            continue
        if any(field.name == new.name for field in merged.values() if field.key != key):
            raise Conflict(f"Field '{name}':", "there is another one of that name by now.")
        merged[key] = new
        recount.add(key)
    if not merged:
        raise Conflict("The table would have no field left.")
    return list(merged.values()), recount
