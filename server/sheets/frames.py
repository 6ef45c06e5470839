"""Where a map may lie: figures of a projection, places in it, which ones suit a sheet, and PROJ's whole list."""

from typing import Annotated, Literal

import numpy as np
from django.http import HttpRequest, HttpResponse
from greylatch.errors import BadInput, CannotDraw, OffMap
from greylatch.paint.globe import distortion_picture
from greylatch.paint.passes import compose
from greylatch.places.bounds import Bounds
from greylatch.places.crs import to_lonlat
from greylatch.places.described import FrameFigures, described
from greylatch.places.frame import Frame
from greylatch.places.graticule import graticule, graticule_step, paths
from greylatch.places.listed import Listed, search_projections
from greylatch.places.longitudes import shorter_way
from greylatch.places.suggest import ProjectionSuggestion, reach_of, suggest_for
from greylatch.sheet.document import CrsText
from greylatch.sheet.document import Sheet as Document
from greylatch.tiles.image import png
from greylatch.tiles.map_pyramid import map_bounds
from library.derived import data_of
from library.models import Revision
from ninja import Field, Query, Router, Schema
from people.access import person

from sheets.pictures import picture_of
from sheets.sources import finder, revisions_for, revisions_named

router = Router(tags=["projections"])
Side = Annotated[int, Field(ge=16, le=1024)]
Positive = Annotated[float, Field(gt=0, le=1e12)]
Degrees = Annotated[float, Field(ge=-360, le=360)]
Number = Annotated[float, Field(ge=-1e12, le=1e12)]


class PlaceOut(Schema):
    """The same place in both: degrees, and units of the frame; `metres` on the ground to a unit there, from left to right, and where
    north is: degrees from up, clockwise (null at a pole)."""

    lon: float
    lat: float
    x: float
    y: float
    metres: float
    north: float | None


Path = list[list[float]]


class GraticuleLineOut(Schema):
    """A meridian or parallel: its name as it is written, and its pieces as lists of x and y."""

    kind: Literal["meridian", "parallel"]
    name: str
    paths: list[Path]


class ExtentOut(Schema):
    """The box around a map in its frame; null where there is nothing on it."""

    box: list[float] | None


@router.get("/frames", response=FrameFigures, summary="A projection in figures")
def frame(request: HttpRequest, crs: CrsText) -> FrameFigures:
    """What is needed to lay tiles in it."""
    return described(Frame.named(crs))


@router.get("/frames/place", response=PlaceOut, summary="A place in a projection, from degrees")
def place(request: HttpRequest, crs: CrsText, lon: Annotated[float, Query(ge=-180, le=180)], lat: Annotated[float, Query(ge=-90, le=90)]) -> PlaceOut:  # fmt: skip
    """422 where it lies beyond the projection's limits."""
    frame = Frame.named(crs)
    x, y = frame.place(lon, lat)
    return _place_out(frame, lon, lat, x, y)


@router.get("/frames/lonlat", response=PlaceOut, summary="A place in degrees, from a projection")
def lonlat(request: HttpRequest, crs: CrsText, x: Number, y: Number) -> PlaceOut:
    """422 where there is none."""
    frame = Frame.named(crs)
    lon, lat = frame.lonlat(x, y)
    return _place_out(frame, lon, lat, x, y)


def _place_out(frame: Frame, lon: float, lat: float, x: float, y: float) -> PlaceOut:
    return PlaceOut(lon=lon, lat=lat, x=x, y=y, metres=frame.metres(x, y), north=frame.north(x, y))


@router.get("/frames/box", response=ExtentOut, summary="The box around a box of degrees")
def box(request: HttpRequest, crs: CrsText, west: Degrees, south: Degrees, east: Degrees, north: Degrees) -> ExtentOut:
    """In the projection; null where nothing of it can be shown."""
    try:
        return ExtentOut(box=list(Frame.named(crs).box_of((west, max(south, -90.0), east, min(north, 90.0)))))
    except OffMap:
        return ExtentOut(box=None)


@router.get("/frames/outline", response=list[Path], summary="The outline of a projection")
def outline(request: HttpRequest, crs: CrsText) -> list[Path]:
    """The rings around all that it shows of the globe."""
    return paths(Frame.named(crs).outline)


@router.get("/frames/graticule", response=list[GraticuleLineOut], summary="Meridians and parallels")
def lines(
    request: HttpRequest, crs: CrsText, left: Number, bottom: Number, right: Number, top: Number, resolution: Positive,
    step: Annotated[float, Query(ge=0.01, le=90)] | None = None,
) -> list[GraticuleLineOut]:  # fmt: skip
    """Those within a box of the projection, as far apart as suits `resolution` (units per px) or `step` degrees."""
    frame = Frame.named(crs)
    if left >= right or bottom >= top:
        raise BadInput("The box is empty.", "Left and bottom come first.")
    drawn = graticule(frame, step or graticule_step(frame, resolution), (left, bottom, right, top))
    return [GraticuleLineOut(kind=line.kind, name=line.name, paths=paths(line.shape)) for line in drawn]


@router.get("/frames/search", response=list[Listed], summary="Search PROJ's list")
def search(request: HttpRequest, text: Annotated[str, Query(max_length=200)]) -> list[Listed]:
    """By code, name and area of use."""
    return search_projections(text)


@router.post("/frames/suggest", response=list[ProjectionSuggestion], summary="Projections that suit a sheet")
def suggest(request: HttpRequest, document: Document) -> list[ProjectionSuggestion]:
    """By where the layers that are shown lie and how far they reach, the likeliest for classed areas first."""
    shown = [layer for layer in document.layers if document.shown(layer)] or document.layers
    names = {name for layer in shown for name in layer.datasets}
    reaches = [reach for revision in revisions_named(person(request), names).values() if (reach := _reach(revision))]
    if not reaches:
        return []
    west, south, east, north = np.array(reaches).T
    first, last = shorter_way(west, east)
    return suggest_for((first, float(south.min()), last, float(north.max())))


def _reach(revision: Revision) -> Bounds | None:
    """As far as the data reach, in degrees. A box more than half round may be that of a few islands on both sides of the 180th
    meridian: then their shapes are asked."""
    if not revision.bounds:
        return None
    west, south, east, north = revision.bounds
    data = data_of(revision) if east - west > 180 and revision.raster is None else None
    if data is None or data.shapes is None or data.crs is None:
        return west, south, east, north
    return reach_of(to_lonlat(data.shapes, data.crs))


@router.post("/extent", response=ExtentOut, summary="The box around a map")
def extent(request: HttpRequest, document: Document) -> ExtentOut:
    """In the sheet's frame."""
    try:
        return ExtentOut(box=list(map_bounds(compose(document, finder(revisions_for(person(request), document))))))
    except (CannotDraw, OffMap):
        return ExtentOut(box=None)


@router.post("/picture", summary="A picture of a whole map")
def picture(request: HttpRequest, document: Document, width: Side = 288, height: Side = 180) -> HttpResponse:
    """PNG of a document that need not be kept, without its labels; 204 where there is nothing to draw."""
    data = picture_of(document, finder(revisions_for(person(request), document)), width, height)
    return HttpResponse(data, content_type="image/png", status=200 if data else 204)


@router.get("/frames/distortion", summary="What a projection does to sizes and shapes")
def distortion(request: HttpRequest, crs: CrsText, width: Side = 360, height: Side = 220) -> HttpResponse:
    """PNG of the whole projection with circles of one size on the globe, coloured by how large they are drawn."""
    answer = HttpResponse(png(distortion_picture(Frame.named(crs), width, height)), content_type="image/png")
    answer["Cache-Control"] = "private, max-age=86400"
    return answer
