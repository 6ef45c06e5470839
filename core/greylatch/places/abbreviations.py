"""Names that are the same but for abbreviations, the order of words, and words that say nothing of their own."""

import re
from functools import lru_cache

from greylatch.places.names import ABBREVIATIONS, folded

__all__ = ["cut_short", "initials", "same_name"]

FILLING = {"the", "of", "and", "a", "de", "la", "du", "des", "und", "et", "y"}
GENERIC = {"republic", "rep", "federation", "fyr", "sts", "fed", "federated", "islamic", "county", "district"}
"""Words that names of lands have or leave out. Common practice, no source."""
ENDINGS = ("ia", "stan", "land")
"""With which the name of a land is made of that of its people, where the other name says what kind of land it is."""
LEAST = 3


@lru_cache(maxsize=100_000)
def _words(name: str) -> tuple[tuple[str, bool], ...]:
    """The words of a name, folded, each with whether a point says that it is abbreviated."""
    parts = re.findall(r"([^\W_]+)(\.?)", folded(name).replace("'", "").replace("’", ""))
    return tuple((word, point == ".") for word, point in parts if word not in FILLING)


def same_name(first: str, second: str) -> bool:
    """Whether two names are one: the same words in any order, of which some are abbreviated, and some that say nothing left out.

    Parameters
    ----------
    first : str
        One of the two.
    second : str
        The other of the two.

    Returns
    -------
    bool

    Examples
    --------
    >>> [same_name(*pair) for pair in [("Bosnia and Herz.", "Bosnia and Herzegovina"), ("Congo, Dem. Rep.", "Dem. Rep. Congo"), ("Lao", "Laos")]]
    [True, True, True]
    >>> [same_name(*pair) for pair in [("Congo, Dem. Rep.", "Congo"), ("N. Korea", "S. Korea"), ("Niger", "Nigeria")]]
    [False, False, False]
    """
    if any(_same(one, other) for one in _forms(first) for other in _forms(second)):
        return True
    ours, theirs = (tuple(each for each in _words(name) if each[0] not in GENERIC) for name in (first, second))
    said = len(ours) < len(_words(first)) or len(theirs) < len(_words(second))
    return bool(ours and theirs) and ((said and _fit(ours, theirs)) or _of_its_people(ours, theirs, said))


def cut_short(short: str, name: str) -> bool:
    """Whether a name may be another one whose words are cut short, as their points say. A single word may be cut of several.

    Parameters
    ----------
    short : str
        The name with points.
    name : str
        The other one.

    Returns
    -------
    bool

    Examples
    --------
    >>> cut_short("Calif.", "California"), cut_short("Calif", "California"), cut_short("N. Car.", "Carolina, North")
    (True, False, True)
    """
    words, others = _words(short), _words(name)
    if len(words) == len(others) == 1:
        return len(words[0][0]) >= LEAST and _abbreviates(words[0], others[0])
    return any(point for _, point in words) and _same(short, name)


def initials(name: str) -> set[frozenset[str]]:
    """With which letters the words of a name begin that say something of their own; names that are one have a set of them in common.

    >>> initials("Congo, Dem. Rep.") & initials("Dem. Rep. Congo") == {frozenset("cd")}
    True
    """
    return {frozenset(word[0] for word, _ in _words(form) if word not in GENERIC) for form in _forms(name)}


@lru_cache(maxsize=100_000)
def _forms(name: str) -> list[str]:
    """A name, and where it has two words or more before an 'of', these alone: the United States (of America)."""
    before = re.split(r"\s+of\s+", name, maxsplit=1, flags=re.IGNORECASE)[0]
    return [name, before] if before != name and len(_words(before)) > 1 else [name]


def _same(first: str, second: str) -> bool:
    ours, theirs = _words(first), _words(second)
    return bool(ours and theirs) and _fit(ours, theirs)


def _fit(ours: tuple[tuple[str, bool], ...], theirs: tuple[tuple[str, bool], ...]) -> bool:
    """Whether the words of both go together one by one: equal ones first, then abbreviations with what begins like them."""
    if len(ours) != len(theirs):
        return False
    left = list(theirs)
    short = []
    for word in ours:
        same = next((other for other in left if other[0] == word[0]), None)
        if same is None:
            short.append(word)
        else:
            left.remove(same)
    for word in short:
        fitting = [other for other in left if _abbreviates(word, other) or _abbreviates(other, word)]
        # One that may stand for two words tells neither.
        if len(fitting) != 1:
            return False
        left.remove(fitting[0])
    # A single word that is cut short may be cut of anything.
    return not short or len(ours) > 1


def _abbreviates(short: tuple[str, bool], long: tuple[str, bool]) -> bool:
    known = ABBREVIATIONS.get(short[0]) == long[0]
    return known or (short[1] and len(short[0]) < len(long[0]) and long[0].startswith(short[0]))


def _of_its_people(ours: tuple[tuple[str, bool], ...], theirs: tuple[tuple[str, bool], ...], said: bool) -> bool:
    """'Czech (Republic)' and 'Czechia', 'Lao' and 'Laos'."""
    if len(ours) != 1 or len(theirs) != 1:
        return False
    short, long = sorted((ours[0][0], theirs[0][0]), key=len)
    return len(short) >= LEAST and any(long == short + ending for ending in (*(ENDINGS if said else ()), "s"))
