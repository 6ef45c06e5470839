"""Two or more at work on the same things: what each may do, whose change it is, and what others see of it."""

from typing import Any

from django.contrib.auth.models import User
from django.test import Client
from editions.models import Edition
from library.derived import data_of
from library.models import Dataset, Revision
from library.quota import used_bytes
from people.models import Member, Role, Share, Team
from sheets.models import Sheet

from tests.server.conftest import bring_in, fetch, send, shared, upload
from tests.server.test_redelivery import FIRST, delivered, kept, sheet_of

POINT = {"kind": "symbols"}


def classes_of(sheet: Sheet) -> Any:
    """The limits of the classes of a sheet's first layer, as its newest document has them."""
    sheet.refresh_from_db()
    document = sheet.revisions.get(number=sheet.revision).document
    return document["layers"][0]["symbology"]["encodings"]["colour"]["classing"]["breaks"]


def test_a_delivery_by_a_colleague_keeps_the_classes_of_everybodys_sheets(
    owner: Client, maker: Client, brann: User, team: Team
) -> None:
    wells = kept(owner, "wells.csv", FIRST)
    mine = sheet_of(owner, wells, "depth")
    assert not classes_of(mine)
    shared(owner, wells, team, change=True)
    theirs = sheet_of(maker, wells, "n")
    _, job = delivered(maker, wells, FIRST.replace("W3,4.5", "W3,400"))
    assert job["state"] == "done", job
    assert classes_of(mine) and classes_of(theirs), "both are held as they were"
    assert data_of(wells.newest).record(3)["depth"] == 400
    newest = fetch(owner, f"/datasets/{wells.pk}/history")[1][0]
    assert (newest["author"], "june.csv" in newest["change"]) == ("brann", True)
    assert send(owner, f"/datasets/{wells.pk}/undo")[0] == 422, "everybody takes back what is theirs"
    assert send(maker, f"/datasets/{wells.pk}/undo")[0] == 200
    assert data_of(Dataset.objects.get(pk=wells.pk).newest).record(3)["depth"] == 4.5


def test_what_a_delivery_would_break_is_told_of_sheets_that_one_sees(owner: Client, maker: Client, team: Team) -> None:
    wells = kept(owner, "wells.csv", FIRST)
    sheet = sheet_of(owner, wells, "depth")
    shared(owner, wells, team, change=True)
    without = "\n".join(",".join(line.split(",")[:1] + line.split(",")[2:]) for line in FIRST.splitlines())
    asked = {"upload": upload(maker, "june.csv", without.encode())[1]["id"], "key": "gauge"}
    assert send(maker, f"/datasets/{wells.pk}/redelivery/look", asked)[1]["unfit"] == []
    shared(owner, sheet, team)
    told = send(maker, f"/datasets/{wells.pk}/redelivery/look", asked)[1]["unfit"]
    assert any(words.startswith("Wells: ") for words in told)


def test_two_in_one_sheet_lose_nothing(owner: Client, maker: Client, team: Team, sheet: Sheet) -> None:
    shared(owner, sheet, team, change=True)
    document = fetch(owner, f"/sheets/{sheet.pk}")[1]["document"]
    assert (
        send(maker, f"/sheets/{sheet.pk}", {"base": 1, "document": {**document, "title": "By Brann"}}, "put")[0] == 200
    )
    status, told = send(owner, f"/sheets/{sheet.pk}", {"base": 1, "document": {**document, "title": "By Isla"}}, "put")
    assert (status, told["revision"], told["document"]["title"]) == (409, 2, "By Brann")
    assert (
        send(owner, f"/sheets/{sheet.pk}", {"base": 2, "document": {**document, "title": "By Isla"}}, "put")[0] == 200
    )
    titles = [fetch(maker, f"/sheets/{sheet.pk}/revisions/{n}")[1]["document"]["title"] for n in (2, 3)]
    assert titles == ["By Brann", "By Isla"]


def test_two_in_one_table_lose_nothing(owner: Client, maker: Client, team: Team) -> None:
    wells = kept(owner, "wells.csv", FIRST)
    shared(owner, wells, team, change=True)

    def typed(client: Client, value: str, was: Any) -> tuple[int, Any]:
        edit = {"do": "set-cell", "fid": 2, "field": "depth", "value": value, "was": was}
        return send(client, f"/datasets/{wells.pk}/edits", {"edits": [edit]})

    assert typed(maker, "9", 3.0)[0] == 200
    status, told = typed(owner, "11", 3.0)
    assert status == 409 and "9" in told["detail"]
    assert typed(owner, "11", 9.0)[0] == 200
    assert [each["author"] for each in fetch(maker, f"/datasets/{wells.pk}/history")[1][:2]] == ["isla", "brann"]


def test_a_maker_publishes_a_sheet_that_is_shared_and_a_reader_does_not(
    owner: Client, maker: Client, reader: Client, team: Team, sheet: Sheet, visitor: Client
) -> None:
    shared(owner, sheet, team, change=True)
    assert send(reader, f"/sheets/{sheet.pk}/editions", {"max_zoom": 7})[0] == 403
    status, job = send(maker, f"/sheets/{sheet.pk}/editions", {"max_zoom": 7})
    assert (status, job["state"]) == (200, "done"), job
    assert Edition.objects.get(sheet=sheet).data.count() == 4
    seen = fetch(reader, f"/sheets/{sheet.pk}/editions")[1]
    assert [each["number"] for each in seen["editions"]] == [1] and visitor.get(
        f"/e/{job['result']['slug']}/"
    ).status_code == 200
    assert send(reader, f"/sheets/{sheet.pk}/editions/1/bring-back")[0] == 403
    assert send(maker, f"/sheets/{sheet.pk}/editions/1/bring-back")[0] == 200
    assert send(owner, f"/jobs/{job['id']}/stop")[0] == 404, "a job is of whoever began it"


def test_a_sheet_is_not_published_with_what_its_owner_sees_no_more(
    owner: Client, maker: Client, team: Team, isla: User
) -> None:
    theirs = kept(maker, "wells.csv", FIRST)
    send(maker, f"/shares/{theirs.pk}", {"person": "isla"})
    sheet = sheet_of(owner, theirs, "depth")
    assert send(owner, f"/sheets/{sheet.pk}/plan", {"max_zoom": 5})[0] == 200
    Share.objects.filter(thing=theirs.pk).delete()
    status, told = send(owner, f"/sheets/{sheet.pk}/editions", {"max_zoom": 5})
    assert status == 422 and "nobody shares with you" in told["detail"]
    document = fetch(owner, f"/sheets/{sheet.pk}")[1]["document"]
    kept_again = send(owner, f"/sheets/{sheet.pk}", {"base": 1, "document": {**document, "title": "Other"}}, "put")
    assert kept_again[0] == 200, "what was in it stays in it: nobody is kept from mending a sheet"


def test_uses_in_sheets_of_others_are_told_without_their_titles(owner: Client, maker: Client, team: Team) -> None:
    wells = kept(owner, "wells.csv", FIRST)
    shared(owner, wells, team)
    theirs = sheet_of(maker, wells, "depth")
    assert fetch(owner, f"/datasets/{wells.pk}/uses")[1]["sheets"] == [{"id": None, "title": "a sheet of brann"}]
    shared(maker, theirs, team)
    assert fetch(owner, f"/datasets/{wells.pk}/uses")[1]["sheets"] == [{"id": str(theirs.pk), "title": "Wells"}]


def test_a_join_of_what_is_shared_is_ones_own_and_says_whose_its_parts_are(
    owner: Client, maker: Client, reader: Client, team: Team, named: dict[str, Dataset], brann: User
) -> None:
    areas, table = named["Catchments"], named["Returns per catchment"]
    asked = {
        "areas": str(areas.pk),
        "table": str(table.pk),
        "area_key": "name",
        "table_key": "catchment",
        "fields": ["peat_ha"],
    }
    assert send(maker, "/joins/look", asked)[0] == 404
    for dataset in (areas, table):
        send(owner, f"/datasets/{dataset.pk}", {"licence": "free, with credit", "dated": "May 2026"}, "patch")
        shared(owner, dataset, team)
    assert send(reader, "/joins/look", asked)[0] == 200, "who looks may look at a join"
    assert send(reader, "/joins", asked)[0] == 403
    before = used_bytes(brann)
    status, joined = send(maker, "/joins", asked)
    assert (status, joined["owner"], joined["licence"], joined["dated"]) == (
        200,
        "brann",
        "free, with credit",
        "May 2026",
    )
    assert used_bytes(brann) > before, "it is of the maker's share of the disk"
    assert fetch(owner, f"/datasets/{joined['id']}")[0] == 404


def test_tiles_of_a_state_go_with_its_dataset(owner: Client, maker: Client, stranger: Client, team: Team) -> None:
    wells = kept(owner, "wells.csv", FIRST)
    shared(owner, wells, team)
    path = f"/api/revisions/{Revision.objects.get(dataset=wells).pk}/tiles/0/0/0"
    assert [client.get(path).status_code for client in (owner, maker, stranger)] == [200, 200, 404]


def test_what_a_layer_compares_with_is_seen_with_its_sheet(
    owner: Client, reader: Client, team: Team, named: dict[str, Dataset]
) -> None:
    huts, ditches = named["Dip wells"], named["Ditches"]
    layer = {
        "id": "a",
        "name": "Wells",
        "dataset": str(huts.pk),
        "symbology": POINT,
        "others": {"ditches": str(ditches.pk)},
    }
    sheet = Sheet.objects.get(pk=send(owner, "/sheets", {"title": "T", "layers": [layer]})[1]["id"])
    shared(owner, sheet, team)
    assert {each["title"] for each in fetch(reader, "/datasets")[1]} == {"Dip wells", "Ditches"}
    assert send(reader, "/draw/ink", layer)[0] == 200
    assert fetch(reader, f"/datasets/{huts.pk}")[1]["may"] == ["see"]


def test_what_is_vetted_is_so_while_a_team_sees_it(
    owner: Client, reader: Client, team: Team, named: dict[str, Dataset]
) -> None:
    relief = named["Relief"]
    assert send(owner, f"/vetted/{relief.pk}")[0] == 403, "nobody vets for oneself"
    shared(owner, relief, team)
    assert send(owner, f"/vetted/{relief.pk}")[1]["vetted_by"] == "isla"
    assert fetch(reader, f"/datasets/{relief.pk}")[1]["vetted_by"] == "isla"
    (share,) = fetch(owner, f"/shares/{relief.pk}")[1]
    send(owner, f"/shares/{relief.pk}/{share['id']}", method="delete")
    assert fetch(owner, f"/datasets/{relief.pk}")[1]["vetted"] is None


def test_who_goes_takes_their_own_along(
    owner: Client, maker: Client, brann: User, team: Team, named: dict[str, Dataset]
) -> None:
    theirs = Sheet.objects.get(pk=send(maker, "/sheets", {"title": "Theirs"})[1]["id"])
    shared(maker, theirs, team)
    shared(owner, named["Relief"], team)
    assert {each["title"] for each in fetch(owner, "/sheets")[1]} >= {"Theirs"}
    brann.delete()
    assert "Theirs" not in {each["title"] for each in fetch(owner, "/sheets")[1]}
    assert list(Share.objects.values_list("thing", flat=True)) == [named["Relief"].pk]


def test_a_member_of_two_teams_has_what_either_gives(
    owner: Client, isla: User, team: Team, named: dict[str, Dataset]
) -> None:
    other = Team.objects.create(name="Archive")
    Member.objects.create(team=other, person=isla, role=Role.KEEPER)
    someone = User.objects.create_user("both")
    for each, role in ((team, Role.READER), (other, Role.MAKER)):
        Member.objects.create(team=each, person=someone, role=role)
    client = Client()
    client.force_login(someone)
    relief = named["Relief"]
    shared(owner, relief, team, change=True)
    assert fetch(client, f"/datasets/{relief.pk}")[1]["may"] == ["see"], "a reader where it is shared"
    assert fetch(client, "/session")[1]["makes"], "a maker elsewhere"
    shared(owner, relief, other, change=True)
    assert fetch(client, f"/datasets/{relief.pk}")[1]["may"] == ["see", "change"]
    assert len(fetch(client, "/datasets")[1]) == 1, "seen by two ways, it stands in the list once"


def test_readers_bring_nothing_in(reader: Client) -> None:
    status, told = upload(reader, "a.csv", b"a,b\n1,2\n")
    assert status == 403 and "A keeper of your team can make you a maker." in told["detail"]


def test_a_new_dataset_is_its_makers_alone(maker: Client, reader: Client, owner: Client) -> None:
    job = bring_in(maker, "wells.csv", FIRST.encode())
    path = f"/datasets/{job['result']['dataset']}"
    assert [fetch(client, path)[0] for client in (maker, owner, reader)] == [200, 404, 404]
    assert fetch(maker, path)[1]["may"] == ["see", "change", "remove", "share"]
