"""What surrounds labels, what colour they have, and what is done to them where there is no room or by hand. Contrast is that of WCAG 2.2;
overlaps are looked at pair by pair with GEOS."""

from typing import Any

import numpy as np
import pyarrow as pa
import pytest
import shapely
from fontTools.pens.boundsPen import ControlBoundsPen
from fontTools.svgLib.path import parse_path
from greylatch.colour.difference import contrast
from greylatch.encodings.by_classes import ColourByClasses
from greylatch.lettering.byhand import LONGEST_LEADER, leader_to
from greylatch.lettering.fitting import room_found
from greylatch.lettering.label import Label
from greylatch.lettering.plates import PLATES, plate_outline, plate_room
from greylatch.lettering.written import label_json
from greylatch.paint.key import sheet_key
from greylatch.paint.key_picture import key_pixels
from greylatch.paint.passes import Composition, compose
from greylatch.paint.picture import paint
from greylatch.paint.sources import VectorSource
from greylatch.places.crs import WEB_MERCATOR
from greylatch.places.frame import MERCATOR
from greylatch.places.view import View
from greylatch.proof.fitting import unfit
from greylatch.sheet.document import Sheet
from greylatch.sheet.lettering import Frame
from greylatch.symbols.held import with_breaks_held
from greylatch.tables.dataset import Dataset
from pydantic import ValidationError


def composed(
    shapes: Any, kind: str, names: list[str], symbol: dict[str, Any] | None = None, **lettering: Any
) -> Composition:
    data = Dataset(pa.table({"name": names}), kind, np.array(shapes, dtype=object), WEB_MERCATOR)  # type: ignore[arg-type]
    source = VectorSource(data, MERCATOR)
    look = {"radius": 0, "fill_opacity": 0, "strokes": []} if symbol is None else symbol
    lines = lettering.pop("lines", [{"text": "{name}", "colour": "#000000"}])
    layer = {
        "id": "a", "name": "A", "dataset": "d", "symbology": {"kind": "symbols", "symbol": look},
        "lettering": {"lines": lines, "halo": 0, **lettering},
    }  # fmt: skip
    document = {"version": 4, "title": "T", "layers": [layer], "furniture": {"ground": "#ffffff", "scale_bar": False}}
    return compose(Sheet.model_validate(document), lambda *_: source)


def pixels(composition: Composition, half: float = 100.0) -> Any:
    side = int(2 * half)
    return paint(composition, View(MERCATOR, (-half, -half, half, half), side, side))[..., :3].astype(int)


def labels_at(composition: Composition, resolution: float = 1.0) -> list[Label]:
    return list(composition.placement(resolution).labels)


def outline(label: Label) -> shapely.Polygon:
    left, top, right, bottom = label.box
    return shapely.box(label.x + left, label.y - bottom, label.x + right, label.y - top)


@pytest.mark.parametrize("shape", PLATES)
@pytest.mark.parametrize("digits", ["7", "42", "815", "1066"])
def test_plates_hold_their_text_and_shields_are_never_narrow(shape: str, digits: str) -> None:
    half, size, room = 3.2 * len(digits), 12.0, 3.0
    box = (-half, -size / 2, half, size / 2)
    pen = ControlBoundsPen({})
    parse_path(plate_outline(shape, box, room), pen)
    left, top, right, bottom = pen.bounds
    reach = plate_room(shape, room, size) + 0.5
    assert left <= -half - room + 0.01 and right >= half + room - 0.01
    assert top <= -size / 2 - room + 0.01 and bottom >= size / 2 + room - 0.01
    if PLATES[shape][1]:
        assert right - left >= size + 2 * room - 0.01
    else:
        assert (left, right) == pytest.approx((-half - room, half + room))
    assert bottom - size / 2 <= reach, "the contest keeps as much free"


def test_plates_shadows_and_opacity_are_painted() -> None:
    frame = {"shape": "box", "fill": "#3366cc", "outline": "#000000", "width": 0, "room": 6}
    spot = [shapely.Point(0, 0)]
    bare = pixels(composed(spot, "points", ["Ness"], sides=["right"]))
    plated = pixels(composed(spot, "points", ["Ness"], sides=["right"], frame=frame))
    blue = (plated == [0x33, 0x66, 0xCC]).all(axis=-1)
    (label,) = labels_at(composed(spot, "points", ["Ness"], sides=["right"], frame=frame))
    left, top, right, bottom = label.box
    assert blue.sum() == pytest.approx((right - left + 12) * (bottom - top + 12), rel=0.25)
    faint = pixels(composed(spot, "points", ["Ness"], sides=["right"], opacity=0.5))
    assert bare.min() < 45 and faint.min() == pytest.approx((255 + bare.min()) / 2, abs=3)
    cast = {"colour": "#ff0000", "opacity": 1.0, "right": 0, "down": 20, "blur": 0}
    shadow = pixels(composed(spot, "points", ["Ness"], sides=["right"], shadow=cast))
    red = (shadow[..., 0] > 200) & (shadow[..., 1] < 60)
    dark = bare.max(axis=-1) < 60
    assert red.sum() > 10 and np.abs(np.argwhere(red).mean(0) - np.argwhere(dark).mean(0) - [20, 0]).max() < 1.5


def test_letters_are_read_on_what_lies_below_them() -> None:
    areas = [shapely.box(-90, -90, 0, 90), shapely.box(0, -90, 90, 90)]
    rule = {"id": "r", "name": "dark", "where": "name = 'Ness'", "symbol": {"fill": "#101018"}}
    data = VectorSource(Dataset(pa.table({"name": ["Ness", "Ard"]}), "areas", np.array(areas), WEB_MERCATOR), MERCATOR)
    for colours in ("below", "symbol"):
        layer = {
            "id": "a", "name": "A", "dataset": "d",
            "symbology": {"kind": "symbols", "symbol": {"fill": "#f4eeda"}, "rules": [rule]},
            "lettering": {"lines": [{"text": "{name}"}], "colours": colours},
        }  # fmt: skip
        placed = labels_at(
            compose(Sheet.model_validate({"version": 4, "title": "T", "layers": [layer]}), lambda *_: data)
        )
        inks = {label.text: (label.colour, label.halo_colour) for label in placed}
        if colours == "below":
            assert inks == {"Ness": ("#ffffff", "#101018"), "Ard": ("#1f2421", "#f4eeda")}
        else:
            assert inks["Ness"][0] == "#101018" and inks["Ard"][0] not in (None, "#f4eeda")
        assert all(contrast(str(own), str(halo)) >= 4.5 for own, halo in inks.values())


@pytest.mark.parametrize(("plate", "ink"), [("#2f4f6f", "#ffffff"), ("#f4eeda", "#1f2421")])
def test_in_a_frame_that_is_what_lies_below_them(plate: str, ink: str) -> None:
    """Names of underground lines on dark shields stood there in dark letters, as they are read on the light ground."""
    lines = [shapely.LineString([(-90, 0), (90, 0)])]
    placed = labels_at(composed(lines, "lines", ["DLR"], colours="below", frame={"shape": "pill", "fill": plate}))
    assert {(label.colour, label.halo_colour) for label in placed} == {(ink, plate)}


TOWNS = pa.table(
    {"name": ["Ness", "Ard", "Uig", "Sula"], "rank": ["port", "town", "town", None], "people": [9, 4, 1, 2]}
)
BY_RANK = {
    "by": "category", "field": "rank",
    "categories": [{"values": ["port"], "colour": "#aa2233", "name": "Harbour"}, {"values": ["town"], "colour": "#eecc11"}],
}  # fmt: skip


def lettered_towns(kind: str, colour: dict[str, Any]) -> tuple[Sheet, VectorSource]:
    shapes = [
        shapely.Point(i * 1000, 0) if kind == "points" else shapely.LineString([(i * 1000, 0), (i * 1000 + 900, 0)])
        for i in range(4)
    ]
    source = VectorSource(Dataset(TOWNS, kind, np.array(shapes), WEB_MERCATOR), MERCATOR)  # type: ignore[arg-type]
    layer = {
        "id": "a", "name": "A", "dataset": "d", "symbology": {"kind": "symbols", "symbol": {"fill": "#00ff00"}},
        "lettering": {"lines": [{"text": "{name}", "colour": "#123456"}], "colours": "field", "colour": colour},
    }  # fmt: skip
    return Sheet.model_validate({"version": 4, "title": "T", "layers": [layer]}), source


@pytest.mark.parametrize("kind", ["points", "lines"])
def test_labels_have_colours_by_a_field_of_their_own_and_the_key_says_which(kind: str) -> None:
    sheet, source = lettered_towns(kind, BY_RANK)
    composition = compose(sheet, lambda *_: source)
    inks = {label.text: label.colour for label in labels_at(composition)}
    # As they were chosen, not shades of them: the key shows the same.
    assert inks == {"Ness": "#aa2233", "Ard": "#eecc11", "Uig": "#eecc11", "Sula": "#123456"}
    (key,) = sheet_key(composition)
    assert [section.channel for section in key.sections] == ["symbol", "letters"]
    entries = key.sections[1].entries
    assert [(each.text, each.count, each.mark and each.mark.sign_colour) for each in entries] == [
        ("Harbour", 1, "#aa2233"), ("town", 2, "#eecc11"),
    ]  # fmt: skip
    assert (key_pixels([key], 1.0)[..., :3] == (0xAA, 0x22, 0x33)).all(axis=-1).any()


def test_colours_of_labels_along_a_ramp_are_read_on_the_halo_and_the_key_has_the_same() -> None:
    sheet, source = lettered_towns(
        "points", {"by": "classes", "classing": {"field": "people", "classes": 3}, "ramp": {"name": "heather"}}
    )
    composition = compose(sheet, lambda *_: source)
    shown = {str(label.colour) for label in labels_at(composition)}
    assert len(shown) == 3 and all(contrast(colour, "#ffffff") >= 4.5 for colour in shown)
    assert {each.mark and each.mark.sign_colour for each in sheet_key(composition)[0].sections[1].entries} == shown


def test_colours_of_labels_are_held_over_a_delivery_and_told_where_their_field_is_gone() -> None:
    sheet, source = lettered_towns(
        "points", {"by": "classes", "classing": {"field": "people", "classes": 2}, "ramp": {"name": "heather"}}
    )
    held = with_breaks_held(sheet.layers[0], source.dataset).lettering
    assert held and isinstance(held.colour, ColourByClasses) and held.colour.classing.breaks
    assert unfit(sheet, "d", {"name": "text", "rank": "text"}) == [
        "Layer 'A' needs the field 'people' for the colours of its labels, which is gone."
    ]
    with pytest.raises(ValidationError, match="Say by what the labels differ"):
        Sheet.model_validate(
            {
                "version": 4,
                "title": "T",
                "layers": [
                    {**sheet.layers[0].model_dump(), "lettering": {"lines": [{"text": "{name}"}], "colours": "field"}}
                ],
            }
        )


def test_labels_shrink_before_they_are_left_out_and_no_further_than_asked() -> None:
    area, names = [shapely.box(-30, -8, 30, 8)], ["Kirkskara"]
    lines = [{"text": "{name}", "size": 20}]
    assert labels_at(composed(area, "areas", names, lines=lines)) == []
    (label,) = labels_at(composed(area, "areas", names, lines=lines, smallest=10))
    (piece,) = label.pieces
    assert 0.5 <= piece.share < 1 and area[0].contains(outline(label))
    assert labels_at(composed(area, "areas", names, lines=lines, smallest=18)) == []


def test_labels_of_small_areas_stand_beside_them_with_a_leader() -> None:
    areas = [shapely.box(-4, -4, 4, 4), shapely.box(60, -80, 180, 80)]
    one, two = sorted(
        labels_at(composed(areas, "areas", ["Little Skara", "Ard"], outside=True)), key=lambda label: label.x
    )
    assert one.text == "Little Skara" and one.leader is not None and one.leader[2:] == (0.0, 0.0)
    assert not outline(one).intersects(areas[0])
    assert two.leader is None and areas[1].contains(outline(two))
    assert len(labels_at(composed(areas, "areas", ["Little Skara", "Ard"]))) == 1


def test_sides_of_points_are_those_that_are_asked_for() -> None:
    spots = [shapely.Point(0, 0)] * 3
    placed = labels_at(composed(spots, "points", ["A", "B", "C"], sides=["below", "above-left"]))
    assert [label.side for label in placed] == [(0, 1), (-1, -1)]


def test_labels_keep_off_the_symbols_of_layers_that_are_kept_clear() -> None:
    rng = np.random.default_rng(6)
    spots = shapely.points(rng.uniform(-90, 90, (40, 2)))
    data = VectorSource(
        Dataset(pa.table({"name": [f"S {i}" for i in range(40)]}), "points", spots, WEB_MERCATOR), MERCATOR
    )
    layer = {"id": "a", "name": "A", "dataset": "d", "symbology": {"kind": "symbols", "symbol": {"radius": 6}}}
    lettered = {**layer, "lettering": {"lines": [{"text": "{name}", "size": 9}], "halo": 0}}
    marks = shapely.box(*(np.array([[p.x - 5.9, p.y - 5.9, p.x + 5.9, p.y + 5.9] for p in spots]).T))
    met = []
    for clear in (False, True):
        sheet = {"version": 4, "title": "T", "layers": [{**lettered, "kept_clear": clear}]}
        placed = labels_at(compose(Sheet.model_validate(sheet), lambda *_: data))
        met.append(sum(int(shapely.intersects(marks, outline(label)).any()) for label in placed))
        assert len(placed) > 5
    assert met[0] > 0 and met[1] == 0
    off = {"id": "b", "name": "B", "dataset": "d", "symbology": layer["symbology"], "kept_clear": True}
    sheet = {"version": 4, "title": "T", "layers": [off, {**lettered, "id": "c"}]}
    placed = labels_at(compose(Sheet.model_validate(sheet), lambda *_: data))
    assert placed and not any(shapely.intersects(marks, outline(label)).any() for label in placed)


def test_labels_keep_off_pins_whose_letters_are_read_as_they_are() -> None:
    rng = np.random.default_rng(6)
    spots = shapely.points(rng.uniform(-90, 90, (40, 2)))
    table = pa.table({"name": [f"S {i}" for i in range(40)]})
    data = VectorSource(Dataset(table, "points", spots, WEB_MERCATOR), MERCATOR)
    pins = {"fids": [3, 11, 20, 31], "symbol": {"radius": 9}}
    pinned = {"kind": "symbols", "symbol": {"radius": 1}, "pins": pins}
    lettering = {"lines": [{"text": "{name}", "size": 9}], "halo": 0}
    layer = {"id": "a", "name": "A", "dataset": "d", "symbology": pinned, "lettering": lettering}
    sheet = Sheet.model_validate({"version": 4, "title": "T", "layers": [layer]})
    assert sheet.layers[0].in_the_way
    marks = shapely.buffer(spots[pins["fids"]], 8.9)
    placed = labels_at(compose(sheet, lambda *_: data))
    assert len(placed) > 10 and not any(shapely.intersects(marks, outline(label)).any() for label in placed)


def test_what_is_put_by_hand_stands_there_and_others_keep_away() -> None:
    spots = [shapely.Point(x, 0) for x in range(-80, 81, 40)]
    names = [f"Skara {i}" for i in range(5)]
    at = list(MERCATOR.lonlat(-60.0, 30.0))
    hand = {"fid": 2, "at": at, "turn": 40, "size": 24, "colour": "#ff0000", "leader": True}
    composition = composed(spots, "points", names, by_hand=[hand, {"fid": 0, "hidden": True}])
    placed = {label.feature: label for label in labels_at(composition)}
    own = placed[2]
    assert own.hand and (own.x, own.y) == pytest.approx((-60, 30)) and own.colour == "#ff0000"
    assert {(piece.turn, piece.share) for piece in own.pieces} == {(40, 2.0)}
    assert own.leader is not None and own.leader[2:] == pytest.approx((60, 30))
    assert 0 not in placed and composition.placement(1.0).left_out.get(0, []) == [
        fid for fid in (1, 3, 4) if fid not in placed
    ]
    for fid, label in placed.items():
        assert fid == 2 or not outline(label).intersects(outline(own))
    gone = composed(spots[:2], "points", names[:2], by_hand=[hand])
    assert len(labels_at(gone)) == 2, "of a feature that is gone nothing is done"


def test_leaders_begin_at_the_label_and_are_never_endless() -> None:
    for turn in (0, 30, -75):
        x0, y0, x1, y1 = leader_to((-20, -6, 20, 6), turn, (120, -90)) or (0, 0, 0, 0)
        assert (x1, y1) == (120, -90)
        plate = shapely.affinity.rotate(shapely.box(-22, -8, 22, 8), turn, origin=(0, 0))
        assert shapely.distance(shapely.Point(x0, y0), plate.exterior) < 1e-6
    assert leader_to((-20, -6, 20, 6), 0, (5, 5)) is None
    assert leader_to((-20, -6, 20, 6), 0, (LONGEST_LEADER + 1, 0)) is None


@pytest.mark.parametrize("kind", ["points", "areas"])
def test_room_is_found_for_a_label_that_had_none(kind: str) -> None:
    rng = np.random.default_rng(4)
    spots = shapely.points(rng.uniform(-120, 120, (60, 2)))
    shapes = spots if kind == "points" else shapely.buffer(spots, 6)
    names = [f"Upper Skara {i}" for i in range(60)]
    composition = composed(shapes, kind, names)
    placement, asked = composition.placement(1.0), [wanted for _, wanted in composition.lettered]
    found = 0
    for fid in placement.left_out[0][:12]:
        fit = room_found(placement, asked, 0, fid, 1.0)
        if fit is None:
            continue
        found += 1
        hand: dict[str, Any] = {"fid": fid, "size": 12 * fit.share}
        if fit.place:
            hand |= {"at": list(MERCATOR.lonlat(*fit.place)), "leader": True}
        again = labels_at(composed(shapes, kind, names, by_hand=[hand]))
        own = next(label for label in again if label.feature == fid)
        for label in placement.labels:
            assert outline(own).intersection(outline(label)).area < 1e-6
    assert found >= 6


def test_a_label_as_pages_read_it_is_short_and_whole() -> None:
    composition = composed([shapely.Point(0, 0)], "points", ["Ness"])
    (label,) = labels_at(composition)
    told = label_json(label, Frame(), composition.lettered[0][1].styles, 2.0)
    assert told.startswith('{"p":[["Ness","sans-500",0,1.0,') and '"a":"M' in told
    assert "null" not in label_json(label, None, composition.lettered[0][1].styles, 2.0)
