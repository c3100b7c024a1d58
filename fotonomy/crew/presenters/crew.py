"""The crew of a shoot as its owner sees it."""

from dataclasses import dataclass
from datetime import datetime

from fotonomy.shoots.models import Role, Shoot
from fotonomy.shoots.services.crew import hands, today_of

# What can be given, with what it means.
GIVEN = (
    (Role.SEES.value, "sees", "looks at everything, changes nothing"),
    (Role.LOGS.value, "logs", "logs takes and what the light reads"),
    (Role.PLANS.value, "plans", "changes setups, hours, places and weather too"),
)
_MEANS = {value: words for value, _, words in GIVEN}


@dataclass(frozen=True, slots=True)
class MemberLine:
    """One person: what they may do, how they came, and the setup they have in hand."""

    key: int
    name: str
    role: str
    means: str
    came: str
    closed: str
    has: str
    withdrawn: bool
    by_link: bool


@dataclass(frozen=True, slots=True)
class LinkLine:
    """One link: what it gives, to when, and how many came by it."""

    key: int
    name: str
    role: str
    means: str
    until: str
    closed: str
    people: int


@dataclass(frozen=True, slots=True)
class CrewView:
    """Everything the page of the crew takes."""

    members: tuple[MemberLine, ...]
    links: tuple[LinkLine, ...]


def crew_view(shoot: Shoot, now: datetime) -> CrewView:
    """People and links, those that are closed last."""
    today = today_of(shoot)
    names = {row.pk: str(row) for row in shoot.setups.only("shoot_id", "code", "title")}
    holds = {
        person: names.get(key, "a deleted setup")
        for key, people in hands(shoot, now).items() for person in people
    }  # fmt: skip
    members = [
        MemberLine(
            row.pk, row.user.get_username(), row.role, _MEANS[row.role],
            f"by {row.link}" if row.link else "by name", row.why_closed(today),
            holds.get(row.user.get_username(), ""), row.withdrawn_at is not None,
            row.link is not None and not row.link.why_closed(today),
        )
        for row in shoot.members.select_related("user", "link")
    ]  # fmt: skip
    links = [
        LinkLine(
            link.pk, str(link), link.role, _MEANS[link.role],
            f"{link.last_day:%a} {link.last_day.day} {link.last_day:%B %Y}",
            link.why_closed(today), len(link.members.all()),
        )
        for link in shoot.crew_links.prefetch_related("members")
    ]  # fmt: skip
    return CrewView(
        tuple(sorted(members, key=lambda one: bool(one.closed))),
        tuple(sorted(links, key=lambda one: bool(one.closed))),
    )
