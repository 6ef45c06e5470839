"""Places found by their names in a gazetteer."""

import re
import string
from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray
from rapidfuzz import fuzz, process

from greylatch.errors import BadInput
from greylatch.places.abbreviations import cut_short
from greylatch.places.names import ABBREVIATIONS, folded

__all__ = ["Candidate", "Gazetteer", "Located", "name_key"]

LIKENESS, SURE_LIKENESS, SURE_APART = 72.0, 88.0, 8.0
"""Likeness, 0..100, of a place that is worth a look; from which one is taken; by how much the next must be less like."""
CUT_LIKENESS = 85.0
"""Of a place whose name is cut short: worth a look, and never taken unseen."""
MOST = 5
"""Candidates that are told."""
LOOKED_AT = 40
"""Places with the most trigrams in common that are compared letter by letter."""
COMMON = 4_000
"""A trigram of more places than so many says little, unless there is no other."""
SIGNS = {ord(sign): " " for sign in string.punctuation if sign not in "&'"} | {ord("'"): None}
"""Signs part words, but for an apostrophe."""
STREET = re.compile(r"(?<=\w) st\b\.?(?=\s*(?:$|[,;(\d]))")
"""What stands behind a name, in an address, which has a number: before anything else it is a saint."""


@lru_cache(maxsize=200_000)
def name_key(name: str) -> str:
    """What a name is known by: without case, accents, signs and the order of its words; abbreviations written out.

    >>> name_key("St. Ørrin") == name_key("ØRRIN, Saint"), name_key("Skara (Nether)")
    (True, 'nether skara')
    >>> name_key("Kiln St. 12"), name_key("12 St. Orrin Rd")
    ('12 kiln street', '12 orrin road saint')
    """
    plain = STREET.sub(" street", folded(name)) if any(c.isdigit() for c in name) else folded(name)
    if not plain.isascii():
        plain = re.sub(r"[^\w&'’]+", " ", plain).replace("’", "")
    words = plain.translate(SIGNS).split()
    return " ".join(sorted(ABBREVIATIONS.get(word, word) for word in words)) if len(words) > 1 else "".join(words)


def _keys_of(name: str) -> list[str]:
    """The key of a name, and that of what stands outside of its brackets."""
    keys = [name_key(name)]
    if "(" in name or "[" in name:
        keys.append(name_key(re.sub(r"\([^)]*\)|\[[^]]*\]", " ", name)))
    return [key for key in dict.fromkeys(keys) if key]


@dataclass(frozen=True)
class Candidate:
    """A place that a name may mean: its row in the gazetteer, name and region, and how like the two names are (0..100)."""

    place: int
    name: str
    region: str
    likeness: float


@dataclass(frozen=True)
class Located:
    """What became of a name: 'exact', 'approximate', 'ambiguous' or 'not found'. Of the first two, the first candidate is the place."""

    status: str
    candidates: tuple[Candidate, ...]

    @property
    def place(self) -> int | None:
        """The row of the place in the gazetteer; None where it is not decided."""
        return self.candidates[0].place if self.status in ("exact", "approximate") else None


class Gazetteer:
    """Names of places, ready to be looked up.

    Parameters
    ----------
    names : Sequence[str]
        The names.
    regions : Sequence[str] | None
        In which region each lies.
    alternatives : Sequence[str] | None
        Other names of each, parted by semicolons or bars.

    Examples
    --------
    >>> isles = Gazetteer(["Nether Skara", "Upper Skara", "Saint Orrin"], ["Hallan", "Hallan", "Ard"])
    >>> [isles.locate(name).status for name in ("St. Orrin", "Skara, Nether", "Nethr Skara", "Skara", "Mor")]
    ['exact', 'exact', 'approximate', 'ambiguous', 'not found']
    """

    def __init__(
        self, names: Sequence[str], regions: Sequence[str] | None = None, alternatives: Sequence[str] | None = None
    ) -> None:  # fmt: skip
        self.names, self.regions = names, regions
        self._places: dict[str, list[int]] = defaultdict(list)
        for place, name in enumerate(names):
            for key in _keys_of(name):
                self._places[key].append(place)
        for place, others in enumerate(alternatives or ()):
            for key in (key for other in re.split(r"[;|]", others or "") for key in _keys_of(other)):
                if place not in self._places[key]:
                    self._places[key].append(place)
        self._region_keys = [name_key(region) for region in regions] if regions is not None else None
        self._postings: dict[str, NDArray[np.int64]] | None = None
        self._listed = list(self._places)

    def locate(self, name: str, region: str = "") -> Located:
        """The place of a name, within a region where one is given.

        Parameters
        ----------
        name : str
            The name as it is written.
        region : str
            The region that it is said to lie in; '' for any.

        Returns
        -------
        Located

        Raises
        ------
        BadInput
            For a region, where the gazetteer has none.
        """
        if region.strip() and self._region_keys is None:
            raise BadInput("The gazetteer has no field of regions.", "Name it, or leave the regions out.")
        keys, where = _keys_of(name), name_key(region)
        if not keys:
            return Located("not found", ())
        key = next((each for each in keys if each in self._places), keys[0])
        same = self._places.get(key, [])
        here = [place for place in same if self._within(place, where)]
        if len(here) == 1:
            return Located("exact", (self._candidate(here[0], 100.0),))
        if here:
            return Located("ambiguous", tuple(self._candidate(place, 100.0) for place in here[:MOST]))
        likely = self._likely(name, key, where)
        if likely:
            best, listed = likely[0]
            sure = best.likeness >= SURE_LIKENESS and _same_words(key, listed)
            # Another number is another house, however alike the two are written.
            rivals = [each.likeness for each, other in likely[1:] if _figures(other) == _figures(key)]
            apart = best.likeness - max(rivals, default=0.0) >= SURE_APART
            return Located("approximate" if sure and apart else "ambiguous", tuple(each for each, _ in likely))
        # A name that is known, but elsewhere: perhaps the region is wrong.
        elsewhere = tuple(self._candidate(place, 100.0) for place in same[:MOST])
        return Located("ambiguous" if elsewhere else "not found", elsewhere)

    def _within(self, place: int, where: str) -> bool:
        return not where or self._region_keys is None or self._region_keys[place] == where

    def _candidate(self, place: int, likeness: float) -> Candidate:
        region = "" if self.regions is None else self.regions[place]
        return Candidate(place, self.names[place], region, round(likeness, 1))

    def _likely(self, name: str, key: str, where: str) -> list[tuple[Candidate, str]]:
        """Places of names that are spelt nearly so, the likeliest first, each with the name by which it is."""
        near = self._sharing(key)
        scored = process.extract(
            key, {i: self._listed[i] for i in near.tolist()}, scorer=fuzz.ratio, limit=LOOKED_AT, score_cutoff=LIKENESS
        )
        # A part of a name may stand for the whole: 'Skara' for 'Nether Skara'.
        words = set(key.split())
        parts = [
            (None, 100 * len(key) / len(self._listed[i]), i)
            for i in near.tolist()
            if words < set(self._listed[i].split())
        ]
        cut = (
            [(None, CUT_LIKENESS, i) for i in near.tolist() if cut_short(name, self._listed[i])] if "." in name else []
        )
        likeliest: dict[int, tuple[float, str]] = {}
        for _, likeness, i in [*scored, *parts, *cut]:
            listed, least = self._listed[int(i)], min(float(likeness), 99.0)
            for place in self._places[listed]:
                if self._within(place, where) and least > likeliest.get(place, (0.0, ""))[0]:
                    likeliest[place] = least, listed
        ranked = sorted(likeliest.items(), key=lambda each: (-each[1][0], each[0]))
        return [(self._candidate(place, likeness), listed) for place, (likeness, listed) in ranked[:MOST]]

    def _sharing(self, key: str) -> NDArray[np.int64]:
        """The listed names that share the most trigrams with a key."""
        if self._postings is None:
            self._postings = _postings(self._listed)
        lists = [self._postings[trigram] for trigram in _trigrams(key) if trigram in self._postings]
        telling = [places for places in lists if len(places) <= COMMON] or sorted(lists, key=len)[:1]
        if not telling:
            return np.empty(0, dtype=np.int64)
        places, shared = np.unique(np.concatenate(telling), return_counts=True)
        return np.asarray(places[np.argsort(-shared, kind="stable")[:LOOKED_AT]])


def _trigrams(key: str) -> set[str]:
    padded = f" {key} "
    return {padded[i : i + 3] for i in range(len(padded) - 2)}


def _postings(keys: Sequence[str]) -> dict[str, NDArray[np.int64]]:
    """For each three letters in a row, which keys have them."""
    lists: dict[str, list[int]] = defaultdict(list)
    for i, key in enumerate(keys):
        for trigram in _trigrams(key):
            lists[trigram].append(i)
    return {trigram: np.array(places, dtype=np.int64) for trigram, places in lists.items()}


def _figures(key: str) -> list[str]:
    return re.findall(r"\d+", key)


def _same_words(first: str, second: str) -> bool:
    """Whether two names have as many words, alike but for single letters, and the same figures: East is no misspelt West."""
    words, others = first.split(), second.split()
    if len(words) != len(others) or _figures(first) != _figures(second):
        return first.replace(" ", "") == second.replace(" ", "")
    left = list(others)
    for word in words:
        best = max(left, key=lambda other: fuzz.ratio(word, other))
        if word != best and (min(len(word), len(best)) < 4 or fuzz.ratio(word, best) <= 78):
            return False
        left.remove(best)
    return True
