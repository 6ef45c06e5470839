"""100,000 names found among 1,000,000 places: most written as they are, one in five with a slip."""

import random

from greylatch.places.locating import Gazetteer

from bench.table import print_table, timed

ONSETS = [
    "Ard",
    "Bel",
    "Cros",
    "Dun",
    "Esk",
    "Fen",
    "Gor",
    "Har",
    "Isk",
    "Jor",
    "Kel",
    "Lar",
    "Mor",
    "Nor",
    "Ost",
    "Pel",
    "Ras",
    "Ska",
    "Tol",
    "Ulv",
]
MIDDLES = ["a", "e", "i", "o", "u", "ana", "ene", "ili", "oro", "umu", "anta", "erse", "ivi", "ogo", "urla"]
ENDS = [
    "by",
    "holm",
    "gill",
    "dale",
    "mire",
    "beck",
    "ness",
    "say",
    "moss",
    "wick",
    "thwaite",
    "cleugh",
    "water",
    "garth",
    "rigg",
]
BEFORE = ["", "North ", "South ", "Upper ", "Nether ", "Little ", "Great ", "Old ", "St. ", "High "]


def main() -> None:
    rng = random.Random(3)
    names = [
        rng.choice(BEFORE) + rng.choice(ONSETS) + rng.choice(MIDDLES) + rng.choice(MIDDLES) + rng.choice(ENDS)
        for _ in range(1_000_000)
    ]
    regions = [f"Region {rng.randrange(400)}" for _ in names]
    asked = []
    for _ in range(100_000):
        place = rng.randrange(len(names))
        name = names[place]
        if rng.random() < 0.2:
            at = rng.randrange(1, len(name) - 1)
            name = name[:at] + name[at + 1 :]
        asked.append((name, regions[place]))
    ready, gazetteer = timed(lambda: Gazetteer(names, regions))
    took, found = timed(lambda: [gazetteer.locate(*each) for each in asked])
    decided = sum(each.place is not None for each in found)
    print_table(
        "100,000 names among 1,000,000 places (20 s asked)",
        [
            ("getting the places ready", f"{ready:.1f} s"),
            ("finding the names", f"{took:.1f} s"),
            ("both", f"{ready + took:.1f} s"),
            ("decided", f"{decided:,}"),
        ],
    )


if __name__ == "__main__":
    main()
