"""Weather in files: reports in METAR, forecasts as CSV, and as data."""

import csv
import json
from datetime import UTC, datetime
from io import StringIO

import pytest
from django.utils import timezone

from fotonomy.core.weather.report import Source
from fotonomy.exchange.errors import ExchangeError
from fotonomy.exchange.weather_files import (
    from_csv,
    from_metar,
    report_from_data,
    report_to_data,
    to_csv,
)
from tests.web.test_weather import DAWN, ENDS, NOW, REPORT


def test_a_report_by_hand() -> None:
    read = from_metar(REPORT, DAWN, ENDS, NOW)
    assert read.at == datetime(2027, 6, 5, 3, tzinfo=UTC)
    # 12 and 20 knots at 1852 m an hour each; BKN is 5 to 7 eighths; it rains.
    assert (read.wind_m_s, read.gust_m_s) == (6.2, 10.3)
    assert (read.oktas, read.rain_percent, read.temperature_c) == (6, 100, 11)
    # 11 °C over a dew point of 8: 82 % by Magnus' formula.
    assert read.humidity_percent == 82
    assert (read.said_by, read.source) == ("XTRN", Source.IMPORTED)


@pytest.mark.parametrize(
    ("text", "oktas", "rain"),
    [("050330Z 00000KT CAVOK 05/M01 Q1020", 0, 0), ("050330Z 00000KT SKC 05/M01", 0, 0),
     ("050330Z VRB02KT 0300 FG VV001 02/02", 8, 0), ("050330Z 02005MPS +SHRA OVC012 02/02", 8, 100),
     ("050330Z 02005MPS FEW012 SCT040 02/02", 3.5, 0), ("050330Z 02005MPS NSC 02/02", 0, 0),
     ("050330Z 02005MPS DZ 02/02", None, 100), ("050330Z 02005MPS FEW010 02/02 RMK X", 1.5, 0)],
)  # fmt: skip
def test_cloud_and_rain_of_reports(text: str, oktas: float | None, rain: float) -> None:
    read = from_metar(text, DAWN, ENDS, NOW)
    assert (read.oktas, read.rain_percent) == (oktas, rain)


@pytest.mark.parametrize(
    ("text", "said"),
    [("", "paste a report first"), ("calm and warm", "no day and hour"),
     ("TAF XTRN 050300Z", "a forecast"), ("030300Z 00000KT CAVOK 05/M01", "is of day 03"),
     ("050630Z 24012KT", "yet to come"), ("A" * 600, "more than 500"),
     ("050300Z AUTO /////KT //// // ////// ///// Q////", "says nothing")],
)  # fmt: skip
def test_reports_that_are_none(text: str, said: str) -> None:
    with pytest.raises(ExchangeError, match=said):
        from_metar(text, DAWN, ENDS, NOW)


CSV = (
    "\ufeffTime;Cloud cover %;Precipitation probability %;Temperature F;Dew point F;"
    "Wind direction;Wind km/h;Gust (kn);Rain amount mm\n"
    "2027-06-05 06:00;50;20;50;41;240;36;30;0.4\n"
    "2027-06-04T23:00:00Z;100;80%;46,4;;250;;;\n"
).encode()


def test_a_forecast_by_hand() -> None:
    zone = timezone.get_fixed_timezone(600)
    first, second = from_csv(CSV, zone, NOW)
    assert first.at == datetime(2027, 6, 4, 20, tzinfo=UTC)
    assert (first.oktas, first.rain_percent, first.wind_m_s) == (4, 20, pytest.approx(10))
    assert first.temperature_c == pytest.approx(10)
    # 10 °C over a dew point of 5: 71 % (Magnus); thirty knots are 15.4 m/s.
    assert first.humidity_percent == 71
    assert first.gust_m_s == pytest.approx(15.43, abs=0.01)
    assert second.at == datetime(2027, 6, 4, 23, tzinfo=UTC)
    assert (second.oktas, second.rain_percent) == (8, 80)
    assert second.temperature_c == pytest.approx(8)
    assert second.wind_m_s is None
    assert second.humidity_percent is None


def test_a_humidity_that_is_said_goes_before_one_worked_out() -> None:
    text = "time,temperature C,dew point C,humidity %\n2027-06-05 09:00,10,5,60\n"
    (read,) = from_csv(text.encode(), timezone.get_fixed_timezone(600), NOW)
    assert read.humidity_percent == 60


@pytest.mark.parametrize(
    ("text", "said"),
    [("", "no heading"), ("time,cloud\n", "no heading"), ("cloud,rain\n1,2\n", "no column time"),
     ("time,colour\n2027-06-05,1\n", "names no cloud"), ("time,cloud\nmonday,1\n", "line 2, time"),
     ("time,cloud\n2027-06-05 09:00,many\n", "line 2, oktas"),
     ("time,cloud\n2027-06-05 09:00,9\n", "line 2, oktas"), ("time,cloud\n,4\n", "has no time"),
     ("time,wind\n2027-06-05 09:00,900\n", "line 2, wind"), ('time,cloud\n"2027', "is no CSV"),
     ("time,cloud\n0001-01-01 00:00+14:00,4\n", "outside the calendar")],
)  # fmt: skip
def test_forecasts_that_are_none(text: str, said: str) -> None:
    with pytest.raises(ExchangeError, match=said):
        from_csv(text.encode(), timezone.get_fixed_timezone(600), NOW)


def test_what_is_written_is_read_back() -> None:
    zone = timezone.get_fixed_timezone(600)
    reports = from_csv(CSV, zone, NOW)
    text = to_csv(reports, zone)
    # A foreign reader: the standard library's own.
    rows = list(csv.DictReader(StringIO(text)))
    assert rows[0]["time"] == "2027-06-05T06:00+10:00"
    assert (rows[0]["cloud oktas"], rows[0]["wind m/s"]) == ("4", "10")
    assert rows[1]["humidity %"] == ""
    again = from_csv(text.encode(), zone, NOW)
    assert [one.oktas for one in again] == [4, 8]
    assert again[0].at == reports[0].at


def test_a_report_as_data_and_back() -> None:
    report = from_metar(REPORT, DAWN, ENDS, NOW)
    data = report_to_data(report)
    assert report_from_data(json.loads(json.dumps(data))) == report
    for key, wrong, said in (
        ("at", "noon", "is no moment"), ("at", "2027-06-05T09:00", "is no moment"),
        ("source", "guessed", "simulated, typed"), ("oktas", 12, "between 0 and 8"),
        ("oktas", "5", "no number"), ("oktas", True, "no number"), ("colour", 1, "not known"),
        ("said_by", 5, "no text"), ("said_by", "x" * 50, "characters"),
    ):  # fmt: skip
        with pytest.raises(ExchangeError, match=said):
            report_from_data({**data, key: wrong})
    with pytest.raises(ExchangeError):
        report_from_data([])
