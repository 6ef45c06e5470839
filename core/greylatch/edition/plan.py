"""What an edition is to hold: the sheet ready to be drawn, its levels, and how large it will be."""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace

from greylatch.errors import BadInput
from greylatch.paint.passes import Composition, compose
from greylatch.paint.sources import Find
from greylatch.places.frame import Frame
from greylatch.reading.attached import AttachedTo
from greylatch.sheet.document import Sheet, StartView
from greylatch.tiles.archive import ArchiveInfo, RasterFormat
from greylatch.tiles.map_pyramid import drawn_bounds, map_bounds, map_levels, padded_bounds
from greylatch.tiles.raster_pyramid import Levels

__all__ = ["WHOLE", "Plan", "plan_edition"]

MAX_TILES = 200_000
WHOLE = "map"
"""Name of the archives of the whole map."""


@dataclass(frozen=True)
class Plan:
    """A sheet to be published: ready to be drawn, at which levels, in tiles of how many px, as which kind of picture; what pictures
    are attached to features, by dataset; and the last level that the data would call for, where that is deeper than may be cut at once."""

    sheet: Sheet
    composition: Composition
    levels: Levels
    size: int = 256
    format: RasterFormat = "png"
    attached: Mapping[str, AttachedTo] = field(default_factory=dict)
    deeper: int | None = None

    @property
    def frame(self) -> Frame:
        """Where the map lies."""
        return self.composition.frame

    @property
    def tiles(self) -> int:
        """An upper bound of the tiles of the whole map."""
        levels = range(self.levels.min_zoom, self.levels.max_zoom + 1)
        return sum(self.frame.grid.count_tiles(padded_bounds(self.composition, z), z) for z in levels)

    @property
    def info(self) -> ArchiveInfo:
        """What archives of the whole map say of themselves. They open on the sheet's view, where it has one."""
        view, levels = self.sheet.view, self.levels
        level = min(max(round(view.zoom), levels.min_zoom), levels.max_zoom)
        return ArchiveInfo(
            self.sheet.title, self.format, levels.min_zoom, levels.max_zoom, drawn_bounds(self.composition, levels),
            self.sheet.furniture.credits, self.size, view=None if view == StartView() else (view.lon, view.lat, level), grid=self.frame.grid,
        )  # fmt: skip


def plan_edition(
    sheet: Sheet, find: Find, size: int = 256, min_zoom: int | None = None, max_zoom: int | None = None,
    format: RasterFormat = "png", frame: Frame | None = None,
) -> Plan:  # fmt: skip
    """How `sheet` would be published, in its own frame or another; levels that are not given follow from the data, the last
    one no deeper than may be cut at once.

    Parameters
    ----------
    sheet : Sheet
        The sheet.
    find : Find
        Gives the source of a dataset's name in a frame.
    size : int
        Px along the side of a tile, 256 or 512.
    min_zoom : int | None
        The first level; None follows from the data.
    max_zoom : int | None
        The last level; None follows from the data.
    format : RasterFormat
        'png' or 'webp'.
    frame : Frame | None
        Where the map lies.

    Returns
    -------
    Plan

    Raises
    ------
    BadInput
        For a map that can't be drawn or has nothing on it, sizes other than 256 and 512, levels out of order, and
        more than `MAX_TILES` tiles.
    """
    if size not in (256, 512):
        raise BadInput(f"Tiles are 256 or 512 px wide, not {size}.")
    composition = compose(sheet, find, frame)
    composition.frame.grid.shared(map_bounds(composition))
    levels = map_levels(composition, size, min_zoom, max_zoom)
    plan = Plan(sheet, composition, levels, size, format)
    if max_zoom is None:
        plan = _as_deep_as_may_be(plan)
    if plan.tiles > MAX_TILES:
        raise BadInput(
            f"That would be about {plan.tiles:,} tiles; at most {MAX_TILES:,} are cut at once.",
            "Choose a lower last level.",
        )
    return plan


def _as_deep_as_may_be(plan: Plan) -> Plan:
    first, last = plan.levels.min_zoom, plan.levels.max_zoom
    shallower = (replace(plan, levels=Levels(first, level), deeper=last) for level in range(last - 1, first - 1, -1))
    return plan if plan.tiles <= MAX_TILES else next((each for each in shallower if each.tiles <= MAX_TILES), plan)
