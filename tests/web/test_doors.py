"""The door: guessing makes the guesser wait, and nobody else."""

from datetime import timedelta
from typing import Any

import pytest
from django.contrib.auth import get_user_model
from django.core import mail
from django.core.management import call_command
from django.test import Client
from django.utils import timezone
from django_otp.plugins.otp_totp.models import TOTPDevice

from fotonomy.site import doors
from fotonomy.site.doors import OF_ADDRESS, OF_DEVICE, OF_NAME, OF_PERSON, Patience, waits_s
from fotonomy.site.models import WrongTries

RIGHT, NETWORK, ELSEWHERE = "quay-side-42", "192.0.2.1", "192.0.2.2"


@pytest.fixture(autouse=True)
def counted(settings: Any, stranger: Any) -> None:
    settings.AXES_ENABLED = True


def log_in(
    password: str, address: str = NETWORK, name: str = "stranger", client: Client | None = None
) -> Any:
    sent = {"username": name, "password": password}
    return (client or Client()).post("/log-in/", sent, REMOTE_ADDR=address)


def later(seconds: float) -> None:
    """Let time go by: every count was made so much earlier."""
    for row in WrongTries.objects.all():
        row.last -= timedelta(seconds=seconds)
        row.save()


@pytest.mark.parametrize(
    ("wrong", "wait"), [(0, 0), (2, 0), (3, 10), (4, 20), (5, 40), (6, 60), (7, 60), (9**9, 60)]
)
def test_the_wait_doubles_and_ends(wrong: int, wait: float) -> None:
    assert Patience(3, 10, 60).wait_s(wrong) == wait


def test_guessing_makes_that_address_wait_for_that_name() -> None:
    for _ in range(OF_NAME.free - 1):
        assert log_in("guess").status_code == 200
    answer = log_in("guess")
    assert answer.status_code == 429
    assert "Wait 30 s" in answer.content.decode()
    assert answer["Retry-After"] == "30"
    assert log_in(RIGHT).status_code == 429
    assert log_in(RIGHT, ELSEWHERE).status_code == 302


def test_a_try_that_had_to_wait_makes_nothing_longer_and_the_next_one_doubles_it() -> None:
    for _ in range(OF_NAME.free + 20):
        log_in("guess")
    assert WrongTries.objects.get(key__startswith="name").count == OF_NAME.free
    later(31)
    assert "Wait 60 s" in log_in("guess").content.decode()
    later(59)
    assert log_in(RIGHT).status_code == 429
    later(2)
    assert log_in(RIGHT).status_code == 302
    assert not WrongTries.objects.filter(key__startswith="name").exists()


def test_a_known_device_does_not_wait_for_others() -> None:
    """A colleague on the same network guesses, or types one's name: one's own phone opens."""
    own = Client()
    assert log_in(RIGHT, client=own).status_code == 302
    own.post("/log-out/", REMOTE_ADDR=NETWORK)
    for _ in range(OF_NAME.free + 3):
        log_in("guess")
    assert log_in(RIGHT).status_code == 429
    assert log_in(RIGHT, client=own).status_code == 302


def test_a_known_device_waits_by_itself_and_briefly() -> None:
    own = Client()
    log_in(RIGHT, client=own)
    own.post("/log-out/")
    for _ in range(OF_DEVICE.free - 1):
        assert log_in("guess", client=own).status_code == 200
    assert "Wait 5 s" in log_in("guess", client=own).content.decode()
    # Its mistakes are nobody else's.
    assert log_in(RIGHT).status_code == 302
    later(6)
    assert log_in(RIGHT, client=own).status_code == 302


def test_a_device_is_known_for_who_was_logged_in_on_it_only() -> None:
    get_user_model().objects.create_user("rigger", password="slack-water-7")
    own = Client()
    log_in("slack-water-7", name="rigger", client=own)
    own.post("/log-out/")
    for _ in range(OF_NAME.free):
        log_in("guess", client=own)
    assert log_in(RIGHT, client=own).status_code == 429
    # Somebody else's device with a cookie made up is an unknown one.
    forged = Client()
    forged.cookies["device"] = "abc:1.2.3:sig"
    assert log_in(RIGHT, client=forged).status_code == 429


def test_an_address_waits_over_all_names() -> None:
    for at in range(OF_ADDRESS.free - 1):
        assert log_in("guess", name=f"name{at}").status_code == 200
    assert log_in("guess", name="one-more").status_code == 429
    assert log_in(RIGHT).status_code == 429
    assert log_in(RIGHT, ELSEWHERE).status_code == 302


def test_the_right_password_with_a_second_factor_goes_on_to_the_code(stranger: Any) -> None:
    TOTPDevice.objects.create(user=stranger, confirmed=True, name="phone")
    for _ in range(OF_NAME.free + 2):
        log_in("guess")
    assert log_in("guess").status_code == 429
    answer = log_in(RIGHT)
    assert (answer.status_code, answer.url) == (302, "/log-in/code/")


def test_looking_past_a_wait_ends(stranger: Any, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(doors, "LOOKS", Patience(4, 3600, 3600))
    TOTPDevice.objects.create(user=stranger, confirmed=True, name="phone")
    for _ in range(OF_NAME.free + 4):
        log_in("guess")
    assert log_in(RIGHT).status_code == 429


def test_a_count_is_forgotten_after_an_hour() -> None:
    for _ in range(OF_NAME.free - 1):
        log_in("guess")
    later(3599)
    assert log_in("guess").status_code == 429
    later(3601)
    assert log_in("guess").status_code == 200
    assert WrongTries.objects.get(key__startswith="name").count == 1


def test_a_clock_that_went_back_makes_nobody_wait_longer() -> None:
    WrongTries.objects.create(
        key="own 1", count=OF_PERSON.free, last=timezone.now() + timedelta(days=3)
    )
    assert waits_s([("own 1", OF_PERSON)]) == OF_PERSON.first_s


@pytest.mark.parametrize(
    ("page", "sent"),
    [("/account/", {"password": "{}"}),
     ("/password/", {"old_password": "{}", "new_password1": "slack-7-water", "new_password2": "slack-7-water"})],
)  # fmt: skip
def test_pages_of_ones_own_take_no_more_guesses_than_the_door(
    client: Any, stranger: Any, page: str, sent: dict[str, str]
) -> None:
    client.force_login(stranger)

    def give(password: str) -> str:
        data = {name: text.format(password) for name, text in sent.items()}
        return str(client.post(page, data).content.decode())

    for _ in range(OF_PERSON.free):
        assert "That is not the password." in give("guess")
    assert "Wrong too often: try again in 30 s." in give(RIGHT)
    assert get_user_model().objects.get(pk=stranger.pk).check_password(RIGHT)
    later(31)
    give(RIGHT)
    after = get_user_model().objects.filter(pk=stranger.pk).first()
    assert after is None or after.check_password("slack-7-water")


def test_the_second_factor_takes_no_more_guesses_either(client: Any, stranger: Any) -> None:
    client.force_login(stranger)
    TOTPDevice.objects.create(user=stranger, confirmed=True, name="phone")
    for _ in range(OF_PERSON.free):
        client.post("/account/second-factor/", {"password": "guess", "off": "1"})
    page = client.post("/account/second-factor/", {"password": RIGHT, "off": "1"}).content.decode()
    assert "Wrong too often: try again in 30 s. Nothing was changed." in page
    assert TOTPDevice.objects.filter(user=stranger).exists()


def test_mail_for_a_lost_password_comes_a_few_times(
    client: Any, stranger: Any, settings: Any
) -> None:
    settings.MAIL_ON = True
    stranger.email = "stranger@example.org"
    stranger.save()
    for _ in range(doors.OF_MAIL.free + 2):
        answer = client.post("/password/lost/", {"email": "Stranger@example.org"})
        assert (answer.status_code, answer.url) == (302, "/password/sent/")
    assert len(mail.outbox) == doors.OF_MAIL.free
    later(301)
    client.post("/password/lost/", {"email": "stranger@example.org"})
    assert len(mail.outbox) == doors.OF_MAIL.free + 1


@pytest.mark.parametrize(
    ("seconds", "words"), [(0.2, "1 s"), (99, "99 s"), (99.2, "2 minutes"), (900, "15 minutes")]
)
def test_waits_are_said_as_people_say_them(seconds: float, words: str) -> None:
    assert doors.wait_words(seconds) == words


@pytest.mark.parametrize(
    "command", [["axes_reset"], ["axes_reset_username", "stranger"], ["axes_reset_ip", NETWORK]]
)
def test_waits_are_ended_by_hand(command: list[str]) -> None:
    for _ in range(OF_NAME.free):
        log_in("guess")
        log_in("guess", ELSEWHERE, name="rigger")
    call_command(*command)
    assert log_in(RIGHT).status_code == 302
    others = log_in("guess", ELSEWHERE, name="rigger").status_code
    assert others == (200 if command == ["axes_reset"] else 429)


def test_a_log_in_of_ones_own_does_not_wipe_the_count_of_the_address() -> None:
    """Or whoever has an account could guess at all others from there without end."""
    for at in range(OF_ADDRESS.free - 1):
        log_in("guess", name=f"name{at}")
    assert log_in(RIGHT).status_code == 302
    assert log_in("guess", name="one-more").status_code == 429
