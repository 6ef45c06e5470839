"""Teams, roles, sharing, invitations, resets, sessions: who comes in, who sees what, and what each role may do."""

from typing import Any

import pytest
from django.contrib.auth.models import User
from django.test import Client
from library.models import CrossList, Dataset, KeptIcon, KeptRamp
from people.access import VERBS, may
from people.models import Invitation, Member, Role, Share, Team
from sheets.models import Sheet

from tests.server.conftest import fetch, send
from tests.server.test_access import ICON

PASSWORD = "sedge-and-rush-9"


def joined(team: Team, name: str, role: str) -> tuple[User, Client]:
    someone = User.objects.create_user(name, password=PASSWORD)
    Member.objects.create(team=team, person=someone, role=role)
    client = Client()
    client.force_login(someone)
    return someone, client


@pytest.fixture
def people(team: Team) -> dict[str, tuple[User, Client]]:
    return {role.value: joined(team, f"a-{role.value}", role) for role in Role}


def share(owner: Client, thing: Any, team: Team, **asked: Any) -> Any:
    status, told = send(owner, f"/shares/{thing.pk}", {"team": str(team.pk), **asked})
    assert status == 200, told
    return told


def test_who_may_do_what(isla: User, owner: Client, team: Team, people: Any, named: dict[str, Dataset]) -> None:
    hut, gazetteer = named["Field huts"], named["Gazetteer"]
    share(owner, hut, team)
    share(owner, gazetteer, team, may_change=True)
    odd = User.objects.get(username="odd")

    def does(who: User, thing: Any) -> list[str]:
        return [verb for verb in VERBS if may(who, verb, thing)]

    assert does(isla, hut) == ["see", "change", "remove", "share", "vet"]
    assert does(isla, named["Relief"]) == ["see", "change", "remove", "share"], "vetted is what a team sees"
    assert [does(people[role][0], hut) for role in ("reader", "maker", "keeper")] == [["see"], ["see"], ["see", "vet"]]
    assert does(people["reader"][0], gazetteer) == ["see"], "readers look"
    assert does(people["maker"][0], gazetteer) == ["see", "change"]
    assert does(people["keeper"][0], gazetteer) == ["see", "change", "vet"]
    assert does(odd, hut) == []


def test_what_every_role_is_answered(owner: Client, team: Team, people: Any, named: dict[str, Dataset]) -> None:
    hut = named["Field huts"]
    share(owner, hut, team, may_change=True)
    edit = {"edits": [{"do": "add-field", "name": "seen", "type": "text"}]}
    for role, changing in (("reader", 403), ("maker", 200), ("keeper", 200)):
        client = people[role][1]
        assert fetch(client, f"/datasets/{hut.pk}")[0] == 200
        assert fetch(client, f"/datasets/{hut.pk}/rows")[0] == 200
        assert send(client, f"/datasets/{hut.pk}/edits", edit)[0] == changing
        assert send(client, f"/datasets/{hut.pk}/undo")[0] == changing
        assert send(client, f"/datasets/{hut.pk}", method="delete")[0] == 403
        assert send(client, f"/shares/{hut.pk}", {"person": "odd"})[0] == 403
        assert send(client, f"/vetted/{hut.pk}")[0] == (200 if role == "keeper" else 403)
        assert send(client, "/sheets", {"title": "Mine"})[0] == (403 if role == "reader" else 200), (
            "readers make nothing"
        )
        assert send(client, "/ramps", {"name": "bog", "stops": ["#ffffff", "#123456"]})[0] == (
            403 if role == "reader" else 200
        )
        assert send(client, f"/teams/{team.pk}", {"name": "Other"}, "patch")[0] == (200 if role == "keeper" else 403)
    assert fetch(people["reader"][1], "/session")[1]["makes"] is False
    listed = fetch(people["maker"][1], "/datasets")[1]
    assert [(each["title"], each["owner"], each["may"]) for each in listed] == [
        ("Field huts", "isla", ["see", "change"])
    ]
    assert listed[0]["vetted_by"] == "a-keeper"
    taken_back = send(people["keeper"][1], f"/vetted/{hut.pk}", method="delete")
    assert taken_back == (200, {"vetted": None, "vetted_by": None})


def test_every_kind_of_thing_is_shared(isla: User, owner: Client, people: Any, team: Team, sheet: Sheet) -> None:
    things = [
        KeptIcon.objects.create(owner=isla, kind="svg", content=ICON),
        KeptRamp.objects.create(owner=isla, name="dusk", stops=["#223344", "#ddccbb"]),
        CrossList.objects.create(owner=isla, title="Spellings", entries=[]),
        sheet,
    ]
    reader = people["reader"][1]
    for thing, address in zip(things, ("/icons", "/ramps", "/cross-lists", "/sheets"), strict=True):
        assert fetch(reader, address)[1] == []
        share(owner, thing, team)
        assert [each["id"] for each in fetch(reader, address)[1]] == [str(thing.pk)]
    assert send(reader, f"/ramps/{things[1].pk}", method="delete")[0] == 403


def test_a_sheet_shows_its_datasets_and_no_others(
    owner: Client, people: Any, team: Team, sheet: Sheet, named: dict[str, Dataset]
) -> None:
    reader = people["reader"][1]
    share(owner, sheet, team)
    drawn = {each["dataset"] for each in sheet.revisions.first().document["layers"]}
    assert {each["id"] for each in fetch(reader, "/datasets")[1]} == drawn
    assert reader.get(f"/api/draw/sheets/{sheet.pk}/picture").status_code == 200
    document = fetch(reader, f"/sheets/{sheet.pk}")[1]["document"]
    assert send(reader, f"/sheets/{sheet.pk}", {"base": 1, "document": document}, "put")[0] == 403
    assert (
        send(
            owner, f"/sheets/{sheet.pk}", {"base": 1, "document": {**document, "layers": document["layers"][:1]}}, "put"
        )[0]
        == 200
    )
    assert {each["id"] for each in fetch(reader, "/datasets")[1]} == {document["layers"][0]["dataset"]}
    seen = fetch(owner, f"/shares/{document['layers'][0]['dataset']}")[1]
    assert {(each["name"], each["through"]) for each in seen} == {("Survey", True)}
    direct = next(each for each in fetch(owner, f"/shares/{sheet.pk}")[1] if not each["through"])
    assert send(owner, f"/shares/{sheet.pk}/{direct['id']}", method="delete")[0] == 200
    assert fetch(reader, "/datasets")[1] == [] and fetch(reader, f"/sheets/{sheet.pk}")[0] == 404
    assert not Share.objects.exists()


def test_what_a_maker_puts_into_a_shared_sheet_is_seen_by_its_owner(
    owner: Client, isla: User, people: Any, team: Team, sheet: Sheet, named: dict[str, Dataset]
) -> None:
    someone, maker = people["maker"]
    mine = named["Field huts"]
    mine.owner = someone
    mine.save()
    share(owner, sheet, team, may_change=True)
    document = fetch(maker, f"/sheets/{sheet.pk}")[1]["document"]
    layer = {"id": "huts", "name": "Huts", "dataset": str(mine.pk), "symbology": {"kind": "symbols"}}
    body = {"base": 1, "document": {**document, "layers": [*document["layers"], layer]}}
    status, told = send(maker, f"/sheets/{sheet.pk}", body, "put")
    assert status == 200, told
    assert fetch(owner, f"/datasets/{mine.pk}")[1]["may"] == ["see"]
    assert send(owner, f"/sheets/{sheet.pk}", {**body, "base": 2}, "put")[0] == 200
    sheet.delete()
    assert not Share.objects.exists(), "nothing that is gone is shared"


def test_a_stranger_comes_in_by_a_link_once(owner: Client, visitor: Client, team: Team) -> None:
    status, link = send(owner, f"/teams/{team.pk}/invitations", {"role": "maker"})
    token = link["address"].rsplit("/", 1)[1]
    assert status == 200 and "/invited/" in link["address"]
    assert Invitation.objects.get().digest != token
    assert fetch(visitor, f"/invitations/{token}")[1] == {"team": "Survey", "role": "maker", "made_by": "isla"}
    for name, password, words in (
        ("isla", PASSWORD, "Somebody is called 'isla' already."), ("ISLA", PASSWORD, "already"), ("a b", PASSWORD, "letters"), ("brann", "short", "too short"),
    ):  # fmt: skip
        status, told = send(visitor, f"/invitations/{token}", {"name": name, "password": password})
        assert status == 422 and words in told["detail"]
    assert send(visitor, f"/invitations/{token}", {"name": "brann", "password": PASSWORD})[0] == 200
    assert fetch(visitor, "/session")[1] == {"name": "brann", "makes": True}
    assert [each["name"] for each in fetch(visitor, "/teams")[1][0]["members"]] == ["isla", "brann"]
    assert send(Client(), f"/invitations/{token}", {"name": "runa", "password": PASSWORD})[0] == 404
    assert not User.objects.filter(username="runa").exists()


def test_somebody_with_an_account_comes_in_and_is_not_reset(owner: Client, stranger: Client, team: Team) -> None:
    token = send(owner, f"/teams/{team.pk}/invitations", {"role": "reader"})[1]["address"].rsplit("/", 1)[1]
    assert send(stranger, f"/invitations/{token}", {})[0] == 200
    members = fetch(owner, "/teams")[1][0]["members"]
    odd = next(each for each in members if each["name"] == "odd")
    status, told = send(owner, f"/teams/{team.pk}/members/{odd['id']}/reset")
    assert status == 403 and "not made by an invitation" in told["detail"]
    again = send(owner, f"/teams/{team.pk}/invitations", {"role": "maker"})[1]["address"].rsplit("/", 1)[1]
    assert send(stranger, f"/invitations/{again}", {})[0] == 200
    assert fetch(stranger, "/teams")[1][0]["role"] == "maker"
    third = send(owner, f"/teams/{team.pk}/invitations", {"role": "reader"})[1]["address"].rsplit("/", 1)[1]
    assert send(stranger, f"/invitations/{third}", {})[0] == 422, "who is in already loses no role"


def test_a_keeper_lets_somebody_choose_a_new_password(owner: Client, visitor: Client, team: Team) -> None:
    token = send(owner, f"/teams/{team.pk}/invitations", {"role": "reader"})[1]["address"].rsplit("/", 1)[1]
    send(visitor, f"/invitations/{token}", {"name": "runa", "password": PASSWORD})
    runa = next(each for each in fetch(owner, "/teams")[1][0]["members"] if each["name"] == "runa")
    assert runa["resettable"]
    assert send(visitor, f"/teams/{team.pk}/members/{runa['id']}/reset")[0] == 403
    link = send(owner, f"/teams/{team.pk}/members/{runa['id']}/reset")[1]["address"]
    person, key = link.rsplit("/", 2)[1:]
    other = Client()
    assert send(other, "/new-password", {"person": person, "token": key, "password": "short"})[0] == 422
    assert (
        send(other, "/new-password", {"person": person, "token": key + "0", "password": "heath-and-moor-7"})[0] == 404
    )
    assert send(other, "/new-password", {"person": person, "token": key, "password": "heath-and-moor-7"})[0] == 200
    assert send(other, "/new-password", {"person": person, "token": key, "password": "another-one-11"})[0] == 404
    assert fetch(visitor, "/teams")[0] == 401, "the old sessions are over"
    assert send(other, "/session", {"name": "runa", "password": "heath-and-moor-7"})[0] == 200


def test_a_team_keeps_a_keeper(owner: Client, people: Any, team: Team, isla: User) -> None:
    mine, other = (Member.objects.get(team=team, person=who) for who in (isla, people["keeper"][0]))
    assert send(owner, f"/teams/{team.pk}/members/{other.pk}", {"role": "reader"}, "patch")[0] == 200
    status, told = send(owner, f"/teams/{team.pk}/members/{mine.pk}", {"role": "maker"}, "patch")
    assert status == 422 and "at least one keeper" in told["detail"]
    assert send(owner, f"/teams/{team.pk}/members/{mine.pk}", method="delete")[0] == 422
    assert Member.objects.get(pk=mine.pk).role == Role.KEEPER
    maker = Member.objects.get(team=team, person=people["maker"][0])
    assert send(people["reader"][1], f"/teams/{team.pk}/members/{maker.pk}", method="delete")[0] == 403
    assert send(people["maker"][1], f"/teams/{team.pk}/members/{maker.pk}", method="delete")[0] == 200, (
        "anybody may leave"
    )
    assert fetch(people["maker"][1], "/teams")[1] == []
    assert send(owner, f"/teams/{team.pk}", method="delete")[0] == 200


def test_sharing_with_somebody_by_name(owner: Client, stranger: Client, named: dict[str, Dataset]) -> None:
    hut = named["Field huts"]
    assert send(owner, f"/shares/{hut.pk}", {"person": "nobody"})[0] == 422
    assert send(owner, f"/shares/{hut.pk}", {"person": "isla"})[0] == 422
    assert send(owner, f"/shares/{hut.pk}", {"person": "Odd", "may_change": True})[0] == 200
    assert send(owner, f"/shares/{hut.pk}", {"person": "odd"})[1] == fetch(owner, f"/shares/{hut.pk}")[1]
    (told,) = fetch(owner, f"/shares/{hut.pk}")[1]
    assert (told["name"], told["team"], told["may_change"]) == ("odd", False, False), (
        "said again, it changes what they may"
    )
    assert send(stranger, f"/shares/{hut.pk}/{told['id']}", method="delete")[0] == 200, (
        "who does not want it lets go of it"
    )
    assert fetch(stranger, f"/datasets/{hut.pk}")[0] == 404


def test_sessions_are_listed_and_ended(isla: User) -> None:
    here, there = (
        Client(HTTP_USER_AGENT="Mozilla/5.0 (X11; Linux x86_64; rv:128.0) Gecko/20100101 Firefox/128.0")
        for _ in range(2)
    )
    for client in (here, there):
        assert send(client, "/session", {"name": "isla", "password": "peat-and-heather"})[0] == 200
    listed = fetch(here, "/sessions")[1]
    assert [each["browser"] for each in listed] == ["Firefox on Linux"] * 2 and sorted(
        each["this"] for each in listed
    ) == [False, True]
    assert here.session.session_key not in str(listed)
    other = next(each for each in listed if not each["this"])
    assert len(send(here, f"/sessions/{other['id']}", method="delete")[1]) == 1
    assert fetch(there, "/datasets")[0] == 401 and fetch(here, "/datasets")[0] == 200
    assert send(here, "/sessions/none", method="delete")[0] == 404
