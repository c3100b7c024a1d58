"""Where nothing fits: what stands in the way, and the smallest changes that would do."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from itertools import combinations

from fotonomy.core import constants as c
from fotonomy.core.analysis.setup import analyse
from fotonomy.core.exposure.scales import iso_offer
from fotonomy.core.gear.filters import Filter, FilterKind, Mount, StepRing
from fotonomy.core.gear.neutral_density import density_to_factor, density_to_stops
from fotonomy.core.notation import writing as n
from fotonomy.core.notation.spoken import said_distance
from fotonomy.core.parsing.settings import format_setting
from fotonomy.core.parsing.table import by_name, said
from fotonomy.core.photometry.exposure_value import Ev100
from fotonomy.core.photometry.stops import iso_stops
from fotonomy.core.planner.search import Candidate, Search
from fotonomy.core.spec.changes import Change
from fotonomy.core.spec.setup import HOLDABLE, SETTINGS, Setup

# Densities shops sell. Common practice, no source.
SHOP_DENSITIES = (0.3, 0.6, 0.9, 1.2, 1.5, 1.8, 2.1, 2.4, 2.7, 3.0, 3.6, 4.5)


@dataclass(frozen=True, slots=True)
class Relaxation:
    """A way out where nothing fits: what to do, why it helps, and the changes that do it.

    ``changes`` is empty for what money or weather has to do.
    """

    label: str
    why: str
    changes: tuple[Change, ...] = ()


def changes_to(setup: Setup, target: Setup) -> tuple[Change, ...]:
    """What has to be set to get from one setup to another of the same body."""
    found = []
    if target.lens.name != setup.lens.name:
        found.append(Change("lens", target.lens.name))
    if target.focal_mm != setup.focal_mm:
        found.append(Change("focal_mm", target.focal_mm))
    if target.subject_distance_m != setup.subject_distance_m:
        found.append(Change("subject_distance_m", target.subject_distance_m))
    for name in SETTINGS:
        # What is written alike is the same mark: no press for a rounding.
        if format_setting(target, name) != format_setting(setup, name):
            found.append(Change(name, getattr(target, name)))
    return tuple(found)


def ways_out(setup: Setup, missing: float | None) -> tuple[tuple[str, ...], tuple[Relaxation, ...]]:
    """What is held and alone in the way, and the smallest changes that make it work.

    ``missing`` is the least miss in stops (positive: too much light), None where a setting
    has nothing to choose from at all.
    """
    freed = {
        name: option for name in HOLDABLE
        if name in setup.held or setup.limit_on(name) is not None
        if (option := Search(set_free(setup, name)).best()) is not None
    }  # fmt: skip
    relaxations = [
        Relaxation(
            f"Free the {_said(name)}: {words_of(setup, one.setup)}",
            f"this change alone is enough; the light then stands at "
            f"{n.format_signed(one.judgement.error_stops)}",
            freeing(setup, name) + changes_to(setup, one.setup),
        )
        for name, one in sorted(freed.items(), key=lambda pair: pair[1].score)
    ]
    if missing is not None:
        if missing < 0:
            relaxations += _light_to_find(setup, missing)
        elif "nd_density" not in freed:
            relaxations += _ring_to_get(setup) or _glass_to_buy(setup)
        if not freed:
            relaxations = _two_freed(setup) + relaxations
    return tuple(freed), tuple(relaxations)


def _said(name: str) -> str:
    return said(by_name()[name].label)


def freeing(setup: Setup, *names: str) -> tuple[Change, ...]:
    """The changes that set these settings free."""
    held = tuple(Change(f"held_{name}", False) for name in names if name in setup.held)
    return held + tuple(Change(f"limit_{name}", None) for name in names if setup.limit_on(name))


def set_free(setup: Setup, *names: str) -> Setup:
    limits = tuple(limit for limit in setup.limits if limit.setting not in names)
    return replace(setup, held=setup.held - frozenset(names), limits=limits)


def words_of(setup: Setup, target: Setup) -> str:
    """What to set to get from one setup to another, as said out loud."""
    return ", ".join(said_out(target, one.setting) for one in changes_to(setup, target))


def said_out(setup: Setup, name: str) -> str:
    """A setting of a setup as said out loud: "ISO 640", "no ND", "25 fps", "f/4"."""
    match name:
        case "iso":
            return f"ISO {setup.iso}"
        case "nd_density":
            return f"ND {n.format_density(setup.nd_density)}" if setup.nd_density else "no ND"
        case "frame_rate":
            rate = n.format_frame_rate(setup.frame_rate)
            return rate if setup.frame_rate < 1 else f"{rate} fps"
        case "subject_distance_m":
            return said_distance(setup, setup.subject_distance_m)
        case "focal_mm":
            return f"{n.format_number(setup.focal_mm, 2)} mm"
        case "lens":
            return setup.lens.name
    return format_setting(setup, name)


def _two_freed(setup: Setup) -> list[Relaxation]:
    """Where one is not enough: the cheapest pair of settings to free, or all of them."""
    stuck = [s for s in SETTINGS if s in setup.held or setup.limit_on(s) is not None]
    for groups in (list(combinations(stuck, 2)), [tuple(stuck)] if len(stuck) > 2 else []):
        found = [
            (g, one) for g in groups if (one := Search(set_free(setup, *g)).best()) is not None
        ]
        if found:
            break
    else:
        return []
    names, one = min(found, key=lambda pair: pair[1].score)
    free = " and ".join(_said(name) for name in names)
    return [
        Relaxation(
            f"Free {free}: {words_of(setup, one.setup)}", "no single one of them is enough",
            freeing(setup, *names) + changes_to(setup, one.setup),
        )
    ]  # fmt: skip


def _ring_to_get(setup: Setup) -> list[Relaxation]:
    """The step ring with which glass that is owned already would do: cheaper than any glass."""
    thread = setup.lens.thread_mm
    if thread is None:
        return []
    free = set_free(setup, "nd_density")
    threads = {g.thread_mm for g in setup.glass if g.seat is Mount.THREAD and g.thread_mm}
    for own in sorted(threads - {thread}, key=lambda mm: (mm < thread, mm)):
        ring = StepRing(name=f"ring {thread:g} to {own:g} mm", lens_mm=thread, filter_mm=own)
        one = Search(replace(free, holders=(*setup.holders, ring))).best()
        if one is not None and one.setup.nd_density:
            return [
                Relaxation(
                    f"Get a step ring {thread:g} to {own:g} mm: your own filter then goes on",
                    f"{words_of(setup, one.setup)}; no filter to buy",
                )
            ]
    return []


def glass_for_wishes(setup: Setup, unmet: Callable[[Setup], int]) -> tuple[Relaxation, ...]:
    """The single ND to buy with which a plan meets most of what is wanted, and does best.

    ``unmet`` counts what a setup misses. Empty where nothing is missed, ND is held, or no glass
    would help.
    """
    best = Search(setup).best()
    missed = 0 if best is None else unmet(best.setup)
    if not missed or "nd_density" in setup.held:
        return ()
    tried = [
        (unmet(one.setup), one.score, density, one.setup) for density, one in _with_glass(setup)
    ]
    least, _, density, found = min(tried, default=(missed, 0.0, 0.0, setup), key=lambda t: t[:3])
    return (_to_buy(setup, density, found),) if least < missed else ()


def _glass_to_buy(setup: Setup) -> list[Relaxation]:
    """The weakest single ND that would do, to buy or to hire."""
    first = next(_with_glass(setup), None)
    return [] if first is None else [_to_buy(setup, first[0], first[1].setup)]


def _with_glass(setup: Setup) -> Iterator[tuple[float, Candidate]]:
    """The densities shops sell with which there is a plan that uses glass, and that plan."""
    free = set_free(setup, "nd_density")
    for density in SHOP_DENSITIES:
        glass = Filter(
            name=f"ND {density:g} to buy", kind=FilterKind.ND, stops=density_to_stops(density),
            thread_mm=setup.lens.thread_mm,
        )  # fmt: skip
        if setup.lens.thread_mm is None:
            glass = replace(glass, mount=Mount.CLIP_ON)
            if setup.body.fixed_lens:
                # Made for this phone or drone: it fits no thread and no other camera.
                free = replace(free, body=replace(setup.body, fixed_lens=False))
        one = Search(replace(free, glass=(*setup.glass, glass))).best()
        if one is not None and one.setup.nd_density:
            yield density, one


def _to_buy(setup: Setup, density: float, found: Setup) -> Relaxation:
    """The words for a filter that is not owned, and what is set with it."""
    thread = setup.lens.thread_mm
    made_for = f"made for {setup.body.name}" if setup.body.fixed_lens else "to clip in"
    fit = f"{thread:g} mm thread" if thread else made_for
    return Relaxation(
        f"Buy or hire an ND {density:g} ({fit}): a {density:g} would do",
        f"ND{density_to_factor(density)} takes {n.format_stops(density_to_stops(density))}, "
        f"and then {words_of(setup, found) or 'everything stays'}",
    )


def _light_to_find(setup: Setup, missing: float) -> list[Relaxation]:
    """Where light is short: an ISO over the ceiling, a faster lens, or more light."""
    found = []
    ceiling = setup.body.iso_ceiling
    over = [int(o.value) for o in iso_offer(setup).options if o.value > ceiling]
    for iso in over:
        raised = replace(setup.body, iso_ceiling=iso)
        one = Search(set_free(replace(setup, body=raised), "iso")).best()
        if one is not None and one.setup.iso > ceiling:
            stops = n.format_stops(iso_stops(one.setup.iso) - iso_stops(ceiling))
            found.append(
                Relaxation(
                    f"ISO {one.setup.iso}, over your ceiling",
                    f"{stops} noisier than ISO {ceiling}",
                    changes_to(setup, one.setup),
                )
            )  # fmt: skip
            break
    widest = setup.lens.widest_at(setup.focal_mm)
    needed = min(setup.iris, widest) if "iris" in setup.held else widest
    faster = needed * 2 ** (missing / 2)
    if faster >= 0.95:
        mark = max([m for m in (1.0, 1.2, 1.4, 1.8, 2.0, 2.8, 4.0) if m <= faster * 1.06] or [0.0])
        if mark:
            found.append(
                Relaxation(
                    f"Hire a lens of {n.format_iris(mark)} or wider",
                    f"{setup.lens.name} opens to {n.format_iris(widest)}, "
                    f"{n.format_stops(missing)} short",
                )
            )  # fmt: skip
    ev = round(min(analyse(setup).budget.ev100 - missing, c.EV_RANGE[1]), 1)
    found.append(
        Relaxation(
            f"Find {n.format_stops(missing)} more light, or come at EV {ev:g}",
            "a lamp, an hour nearer noon, or the subject nearer to what lights it",
            (Change("light", Ev100(ev)),),
        )
    )
    return found
