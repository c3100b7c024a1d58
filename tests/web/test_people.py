"""Sessions, invitations, staff, lost passwords."""

import re
from typing import Any

import pytest
from django.contrib.auth import get_user_model
from django.core import mail
from django.test import Client
from django.urls import reverse
from lxml import html

from fotonomy.kit.models import Body
from fotonomy.shoots.models import Setup, Shoot
from fotonomy.site.models import Invitation
from fotonomy.web.persons import PERSON_HEADER

NEW = {"username": "rigger", "password1": "slack-7-water", "password2": "slack-7-water"}


def logged_in(browser: str) -> Client:
    client = Client(headers={"user-agent": browser})
    sent = {"username": "stranger", "password": "quay-side-42"}
    assert client.post("/log-in/", sent).status_code == 302
    return client


def test_sessions_are_listed_and_the_others_ended(stranger: Any) -> None:
    here, there, phone = (logged_in(name) for name in ("Desk", "Van", "Phone"))
    page = html.fromstring(here.get("/account/").content.decode())
    places = [
        " ".join(one.text_content().split()) for one in page.xpath("//ul[@class='sessions']/li")
    ]
    assert len(places) == 3
    assert places[0].startswith("Here, since ")
    assert places[0].endswith("UTC, Desk")
    assert {one.split()[-1] for one in places[1:]} == {"Van", "Phone"}
    answer = here.post("/account/", {"end_others": "1"}, follow=True)
    assert "Logged out in 2 other places." in answer.content.decode()
    assert here.get("/shoots/").status_code == 200
    assert [one.get("/shoots/").status_code for one in (there, phone)] == [302, 302]


def test_nobody_ends_somebody_elses_sessions(stranger: Any, demo_client: Any) -> None:
    theirs, other = logged_in("Desk"), Client()
    other.post("/demo/")
    demo_client.post("/account/", {"end_others": "1"})
    assert theirs.get("/shoots/").status_code == 200
    # Nor does anybody in the demo throw the others out of it, or see them.
    assert other.get("/shoots/").status_code == 200
    assert "Where you are logged in" not in demo_client.get("/account/").content.decode()


def test_by_invitation_only_whoever_has_one_comes_in_and_once(db: None, settings: Any) -> None:
    settings.SIGN_UP = "invitation"
    invitation = Invitation.objects.create(note="Second unit")
    assert Client().get("/sign-up/").status_code == 404
    assert Client().get("/sign-up/?invitation=guess").status_code == 404
    assert Client().post("/sign-up/", NEW).status_code == 404
    assert "Make an account" not in Client().get("/log-in/").content.decode()
    client = Client()
    page = html.fromstring(client.get(invitation.get_absolute_url()).content.decode())
    sent = {**NEW, "invitation": page.xpath("//input[@name='invitation']/@value")[0]}
    assert client.post("/sign-up/", sent).status_code == 302
    invitation.refresh_from_db()
    assert invitation.used_by == get_user_model().objects.get(username="rigger")
    assert client.get("/kit/").status_code == 200
    again = {**sent, "username": "rigger2"}
    assert Client().post("/sign-up/", again).status_code == 404


def test_an_invitation_open_in_two_windows_is_used_once(
    db: None, settings: Any, monkeypatch: pytest.MonkeyPatch
) -> None:
    settings.SIGN_UP = "invitation"
    invitation = Invitation.objects.create()
    stale = Invitation.objects.get(pk=invitation.pk)
    sent = {**NEW, "invitation": invitation.code}
    assert Client().post("/sign-up/", sent).status_code == 302
    monkeypatch.setattr("fotonomy.site.views.get_object_or_404", lambda *_, **__: stale)
    answer = Client().post("/sign-up/", {**sent, "username": "rigger2"})
    assert answer.status_code == 200
    assert not get_user_model().objects.filter(username="rigger2").exists()


def test_staff_see_people_and_invitations_and_nothing_planned(demo: Shoot, settings: Any) -> None:
    get_user_model().objects.create_superuser("chief", password="slack-water-7")
    client = Client()
    client.post("/log-in/", {"username": "chief", "password": "slack-water-7"})
    index = client.get("/staff/").content.decode()
    assert "Users" in index
    assert "Invitations" in index
    for word in ("Keel to Tide", "Setups</", "Shoots</", "Sessions</", "Bodies", "Access"):
        assert word not in index
    client.post("/staff/fotonomy_site/invitation/add/", {"note": "Second unit"})
    listed = client.get("/staff/fotonomy_site/invitation/").content.decode()
    assert Invitation.objects.get().get_absolute_url() in listed
    # The operator can remove a person with everything of theirs.
    owner = demo.owner
    for address in (f"/staff/auth/user/{owner.pk}/delete/",):
        assert client.get(address).status_code == 200
        assert client.post(address, {"post": "yes"}).status_code == 302
    assert not Setup.objects.exists()
    assert not Body.objects.filter(owner_id=owner.pk).exists()


def test_who_is_not_staff_finds_no_staff_pages(demo_client: Any) -> None:
    answer = demo_client.get("/staff/auth/user/")
    assert answer.status_code == 302
    assert answer.url.startswith("/staff/login/")
    assert (
        demo_client.post("/staff/fotonomy_site/invitation/add/", {"note": "x"}).status_code == 302
    )
    assert not Invitation.objects.exists()


def test_a_lost_password_by_mail_where_mail_is(stranger: Any, settings: Any) -> None:
    client = Client()
    assert client.get("/password/lost/").status_code == 404
    assert "Password lost?" not in client.get("/log-in/").content.decode()
    settings.MAIL_ON = True
    assert "Password lost?" in client.get("/log-in/").content.decode()
    client.force_login(stranger)
    client.post("/account/", {"email": "not an address"})
    stranger.refresh_from_db()
    assert stranger.email == ""
    client.post("/account/", {"email": "stranger@example.org"})
    client.post("/log-out/")
    client.post("/password/lost/", {"email": "nobody@example.org"})
    assert mail.outbox == []
    assert client.post("/password/lost/", {"email": "stranger@example.org"}).status_code == 302
    (letter,) = mail.outbox
    assert letter.subject == "A new password for Fotonomy"
    link = re.search(r"http://testserver(/password/new/\S+)", letter.body)
    assert link
    page = client.get(link[1], follow=True)
    sent = {"new_password1": "fresh-7-water", "new_password2": "fresh-7-water"}
    assert client.post(page.redirect_chain[-1][0], sent).status_code == 302
    assert client.login(username="stranger", password="fresh-7-water")
    assert "works no more" in Client().get(link[1], follow=True).content.decode()


def test_a_page_of_one_person_sends_nothing_as_another(demo_client: Any, demo: Shoot) -> None:
    """Two people on one phone: the second is logged in, the first one's page is still open."""
    row = demo.setups.get(code="4B")
    iris = row.iris
    for person, status in ((str(demo.owner.pk + 1), 409), (str(demo.owner.pk), 302), ("", 302)):
        answer = demo_client.post(
            row.get_absolute_url(), {"iris": "f/8"}, headers={PERSON_HEADER: person}
        )
        assert answer.status_code == status
        row.refresh_from_db()
        assert row.iris == (iris if status == 409 else 8.0)
    assert demo_client.get("/shoots/").headers[PERSON_HEADER] == str(demo.owner.pk)


def test_a_token_for_a_page_that_was_kept(demo_client: Any, demo: Shoot) -> None:
    strict = Client(enforce_csrf_checks=True)
    strict.force_login(demo.owner)
    row = demo.setups.get(code="4B")
    sent = {"uid": "t", "kind": "take", "setup": row.pk, "verdict": "good"}
    address = reverse("field-send", args=[demo.pk])

    def post(token: str) -> Any:
        return strict.post(
            address, {"entries": [sent]}, content_type="application/json",
            headers={"X-CSRFToken": token},
        )  # fmt: skip

    old = post("x" * 32)
    assert (old.status_code, "older than your log-in" in old.json()["error"]) == (409, True)
    fresh = strict.get("/token/").json()["token"]
    assert post(fresh).json()["results"][0]["kept"]
    assert Client().get("/token/").status_code == 302


def test_who_logs_out_is_named_to_the_page_that_forgets_them(demo_client: Any, demo: Shoot) -> None:
    answer = demo_client.post("/log-out/")
    assert answer.url == f"/log-in/?left={demo.owner.pk}"
