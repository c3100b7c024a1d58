"""The crew: every role against every address, links that end, guests, who has what in hand."""

import json
from datetime import UTC, datetime, timedelta
from typing import Any

import pytest
from django.contrib.auth.models import User
from django.test import Client
from django.urls import reverse
from django.utils import timezone

from fotonomy.core.errors import RuleError
from fotonomy.field.models import Take
from fotonomy.kit.models import Body, Filter, Lens
from fotonomy.shoots.models import CrewLink, Guest, Holding, Member, Role, Setup, Shoot
from fotonomy.shoots.services import crew as services
from fotonomy.shoots.services.shoots import make_shoot
from fotonomy.shoots.views.access import NEEDS, USUAL
from fotonomy.shoots.views.get_or_404 import FRAGMENT_HEADER, GO_HEADER
from soak.strangers import PRESS, address_of, named_patterns
from tests.web.test_takes import logged

# The log and the crew begin empty here.
pytestmark = pytest.mark.usefixtures("nothing_shot_yet")

OF_A_SHOOT = sorted(
    pattern.name for pattern in named_patterns() if "shoot_id" in pattern.pattern.converters
)
GIVEN = [role for role in Role if role is not Role.OWNS]


@pytest.fixture
def mate(db: None) -> User:
    return User.objects.create_user("mate", password="quay-side-42")


def entered(person: User) -> Client:
    client = Client()
    client.force_login(person)
    return client


def link_of(shoot: Shoot, role: Role = Role.LOGS, days: int = 2) -> CrewLink:
    today = services.today_of(shoot)
    return services.make_link(shoot, role, today + timedelta(days=days))


def join_at(link: CrewLink, client: Client | None = None, name: str = "Boom") -> tuple[Client, Any]:
    client = client or Client()
    return client, client.post(reverse("join", args=[link.key]), {"name": name}, follow=True)


# -- every role against every address ------------------------------------------------------------

# Who may send to an address, beside what is usual: whoever plans. Written out by hand, so that a
# line of the program's table is nobody's slip. What only its owner reads stands in OWNERS.
OWNERS = {"shoot-edit", "shoot-delete", "shoot-export", "setup-import", "packing", "crew",
          "crew-name", "crew-link", "crew-withdraw", "crew-qr", "crew-again",
          "crew-remove"}  # fmt: skip
SENT_BY_OWNERS = {"teaching-take", "home-body", "run-advice"}
SENT_BY_LOGGERS = {
    "field-take", "take-edit", "take-delete", "field-send", "field-light", "field-step", "metered",
    "picture-add", "picture-drop", "frame-levels", "home-add", "home-head", "home-match",
    "home-back", "home-drop", "run-see", "row-keep", "burst-keep",
}  # fmt: skip
SENT_BY_ALL = {"drill-own", "drill-take"}


def table() -> dict[str, tuple[Role, Role]]:
    """The least role that reads, and that sends, for every address of a shoot."""
    found = dict.fromkeys(OF_A_SHOOT, (Role.SEES, Role.PLANS))
    found |= dict.fromkeys(OWNERS, (Role.OWNS, Role.OWNS))
    found |= dict.fromkeys(SENT_BY_OWNERS, (Role.SEES, Role.OWNS))
    found |= dict.fromkeys(SENT_BY_LOGGERS, (Role.SEES, Role.LOGS))
    return found | dict.fromkeys(SENT_BY_ALL, (Role.SEES, Role.SEES))


def test_the_whole_table_of_who_may_do_what() -> None:
    assert {name: tuple(NEEDS.get(name, USUAL)) for name in OF_A_SHOOT} == table()
    assert set(NEEDS) <= set(OF_A_SHOOT)
    assert len(OF_A_SHOOT) > 60


@pytest.mark.parametrize("name", OF_A_SHOOT)
def test_every_address_by_the_least_that_may_and_the_most_that_may_not(
    demo: Shoot, adze: Setup, mate: User, name: str
) -> None:
    """What is allowed is let through, what is not is refused in words and changes nothing."""
    take, link = logged(adze), link_of(demo)
    address = address_of(name, adze).replace("/takes/1/", f"/takes/{take.pk}/")
    address = address.replace("/link/1/", f"/link/{link.pk}/")
    client = entered(mate)

    def asked(role: Role, sends: bool) -> Any:
        if role is Role.OWNS:
            client.force_login(demo.owner)
        else:
            services.name_member(demo, "mate", role)
        answer = client.post(address, PRESS) if sends else client.get(address)
        list(getattr(answer, "streaming_content", ()))
        return answer

    read, send = table()[name]
    for sends, needed in ((False, read), (True, send)):
        below = [role for role in GIVEN if not role.allows(needed)]
        if not below:
            continue
        services.name_member(demo, "mate", below[-1])
        before = everything()
        answer = asked(below[-1], sends)
        if answer.status_code != 405:
            assert answer.status_code == 403
            assert "Nothing was changed" in answer.content.decode()
            assert "Ask demo" in answer.content.decode()
            assert everything() == before
    for sends, needed in ((False, read), (True, send)):
        answer = asked(needed, sends)
        if sends and name == "field-step":
            # Their own steps only: below.
            assert answer.status_code == 403
        else:
            assert answer.status_code not in (403, 500)


def everything() -> list[Any]:
    models: tuple[Any, ...] = (Setup, Shoot, Body, Take, Member, CrewLink)
    rows = [list(model.objects.order_by("pk").values()) for model in models]
    for row in rows[0]:
        # Worked out anew by whoever looks.
        del row["summary"]
    return rows


def test_a_role_holds_all_before_it() -> None:
    assert [role.allows(Role.LOGS) for role in Role] == [False, True, True, True]
    assert [role.allows(Role.OWNS) for role in Role] == [False, False, False, True]


# -- by name --------------------------------------------------------------------------------------


def test_somebody_is_let_in_by_name_and_sent_out_again(
    demo_client: Any, demo: Shoot, adze: Setup, mate: User
) -> None:
    page = reverse("crew", args=[demo.pk])
    sent = {"name": "mate", "role": "plans"}
    answer = demo_client.post(reverse("crew-name", args=[demo.pk]), sent, follow=True)
    assert "mate plans this shoot" in answer.content.decode()
    client = entered(mate)
    listed = client.get(reverse("shoot-list")).content.decode()
    assert demo.name in listed
    assert "you may: plans" in listed
    assert reverse("shoot-edit", args=[demo.pk]) not in listed
    assert client.post(adze.get_absolute_url(), {"iris": "f/8"}).status_code == 302
    adze.refresh_from_db()
    assert adze.iris == 8
    assert demo.changes.last().author == mate
    member = Member.objects.get()
    demo_client.post(reverse("crew-withdraw", args=[demo.pk, "person", member.pk]))
    answer = client.get(adze.get_absolute_url())
    assert answer.status_code == 403
    assert "was withdrawn" in answer.content.decode()
    assert demo.name not in client.get(reverse("shoot-list")).content.decode()
    assert "was withdrawn" in demo_client.get(page).content.decode()
    # Let in again, with less.
    demo_client.post(reverse("crew-name", args=[demo.pk]), {"name": "mate", "role": "sees"})
    assert client.get(adze.get_absolute_url()).status_code == 200
    assert Member.objects.get().role == "sees"


@pytest.mark.parametrize(
    ("sent", "words"),
    [({"name": "nobody", "role": "logs"}, "no account has this name"),
     ({"name": "", "role": "logs"}, "no account has this name"),
     ({"name": "demo", "role": "logs"}, "your own shoot"),
     ({"name": "mate", "role": "owns"}, "sees, logs or plans"),
     ({"name": "mate", "role": ""}, "sees, logs or plans")],
)  # fmt: skip
def test_wrong_names_are_said_beside_the_field(
    demo_client: Any, demo: Shoot, mate: User, sent: dict[str, str], words: str
) -> None:
    answer = demo_client.post(reverse("crew-name", args=[demo.pk]), sent)
    assert answer.status_code == 422
    assert words in answer.content.decode().replace("It is your", "it is your").lower()
    assert not Member.objects.exists()
    if sent["name"]:
        assert f'value="{sent["name"]}"' in answer.content.decode()


def test_a_guest_is_not_let_in_by_name(demo: Shoot) -> None:
    join_at(link_of(demo))
    with pytest.raises(RuleError):
        services.name_member(demo, "Boom · guest", "plans")


# -- by a link ------------------------------------------------------------------------------------


def test_a_link_lets_a_guest_in_without_an_account(demo_client: Any, demo: Shoot, adze: Setup) -> None:  # fmt: skip
    last = services.today_of(demo) + timedelta(days=1)
    sent = {"role": "logs", "last_day": last.isoformat(), "note": "Sound"}
    shown = demo_client.post(reverse("crew-link", args=[demo.pk]), sent, follow=True)
    link = CrewLink.objects.get()
    text = shown.content.decode()
    assert f"http://testserver/join/{link.key}/" in text
    assert "<svg" in text
    guest = Client()
    assert "logs" not in guest.get(reverse("shoot-list"), follow=True).content.decode()
    asked = guest.get(reverse("join", args=[link.key])).content.decode()
    assert demo.name in asked
    assert "log takes" in asked
    _, answer = join_at(link, guest, "  Boom   Operator ")
    assert answer.status_code == 200
    user = User.objects.get(username="Boom Operator · guest")
    assert not user.has_usable_password()
    assert Guest.objects.get().user == user
    assert guest.get(reverse("field-card", args=[demo.pk, adze.pk])).status_code == 200
    take = {"uid": "g-1", "verdict": "good"}
    guest.post(reverse("field-take", args=[demo.pk, adze.pk]), take)
    assert Take.objects.get(uid="g-1").by_name == "Boom Operator · guest"
    crew = demo_client.get(reverse("crew", args=[demo.pk])).content.decode()
    assert "Boom Operator · guest" in crew
    assert "by Sound" in crew


def test_a_guest_sees_that_shoot_and_nothing_else(demo: Shoot, adze: Setup) -> None:
    other = make_shoot(demo.owner, name="Another", date="2027-07-01")
    guest, _ = join_at(link_of(demo, Role.PLANS))
    for name in ("kit", "shoot-new", "account", "start", "take-along", "curves", "kit-export"):
        answer = guest.get(reverse(name))
        assert answer.status_code == 403
        assert "as a guest" in answer.content.decode()
    assert guest.post(reverse("shoot-import")).status_code == 403
    assert guest.get(reverse("shoot", args=[other.pk])).status_code == 404
    listed = guest.get(reverse("shoot-list")).content.decode()
    assert demo.name in listed
    assert "Another" not in listed
    assert reverse("kit") not in listed
    assert reverse("shoot-new") not in listed
    assert guest.get("/staff/").status_code in (302, 403)


def test_the_crew_is_offered_the_gear_the_shoot_uses(
    demo_client: Any, demo: Shoot, adze: Setup, mate: User
) -> None:
    """A lens that no setup uses stays unseen, and cannot be put in by its name."""
    kept = adze.lens
    Lens.objects.filter(pk=kept.pk).update(name="The lens in use")
    spare = Lens.objects.get(pk=kept.pk)
    spare.pk, spare.name = None, "A lens at home"
    spare.save()
    pola = Filter.objects.create(
        owner=demo.owner, name="Filter at home", kind="polariser", density=0.5
    )
    body = Body.objects.get(pk=adze.body_id)
    body.pk, body.name = None, "A camera at home"
    body.save()
    assert demo.packs_all
    services.name_member(demo, "mate", "plans")
    client, address = entered(mate), adze.get_absolute_url()
    own = demo_client.get(f"{address}?open=focus").content.decode()
    seen = client.get(f"{address}?open=focus").content.decode()
    for name in (spare.name, pola.name, body.name):
        assert name in own
        assert name not in seen
    assert "The lens in use" in seen
    client.post(address, {"lens": spare.name, "body": body.name})
    adze.refresh_from_db()
    assert (adze.lens_id, adze.body_id) == (kept.pk, adze.body_id)
    assert adze.lens.name == "The lens in use"
    # What the shoot packs is offered, used or not.
    demo.packs_all = False
    demo.save()
    demo.lenses.set([spare])
    assert spare.name in client.get(f"{address}?open=focus").content.decode()


def test_a_new_setup_of_the_crew_takes_nothing_from_other_shoots(
    demo: Shoot, mate: User
) -> None:  # fmt: skip
    lens = demo.setups.first().lens
    own = Lens.objects.get(pk=lens.pk)
    own.pk, own.name = None, "Lens of another shoot"
    own.save()
    other = make_shoot(demo.owner, name="Another", date="2027-07-01")
    row = demo.setups.first()
    row.pk, row.shoot, row.lens = None, other, own
    row.place, row.day, row.scene = other.main_place, other.first_day, None
    row.save()
    services.name_member(demo, "mate", "plans")
    entered(mate).post(reverse("setup-new", args=[demo.pk]))
    assert demo.setups.order_by("pk").last().lens != own


@pytest.mark.parametrize(
    ("sent", "words"),
    [({"role": "logs", "last_day": ""}, "A date such as"),
     ({"role": "logs", "last_day": "soon"}, "A date such as"),
     ({"role": "logs", "last_day": "2027-02-31"}, "A date such as"),
     ({"role": "logs", "last_day": "2001-01-01"}, "From today to a year"),
     ({"role": "logs", "last_day": "2099-01-01"}, "From today to a year"),
     ({"role": "owns", "last_day": "2026-12-01"}, "Sees, logs or plans"),
     ({"role": "logs", "last_day": "TODAY", "note": "x" * 81}, "At most 80")],
)  # fmt: skip
def test_wrong_links_are_said_beside_the_field(
    demo_client: Any, demo: Shoot, sent: dict[str, str], words: str
) -> None:
    today = services.today_of(demo).isoformat()
    sent = {name: today if value == "TODAY" else value for name, value in sent.items()}
    answer = demo_client.post(reverse("crew-link", args=[demo.pk]), sent)
    assert answer.status_code == 422
    assert words in answer.content.decode()
    assert not CrewLink.objects.exists()


def test_a_link_ends_with_its_last_day_at_the_place(
    demo: Shoot, adze: Setup, monkeypatch: Any
) -> None:
    """The demo lies ten hours ahead of UTC in June (Australia/Hobart, tz database)."""
    last = datetime(2027, 6, 6, 13, 59, tzinfo=UTC)
    monkeypatch.setattr(timezone, "now", lambda: last)
    link = services.make_link(demo, "sees", last.date())
    guest, _ = join_at(link)
    card = reverse("field-card", args=[demo.pk, adze.pk])
    assert guest.get(card).status_code == 200
    monkeypatch.setattr(timezone, "now", lambda: last + timedelta(minutes=1))
    answer = guest.get(card)
    assert answer.status_code == 403
    assert "has ended" in answer.content.decode()
    late = Client().get(reverse("join", args=[link.key]))
    assert late.status_code == 410
    assert "has ended" in late.content.decode()
    _, answer = join_at(link)
    assert answer.status_code == 410
    assert Member.objects.count() == 1


def test_a_withdrawn_link_closes_for_all_who_came_by_it(
    demo_client: Any, demo: Shoot, adze: Setup
) -> None:
    link = link_of(demo)
    guests = [join_at(link)[0], join_at(link)[0]]
    assert {member.user.get_username() for member in Member.objects.all()} == {
        "Boom · guest", "Boom · guest 2",
    }  # fmt: skip
    demo_client.post(reverse("crew-withdraw", args=[demo.pk, "link", link.pk]))
    card = reverse("field-card", args=[demo.pk, adze.pk])
    assert [guest.get(card).status_code for guest in guests] == [403, 403]
    # A new link opens to the same guest again, who keeps the name.
    _, answer = join_at(link_of(demo), guests[0])
    assert answer.status_code == 200
    assert guests[0].get(card).status_code == 200
    assert guests[1].get(card).status_code == 403
    assert Guest.objects.count() == 2


def test_who_was_sent_out_is_out_of_all_links_until_let_in_again(
    demo_client: Any, demo: Shoot, adze: Setup, mate: User
) -> None:
    link = link_of(demo)
    guest, _ = join_at(link)
    colleague = entered(mate)
    services.name_member(demo, "mate", "plans")
    for person, client in ((Member.objects.get(user=mate), colleague), (link.members.get(), guest)):
        demo_client.post(reverse("crew-withdraw", args=[demo.pk, "person", person.pk]))
        # By the same link, and by one that was given to others.
        for way in (link, link_of(demo)):
            _, answer = join_at(way, client)
            assert answer.status_code == 422
            assert f"{demo.owner} has to let you in again" in answer.content.decode()
        assert client.get(reverse("field-card", args=[demo.pk, adze.pk])).status_code == 403
    # Logged out, and under another name: the browser knows whose it was.
    guest.post("/log-out/")
    _, answer = join_at(link, guest, "Somebody new")
    assert answer.status_code == 422
    assert demo.members.count() == 2
    for person, client in ((Member.objects.get(user=mate), colleague), (link.members.get(), None)):
        demo_client.post(reverse("crew-again", args=[demo.pk, person.pk]))
        person.refresh_from_db()
        assert person.withdrawn_at is None
        if client is not None:
            card = reverse("field-card", args=[demo.pk, adze.pk])
            assert client.get(card).status_code == 200


def test_the_link_is_closed_with_whoever_came_by_it(demo_client: Any, demo: Shoot) -> None:
    link = link_of(demo)
    join_at(link)
    page = demo_client.get(reverse("crew", args=[demo.pk])).content.decode()
    assert "lets in whoever has it" in page
    assert "and close the link" in page
    member = link.members.get()
    where = reverse("crew-withdraw", args=[demo.pk, "person", member.pk])
    said = demo_client.post(where, {"link_too": "1"}, follow=True).content.decode()
    assert "The link they came by is closed" in said
    assert join_at(link, Client(), "Another")[1].status_code == 410


def test_who_was_withdrawn_can_be_removed_and_their_takes_stay(
    demo_client: Any, demo: Shoot, adze: Setup, nothing_shot_yet: None
) -> None:
    guest, _ = join_at(link_of(demo))
    guest.post(reverse("field-take", args=[demo.pk, adze.pk]), {"uid": "g", "verdict": "good"})
    member = demo.members.get()
    where = reverse("crew-remove", args=[demo.pk, member.pk])
    assert "withdraw them first" in demo_client.post(where, follow=True).content.decode()
    services.withdraw(member)
    assert "is removed" in demo_client.post(where, follow=True).content.decode()
    assert not demo.members.exists()
    assert not Guest.objects.exists()
    take = demo.takes.get()
    assert (take.by, take.by_name) == (None, "Boom · guest")


def test_a_leaked_link_does_not_fill_the_crew(demo: Shoot, monkeypatch: Any) -> None:
    link = link_of(demo)
    came = [
        join_at(link, Client(), f"Guest {k}")[1].status_code
        for k in range(services.JOINS_AT_ONCE + 2)
    ]
    assert came == [200] * services.JOINS_AT_ONCE + [422] * 2
    assert "try again a little later" in join_at(link)[1].content.decode()
    assert demo.members.count() == services.JOINS_AT_ONCE
    # Another link is another door, and later it opens again.
    assert join_at(link_of(demo))[1].status_code == 200
    demo.members.update(since=timezone.now() - services.JOINS_WITHIN)
    assert join_at(link)[1].status_code == 200


def test_people_are_counted_and_not_who_was_sent_out(demo: Shoot, monkeypatch: Any) -> None:
    monkeypatch.setattr(services, "MOST_A_LINK", 2)
    monkeypatch.setattr(services, "MOST_MEMBERS", 2)
    link = link_of(demo)
    for _ in range(2):
        assert join_at(link)[1].status_code == 200
    assert join_at(link)[1].status_code == 422
    services.withdraw(demo.members.first())
    assert join_at(link)[1].status_code == 200
    # Those whose link was closed are no people of the crew either.
    services.withdraw(link)
    assert [join_at(link_of(demo))[1].status_code for _ in range(2)] == [200, 200]
    assert join_at(link_of(demo))[1].status_code == 422


def test_a_link_takes_nothing_from_who_may_more(demo: Shoot, mate: User) -> None:
    services.name_member(demo, "mate", "plans")
    client = entered(mate)
    assert join_at(link_of(demo, Role.SEES), client)[1].status_code == 200
    member = Member.objects.get()
    assert (member.role, member.link) == ("plans", None)
    # More is given, and goes with its link.
    services.name_member(demo, "mate", "sees")
    link = link_of(demo, Role.LOGS)
    join_at(link, client)
    member.refresh_from_db()
    assert (member.role, member.link) == ("logs", link)


def test_wrong_guests_are_told(demo: Shoot, monkeypatch: Any) -> None:
    link = link_of(demo)
    for name in ("", "   ", "x" * 41, "a\x07b"):
        _, answer = join_at(link, Client(), name)
        assert answer.status_code == 422
    assert not User.objects.filter(guest__isnull=False).exists()
    assert Client().get(reverse("join", args=["nothing"])).status_code == 404
    monkeypatch.setattr(services, "MOST_A_LINK", 1)
    assert join_at(link)[1].status_code == 200
    assert "1 people in at most" in join_at(link)[1].content.decode()


def test_the_owner_does_not_join_and_crews_have_an_end(
    demo_client: Any, demo: Shoot, mate: User, monkeypatch: Any
) -> None:
    link = link_of(demo)
    answer = demo_client.get(reverse("join", args=[link.key]))
    assert answer.url == reverse("crew", args=[demo.pk])
    monkeypatch.setattr(services, "MOST_MEMBERS", 1)
    join_at(link)
    with pytest.raises(RuleError):
        services.name_member(demo, "mate", "sees")
    monkeypatch.setattr(services, "MOST_LINKS", 1)
    with pytest.raises(RuleError):
        link_of(demo)


# -- at the spot ----------------------------------------------------------------------------------


def news(client: Client, shoot: Shoot, since: int = 0, at: int | None = None) -> Any:
    asked = {"since": since, **({"at": at} if at else {})}
    return client.get(
        reverse("field-news", args=[shoot.pk]), asked, headers={"Accept": "application/json"}
    )


def test_everyone_sees_who_has_what_in_hand(
    demo_client: Any, demo: Shoot, adze: Setup, mate: User, monkeypatch: Any
) -> None:
    services.name_member(demo, "mate", "logs")
    client, now = entered(mate), timezone.now()
    monkeypatch.setattr(timezone, "now", lambda: now)
    assert news(client, demo, at=adze.pk).json()["hands"] == {}
    assert news(demo_client, demo).json()["hands"] == {str(adze.pk): ["mate"]}
    assert "4B" in demo_client.get(reverse("crew", args=[demo.pk])).content.decode()
    # Asked every few seconds, written seldom; another setup at once.
    monkeypatch.setattr(timezone, "now", lambda: now + timedelta(seconds=19))
    news(client, demo, at=adze.pk)
    assert Holding.objects.get().at == now
    other = demo.setups.exclude(pk=adze.pk).first()
    news(client, demo, at=other.pk)
    assert news(demo_client, demo).json()["hands"] == {str(other.pk): ["mate"]}
    monkeypatch.setattr(timezone, "now", lambda: now + timedelta(seconds=19 + 61))
    assert news(demo_client, demo).json()["hands"] == {}
    # A setup of nobody's is nobody's.
    news(client, demo, at=10**6)
    assert Holding.objects.get().setup_key == other.pk


def test_takes_of_others_come_with_their_names_and_are_no_change_of_the_plan(
    demo_client: Any, demo: Shoot, adze: Setup, mate: User
) -> None:
    services.name_member(demo, "mate", "plans")
    client = entered(mate)
    seen = news(demo_client, demo).json()["newest"]
    take = reverse("field-take", args=[demo.pk, adze.pk])
    client.post(take, {"uid": "m-1", "verdict": "good"})
    demo_client.post(take, {"uid": "d-1", "verdict": "maybe"})
    told = news(demo_client, demo, seen).json()
    assert [line.rpartition("take ")[2] for line in told["changes"]] == [
        "1 logged, mate",
        "2 logged",
    ]
    assert told["plan"] is False
    client.post(adze.get_absolute_url(), {"iris": "f/8"})
    assert news(demo_client, demo, told["newest"]).json()["plan"] is True


def test_a_withdrawn_guest_with_waiting_takes_loses_nothing(demo: Shoot, adze: Setup) -> None:
    link = link_of(demo)
    guest, _ = join_at(link)
    services.withdraw(link)
    entries = [{"uid": "w-1", "kind": "take", "setup": adze.pk, "verdict": "good"}]

    def send() -> Any:
        return guest.post(
            reverse("field-send", args=[demo.pk]), json.dumps({"entries": entries}),
            content_type="application/json", headers={"Accept": "application/json"},
        )  # fmt: skip

    answer = send()
    assert answer.status_code == 403
    assert "What waits on this device stays there" in answer.json()["refused"]
    assert news(guest, demo).status_code == 403
    assert not Take.objects.exists()
    join_at(link_of(demo), guest)
    assert send().json()["results"][0]["kept"]
    assert send().json()["results"][0]["kept"]
    assert Take.objects.get().uid == "w-1"


def test_who_logs_keeps_readings_and_uses_no_way(demo: Shoot, launch: Setup) -> None:
    guest, _ = join_at(link_of(demo))
    page = reverse("field-light", args=[demo.pk, launch.pk])
    shown = guest.get(page, {"read": "-2"}).content.decode()
    assert ">keep<" in shown
    assert ">take<" not in shown
    before = (launch.iris, launch.iso, launch.nd_density)
    owner = entered(demo.owner)
    offered = owner.get(page, {"read": "-2"}).context["found"].ways[0].words
    # By the form and by the phone alike: the reading is kept, the plan stays.
    said = guest.post(page, {"read": "-2", "way": offered}, follow=True).content.decode()
    assert "for those who plan" in said
    entry = {"uid": "l-1", "kind": "light", "setup": launch.pk, "read": "-2", "way": offered}
    sent = guest.post(
        reverse("field-send", args=[demo.pk]), json.dumps({"entries": [entry]}),
        content_type="application/json",
    )  # fmt: skip
    assert "for those who plan" in sent.json()["results"][0]["words"]
    launch.refresh_from_db()
    assert (launch.iris, launch.iso, launch.nd_density) == before
    assert launch.place.light_readings.count() == 2


def test_who_logs_undoes_their_own_log_only(
    demo_client: Any, demo: Shoot, adze: Setup
) -> None:  # fmt: skip
    guest, _ = join_at(link_of(demo))
    take = reverse("field-take", args=[demo.pk, adze.pk])
    guest.post(take, {"uid": "g-1", "verdict": "good"})
    mine = demo.changes.last()
    demo_client.post(adze.get_absolute_url(), {"iris": "f/8"})
    theirs = demo.changes.last()
    page = guest.get(reverse("field-remains", args=[demo.pk, adze.day_id])).content.decode()
    assert f"Undo: {mine.label}" in page
    assert f"Undo: {theirs.label}" not in page
    step = reverse("field-step", args=[demo.pk, "undo"])
    assert guest.post(step, {"step": theirs.pk}).status_code == 403
    assert guest.post(step, {}).status_code == 403
    adze.refresh_from_db()
    assert adze.iris == 8
    guest.post(step, {"step": mine.pk})
    assert not Take.objects.exists()
    guest.post(reverse("field-step", args=[demo.pk, "redo"]), {"step": mine.pk})
    assert Take.objects.count() == 1


def test_a_script_that_is_refused_shows_its_page_again_with_words(
    demo: Shoot, adze: Setup, mate: User
) -> None:
    services.name_member(demo, "mate", "logs")
    client, page = entered(mate), adze.get_absolute_url()
    came = f"http://testserver{page}"
    answer = client.post(page, {"iris": "f/8"}, headers={FRAGMENT_HEADER: "wide", "Referer": came})
    assert answer.status_code == 204
    assert answer[GO_HEADER] == came
    assert "not change its plan" in client.get(page).content.decode()
    # Never off to somebody else's server.
    answer = client.post(
        page,
        {"iris": "f/8"},
        headers={FRAGMENT_HEADER: "wide", "Referer": "http://elsewhere.test/"},
    )
    assert answer.status_code == 403
    assert GO_HEADER not in answer


def test_a_shoot_that_goes_takes_its_guests_along(
    demo_client: Any, demo: Shoot, mate: User
) -> None:
    other = make_shoot(mate, name="Another", date="2027-07-01")
    stays, _ = join_at(link_of(demo), name="Both")
    join_at(link_of(other), stays)
    join_at(link_of(demo), name="One")
    services.name_member(demo, "mate", "logs")
    demo_client.post(reverse("shoot-delete", args=[demo.pk]), {"sure": "1"})
    assert not Shoot.objects.filter(pk=demo.pk).exists()
    assert [guest.user.username for guest in Guest.objects.all()] == ["Both · guest"]
    assert User.objects.filter(username="mate").exists()
