"""Areas whose rings cross themselves or one another, made areas again."""

import os
from concurrent.futures import ThreadPoolExecutor

import numpy as np
import shapely
from numpy.typing import NDArray

from greylatch.places.side_by_side import are_valid
from greylatch.tables.dataset import Shapes

__all__ = ["mended"]

LARGE = 2_000
"""Vertices from which on an area is mended by its faces: GEOS takes twenty seconds for one of 200,000."""


def mended(shapes: Shapes) -> Shapes:
    """The same shapes with broken areas made sound; what is sound, and lines and points, are given back as they are.

    What lies within a shell and within none of its holes stays area. What is left of an area that collapses is nothing, not a
    line.

    Parameters
    ----------
    shapes : Shapes
        Of any kind, (n,).

    Returns
    -------
    Shapes

    Examples
    --------
    >>> mended(shapely.from_wkt(["POLYGON((0 0,2 2,2 0,0 2,0 0))", "POINT(1 2)"])).tolist()
    [<MULTIPOLYGON (((1 1, 2 2, 2 0, 1 1)), ((0 0, 0 2, 1 1, 0 0)))>, <POINT (1 2)>]
    """
    broken = ~are_valid(shapes) & (shapely.get_dimensions(shapes) == 2)
    large = broken & (shapely.get_num_coordinates(shapes) >= LARGE)
    out = shapes.copy()
    out[broken & ~large] = _by_structure(shapes[broken & ~large])
    if large.any():
        with ThreadPoolExecutor(os.cpu_count()) as pool:
            out[large] = list(pool.map(_by_faces, shapes[large]))
    return out


def _by_structure(areas: Shapes) -> Shapes:
    return np.asarray(shapely.make_valid(areas, method="structure", keep_collapsed=False), dtype=object)


def _by_faces(area: shapely.Geometry) -> shapely.Geometry:
    """All rings cut each other into faces; those within a shell and none of its holes are the area."""
    rings, part = shapely.get_rings(shapely.get_parts(area), return_index=True)
    shell = np.append(True, part[1:] != part[:-1])
    outlines = shapely.polygons(rings)
    crossed = ~shapely.is_valid(outlines)
    outlines[crossed] = _by_structure(outlines[crossed])
    faces = shapely.get_parts(shapely.polygonize(shapely.get_parts(shapely.union_all(rings))))
    ring, face = shapely.STRtree(shapely.point_on_surface(faces)).query(outlines, predicate="contains")
    kept = _within_a_part(part[ring], face, shell[ring], len(faces))
    return _joined(faces[kept])


def _within_a_part(
    part: NDArray[np.intp], face: NDArray[np.intp], in_shell: NDArray[np.bool_], faces: int
) -> NDArray[np.intp]:
    """The faces that lie within a part's shell and none of that part's holes."""
    pairs = part * faces + face
    return np.unique(np.setdiff1d(pairs[in_shell], pairs[~in_shell]) % max(faces, 1))


def _joined(faces: Shapes) -> shapely.Geometry:
    """Faces of one cutting as one area. Those without a neighbour are left as they are: joining takes long for many."""
    beside = _with_neighbours(faces)
    grown = shapely.get_parts(shapely.coverage_union_all(faces[beside])) if beside.any() else faces[:0]
    parts = np.concatenate([grown, faces[~beside]])
    return parts[0] if len(parts) == 1 else shapely.multipolygons(parts) if len(parts) else shapely.Polygon()


def _with_neighbours(faces: Shapes) -> NDArray[np.bool_]:
    """Which faces have an edge that another has too."""
    rings, owner = shapely.get_rings(faces, return_index=True)
    xy, ring = shapely.get_coordinates(rings, return_index=True)
    edge = ring[1:] == ring[:-1]
    ends = np.stack([xy[:-1][edge], xy[1:][edge]])
    forth = (ends[0, :, 0] < ends[1, :, 0]) | ((ends[0, :, 0] == ends[1, :, 0]) & (ends[0, :, 1] < ends[1, :, 1]))
    edges = np.where(forth[:, None], np.hstack([ends[0], ends[1]]), np.hstack([ends[1], ends[0]]))
    order = np.lexsort(edges.T)
    twice = np.flatnonzero((edges[order[1:]] == edges[order[:-1]]).all(axis=1))
    beside = np.zeros(len(faces), dtype=np.bool_)
    beside[owner[ring[1:][edge]][order[np.concatenate([twice, twice + 1])]]] = True
    return beside
