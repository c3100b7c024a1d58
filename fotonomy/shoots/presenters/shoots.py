"""The list of shoots: for each what is planned, what must be fixed, and what to do next."""

from dataclasses import dataclass, replace
from typing import Any

from django.contrib.auth.models import User
from django.urls import reverse

from fotonomy.shoots.models import Role, Setup, Shoot
from fotonomy.shoots.presenters.bench import LINE_COLUMNS, RowView, line_view
from fotonomy.shoots.services.crew import shared_with
from fotonomy.shoots.summaries import fresh, renew

# So many setups are planned anew for the list at most; the rest wait until their shoot is opened.
MOST_RENEWED = 60


@dataclass(frozen=True, slots=True)
class NextStep:
    """What to do next in a shoot, and where."""

    words: str
    address: str


@dataclass(frozen=True, slots=True)
class ShootLine:
    """One shoot of the list; ``hours`` are its setups as coloured pieces of the day."""

    shoot: Shoot
    hours: tuple[RowView, ...]
    setups: int
    stops: int
    cautions: int
    unknown: int
    light: str
    next_step: NextStep
    role: Role = Role.OWNS

    @property
    def address(self) -> str:
        """Where a press on its name leads: the bench for those who plan, else the spot."""
        if self.role.allows(Role.PLANS):
            return self.shoot.get_absolute_url()
        return reverse("field", args=[self.shoot.pk])

    @property
    def dates(self) -> str:
        """Its days: "Sat 5 June 2027", "Sat 5 and Sun 6 June 2027", "4 days from Sat 5 June"."""
        days = [day.date for day in self.shoot.days_by_id.values()]
        first = f"{days[0]:%a} {days[0].day} {days[0]:%B %Y}"
        if len(days) == 1:
            return first
        if len(days) == 2:
            last = days[1]
            month = "" if (last.year, last.month) == (days[0].year, days[0].month) else (
                f" {days[0]:%B}" if last.year == days[0].year else f" {days[0]:%B %Y}"
            )  # fmt: skip
            return f"{days[0]:%a} {days[0].day}{month} and {last:%a} {last.day} {last:%B %Y}"
        return f"{len(days)} days from {first}"

    @property
    def places(self) -> str:
        """Its places: the first by name, the rest counted."""
        name, more = str(self.shoot.main_place.name), len(self.shoot.places_by_id) - 1
        if not more:
            return name
        return f"{name} and {more} more" if name else f"{more + 1} places"


def shoot_lines(person: User) -> list[ShootLine]:
    """Every shoot of a person, and those they are in the crew of, newest first.

    The number of queries does not grow with setups.
    """
    own = Shoot.objects.filter(owner=person).prefetch_related("places", "days")
    shared = shared_with(person)
    roles = {member.shoot.pk: Role(member.role) for member in shared}
    found = [*own, *(member.shoot for member in shared)]
    shoots = sorted(found, key=lambda shoot: shoot.date, reverse=True)
    rows: dict[int, list[Any]] = {shoot.pk: [] for shoot in shoots}
    for row in Setup.objects.filter(shoot__in=shoots).values_list(
        "shoot_id", *LINE_COLUMNS, "summary"
    ):
        rows[row[0]].append(row[1:])
    left = MOST_RENEWED
    lines = []
    for shoot in shoots:
        if shoot.pk not in roles:
            shoot.owner = person
        known = {row[0]: kept for row in rows[shoot.pk] if (kept := fresh(row[-1])) is not None}
        stale = [row[0] for row in rows[shoot.pk] if row[0] not in known]
        if stale and len(stale) <= left:
            left -= len(stale)
            known |= renew(shoot, stale)
        line = _line(shoot, rows[shoot.pk], known)
        role = roles.get(shoot.pk, Role.OWNS)
        if not role.allows(Role.PLANS):
            spot = NextStep("Open the day at the spot", reverse("field", args=[shoot.pk]))
            line = replace(line, next_step=spot)
        lines.append(replace(line, role=role))
    return lines


def _line(shoot: Shoot, rows: list[Any], known: dict[int, dict[str, Any]]) -> ShootLine:
    nothing = {"stops": 0, "cautions": 0, "first": "", "asks": ""}
    views = [
        line_view(shoot, reverse("bench", args=[shoot.pk, row[0]]), row[:-1],
                  known.get(row[0], nothing), current=False)
        for row in rows
    ]  # fmt: skip
    return ShootLine(
        shoot, tuple(view for view in views if view.hour), len(views),
        sum(view.stops for view in views), sum(view.cautions for view in views),
        len(rows) - len(known), _light(views), _next(shoot, views, known),
    )  # fmt: skip


def _light(views: list[RowView]) -> str:
    """From the first light of the day to the last: "golden hour 07:45 to night 19:40"."""
    timed = sorted(
        (v for v in views if v.hour and v.light != "unknown"), key=lambda view: view.hour
    )
    if not timed:
        if any(view.hour for view in views):
            return "not known without latitude and longitude"
        return "no hours planned yet" if views else ""
    first, last = timed[0], timed[-1]
    if first is last:
        return f"{first.light_words} {first.hour}"
    return f"{first.light_words} {first.hour} to {last.light_words} {last.hour}"


def _next(shoot: Shoot, views: list[RowView], known: dict[int, dict[str, Any]]) -> NextStep:
    if not views:
        return NextStep("Plan the first setup", shoot.get_absolute_url())
    broken = next((view for view in views if view.stops), None)
    if broken is not None:
        first = known[broken.pk]["first"]
        return NextStep(f"Fix {broken.name}: {first[:1].lower()}{first[1:]}", broken.address)
    asked = next((view for view in views if view.asks), None)
    if asked is not None:
        return NextStep(f"Say the light of {asked.name}", asked.address)
    unplanned = [view for view in views if not view.hour]
    if unplanned:
        count = len(unplanned)
        which = unplanned[0].name if count == 1 else f"{count} setups"
        return NextStep(f"Give {which} an hour", unplanned[0].address)
    return NextStep("Pack: the list says what it takes", reverse("packing", args=[shoot.pk]))
