"""For whom what stands at an address is meant: anyone, those who see the sheet, its owner; on anybody's pages or on those of some sites."""

from typing import Any

import pytest
from django.test import Client
from editions.models import Address
from people.models import Team
from sheets.models import Sheet

from tests.server.conftest import fetch, send, shared

PAGES = (
    "",
    "edition.json",
    "1/",
    "1/edition.json",
    "1/sheet.json",
    "1/style.json",
    "1/map/8/108/84.png",
    "1/features?west=-28&south=51&east=-26&north=53",
)


@pytest.fixture
def home(owner: Client, sheet: Sheet) -> str:
    """Where the demo's sheet stands, published."""
    assert send(owner, f"/sheets/{sheet.pk}/editions", {"max_zoom": 8})[0] == 200
    return f"/e/{Address.objects.get(sheet=sheet).slug}/"


def meant_for(client: Client, sheet: Sheet, readers: str, sites: list[str] | None = None) -> Any:
    return send(client, f"/sheets/{sheet.pk}/address", {"readers": readers, "sites": sites or []}, "put")


def statuses(client: Client, home: str) -> set[int]:
    return {client.get(home + page).status_code for page in PAGES}


def test_who_reads_an_edition(
    owner: Client, maker: Client, stranger: Client, visitor: Client, team: Team, sheet: Sheet, home: str
) -> None:
    everyone = (owner, maker, stranger, visitor)
    assert all(statuses(client, home) <= {200, 204} for client in everyone)
    assert (
        visitor.get(f"{home}1/sheet.json")["Cache-Control"].startswith("max-age")
        or "public" in visitor.get(f"{home}1/sheet.json")["Cache-Control"]
    )
    assert meant_for(owner, sheet, "owner")[0] == 200
    assert fetch(owner, f"/sheets/{sheet.pk}/editions")[1]["readers"] == "owner"
    assert statuses(owner, home) <= {200, 204}
    for client in (maker, stranger, visitor):
        assert statuses(client, home) == {404}
    shared(owner, sheet, team)
    assert meant_for(owner, sheet, "shared")[0] == 200
    assert statuses(maker, home) <= {200, 204} and statuses(stranger, home) == statuses(visitor, home) == {404}
    held = maker.get(f"{home}1/sheet.json")
    assert "private" in held["Cache-Control"] and "public" not in held["Cache-Control"]
    assert held.get("Access-Control-Allow-Origin") is None
    assert meant_for(maker, sheet, "anyone")[0] == 403, "its owner says so, and nobody else"
    assert meant_for(stranger, sheet, "anyone")[0] == 404


def test_some_sites_alone_may_show_it(owner: Client, visitor: Client, sheet: Sheet, home: str) -> None:
    told = visitor.get(home)
    assert "frame-ancestors" not in told["Content-Security-Policy"] and "X-Frame-Options" not in told
    assert visitor.get(f"{home}1/sheet.json")["Access-Control-Allow-Origin"] == "*"
    assert meant_for(owner, sheet, "anyone", ["https://isles.example"])[0] == 200
    told = visitor.get(home)
    assert "frame-ancestors 'self' https://isles.example" in told["Content-Security-Policy"]
    for origin, allowed in (
        ("https://isles.example", "https://isles.example"),
        ("https://other.example", None),
        ("", None),
    ):
        answer = visitor.get(f"{home}1/sheet.json", headers={"Origin": origin})
        assert answer.get("Access-Control-Allow-Origin") == allowed and "Origin" in answer["Vary"]
    for bad in (
        "isles.example",
        "https://isles.example/path",
        "javascript:alert(1)",
        "https://a.example; script-src *",
        "https://a.example\n",
    ):
        status, told = meant_for(owner, sheet, "anyone", [bad])
        assert status == 422 and told["detail"].startswith(f"'{bad}' is no site: write it as https://")
    assert fetch(owner, f"/sheets/{sheet.pk}/editions")[1]["sites"] == ["https://isles.example"]


def test_a_sheet_without_an_edition_has_no_address(owner: Client, sheet: Sheet) -> None:
    status, told = meant_for(owner, sheet, "owner")
    assert status == 422 and "Publish it first" in told["detail"]
