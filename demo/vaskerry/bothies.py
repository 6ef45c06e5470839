"""Bothies that the survey sleeps in, each with a made-up picture of it."""

from pathlib import Path

import numpy as np
from numpy.typing import NDArray
from PIL import Image, ImageDraw, ImageFilter

from vaskerry.survey import Rows

__all__ = ["CREDIT", "bothies", "draw_bothies"]

MANY = 14
WIDE, HIGH, FINER = 640, 420, 2
CREDIT = "Drawn for the Vaskerry Peatland Survey"
ROOFS = ("#7a3b2e", "#4a5560", "#6b6a45", "#84623b", "#3f5a5e")
WALLS = ("#e9e2d0", "#cfc7b5", "#b8aa93", "#efe9dd")
SKIES = (("#9fb6c4", "#e8e6da"), ("#7d8fa3", "#d9cfc0"), ("#b9c3c2", "#f0e7d2"))
HILLS = ("#8d9b86", "#6f7d62", "#8a7a52")


def bothies(places: Rows, seed: int) -> Rows:
    """One at each of some places of the gazetteer: its name, beds, whether it has a stove, since when it stands, and where."""
    rng = np.random.default_rng(seed)
    return [
        {
            "bothy": f"{places[at]['name']} bothy", "isles": places[at]["group"], "beds": int(rng.integers(2, 9)),
            "stove": "yes" if rng.random() < 0.7 else "no", "built": int(rng.integers(1860, 2012)),
            "lon": places[at]["lon"], "lat": places[at]["lat"],
        }
        for at in rng.choice(len(places), MANY, replace=False)
    ]  # fmt: skip


def draw_bothies(folder: Path, rows: Rows, seed: int) -> None:
    """A picture of each into `folder`, called as the bothy is."""
    folder.mkdir(exist_ok=True)
    for i, row in enumerate(rows):
        _drawn(np.random.default_rng([seed, i])).save(folder / f"{row['bothy']}.jpg", quality=84)


def _drawn(rng: np.random.Generator) -> Image.Image:
    wide, high = WIDE * FINER, HIGH * FINER
    above, below = (np.array(_rgb(colour)) for colour in SKIES[rng.integers(len(SKIES))])
    share = np.linspace(0, 1, high)[:, None, None]
    sky = np.broadcast_to(above * (1 - share) + below * share, (high, wide, 3)).astype(np.uint8)
    picture = Image.fromarray(np.ascontiguousarray(sky))
    pen = ImageDraw.Draw(picture)
    for depth, colour in enumerate(HILLS):
        line = _skyline(rng, wide) * high * (0.10 + 0.03 * depth) + high * (0.42 + 0.14 * depth)
        pen.polygon([(0, high), *zip(range(wide), line.tolist(), strict=True), (wide, high)], fill=colour)
    left, ground = wide * rng.uniform(0.25, 0.45), high * rng.uniform(0.74, 0.8)
    across, tall, roof = wide * rng.uniform(0.22, 0.34), high * 0.19, high * rng.uniform(0.12, 0.18)
    walls, slates = WALLS[rng.integers(len(WALLS))], ROOFS[rng.integers(len(ROOFS))]
    pen.rectangle((left, ground - tall, left + across, ground), fill=walls)
    eaves = 0.04 * across
    pen.polygon(
        [
            (left - eaves, ground - tall), (left + 0.14 * across, ground - tall - roof),
            (left + 0.86 * across, ground - tall - roof), (left + across + eaves, ground - tall),
        ],
        fill=slates,
    )  # fmt: skip
    pen.rectangle(
        (left + 0.2 * across, ground - tall - 1.3 * roof, left + 0.28 * across, ground - tall - 0.7 * roof), fill=walls
    )
    door = left + across * rng.uniform(0.42, 0.52)
    pen.rectangle((door, ground - 0.72 * tall, door + 0.1 * across, ground), fill=slates)
    for at in (0.12, 0.72):
        x, y = left + at * across, ground - 0.68 * tall
        pen.rectangle((x, y, x + 0.13 * across, y + 0.3 * tall), fill="#3b4448")
        pen.line((x + 0.065 * across, y, x + 0.065 * across, y + 0.3 * tall), fill=walls, width=3)
    for _ in range(700):  # moor grass before it
        x, y = rng.uniform(0, wide), rng.uniform(ground, high)
        pen.line(
            (x, y, x + rng.normal(0, 7), y - rng.uniform(8, 26)),
            fill=("#6d6233", "#9a8a4a", "#55603a")[rng.integers(3)],
            width=2,
        )
    return picture.resize((WIDE, HIGH), Image.Resampling.LANCZOS).filter(ImageFilter.SMOOTH)


def _skyline(rng: np.random.Generator, wide: int) -> NDArray[np.float64]:
    """−1 to 1 along a ridge."""
    x = np.linspace(0, 2 * np.pi, wide)
    waves = [rng.uniform(0.3, 1) / n * np.sin(n * x + rng.uniform(0, 6)) for n in (1, 2, 3, 5, 9)]
    return np.asarray(np.sum(waves, axis=0) / 2)


def _rgb(colour: str) -> list[int]:
    return [int(colour[i : i + 2], 16) for i in (1, 3, 5)]
