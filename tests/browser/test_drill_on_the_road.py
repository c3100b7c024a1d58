"""Exercises taken along are graded as the server grades them; a tone is dragged along its curve."""

import re
from time import monotonic
from typing import Any

import pytest
from playwright.sync_api import Locator, Page, expect

from fotonomy.core.drill.answers import Order, Placed, Settings
from fotonomy.core.drill.exercise import Exercise
from fotonomy.core.drill.exercise_kind import ExerciseKind
from fotonomy.core.drill.generate import exercise
from fotonomy.core.drill.grading import Mark
from fotonomy.drill.models import Answer, Skill
from tests.browser.conftest import PATIENCE_MS
from tests.core.test_drill import other_guesses, right_guess

pytestmark = pytest.mark.django_db(transaction=True)
CLASSES = {Mark.RIGHT: "is-good", Mark.CLOSE: "is-warn", Mark.OFF: "is-bad"}


def asked_in(form: Locator) -> Exercise:
    """The exercise of a form."""
    kind, level, seed = (
        form.get_attribute(f"data-{one}") or "" for one in ("kind", "level", "seed")
    )
    return exercise(ExerciseKind(kind), int(level), int(seed))


def fill(form: Locator, made: Exercise, guess: dict[str, str]) -> None:
    """Answer a form as a person would."""
    match made.answer:
        case Order():
            for place, key in enumerate(guess["answer"].split(","), 1):
                form.locator(f"[name=place-{key}]").select_option(str(place))
        case Settings():
            for name, text in guess.items():
                form.locator(f"select[name={name}]").select_option(text)
        case _:
            if form.locator("input[type=radio], input[type=checkbox]").count():
                for key in guess["answer"].split(","):
                    form.locator(f"input[value='{key}']").check()
                return
            for name, text in guess.items():
                form.locator(f"input[name={name}]").fill(text)


def came(page: Page, count: int) -> None:
    """Wait until so many answers are at the server: they go out by themselves."""
    ends = monotonic() + PATIENCE_MS / 1000
    while Answer.objects.count() != count and monotonic() < ends:
        page.wait_for_timeout(50)
    assert Answer.objects.count() == count


@pytest.mark.parametrize("level", [1, 3])
def test_the_page_grades_as_the_server_does(demo_page: Page, demo: Any, level: int) -> None:
    page = demo_page
    if level > 1:
        for kind in ExerciseKind:
            Skill.objects.create(user=demo.owner, kind=kind.value, level=level)
    marks = set()
    for turn in range(2):
        page.goto("/drill/ahead/")
        forms = page.locator(".drill-taken")
        expect(forms).to_have_count(12)
        sent = Answer.objects.count()
        for number in range(12):
            form = forms.nth(number)
            made = asked_in(form)
            wrong = other_guesses(made)
            # By turns right and wrong, so that both are tried of most kinds.
            guess = right_guess(made) if (number + turn) % 2 or not wrong else wrong[-1]
            fill(form, made, guess)
            form.get_by_role("button", name="Check").click()
            mark = made.grade(guess).mark
            marks.add(mark)
            expect(form.locator(f".drill-result.{CLASSES[mark]}")).to_be_visible()
            expect(form.locator(".drill-result small")).to_contain_text(made.answer.said[:20])
        came(page, sent + 12)
        expect(page.locator("[data-kept]")).to_have_text("")
    assert {Mark.RIGHT, Mark.OFF} <= marks


def test_exercises_taken_along_work_without_a_network_and_are_sent_later(demo_page: Page) -> None:
    page = demo_page
    page.goto("/drill/ahead/")
    page.evaluate(
        """async () => {
          const kept = async () => (await caches.open(`field-pages-${document.body.dataset.person}`)).match("/drill/ahead/");
          while (!navigator.serviceWorker.controller || !(await kept()))
            await new Promise((again) => setTimeout(again, 50));
        }"""
    )
    page.context.set_offline(True)
    # Opened again without a network it is the same page.
    page.reload()
    form = page.locator(".drill-taken[data-kind=how-many-stops]")
    form.locator("input[name=answer]").fill("?")
    form.get_by_role("button", name="Check").click()
    expect(form.locator("[data-wrong]")).to_contain_text("A number from")
    form.locator("input[name=answer]").fill(right_guess(asked_in(form))["answer"])
    form.get_by_role("button", name="Check").click()
    expect(form.locator(".drill-result.is-good")).to_be_visible()
    choice = page.locator(".drill-taken", has=page.locator("input[type=radio]")).first
    choice.locator("input[type=radio]").first.check()
    choice.get_by_role("button", name="Check").click()
    expect(page.locator("[data-kept]")).to_have_text("2 answers not sent yet.")
    assert Answer.objects.count() == 0
    page.context.set_offline(False)
    page.reload()
    came(page, 2)
    expect(page.locator("[data-kept]")).to_have_text("")
    # What the page graded is what the server keeps.
    assert Answer.objects.filter(mark="right").exists()


def test_a_tone_is_dragged_along_its_curve(new_page: Any, demo_page: Page) -> None:
    page, made = demo_page, exercise(ExerciseKind.PLACE_THE_FACE, 2, 7)
    assert isinstance(made.answer, Placed)
    page.goto("/drill/place-the-face/2/7/")
    drawing, field = page.locator(".drill-curve svg"), page.locator("#answer")
    slider = page.locator("[data-along]")
    frame = drawing.bounding_box()
    assert frame
    # From the foot of the curve to its top: the field goes along.
    page.mouse.move(frame["x"] + 60, frame["y"] + 100)
    page.mouse.down()
    low = float(field.input_value())
    page.mouse.move(frame["x"] + frame["width"] - 12, frame["y"] + 100, steps=8)
    high = float(field.input_value())
    page.mouse.up()
    assert low < 10 < high
    assert high == round(made.answer.clip_percent)
    # By keys the slider does the same, and says in words where it is.
    slider.focus()
    page.keyboard.press("ArrowLeft")
    expect(slider).to_have_attribute("aria-valuetext", re.compile(r"% *, .*stops from grey"))
    # What is typed moves the tone, and a wrong second field keeps the first.
    field.fill(f"{made.answer.tone.value:.1f}")
    at = drawing.locator(".curve-handle").get_attribute("cy")
    assert at is not None
    page.locator("#zebra").fill("lots")
    page.get_by_role("button", name="Check").click()
    expect(page.locator(".field-error")).to_contain_text("a number from")
    expect(field).to_have_value(f"{made.answer.tone.value:.1f}")
    assert abs(float(drawing.locator(".curve-handle").get_attribute("cy") or 0) - float(at)) < 0.1
    page.locator("#zebra").fill(f"{made.answer.clip_percent:.0f}")
    page.get_by_role("button", name="Check").click()
    expect(page.locator(".drill-result.is-good")).to_be_visible()
