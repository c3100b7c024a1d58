"""The weather of a day through the pages: typed, simulated, a report, a forecast, and who asked."""

import csv
import re
from datetime import UTC, date, datetime, time, timedelta
from io import StringIO
from typing import Any
from unittest import mock

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse
from django.utils import timezone
from lxml import html

from fotonomy.core.weather.report import VALUES, Report, Source
from fotonomy.days.presenters import weather as presenter
from fotonomy.days.views.weather import column_step
from fotonomy.exchange.errors import ExchangeError
from fotonomy.shoots import history
from fotonomy.shoots.archive import archive_of, import_archive
from fotonomy.shoots.mapping import reports_of, spec_of, weather_of, weather_row
from fotonomy.shoots.models import DayWeather, Place, Setup, Shoot
from fotonomy.shoots.packed_kit import packed_kit
from fotonomy.shoots.services.shoots import delete_part, make_shoot
from fotonomy.shoots.services.weather import change_hours
from tests.web.test_days import day_address, page_of, words

DAWN = datetime(2027, 6, 4, 11, tzinfo=UTC)
ENDS = datetime(2027, 6, 6, 2, tzinfo=UTC)
AGE = r"(just now|\d+ \w+ ago)"
MESSAGES = "//*[@id='messages']"
NOW = datetime(2027, 6, 5, 4, tzinfo=UTC)


def address(shoot: Shoot, name: str = "weather", at: int = 0) -> str:
    return reverse(name, args=[shoot.pk, list(shoot.days.all())[at].pk])


def fields(page: Any) -> dict[str, str]:
    """What a browser would send of the form of hours."""
    inputs = page.xpath("//table/ancestor::form//input")
    return {one.get("name"): one.get("value") or "" for one in inputs}


def named(sent: dict[str, str], clock: str, value: str, page: Any) -> str:
    """The name of a field by its label."""
    label = page.xpath(f"//input[@aria-label='{value} at {clock}']/@name")
    assert len(label) == 1
    assert label[0] in sent
    return str(label[0])


def hour(row: DayWeather, clock: str) -> Report:
    known = reports_of(row)
    assert known is not None
    zone = row.place.zone
    return next(r for r in known.reports if f"{r.at.astimezone(zone):%H:%M}" == clock)


@pytest.fixture
def row(demo: Shoot) -> DayWeather:
    return DayWeather.objects.get(day=demo.first_day)


def test_hours_are_typed_in_the_units_people_use(
    demo_client: Any, demo: Shoot, row: DayWeather
) -> None:
    page = page_of(demo_client.get(address(demo)))
    sent = fields(page)
    for clock, value, text in (
        ("12:00", "Wind, m/s", "36 km/h"), ("12:00", "Cloud, of 8", "overcast"),
        ("15:00", "Air, °C", "50 F"), ("03:00", "Rain, %", "35 %"), ("18:00", "Rain, %", ""),
    ):  # fmt: skip
        sent[named(sent, clock, value, page)] = text
    answer = demo_client.post(address(demo), sent, follow=True)
    assert "The weather is kept" in words(page_of(answer), MESSAGES)
    row.refresh_from_db()
    assert (hour(row, "12:00").wind_m_s, hour(row, "12:00").oktas) == (10, 8)
    assert hour(row, "15:00").temperature_c == 10
    assert hour(row, "03:00").rain_percent == 35
    assert hour(row, "03:00").oktas is None
    assert hour(row, "18:00").rain_percent is None
    # What nobody touched stays as it was.
    assert hour(row, "18:00").humidity_percent == 80
    assert history.undo(demo) is not None
    row.refresh_from_db()
    assert hour(row, "12:00").wind_m_s == 3
    assert "2027-06-04T17:00:00+00:00" not in row.hours


def test_a_wrong_value_stays_beside_its_reason_and_nothing_is_kept(
    demo_client: Any, demo: Shoot, row: DayWeather
) -> None:
    page = page_of(demo_client.get(address(demo)))
    sent = fields(page)
    sent[named(sent, "12:00", "Wind, m/s", page)] = "breezy"
    sent[named(sent, "15:00", "Cloud, of 8", page)] = "7"
    answer = demo_client.post(address(demo), sent)
    assert answer.status_code == 422
    page = page_of(answer)
    (wrong,) = page.xpath("//td[contains(@class, 'has-error')]")
    assert wrong.xpath(".//input/@value") == ["breezy"]
    assert "a wind speed such as 6 m/s" in " ".join(wrong.text_content().split()).replace(
        "A w", "a w"
    )
    assert page.xpath("//input[@aria-label='Cloud, of 8 at 15:00']/@value") == ["7"]
    row.refresh_from_db()
    assert hour(row, "15:00").oktas == 3
    # Mended and sent again, both are kept: the page still knows what it was shown with.
    sent = fields(page)
    sent[named(sent, "12:00", "Wind, m/s", page)] = "9"
    demo_client.post(address(demo), sent)
    row.refresh_from_db()
    assert (hour(row, "12:00").wind_m_s, hour(row, "15:00").oktas) == (9, 7)


def test_two_people_type_into_one_day_and_lose_nothing(
    demo_client: Any, demo: Shoot, row: DayWeather
) -> None:
    page = page_of(demo_client.get(address(demo)))
    one, other = fields(page), fields(page)
    one[named(one, "12:00", "Wind, m/s", page)] = "8"
    other[named(other, "12:00", "Cloud, of 8", page)] = "7"
    other[named(other, "18:00", "Wind, m/s", page)] = "11"
    demo_client.post(address(demo), one)
    demo_client.post(address(demo), other)
    row.refresh_from_db()
    assert (hour(row, "12:00").wind_m_s, hour(row, "12:00").oktas) == (8, 7)
    assert hour(row, "18:00").wind_m_s == 11


def test_undo_of_one_keeps_what_the_other_typed(demo: Shoot, row: DayWeather) -> None:
    now = timezone.now()
    at = {clock: hour(row, clock).at for clock in ("12:00", "18:00")}
    change_hours(row.place, row.day, {at["12:00"]: {"wind_m_s": 8.0}}, now, "one")
    step = history.steps(demo).last()
    change_hours(row.place, row.day, {at["18:00"]: {"wind_m_s": 9.0}}, now, "other")
    assert history.undo(demo, step.pk) is not None
    row.refresh_from_db()
    assert (hour(row, "12:00").wind_m_s, hour(row, "18:00").wind_m_s) == (3, 9)


def test_simulating_keeps_what_people_gave(demo_client: Any, demo: Shoot, row: DayWeather) -> None:
    answer = demo_client.post(reverse("weather-simulate", args=[demo.pk, row.day_id]), follow=True)
    assert "invented, no forecast" in words(page_of(answer), MESSAGES)
    row.refresh_from_db()
    known = reports_of(row)
    assert known is not None
    assert {one.source for one in known.reports} == {Source.TYPED, Source.SIMULATED}
    assert hour(row, "12:00").source is Source.TYPED
    said = words(page_of(answer))
    assert re.search(rf"Where it comes from: simulated {AGE}; typed {AGE}", said)
    before = row.hours
    # Again is the same weather, and no second set of hours.
    demo_client.post(reverse("weather-simulate", args=[demo.pk, row.day_id]))
    row.refresh_from_db()
    assert set(row.hours) == set(before)


def test_simulated_air_does_not_go_up_and_down_between_typed_hours(
    demo_client: Any, demo: Shoot
) -> None:
    second = list(demo.days.all())[1]
    row = DayWeather.objects.get(day=second)
    # At two in the night somebody knew the wind alone.
    two = hour(row, "02:00").at
    change_hours(
        row.place, second, {two: {name: None for name in VALUES if name != "wind_m_s"}},
        timezone.now(), "wind alone",
    )  # fmt: skip
    demo_client.post(reverse("weather-simulate", args=[demo.pk, second.pk]))
    row.refresh_from_db()
    known = reports_of(row)
    assert known is not None
    typed = [one for one in known.reports if one.source is Source.TYPED]
    for one in known.reports:
        near = [t for t in typed if abs(t.at - one.at) < timedelta(hours=3) and t is not one]
        for name in VALUES if one.source is Source.SIMULATED else ():
            if any(getattr(t, name) is not None for t in near):
                assert getattr(one, name) is None
    # Three is within reach of the wind at two, and of no air that was typed.
    three = next(one for one in known.reports if one.at == two + timedelta(hours=1))
    assert (three.wind_m_s, three.temperature_c is None) == (None, False)
    assert hour(row, "02:00").wind_m_s == 1


def test_a_column_of_the_hours_is_a_line(
    demo_client: Any, demo: Shoot, monkeypatch: pytest.MonkeyPatch
) -> None:
    """A throw-away column has its head and its field in every hour, with what it is called."""
    monkeypatch.setattr(presenter, "COLUMNS", (*presenter.COLUMNS, ("oktas", "Gulls, of 8")))
    page = page_of(demo_client.get(address(demo)))
    assert page.xpath("//table[contains(@class, 'weather-hours')]//th[text()='Gulls, of 8']")
    hours = len(page.xpath("//table[contains(@class, 'weather-hours')]//th[@scope='row']"))
    fields = page.xpath("//input[contains(@aria-label, 'Gulls, of 8 at')]")
    assert len(fields) == hours > 0
    assert len(page.xpath("//td[@data-label='Gulls, of 8']")) == hours


def test_a_place_without_degrees_cannot_be_simulated(client: Any, stranger: Any) -> None:
    client.force_login(stranger)
    shoot = make_shoot(stranger, name="Mine", date=date(2027, 1, 1), place_name="Somewhere")
    answer = client.post(address(shoot, "weather-simulate"), follow=True)
    assert "Somewhere has no latitude and longitude yet" in words(page_of(answer), MESSAGES)
    assert not DayWeather.objects.filter(shoot=shoot).exists()


def test_dropping_is_one_step(demo_client: Any, demo: Shoot, row: DayWeather) -> None:
    kept = row.hours
    page = page_of(
        demo_client.post(reverse("weather-drop", args=[demo.pk, row.day_id]), follow=True)
    )
    assert "Nothing is known yet" in words(page)
    (undo,) = page.xpath("//form[.//button[starts-with(text(), 'Undo')]]")
    sent = {one.get("name"): one.get("value") for one in undo.xpath(".//input")}
    answer = demo_client.post(undo.get("action"), sent, follow=True)
    assert answer.redirect_chain[-1][0].startswith(address(demo))
    row.refresh_from_db()
    assert row.hours == kept


def test_a_place_near_by_goes_by_the_nearest_weather(demo: Shoot, row: DayWeather) -> None:
    jetty = demo.places.get(name="Outer jetty")
    assert weather_row(jetty, row.day) == row
    # A degree of latitude is 111 km: past thirty the weather is another.
    jetty.latitude_deg -= 0.25
    assert weather_row(jetty, row.day) == row
    jetty.latitude_deg -= 0.05
    assert weather_row(jetty, row.day) is None
    own = DayWeather.objects.create(
        shoot=demo, place=jetty, day=row.day, hours=dict([next(iter(row.hours.items()))])
    )
    assert weather_row(jetty, row.day) == own
    jetty.latitude_deg = None
    assert weather_row(jetty, row.day) == own
    own.delete()
    assert weather_row(jetty, row.day) is None


def test_the_page_says_whose_weather_it_goes_by(demo_client: Any, demo: Shoot) -> None:
    forge = demo.places.get(name="Forge")
    page = page_of(demo_client.get(f"{address(demo)}?place={forge.pk}"))
    assert "the day goes by the weather at Tern Slip, mill" in words(page)


def test_the_day_advises_and_the_bench_finds(demo_client: Any, demo: Shoot) -> None:
    mill, ferry = demo.setups.get(code="1A"), demo.setups.get(code="7A")
    page = page_of(demo_client.get(f"{day_address(demo)}?setup={mill.pk}"))
    said = words(page, "//*[@class='in-hand']")
    assert re.search(rf"weather \(typed {AGE}\): 2 eighths of cloud, rain 0 %, 4 °C", said)
    assert "Dew is likely on the front glass: a lens heater" in said
    page = page_of(demo_client.get(f"{day_address(demo, 1)}?setup={ferry.pk}"))
    assert "Keep shooting. Rain is likely, and welcome" in words(page, "//*[@class='in-hand']")
    bench = words(page_of(demo_client.get(mill.get_absolute_url())))
    assert "Dew is likely on the front glass" in bench


def test_bad_weather_is_a_caution_with_a_better_hour(demo_client: Any, demo: Shoot) -> None:
    second = list(demo.days.all())[1]
    row = DayWeather.objects.get(day=second)
    at = {clock: hour(row, clock).at for clock in ("19:00", "20:00", "23:00")}
    change_hours(
        row.place, second, {at["19:00"]: {"oktas": 8.0}, at["20:00"]: {"oktas": 8.0}},
        timezone.now(), "cloud",
    )  # fmt: skip
    page = page_of(demo_client.get(day_address(demo, 1)))
    said = words(page, "//*[@class='clashes']")
    assert "Too much cloud for stars: 8A Mast and stars." in said
    assert "(typed)" in said
    assert page.xpath("//*[@class='clashes']//button[starts-with(text(), 'Move it to')]")


def test_no_weather_gets_under_a_roof(demo_client: Any, demo: Shoot) -> None:
    setup = demo.setups.select_related("place", "day", "shoot").get(code="1A")
    assert spec_of(setup, packed_kit(demo)).weather is not None
    Place.objects.filter(pk=setup.place_id).update(roofed=True)
    setup = Setup.objects.select_related("place", "day", "shoot").get(pk=setup.pk)
    assert spec_of(setup, packed_kit(demo)).weather is None
    page = page_of(demo_client.get(f"{day_address(demo)}?setup={setup.pk}"))
    assert "Dew" not in words(page, "//*[@class='in-hand']")


def test_changed_weather_renews_the_running_order(demo: Shoot, row: DayWeather) -> None:
    demo.setups.update(summary={"by": "old"})
    row.save()
    kept = demo.setups.filter(summary__isnull=False).values_list("day_id", flat=True)
    assert set(kept) == {list(demo.days.all())[1].pk}


REPORT = "METAR XTRN 050300Z 24012G20KT 9999 -RA FEW012 BKN030 11/08 Q1013="


def test_a_pasted_report_is_kept_and_a_wrong_one_stays_in_its_field(
    demo_client: Any, demo: Shoot, row: DayWeather
) -> None:
    where = reverse("weather-report", args=[demo.pk, row.day_id])
    answer = demo_client.post(where, {"report": "sunny"})
    assert answer.status_code == 422
    page = page_of(answer)
    assert page.xpath("//textarea")[0].text == "sunny"
    assert "no day and hour" in words(page, "//*[@class='field-error']")
    # Today it lies in the future; on the day itself it is kept.
    assert "yet to come" in words(page_of(demo_client.post(where, {"report": REPORT})))
    with mock.patch("fotonomy.days.views.weather.timezone") as clock:
        clock.now.return_value = NOW
        answer = demo_client.post(where, {"report": REPORT}, follow=True)
    assert "Kept for 13:00: imported, XTRN just now" in words(page_of(answer), MESSAGES)
    row.refresh_from_db()
    assert hour(row, "13:00").wind_m_s == 6.2


def test_a_forecast_goes_to_the_days_it_belongs_to(demo_client: Any, demo: Shoot) -> None:
    lines = ["time,cloud,wind m/s"]
    start = datetime(2027, 6, 3, tzinfo=UTC)
    lines += [f"{start + timedelta(hours=h):%Y-%m-%dT%H:%MZ},6,3" for h in range(0, 120, 6)]
    upload = SimpleUploadedFile("forecast.csv", "\n".join(lines).encode())
    answer = demo_client.post(address(demo, "weather-import"), {"file": upload}, follow=True)
    said = words(page_of(answer), MESSAGES)
    assert "hours for Saturday 5 June 2027" in said
    assert "hours for Sunday 6 June 2027" in said
    for row in DayWeather.objects.filter(shoot=demo):
        known = reports_of(row)
        assert known is not None
        assert Source.IMPORTED in {one.source for one in known.reports}
    upload = SimpleUploadedFile("forecast.csv", b"time,cloud\n2030-01-01 09:00,4\n")
    answer = demo_client.post(address(demo, "weather-import"), {"file": upload}, follow=True)
    assert "None of the 1 hours lies on a day" in words(page_of(answer), MESSAGES)


def test_the_file_of_a_day(demo_client: Any, demo: Shoot) -> None:
    answer = demo_client.get(address(demo, "weather-file"))
    assert answer["Content-Type"].startswith("text/csv")
    rows = list(csv.DictReader(StringIO(answer.content.decode())))
    assert [row["time"][11:16] for row in rows][:3] == ["06:00", "09:00", "12:00"]
    upload = SimpleUploadedFile("back.csv", answer.content)
    page = page_of(demo_client.post(address(demo, "weather-import"), {"file": upload}, follow=True))
    assert "6 hours for Saturday" in words(page, MESSAGES)


def test_the_archive_carries_the_weather(demo: Shoot, stranger: Any) -> None:
    import_archive(stranger, archive_of(demo.owner))
    twin = Shoot.objects.get(owner=stranger)
    ours = [row.hours for row in demo.weathers.order_by("day__date")]
    assert [row.hours for row in twin.weathers.order_by("day__date")] == ours
    assert len(ours) == 2


def test_an_archive_with_weather_that_cannot_be_is_refused(
    demo: Shoot, stranger: Any, monkeypatch: pytest.MonkeyPatch
) -> None:
    # As another program may have written it: this one leaves out what cannot be.
    monkeypatch.setattr(DayWeather, "RULES", {})
    row = demo.weathers.first()
    assert row is not None
    broken = {key: {**one, "oktas": 40} for key, one in row.hours.items()}
    DayWeather.objects.filter(pk=row.pk).update(hours=broken)
    with pytest.raises(ExchangeError, match="oktas"):
        import_archive(stranger, archive_of(demo.owner))
    assert not Shoot.objects.filter(owner=stranger).exists()


def test_stored_weather_that_cannot_be_breaks_no_page(demo_client: Any, demo: Shoot) -> None:
    for hours in ({"x": {"at": "never"}}, {"x": []}, {"x": {"oktas": 99}}):
        DayWeather.objects.update(hours=hours)
        for place in (day_address(demo), address(demo)):
            assert demo_client.get(place).status_code == 200
        assert weather_of(demo.main_place, demo.first_day) is None


def test_a_deleted_place_comes_back_with_its_weather(demo: Shoot, row: DayWeather) -> None:
    hours = row.hours
    mill = demo.places.get(pk=row.place_id)
    mill.shoot = demo
    delete_part(mill)
    assert not DayWeather.objects.filter(shoot=demo).exists()
    assert history.undo(demo) is not None
    assert DayWeather.objects.get(pk=row.pk).hours == hours


def test_a_deleted_day_comes_back_with_its_weather(demo: Shoot, row: DayWeather) -> None:
    row.day.shoot = demo
    delete_part(row.day)
    assert DayWeather.objects.filter(shoot=demo).count() == 1
    assert history.undo(demo) is not None
    assert DayWeather.objects.get(pk=row.pk).hours == row.hours


@pytest.mark.parametrize(
    "sent",
    [{"was": "{"}, {"was": "[]"}, {"v|x|oktas": "4"}, {"v|2027-06-05T02:00:00+00:00|oktas": "4"},
     {"place": "99999999999999999999"}, {"v|2027-06-05T02:00:00+00:00|colour": "red"}],
)  # fmt: skip
def test_forged_forms_break_nothing(demo_client: Any, demo: Shoot, sent: dict[str, str]) -> None:
    assert demo_client.post(address(demo), sent).status_code in (302, 422)
    assert demo_client.get(address(demo)).status_code == 200


def test_a_call_after_noon_and_a_wrap_after_midnight(demo_client: Any, demo: Shoot) -> None:
    clocks = html.fromstring(demo_client.get(address(demo, at=1)).content).xpath(
        "//table[contains(@class, 'weather-hours')]//th[@scope='row']/text()"
    )
    assert clocks[0] == "12:00"
    assert clocks[-1] == "Mon 03:00"
    assert "Mon 02:00" in clocks
    day = demo.first_day
    day.call, day.wrap = time(0), time(23)
    day.save()
    page = page_of(demo_client.get(address(demo)))
    assert page.xpath("//table//th[@scope='row']/text()")[0] == "00:00"


def test_hours_stand_under_the_drawing_where_they_are_even(demo_client: Any, demo: Shoot) -> None:
    """Columns a step apart; hours unevenly apart, or too many, stand in rows with their clocks."""
    three = [datetime(2027, 6, 5, hour, tzinfo=UTC) for hour in (0, 3, 6)]
    assert column_step(three) == timedelta(hours=3)
    assert column_step([*three, datetime(2027, 6, 5, 7, tzinfo=UTC)]) is None
    hourly = [three[0] + timedelta(hours=k) for k in range(26)]
    assert column_step(hourly[:25]) == timedelta(hours=1)
    assert column_step(hourly) is None
    demo_client.cookies["screen"] = "1280x800"
    day = demo.first_day
    address = reverse("weather", args=[demo.pk, day.pk])
    assert 'class="parts weather-hours on-axis"' in demo_client.get(address).content.decode()
    demo_client.cookies["screen"] = "390x844"
    assert "on-axis" not in demo_client.get(address).content.decode()
