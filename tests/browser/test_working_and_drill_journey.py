"""A number is pressed and followed to its source; a session of the drill by keyboard and by touch."""

from typing import Any

import pytest
from playwright.sync_api import Page, expect

from fotonomy.core.drill.answers import Settings
from fotonomy.core.drill.exercise_kind import ExerciseKind
from fotonomy.core.drill.generate import exercise
from fotonomy.drill.models import Answer
from tests.browser.conftest import enter_demo, open_tile
from tests.demo_copy import demo_again

pytestmark = pytest.mark.django_db(transaction=True)
BOX = ".word-box.working"


def test_a_number_is_followed_to_its_source_and_back(demo_page: Page) -> None:
    page = demo_page
    page.goto(f"{page.url.partition('?')[0]}?open=none")
    page.locator(".bench-page[data-ready]").wait_for()
    line = page.locator("[data-tile=motion] .tile-line a.number")
    line.nth(1).click()
    box = page.locator(BOX)
    expect(box).to_contain_text("smear = v · t / w")
    box.get_by_role("link", name="0.005 s").click()
    expect(box).to_contain_text("angle / (360° · exact(r))")
    box.locator(".working-tree a").first.click()
    expect(box.locator(".standing")).to_have_text("you")
    page.keyboard.press("Backspace")
    expect(box).to_contain_text("angle / (360° · exact(r))")
    box.get_by_role("button", name="Back").click()
    expect(box).to_contain_text("smear = v · t / w")
    page.keyboard.press("Escape")
    expect(box).to_be_hidden()
    # Nothing behind it was opened, closed or changed.
    expect(page.locator("#stage")).to_have_count(0)


def test_the_equals_sign_opens_what_has_the_focus(demo_page: Page) -> None:
    page = demo_page
    page.goto(f"{page.url.partition('?')[0]}?open=none")
    page.locator(".bench-page[data-ready]").wait_for()
    page.locator("#open-light").focus()
    page.keyboard.press("=")
    box = page.locator(BOX)
    expect(box).to_contain_text("What is left of the light when everything is spent")
    # Tab and Enter go on inside; Esc gives the focus back.
    page.keyboard.press("Tab")
    page.keyboard.press("Enter")
    expect(box.locator(".working-value")).to_be_visible()
    page.keyboard.press("Escape")
    expect(page.locator("#open-light")).to_be_focused()
    # In a field the sign is typed.
    open_tile(page, "motion")
    field = page.locator("#stage input[type=text], #stage input:not([type])").first
    field.focus()
    page.keyboard.press("=")
    expect(box).to_be_hidden()


def test_a_label_of_a_drawing_and_a_finding_can_be_pressed(demo_page: Page) -> None:
    page = demo_page
    open_tile(page, "focus")
    page.locator("#stage tspan.number").first.click()
    box = page.locator(BOX)
    expect(box.locator(".working-value")).to_be_visible()
    page.keyboard.press("Escape")
    # A tick of an axis has no working of its own: it leads to all numbers of its tile.
    page.locator("#stage svg text.tick").first.click()
    expect(box.locator(".working-inputs a").first).to_be_visible()
    page.keyboard.press("Escape")
    page.get_by_role("button", name="finding").click()
    page.locator("#findings .finding .number-more").first.click()
    expect(box).to_contain_text("What each way out does to it")


def test_numbers_stay_numbers_after_a_change_of_the_bench(demo_page: Page) -> None:
    page = demo_page
    page.goto(f"{page.url.partition('?')[0]}?open=none")
    page.locator(".bench-page[data-ready]").wait_for()
    page.locator("#f-iris").fill("f/8")
    page.locator("#f-iris").press("Enter")
    expect(page.locator("[data-tile=light] p.verdict")).to_contain_text("Too dark by 2 stops")
    page.locator("[data-tile=focus] tspan.number, [data-tile=focus] a.number").first.click()
    expect(page.locator(f"{BOX} .working-value")).to_be_visible()


def test_without_scripts_a_number_leads_to_a_page(new_page: Any) -> None:
    demo_again()
    page = new_page(java_script_enabled=False)
    enter_demo(page, scripts=False)
    page.locator("a.number").first.click()
    expect(page.locator("h1")).to_have_text("How this number came about")


def test_a_session_by_keyboard_alone(demo_page: Page) -> None:
    page = demo_page
    page.goto("/drill/")
    page.get_by_role("button", name="Practise five minutes").focus()
    page.keyboard.press("Enter")
    # The first is counting stops: a field that has the focus already.
    field = page.locator("#answer")
    expect(field).to_be_focused()
    page.keyboard.type("lots")
    page.keyboard.press("Enter")
    expect(page.locator(".field-error")).to_be_visible()
    expect(page.locator("#answer")).to_have_value("lots")
    page.locator("#answer").fill("3")
    page.keyboard.press("Enter")
    expect(page.locator("[data-result]")).to_be_focused()
    assert Answer.objects.count() == 1
    # Enter goes on to the next one.
    page.keyboard.press("Enter")
    page.locator(".drill-form").wait_for()
    expect(page.locator(".drill-left")).to_contain_text("min left")


def test_a_session_by_touch_on_a_phone(new_page: Any) -> None:
    demo_again()
    page = new_page(390, 844, has_touch=True, reduced_motion="reduce")
    enter_demo(page)
    page.goto("/drill/set-it/1/7/")
    made = exercise(ExerciseKind.SET_IT, 1, 7)
    assert isinstance(made.answer, Settings)
    page.get_by_label("Iris").select_option(dict(made.answer.solution)["iris"])
    page.get_by_role("button", name="Check").tap()
    expect(page.locator(".drill-result.is-good")).to_be_visible()
    # The sliders are free: one is moved, and what comes of it is drawn.
    slider = page.locator("#free-iso")
    slider.focus()
    page.keyboard.press("ArrowRight")
    looked = page.locator("[data-looked] .drill-side")
    expect(looked).to_contain_text("Now")
    expect(page.locator("output[for=free-iso]")).not_to_have_text(
        str(made.right and made.right.iso)
    )
    assert page.evaluate("document.documentElement.scrollWidth") <= 390
    # Targets are large enough for a thumb.
    box = page.get_by_role("link", name="Next").bounding_box()
    assert box
    assert box["height"] >= 44


def test_a_lesson_moves_with_its_slider(demo_page: Page) -> None:
    page = demo_page
    page.goto("/drill/lessons/shutter/")
    watched = page.locator(".drill-watched a").first
    expect(watched).to_have_text("0.02 s")
    page.locator("#at").focus()
    page.keyboard.press("ArrowLeft")
    expect(watched).to_have_text("0.01 s")
    expect(page.locator("output[for=at]")).to_have_text("90°")
    watched.click()
    expect(page.locator(BOX)).to_contain_text("angle / (360° · exact(r))")


def test_an_order_is_put_right_by_places(demo_page: Page) -> None:
    page = demo_page
    page.goto("/drill/plan-a-day/1/7/")
    made = exercise(ExerciseKind.PLAN_A_DAY, 1, 7)
    right = made.answer.right  # type: ignore[union-attr]
    for place, key in enumerate(right, 1):
        page.locator(f"[name=place-{key}]").select_option(str(place))
    assert page.locator("[data-order] li").evaluate_all(
        "rows => rows.map(row => row.dataset.key)"
    ) == list(right)
    page.get_by_role("button", name="Check").click()
    expect(page.locator(".drill-result.is-good")).to_be_visible()
