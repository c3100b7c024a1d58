"""The takes of a person as what they teach, and limits of the kit moved where they say so."""

from dataclasses import replace

from django.db import transaction

from fotonomy.core.analysis.setup import equivalent_focal_mm
from fotonomy.core.errors import RuleError
from fotonomy.core.gear.support import Support
from fotonomy.core.pictures.run import Cause, RunReport, Sort
from fotonomy.core.spec.intent import Handheld
from fotonomy.core.spec.setup import Setup as Spec
from fotonomy.core.takes.actual import actual_of
from fotonomy.core.takes.kit_suggestions import (
    CeilingOffer,
    MethodCount,
    Shot,
    by_method,
    ceiling_offer,
    method_offer,
)
from fotonomy.field.models import Take
from fotonomy.kit.history import recorded
from fotonomy.kit.models import Accessory, Body
from fotonomy.shoots.mapping import planned_setups
from fotonomy.shoots.models import Setup, Shoot
from fotonomy.shoots.write_lock import in_turn

_HELD = (Support.HAND, Support.SHOULDER)
_SHAKEN, _NOISY = {"shake", "soft"}, {"too noisy"}
# The takes of so many shoots are looked at, the last ones.
MOST_SHOOTS = 60


def shoots_of(shoot: Shoot) -> list[Shoot]:
    """The shoots whose takes count: all of the owner's for the owner, for the crew this one."""
    if not shoot.actor.owns:
        return [shoot]
    rows = Shoot.objects.filter(owner=shoot.owner).prefetch_related("places", "days")
    return list(rows.order_by("-pk")[:MOST_SHOOTS])


def shots_of(shoots: list[Shoot]) -> list[Shot]:
    """Their takes whose setup still stands, as it was planned and set then."""
    found = []
    for shoot in shoots:
        takes = list(Take.objects.filter(shoot=shoot))
        if not takes:
            continue
        specs = planned_setups(shoot)
        for take in takes:
            if take.setup_key in specs:
                found.append(_shot(specs[take.setup_key][0], take))
    return found


def _shot(spec: Spec, take: Take) -> Shot:
    done = actual_of(spec, take.planned, take.differed).done
    why = set(take.why)
    return Shot(
        body=done.body.name, profile=done.profile.name, iso=done.iso, lens=done.lens.name,
        support=done.support.value, by_hand=done.support in _HELD, time_s=done.time_s,
        equivalent_mm=equivalent_focal_mm(done), stabiliser_stops=done.stabiliser_stops,
        subject=done.subject or "anything", rate_fps=done.frame_rate,
        every_s=1 / done.frame_rate if done.kind.traits.has_interval else None,
        good=take.verdict == "good", noisy=bool(why & _NOISY), shaken=bool(why & _SHAKEN),
    )  # fmt: skip


def ceiling_offers(shoot: Shoot, shots: list[Shot]) -> list[tuple[Body, CeilingOffer]]:
    """Bodies of the owner whose takes speak for another ceiling, inside their range."""
    found = []
    for body in Body.objects.filter(owner=shoot.owner):
        offer = ceiling_offer(shots, body.name, body.iso_ceiling)
        if offer is None:
            continue
        try:
            replace(body.to_spec(), iso_ceiling=offer.offered)
        except RuleError:
            continue
        found.append((body, offer))
    return found


def changed_by(body: Body, offered: int) -> tuple[int, int]:
    """How many setups with a body lie over its ceiling now, and would with the offered one."""
    rows = Setup.objects.filter(body=body, shoot__owner=body.owner)
    return (
        rows.filter(iso__gt=body.iso_ceiling).count(), rows.filter(iso__gt=offered).count()
    )  # fmt: skip


def method_counts(shots: list[Shot]) -> tuple[MethodCount, ...]:
    """Each method of the hand-held limit with its takes."""
    return by_method(shots)


def offered_method(shoot: Shoot, shots: list[Shot]) -> MethodCount | None:
    """Another method that the takes speak for."""
    return method_offer(by_method(shots), Handheld(shoot.handheld))


# A counter is not blamed for what is lost in the first frames: common practice, no source.
COUNTS_AT_LEAST = 20


def counter_offer(row: Setup, found: RunReport) -> tuple[Accessory, int] | None:
    """The remote of a run that may be trusted up to the first frame it lost, and that count.

    None where nothing was lost that a counter could have, or where the kit says so already.
    """
    lost = next(
        (one for one in found.of(Sort.GAP) if one.cause in (Cause.STOPPED, Cause.COUNTER)), None
    )
    remote = Accessory.objects.filter(
        pk__in=row.thing_ids, sort=Accessory.REMOTE, owner=row.shoot.owner
    ).first()
    if lost is None or remote is None or lost.at < COUNTS_AT_LEAST:
        return None
    if remote.sure_count is not None and remote.sure_count <= lost.at:
        return None
    return remote, lost.at


@in_turn()
@transaction.atomic
def take_count(row: Setup, found: RunReport) -> tuple[Accessory, int] | None:
    """Say in the kit how far a remote counts for sure; one step to undo there."""
    offer = counter_offer(row, found)
    if offer is None:
        return None
    remote, count = offer
    with recorded(row.shoot.owner, f"{remote} counts for sure to {count}"):
        kept = Accessory.objects.select_for_update().get(pk=remote.pk)
        kept.sure_count = count
        kept.save(update_fields=["sure_count"])
    return offer


@in_turn()
@transaction.atomic
def take_ceiling(shoot: Shoot, body_id: int) -> CeilingOffer | None:
    """Move a body's ceiling to what is offered at this moment; one step to undo in the kit."""
    shots = shots_of(shoots_of(shoot))
    pair = next((one for one in ceiling_offers(shoot, shots) if one[0].pk == body_id), None)
    if pair is None:
        return None
    body, offer = pair
    with recorded(shoot.owner, f"ISO ceiling of {body} from takes"):
        kept = Body.objects.select_for_update().get(pk=body.pk, owner=shoot.owner)
        kept.iso_ceiling = offer.offered
        kept.save(update_fields=["iso_ceiling"])
    return offer


@in_turn()
@transaction.atomic
def take_method(shoot: Shoot, method: Handheld) -> None:
    """Another method of the hand-held limit for a shoot; the page offers the way back."""
    kept = Shoot.objects.select_for_update().get(pk=shoot.pk)
    kept.handheld = method.value
    kept.save(update_fields=["handheld"])
    shoot.handheld = method.value
