"""Every address, asked by its owner, by a stranger and by a visitor."""

import json
from typing import Any

import pytest
from config.api import api
from django.contrib.auth.models import User
from django.core.files.base import ContentFile
from django.test import Client
from editions.models import Address
from jobs.models import Job
from library.models import AttachedPicture, CrossList, Dataset, KeptIcon, KeptRamp, Upload
from people.models import Invitation, Member, Share, Team
from sheets.models import Sheet

from tests.server.conftest import send

ICON = '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 2 2"><path d="M0 0h2v2z"/></svg>'
OPEN = {
    ("get", "/api/session"), ("post", "/api/session"), ("get", "/api/invitations/{token}"), ("post", "/api/invitations/{token}"),
    ("post", "/api/new-password"),
}  # fmt: skip
WITHOUT_OBJECT = {("get", "/api/teams"), ("post", "/api/teams"), ("get", "/api/sessions"), ("get", "/api/services"), ("get", "/api/store/tags"), ("post", "/api/store/count"),
    ("post", "/api/services/look"), ("post", "/api/services/levels"), ("post", "/api/services/fetch"), ("get", "/api/cross-lists"), ("post", "/api/cross-lists"), ("get", "/api/draw/functions"), 
    ("delete", "/api/session"), ("get", "/api/jobs"), ("get", "/api/datasets"), ("get", "/api/sheets"), ("post", "/api/sheets"),
    ("get", "/api/draw/ramps"), ("get", "/api/draw/ramps/of"), ("get", "/api/draw/ramps/matched"), ("get", "/api/draw/ramps/refined"), ("get", "/api/draw/oklch"), ("get", "/api/draw/oklch/at"), ("get", "/api/draw/starting"), ("post", "/api/uploads"), ("get", "/api/ramps"), ("post", "/api/ramps"), ("get", "/api/icons"), ("post", "/api/icons"), ("post", "/api/draw/letters"), ("post", "/api/draw/letters/left-out"), ("post", "/api/draw/letters/fit"), ("get", "/api/draw/faces/{name}"), ("post", "/api/draw/proof"), ("post", "/api/draw/mend"), ("post", "/api/draw/credits"), ("post", "/api/password"),
    ("get", "/api/draw/frames"), ("get", "/api/draw/frames/place"), ("get", "/api/draw/frames/lonlat"), ("get", "/api/draw/frames/search"), ("get", "/api/draw/frames/box"), ("get", "/api/draw/frames/distortion"), ("get", "/api/draw/frames/outline"), ("get", "/api/draw/frames/graticule"),
    ("post", "/api/draw/frames/suggest"), ("post", "/api/draw/extent"), ("post", "/api/draw/picture"), ("post", "/api/draw/ground"),
}  # fmt: skip
QUERIES = {
    "/api/draw/letters": "zoom=9", "/api/draw/letters/left-out": "zoom=9&layer=carbon", "/api/draw/letters/fit": "zoom=12&layer=carbon&fid=1", "/api/draw/faces/{name}": "letters=abc", "/api/draw/frames": "crs=EPSG:8857", "/api/draw/frames/place": "crs=EPSG:8857&lon=1&lat=2",
    "/api/draw/frames/lonlat": "crs=EPSG:8857&x=1&y=2", "/api/draw/frames/search": "text=utm", "/api/draw/frames/box": "crs=EPSG:8857&west=1&south=2&east=3&north=4",
    "/api/draw/frames/distortion": "crs=EPSG:8857", "/api/draw/frames/outline": "crs=EPSG:8857",
    "/api/draw/frames/graticule": "crs=EPSG:8857&left=0&bottom=0&right=100000&top=100000&resolution=100",
    "/api/datasets/{dataset_id}/position": "fid=1", "/api/datasets/{dataset_id}/restore": "number=1",
    "/api/draw/pictures/{dataset_id}/{z}/{x}/{y}": "look=" + json.dumps({"symbology": {"kind": "symbols"}}),
    "/api/draw/ramps/of": "colour=%237c4f74", "/api/draw/ramps/matched": "ground=%23101418&stops=%23f0e8f0&stops=%232a1430", "/api/draw/ramps/refined": "stops=%23f0e8f0&stops=%232a1430", "/api/draw/oklch": "colour=%237c4f74", "/api/draw/oklch/at": "lightness=0.5&chroma=0.1&hue=20",
}  # fmt: skip
SENT = {("post", "/api/datasets/{dataset_id}/pictures"), ("post", "/api/uploads"), ("post", "/api/icons")}
"""What takes a file."""
OPERATIONS = [(method, path) for path, methods in api.get_openapi_schema()["paths"].items() for method in methods]


@pytest.fixture
def things(isla: Any, sheet: Sheet, named: dict[str, Dataset]) -> dict[str, Any]:
    upload = Upload.objects.create(
        owner=isla, name="a.csv", size=45, file=ContentFile(b"name;shape\nArd;LINESTRING (-27 52, -26 51)\n", "a.csv")
    )
    job = Job.objects.create(owner=isla, kind="import", title="t")
    icon = KeptIcon.objects.create(owner=isla, kind="svg", content=ICON)
    ramp = KeptRamp.objects.create(owner=isla, name="dusk", stops=["#223344", "#ddccbb"])
    joined = named["Catchments with returns"]
    spellings = CrossList.objects.create(owner=isla, title="Spellings", entries=[{"spelling": "Ardd", "means": "Ard"}])
    team = Team.objects.create(name="Survey")
    Member.objects.create(team=team, person=isla, role="keeper")
    runa = User.objects.create_user("runa")
    member = Member.objects.create(team=team, person=runa, role="reader", answered_for=True)
    picture = AttachedPicture.objects.create(
        dataset=joined,
        fid=0,
        name="a.webp",
        file=ContentFile(b"a", "a.webp"),
        thumb=ContentFile(b"a", "b.webp"),
        width=1,
        height=1,
        bytes=1,
    )
    invitation, token = Invitation.write(team, "reader", isla)
    share = Share.objects.create(thing=joined.pk, team=team, may_change=True)
    return {
        "team_id": team.pk, "member_id": member.pk, "invitation_id": invitation.pk, "token": token, "share_id": share.pk,
        "thing_id": joined.pk, "session_id": "none",
        "list_id": spellings.pk, "picture_id": picture.pk,
        "upload_id": upload.pk, "job_id": job.pk, "dataset_id": joined.pk, "revision_id": joined.current_id, "sheet_id": sheet.pk,
        "icon_id": icon.pk, "ramp_id": ramp.pk, "number": 1, "name": "sans-600", "doubt": "blank-1", "z": 8, "x": 108, "y": 84,
    }  # fmt: skip


def body_for(path: str, sheet: Sheet, named: dict[str, Dataset]) -> Any:
    joined = str(named["Catchments with returns"].pk)
    document = sheet.revisions.first().document
    sent = Upload.objects.first()
    delivered = {"upload": str(sent.pk) if sent else joined, "key": "name"}
    places = {
        "table": str(named["Field huts"].pk), "name": "near", "gazetteer": str(named["Gazetteer"].pk), "gazetteer_name": "name",
    }  # fmt: skip
    return {
        "/api/datasets/{dataset_id}/edits": {"edits": [{"do": "add-field", "name": "seen", "type": "text"}]},
        "/api/datasets/{dataset_id}/doubts/{doubt}/accept": {"reason": "So it is."}, "/api/datasets/{dataset_id}/redelivery/look": delivered, "/api/datasets/{dataset_id}/redelivery": delivered,
        "/api/uploads/{upload_id}/preview": {}, "/api/uploads/{upload_id}/elsewhere": {}, "/api/uploads/{upload_id}/simplified": {"simplify": 50}, "/api/uploads/{upload_id}/condition": {"corrections": {}, "text": ""}, "/api/uploads/{upload_id}/import": {}, "/api/datasets/{dataset_id}": {"title": "New title"},
        "/api/datasets/{dataset_id}/many/look": {"asked": {"do": "fill", "field": "name", "value": "x"}},
        "/api/datasets/{dataset_id}/many": {"asked": {"do": "fill", "field": "name", "value": "x"}},
        "/api/uploads/mosaic": {"uploads": [joined, str(named["Relief"].pk)], "corrections": {}},
        "/api/places/fields": {"table": str(named["Field huts"].pk), "gazetteer": str(named["Gazetteer"].pk)},
        "/api/places/look": places, "/api/places": places,
        "/api/cross-lists": {"title": "Huts", "entries": []}, "/api/cross-lists/{list_id}": {"title": "Huts", "entries": []},
        "/api/joins/begun": {"areas": joined, "table": str(named["Returns per catchment"].pk)},
        "/api/joins/key": {"areas": joined, "table": str(named["Returns per catchment"].pk), "area_key": "carbon_t", "table_key": "peat_ha"},
        "/api/joins/look": {"areas": joined, "table": str(named["Returns per catchment"].pk), "area_key": "name", "table_key": "catchment"},
        "/api/joins": {"areas": joined, "table": str(named["Returns per catchment"].pk), "area_key": "name", "table_key": "catchment", "fields": ["peat_ha"]},
        "/api/teams": {"name": "Survey"}, "/api/teams/{team_id}": {"name": "Survey"}, "/api/teams/{team_id}/invitations": {"role": "reader"},
        "/api/teams/{team_id}/members/{member_id}": {"role": "maker"}, "/api/shares/{thing_id}": {"person": "odd"},
        "/api/services/look": {"address": "https://isles.example/"},
        "/api/services/levels": {"address": "https://isles.example/", "layer": "a", "bounds": [0, 0, 1, 1]},
        "/api/services/fetch": {"asked": {"kind": "store", "tags": [{"name": "roof"}]}},
        "/api/store/count": {"kind": "store", "tags": [{"name": "roof"}]},
        "/api/datasets/{dataset_id}/timetable": {"every": "day"},
        "/api/datasets/{dataset_id}/cut": {"columns": 2, "rows": 2}, "/api/datasets/{dataset_id}/cut/look": {"columns": 2, "rows": 2},
        "/api/new-password": {"person": 1, "token": "none", "password": "sedge-and-rush-9"},
        "/api/sheets": {"title": "New"}, "/api/sheets/{sheet_id}": {"base": sheet.revision, "document": document},
        "/api/sheets/{sheet_id}/plan": {}, "/api/sheets/{sheet_id}/editions": {"max_zoom": 8}, "/api/sheets/{sheet_id}/address": {"readers": "owner"},
        "/api/draw/expression": {"dataset": joined, "text": "carbon_t / 3"},
        "/api/draw/condition": {"dataset": joined, "text": "carbon_t > 3"},
        "/api/draw/condition/features": {"dataset": joined, "text": "carbon_t > 3"},
        "/api/draw/rule": {"dataset": joined, "fids": [1, 2], "symbology": {"kind": "symbols"}},
        "/api/draw/condition/language": {"dataset": joined}, "/api/draw/condition/values": {"dataset": joined, "field": "name"},
        "/api/draw/features": {"dataset": joined, "field": "carbon_t"},
        "/api/draw/inked": {"dataset": str(named["Relief"].pk), "kind": "slope"},
        "/api/draw/ink": document["layers"][1], "/api/draw/letters": document, "/api/draw/letters/left-out": document, "/api/draw/letters/fit": document, "/api/draw/proof": document, "/api/draw/credits": document,
        "/api/draw/ground": {"document": document, "ground": "dark"},
        "/api/draw/frames/suggest": document, "/api/draw/extent": document, "/api/draw/picture": document,
        "/api/draw/shown": {"dataset": joined, "symbology": {"kind": "symbols"}, "field": "carbon_t"},
        "/api/draw/near": {"dataset": joined},
        "/api/draw/other-name": {"dataset": joined},
        "/api/draw/line": {"dataset": joined, "lettering": {"lines": [{"text": "{name}"}]}, "symbology": {"kind": "symbols"}},
        "/api/draw/added": {"dataset": joined}, "/api/draw/filter": {"dataset": joined, "layer": "a"}, "/api/draw/search": {"dataset": joined, "layer": "a"},
        "/api/draw/time": {"dataset": str(named["Slips and fires"].pk), "layer": "events", "field": "date"},
        "/api/draw/varied": {"dataset": joined, "symbology": {"kind": "symbols"}, "channel": "colour", "by": "classes"},
        "/api/draw/categories": {"dataset": joined, "field": "name"},
        "/api/draw/categories/parted": {"dataset": joined, "encoding": {"by": "category", "field": "code"}},
        "/api/draw/read": {"dataset": joined, "by": "centres"},
        "/api/draw/shapes/{dataset_id}/at": {"look": {"symbology": {"kind": "symbols"}}, "x": 0, "y": 0, "resolution": 9},
        "/api/draw/pictures/{dataset_id}/{z}/{x}/{y}": {"symbology": {"kind": "symbols"}},
        "/api/draw/trials": {"layer": document["layers"][1]},
        "/api/draw/split": {
            "dataset": joined,
            "symbology": {"kind": "symbols", "encodings": {"colour": {"by": "classes", "classing": {"field": "carbon_t"}}}},
        },
        "/api/draw/mend": {"document": document, "finding": "none"}, "/api/draw/distribution": {"dataset": joined, "field": "carbon_t"},
        "/api/ramps": {"name": "bog", "stops": ["#ffffff", "#123456"]},
        "/api/draw/scatter": {
            "dataset": joined, "encoding": {"by": "two-way", "first": {"field": "carbon_t", "classes": 3}, "second": {"field": "carbon_t", "classes": 3}},
        },
        "/api/draw/suggested-classes": {"dataset": joined, "field": "carbon_t"},
        "/api/draw/card": {"dataset": joined, "template": "{{name}}"}, "/api/session": {"name": "isla", "password": "wrong"},
        "/api/password": {"old": "peat-and-heather", "new": "heather-and-peat"},
    }.get(path, {})  # fmt: skip


def call(client: Client, method: str, path: str, things: dict[str, Any], body: Any) -> Any:
    address = f"{path.format(**things)}?{QUERIES.get(path, '')}"
    if method == "get":
        return client.get(address)
    return getattr(client, method)(address, json.dumps(body), content_type="application/json")


@pytest.mark.parametrize(("method", "path"), OPERATIONS)
def test_visitors_are_turned_away(
    visitor: Client, method: str, path: str, things: dict[str, Any], sheet: Sheet, named: dict[str, Dataset]
) -> None:
    answer = call(visitor, method, path, things, body_for(path, sheet, named))
    if (method, path) in OPEN:
        assert answer.status_code != 401
    else:
        assert answer.status_code == 401


@pytest.mark.parametrize(("method", "path"), [one for one in OPERATIONS if one not in OPEN | WITHOUT_OBJECT | SENT])
def test_strangers_find_nothing(
    stranger: Client, method: str, path: str, things: dict[str, Any], sheet: Sheet, named: dict[str, Dataset]
) -> None:
    assert call(stranger, method, path, things, body_for(path, sheet, named)).status_code == 404


@pytest.mark.parametrize(("method", "path"), [one for one in OPERATIONS if one not in OPEN and one not in SENT])
def test_owners_get_through(
    owner: Client, method: str, path: str, things: dict[str, Any], sheet: Sheet, named: dict[str, Dataset]
) -> None:
    if "/rasters/" in path or "/cut" in path:
        things = {**things, "dataset_id": named["Relief"].pk}
    answer = call(owner, method, path, things, body_for(path, sheet, named))
    # There is nothing to undo yet, and a table can't take the place of areas.
    unfit = (
        "/api/draw/mend",
        "/api/sheets/{sheet_id}/address",
        "/api/datasets/{dataset_id}/undo",
        "/api/datasets/{dataset_id}/redo",
        "/api/datasets/{dataset_id}/redelivery/look",
        "/api/datasets/{dataset_id}/refresh",
        "/api/datasets/{dataset_id}/timetable",
        "/api/services/look",
        "/api/services/levels",
        "/api/datasets/{dataset_id}/doubts/{doubt}/mend",
    )
    if method == "post" and path.endswith("/accept"):
        unfit = (path,)  # nothing of that name is doubtful
    expected = {
        "/api/uploads/mosaic": 404,
        "/api/sheets/{sheet_id}/editions/{number}/bring-back": 404,
        "/api/sessions/{session_id}": 404,
        "/api/jobs/{job_id}/file": 404,
        **dict.fromkeys(unfit, 422),
    }.get(path, 200)
    assert answer.status_code in (expected, 204), answer.content[:300]


CHANGE = {
    ("patch", "/api/datasets/{dataset_id}"), ("put", "/api/cross-lists/{list_id}"), ("put", "/api/sheets/{sheet_id}"), ("put", "/api/datasets/{dataset_id}/timetable"), ("patch", "/api/pictures/{picture_id}"), ("delete", "/api/pictures/{picture_id}"), ("post", "/api/sheets/{sheet_id}/editions"),
    ("post", "/api/sheets/{sheet_id}/editions/{number}/bring-back"), ("delete", "/api/datasets/{dataset_id}/doubts/{doubt}/accept"), ("get", "/api/datasets/{dataset_id}/redelivery/keys"),
    *(("post", f"/api/datasets/{{dataset_id}}/{what}") for what in (
        "edits", "undo", "redo", "restore", "remake", "many", "doubts/{doubt}/mend", "doubts/{doubt}/accept", "redelivery", "redelivery/look", "refresh")),
}  # fmt: skip
OWN = {
    ("put", "/api/sheets/{sheet_id}/address"), ("post", "/api/shares/{thing_id}"), ("delete", "/api/shares/{thing_id}/{share_id}"),
    *(("delete", f"/api/{what}") for what in ("datasets/{dataset_id}", "sheets/{sheet_id}", "icons/{icon_id}", "ramps/{ramp_id}", "cross-lists/{list_id}")),
}  # fmt: skip
KEEP = {("post", "/api/vetted/{thing_id}"), ("delete", "/api/vetted/{thing_id}")} | {
    (method, path) for method, path in OPERATIONS if path.startswith("/api/teams/{team_id}")
}
MAKE = {("post", f"/api/{what}") for what in ("sheets", "teams", "ramps", "cross-lists", "joins", "places", "services/look", "services/levels", "services/fetch", "store/count")} | {
    ("get", "/api/services"), ("get", "/api/store/tags"),
}  # fmt: skip
"""What wants more than to see the thing: to change it, to own it, to keep its team, or to make things at all."""


def refused(role: str, method: str, path: str) -> bool:
    """Whether somebody in a team with which all is shared, to be changed, is told that they may not."""
    wanted = (method, path)
    if role == "reader":
        return wanted in CHANGE | OWN | KEEP | MAKE
    return (
        wanted in OWN | KEEP if role == "maker" else wanted in OWN - {("delete", "/api/shares/{thing_id}/{share_id}")}
    )


@pytest.mark.parametrize("role", ["reader", "maker", "keeper"])
@pytest.mark.parametrize(("method", "path"), [one for one in OPERATIONS if one not in OPEN and one not in SENT])
def test_every_role_gets_as_far_as_it_may(
    role: str, method: str, path: str, things: dict[str, Any], sheet: Sheet, named: dict[str, Dataset]
) -> None:
    someone = User.objects.create_user("someone")
    Member.objects.create(team_id=things["team_id"], person=someone, role=role)
    shared = [
        *(each.pk for each in named.values()),
        *(things[f"{kind}_id"] for kind in ("sheet", "icon", "ramp", "list")),
    ]
    Share.objects.all().delete()
    made = [Share.objects.create(thing=pk, team_id=things["team_id"], may_change=True) for pk in shared]
    things |= {"share_id": next(each.pk for each in made if each.thing == things["thing_id"])}
    if "/rasters/" in path or "/cut" in path:
        things |= {"dataset_id": named["Relief"].pk}
    client = Client()
    client.force_login(someone)
    status = call(client, method, path, things, body_for(path, sheet, named)).status_code
    if refused(role, method, path):
        assert status == 403
    elif (
        "{upload_id}" in path
        or "{job_id}" in path
        or path.endswith(("/redelivery", "/redelivery/look", "/mosaic", "{session_id}", "bring-back"))
    ):
        assert status == 404, "uploads and jobs are their owner's alone"
    else:
        assert status in (200, 204, 422), "422: there is nothing to undo, or nothing doubtful"


def test_lists_hold_only_ones_own(stranger: Client) -> None:
    for path in ("/api/jobs", "/api/datasets", "/api/sheets"):
        assert stranger.get(path).json() == []


def test_a_document_with_somebody_elses_data_draws_nothing(stranger: Client, sheet: Sheet) -> None:
    document = sheet.revisions.first().document
    status, told = send(stranger, "/draw/letters?zoom=9", document)
    assert (status, "not in the library" in told["detail"]) == (422, True)
    _, found = send(stranger, "/draw/proof", document)
    assert all(one["id"].startswith("broken") for one in found)


def test_changes_want_the_token_of_their_page(isla: Any, sheet: Sheet) -> None:
    client = Client(enforce_csrf_checks=True)
    client.force_login(isla)
    assert client.delete(f"/api/sheets/{sheet.pk}").status_code == 403
    assert Sheet.objects.filter(pk=sheet.pk).exists()
    assert (
        Client(enforce_csrf_checks=True)
        .post(
            "/api/session",
            json.dumps({"name": "isla", "password": "peat-and-heather"}),
            content_type="application/json",
        )
        .status_code
        == 403
    )


def test_sign_in_and_out(visitor: Client) -> None:
    assert send(visitor, "/session", {"name": "isla", "password": "peat-and-heather"}) == (
        200,
        {"name": "isla", "makes": True},
    )
    assert visitor.get("/api/session").json() == {"name": "isla", "makes": True}
    assert visitor.delete("/api/session").status_code == 200
    assert visitor.get("/api/session").json() == {"name": None, "makes": True}


def test_nothing_of_an_unpublished_sheet_is_public(visitor: Client, sheet: Sheet) -> None:
    assert not Address.objects.filter(sheet=sheet).exists()
    for path in (
        "",
        "edition.json",
        "1/",
        "1/edition.json",
        "1/map/8/108/84.png",
        "1/sheet.json",
        "1/card?lon=0&lat=0&zoom=3",
    ):
        assert visitor.get(f"/e/guessed-slug/{path}").status_code == 404


def test_headers_guard_the_pages(visitor: Client) -> None:
    answer = visitor.get("/api/session")
    policy = answer.headers["Content-Security-Policy"]
    assert "default-src 'self'" in policy
    assert "frame-ancestors 'none'" in policy
    assert "script" not in policy or "unsafe" not in policy.split("script-src")[-1].split(";")[0]
    assert answer.headers["X-Frame-Options"] == "DENY"
    assert answer.headers["X-Content-Type-Options"] == "nosniff"
