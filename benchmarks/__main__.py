"""``make bench``: run every measure and write docs/performance.md.

With ``--small`` every measure is taken a few times over little, in seconds, and nothing is written
or judged: so the tests see that all of it runs.
"""

import os
import platform
import sys
import tempfile
from collections.abc import Callable
from datetime import UTC, datetime
from functools import partial
from pathlib import Path
from typing import TypeVar

from benchmarks import days, drill, field, level, runs, scale, search, takes
from benchmarks import measures as m

T = TypeVar("T")
REPORT = Path(__file__).resolve().parent.parent / "docs" / "performance.md"


def machine() -> str:
    """Processor, cores and Python, as the machine names them."""
    model = ""
    info = Path("/proc/cpuinfo")
    if info.exists():
        names = [line for line in info.read_text().splitlines() if line.startswith("model name")]
        model = names[0].partition(":")[2].strip() if names else ""
    return (
        f"{model or platform.machine()}, {os.cpu_count()} cores, Python {platform.python_version()}"
    )


def row(what: str, taken: list[float], limit: str, met: bool) -> str:
    """One line of the table."""
    high = m.percentile(taken, 95)
    return f"| {what} | {middle(taken)} | {high:.2f} ms | {limit} | {'yes' if met else '**no**'} |"


def said(what: str, measure: Callable[[], T], figure: Callable[[T], str] = lambda _: "") -> T:
    """Take a measure and say that it was taken, with its figure."""
    found = measure()
    scale.say(what, figure(found))
    return found


def middle(taken: list[float]) -> str:
    """The median of some times, as a figure."""
    return f"{m.percentile(taken, 50):.2f} ms"


def main() -> int:
    """Measure, print and write; 1 if a limit is missed."""
    with tempfile.TemporaryDirectory() as folder:
        m.database_in(Path(folder))
        yard = [m.yardstick_ms()]
        scale.say("database with the demo", f"yardstick {yard[0]:.0f} ms")
        planned, read, plan_share = said("core plan", m.core_plan_ms, lambda t: middle(t[0]))
        fragment = said("a change on the bench", m.fragment_ms, middle)
        run_fragment = said("the same of an interval", partial(m.fragment_ms, "1A"), middle)
        shares = said("where a change goes", m.change_shares)
        starts = []
        for _ in range(scale.rounds(5, 1)):
            with m.served() as (_, took):
                starts.append(took)
        scale.say("starts of the server", f"{max(starts):.0f} ms")
        with m.served() as (address, _):
            browser = said(
                "keys in Chromium", partial(m.in_browser, address), lambda b: middle(b.tiles)
            )
            sent = said(
                "first visit",
                partial(m.bytes_to_first_bench, address),
                lambda b: f"{b / 1000:.0f} kB",
            )
            dropped = said("a setup moved on the day", partial(days.drop_ms, address), middle)
            card = said("a field card", partial(field.card, address), lambda c: middle(c.slow_ms))
            followed = said(
                "phones that follow", partial(field.following, address), lambda f: middle(f.news_ms)
            )
        of_days = said("days", days.measure, lambda d: middle(d.page_ms))
        ahead = said("worked out ahead", field.ahead, lambda a: middle(a.worked_out_ms))
        home = said("what comes home", takes.measure, lambda h: middle(h.frame_ms))
        practised = said("the drill", drill.measure, lambda p: middle(p.exercise_ms))
        queries, grown = said("growth of the bench", m.bench_growth, lambda g: f"{g[0]}")
        searched = said("the search", search.measure, lambda s: middle(s.best_ms))
        curves = said("curves", level.curves)
        monitor = said("the monitor", level.monitor_ms, middle)
        carried_out = said("dry runs", runs.measure, lambda r: middle(r.frames_5000_ms))
        kit, kit_queries = said("the kit", m.kit_page_ms, lambda k: middle(k[0]))
        yard.append(m.yardstick_ms())
    checks = [
        ("Core plan of one setup", planned, "a fifth of the yardstick", plan_share < 0.2),
        ("A change on the bench, on the server", fragment, "p95 under 60 ms",
         m.percentile(fragment, 95) < 60),
        ("The same on the interval bench, ramp and all", run_fragment, "p95 under 60 ms",
         m.percentile(run_fragment, 95) < 60),
        (f"Dry run of {runs.SHORT} frames, with its verdict", carried_out.frames_5000_ms, "p95 under 150 ms",
         m.percentile(carried_out.frames_5000_ms, 95) < 150),
        (f"Dry run of a month, {carried_out.month_frames} frames", carried_out.month_ms,
         "p95 under 1500 ms", m.percentile(carried_out.month_ms, 95) < 1500),
        ("Key press to redrawn tiles, in Chromium", browser.tiles, "p95 under 100 ms",
         m.percentile(browser.tiles, 95) < 100),
        ("The same with the plans open", browser.beside, "p95 under 150 ms",
         m.percentile(browser.beside, 95) < 150),
        ("Key press to the monitor's picture of it", browser.picture, "p95 under 150 ms",
         m.percentile(browser.picture, 95) < 150),
        ("Monitor stand-in, 960x540 with scopes", monitor, "p95 under 120 ms",
         m.percentile(monitor, 95) < 120),
        ("Key press to the plans that follow it", browser.plans, "–", True),
        ("Search for the best plan", searched.best_ms, "p95 under 50 ms",
         m.percentile(searched.best_ms, 95) < 50),
        ("Best plan, alternatives, reasons", searched.answer_ms, "p95 under 100 ms",
         m.percentile(searched.answer_ms, 95) < 100),
        (f"Kit page with {max(kit_queries)} things", kit, "p95 under 150 ms",
         m.percentile(kit, 95) < 150),
        ("Sky of a day at one place, warm", of_days.sky_ms, "p95 under 60 ms",
         m.percentile(of_days.sky_ms, 95) < 60),
        (f"Day page with {days.SETUPS[-1]} setups", of_days.page_ms, "p95 under 150 ms",
         m.percentile(of_days.page_ms, 95) < 150),
        ("A setup moved on the day and redrawn, in Chromium", dropped, "p95 under 150 ms",
         m.percentile(dropped, 95) < 150),
        ("A field card to its first words, on 400 kbit/s and a phone four times as slow", card.slow_ms,
         "p95 under 1 s", m.percentile(card.slow_ms, 95) < 1000),
        ("The same from the device, without a network", card.kept_ms, "p95 under 200 ms",
         m.percentile(card.kept_ms, 95) < 200),
        (f"{ahead.setups} setups worked out ahead for a phone", ahead.worked_out_ms, "p95 under 2 s",
         m.percentile(ahead.worked_out_ms, 95) < 2000),
        (f"{field.WAITING} takes that waited, sent at once", ahead.sent_ms, "p95 under 3 s",
         m.percentile(ahead.sent_ms, 95) < 3000),
        (f"What is new, for {field.PHONES} phones on one shoot beside edits", followed.news_ms,
         "p95 under 200 ms", m.percentile(followed.news_ms, 95) < 200),
        ("An edit on the bench beside them", followed.edits_ms, "p95 under 300 ms",
         m.percentile(followed.edits_ms, 95) < 300),
        ("A year of dates for one setup", of_days.year_ms, "p95 under 2 s",
         m.percentile(of_days.year_ms, 95) < 2000),
        *takes.checks(home, m.percentile),
        *drill.checks(practised, m.percentile),
        ("Start of the server to its first page", starts, "under 3 s", max(starts) < 3000),
    ]  # fmt: skip
    growth = grown[m.SIZES[-1]] / grown[m.SIZES[0]]
    constant = len(set(queries.values())) == 1 and len(set(kit_queries.values())) == 1
    combinations = f"{searched.combinations:,}".replace(",", " ")
    arranged, quick = of_days.arranged, of_days.arranged.slowest_s < 3
    more = arranged.solved / arranged.plain
    constant = constant and len(set(of_days.queries.values())) == 1
    ratio = searched.plain_ms / m.percentile(searched.best_ms, 50)
    faster = all(curve.ratio >= 1 for curve in curves)
    text = "\n".join([
        "# Performance", "",
        f"Measured {datetime.now(UTC):%Y-%m-%d} by `make bench` on {machine()}. Times move with the "
        "machine; the ratios below them move less.", "",
        "| what | median | p95 | limit | met |", "|---|---|---|---|---|",
        *[row(*check) for check in checks], "",
        f"- Yardstick: a plain Python loop over 200 000 squares took {yard[0]:.0f} ms before and "
        f"{yard[1]:.0f} ms after. A change on the server costs "
        f"{m.percentile(fragment, 50) / yard[0]:.1f} such loops, a core plan {plan_share:.3f} of the "
        "loops run by turns with it.",
        f"- Queries of the bench page: {', '.join(f'{v} with {k} setups' for k, v in queries.items())}"
        f"; of the kit page: {', '.join(f'{v} with {k} things' for k, v in kit_queries.items())}"
        f" ({'constant' if constant else '**grows**'}).",
        f"- The bench page of a shoot with {m.SIZES[-1]} setups takes {growth:.1f} times as long as with "
        f"{m.SIZES[0]} (limit: twice; {'met' if growth <= 2 else '**missed**'}).",
        f"- From the log-in to the first bench {sent / 1000:.0f} kB of content come over the line, compressed (limit: 180; "
        f"{'met' if sent < 180_000 else '**missed**'}).",
        f"- A field card is {card.content_bytes / 1000:.0f} kB of content over the line, compressed and without the fonts, which stay on "
        f"the device (limit: 60; {'met' if card.content_bytes < 60_000 else '**missed**'}); "
        f"{ahead.setups} setups worked out ahead are {ahead.day_bytes / 1000:.0f} kB (limit: 300; "
        f"{'met' if ahead.day_bytes < 300_000 else '**missed**'}).",
        f"- The search covers {combinations} combinations (six lenses, nine filters, every mark of "
        f"one body, all of it free). A plain Python loop over the same set took "
        f"{searched.plain_ms / 1000:.1f} s, {ratio:.0f} times the search, and found "
        f"{'the same best plan' if searched.same else '**another plan**'}. The whole answer takes at "
        f"most {searched.peak_mb:.1f} MB at once.",
        f"- {days.INSTANCES} times {days.TASKS} setups over two days: the arranger placed {arranged.solved}, "
        f"the plain order of what closes first {arranged.plain}, {more:.2f} times as many; {arranged.proven} of "
        f"{days.INSTANCES} were proven to fit no more, the slowest took {arranged.slowest_s:.1f} s (limit: 3 s; "
        f"{'met' if quick else '**missed**'}).",
        f"- Queries of the Day page: "
        f"{', '.join(f'{v} with {k} setups' for k, v in of_days.queries.items())}.",
        f"- A process with ephemeris and solver loaded takes {of_days.memory_mb[1]:.0f} MB, without them "
        f"{of_days.memory_mb[0]:.0f} MB.",
        *takes.lines(home),
        f"- The dry run of a month takes at most {carried_out.peak_mb:.0f} MB at once.",
        "- A million values through a curve, against the colour-science library in the same run: "
        + "; ".join(
            f"{curve.name} {m.percentile(curve.ours_ms, 50):.0f} ms, the library "
            f"{m.percentile(curve.library_ms, 50):.0f} ms, {curve.ratio:.1f} times as long"
            for curve in curves
        ) + f" (limit: at least as fast; {'met' if faster else '**missed**'}).",
        f"- A change on the server costs {m.percentile(fragment, 50) / m.percentile(planned, 50):.0f} "
        "times its core plan. As a profile sees it: "
        + ", ".join(f"{words} {share:.0%}" for words, share in shares.items())
        + "; the database is in the others too, and the rest is what reads and answers a request.",
        f"- Planning a setup takes {m.percentile(planned, 50) / m.percentile(read, 50):.2f} times as "
        "long as reading it from a checked JSON file.", "",
    ])  # fmt: skip
    print(text)
    if scale.is_small():
        return 0
    REPORT.write_text(text, "utf-8")
    return (
        0
        if constant
        and growth <= 2
        and faster
        and quick
        and more >= 1
        and searched.same
        and searched.combinations > 10_000_000
        and all(met for *_, met in checks)
        else 1
    )


if __name__ == "__main__":
    sys.exit(main())
