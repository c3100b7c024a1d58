"""The whole way once: an outline of eight, its light, an order, and what arrives on card and paper.

Nothing here is the demo's own: a scene, its setups and a day at a place of the demo's kit.
"""

from typing import Any

import pytest
from playwright.sync_api import Page, expect

from fotonomy.core.analysis.interval import IntervalRun
from fotonomy.core.analysis.ramp_programme import ramp_in_one_line, ramp_lines
from fotonomy.core.analysis.setup import analyse, clip_of, run_of
from fotonomy.core.day.conflicts import conflicts
from fotonomy.core.findings.finding import Severity
from fotonomy.core.plan import plan
from fotonomy.core.spec.schedule import Wanted
from fotonomy.days.planning import planned_day
from fotonomy.shoots.mapping import spec_of
from fotonomy.shoots.models import Day, Setup, Shoot
from fotonomy.shoots.packed_kit import packed_kit
from tests.browser.conftest import enter_demo
from tests.demo_copy import demo_again

OUTLINE = """20 Low water at the outer jetty — the tide turns
- Interview with the warden, medium
- Somebody walks along the slip, wide
- Rope in the hand, close, macro
- Time-lapse of clouds
- Day to night over the yard
- Silky water under the mill
- Forge door at night
- Stars over the mast
"""
WISHES = {
    "20A": Wanted.DAYLIGHT, "20B": Wanted.DAYLIGHT, "20C": Wanted.DAYLIGHT, "20D": Wanted.DAYLIGHT,
    "20E": Wanted.SUNSET, "20F": Wanted.DAYLIGHT, "20G": Wanted.NIGHT, "20H": Wanted.MOONLESS,
}  # fmt: skip
PLACES = {"20A": "jetty", "20E": "Yard", "20F": "mill", "20G": "orge", "20H": "ast"}


def rows(shoot: Shoot) -> dict[str, Setup]:
    return {row.code: row for row in shoot.setups.filter(code__startswith="20")}


def test_an_outline_arrives_on_card_and_paper(new_page: Any, transactional_db: None) -> None:
    demo_again()
    page: Page = new_page(1280, 800)
    enter_demo(page)
    shoot = Shoot.objects.get(owner__username="demo")
    # The demo's own setups of that day would leave no room: they stand aside.
    shoot.setups.all().delete()
    Day.objects.filter(shoot=shoot).update(wrap="23:00")

    # Outline: what it makes is shown with kind, light and place, then made.
    page.goto(f"/shoots/{shoot.pk}/parts/outline/")
    page.get_by_label("Outline", exact=True).fill(OUTLINE)
    page.get_by_role("button", name="Show what it makes").click()
    expect(page.get_by_label("Light of Stars over the mast")).to_have_value("moonless")
    expect(page.get_by_label("Kind of Silky water under the mill")).to_have_value("long_exposure")
    page.get_by_role("button", name="Make these").click()
    expect(page.locator("#messages")).to_contain_text("8 setups made")
    made = rows(shoot)
    assert {code: row.schedule["wants"] for code, row in made.items()} == {
        code: wish.value for code, wish in WISHES.items()
    }
    for code, words in PLACES.items():
        assert words in made[code].place.name, code

    # Nobody said their light: nothing is green, in the running order and on the bench alike.
    page.goto(made["20A"].get_absolute_url())
    page.locator(".bench-page[data-ready]").wait_for()
    expect(page.locator(".strip-findings")).to_contain_text("Light not said yet")
    expect(page.locator("#main")).not_to_contain_text("Nothing to fix")
    expect(page.locator(".row .count.asks")).to_have_count(8)
    expect(page.locator(".verdict.ask").first).to_contain_text("light not said yet")
    expect(page.locator(".verdict.good", has_text="balanced")).to_have_count(0)

    # Arranged: each finds an hour of its light, gets the sky's, and can be exposed then.
    day = shoot.first_day
    page.goto(f"/shoots/{shoot.pk}/day/{day.pk}/")
    page.locator(".day-page[data-ready]").wait_for()
    page.locator("#arrange summary").click()
    page.get_by_role("button", name="Arrange", exact=True).click()
    expect(page.locator("#messages")).to_contain_text("8 of 8 setups have an hour", timeout=20_000)
    planned = planned_day(Shoot.objects.get(pk=shoot.pk), day)
    assert len(planned.plan.timed) == 8
    for block in planned.plan.timed:
        assert block.light is not None
        assert block.light.missed_stops == 0, block.name
        assert block.takes is not None
        assert any(one.common(block.takes) == block.takes for one in block.windows), block.name
        # It stands in its way as long as it records, handles included.
        if block.kind.traits.has_interval:
            recorded_min = clip_of(planned.specs[block.key]).record_s / 60
            assert recorded_min <= block.shoot_min < recorded_min + 1, block.name
    assert not [one.what for one in conflicts(planned.plan) if one.grave]
    packed = packed_kit(shoot)
    for code, row in rows(shoot).items():
        found = plan(spec_of(row, packed)).findings
        dark = [f.what for f in found if f.severity is Severity.STOP and f.family.of_light]
        assert not dark, (code, dark)

    # The sky told the light of all but the forge, which lamps light: that stays a question.
    asked = {code for code, row in rows(shoot).items() if not row.light_said}
    assert asked == {"20G"}
    expect(page.locator(".clashes")).to_contain_text("Nobody said the light of 20G")

    # The day-to-night run follows the sky by plan: its changes stand on the bench, on the phone's
    # card with what comes next, on the card of paper and in a line of the call sheet.
    ramp = rows(shoot)["20E"]
    spec = spec_of(ramp, packed)
    run = run_of(analyse(spec), IntervalRun)
    lines = ramp_lines(spec, run)
    assert len(lines) > 5
    # The light to come is that of the whole run, down to its last frame.
    assert spec.run.light_curve[-1].after_s == pytest.approx(clip_of(spec).record_s, rel=0.01)
    assert spec.run.event_s == pytest.approx(run.covers_s, rel=0.15)
    page.goto(ramp.get_absolute_url() + "?open=ramp")
    page.locator(".bench-page[data-ready]").wait_for()
    page.locator("#ramp-steps summary").click()
    expect(page.locator("#ramp-steps")).to_contain_text(lines[1].words)
    phone: Page = new_page(390, 844)
    enter_demo(phone, "20E")
    phone.goto(f"/shoots/{shoot.pk}/field/{ramp.pk}/")
    card = phone.locator("[data-ramp]")
    expect(card).to_contain_text(lines[0].words)
    assert lines[1].at is not None
    expect(card).to_contain_text(f"{lines[1].at:%H:%M}: {lines[1].words}")
    card.locator("summary").click()
    expect(card.locator("li")).to_have_count(len(lines))
    # Started on this device it counts down to the next change by its own clock.
    started = f"new Date(Date.now() - {round(1000 * (lines[2].press_s + 1))}).toISOString()"
    phone.evaluate(f"localStorage.setItem('field-watch-{ramp.pk}', {started})")
    phone.reload()
    expect(phone.locator("[data-ramp-now]")).to_have_text(f"Now: {lines[2].words}")
    expect(phone.locator("[data-ramp-next]")).to_contain_text(lines[3].words)
    expect(phone.locator("[data-ramp-next]")).to_contain_text("In ")
    page.goto(f"/shoots/{shoot.pk}/paper/cards/")
    said = ramp_in_one_line(spec, run)
    expect(page.locator("section.ramp").first).to_contain_text(lines[0].words)
    page.goto(f"/shoots/{shoot.pk}/paper/call-sheet/")
    expect(page.locator("main")).to_contain_text(said)
    expect(page.locator("main")).to_contain_text("Light not said yet")
    page.goto(f"{ramp.get_absolute_url()}program/")
    expect(page.locator("main")).to_contain_text(lines[-1].words)
