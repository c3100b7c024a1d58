"""The second factor: codes by the clock, codes on paper, and no way round them."""

import base64
import hashlib
import hmac
import struct
import time
from typing import Any

import pytest
import time_machine
from django.contrib.auth.models import User
from django.test import Client
from django_otp.plugins.otp_totp.models import TOTPDevice
from lxml import html

from fotonomy.site import second_factor

PASSWORD = "quay-side-42"


def code_at(secret: bytes, seconds: float, digits: int = 6) -> str:
    """RFC 6238 with RFC 4226's truncation, written from the two texts and not from a library."""
    mac = hmac.new(secret, struct.pack(">Q", int(seconds) // 30), hashlib.sha1).digest()
    start = mac[-1] & 0x0F
    number = struct.unpack(">I", mac[start : start + 4])[0] & 0x7FFF_FFFF
    return str(number % 10**digits).zfill(digits)


# RFC 6238, Appendix B, the SHA1 rows: time and the code in eight digits.
RFC_6238 = [(59, "94287082"), (1111111109, "07081804"), (1111111111, "14050471"),
            (1234567890, "89005924"), (2000000000, "69279037")]  # fmt: skip


@pytest.mark.parametrize(("seconds", "code"), RFC_6238)
def test_codes_are_those_of_the_standard(stranger: User, seconds: int, code: str) -> None:
    secret = b"12345678901234567890"
    assert code_at(secret, seconds, 8) == code
    TOTPDevice.objects.create(user=stranger, confirmed=True, key=secret.hex())
    with time_machine.travel(seconds, tick=False):
        assert second_factor.opens(stranger, code[-6:])
        # Good once.
        assert not second_factor.opens(stranger, code[-6:])


def page_of(answer: Any) -> Any:
    return html.fromstring(answer.content.decode())


def said(answer: Any) -> str:
    return " ".join(page_of(answer).text_content().split())


def secret_of(answer: Any) -> bytes:
    """The secret as a person would type it."""
    return base64.b32decode(
        "".join(page_of(answer).xpath("string(//code[@class='secret'])").split())
    )


@pytest.fixture
def owner(client: Client, stranger: User) -> Client:
    client.force_login(stranger)
    return client


@pytest.fixture
def noon() -> Any:
    with time_machine.travel("2026-05-04T12:00:00+00:00", tick=False) as clock:
        yield clock


def switched_on(owner: Client, clock: Any) -> tuple[bytes, list[str]]:
    """The second factor switched on through the page: the secret and the codes for paper."""
    secret = secret_of(owner.get("/account/second-factor/"))
    answer = owner.post("/account/second-factor/", {"code": code_at(secret, time.time())})
    codes = page_of(answer).xpath("//ul[@class='paper-codes']//code/text()")
    assert len(set(codes)) == 10
    clock.shift(60)
    return secret, codes


def password_given(where: str = "") -> tuple[Client, Any]:
    """Somebody who gave the right password, from a browser of their own."""
    client = Client()
    return client, client.post(f"/log-in/{where}", {"username": "stranger", "password": PASSWORD})


def is_in(client: Client) -> bool:
    return client.get("/shoots/").status_code == 200


def test_the_password_alone_opens_no_page(owner: Client, noon: Any) -> None:
    secret, _ = switched_on(owner, noon)
    client, answer = password_given("?next=/kit/")
    assert answer["Location"] == "/log-in/code/?next=%2Fkit%2F"
    assert not is_in(client)
    assert client.get("/staff/").status_code == 302
    wrong = client.post("/log-in/code/", {"code": "000000"})
    assert wrong.status_code == 422
    assert "That code is not right" in said(wrong)
    assert not is_in(client)
    noon.shift(5)
    right = code_at(secret, time.time())
    answer = client.post("/log-in/code/", {"code": f"{right[:3]} {right[3:]}", "next": "/kit/"})
    assert answer["Location"] == "/kit/"
    assert is_in(client)
    # The same code, seen over the shoulder.
    other, _ = password_given()
    assert other.post("/log-in/code/", {"code": right}).status_code == 422
    assert not is_in(other)


def test_a_code_on_paper_opens_once(owner: Client, noon: Any) -> None:
    _, codes = switched_on(owner, noon)
    client, _ = password_given()
    code = codes[3].upper()
    assert client.post("/log-in/code/", {"code": f"{code[:4]}-{code[4:]}"}).status_code == 302
    assert is_in(client)
    assert "9 codes on paper are left" in said(owner.get("/account/second-factor/"))
    other, _ = password_given()
    assert other.post("/log-in/code/", {"code": code}).status_code == 422
    assert not is_in(other)


def test_guessing_is_slowed(owner: Client, noon: Any) -> None:
    """One second after the first wrong code, two after the second, four after the third."""
    secret, _ = switched_on(owner, noon)
    for wait in (1, 2, 4):
        client, _ = password_given()
        assert "not right" in said(client.post("/log-in/code/", {"code": "000000"}))
        noon.shift(wait - 0.5)
        hasty = client.post("/log-in/code/", {"code": code_at(secret, time.time())})
        assert "Too many wrong codes. Try again in 1 s." in said(hasty)
        assert not is_in(client)
        noon.shift(0.6)
    assert client.post("/log-in/code/", {"code": code_at(secret, time.time())}).status_code == 302
    assert is_in(client)


def test_six_wrong_codes_ask_for_the_password_again(
    owner: Client, noon: Any, monkeypatch: pytest.MonkeyPatch
) -> None:
    secret, _ = switched_on(owner, noon)
    monkeypatch.setattr(TOTPDevice, "get_throttle_factor", lambda _: 0)
    client, _ = password_given()
    for k in range(6):
        assert client.post("/log-in/code/", {"code": f"{k:06}"}).status_code == 422
    answer = client.post("/log-in/code/", {"code": code_at(secret, time.time())})
    assert answer["Location"] == "/log-in/"
    assert not is_in(client)


def test_whoever_dawdles_begins_again(owner: Client, noon: Any) -> None:
    secret, _ = switched_on(owner, noon)
    client, _ = password_given()
    noon.shift(599)
    assert client.get("/log-in/code/").status_code == 200
    noon.shift(2)
    answer = client.post("/log-in/code/", {"code": code_at(secret, time.time())})
    assert answer["Location"] == "/log-in/"
    assert not is_in(client)


def test_a_password_changed_meanwhile_ends_the_way_in(
    owner: Client, stranger: User, noon: Any
) -> None:
    secret, _ = switched_on(owner, noon)
    client, _ = password_given()
    stranger.set_password("slack-water-7")
    stranger.save()
    answer = client.post("/log-in/code/", {"code": code_at(secret, time.time())})
    assert answer["Location"] == "/log-in/"


def test_a_link_to_elsewhere_is_not_followed(owner: Client, noon: Any) -> None:
    secret, _ = switched_on(owner, noon)
    client, _ = password_given()
    sent = {"code": code_at(secret, time.time()), "next": "https://example.org/"}
    assert client.post("/log-in/code/", sent)["Location"] == "/shoots/"


def test_it_is_on_only_after_a_right_code_and_off_only_with_the_password(
    owner: Client, stranger: User, noon: Any
) -> None:
    secret_of(owner.get("/account/second-factor/"))
    wrong = owner.post("/account/second-factor/", {"code": "123"})
    assert "That code is not right" in said(wrong)
    assert is_in(password_given()[0])
    noon.shift(60)
    _, codes = switched_on(owner, noon)
    assert "Second factor: on" in said(owner.get("/account/"))
    refused = owner.post("/account/second-factor/", {"password": "guess", "off": "1"})
    assert "That is not the password" in said(refused)
    assert second_factor.has_second_factor(stranger)
    fresh = owner.post("/account/second-factor/", {"password": PASSWORD, "paper": "1"})
    assert not set(page_of(fresh).xpath("//ul[@class='paper-codes']//code/text()")) & set(codes)
    assert not second_factor.opens(stranger, codes[0])
    owner.post("/account/second-factor/", {"password": PASSWORD, "off": "1"})
    assert is_in(password_given()[0])
    assert second_factor.paper_codes_left(stranger) == 0


def test_the_staff_has_no_door_of_its_own_and_can_help(
    owner: Client, stranger: User, noon: Any
) -> None:
    stranger.is_staff = stranger.is_superuser = True
    stranger.save()
    switched_on(owner, noon)
    client = Client()
    answer = client.post("/staff/login/", {"username": "stranger", "password": PASSWORD})
    assert answer["Location"].startswith("/log-in/")
    assert client.get("/staff/")["Location"].startswith("/staff/login/")
    sent = {"action": "switch_second_factor_off", "_selected_action": [stranger.pk]}
    owner.post("/staff/auth/user/", sent)
    assert not second_factor.has_second_factor(stranger)


def test_the_demo_has_none(demo_client: Client) -> None:
    assert demo_client.get("/account/second-factor/")["Location"] == "/account/"
    assert "Second factor" not in html.fromstring(
        demo_client.get("/account/").content.decode()
    ).xpath("string(//main)")


def test_a_code_opens_its_owners_account_only(owner: Client, stranger: User, noon: Any) -> None:
    secret, codes = switched_on(owner, noon)
    other = User.objects.create_user("rigger", password=PASSWORD)
    TOTPDevice.objects.create(user=other, confirmed=True)
    second_factor.new_paper_codes(other)
    assert not second_factor.opens(other, code_at(secret, time.time()))
    assert not second_factor.opens(other, codes[0])
    noon.shift(60)
    assert second_factor.opens(stranger, code_at(secret, time.time()))
