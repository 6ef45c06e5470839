"""Two people in a team: one invites, the other comes in, looks, copies, changes; what was shared is seen and what was not is not."""

import re

import pytest
from playwright.sync_api import Browser, Page, expect

from tests.browser.conftest import Application, drawn, open_sheet, stage

pytestmark = pytest.mark.browser
PASSWORD = "sedge-and-rush-9"


def test_from_an_invitation_to_a_copy_of_ones_own(page: Page, chromium: Browser, application: Application) -> None:
    page.get_by_role("link", name="People").click()
    team = page.get_by_role("region", name="Team Peatland survey")
    team.get_by_label("Role of who is invited").select_option("maker")
    team.get_by_role("button", name="Make a link to invite a").click()
    link = team.locator("code").inner_text()
    expect(team).to_contain_text("somebody whom isla invited as a maker")

    context = chromium.new_context(viewport={"width": 1280, "height": 800}, base_url=application.address)
    other = context.new_page()
    other.goto(link)
    expect(other.get_by_text("isla invites you into the team Peatland survey as a maker.")).to_be_visible()
    other.get_by_label("The name you choose").fill("isla")
    other.get_by_label("Your password").fill(PASSWORD)
    other.get_by_role("button", name="Come in").click()
    expect(other.get_by_role("alert")).to_contain_text("Somebody is called 'isla' already.")
    other.get_by_label("The name you choose").fill("sunniva")
    other.get_by_role("button", name="Come in").click()
    expect(other.get_by_role("heading", name="Sheets")).to_be_visible()
    expect(other.get_by_text("of isla, to look at")).to_have_count(1)
    expect(other.get_by_text("of isla, to change")).to_have_count(1)
    expect(other.get_by_text("What grows where the peat is dry")).to_have_count(0)

    open_sheet(other, "Carbon in the peat")
    expect(other.get_by_role("alert")).to_contain_text("This sheet is isla's. You may look at it, not change it.")
    other.get_by_label("Title of the sheet").press_sequentially("x")
    expect(other.get_by_label("Title of the sheet")).to_have_value("Carbon in the peat of the Vaskerry Isles")
    stage(other, "Gather")
    seen = other.get_by_test_id("dataset")
    expect(seen.filter(has=other.get_by_label("Title of Relief"))).to_contain_text("of isla")
    expect(other.get_by_label("Title of Gazetteer")).to_have_count(0)
    other.get_by_role("button", name="Make a copy of my own").click()
    expect(other.get_by_label("Title of the sheet")).to_have_value(re.compile(", copy$"))
    drawn(other)
    expect(other.get_by_role("alert")).to_have_count(0)

    page.reload()
    member = team.get_by_role("listitem").filter(has_text="sunniva")
    member.get_by_role("button", name="Let choose a new password").click()
    reset = team.locator("code").inner_text()
    other.goto(reset)
    for label in ("The new one, ten", "The new one again"):
        other.get_by_label(label).fill("heath-and-moor-7")
    other.get_by_role("button", name="Choose it").click()
    expect(other.get_by_role("button", name="Sign in")).to_be_visible()
    context.close()
    page.on("dialog", lambda dialog: dialog.accept())
    member.get_by_role("button", name="Take out sunniva").click()
    expect(member).to_have_count(0)


def test_what_is_shared_and_with_whom(page: Page) -> None:
    page.get_by_role("button", name="Share What grows where").click()
    dialog = page.get_by_role("dialog")
    expect(dialog.get_by_role("list", name="Who sees it")).to_have_text("Nobody sees it but you.")
    dialog.get_by_label("With").click()
    page.get_by_role("option", name="a person").click()
    dialog.get_by_label("Name of the person").fill("nobody at all")
    dialog.get_by_role("button", name="Share", exact=True).click()
    expect(dialog.get_by_role("alert")).to_contain_text("Nobody is called 'nobody at all' here.")
    dialog.get_by_label("Name of the person").fill("runa")
    dialog.get_by_label("They may change it").check()
    dialog.get_by_role("button", name="Share", exact=True).click()
    expect(dialog.get_by_role("list", name="Who sees it")).to_contain_text("runa may change it")
    dialog.get_by_role("button", name="Share with runa no more").click()
    expect(dialog.get_by_role("list", name="Who sees it")).to_have_text("Nobody sees it but you.")


def test_the_library_is_narrowed_to_what_is_vetted_and_to_a_place(page: Page) -> None:
    open_sheet(page, "Carbon in the peat")
    stage(page, "Gather")
    rows = page.get_by_test_id("dataset")
    every = rows.count()
    page.get_by_label("vetted").check()
    expect(rows).to_have_count(1)
    expect(rows.get_by_label("Title of Catchments with returns")).to_be_visible()
    page.get_by_label("vetted").uncheck()
    page.get_by_role("button", name="Anywhere").click()
    box = page.get_by_role("img", name="Where the datasets of the library lie").bounding_box()
    assert box is not None
    page.mouse.move(box["x"] + 2, box["y"] + 2)
    page.mouse.down()
    page.mouse.move(box["x"] + 6, box["y"] + 12, steps=3)
    page.mouse.up()
    expect(page.get_by_label("Title of Relief", exact=True)).to_have_count(0)
    page.get_by_label("Where another dataset lies").select_option(label="Relief")
    expect(page.get_by_label("Title of Relief", exact=True)).to_be_visible()
    assert rows.count() < every, "a table lies nowhere"
    page.get_by_role("dialog").get_by_role("button", name="Anywhere").click()
    expect(rows).to_have_count(every)
