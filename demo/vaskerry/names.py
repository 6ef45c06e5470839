"""Invented place names, and the ways in which people misspell them."""

import numpy as np

FIRST = (
    "Arl", "Brun", "Cald", "Dunn", "Esk", "Farr", "Gorm", "Harl", "Inv", "Jorr", "Kell", "Lorn", "Mell", "Norr", "Ost", "Pell",
    "Quern", "Rask", "Skar", "Tolm", "Ulv", "Varr", "Wend", "Yarl", "Brack", "Cress", "Drum", "Fenn", "Hesk", "Morv",
)  # fmt: skip
LAST = (
    "aby",
    "ergill",
    "adale",
    "amoss",
    "erwick",
    "eness",
    "erholm",
    "abeck",
    "owater",
    "ecleugh",
    "ahope",
    "ering",
    "asay",
    "omire",
)
BEFORE = ("Upper", "Nether", "East", "West", "Old", "Mickle", "Little")
STREETS = (
    "Byre", "Chapel", "Kiln", "Peatcutters'", "Rowan", "School", "Shore", "Smithy", "Well", "Saint Orrin's", "Harbour", "Heather", "Tarn",
)  # fmt: skip
WAYS = {"Lane": "Ln", "Road": "Rd", "Street": "St", "Close": "Cl", "Brae": "Brae"}
"""What streets are called, and how that is written short."""


def street_names(rng: np.random.Generator, n: int) -> list[str]:
    """`n` streets of one place."""
    return [f"{name} {rng.choice(list(WAYS))}" for name in rng.choice(STREETS, n, replace=False)]


def as_written(rng: np.random.Generator, address: str) -> str:
    """An address as somebody writes it: short, in capitals, with the number behind, with a letter too many or as it is."""
    number, street = address.split(" ", 1)
    name, way = street.rsplit(" ", 1)
    return (
        f"{number} {name} {WAYS[way]}.", address.upper(), f"{street} {number}", f"{number} {misspelt(rng, street)}", address,
    )[int(rng.integers(5))]  # fmt: skip


def place_names(rng: np.random.Generator, n: int) -> list[str]:
    """`n` different names."""
    names: dict[str, None] = {}
    while len(names) < n:
        name = str(rng.choice(FIRST)) + str(rng.choice(LAST))
        if rng.random() < 0.3:
            name = f"{rng.choice(BEFORE)} {name}"
        names[name] = None
    return list(names)


def misspelt(rng: np.random.Generator, name: str) -> str:
    """The name as somebody else writes it: a doubled letter, a dropped one, an abbreviation, another ending."""
    kind = rng.integers(4)
    if kind == 0 and " " in name:
        first, rest = name.split(" ", 1)
        return f"{rest} ({first})"
    if kind == 1:
        return name.replace("w", "v").replace("k", "ck") if ("w" in name or "k" in name) else name + "e"
    at = int(rng.integers(2, len(name) - 2))
    return name[:at] + name[at] + name[at:] if kind == 2 else name[:at] + name[at + 1 :]
