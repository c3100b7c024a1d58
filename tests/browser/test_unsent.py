"""What was not acknowledged is kept and sent again; two windows on one setup."""

from typing import Any

import pytest
from playwright.sync_api import Page, Route, expect

from fotonomy.shoots.models import Setup
from tests.browser.conftest import at_bench, enter_demo, open_tile


def saved() -> Setup:
    """The setup on the bench as the database has it."""
    return Setup.objects.get(code="4B")


def settled(page: Page) -> None:
    page.locator(".bench-page:not([data-queue=busy]):not([data-queue=waiting])").wait_for()


def wait_for_iris(page: Page, iris: float) -> None:
    """Until the database has it: what a page left behind is sent once that page is gone."""
    for _ in range(80):
        if saved().iris == iris:
            return
        page.wait_for_timeout(100)
    assert saved().iris == iris


def change(page: Page, name: str, text: str) -> None:
    page.locator(f"#f-{name}").fill(text)
    page.locator(f"#f-{name}").press("Tab")


class Line:
    """The line to the server: whole, cut, or one that loses the answers."""

    def __init__(self, page: Page) -> None:
        self.state, self.posts = "whole", 0
        page.route("**/shoots/*/*/*", self.handle)

    def handle(self, route: Route) -> None:
        if route.request.method != "POST" or self.state == "whole":
            self.posts += route.request.method == "POST"
            route.continue_()
        elif self.state == "cut":
            route.abort()
        elif self.state == "answers lost":
            self.posts += 1
            route.fetch()
            route.abort()
        else:
            route.fulfill(status=int(self.state), body="")


def test_what_was_not_saved_is_sent_by_itself_when_the_server_is_back(demo_page: Page) -> None:
    page, line = demo_page, Line(demo_page)
    line.state = "cut"
    change(page, "iris", "f/5.6")
    expect(page.locator("#trouble")).to_contain_text(
        "kept in this browser and sent again by itself"
    )
    change(page, "iso", "640")
    change(page, "iso", "800")
    assert (saved().iris, saved().iso) == (4.0, 500)
    line.state = "whole"
    # Nobody presses anything: the clock tries again.
    settled(page)
    expect(page.locator("#trouble")).to_be_hidden()
    assert (saved().iris, saved().iso) == (5.6, 800)


def test_a_full_disk_is_said_and_what_was_changed_waits(demo_page: Page) -> None:
    page, line = demo_page, Line(demo_page)
    line.state = "507"
    change(page, "iris", "f/5.6")
    expect(page.locator("#trouble")).to_contain_text("the disk of the server is full")
    expect(page.locator("#trouble [data-why=silent]")).to_be_hidden()
    line.state = "cut"
    change(page, "iso", "640")
    expect(page.locator("#trouble")).to_contain_text("the server does not answer")
    expect(page.locator("#trouble [data-why=full]")).to_be_hidden()
    line.state = "whole"
    settled(page)
    assert (saved().iris, saved().iso) == (5.6, 640)


def test_a_page_that_is_left_is_warned_about_and_the_next_one_sends(demo_page: Page) -> None:
    page, line = demo_page, Line(demo_page)
    line.state = "cut"
    change(page, "iris", "f/5.6")
    change(page, "iso", "640")
    expect(page.locator("#trouble")).to_be_visible()
    warned = []
    page.on("dialog", lambda dialog: (warned.append(dialog.type), dialog.accept()))
    page.reload()
    assert warned == ["beforeunload"]
    line.state = "whole"
    at_bench(page, "4B")
    wait_for_iris(page, 5.6)
    settled(page)
    expect(page.locator("#f-iris")).to_have_value("f/5.6")
    expect(page.locator("#f-iso")).to_have_value("640")
    assert (saved().iris, saved().iso) == (5.6, 640)
    # In their order, and nothing is left for the page after it.
    kept = page.evaluate(
        "idb.openDB('fotonomy', 1).then((base) => base.getAll('unsent')).then((all) => all.length)"
    )
    assert kept == 0


def test_what_another_setup_left_unsent_is_sent_from_here(demo_page: Page) -> None:
    page, line = demo_page, Line(demo_page)
    line.state = "cut"
    change(page, "iris", "f/5.6")
    expect(page.locator("#trouble")).to_be_visible()
    page.on("dialog", lambda dialog: dialog.accept())
    line.state = "whole"
    page.locator(".row", has_text="5A Launch").locator("a").click()
    at_bench(page, "5A")
    wait_for_iris(page, 5.6)
    # Its answer is not shown here.
    expect(page.locator("h1")).to_contain_text("5A")


def test_an_answer_that_is_lost_makes_no_change_twice(demo_page: Page) -> None:
    page = demo_page
    open_tile(page, "level")
    line = Line(page)
    before = saved().readings[0]["stops"]
    line.state = "answers lost"
    field = page.locator("#f-reading-0-stops")
    field.focus()
    field.press("ArrowUp")
    expect(page.locator("#trouble")).to_be_visible()
    line.state = "whole"
    settled(page)
    assert line.posts == 2
    assert saved().readings[0]["stops"] == pytest.approx(before + 0.1)


@pytest.mark.parametrize("status", ["404", "500"])
def test_what_can_never_be_saved_is_said_and_holds_nothing_up(demo_page: Page, status: str) -> None:
    page, line = demo_page, Line(demo_page)
    page.evaluate("fotonomy.TRIES = 2")
    line.state = status
    change(page, "iris", "f/5.6")
    expect(page.locator("#refused")).to_contain_text(f"the server refused it, {status}")
    expect(page.locator("#trouble")).to_be_hidden()
    line.state = "whole"
    change(page, "iso", "640")
    settled(page)
    assert (saved().iris, saved().iso) == (4.0, 640)
    page.locator("#refused").get_by_role("button", name="Drop").click()
    expect(page.locator("#refused")).to_be_hidden()


def second_window(new_page: Any) -> Page:
    page: Page = new_page()
    enter_demo(page)
    at_bench(page, "4B")
    return page


def test_the_other_window_is_told_and_can_take_it_back(demo_page: Page, new_page: Any) -> None:
    one, two = demo_page, second_window(new_page)
    change(one, "iris", "f/5.6")
    settled(one)
    change(two, "iris", "f/8")
    settled(two)
    # The later stays; the earlier window shows it and says who changed what.
    expect(one.locator("#f-iris")).to_have_value("f/8", timeout=60_000)
    expect(one.locator("#news")).to_contain_text("Iris: f/5.6 to f/8, changed in another window at")
    one.get_by_role("button", name="Undo it").click()
    settled(one)
    expect(one.locator("#f-iris")).to_have_value("f/5.6")
    expect(one.locator("#news")).not_to_contain_text("Iris")
    assert saved().iris == 5.6
    expect(two.locator("#f-iris")).to_have_value("f/5.6", timeout=60_000)
    expect(two.locator("#news")).to_contain_text("undone in another window")
    two.locator("[data-clear-news]").click()
    expect(two.locator("#news")).to_be_empty()


def test_undo_takes_back_what_its_button_says(demo_page: Page, new_page: Any) -> None:
    one, two = demo_page, second_window(new_page)
    change(one, "iris", "f/5.6")
    settled(one)
    expect(one.locator("#undo-form button")).to_have_attribute("title", "Iris")
    # The first window is not told: with the news its button would say ISO, and take that back.
    one.route("**/*seen=*", lambda asked: asked.abort())
    change(two, "iso", "640")
    settled(two)
    one.locator("#undo-form button").click()
    settled(one)
    assert (saved().iris, saved().iso) == (4.0, 640)
    expect(one.locator("#f-iso")).to_have_value("640")


def test_a_field_half_typed_is_not_taken_away(demo_page: Page, new_page: Any) -> None:
    one, two = demo_page, second_window(new_page)
    one.clock.install()
    one.reload()
    at_bench(one, "4B Adze chips")
    one.locator("#f-iso").focus()
    one.keyboard.press("Control+a")
    one.keyboard.type("12")
    change(two, "iris", "f/8")
    settled(two)
    # Twice over the time after which a page asks for news: now it would have come in.
    one.clock.run_for(11_000)
    one.wait_for_load_state("networkidle")
    expect(one.locator("#f-iso")).to_have_value("12")
    one.keyboard.type("50")
    one.keyboard.press("Enter")
    one.clock.run_for(2000)
    settled(one)
    assert (saved().iso, saved().iris) == (1250, 8.0)


def test_a_setup_deleted_elsewhere_is_said_with_a_way_back(demo_page: Page, new_page: Any) -> None:
    one, two = demo_page, second_window(new_page)
    two.locator(".row-actions").get_by_role("button", name="Delete").click()
    at_bench(two, "4C")
    change(one, "iris", "f/8")
    at_bench(one, "1A")
    expect(one.locator("#messages")).to_contain_text("This setup was deleted in another window")
    one.locator("#undo-form button").click()
    at_bench(one, "4B")
    expect(one.locator("#messages")).to_contain_text("Undone: 4B Adze chips deleted.")
