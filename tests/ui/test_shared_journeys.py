"""Parts that several links share: frames with holes, a split assembly, and what a change of one moves."""

from __future__ import annotations

import pytest
from playwright.sync_api import Page, expect


@pytest.mark.unopened
def test_an_adapter_stands_in_a_hole_and_a_change_of_the_frame_moves_its_links(page: Page) -> None:
    page.goto("/site?table=frames")
    page.get_by_role("button", name="Add a frame").click()
    name = page.get_by_label("name of frame 1")
    name.fill("Quay frame")
    name.press("Enter")
    page.get_by_label("Fit the empty holes of Quay frame").select_option("LC panel")
    expect(page.get_by_text("24 × LC panel")).to_be_visible()
    for link in (6, 9):
        page.goto(f"/links/{link}?piece=panel-1")
        page.get_by_label("stands on").select_option("frame 1")
        expect(page.get_by_text("What it is follows Quay frame under Layout")).to_be_visible()
    expect(page.get_by_label("hole")).to_have_value("2")
    page.get_by_label("hole").select_option("7")
    page.goto("/site?table=frames")
    expect(page.get_by_role("row", name="frame 1")).to_contain_text("1 Crane 3, 7 Survey boats; 22 free")
    page.get_by_role("button", name="Change what Quay frame holds").click()
    page.get_by_role("region", name="What Quay frame holds").get_by_label("adapter").select_option("SC")
    told = page.get_by_role("status").filter(has_text="moved with that")
    expect(told).to_contain_text("2 links moved")
    expect(told).to_contain_text("Crane 3 pass →")
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_text("24 × LC panel")).to_be_visible()


@pytest.mark.unopened
def test_a_piece_is_shared_from_its_link_and_taken_off_by_hand(page: Page) -> None:
    page.goto("/links/6?piece=port-1")
    page.get_by_role("button", name="Share with other links").click()
    page.get_by_role("button", name="Share it").click()
    expect(page.get_by_text("Give it a name, such as")).to_be_visible()
    page.get_by_label("shared name").fill("split port")
    page.get_by_label("positions").fill("2")
    page.get_by_role("button", name="Share it").click()
    expect(page.get_by_label("position")).to_have_value("1")
    page.goto("/site?table=parts")
    expect(page.get_by_role("row", name="split port")).to_contain_text("1 Crane 3; 1 free")
    page.goto("/links/6?piece=port-1")
    page.get_by_label("cage").select_option("SFP28")
    expect(page.get_by_role("button", name="Share with other links")).to_be_visible()
    page.goto("/site?table=parts")
    expect(page.get_by_role("row", name="split port")).to_contain_text("no link; 2 free")
