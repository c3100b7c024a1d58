"""Numbers on pages lead to their workings: every one of them, for those who may see them."""

import json
import re
from typing import Any
from urllib.parse import urljoin

import pytest
from django.urls import reverse
from lxml import html

from fotonomy.core.traced_numbers import CLOSE, MIDDLE, OPEN, marked
from fotonomy.shoots.models import Setup, Shoot
from fotonomy.web.numbers import linked

# What is typed, pressed or named is no number that the program works out.
GIVEN = {"a", "button", "select", "option", "textarea", "title", "script", "style", "label", "summary",
         "time", "code", "kbd", "h1", "nav", "datalist"}  # fmt: skip
# Pages of dates and names, and those that are printed.
NO_NUMBERS = ("/crew/", "/paper/", "/guide/", "/kit/", "/account/")


def address(row: Setup, name: str) -> str:
    """Where the working of a setup's number is."""
    return reverse("working", args=[row.shoot_id, row.pk, name])


def text_of(answer: Any) -> str:
    """What a page says, in one line."""
    assert answer.status_code == 200, answer.status_code
    return " ".join(html.fromstring(answer.content.decode()).text_content().split())


def without_working(page: Any) -> list[str]:
    """Texts with a number that nobody can press."""
    found = []
    for node in page.xpath("//main//text()"):
        parent = node.getparent()
        around = [*parent.iterancestors()] if node.is_tail else [parent, *parent.iterancestors()]
        if not re.search(r"\d", node):
            continue
        led = any(
            one.tag in GIVEN or one.get("data-numbers") or one.get("data-working")
            or {"number", "hint"} & set((one.get("class") or "").split())
            for one in around
        )  # fmt: skip
        if not led:
            found.append(node.strip())
    return found


def pages_of(client: Any, start: str) -> dict[str, Any]:
    """Every page of a shoot that its pages lead to, three of a kind at most."""
    found: dict[str, Any] = {}
    kinds: dict[str, int] = {}
    to_do, seen = [start], set()
    while to_do:
        at = to_do.pop(0).split("#")[0]
        kind = re.sub(r"\d+", "N", at.split("?")[0])
        if at in seen or kinds.get(kind, 0) >= 3 or "/working/" in at or not at.startswith(start):
            continue
        seen.add(at)
        kinds[kind] = kinds.get(kind, 0) + 1
        answer = client.get(at, follow=True)
        sort = answer.headers.get("Content-Type", "")
        if answer.status_code != 200 or not sort.startswith("text/html"):
            continue
        page = html.fromstring(answer.content.decode())
        found[at] = page
        to_do += [urljoin(at, one) for one in page.xpath("//a/@href")]
    return found


def test_every_number_of_every_page_of_the_demo_can_be_pressed(
    demo_client: Any, demo: Shoot
) -> None:
    pages = pages_of(demo_client, f"/shoots/{demo.pk}/")
    assert len(pages) > 50
    led, asked = 0, set()
    for at, page in pages.items():
        text = html.tostring(page, encoding="unicode")
        assert not {OPEN, MIDDLE, CLOSE} & set(text), at
        if any(part in at for part in NO_NUMBERS):
            continue
        assert without_working(page) == [], at
        found = page.xpath(
            "//a[contains(@class, 'number')]/@href | //@data-working | //@data-numbers"
        )
        led += len(found)
        asked |= {re.sub(r"/\d+/\d+/working/", "/S/N/working/", one): one for one in found}.items()
    assert led > 500
    # One of each name: a working behind every one of them.
    one_each = dict(asked)
    assert len(one_each) > 70
    for to in one_each.values():
        assert demo_client.get(to).status_code == 200, to
    # What stands on the pages of days and takes is what its working comes to.
    names = set()
    for said, to in shown_loose(pages.values()):
        names.add(to.split("/")[2])
        value = html.fromstring(demo_client.get(to).content.decode()).xpath(
            "string(//p[@class='working-value']/b)"
        )
        assert agrees(said, value), (said, value, to)
    assert names >= {
        "sun.rise_or_set", "sun.twilight", "sun.highest", "sun.azimuth_deg", "sun.altitude_deg",
        "day.length", "day.spare", "sky.estimate", "sky.bent_stops", "take.moved_stops",
        "take.written_stops", "take.setting_stops", "take.late", "light.off_estimate",
        "picture.light_ev", "picture.light_off", "picture.off_stops", "run.on_screen",
        "moon.lit", "run.missing", "run.residue", "run.flicker", "run.shift", "left.battery", "field.leave",
    }  # fmt: skip


def shown_loose(pages: Any) -> set[tuple[str, str]]:
    """What is written of numbers of no setup, and where their workings are."""
    return {
        (" ".join(one.text_content().split()), one.get("href") or one.get("data-working"))
        for page in pages
        for one in page.xpath("//*[contains(@class, 'number')][@href or @data-working]")
        if re.match(r"/working/[a-z]+\.", one.get("href") or one.get("data-working"))
    }


def agrees(said: str, value: str) -> bool:
    """True where a number on a page is its working's, rounded as the page rounds."""
    if " of " in said:
        return True
    if ":" in value:
        return said == value
    worked = abs(float(re.sub(r"[^\d.e−-]", "", value).replace("−", "-")))
    if found := re.fullmatch(r"(?:(\d+) h ?)?(?:(\d+) min)?", said):
        return abs(60 * int(found[1] or 0) + int(found[2] or 0) - worked) <= 0.51
    text = "1" if said.startswith("one") else re.sub(r"[^\d.]", "", said)
    half = 0.5 * 10 ** -len(text.partition(".")[2])
    return abs(float(text) - worked) <= half * 1.001 + 1e-9


def test_the_figures_of_tiles_lead_to_their_very_own_workings(
    demo_client: Any, adze: Setup
) -> None:
    page = html.fromstring(demo_client.get(f"{adze.get_absolute_url()}?open=none").content.decode())
    line = page.xpath("//section[@data-tile='motion']//p[@class='tile-line']")[0]
    assert [(one.text, one.get("href")) for one in line.xpath(".//a[@class='number']")][:2] == [
        (line.xpath(".//a")[0].text, address(adze, "motion.step_percent")),
        (line.xpath(".//a")[1].text, address(adze, "motion.smear_percent")),
    ]
    drawn = page.xpath("//section[@data-tile='focus']//*[local-name()='tspan']/@data-working")
    assert address(adze, "focus.near_m") in drawn or address(adze, "focus.depth_m") in drawn
    # Where a number stands in a title or a button it stays text.
    assert not page.xpath("//button//a[@class='number'] | //a//a[@class='number']")


def test_a_working_shows_formula_numbers_inputs_source_and_levers(
    demo_client: Any, adze: Setup
) -> None:
    page = html.fromstring(demo_client.get(address(adze, "motion.smear_percent")).content.decode())
    lines = page.xpath("//ol[@class='working-lines']/li")
    assert " ".join(lines[-1].xpath(".//span")[0].text_content().split()) == "smear = v · t / w"
    # Set as in print beside it, for the eye alone: whoever listens has the text.
    math = lines[-1].xpath(".//span[@aria-hidden='true']/*[local-name()='math']")
    fraction = math[0].xpath(".//*[local-name()='mfrac']")
    assert ["".join(one.itertext()) for one in fraction[0]] == ["v·t", "w"]
    inputs = page.xpath("(//ul[@class='working-tree'])[1]/li/a/@href")
    assert inputs == [address(adze, name) for name in
                      ("setup.mover.speed_m_s", "setup.time_s", "motion.field_width_m")]  # fmt: skip
    # What an input is made of stands under it, two steps down.
    below = page.xpath("(//ul[@class='working-tree'])[1]/li[3]/details/ul/li/a/@href")
    assert address(adze, "setup.mover.distance_m") in below
    text = " ".join(page.text_content().split())
    assert "By definition" in text
    # The strongest comes first, its bar as long as the line has room; less goes to the left.
    rows = page.xpath("//table[@class='working-levers']//tr")
    assert rows[0].xpath("string(th)") == "one third longer open"
    bars = [
        (int(one.get("x")), int(one.get("width")))
        for one in page.xpath("//td/*/*[local-name()='rect']")
    ]
    assert bars[0] == (100, 100)
    sizes = [width for _, width in bars]
    assert sizes == sorted(sizes, reverse=True)
    longer = next(row for row in rows if "longer focal length" in row.xpath("string(th)"))
    assert "+" in longer.xpath("string(td[2])")
    # In a box over a page it is the same without the page.
    boxed = demo_client.get(
        address(adze, "motion.smear_percent"), headers={"X-Fotonomy-Fragment": "working"}
    )
    assert b"<html" not in boxed.content
    assert "smear = v · t / w" in boxed.content.decode()


def test_every_input_can_be_followed_to_what_is_given(demo_client: Any, adze: Setup) -> None:
    to_do, seen = [address(adze, "budget.error_stops")], set()
    given = 0
    while to_do:
        at = to_do.pop()
        if at in seen:
            continue
        seen.add(at)
        page = html.fromstring(demo_client.get(at).content.decode())
        to_do += page.xpath("//ul[@class='working-tree']//a/@href")
        given += not page.xpath("//ol[@class='working-lines']")
    assert len(seen) > 10
    assert given >= 4


def test_a_finding_says_what_each_way_out_does_to_it(demo_client: Any, adze: Setup) -> None:
    page = html.fromstring(demo_client.get(adze.get_absolute_url()).content.decode())
    articles = page.xpath("//article[@data-finding]")
    assert articles
    to = articles[0].get("data-numbers")
    text = text_of(demo_client.get(to))
    assert "What each way out does to it" in text
    assert "the finding goes" in text or "it becomes" in text


def test_numbers_of_a_plan_that_is_offered_are_those_of_that_plan(
    demo_client: Any, adze: Setup
) -> None:
    press = json.dumps([["iris", 5.6]])
    there = text_of(demo_client.get(address(adze, "budget.lines.iris.stops"), {"with": press}))
    # f/5.6 is five stops against f/1.
    assert "iris = −5 stops with the plan that is offered" in there
    offered = []
    for row in adze.shoot.setups.all():
        answer = demo_client.get(reverse("plans", args=[row.shoot_id, row.pk]))
        cards = html.fromstring(answer.content.decode()).xpath(
            "//li[@class='plan-row']/@data-numbers"
        )
        offered += [one for one in cards if "with=" in one]
    assert len(offered) > 3
    assert all(demo_client.get(one).status_code == 200 for one in offered)


@pytest.mark.parametrize(
    "name", ["nothing", "motion.__class__", "finding.none", "setup.body.delete", "budget"]
)
def test_what_is_no_number_is_not_found(demo_client: Any, adze: Setup, name: str) -> None:
    assert demo_client.get(address(adze, name)).status_code == 404


@pytest.mark.parametrize(
    "press", ["[", '[["iso", -4]]', '[["quux", 1]]', '[["iris", "wide"]]', "{}"]
)
def test_changes_that_cannot_be_are_not_found(demo_client: Any, adze: Setup, press: str) -> None:
    assert demo_client.get(address(adze, "budget.error_stops"), {"with": press}).status_code == 404


def test_others_see_no_numbers_of_mine(client: Any, stranger: Any, adze: Setup) -> None:
    client.force_login(stranger)
    assert client.get(address(adze, "budget.error_stops")).status_code == 404
    client.logout()
    assert client.get(address(adze, "budget.error_stops")).status_code == 302


def test_numbers_of_no_setup_are_worked_out_of_their_address(demo_client: Any, demo: Shoot) -> None:
    """1.7 m under a sun 45° high throw 1.7 m; Wilson's 9 of 10 is 0.60 to 0.98 (by hand)."""
    shadow = reverse("loose", args=["sun.shadow"])
    assert "shadow = 1.7 m" in text_of(
        demo_client.get(shadow, {"height_m": 1.7, "altitude_deg": 45})
    )
    kept = text_of(
        demo_client.get(reverse("loose", args=["kept.low"]), {"good": 9, "count": 10, "z": 1.96})
    )
    assert "at least = 0.59584" in kept
    for given in (
        {},
        {"height_m": "tall"},
        {"height_m": "nan", "altitude_deg": 1},
        {"height_m": 1},
    ):
        assert demo_client.get(shadow, given).status_code == 404
    assert demo_client.get(reverse("loose", args=["quux"])).status_code == 404
    assert demo_client.get(reverse("topic", args=["quux"])).status_code == 404
    assert "Magnus" in text_of(demo_client.get(reverse("topic", args=["weather"])))


# Marks on the way out


def test_marks_become_links_in_texts_and_words_everywhere_else() -> None:
    one = marked("1.2 %", "/w/?a=1&b=2")
    assert linked(f"<p>smear {one}.</p>") == (
        '<p>smear <a class="number" href="/w/?a=1&amp;b=2" tabindex="-1">1.2 %</a>.</p>'
    )
    for held in (f'<p title="{one}">x</p>', f"<button>{one}</button>", f"<a href='/'>{one}</a>",
                 f"<option>{one}</option>", f"<title>{one}</title>"):  # fmt: skip
        assert linked(held) == held.replace(one, "1.2 %")
    assert linked(f"<svg><text>{one}</text></svg>") == (
        '<svg><text><tspan class="number" data-working="/w/?a=1&amp;b=2">1.2 %</tspan></text></svg>'
    )
    # An address that a template escaped is not escaped again.
    assert 'href="/w/?a=1&amp;b=2"' in linked(marked("1", "/w/?a=1&amp;b=2"))
    # After a link has ended the next number is one again.
    assert linked(f"<a>x</a>{one}").count('class="number"') == 1
    assert linked(f"<abbr>{one}</abbr>").count('class="number"') == 1
    assert linked(f"cut {OPEN}short") == "cut short"


def test_what_is_kept_and_sent_to_programs_has_no_marks(demo_client: Any, adze: Setup) -> None:
    demo_client.get(adze.get_absolute_url())
    demo_client.post(
        adze.get_absolute_url(), {"iris": "f/16"}, headers={"X-Fotonomy-Fragment": "1"}
    )
    adze.refresh_from_db()
    assert OPEN not in json.dumps(adze.summary, ensure_ascii=False)
    assert (
        OPEN
        not in demo_client.get(
            reverse("plan-export", args=[adze.shoot_id, adze.pk])
        ).content.decode()
    )
