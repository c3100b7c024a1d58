"""Lamps from above: dragged with the mouse, the sums follow, and they become the scene light."""

import re
from typing import Any

import pytest
from playwright.sync_api import Page, expect

from fotonomy.shoots.models import Setup
from tests.browser.conftest import at_bench

pytestmark = pytest.mark.django_db(transaction=True)


def test_a_lamp_is_dragged_and_the_sums_follow(demo_page: Page) -> None:
    page = demo_page
    row = Setup.objects.get(code="7A")
    page.goto(f"{row.get_absolute_url()}lamps/")
    words = page.locator(".lamps-words")
    expect(words).to_contain_text("nothing lights the shadow side")
    page.get_by_role("button", name="Work lamp").click()
    expect(page.locator("[name=l-1-name]")).to_have_value("Work lamp")
    expect(words).to_contain_text("lux in the shadow")
    handle = page.locator(".lamp-handle.lamp-1")
    box: Any = handle.bounding_box()
    middle: Any = page.locator(".lamps-plan .subject").bounding_box()
    at = (box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    to = (middle["x"] + middle["width"] / 2, middle["y"] + middle["height"] / 2)
    said = words.inner_text()
    page.mouse.move(*at)
    page.mouse.down()
    # Halfway to the subject: half the distance, the same angle.
    page.mouse.move((at[0] + to[0]) / 2, (at[1] + to[1]) / 2, steps=4)
    page.mouse.up()
    expect(page.locator("[name=l-1-distance]")).to_have_value("1.5 m")
    expect(page.locator("[name=l-1-angle]")).to_have_value(re.compile(r"3[456]°"))
    # 900 lux at a metre are 400 at 1.5 m.
    expect(words).not_to_have_text(said)
    expect(words).to_contain_text(re.compile("39[0-9]|40[0-9]"))
    # By keys: a number is typed, and a reload shows what was on the screen.
    page.locator("[name=l-0-distance]").fill("4 m")
    expect(page).to_have_url(re.compile("l-0-distance=4"))
    page.locator("[name=l-0-distance]").fill("far")
    expect(page.locator("#lamps-answer")).to_contain_text("Lamp 1, Distance: A length")
    page.locator("[name=l-0-distance]").fill("4 m")
    expect(words).to_be_visible()
    page.reload()
    expect(page.locator("[name=l-0-distance]")).to_have_value("4 m")
    page.get_by_role("button", name="Remove lamp 2").click()
    expect(page.locator("[name=l-1-name]")).to_have_count(0)
    page.get_by_role("button", name="Use as scene light").click()
    at_bench(page, "7A")
    row.refresh_from_db()
    assert "lux" in row.light
