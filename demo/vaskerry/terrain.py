"""Relief, peat and colours of the islands on a 25 m grid in EPSG:32626."""

from dataclasses import dataclass

import numpy as np
from affine import Affine
from numpy.typing import NDArray
from PIL import Image
from scipy.ndimage import binary_opening, gaussian_filter, label

CELL = 25.0
WIDTH, HEIGHT = 2400, 1920
WEST, NORTH = 470_000.0, 5_786_000.0
TRANSFORM = Affine(CELL, 0, WEST, 0, -CELL, NORTH)

# (x, y, radius along, radius across, turn in degrees, height) as shares of the grid's width: three groups of islands.
ISLANDS = (
    (0.28, 0.33, 0.240, 0.150, -28, 1.00), (0.47, 0.13, 0.080, 0.048, -10, 0.55), (0.11, 0.13, 0.065, 0.042, 40, 0.45),
    (0.73, 0.25, 0.150, 0.115, 35, 0.85), (0.91, 0.10, 0.070, 0.050, -20, 0.60), (0.89, 0.43, 0.058, 0.040, 10, 0.45),
    (0.53, 0.61, 0.185, 0.100, 12, 0.80), (0.27, 0.68, 0.070, 0.050, -35, 0.50), (0.79, 0.64, 0.075, 0.052, 60, 0.50),
    (0.555, 0.415, 0.016, 0.012, 20, 0.25), (0.585, 0.440, 0.013, 0.010, -30, 0.22), (0.600, 0.405, 0.012, 0.009, 60, 0.22),
    (0.570, 0.455, 0.010, 0.008, 0, 0.20),
)  # fmt: skip
NAMES = ("Hallan", "Kellasay", "Brunnay", "Orrin", "Ulvery", "Tarvasay", "Sunder", "Pellay", "Varrasay")
GROUPS = ("Hallan", "Hallan", "Hallan", "Orrin", "Orrin", "Orrin", "Sunder", "Sunder", "Sunder", *["Orrin"] * 4)


@dataclass(frozen=True)
class Terrain:
    """`relief` (m, NaN in the sea), `peat` (m, NaN where there is none), `island` (index of the nearest island)."""

    relief: NDArray[np.float32]
    peat: NDArray[np.float32]
    island: NDArray[np.int8]


def noise(rng: np.random.Generator, cells: int) -> NDArray[np.float32]:
    """Smooth noise of about unit spread, with features of roughly WIDTH / `cells` grid cells."""
    rows = max(2, round(cells * HEIGHT / WIDTH)) + 3
    coarse = rng.normal(size=(rows, cells + 3)).astype(np.float32)
    size = (round(WIDTH * (cells + 3) / cells), round(HEIGHT * rows / (rows - 3)))
    fine = np.asarray(Image.fromarray(coarse).resize(size, Image.Resampling.BICUBIC))
    return fine[:HEIGHT, :WIDTH]


def fractal(
    rng: np.random.Generator, cells: int, octaves: int, ridged: bool = False, fall: float = 0.5
) -> NDArray[np.float32]:
    """Noise over several octaves; ridged noise has sharp crests."""
    out = np.zeros((HEIGHT, WIDTH), dtype=np.float32)
    weight, total = 1.0, 0.0
    for octave in range(octaves):
        octave_noise = noise(rng, cells * 2**octave)
        out += weight * ((0.8 - np.abs(octave_noise)) if ridged else octave_noise)
        total += weight
        weight *= fall
    return out / total


def make_terrain(seed: int) -> Terrain:
    """The same terrain for the same seed."""
    rng = np.random.default_rng(seed)
    y, x = np.mgrid[0:HEIGHT, 0:WIDTH].astype(np.float32) / WIDTH
    bend = 0.034
    bx, by = x + bend * fractal(rng, 9, 5, fall=0.6), y + bend * fractal(rng, 9, 5, fall=0.6)
    shape = np.full((HEIGHT, WIDTH), -9.0, dtype=np.float32)
    island = np.zeros((HEIGHT, WIDTH), dtype=np.int8)
    for i, (cx, cy, along, across, turn, height) in enumerate(ISLANDS):
        angle = np.radians(turn)
        u = ((bx - cx) * np.cos(angle) + (by - cy) * np.sin(angle)) / along
        v = (-(bx - cx) * np.sin(angle) + (by - cy) * np.cos(angle)) / across
        rise = (1 - np.hypot(u, v)) * height
        island[rise > shape] = i
        shape = np.maximum(shape, rise)
    ridges = fractal(rng, 16, 6, ridged=True)
    rough = fractal(rng, 40, 4)
    relief = 640 * np.clip(shape, 0, None) ** 0.8 * (0.35 + 0.9 * np.clip(ridges, 0, None)) + 14 * rough * np.clip(
        shape * 3, 0, 1
    )
    relief = gaussian_filter(relief + 3, 1.2)
    land = binary_opening(shape > 0.015, iterations=2)
    parts, _count = label(land)
    sizes = np.bincount(parts.ravel())
    land &= sizes[parts] > 180
    relief = np.where(land, np.maximum(relief, 0.5), np.nan).astype(np.float32)
    flat = gaussian_filter(np.nan_to_num(np.hypot(*np.gradient(np.nan_to_num(relief), CELL))), 4)
    wet = fractal(rng, 14, 4)
    peat = 5.2 * np.exp(-((flat / 0.09) ** 2)) * np.clip(0.55 + 0.8 * wet, 0, 1.6) - 0.35
    peat = np.where(land & (peat > 0.05), peat, np.nan).astype(np.float32)
    return Terrain(relief, peat, island)


def picture(terrain: Terrain, seed: int) -> NDArray[np.uint8]:
    """A made-up colour picture from above, (3, rows, columns), without alpha."""
    rng = np.random.default_rng(seed + 1)
    land = np.isfinite(terrain.relief)
    height = np.nan_to_num(terrain.relief)
    grain = fractal(rng, 120, 3)
    peat = np.nan_to_num(terrain.peat)
    red = 92 + 0.10 * height - 9 * peat + 14 * grain
    green = 104 + 0.03 * height - 11 * peat + 12 * grain
    blue = 66 + 0.12 * height - 6 * peat + 9 * grain
    sea = np.stack([np.full_like(height, 28), np.full_like(height, 62), 84 + 4 * grain])
    return np.where(land, np.stack([red, green, blue]), sea).clip(0, 255).astype(np.uint8)
