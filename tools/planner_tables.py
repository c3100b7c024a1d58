"""The planner's answers as tables for docs/planner.md: python tools/planner_tables.py writes them.

Two tables with the demo kit: the starting point of each kind over the light, and the demo's setups
with everything free but the framing. A test compares what stands in the page with what comes out.
"""

import os
import sys
import tempfile
from dataclasses import replace
from pathlib import Path
from typing import Any

ROOT = Path(__file__).resolve().parents[1]
PAGE = ROOT / "docs" / "planner.md"
LIGHTS = (-3, 0, 3, 6, 9, 12, 14, 16)
# The setup of the demo that a kind starts from: its lens, distance and subject.
FROM = {
    "real_time": "5A", "slow_motion": "4B", "night": "7A", "macro": "4C", "rolling": "3A",
    "aerial": "2A", "interval": "1A", "burst": "5B", "long_exposure": "6A",
}  # fmt: skip


def settings(setup: Any) -> str:
    """What is set, in one cell."""
    from fotonomy.core.parsing.settings import format_setting

    names = ["shutter", "iris", "iso", "nd_density"]
    if not setup.single_frame:
        names.insert(0, "frame_rate")
    said = {name: format_setting(setup, name) for name in names}
    said["iso"] = f"ISO {said['iso']}"
    said["nd_density"] = f"ND {setup.nd_density:.1f}" if setup.nd_density else "no ND"
    return ", ".join(said.values())


def spec(code: str) -> Any:
    """A setup of the demo as the core plans it."""
    from fotonomy.shoots.mapping import spec_of
    from fotonomy.shoots.models import Setup
    from fotonomy.shoots.packed_kit import packed_kit

    row = Setup.objects.select_related("shoot__owner").get(code=code, shoot__owner__username="demo")
    return spec_of(row, packed_kit(row.shoot))


def starting_points() -> list[str]:
    """A row a kind and light."""
    from fotonomy.core.photometry.exposure_value import Ev100
    from fotonomy.core.planner.presets import preset_for
    from fotonomy.core.spec.kind import Kind

    lines = ["| kind | " + " | ".join(f"EV {ev}".replace("-", "−") for ev in LIGHTS) + " |",
             "|---|" + "---|" * len(LIGHTS)]  # fmt: skip
    for name, code in FROM.items():
        cells = []
        for ev in LIGHTS:
            kind = Kind(name)
            start = preset_for(replace(spec(code), light=Ev100(float(ev))), kind, True)
            words = settings(start.setup)
            cells.append(words if start.solution else f"does not balance: {words}")
        lines.append(f"| {name.replace('_', ' ')} ({code}) | " + " | ".join(cells) + " |")
    return lines


def free_setups() -> list[str]:
    """A row a setup of the demo, everything free but the framing."""
    from fotonomy.core.planner.plans import solve
    from fotonomy.core.spec.setup import FRAMING
    from fotonomy.shoots.models import Setup

    lines = ["| setup | kind | best plan | not met |", "|---|---|---|---|"]
    rows = Setup.objects.filter(shoot__owner__username="demo").order_by("position")
    for row in rows:
        free = replace(spec(row.code), held=frozenset(FRAMING), limits=())
        best = solve(free).best
        words = settings(best.candidate.setup) if best else "nothing balances"
        unmet = "; ".join(best.unmet) if best else ""
        lines.append(f"| {row.code} | {free.kind.value.replace('_', ' ')} | {words} | {unmet} |")
    return lines


TABLES = {"starting points": starting_points, "free": free_setups}


def written(page: str) -> str:
    """The page with both tables as they come out now."""
    for name, make in TABLES.items():
        begin, end = f"<!-- table: {name} -->\n", f"<!-- end: {name} -->"
        head, rest = page.split(begin)
        tail = rest.split(end)[1]
        page = head + begin + "\n".join(make()) + "\n" + end + tail
    return page


def main() -> None:
    """Write the tables into the page."""
    sys.path.insert(0, str(ROOT))
    from benchmarks.measures import database_in

    with tempfile.TemporaryDirectory() as folder:
        os.environ.pop("FOTONOMY_DATABASE_URL", None)
        database_in(Path(folder))
        PAGE.write_text(written(PAGE.read_text("utf-8")), "utf-8")


if __name__ == "__main__":
    main()
