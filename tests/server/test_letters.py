"""Labels while a map is made: other scripts and their faces, what is done by hand, and room for one that found none."""

import io
import json
from typing import Any

from django.test import Client
from fontTools.ttLib import TTFont
from sheets.keeping import document_of
from sheets.models import Sheet

from tests.server.conftest import fetch, send


def lettered(sheet: Sheet, **lettering: Any) -> dict[str, Any]:
    document = document_of(sheet)
    carbon = next(layer for layer in document["layers"] if layer["id"] == "carbon")
    carbon["lettering"] |= lettering
    return {**document, "layers": [carbon]}


def labels_of(owner: Client, document: dict[str, Any], zoom: float) -> dict[int, Any]:
    status, told = send(owner, f"/draw/letters?zoom={zoom}", document)
    assert status == 200, told
    return {label["feature"]: {**label, "set": json.loads(label["set"])} for label in told["labels"]}


def test_names_in_other_scripts_come_with_their_faces(owner: Client, sheet: Sheet) -> None:
    document = lettered(sheet, lines=[{"text": "القدس {name}"}])
    _, told = send(owner, "/draw/letters?zoom=13", document)
    letters = told["faces"]["NotoSansArabic-400"]
    assert set("القدس") <= set(letters) and list(told["faces"]) == ["NotoSansArabic-400"]
    status, data = fetch(owner, "/draw/faces/NotoSansArabic-400", letters=letters)
    assert status == 200
    assert {ord(letter) for letter in "القدس"} <= set(TTFont(io.BytesIO(data)).getBestCmap())
    for name in ("Comic-400", "..-400", "sans", "NotoSans..%2f..-400"):
        assert owner.get(f"/api/draw/faces/{name}", {"letters": "a"}).status_code in (404, 422)
    assert fetch(owner, "/draw/faces/sans-500", letters="")[0] == 422


def test_what_is_done_by_hand_is_there_and_keeps_its_room(owner: Client, sheet: Sheet) -> None:
    before = labels_of(owner, lettered(sheet), 12)
    fid, other = list(before)[:2]
    by_hand = [
        {"fid": fid, "at": [-27.2, 52.3], "turn": 30, "size": 20, "colour": "#123456", "text": "Here\nand there"},
        {"fid": other, "hidden": True},
    ]
    after = labels_of(owner, lettered(sheet, by_hand=by_hand), 12)
    assert other not in after
    answer = send(owner, "/draw/letters?zoom=12", lettered(sheet, by_hand=by_hand))[1]
    assert answer["by_hand"] == {"carbon": {str(each): before[each]["text"] for each in (fid, other)}}
    label = after[fid]
    assert label["hand"] and label["text"] == "Here\nand there" and label["set"]["c"] == "#123456"
    assert {(piece[3], piece[6]) for piece in label["set"]["p"]} == {(2.0, 30)}, "twice its 10 px, and turned"
    assert not any(each["hand"] for each in after.values() if each["feature"] != fid)
    at = {"scales": {"closest": 1_000_000, "farthest": None}}
    far = labels_of(owner, lettered(sheet, by_hand=[{**by_hand[0], **at}]), 12)
    assert far[fid] == before[fid], "it is meant for smaller scales"


def test_a_label_without_room_is_made_to_fit(owner: Client, sheet: Sheet) -> None:
    document = lettered(sheet)
    zoom = 11
    _, told = send(owner, f"/draw/letters?zoom={zoom}", document)
    fid = told["left_out"]["carbon"][0]
    status, fit = send(owner, f"/draw/letters/fit?zoom={zoom}&layer=carbon&fid={fid}", document)
    assert status == 200 and (fit["size"] is None) != (fit["at"] is None)
    hand = {"fid": fid, **{name: value for name, value in fit.items() if value is not None}}
    assert fid in labels_of(owner, lettered(sheet, by_hand=[hand]), zoom)
    assert send(owner, f"/draw/letters/fit?zoom={zoom}&layer=carbon&fid=99999", document)[0] == 422


def test_what_a_label_can_t_say_is_refused_with_its_line(owner: Client, sheet: Sheet) -> None:
    for text, why in (("{nothing}", "nothing"), ("{name:.1f}", "writes numbers")):
        status, told = send(owner, "/draw/letters?zoom=9", lettered(sheet, lines=[{"text": text}]))
        assert status == 422 and why in told["detail"]
    assert send(owner, "/draw/letters?zoom=9", lettered(sheet, lines=[{"text": "{name"}]))[0] == 422


def test_large_areas_are_named_in_the_part_that_is_seen(owner: Client, sheet: Sheet) -> None:
    """As the view moves labels come and go at its edges alone: what two views share has the same ones in both."""

    def seen(*box: float, **lettering: Any) -> tuple[int, list[tuple[int, float, float]]]:
        query = "".join(f"&within={side}" for side in box)
        status, told = send(owner, f"/draw/letters?zoom=15{query}", lettered(sheet, **lettering))
        return status, [(label["feature"], label["x"], label["y"]) for label in told.get("labels", [])]

    whole = set(seen()[1])
    x, y = next((x, y) for _, x, y in whole)
    left, right = (x - 4000, y - 2000, x + 1000, y + 2000), (x - 1000, y - 2000, x + 4000, y + 2000)
    assert set(seen(*left)[1]) == whole, "only where it is asked for"
    one, other = (set(seen(*box, throughout=True)[1]) for box in (left, right))
    assert whole < one and whole < other and one != other
    both = {place for place in one if x - 1000 < place[1] < x + 1000 and abs(place[2] - y) < 2000}
    assert both <= other
    assert seen(1, 2, 3, throughout=True)[0] == 422
