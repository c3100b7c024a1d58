"""What is typed in km/h, feet or a T-number is shown that way, and counted as it should be."""

from typing import Any

import pytest

from fotonomy.core.errors import RuleError
from fotonomy.core.spec.changes import Change, applied
from fotonomy.core.units import unit_typed
from fotonomy.shoots import history
from fotonomy.shoots.mapping import spec_of
from fotonomy.shoots.models import Setup
from fotonomy.shoots.packed_kit import packed_kit
from tests.core.examples import setup
from tests.web.test_bench import send


def shown(page: Any, name: str) -> list[str]:
    return page.xpath(f"//input[@id='f-{name}']/@value")


@pytest.mark.parametrize(
    ("tile", "name", "text", "kept", "metric"),
    [
        # 25/3.6; 6 * 0.3048 m (international foot, exact by its definition of 1959, from memory).
        ("motion", "subject_speed_m_s", "25 km/h", "25 km/h", 25 / 3.6),
        ("motion", "subject_speed_m_s", "12 MPH", "12 mph", 12 * 0.44704),
        ("focus", "subject_distance_m", "6 ft", "6 ft", 1.8288),
        ("focus", "subject_distance_m", "250cm", "250 cm", 2.5),
        ("focus", "subject_depth_m", "10 in", "10 in", 0.254),
        ("focus", "subject_distance_m", "2.5", "2.5 m", 2.5),
    ],
)  # fmt: skip
def test_a_unit_stays_as_typed(
    demo_client: Any, adze: Setup, tile: str, name: str, text: str, kept: str, metric: float
) -> None:
    page = send(demo_client, adze, tile, **{name: text})
    assert shown(page, name) == [kept]
    adze.refresh_from_db()
    assert getattr(adze, name) == pytest.approx(metric)


def test_another_value_by_a_press_keeps_the_unit_and_undo_takes_it_back(
    demo_client: Any, adze: Setup
) -> None:
    before = adze.subject_distance_m
    send(demo_client, adze, "focus", subject_distance_m="6 ft")
    page = send(demo_client, adze, "focus", fix='[["subject_distance_m", 3.048]]')
    assert shown(page, "subject_distance_m") == ["10 ft"]
    for _ in range(2):
        history.undo(adze.shoot)
    adze.refresh_from_db()
    assert adze.subject_distance_m == before
    assert not adze.intent.get("units")


def test_metres_are_usual_and_stay_nobodys_unit(demo_client: Any, adze: Setup) -> None:
    send(demo_client, adze, "motion", subject_size_m="3.00 m")
    page = send(demo_client, adze, "motion", fix='[["subject_size_m", 0.05]]')
    # Small things are told in millimetres, as long as nobody asked for another unit.
    assert shown(page, "subject_size_m") == ["50 mm"]


def test_a_t_number_counts_the_glass_of_the_lens(demo_client: Any, adze: Setup) -> None:
    # Half a stop lost: T4 is f/4 divided by 2 to the power of a quarter, f/3.364.
    lens = adze.lens
    lens.transmission_stops = 0.5
    lens.save()
    page = send(demo_client, adze, "light", iris="T4")
    assert shown(page, "iris") == ["T4"]
    adze.refresh_from_db()
    assert adze.iris == pytest.approx(4 / 2**0.25)
    assert "T4" in " ".join(page.xpath("//dl[@class='strip-items']")[0].text_content().split())
    page = send(demo_client, adze, "light", iris="f/4")
    assert shown(page, "iris") == ["f/4"]


def test_sentences_speak_the_unit_too(demo_client: Any, adze: Setup) -> None:
    page = send(demo_client, adze, "motion", subject_speed_m_s="25 km/h")
    words = " ".join(page.xpath("//form[@id='bench']")[0].text_content().split())
    assert "25 km/h" in words
    assert spec_of(adze, packed_kit(adze.shoot)).intent.units == ()


def test_only_units_that_a_setting_has_are_kept() -> None:
    assert unit_typed("iso", "640 ft") == ""
    assert unit_typed("subject_distance_m", "4 parsec") == ""
    with pytest.raises(RuleError, match="unit"):
        applied(setup(), [Change("unit_iso", "ft")])
    spec = applied(setup(), [Change("unit_travel_m_s", "mph")])
    assert spec.intent.unit_of("travel_m_s") == "mph"
    assert applied(spec, [Change("unit_travel_m_s", "")]).intent.units == ()
