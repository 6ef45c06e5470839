"""What a readers' page asks first: `edition.json`, and `ground.json` beside it. The page's types are made from these."""

from typing import Any, Literal

from pydantic import BaseModel, ConfigDict

from greylatch.places.described import FrameFigures
from greylatch.sheet.document import Graticule, StartView
from greylatch.sheet.layers import Blend, Effects
from greylatch.sheet.lettering import Frame
from greylatch.sheet.parts import Shadow
from greylatch.sheet.reader import Controls, Near, ReaderFilter, Search, Time
from greylatch.symbols.marks import Mark
from greylatch.symbols.north_arrow import NorthArrow

__all__ = [
    "EditionPage",
    "Ground",
    "GroundLine",
    "GroundLines",
    "LabelLineStyle",
    "LabelStyle",
    "PageGroup",
    "PageLabels",
    "PageLayer",
    "PageNorth",
    "PageReader",
    "PageTiles",
    "PublicEntry",
    "PublicKey",
    "PublicSection",
    "PublicSide",
    "as_json",
]


class _Part(BaseModel):
    model_config = ConfigDict(frozen=True)


class PublicEntry(_Part):
    """A line of the key: what stands for what."""

    id: str
    text: str
    mark: Mark


class PublicSide(_Part):
    """What rises to the right in a square, or upwards, and the limits of its classes."""

    text: str
    limits: str


class PublicSection(_Part):
    """Lines that belong together; or a ramp with the values at its ends and in its middle; or a square of `square` columns and rows,
    its entries first, row by row from the top, and what rises along its `sides`; or circles `nested` in one another, the largest first."""

    heading: str
    entries: list[PublicEntry]
    ramp: list[str]
    ends: list[float]
    square: tuple[int, int] | None
    words: list[str] = []
    nested: bool = False
    sides: list[PublicSide] = []


class PublicKey(_Part):
    """A layer's key, without what is left out of it or not drawn at all."""

    layer: str
    title: str
    unit: str
    kind: str
    sections: list[PublicSection]
    columns: int = 1
    group: str = ""
    """The heading of its group, where it is the first layer of one that has any."""


class PageTiles(_Part):
    """Tiles of levels `min_zoom` to `max_zoom` in an archive: vector tiles with fids, 512 px wide, or pictures of `size` px."""

    archive: str
    format: str
    min_zoom: int
    max_zoom: int
    size: int


class PageLayer(_Part):
    """A layer of the page: `shapes` that it draws with their `ink`, `pictures` of what is not drawn live, or both.

    Shapes are drawn from the level `shapes.min_zoom` on; further away, and where there are none, pictures are shown. `cards`
    has, for shapes with a card, the first fid in each block of cards, in rising order.
    """

    id: str
    kind: Literal["areas", "lines", "points", "raster"]
    blend: Blend
    opacity: float
    effects: Effects
    group: str | None
    shapes: PageTiles | None
    ink: str | None
    cards: list[int] | None
    pictures: PageTiles | None
    closest: float | None = None
    """Units of the frame to a px: closer it is not seen; None: it always is."""
    farthest: float | None = None
    columns: str | None = None
    """What readers ask of it, where they do."""
    drawn_from: int | None = None
    """The level from which on shapes are drawn while nobody asks anything of it; None: all that there are."""
    name: str = ""
    opens: bool = False
    """Whether what is pressed on it are several things in one, which are seen nearer."""


class PageGroup(_Part):
    """Layers that are composed with one another first, and then blended as one."""

    id: str
    blend: Blend
    opacity: float
    effects: Effects


class LabelLineStyle(_Part):
    """How a line of labels is set: px, a colour, ems between its letters."""

    size: float
    colour: str
    spacing: float


class LabelStyle(_Part):
    """How the labels of a layer are set; px."""

    lines: list[LabelLineStyle]
    halo: float
    halo_colour: str
    opacity: float
    shadow: Shadow | None
    frame: Frame | None


class PageLabels(_Part):
    """The labels, each in one tile per level, and how those of each layer are set. None stands out further than `reach` px from its
    place. `faces` are the files of the typefaces, by their names, with the letters that labels have."""

    tiles: PageTiles
    reach: float
    styles: dict[str, LabelStyle]
    faces: dict[str, str] = {}


class PageReader(_Part):
    """What readers can ask. `text` is safe HTML; `logo` a PNG in base64, and what it shows; `places` longitude and latitude at places of `places_box`, from its upper left row by row,
    where the page can't know them."""

    controls: Controls
    filters: list[ReaderFilter]
    key_switches: bool
    search: list[Search]
    time: Time | None
    near: Near | None
    text: str
    language: str
    words: dict[str, str]
    look: Literal["light", "dark", "either"] = "light"
    key_at: Literal["right", "left", "below"] = "right"
    logo: str = ""
    logo_words: str = ""
    places: list[list[float | None]] | None
    places_box: list[float] | None


class PageNorth(_Part):
    """The arrow to the north: what it looks like where north is up, and where north is at places of the map's box, from its upper left row
    by row, in degrees from up, clockwise (None where there is no ground, or no north; no rows where north is up everywhere)."""

    arrow: NorthArrow
    turns: list[list[float | None]]


class EditionPage(_Part):
    """An edition as its readers' page knows it. Addresses are relative to the edition's folder; `layers` go from the bottom up.

    `box` is the map's box in its `frame`, `start` where it opens there (None: showing the whole of itself), `scales` metres on
    the ground to a unit at places of the box, from its upper left row by row (None where that is known without). Editions
    published before they were drawn by the page have no `layers`, the oldest neither `frame` nor `format`.
    """

    title: str
    credits: str
    source_date: str
    terms: str = ""
    ground: str | None
    scale_bar: bool
    north: PageNorth | None = None
    view: StartView
    key: list[PublicKey]
    min_zoom: int
    max_zoom: int
    size: int
    format: str
    bounds: list[float]
    drawn_bounds: list[float]
    tiles: int
    frame: FrameFigures
    box: list[float]
    start: list[float] | None
    scales: list[list[float | None]] | None
    cards: list[str]
    layers: list[PageLayer]
    groups: list[PageGroup]
    labels: PageLabels | None
    files: list[str]
    reader: PageReader | None = None
    """None: published before there was anything to ask."""


class GroundLine(_Part):
    """A meridian or parallel: its name and its pieces in units of the map."""

    kind: Literal["meridian", "parallel"]
    name: str
    paths: list[list[tuple[float, float]]]


class GroundLines(_Part):
    """Meridians and parallels `step` degrees apart."""

    step: float
    lines: list[GroundLine]


class Ground(_Part):
    """What lies below the layers: the outline as sea, and lines for each range of scales, the closest first. `apart` is how many
    degrees lines are apart, at least, for each unit to a px."""

    sea: str | None
    outline: list[list[tuple[float, float]]]
    style: Graticule | None
    graticules: list[GroundLines]
    apart: float


def as_json(part: BaseModel) -> dict[str, Any]:
    """A part as plain JSON values."""
    values: dict[str, Any] = part.model_dump(mode="json")
    return values
