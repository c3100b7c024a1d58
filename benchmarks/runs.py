"""The dry run: five thousand frames, and a month of one a minute."""

import tracemalloc
from dataclasses import dataclass, replace
from typing import Any

from benchmarks import scale
from benchmarks.measures import times_ms

SHORT, MONTH = scale.rounds(5000, 200), scale.rounds(43_200, 400)


@dataclass(frozen=True, slots=True)
class RunTimes:
    """Times of two rehearsals with their verdicts, the most memory of the longer one in MB."""

    frames_5000_ms: list[float]
    month_ms: list[float]
    month_frames: int
    peak_mb: float


def _long_run(interval_s: float, frames: int) -> Any:
    """The demo's night run made so long, with card and batteries to match."""
    from fotonomy.core.analysis.setup import analyse
    from fotonomy.core.gear.accessories import Battery, Card
    from fotonomy.core.spec.stills import LightPoint, Ramp
    from fotonomy.shoots.mapping import spec_of
    from fotonomy.shoots.models import Setup
    from fotonomy.shoots.packed_kit import packed_kit

    row = Setup.objects.select_related("shoot__owner").get(code="8A")
    spec = spec_of(row, packed_kit(row.shoot))
    light = tuple(LightPoint(k * 43_200.0, -6.0 + 6.0 * (k % 2)) for k in range(40))
    spec = replace(
        spec, frame_rate=1 / interval_s, wanted_screen_s=frames / spec.project_fps,
        devices=(spec.devices[0], Card(name="c", size_gb=4000, write_mb_s=130),
                 Battery(name="b", energy_wh=90_000)),
        run=replace(spec.run, light_curve=light, ramp=Ramp.PLANNED, declination_deg=None),
    )  # fmt: skip
    return analyse(spec)


def measure() -> RunTimes:
    """Rehearse both; the log and its verdict included."""
    from fotonomy.core.dry_run.log import judge
    from fotonomy.core.dry_run.trigger_schedule import interval_schedule
    from fotonomy.simulators.dry_run import carry_out

    def go(analysis: Any) -> int:
        spec, schedule = analysis.setup, interval_schedule(analysis)
        dry = carry_out(spec, schedule)
        assert dry.log is not None
        found = judge(
            dry.log, planned=schedule.frames, interval_s=schedule.step_s,
            project_fps=spec.project_fps,
        )  # fmt: skip
        return found.frames

    short, month = _long_run(20, SHORT), _long_run(60, MONTH)
    assert go(short) == SHORT
    quick = times_ms(lambda _: go(short), 30, 3)
    slow = times_ms(lambda _: go(month), 8, 1)
    tracemalloc.start()
    frames = go(month)
    peak = tracemalloc.get_traced_memory()[1] / 1e6
    tracemalloc.stop()
    return RunTimes(quick, slow, frames, peak)
