"""One outbox for bench, day, field and drill: whatever becomes of the line, nothing is lost or told wrong."""

import json
from collections.abc import Callable
from dataclasses import dataclass
from time import monotonic
from typing import Any

import pytest
from playwright.sync_api import Error, Page, Route, expect

from fotonomy.drill.models import Answer
from fotonomy.field.models import Take
from fotonomy.shoots.models import Setup
from tests.browser.conftest import PATIENCE_MS, enter_demo
from tests.demo_copy import demo_again, nothing_shot

ENTRIES = """async () => {
  const base = await idb.openDB("fotonomy-outbox", 1, {
    upgrade: (fresh) => fresh.createObjectStore("entries", { keyPath: "uid" }),
  });
  const found = await base.getAll("entries");
  base.close();
  return found.map(({ uid, refused, closed, person }) => ({ uid, refused, closed, person }));
}"""
# Chromium takes the connection from whoever reads while the data of the site is cleared.
TAKEN_AWAY = "AbortError"


def until(page: Page, holds: Callable[[], bool], what: str) -> None:
    """Wait for something outside the page, while what the page sends goes on."""
    ends = monotonic() + PATIENCE_MS / 1000
    while not holds():
        assert monotonic() < ends, what
        page.wait_for_timeout(50)


@dataclass(frozen=True)
class User:
    """A page that sends later: where it is, what is done on it, and how the server knows."""

    address: Callable[[], str]
    sends: str
    act: Callable[[Page, int], None]
    made: Callable[[], int]
    again: str


def _row(code: str = "4B") -> Setup:
    row: Setup = Setup.objects.get(code=code)
    return row


def _change_iris(page: Page, turn: int) -> None:
    page.locator("#f-iris").fill(("f/5.6", "f/8", "f/11", "f/4", "f/2.8")[turn % 5])
    page.locator("#f-iris").press("Tab")


def _move_block(page: Page, turn: int) -> None:
    # Keys pressed one after the other on one block are one step: each turn moves another.
    block = page.locator(".block").nth(turn % 5)
    block.focus()
    block.press("Alt+ArrowRight")


def _log_take(page: Page, turn: int) -> None:
    """As a page does whose network is away: kept, and sent by itself."""
    page.evaluate(
        """(turn) => new fotonomy.Outbox("field").keep({
          uid: `turn-${turn}-${Date.now()}`, kind: "take", setup: Number(document.body.dataset.setup || 0) || SETUP,
          name: "5A", verdict: "good", send: document.body.dataset.send })""".replace(
            "SETUP", str(_row("5A").pk)
        ),
        turn,
    )
    page.evaluate("dispatchEvent(new Event('online'))")


def _answer(page: Page, turn: int) -> None:
    form = page.locator(".drill-taken", has=page.locator("input[type=radio]")).nth(turn % 3)
    # The same exercise answered again is another answer of the page.
    form.evaluate("(form) => { delete form.dataset.done; }")
    form.locator("button[type=submit]").evaluate("(button) => { button.disabled = false; }")
    form.locator("input[type=radio]").first.check()
    form.locator("button[type=submit]").click()


def _changes() -> int:
    return int(_row().shoot.changes.count())


USERS = {
    "bench": User(
        lambda: _row().get_absolute_url(), "**/shoots/*/*/**", _change_iris, _changes, ".bench-page"
    ),
    "day": User(
        lambda: f"/shoots/{_row().shoot_id}/day/{_row('5A').day_id}/", "**/shoots/*/day/*/**",
        _move_block, _changes, ".day-page",
    ),
    "field": User(
        lambda: f"/shoots/{_row().shoot_id}/field/day/{_row().day_id}/", "**/field/send/",
        _log_take, Take.objects.count, ".day-list",
    ),
    "drill": User(
        lambda: "/drill/ahead/", "**/drill/send/", _answer, Answer.objects.count, ".drill-taken"
    ),
}  # fmt: skip


class Line:
    """What becomes of what is sent: "whole", "cut", "lost" (kept, no answer), or a status."""

    def __init__(self, page: Page, pattern: str) -> None:
        self.state = "whole"
        page.context.route(pattern, self.handle)

    def handle(self, route: Route) -> None:
        if route.request.method != "POST" or self.state == "whole":
            route.continue_()
        elif self.state == "cut":
            route.abort()
        elif self.state == "lost":
            route.fetch()
            route.abort()
        else:
            body = json.dumps({"error": "this cannot be", "refused": "You may look, not change."})
            route.fulfill(
                status=int(self.state), body=body, headers={"Content-Type": "application/json"}
            )


def entries(page: Page) -> list[dict[str, Any]]:
    """What waits on the device."""
    found: list[dict[str, Any]] = page.evaluate(ENTRIES)
    return found


def opened(page: Page, user: User) -> None:
    page.goto(user.address())
    page.locator(user.again).first.wait_for()
    if user.again in (".bench-page", ".day-page"):
        page.locator(f"{user.again}[data-ready]").wait_for()


@pytest.fixture(params=USERS)
def user(request: Any, transactional_db: None) -> User:
    demo_again()
    nothing_shot()
    found: User = USERS[request.param]
    return found


def test_nothing_is_lost_whatever_the_line_does(new_page: Any, user: User) -> None:
    page: Page = new_page(1280, 800)
    enter_demo(page)
    opened(page, user)
    line = Line(page, user.sends)
    turn = 0

    def act(count: int) -> None:
        """Do something, and wait until the server has made ``count`` more of it."""
        nonlocal turn
        before = user.made()
        turn += 1
        user.act(page, turn)
        if count:
            until(page, lambda: user.made() >= before + count, f"turn {turn} did not arrive")
            until(page, lambda: not entries(page), f"turn {turn} still waits")

    act(1)
    for state in ("cut", "500", "503", "lost"):
        # Without an answer it waits, and goes out by itself, once.
        line.state = state
        before = user.made()
        act(0)
        until(page, lambda: len(entries(page)) == 1, f"{state}: nothing is kept")
        if state == "lost":
            until(page, lambda: user.made() > before, "the server did not keep it")  # noqa: B023
        line.state = "whole"
        page.evaluate("dispatchEvent(new Event('online'))")
        until(page, lambda: not entries(page), f"{state}: it still waits")
        assert user.made() == before + 1, state
    # What the server will not have stays, is said, and can be dropped or tried again. What is closed
    # to somebody may open again: it goes out by itself then, so it is dropped while it is closed.
    for state, press in (("422", "Drop"), ("422", "Try again"), ("403", "Drop")):
        line.state = state
        before = user.made()
        act(0)
        until(
            page,
            lambda: any(one["refused"] or one["closed"] for one in entries(page)),
            f"{state}: not said to be refused",
        )
        opened(page, user)
        button = page.get_by_role("button", name=press).first
        expect(button).to_be_visible()
        if press == "Try again":
            line.state = "whole"
        button.click()
        until(page, lambda: not entries(page), f"{state}, {press}: it still waits")
        line.state = "whole"
        if press == "Try again":
            until(page, lambda: user.made() == before + 1, "not sent again")  # noqa: B023
        else:
            assert user.made() == before
    # The session came to its end: it waits for whoever did it.
    page.context.clear_cookies(name="sessionid")
    before = user.made()
    act(0)
    until(page, lambda: len(entries(page)) == 1, "signed out: nothing is kept")
    if user.sends.startswith("**/shoots"):
        page.wait_for_url("**/log-in/**")
    page.wait_for_timeout(300)
    assert (len(entries(page)), user.made()) == (1, before)
    enter_demo(page)
    opened(page, user)
    until(page, lambda: not entries(page), "signed out: it still waits")
    assert user.made() == before + 1


def test_a_page_that_is_killed_and_two_tabs_send_once(new_page: Any, user: User) -> None:
    page: Page = new_page(1280, 800)
    enter_demo(page)
    opened(page, user)
    line = Line(page, user.sends)
    line.state = "cut"
    before = user.made()
    user.act(page, 1)
    until(page, lambda: len(entries(page)) == 1, "nothing is kept")
    second = page.context.new_page()
    page.close(run_before_unload=False)
    opened(second, user)
    third = second.context.new_page()
    opened(third, user)
    line.state = "whole"
    for one in (second, third):
        one.evaluate("dispatchEvent(new Event('online'))")
    until(third, lambda: not entries(third), "it still waits")
    until(third, lambda: user.made() == before + 1, "it did not arrive")
    third.wait_for_timeout(500)
    assert user.made() == before + 1


def test_what_one_left_waits_for_them_and_goes_out_under_no_other_name(
    new_page: Any, user: User, django_user_model: Any
) -> None:
    page: Page = new_page(1280, 800)
    enter_demo(page)
    opened(page, user)
    line = Line(page, user.sends)
    line.state = "cut"
    before = user.made()
    user.act(page, 1)
    until(page, lambda: len(entries(page)) == 1, "nothing is kept")
    page.context.clear_cookies(name="sessionid")
    django_user_model.objects.create_user("second", password="quay-side-42")
    page.on("dialog", lambda dialog: dialog.accept())
    page.goto("/log-in/")
    expect(page.locator("[data-waiting]")).to_contain_text(
        "1 from demo, sent when demo logs in here."
    )
    page.get_by_label("Username").fill("second")
    page.get_by_label("Password").fill("quay-side-42")
    page.get_by_role("button", name="Log in", exact=True).click()
    page.wait_for_url("**/shoots/")
    line.state = "whole"
    page.goto("/drill/ahead/")
    page.locator(".drill-taken").first.wait_for()
    page.wait_for_timeout(500)
    assert len(entries(page)) == 1
    assert user.made() == before
    page.context.clear_cookies(name="sessionid")
    enter_demo(page)
    opened(page, user)
    until(page, lambda: not entries(page), "it still waits")
    assert user.made() == before + 1


def test_storage_that_is_cleared_takes_what_waits_and_nothing_else(
    new_page: Any, user: User
) -> None:
    """Somebody clears the data of the site while a page is open: it goes on, and keeps and sends anew."""
    page: Page = new_page(1280, 800)
    enter_demo(page)
    opened(page, user)
    line = Line(page, user.sends)
    line.state = "cut"
    user.act(page, 1)
    until(page, lambda: len(entries(page)) == 1, "nothing is kept")
    wipe = page.context.new_cdp_session(page)
    wipe.send(
        "Storage.clearDataForOrigin",
        {"origin": "/".join(page.url.split("/")[:3]), "storageTypes": "indexeddb,cache_storage,local_storage"},
    )  # fmt: skip

    def cleared() -> bool:
        try:
            return not entries(page)
        except Error as error:
            if TAKEN_AWAY not in error.message:
                raise
            return False

    until(page, cleared, "the storage is not cleared")
    before = user.made()
    user.act(page, 2)
    # Pages that hold their queue in mind, bench and day, keep the first anew as well.
    until(page, lambda: bool(entries(page)), "what was done since is not kept")
    line.state = "whole"
    page.evaluate("dispatchEvent(new Event('online'))")
    until(page, lambda: user.made() > before, "it did not arrive")
    until(page, lambda: not entries(page), "it still waits")
