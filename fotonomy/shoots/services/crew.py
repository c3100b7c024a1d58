"""People let into a shoot by name or by a link, and sent out again; what they have in hand."""

from datetime import date, datetime, timedelta

from django.contrib.auth.models import User
from django.db import transaction
from django.db.models import Q
from django.utils import timezone

from fotonomy.core.errors import RuleError
from fotonomy.shoots.models import CrewLink, Guest, Holding, Member, Role, Shoot
from fotonomy.shoots.write_lock import in_turn

# More than any crew that works from one shoot at once.
MOST_MEMBERS, MOST_LINKS, MOST_A_LINK = 80, 40, 40
# A link that lasts longer than a season is forgotten and stays open.
LONGEST_LINK_DAYS = 366
LONGEST_NAME = 40
# So many people come by one link within so long: a crew that reads it off a call sheet, no more.
JOINS_AT_ONCE, JOINS_WITHIN = 15, timedelta(minutes=10)
# Seen with a setup within this time, somebody has it in hand; written again no sooner than that.
IN_HAND_S, WRITTEN_EVERY_S = 60.0, 20.0
GUEST = "guest"
WITHDRAWN = "your way into this shoot was withdrawn: {owner} has to let you in again"


def today_of(shoot: Shoot) -> date:
    """The date at the shoot's first place, by which links end."""
    return timezone.localdate(timezone=shoot.main_place.zone)


def _role(text: str) -> Role:
    if text not in Role.values or text == Role.OWNS:
        raise RuleError("role", "sees, logs or plans", text)
    return Role(text)


@in_turn()
@transaction.atomic
def name_member(shoot: Shoot, name: str, role: str) -> Member:
    """Let somebody with an account in, or change what they may do. Raises RuleError."""
    wanted = _role(role)
    person = User.objects.filter(username=name.strip()[:150], guest=None, is_active=True).first()
    if person is None:
        raise RuleError("name", "no account has this name; give them a link instead", name)
    if person.pk == shoot.owner_id:
        raise RuleError("name", "it is your own shoot", name)
    member = Member.objects.select_for_update().filter(shoot=shoot, user=person).first()
    if member is None:
        _room_for(shoot)
        member = Member(shoot=shoot, user=person)
    member.role, member.link, member.withdrawn_at = wanted, None, None
    member.save()
    return member


def _room_for(shoot: Shoot) -> None:
    open_ways = Q(link=None) | Q(link__withdrawn_at=None, link__last_day__gte=today_of(shoot))
    if shoot.members.filter(open_ways, withdrawn_at=None).count() >= MOST_MEMBERS:
        raise RuleError("name", f"a crew takes {MOST_MEMBERS} people at most", None)


@in_turn()
@transaction.atomic
def make_link(shoot: Shoot, role: str, last_day: date | None, note: str = "") -> CrewLink:
    """A link that lets whoever opens it in until the end of a day. Raises RuleError."""
    wanted, today = _role(role), today_of(shoot)
    if last_day is None:
        raise RuleError("last_day", "a date such as 2027-06-06", None)
    if not today <= last_day <= today + timedelta(days=LONGEST_LINK_DAYS):
        raise RuleError("last_day", "from today to a year from now", last_day)
    if len(note) > 80:
        raise RuleError("note", "at most 80 characters", None)
    if shoot.crew_links.count() >= MOST_LINKS:
        raise RuleError("link", f"a shoot takes {MOST_LINKS} links at most", None)
    return CrewLink.objects.create(shoot=shoot, role=wanted, last_day=last_day, note=note)


@in_turn()
@transaction.atomic
def withdraw(what: CrewLink | Member, link_too: bool = False) -> None:
    """Close a link, and all who came by it, or the way of one person; nothing of theirs goes.

    A person is out of every link until they are let in again. ``link_too`` closes the link they
    came by: whoever has it would get in under another name.
    """
    if what.withdrawn_at is None:
        what.withdrawn_at = timezone.now()
        what.save(update_fields=["withdrawn_at"])
    if link_too and isinstance(what, Member) and what.link is not None:
        withdraw(what.link)


@in_turn()
@transaction.atomic
def let_in_again(member: Member) -> None:
    """Let somebody back in who was withdrawn, as they were."""
    member.withdrawn_at = None
    member.save(update_fields=["withdrawn_at"])


@in_turn()
@transaction.atomic
def remove(member: Member) -> None:
    """Remove somebody who was withdrawn from the list. What they logged keeps their name.

    A guest's account goes with the last crew it belongs to. Raises RuleError for those who are in.
    """
    if member.withdrawn_at is None:
        raise RuleError("member", "withdraw them first", None)
    person = member.user
    member.delete()
    if Guest.objects.filter(user=person).exists() and not person.crews.exists():
        person.delete()


@in_turn()
@transaction.atomic
def join(link: CrewLink, person: User | None, name: str = "") -> Member:
    """Let somebody in by a link: a person with an account, or a guest under the name they gave.

    Who may do more already keeps it. Raises RuleError where the link is closed, or no name given.
    """
    link = CrewLink.objects.select_for_update(of=("self",)).select_related("shoot").get(pk=link.pk)
    shoot = link.shoot
    if closed := link.why_closed(today_of(shoot)):
        raise RuleError("link", f"this link {closed}", None)
    member = None if person is None else (
        Member.objects.select_related("link").filter(shoot=shoot, user=person).first()
    )  # fmt: skip
    if member is None:
        _room_for(shoot)
        if link.members.filter(withdrawn_at=None).count() >= MOST_A_LINK:
            raise RuleError("link", f"a link lets {MOST_A_LINK} people in at most", None)
        lately = link.members.filter(since__gt=timezone.now() - JOINS_WITHIN).count()
        if lately >= JOINS_AT_ONCE:
            minutes = JOINS_WITHIN // timedelta(minutes=1)
            rule = f"{lately} people came by it within {minutes} minutes: try again a little later"
            raise RuleError("link", rule, lately)
        who = person if person is not None else new_guest(name)
        return Member.objects.create(shoot=shoot, user=who, role=link.role, link=link)
    if member.withdrawn_at is not None:
        raise RuleError("link", WITHDRAWN.format(owner=shoot.owner), None)
    stands = not member.why_closed(today_of(shoot))
    if stands and Role(member.role).allows(Role(link.role)):
        return member
    member.role, member.link = link.role, link
    member.save()
    return member


def is_withdrawn(shoot: Shoot, person_id: int) -> bool:
    """True for somebody who was let in once and then sent out."""
    return shoot.members.filter(user=person_id, withdrawn_at__isnull=False).exists()


def new_guest(name: str) -> User:
    """An account without a password, for somebody who came by a link. Raises RuleError."""
    said = " ".join(name.split())
    if not 1 <= len(said) <= LONGEST_NAME:
        raise RuleError("name", f"a name of up to {LONGEST_NAME} characters", name)
    if not said.isprintable():
        raise RuleError("name", "a name of letters", name)
    free = f"{said} · {GUEST}"
    taken = set(
        User.objects.filter(username__startswith=free).values_list("username", flat=True)
    )  # fmt: skip
    number = 2
    username = free
    while username in taken:
        username, number = f"{free} {number}", number + 1
    person = User(username=username)
    person.set_unusable_password()
    person.save()
    Guest.objects.create(user=person)
    return person


def drop_guests_of_nothing() -> None:
    """Remove the accounts that links made for shoots that are gone."""
    User.objects.filter(guest__isnull=False, crews=None).delete()


def shared_with(person: User) -> list[Member]:
    """The shoots of others that somebody is in just now, with what they may do there."""
    rows = Member.objects.filter(user=person, withdrawn_at=None).select_related(
        "shoot", "shoot__owner", "link"
    )
    rows = rows.prefetch_related("shoot__places", "shoot__days")
    return [row for row in rows if not row.why_closed(today_of(row.shoot))]


def put_in_hand(shoot: Shoot, person: User, setup_key: int, now: datetime) -> None:
    """Note which setup somebody has in hand; no oftener than others need it."""
    if not shoot.members.exists():
        # Nobody else is there to be told.
        return
    kept = Holding.objects.filter(shoot=shoot, user=person).first()
    fresh = kept is not None and (now - kept.at).total_seconds() < WRITTEN_EVERY_S
    if fresh and kept is not None and kept.setup_key == setup_key:
        return
    with in_turn():
        Holding.objects.update_or_create(
            shoot=shoot, user=person, defaults={"setup_key": setup_key, "at": now}
        )


def hands(shoot: Shoot, now: datetime, apart_from: User | None = None) -> dict[int, list[str]]:
    """Names of those who have a setup in hand, by its id, the one who asks apart."""
    rows = Holding.objects.filter(
        ~Q(user=apart_from), shoot=shoot, at__gt=now - timedelta(seconds=IN_HAND_S)
    )
    found: dict[int, list[str]] = {}
    for key, name in rows.order_by("user__username").values_list("setup_key", "user__username"):
        found.setdefault(key, []).append(name)
    return found
