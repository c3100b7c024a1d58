"""Field pages in Chromium without a network: a day kept, takes that wait, other light looked up."""

import re
from pathlib import Path
from typing import Any
from urllib.parse import urlsplit

import pytest
from playwright.sync_api import Browser, Page, expect

from fotonomy.field.models import Take, TakePicture
from fotonomy.shoots.models import Setup
from tests.browser.conftest import ARGUMENTS, CHROMIUM, enter_demo
from tests.demo_copy import demo_again, nothing_shot
from tests.web.test_pictures import photo


def day_of(page: Page) -> str:
    row = Setup.objects.get(code="5A")
    return f"/shoots/{row.shoot_id}/field/day/{row.day_id}/"


def keep_the_day(page: Page) -> None:
    page.goto(day_of(page))
    page.get_by_role("button", name="Keep this day on this device").click()
    expect(page.locator("[data-kept]")).to_contain_text("Kept ", timeout=60_000)
    # The day that was worked out is kept with its pages, whether a worker stood between or not.
    assert page.evaluate(
        """async () => {
          const kept = await caches.open(`field-pages-${document.body.dataset.person}`);
          return !!(await kept.match(document.querySelector("[data-keep]").dataset.keep));
        }"""
    )


def log_one(page: Page, verdict: str = "good") -> None:
    page.get_by_role("link", name="Log a take").click()
    page.get_by_label(verdict, exact=True).check()
    page.get_by_role("button", name="Keep").click()
    page.locator(".values").wait_for()


@pytest.fixture
def phone(new_page: Any, transactional_db: None) -> Page:
    """A phone inside the demo with its first day kept."""
    demo_again()
    nothing_shot()
    page: Page = new_page(390, 844, has_touch=True)
    enter_demo(page)
    keep_the_day(page)
    return page


def test_three_takes_without_a_network_are_there_once(phone: Page) -> None:
    phone.context.set_offline(True)
    phone.goto(day_of(phone))
    expect(phone.locator("[data-state]")).to_contain_text("No network")
    phone.get_by_role("link", name="5A Launch, side pass").click()
    expect(phone.locator(".values")).to_contain_text("25 fps")
    for verdict in ("good", "maybe", "no good"):
        log_one(phone, verdict)
    expect(phone.locator("[data-state]")).to_contain_text("3 wait on this device")
    phone.goto(day_of(phone))
    expect(phone.locator("[data-waiting] li")).to_have_count(3)
    assert not Take.objects.exists()
    phone.context.set_offline(False)
    phone.get_by_role("button", name="Send now").click()
    expect(phone.locator("[data-waiting]")).to_be_hidden()
    takes = list(Take.objects.order_by("number"))
    assert [(take.number, take.verdict) for take in takes] == [
        (1, "good"),
        (2, "maybe"),
        (3, "no_good"),
    ]
    phone.reload()
    expect(phone.locator(".day-list")).to_contain_text("1 good of 3")


def test_other_light_is_looked_up_and_sent_later(phone: Page) -> None:
    setup = Setup.objects.get(code="5A")
    phone.goto(day_of(phone).replace(f"day/{setup.day_id}/", f"{setup.pk}/light/?read=-1"))
    online = phone.locator(".ways li b").all_inner_texts()
    phone.goto(day_of(phone))
    phone.context.set_offline(True)
    phone.get_by_role("link", name="5A Launch, side pass").click()
    phone.get_by_role("link", name="Light differs").click()
    phone.get_by_role("button", name="−1", exact=True).click()
    expect(phone.locator("[data-found]")).to_contain_text("looked up without a network")
    # The phone says what the planner says.
    assert phone.locator("[data-found] li b").all_inner_texts() == online
    way = phone.locator("[data-found] li", has=phone.locator("b", has_text="ISO")).first
    iso = way.locator("b").inner_text()
    way.get_by_role("button", name="use").click()
    card = phone.locator('.values [data-item="ISO"]')
    expect(card).to_contain_text(iso.removeprefix("ISO "))
    expect(card).to_contain_text("not sent yet")
    assert Setup.objects.get(code="5A").light == {"ev100": 11.6}
    phone.context.set_offline(False)
    phone.goto(day_of(phone))
    expect(phone.locator("[data-waiting]")).to_be_hidden()
    phone.get_by_role("link", name="5A Launch, side pass").click()
    expect(phone.locator('.values [data-item="ISO"]')).not_to_contain_text("not sent yet")
    fresh = Setup.objects.get(code="5A")
    assert fresh.light == {"ev100": 10.6}
    assert f"ISO {fresh.iso}" == iso


def test_an_answer_that_gets_lost_makes_no_second_take(phone: Page) -> None:
    phone.get_by_role("link", name="5A Launch, side pass").click()
    # The server keeps it, but its answer never comes.
    phone.route("**/field/send/", lambda route: (route.fetch(), route.abort()))
    phone.context.set_offline(True)
    log_one(phone)
    phone.context.set_offline(False)
    phone.goto(day_of(phone))
    expect(phone.locator("[data-waiting] li")).to_have_count(1)
    expect(phone.locator("[data-state]")).to_contain_text("No network")
    assert Take.objects.count() == 1
    phone.unroute("**/field/send/")
    phone.get_by_role("button", name="Send now").click()
    expect(phone.locator("[data-waiting]")).to_be_hidden()
    assert Take.objects.count() == 1


def test_signed_out_meanwhile_loses_nothing(phone: Page) -> None:
    phone.get_by_role("link", name="5A Launch, side pass").click()
    phone.context.set_offline(True)
    log_one(phone)
    # Signed out first: the network that comes back sends at once what waits.
    phone.context.clear_cookies(name="sessionid")
    phone.context.set_offline(False)
    phone.goto(day_of(phone))
    expect(phone.locator("[data-state]")).to_contain_text("1 waiting here, nothing is lost")
    assert not Take.objects.exists()
    phone.get_by_role("link", name="Log in").click()
    phone.get_by_role("button", name="Enter the demo").click()
    phone.goto(day_of(phone))
    expect(phone.locator("[data-waiting]")).to_be_hidden()
    assert Take.objects.count() == 1


def test_a_killed_browser_still_has_what_waits(
    chromium: Browser, live_server: Any, tmp_path: Path, transactional_db: None
) -> None:
    demo_again()
    nothing_shot()

    def opened() -> Any:
        return chromium.browser_type.launch_persistent_context(
            tmp_path / "profile", executable_path=CHROMIUM, args=ARGUMENTS,
            base_url=live_server.url, viewport={"width": 390, "height": 844},
        )  # fmt: skip

    context = opened()
    page = context.new_page()
    enter_demo(page)
    keep_the_day(page)
    context.set_offline(True)
    page.get_by_role("link", name="5A Launch, side pass").click()
    for verdict in ("good", "maybe", "no good"):
        log_one(page, verdict)
    context.close()
    assert not Take.objects.exists()
    context = opened()
    page = context.new_page()
    page.goto(day_of(page))
    # Cookies of a session end with the browser: then one signs in again, and it goes out.
    if page.locator(".day-list").count() == 0 or page.locator("[data-state] a").count():
        enter_demo(page)
        page.goto(day_of(page))
    expect(page.locator("[data-waiting]")).to_be_hidden(timeout=60_000)
    context.close()
    assert sorted(Take.objects.values_list("verdict", flat=True)) == ["good", "maybe", "no_good"]
    assert Take.objects.count() == 3


def test_a_picture_taken_without_a_network_goes_out_with_its_take(phone: Page) -> None:
    phone.goto(day_of(phone))
    phone.context.set_offline(True)
    phone.get_by_role("link", name="5A Launch, side pass").click()
    phone.get_by_role("link", name="Log a take").click()
    frame = {"name": "frame.jpg", "mimeType": "image/jpeg", "buffer": photo(1600, 1000)}
    phone.get_by_label("Picture").set_input_files(frame)
    phone.get_by_role("button", name="Keep").click()
    expect(phone.locator("[data-state]")).to_contain_text("1 waits on this device")
    phone.context.set_offline(False)
    phone.goto(day_of(phone))
    expect(phone.locator(".day-list")).to_contain_text("1 good of 1", timeout=60_000)
    expect(phone.locator("[data-waiting]")).to_be_hidden()
    picture, take = TakePicture.objects.get(), Take.objects.get()
    assert (picture.take_uid, picture.name, picture.width) == (take.uid, "frame.jpg", 1600)
    phone.goto(f"{day_of(phone).partition('day')[0]}takes/{take.pk}/")
    shown = phone.locator(".take-picture img")
    expect(shown).to_be_visible()
    assert shown.evaluate("image => image.naturalWidth") == 1600


def test_a_picture_goes_with_a_take_through_the_form(phone: Page) -> None:
    """A photograph of several megabytes, through the real server."""
    phone.goto(day_of(phone))
    phone.get_by_role("link", name="5A Launch, side pass").click()
    phone.get_by_role("link", name="Log a take").click()
    raw = photo(4000, 2600)
    assert len(raw) > 3_000_000
    frame = {"name": "frame.jpg", "mimeType": "image/jpeg", "buffer": raw}
    phone.get_by_label("Picture").set_input_files(frame)
    # What waited for the answer of the form is sent once more, and found to be there.
    with phone.expect_response("**/field/send/", timeout=30_000):
        phone.get_by_role("button", name="Keep").click()
        expect(phone.locator("#messages")).to_contain_text("take 1 kept", timeout=30_000)
    phone.goto(day_of(phone))
    expect(phone.locator("[data-waiting]")).to_be_hidden()
    assert (Take.objects.count(), TakePicture.objects.count()) == (1, 1)


def test_a_run_is_logged_by_its_start_and_stop(phone: Page) -> None:
    """The start outlives the page; the last frame is announced by the clock."""
    phone.clock.install(time="2027-06-04T21:45:00Z")
    row = Setup.objects.get(code="1A")
    take = f"/shoots/{row.shoot_id}/field/{row.pk}/take/"
    phone.goto(take)
    lasts = float(phone.locator("#take-form").get_attribute("data-lasts") or 0)
    assert lasts > 600
    phone.get_by_role("button", name="Run started").click()
    phone.goto(take.replace("take/", ""))
    said = phone.locator("[data-under-way]")
    expect(said).to_contain_text("Run started")
    expect(said).to_contain_text("left")
    phone.clock.fast_forward(int(lasts + 60) * 1000)
    expect(said).to_contain_text("done for")
    phone.goto(take)
    phone.get_by_role("button", name="Run stopped at").click()
    phone.get_by_role("button", name="Keep").click()
    expect(phone.locator("#messages")).to_contain_text("take 1 kept", timeout=30_000)
    made = Take.objects.get()
    assert made.length_s is not None
    assert made.length_s >= lasts + 60


FULL = """IDBObjectStore.prototype.put = () => {
  throw new DOMException("no room", "QuotaExceededError");
};"""


def test_a_full_phone_says_so_and_loses_nothing(phone: Page) -> None:
    """The store of the browser refuses to write, as it does where the disk is full."""
    phone.add_init_script(FULL)
    phone.goto(day_of(phone))
    phone.get_by_role("link", name="5A Launch, side pass").click()
    phone.get_by_role("link", name="Log a take").click()
    phone.context.set_offline(True)
    phone.get_by_label("Note").fill("the tide turned")
    phone.get_by_role("button", name="Keep").click()
    expect(phone.locator("[data-state]")).to_contain_text("No room on this device and no network")
    expect(phone.get_by_label("Note")).to_have_value("the tide turned")
    phone.context.set_offline(False)
    phone.get_by_role("button", name="Keep").click()
    expect(phone.locator("#messages")).to_contain_text("take 1 kept", timeout=30_000)
    assert Take.objects.get().note == "the tide turned"


def test_the_menu_opens_the_kept_day_and_says_when_it_was_kept(phone: Page) -> None:
    expect(phone.locator("[data-kept]")).to_have_text(
        re.compile(r"^Kept (Mon|Tue|Wed|Thu|Fri|Sat|Sun) \d{1,2} [A-Z][a-z]{2}, \d\d:\d\d$")
    )
    row = Setup.objects.get(code="5A")
    phone.context.set_offline(True)
    phone.goto(f"/shoots/{row.shoot_id}/field/")
    phone.wait_for_url(f"**{day_of(phone)}")
    expect(phone.locator(".day-list")).to_contain_text("5A Launch, side pass")


def test_a_day_that_is_being_kept_is_kept_though_its_page_is_left(
    new_page: Any, transactional_db: None
) -> None:
    demo_again()
    page: Page = new_page(390, 844, has_touch=True)
    enter_demo(page)
    page.goto(day_of(page))
    page.evaluate("navigator.serviceWorker.ready.then(() => true)")
    page.reload()
    page.get_by_role("button", name="Keep this day on this device").click()
    expect(page.locator("[data-kept]")).to_contain_text("You may leave this page", timeout=60_000)
    page.goto("/guide/")
    page.goto(day_of(page))
    expect(page.locator("[data-kept]")).to_contain_text("Kept ", timeout=60_000)
    page.context.set_offline(True)
    page.get_by_role("link", name="5A Launch, side pass").click()
    expect(page.locator(".values")).to_contain_text("25 fps")


def test_who_logs_out_leaves_no_plan_on_the_phone_and_nobody_else_opens_one(
    phone: Page, django_user_model: Any
) -> None:
    def kept() -> list[str]:
        found: list[str] = phone.evaluate(
            "async () => (await caches.keys()).filter((name) => /^field-(pages|kept)/.test(name))"
        )
        return found

    # Without a word of who comes next, somebody else logs in: the kept day is not theirs.
    assert len(kept()) == 2
    phone.context.clear_cookies(name="sessionid")
    django_user_model.objects.create_user("second", password="quay-side-42")
    phone.goto("/log-in/")
    phone.get_by_label("Username").fill("second")
    phone.get_by_label("Password").fill("quay-side-42")
    phone.get_by_role("button", name="Log in", exact=True).click()
    phone.wait_for_url("**/shoots/")
    phone.goto("/drill/ahead/")
    phone.evaluate("navigator.serviceWorker.ready.then(() => true)")
    phone.wait_for_timeout(300)
    phone.context.set_offline(True)
    phone.goto(day_of(phone))
    expect(phone.locator("body")).to_contain_text("not kept on this device")
    expect(phone.locator("body")).not_to_contain_text("Launch")
    # The first one is back, and logs out by the menu: nothing of theirs stays.
    phone.context.set_offline(False)
    phone.context.clear_cookies(name="sessionid")
    enter_demo(phone)
    phone.goto(day_of(phone))
    assert len(kept()) >= 2
    phone.goto("/shoots/")
    phone.locator("details.menu summary").click()
    phone.get_by_role("button", name="Log out").click()
    phone.wait_for_url("**/log-in/**")
    owner = Setup.objects.get(code="5A").shoot.owner_id
    phone.wait_for_function(
        "async (owner) => !(await caches.keys()).some((name) => name.endsWith(`-${owner}`))",
        arg=owner,
    )
    phone.context.set_offline(True)
    phone.goto(day_of(phone))
    expect(phone.locator("body")).to_contain_text("not kept on this device")


def test_one_closed_shoot_does_not_stop_the_others(phone: Page) -> None:
    """The shoot of the page is closed, one that waits is gone: what waits for a third goes out."""
    phone.route(
        "**/field/news/**",
        lambda route: route.fulfill(
            status=403, content_type="application/json",
            body='{"refused": "Your way in was withdrawn."}',
        ),
    )  # fmt: skip
    phone.goto(day_of(phone))
    expect(phone.locator("[data-state]")).to_contain_text("was withdrawn")
    row = Setup.objects.get(code="5A")
    phone.evaluate(
        """async ([setup, send]) => {
          const outbox = new fotonomy.Outbox("field");
          const take = { kind: "take", setup, verdict: "good" };
          await outbox.keep({ ...take, uid: "gone", name: "Gone", send: "/shoots/999999/field/send/", order: 1 });
          await outbox.keep({ ...take, uid: "here", name: "5A", send, order: 2 });
        }""",
        [row.pk, f"/shoots/{row.shoot_id}/field/send/"],
    )
    phone.get_by_role("button", name="Send now").click()
    box = phone.locator("[data-waiting]")
    expect(box.locator("li", has_text="Gone")).to_have_text(
        re.compile("Gone: good .*not there any more.* Try again Drop")
    )
    expect(box.locator("li")).to_have_count(1)
    assert list(Take.objects.values_list("uid", flat=True)) == ["here"]
    box.get_by_role("button", name="Drop").click()
    expect(box).to_be_hidden()


def test_a_closed_shoot_is_said_though_the_session_has_ended_too(phone: Page) -> None:
    """The way in was withdrawn, and by then nobody is logged in any more: the page stays as it is.

    What a page throws and does not catch fails each of these tests when its pages are closed.
    """
    phone.route(
        "**/field/news/**",
        lambda route: route.fulfill(
            status=403, content_type="application/json",
            body='{"refused": "Your way in was withdrawn."}',
        ),
    )  # fmt: skip
    asked: list[str] = []
    token = urlsplit(phone.locator("body").get_attribute("data-token") or "").path
    phone.route(
        f"**{token}",
        lambda route: (
            asked.append(route.request.url),
            route.fulfill(status=302, headers={"Location": "/log-in/"}),
        ),
    )
    phone.goto(day_of(phone))
    expect(phone.locator("[data-state]")).to_contain_text("was withdrawn")
    assert asked


def test_a_server_that_answers_with_a_fault_is_not_called_no_network(phone: Page) -> None:
    phone.route("**/field/send/", lambda route: route.fulfill(status=500, body="{}"))
    phone.get_by_role("link", name="5A Launch, side pass").click()
    phone.context.set_offline(True)
    log_one(phone)
    phone.context.set_offline(False)
    phone.goto(day_of(phone))
    expect(phone.locator("[data-state]")).to_contain_text(
        "The server has trouble and is asked again. 1 waits on this device."
    )
    phone.unroute("**/field/send/")
    phone.get_by_role("button", name="Send now").click()
    expect(phone.locator("[data-waiting]")).to_be_hidden()
    expect(phone.locator("[data-state]")).not_to_contain_text("trouble")
    assert Take.objects.count() == 1
