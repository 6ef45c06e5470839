"""What the peatland survey wrote down: returns, dip wells, slips, ditches, huts, smallholdings, lists of places and addresses."""

from datetime import date, timedelta
from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray
from pyproj import Transformer

from vaskerry.names import as_written, misspelt, place_names, street_names
from vaskerry.terrain import CELL, ISLANDS, NAMES, TRANSFORM, WIDTH, Terrain

PLANTS = ("sphagnum", "cotton_grass", "heather", "moor_grass", "bare_peat")
DEGREE = 111_320.0
"""Metres in a degree of latitude, near enough for houses along a lane."""
Rows = list[dict[str, Any]]


def returns(names: list[str], areas: NDArray[np.object_], rng: np.random.Generator) -> Rows:
    """One return per catchment, as it comes in: one name in ten misspelt, blanks, a percentage over 100, one catchment twice,
    one missing."""
    rows: Rows = []
    for i, (name, area) in enumerate(zip(names, areas, strict=True)):
        hectares = area.area / 1e4
        peat = hectares * float(rng.beta(2.2, 2.0))
        centre = area.centroid
        trend = 0.5 + 0.5 * np.sin(centre.x / 9000) * np.cos(centre.y / 7000)
        per_hectare = float(np.exp(rng.normal(5.6 + 1.5 * trend, 0.32)))
        drained = float(np.clip(rng.normal(58 - 35 * trend, 14), 0, 100))
        rows.append(
            {
                "catchment": misspelt(rng, name) if i % 10 == 4 else name,
                "peat_ha": round(peat, 1),
                "carbon_t": round(peat * per_hectare),
                "drained_percent": round(drained, 1),
                "restoration_money": int(round(peat * rng.gamma(2.0, 90), -2)),
            }
        )
    for row in rows[7::41]:
        row["carbon_t"] = ""
    for row in rows[19::53]:
        row["drained_percent"] = ""
    rows[33]["drained_percent"] = 134.0
    twice = dict(rows[60], restoration_money=rows[60]["restoration_money"] + 4000)
    del rows[100]
    rows.append(twice)
    return rows


def dip_wells(terrain: Terrain, rng: np.random.Generator, n: int = 2400) -> Rows:
    """Wells on peat, with the depth of the water table and what grows around them."""
    xy = _clustered(np.isfinite(terrain.peat), rng, n)
    lonlat = _lonlat(xy)
    rows = []
    for i in range(n):
        wet = 0.5 + 0.5 * np.sin(xy[i, 0] / 9000) * np.cos(xy[i, 1] / 7000)
        depth = float(np.clip(rng.gamma(2.2, 6 + 16 * (1 - wet)), 0, 120))
        cover = rng.dirichlet(np.array([1 + 6 * wet, 3, 3, 2, 0.4 + 2 * (1 - wet)])) * 100
        condition = "intact" if depth < 12 else "modified" if depth < 30 else "degraded"
        rows.append(
            {
                "well": f"W{i + 1:04d}", "lon": round(lonlat[i, 0], 6), "lat": round(lonlat[i, 1], 6),
                "water_table_cm": "" if i % 97 == 5 else round(depth, 1), "condition": condition,
                **{plant: round(float(share), 1) for plant, share in zip(PLANTS, cover, strict=True)},
            }
        )  # fmt: skip
    return rows


def slips(terrain: Terrain, rng: np.random.Generator, n: int = 6000) -> Rows:
    """Peat slips and fires over seven years, in projected coordinates."""
    xy = _points(np.isfinite(terrain.relief), rng, n)
    rows = []
    for i in range(n):
        kind = "fire" if rng.random() < 0.35 else "slip"
        month = rng.choice([3, 4, 5]) if kind == "fire" else rng.choice([1, 2, 8, 10, 11, 12])
        day = date(2019 + int(rng.integers(7)), int(month), 1) + timedelta(days=int(rng.integers(28)))
        rows.append(
            {
                "event": i + 1, "kind": kind, "date": day.isoformat(), "easting": round(float(xy[i, 0]), 1),
                "northing": round(float(xy[i, 1]), 1), "volume_m3": round(float(rng.lognormal(4.5, 1.3)), 1),
            }
        )  # fmt: skip
    return rows


def ditches(terrain: Terrain, rng: np.random.Generator, n: int = 3800) -> tuple[NDArray[np.object_], Rows]:
    """Lines that run downhill from peat, open or blocked."""
    height = np.nan_to_num(terrain.relief, nan=-1.0)
    gy, gx = np.gradient(height)
    starts = _points(np.isfinite(terrain.peat), rng, n)
    lines = np.full(n, None, dtype=object)
    rows = []
    for i in range(n):
        x, y = starts[i]
        track = [(x, y)]
        for _ in range(int(rng.integers(4, 14))):
            column, row = int((x - TRANSFORM.c) / CELL), int((TRANSFORM.f - y) / CELL)
            dx, dy = -gx[row, column], gy[row, column]
            length = float(np.hypot(dx, dy)) or 1.0
            x, y = x + 45 * dx / length + rng.normal(0, 8), y + 45 * dy / length + rng.normal(0, 8)
            column, row = int((x - TRANSFORM.c) / CELL), int((TRANSFORM.f - y) / CELL)
            if height[row, column] < 0:
                break
            track.append((x, y))
        if len(track) < 2:
            track.append((track[0][0] + 20, track[0][1]))
        lines[i] = shapely.LineString(np.round(track, 1))
        rows.append(
            {
                "ditch": f"D{i + 1:04d}",
                "state": "blocked" if rng.random() < 0.4 else "open",
                "length_m": round(lines[i].length, 1),
            }
        )
    return lines, rows


def isles() -> Rows:
    """The names of the larger islands, each placed in the sea off the island's upper left."""
    rows = []
    for name, (cx, cy, along, across, *_) in zip(NAMES, ISLANDS, strict=False):
        x = TRANSFORM.c + (cx - 0.62 * along - 0.02) * WIDTH * CELL
        y = TRANSFORM.f - (cy - 0.98 * across - 0.012) * WIDTH * CELL
        lon, lat = _lonlat(np.array([[x, y]]))[0]
        rows.append({"name": name, "lon": round(float(lon), 5), "lat": round(float(lat), 5)})
    return rows


def gazetteer(terrain: Terrain, groups: tuple[str, ...], rng: np.random.Generator, n: int = 1500) -> Rows:
    """Places with coordinates; some names stand in two groups of islands."""
    xy = _points(np.isfinite(terrain.relief), rng, n)
    lonlat = _lonlat(xy)
    names = place_names(rng, n - 60)
    names += names[:60]
    rows = []
    for i in range(n):
        column, row = int((xy[i, 0] - TRANSFORM.c) / CELL), int((TRANSFORM.f - xy[i, 1]) / CELL)
        group = groups[int(terrain.island[row, column])]
        rows.append({"name": names[i], "group": group, "lon": round(lonlat[i, 0], 6), "lat": round(lonlat[i, 1], 6)})
    return rows


def addresses(places: Rows, rng: np.random.Generator, villages: int = 60) -> Rows:
    """Houses with numbers in the lanes of some of the places: odd ones on one side, even ones on the other."""
    rows: Rows = []
    for at in rng.choice(len(places), villages, replace=False):
        place = places[int(at)]
        for street in street_names(rng, int(rng.integers(2, 6))):
            way, paces = rng.uniform(0, 2 * np.pi), 0.0
            for number in range(1, int(rng.integers(6, 24))):
                paces += rng.uniform(8, 20)
                side = 6 if number % 2 else -6
                east, north = paces * np.cos(way) - side * np.sin(way), paces * np.sin(way) + side * np.cos(way)
                lon = place["lon"] + east / (DEGREE * np.cos(np.radians(place["lat"])))
                rows.append(
                    {
                        "address": f"{number} {street}",
                        "place": place["name"],
                        "group": place["group"],
                        "lon": round(float(lon), 6),
                        "lat": round(float(place["lat"] + north / DEGREE), 6),
                    }
                )
    return rows


def smallholdings(houses: Rows, rng: np.random.Generator, n: int = 160) -> Rows:
    """Who keeps sheep, by address as people write it: short forms, capitals, now and then a slip of the pen."""
    rows = []
    for i, at in enumerate(rng.choice(len(houses), n, replace=False)):
        house = houses[int(at)]
        rows.append(
            {
                "holding": f"S{i + 1:03d}",
                "address": as_written(rng, house["address"]),
                "place": house["place"],
                "sheep": int(rng.integers(4, 160)),
            }
        )
    return rows


def huts(places: Rows, rng: np.random.Generator, n: int = 90) -> Rows:
    """Field huts known only by the name of a place."""
    chosen = rng.choice(len(places), n, replace=False)
    return [
        {
            "hut": f"Hut {i + 1}",
            "near": misspelt(rng, places[at]["name"]) if i % 9 == 3 else places[at]["name"],
            "group": places[at]["group"],
            "beds": int(rng.integers(2, 9)),
        }
        for i, at in enumerate(chosen)
    ]


def _points(mask: NDArray[np.bool_], rng: np.random.Generator, n: int) -> NDArray[np.float64]:
    """Random points within the true cells of a mask, EPSG:32626."""
    rows, columns = np.nonzero(mask)
    at = rng.choice(len(rows), n, replace=False)
    x = TRANSFORM.c + (columns[at] + rng.random(n)) * CELL
    y = TRANSFORM.f - (rows[at] + rng.random(n)) * CELL
    return np.column_stack([x, y])


def _clustered(mask: NDArray[np.bool_], rng: np.random.Generator, n: int, clusters: int = 70) -> NDArray[np.float64]:
    """Points within a mask that keep to the neighbourhood of a few survey sites, as people do who walk there."""
    sites = _points(mask, rng, clusters)
    kept: list[NDArray[np.float64]] = []
    while sum(map(len, kept)) < n:
        near = sites[rng.integers(clusters, size=n)] + rng.normal(0, 420, (n, 2))
        columns, rows = ((near[:, 0] - TRANSFORM.c) / CELL).astype(int), ((TRANSFORM.f - near[:, 1]) / CELL).astype(int)
        inside = (columns >= 0) & (columns < mask.shape[1]) & (rows >= 0) & (rows < mask.shape[0])
        inside[inside] = mask[rows[inside], columns[inside]]
        kept.append(near[inside])
    return np.concatenate(kept)[:n]


def _lonlat(xy: NDArray[np.float64]) -> NDArray[np.float64]:
    return np.column_stack(Transformer.from_crs(32626, 4326, always_xy=True).transform(xy[:, 0], xy[:, 1]))
