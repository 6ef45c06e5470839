"""Shapes at the edges of a projection: cut where it ends, joined where its two sides are one."""

import numpy as np
import shapely
from numpy.typing import NDArray

from greylatch.places.antimeridian import cut_at_antimeridian
from greylatch.places.mending import mended
from greylatch.tables.dataset import Shapes

__all__ = ["joined_over_the_seam", "turned", "within"]


def turned(shapes: Shapes, by: float) -> Shapes:
    """Shapes in degrees with longitudes counted from another meridian, cut at its other side."""
    if by == 0:
        return shapes
    counted = shapely.transform(shapes, lambda xy: np.column_stack([xy[:, 0] + by, xy[:, 1]]))
    out = cut_at_antimeridian(counted)
    several = shapely.get_num_geometries(out) > 1
    areas = several & (shapely.get_dimensions(out) == 2)
    # What was cut at the 180th meridian only is one again.
    out[areas] = [shapely.union_all(shapely.get_parts(area), grid_size=1e-9) for area in out[areas]]
    return out


def within(shapes: Shapes, area: shapely.Geometry) -> Shapes:
    """What of each shape lies within `area`, of the kind that it was."""
    shapely.prepare(area)
    out = shapes.copy()
    there = ~shapely.is_missing(shapes) & ~shapely.is_empty(shapes)
    for i in np.flatnonzero(there & ~shapely.covers(area, shapes)):
        shape = mended(shapes[[i]])[0]
        left = shapely.intersection(shape, area)
        wanted = shapely.get_dimensions(shape)
        parts = [part for part in shapely.get_parts(left) if shapely.get_dimensions(part) == wanted]
        kinds = (shapely.multipoints, shapely.multilinestrings, shapely.multipolygons)
        out[i] = parts[0] if len(parts) == 1 else kinds[int(wanted)](parts) if parts else shapely.GeometryCollection()
    return out


def joined_over_the_seam(shapes: Shapes, degrees: Shapes, snap: float) -> Shapes:
    """Parts that touch the far side of an azimuthal map grow together there: on it the seam is a line like any other."""
    out = shapes.copy()
    for i in np.flatnonzero(_at_seam(degrees)):
        parts, before = shapely.get_parts(shapes[i]), shapely.get_parts(degrees[i])
        touching = _at_seam(before) if len(parts) == len(before) else np.ones(len(parts), dtype=bool)
        if shapely.get_dimensions(shapes[i]) == 2:
            sound = mended(parts[touching])
            # A union of one is given back as it is; rounding joins its two sides just so.
            whole = (
                shapely.set_precision(sound[0], snap) if len(sound) == 1 else shapely.union_all(sound, grid_size=snap)
            )
            grown = shapely.get_parts(whole)
            out[i] = shapely.multipolygons(np.concatenate([grown, parts[~touching]]))
        elif shapely.get_dimensions(shapes[i]) == 1:
            grown = shapely.get_parts(shapely.line_merge(shapely.union_all(parts[touching], grid_size=snap)))
            out[i] = shapely.multilinestrings(np.concatenate([grown, parts[~touching]]))
        if shapely.get_num_geometries(out[i]) == 1:
            out[i] = shapely.get_geometry(out[i], 0)
    return out


def _at_seam(degrees: Shapes) -> NDArray[np.bool_]:
    bounds = shapely.bounds(degrees)
    with np.errstate(invalid="ignore"):
        return np.asarray((bounds[:, 0] <= -180 + 1e-6) | (bounds[:, 2] >= 180 - 1e-6))
