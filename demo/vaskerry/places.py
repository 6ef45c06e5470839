"""Catchments: areas that share borders and fill the land."""

import numpy as np
import shapely
from affine import Affine
from numpy.typing import NDArray
from rasterio.features import shapes as traced
from scipy.ndimage import distance_transform_edt, find_objects, label
from scipy.spatial import cKDTree

from vaskerry.terrain import CELL, GROUPS, TRANSFORM, Terrain, fractal

COUNT = 214
SMOOTH = 70.0
"""Metres within which the grid's stairs are smoothed away; borders stay shared."""


def catchments(terrain: Terrain, seed: int) -> tuple[NDArray[np.object_], list[str]]:
    """`COUNT` areas in EPSG:32626 and the group of islands that each belongs to. One has a lake for a hole; the last is
    made of all the skerries."""
    rng = np.random.default_rng(seed + 2)
    # Every other cell of the grid is enough: smoothing takes away more.
    land = _with_lake(np.isfinite(terrain.relief[::2, ::2]))
    parts, _count = label(land)
    sizes = np.bincount(parts.ravel())
    skerry = land & (sizes[parts] < 1000)
    main = land & ~skerry
    ys, xs = np.nonzero(main)
    shift = np.stack([fractal(rng, 24, 4), fractal(rng, 24, 4)])[:, ::2, ::2] * 11
    where = np.column_stack([xs + shift[0][main], ys + shift[1][main]])
    wanted = COUNT - 1
    seeds = _spread(rng, where, wanted)
    owner = np.full(land.shape, -1, dtype=np.int32)
    owner[main] = cKDTree(seeds).query(where, workers=-1)[1]
    owner = _connected(owner, wanted)
    owner[skerry] = wanted
    stairs = np.full(COUNT, None, dtype=object)
    pieces: list[list[shapely.Geometry]] = [[] for _ in range(COUNT)]
    for geometry, value in traced(owner, mask=owner >= 0, transform=TRANSFORM @ Affine.scale(2)):
        pieces[int(value)].append(shapely.geometry.shape(geometry))
    for i, some in enumerate(pieces):
        stairs[i] = shapely.union_all(some)
    smooth = shapely.coverage_simplify(stairs, SMOOTH)
    middles = shapely.point_on_surface(smooth)
    columns = ((shapely.get_x(middles) - TRANSFORM.c) / CELL).astype(int)
    rows = ((TRANSFORM.f - shapely.get_y(middles)) / CELL).astype(int)
    return smooth, [GROUPS[int(terrain.island[r, c])] for r, c in zip(rows, columns, strict=True)]


def _with_lake(land: NDArray[np.bool_]) -> NDArray[np.bool_]:
    """The land without a round lake well inside the largest island."""
    inland = distance_transform_edt(land)
    y, x = np.unravel_index(int(np.argmax(inland)), land.shape)
    rows, columns = np.ogrid[: land.shape[0], : land.shape[1]]
    return land & ~((rows - y) ** 2 + ((columns - x) / 1.6) ** 2 < 7**2)


def _spread(rng: np.random.Generator, where: NDArray[np.float64], n: int) -> NDArray[np.float64]:
    """`n` points spread over the land, evened out by a few rounds of moving each to the middle of what is nearest."""
    seeds = where[rng.choice(len(where), n, replace=False)]
    sample = where[rng.choice(len(where), min(len(where), 20_000), replace=False)]
    for _ in range(5):
        nearest = cKDTree(seeds).query(sample, workers=-1)[1]
        counts = np.maximum(np.bincount(nearest, minlength=n), 1)
        seeds = np.column_stack([np.bincount(nearest, weights=sample[:, i], minlength=n) / counts for i in (0, 1)])
    return seeds


def _connected(owner: NDArray[np.int32], n: int) -> NDArray[np.int32]:
    """Fragments cut off from their catchment's largest piece go to the neighbour."""
    keep = np.zeros(owner.shape, dtype=bool)
    for i, place in enumerate(find_objects(owner + 1, max_label=n)):
        pieces, _ = label(owner[place] == i)
        keep[place] |= pieces == 1 + int(np.argmax(np.bincount(pieces.ravel())[1:]))
    indices = distance_transform_edt(~keep, return_distances=False, return_indices=True)
    return np.where(owner >= 0, owner[tuple(indices)], -1).astype(np.int32)
