"""The planner's pages: plans taken, starting points, wishes and limits typed, comparison."""

from typing import Any

import pytest
from lxml import html

from fotonomy.core.exposure.light_budget import light_budget
from fotonomy.core.motion.camera_movement import Camera
from fotonomy.core.spec.intent import Look
from fotonomy.core.spec.setup import FRAMING
from fotonomy.shoots.mapping import spec_of
from fotonomy.shoots.models import Setup, Shoot
from fotonomy.shoots.packed_kit import packed_kit
from fotonomy.shoots.views.get_or_404 import FRAGMENT_HEADER
from tests.web.test_bench import send, text_of

FRAGMENT = {FRAGMENT_HEADER: "wide"}


def plans(client: Any, row: Setup) -> Any:
    answer = client.get(f"{row.get_absolute_url()}plans/", headers=FRAGMENT)
    assert answer.status_code == 200
    return html.fromstring(answer.content.decode())


def spec(row: Setup) -> Any:
    row = Setup.objects.select_related("shoot", "body", "lens", "profile").get(pk=row.pk)
    return spec_of(row, packed_kit(row.shoot))


def test_plans_stand_under_what_stands_and_one_press_takes_one(
    demo_client: Any, adze: Setup
) -> None:
    send(demo_client, adze, held_iris="0", held_shutter="0", light="13.5")
    page = plans(demo_client, adze)
    held = ".//li[@class='chip is-held']/b"
    now, *cards = page.xpath("//li[@class='plan-row']")
    assert text_of(now, ".//h3") == "Now"
    assert not now.xpath(".//button")
    assert 2 <= len(cards) <= 5
    assert "combinations of shutter, iris, ISO, ND" in text_of(page, "//h2/small")
    for card in cards:
        assert card.xpath(".//svg[@role='img']")
        # What is held stands filled, and something is framed as other than now.
        assert [chip.text_content().split()[0] for chip in card.xpath(held)] == ["100"]
        assert card.xpath(".//li[@class='chip is-moved']")
        assert card.xpath("count(.//dl/div)") == 5
        assert all(span.text_content() for span in card.xpath(".//dd/span"))
    offered = cards[1].xpath(".//button[@name='fix']/@value")[0]
    send(demo_client, adze, fix=offered)
    taken = spec(adze)
    assert abs(light_budget(taken).error_stops) < 0.34
    for part in offered.split(";"):
        name, _, text = part.partition("=")
        if name == "iris":
            assert f"f/{taken.iris:g}" == text
    assert taken.frame_rate == 100


def test_nothing_fits_and_the_remedy_frees_what_blocks(demo_client: Any, adze: Setup) -> None:
    send(
        demo_client,
        adze,
        light="16 EV",
        iris="f/1.8",
        nd_density="none",
        held_iris="1",
        held_nd_density="1",
    )
    page = plans(demo_client, adze)
    missing = text_of(page, "//p[@class='missing']")
    # 16 - 7.64 - 1.70 + log2(500/100) = +9.0 at the lowest base, shutter and rate held.
    assert "at the least 9 stops too much light" in missing
    way = next(b for b in page.xpath("//ul[@class='ways']//button") if "Free the ND" in b.text)
    send(demo_client, adze, fix=way.get("value"))
    freed = spec(adze)
    assert "nd_density" not in freed.held
    assert abs(light_budget(freed).error_stops) < 0.34
    demo_client.post(f"/shoots/{adze.shoot_id}/undo/")
    assert "nd_density" in spec(adze).held


def test_plans_are_a_page_of_their_own_too(demo_client: Any, adze: Setup) -> None:
    send(demo_client, adze, held_iris="0")
    page = html.fromstring(demo_client.get(f"{adze.get_absolute_url()}plans/").content.decode())
    assert page.xpath("//main//form[@id='bench']")
    assert page.xpath("//button[@form='bench'][@name='fix']")


def test_a_starting_point_is_one_press_and_one_step_back(demo_client: Any, adze: Setup) -> None:
    before = spec(adze)
    demo_client.post(f"{adze.get_absolute_url()}start/", {"moving": "0"})
    after = spec(adze)
    assert "iris" in after.held
    # What stands still keeps its half period too.
    assert "shutter" in after.held
    assert after.held_from_start == after.held
    assert set(FRAMING) <= after.held
    demo_client.post(f"/shoots/{adze.shoot_id}/undo/")
    assert spec(adze) == before


def test_limits_are_typed_where_the_value_stands(demo_client: Any, adze: Setup) -> None:
    page = send(demo_client, adze, iris="f/2.8 to f/4")
    now = spec(adze)
    assert "iris" not in now.held
    assert (now.limits[0].setting, now.limits[0].low, now.limits[0].high) == ("iris", 2.8, 4.0)
    assert "f/2.8 to f/4" in text_of(page, "//*[@data-scale='iris']")
    assert page.xpath("//input[@id='f-limit_iris']/@value") == ["f/2.8 to f/4"]
    page = send(demo_client, adze, iris="f/8")
    found = page.xpath("//article[@data-finding='iris.outside_limits']")[0]
    send(demo_client, adze, fix=found.xpath(".//button/@value")[-1])
    assert spec(adze).limits == ()


def test_a_whole_form_leaves_held_what_is_held(demo_client: Any, adze: Setup) -> None:
    send(demo_client, adze, limit_iris="f/2.8 to f/8")
    send(demo_client, adze, held_iris="1")
    # Without scripts every field is sent, the limits as they stand among them.
    demo_client.post(adze.get_absolute_url(), {"limit_iris": "f/2.8 to f/8", "iso": "640"})
    now = spec(adze)
    assert "iris" in now.held
    assert now.iso == 640


def test_any_settings_on_any_setup_and_any_start_are_no_crash(demo_client: Any, demo: Any) -> None:
    rows, before = list(demo.setups.all()), list(demo.setups.values())
    for k, row in enumerate(rows):
        source = rows[(k + 5) % len(rows)]
        demo_client.post(f"{row.get_absolute_url()}take-settings/", {"source": str(source.pk)})
        for path in ("", "plans/", "play/", "plan.json"):
            assert demo_client.get(f"{row.get_absolute_url()}{path}").status_code == 200
        demo_client.post(f"{row.get_absolute_url()}start/", {"moving": str(k % 2)})
        assert demo_client.get(row.get_absolute_url()).status_code == 200
    for _ in range(2 * len(rows)):
        demo_client.post(f"/shoots/{demo.pk}/undo/")
    assert list(demo.setups.values()) == before


WRONG = [
    ("limit_iris", "f/4", "two values"), ("limit_iso", "low to high", "500 to 3200"),
    ("limit_nd_density", "8 to 9", "0.3 to 1.8"), ("weight_noise", "lots", "from 0 to 10"),
    ("weight_look", "11", "from 0 to 10"), ("heading_deg", "sideways", "across"),
    ("pan_deg_s", "fast", "10°/s"), ("travel_m_s", "-3 km/h", "30 km/h"), ("background_m", "behind", "40 cm"),
    ("subject_size_m", "0", "a length from"), ("subject_depth_m", "nan", "a length from"),
    ("lamp_hz", "1", "pulses a second"), ("light_change_stops", "a lot", "stops from 0"),
    ("freeze_px", "-1 px", "pixels"), ("smear_percent", "1e9 %", "percent"), ("depth_m", "deep", "a length from"),
    ("slow_factor", "0.5", "1 to 100"), ("camera", "flies", "one of the list"),
    ("look", "opera", "one of the list"), ("support", "crane", "one of the list"),
    ("tubes", "No such tube", "one of the list"), ("iris", "f/4 to wide", "two values"),
]  # fmt: skip


@pytest.mark.parametrize(("field", "text", "words"), WRONG)
def test_wishes_that_make_no_sense_are_refused_and_kept(
    demo_client: Any, adze: Setup, field: str, text: str, words: str
) -> None:
    before = Setup.objects.filter(pk=adze.pk).values().get()
    page = send(demo_client, adze, **{field: text})
    if field != "tubes":
        assert words.lower() in text_of(page, f"//*[@id='e-{field}']").lower()
        assert page.xpath(f"//input[@id='f-{field}']/@value") in ([text], [])
    assert Setup.objects.filter(pk=adze.pk).values().get() == before


def test_wishes_as_people_type_them(demo_client: Any, adze: Setup) -> None:
    send(
        demo_client, adze, look="crisp", freeze_px="2 px", depth_m="30 cm", heading_deg="towards",
        camera="pan", pan_deg_s="90° in 6 s", travel_m_s="36 km/h", background_m="12 m", lamp_hz="250 Hz",
        subject_size_m="4 cm", light_change_stops="1,5", weight_noise="2", slow_factor="2",
        support="gimbal", recording="4K crop",
    )  # fmt: skip
    now = spec(adze)
    assert (now.intent.look, now.intent.freeze_px, now.intent.depth_m) == (Look.CRISP, 2, 0.3)
    assert (now.movement.camera, now.movement.pan_deg_s) == (Camera.PAN, 15)
    assert (now.movement.travel_m_s, now.movement.background_m) == (pytest.approx(10), 12)
    assert (now.movement.heading_deg, now.lamp_hz, now.light_change_stops) == (0, 250, 1.5)
    assert now.intent.emphasis_on("noise") == 2
    assert (now.format.name, now.support.value, now.subject_size_m) == ("4K crop", "gimbal", 0.04)
    demo_client.post(f"/shoots/{adze.shoot_id}/undo/")
    assert spec(adze).movement.camera is Camera.LOCKED
    send(demo_client, adze, freeze_px="none", depth_m="")
    assert spec(adze).intent.freeze_px is None


def test_a_method_follows_the_shoot_until_the_setup_has_its_own(
    demo_client: Any, adze: Setup
) -> None:
    shoot = adze.shoot
    shoot.look = "crisp"
    shoot.save()
    assert spec(adze).intent.look is Look.CRISP
    send(demo_client, adze, iso="640")
    assert "look" not in Setup.objects.get(pk=adze.pk).intent
    send(demo_client, adze, look="half_period")
    shoot.look = "open"
    shoot.save()
    assert spec(adze).intent.look is Look.HALF_PERIOD
    send(demo_client, adze, look="")
    assert spec(adze).intent.look is Look.OPEN


def test_freeing_the_lens_brings_in_the_bag(demo_client: Any, adze: Setup) -> None:
    assert spec(adze).packed_lenses == ()
    send(demo_client, adze, held_lens="0", held_focal_mm="0", held_subject_distance_m="0")
    assert {"Wide 20", "Long zoom"} <= {lens.name for lens in spec(adze).packed_lenses}
    page = plans(demo_client, adze)
    assert "lens" in text_of(page, "//h2/small")


def test_compare_and_copy(demo_client: Any, adze: Setup, demo: Any) -> None:
    other = demo.setups.get(code="5A")
    url = f"/shoots/{demo.pk}/compare/?left={adze.pk}&right={other.pk}"
    page = html.fromstring(demo_client.get(url).content.decode())
    # Both are at f/4: that is folded away, and only what differs stands in the table.
    assert not page.xpath("//tr[th='Iris']")
    assert "f/4" in text_of(page, "//details[@id='compare-same']//div[dt='Iris']")
    assert page.xpath("count(//tr[@class='differs'])") > 5
    assert page.xpath("//animateTransform | //animatetransform")
    demo_client.post(f"{adze.get_absolute_url()}take-settings/", {"source": str(other.pk)})
    copied, source = spec(adze), spec(other)
    assert copied.held == {"frame_rate", "shutter", *FRAMING}
    assert copied.limits == ()  # the launch's limit is on its distance, which stays its own
    for name in ("frame_rate", "shutter", "iris", "iso", "nd_density"):
        assert getattr(copied, name) == getattr(source, name)
    assert copied.light != source.light
    demo_client.post(f"/shoots/{demo.pk}/undo/")
    assert spec(adze).frame_rate == 100


@pytest.mark.parametrize("key", ["", "x", "999999", "9" * 400, "²", "-1"])
def test_nonsense_keys_compare_and_copy_nothing(demo_client: Any, adze: Setup, key: str) -> None:
    shoot = adze.shoot
    assert demo_client.get(f"/shoots/{shoot.pk}/compare/", {"left": key}).status_code == 200
    before = spec(adze)
    answer = demo_client.post(
        f"{adze.get_absolute_url()}take-settings/", {"source": key}, follow=True
    )
    assert "Choose the setup" in answer.content.decode()
    assert spec(adze) == before
    assert demo_client.get(f"{adze.get_absolute_url()}play/", {"against": key}).status_code == 200


def test_playing_beside_a_variant_or_another_setup(
    demo_client: Any, adze: Setup, demo: Any
) -> None:
    url = f"{adze.get_absolute_url()}play/"
    page = html.fromstring(demo_client.get(url, headers=FRAGMENT).content.decode())
    assert page.xpath("//option[@selected]/@value") == ["edit"]
    other = demo.setups.get(code="5A")
    page = html.fromstring(demo_client.get(url, {"against": other.pk}).content.decode())
    assert page.xpath("//option[@selected]/text()") == ["5A Launch, side pass"]
    # Stills have no cadence: they are not offered.
    assert "5B Gulls off the mast" not in page.xpath("//option/text()")


def test_advice_names_where_a_floating_value_runs_out(demo_client: Any, adze: Setup) -> None:
    send(demo_client, adze, light_change_stops="2")
    page = plans(demo_client, adze)
    table = text_of(page, "//table[@class='floats']")
    # ISO 500 up to the ceiling of 12800 is 4.7 stops, down to 100 2.3.
    assert "ISO floats from 100 to your ceiling 12800" in table
    assert "4.7 stops 2.3 stops" in " ".join(table.split())
    assert "motion holds the shutter" in text_of(page, "//details[@id='plans-auto']/p")


def test_the_tables_in_the_docs_are_what_the_planner_answers(demo: Shoot) -> None:
    from tools.planner_tables import PAGE, written

    page = PAGE.read_text("utf-8")
    assert written(page) == page
