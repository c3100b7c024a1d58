"""Two people on one shoot, each in a browser of their own."""

from datetime import timedelta
from typing import Any

import pytest
from playwright.sync_api import Page, expect

from fotonomy.field.models import Take
from fotonomy.shoots.models import CrewLink, Member, Role, Setup, Shoot
from fotonomy.shoots.services.crew import make_link, today_of, withdraw
from tests.browser.conftest import enter_demo
from tests.demo_copy import demo_again, nothing_shot

# What the issue of the crew allows for a take to reach the others, in ms.
WITHIN_MS = 5000


@pytest.fixture
def owner(new_page: Any, transactional_db: None) -> Page:
    demo_again()
    nothing_shot()
    page: Page = new_page()
    enter_demo(page)
    return page


def link(role: Role, days: int = 1) -> CrewLink:
    shoot = Shoot.objects.get(name="Keel to Tide")
    return make_link(shoot, role, today_of(shoot) + timedelta(days=days))


def guest_by(new_page: Any, address: str, name: str) -> Page:
    page: Page = new_page(390, 844, has_touch=True)
    page.goto(address)
    page.get_by_label("Your name").fill(name)
    page.get_by_role("button", name="Join").click()
    page.locator(".day-list").wait_for()
    return page


def log_one(page: Page, verdict: str = "good") -> None:
    page.get_by_role("link", name="Log a take").click()
    page.get_by_label(verdict, exact=True).check()
    page.get_by_role("button", name="Keep").click()
    page.locator(".values").wait_for()


def test_a_guest_by_link_logs_and_the_others_see_it_by_themselves(
    owner: Page, new_page: Any
) -> None:
    owner.get_by_role("link", name="Crew").click()
    owner.get_by_label("For whom").fill("Second camera")
    owner.get_by_role("button", name="Make the link").click()
    address = owner.locator("#c-address").input_value()
    expect(owner.locator(".qr-sheet svg")).to_be_visible()
    guest = guest_by(new_page, address, "Second")
    owner.goto(f"/shoots/{Shoot.objects.get(name='Keel to Tide').pk}/field/")
    line = owner.locator(".day-list li", has_text="5A Launch")
    guest.get_by_role("link", name="5A Launch, side pass").click()
    expect(line).to_contain_text("In hand: Second · guest", timeout=WITHIN_MS)
    log_one(guest, "good")
    expect(line).to_contain_text("1 good of 1", timeout=WITHIN_MS)
    expect(owner.locator("[data-state]")).to_contain_text("take 1 logged, Second · guest")
    # The second take of somebody else is a take of its own.
    line.get_by_role("link").click()
    log_one(owner, "maybe")
    expect(guest.locator(".more").first).to_contain_text("2 takes, 1 good", timeout=WITHIN_MS)
    assert sorted(Take.objects.values_list("number", "by_name")) == [
        (1, "Second · guest"),
        (2, "demo"),
    ]


def test_the_bench_says_who_has_what_and_a_guest_who_only_sees_changes_nothing(
    owner: Page, new_page: Any, live_server: Any
) -> None:
    row = Setup.objects.get(code="4B")
    guest = guest_by(new_page, f"{live_server.url}/join/{link(Role.SEES).key}/", "Visitor")
    guest.get_by_role("link", name="4B Adze chips").click()
    expect(guest.locator(".values")).to_be_visible()
    expect(guest.get_by_role("link", name="Log a take")).to_have_count(0)
    owner.goto(row.get_absolute_url())
    expect(owner.locator(f"#row-{row.pk} .row-hands")).to_have_text(
        "In hand: Visitor · guest", timeout=60_000
    )
    guest.set_viewport_size({"width": 1280, "height": 800})
    guest.goto(row.get_absolute_url())
    before = row.iris
    guest.locator(".bench-page").wait_for()
    guest.keyboard.press("i")
    guest.keyboard.press("ArrowRight")
    expect(guest.locator("#messages")).to_contain_text(
        "You may look at this shoot, not change its plan"
    )
    expect(guest.get_by_role("button", name="New")).to_have_count(0)
    guest.reload()
    row.refresh_from_db()
    assert row.iris == before
    # Nor on the day.
    guest.goto(f"/shoots/{row.shoot_id}/day/{row.day_id}/?setup={row.pk}")
    guest.locator(f"[data-key='{row.pk}'], .block").first.wait_for()
    block = guest.locator(f".block[href*='setup={row.pk}']").first
    block.focus()
    guest.keyboard.press("ArrowRight")
    expect(guest.locator("#messages")).to_contain_text("not change its plan", timeout=60_000)
    was = row.planned_time
    row.refresh_from_db()
    assert row.planned_time == was


def test_a_withdrawn_guest_keeps_what_waits_and_sends_it_by_the_next_link(
    owner: Page, new_page: Any, live_server: Any
) -> None:
    first = link(Role.LOGS)
    guest = guest_by(new_page, f"{live_server.url}/join/{first.key}/", "Second")
    day = guest.url
    guest.get_by_role("button", name="Keep this day on this device").click()
    expect(guest.locator("[data-kept]")).to_contain_text("Kept ", timeout=60_000)
    guest.context.set_offline(True)
    guest.get_by_role("link", name="5A Launch, side pass").click()
    log_one(guest, "good")
    expect(guest.locator("[data-state]")).to_contain_text("1 waits on this device")
    withdraw(first)
    guest.context.set_offline(False)
    expect(guest.locator("[data-state]")).to_contain_text("was withdrawn", timeout=60_000)
    expect(guest.locator("[data-state]")).to_contain_text("What waits on this device stays there")
    assert not Take.objects.exists()
    # The same phone by a new link: the same guest, and the take goes out.
    guest.goto(f"{live_server.url}/join/{link(Role.LOGS).key}/")
    guest.get_by_role("button", name="Join").click()
    expect(guest.locator(".day-list")).to_be_visible()
    guest.goto(day)
    expect(guest.locator(".day-list li", has_text="5A")).to_contain_text(
        "1 good of 1", timeout=60_000
    )
    assert Take.objects.get().by_name == "Second · guest"
    assert Member.objects.count() == 1
