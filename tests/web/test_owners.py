"""Nobody sees or changes what belongs to somebody else, by any address."""

from typing import Any

import pytest
from django.urls import reverse

from fotonomy.kit.models import Body
from fotonomy.shoots.models import Setup, Shoot
from fotonomy.shoots.services.shoots import make_shoot
from soak.strangers import PRESS, address_of, owned

OWNED = owned()


def test_every_owned_address_is_in_the_net() -> None:
    assert len(OWNED) >= 15
    assert "bench" in OWNED


@pytest.mark.parametrize("name", OWNED)
def test_a_stranger_finds_nothing_and_changes_nothing(
    client: Any, stranger: Any, adze: Setup, name: str
) -> None:
    client.force_login(stranger)
    before = (
        list(Setup.objects.values()),
        list(Shoot.objects.values()),
        list(Body.objects.values()),
    )
    url = address_of(name, adze)
    assert client.get(url).status_code in (404, 405)
    sent = {**PRESS, "order": str(adze.pk)}
    assert client.post(url, sent).status_code in (404, 405)
    after = (
        list(Setup.objects.values()),
        list(Shoot.objects.values()),
        list(Body.objects.values()),
    )
    assert before == after


@pytest.mark.parametrize("name", OWNED)
def test_nobody_gets_in_without_logging_in(client: Any, adze: Setup, name: str) -> None:
    answer = client.get(address_of(name, adze))
    assert answer.status_code == 302
    assert answer.url.startswith("/log-in/")


def test_a_setup_is_not_reached_through_another_shoot(
    client: Any, stranger: Any, adze: Setup
) -> None:
    mine = make_shoot(stranger, name="Mine", date="2027-01-01")
    client.force_login(stranger)
    assert client.get(reverse("bench", args=[mine.pk, adze.pk])).status_code == 404
    assert client.post(reverse("setup-delete", args=[mine.pk, adze.pk])).status_code == 404


def test_gear_of_somebody_else_cannot_be_chosen(client: Any, stranger: Any, adze: Setup) -> None:
    mine = make_shoot(stranger, name="Mine", date="2027-01-01")
    client.force_login(stranger)
    client.post(reverse("setup-new", args=[mine.pk]))
    row = mine.setups.get()
    client.post(
        row.get_absolute_url(), {"body": "A-cam", "lens": "Wide 20", "filters": "Polariser"}
    )
    row.refresh_from_db()
    assert (row.body.owner, row.lens.owner, row.filters.count()) == (stranger, stranger, 0)


def test_sign_up_and_demo_can_be_switched_off(client: Any, settings: Any, db: None) -> None:
    settings.SIGN_UP = "off"
    settings.DEMO_MODE = False
    assert client.get("/sign-up/").status_code == 404
    assert client.post("/demo/").status_code == 404
    page = client.get("/log-in/").content.decode()
    assert "Make an account" not in page
    assert "demo" not in page


def test_accounts_log_in_change_password_and_out(client: Any, stranger: Any) -> None:
    assert client.post("/log-in/", {"username": "stranger", "password": "no"}).status_code == 200
    answer = client.post("/log-in/", {"username": "stranger", "password": "quay-side-42"})
    assert answer.url == "/shoots/"
    client.post("/password/", {
        "old_password": "quay-side-42", "new_password1": "slack-water-7",
        "new_password2": "slack-water-7",
    })  # fmt: skip
    client.post("/log-out/")
    assert client.get("/shoots/").status_code == 302
    assert client.login(username="stranger", password="slack-water-7")


def test_pages_say_what_a_browser_may_load(client: Any, db: None) -> None:
    policy = client.get("/log-in/").headers["Content-Security-Policy"]
    assert "default-src 'none'" in policy
    assert "unsafe" not in policy


@pytest.mark.parametrize(("sent", "kept"), [("night", "night"), ("neon", "day"), ("", "day")])
def test_the_theme_is_remembered(client: Any, db: None, sent: str, kept: str) -> None:
    answer = client.post("/theme/", {"theme": sent, "next": "//elsewhere.example/"})
    assert answer.url == "/"
    assert f'data-theme="{kept}"' in client.get("/log-in/").content.decode()
