"""Ways out of what a rehearsal showed: each loss with its number and what would do."""

from dataclasses import dataclass
from math import ceil

from fotonomy.core import constants as c
from fotonomy.core import notation as n
from fotonomy.core.burst import file_mb
from fotonomy.core.devices import Battery, Card, Remote
from fotonomy.core.findings_run import as_jpeg, every, on_screen, take_along
from fotonomy.core.fixes import Change, Fix
from fotonomy.core.interval_facts import IntervalRun
from fotonomy.core.rehearsal import Ended, Lost, Verdict
from fotonomy.core.run import Files
from fotonomy.core.setup import Setup


@dataclass(frozen=True, slots=True)
class Lesson:
    """What a rehearsal teaches: what went wrong, why with the number, and ways out.

    ``by_hand`` is what no setting of the plan can do.
    """

    what: str
    why: str
    fixes: tuple[Fix, ...]
    by_hand: str = ""


def lessons(setup: Setup, run: IntervalRun, verdict: Verdict, write_s: float) -> tuple[Lesson, ...]:
    """Every lesson of a rehearsal; ``write_s`` is what a frame really took to write."""
    found = [_of_loss(setup, run, reason, count, write_s) for reason, count in verdict.lost]
    told = {reason for reason, _ in verdict.lost}
    if verdict.ended is Ended.COUNT and verdict.short_frames and not told:
        found.append(_count_short(setup, run, verdict))
    if verdict.jump_count and not told:
        longest = n.format_duration(verdict.longest_gap_s)
        found.append(Lesson(
            "The interval was not kept",
            f"{verdict.jump_count} times more than 1.5 intervals lie between two frames, at most "
            f"{longest}", (), "tape the dial, lock the remote's keys, put it out of reach",
        ))  # fmt: skip
    return tuple(found)


def _of_loss(setup: Setup, run: IntervalRun, lost: Lost, count: int, write_s: float) -> Lesson:
    times = f"{count} time{'' if count == 1 else 's'}"
    interval = n.format_number(run.cycle.interval_s, 2)
    match lost:
        case Lost.BUFFER:
            return Lesson(
                "The card did not keep up",
                f"A frame took {n.format_number(write_s, 2)} s to write and the interval is "
                f"{interval} s: {times} the buffer of {run.buffer_frames} was full",
                _for_the_card(setup, run, write_s),
            )  # fmt: skip
        case Lost.EXPOSING | Lost.NOISE_FRAME:
            off = Fix("noise reduction off", (Change("noise_frames", ""),), 0.0)
            ways = [off] if setup.run.noise_frames else []
            return Lesson(
                "The camera was deaf", f"{times} it was {lost.value} when the remote fired: it is "
                f"for {n.format_number(run.cycle.deaf_s, 2)} s of {interval} s",
                (*ways, every(run.cycle.shortest_s)),
            )  # fmt: skip
        case Lost.CARD:
            larger = [d for d in setup.bag_devices
                      if isinstance(d, Card) and d.size_gb > run.card.size_gb]  # fmt: skip
            jpeg = [] if setup.run.files is Files.JPEG else [as_jpeg()]
            return Lesson(
                "The card was full", f"The run takes {n.format_number(run.size_gb)} GB and "
                f"{run.card.name} holds {n.format_number(run.card.size_gb, 0)} GB when empty",
                (*(take_along(d) for d in larger[-1:]), *jpeg), "format the card before you go",
            )  # fmt: skip
        case Lost.BATTERY:
            return _battery(setup, run)
    return Lesson(
        "The camera took one frame only", f"{times} the remote fired in vain",
        (), "set the drive to continuous, then press the remote",
    )  # fmt: skip


def _for_the_card(setup: Setup, run: IntervalRun, write_s: float) -> tuple[Fix, ...]:
    speed = run.card.write_mb_s or 0.0
    quicker = sorted(
        (d for d in setup.bag_devices if isinstance(d, Card) and (d.write_mb_s or 0.0) > speed),
        key=lambda d: -(d.write_mb_s or 0.0),
    )
    needs = run.cycle.deaf_s + write_s + c.CYCLE_MARGIN_S
    ways = [take_along(d) for d in quicker[:1]]
    jpeg_s = write_s * setup.body.jpeg_mb / file_mb(setup.body, setup.run.files)
    if setup.run.files is not Files.JPEG and jpeg_s < run.cycle.interval_s:
        ways.append(as_jpeg())
    return (*ways, every(float(ceil(needs))))


def _battery(setup: Setup, run: IntervalRun) -> Lesson:
    more = sorted(
        (d for d in setup.bag_devices if isinstance(d, Battery)), key=lambda d: -d.energy_wh
    )
    power = run.power
    needs = "" if power is None else f"The run takes {n.format_number(power.needs_wh)} Wh; "
    half = on_screen(max(0.1, round(setup.wanted_screen_s / 2, 1)))
    cold = n.format_number(setup.run.temperature_c, 0)
    return Lesson(
        "The battery was empty", f"{needs}it ended at {cold} °C before the run did",
        (*(take_along(d) for d in more[:1]), half), "keep spares warm in a pocket",
    )  # fmt: skip


def _count_short(setup: Setup, run: IntervalRun, verdict: Verdict) -> Lesson:
    others = [
        d for d in setup.bag_devices
        if isinstance(d, Remote) and d.unlimited
        and (d.sure_count or 0) != (run.remote.sure_count or 0)
    ]  # fmt: skip
    return Lesson(
        "The remote stopped early",
        f"It fired {verdict.fired} of {verdict.planned} times: its counter skipped, or counts no "
        "further", tuple(take_along(d) for d in others[:1]),
        "run it unlimited and stop it by the clock",
    )  # fmt: skip
