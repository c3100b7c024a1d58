"""Fields of a run as text: what stands in them, and what they are told apart from by."""

from fotonomy.core.analysis.interval import three_of
from fotonomy.core.notation import writing as n
from fotonomy.core.parsing.stills import format_light_curve, format_passes, format_span
from fotonomy.core.spec.setup import Kind
from fotonomy.core.spec.setup import Setup as Spec


def run_texts(spec: Spec) -> dict[str, tuple[str, str, str]]:
    """Label, present text and hint of every field of a run."""
    run = spec.run
    declination = run.declination_deg
    trail = run.trail_percent
    event_s = three_of(spec).event_s if spec.kind is Kind.INTERVAL else run.event_s
    return {
        "event": ("The event lasts", format_span(event_s), "8 h, 45 min or 1:30"),
        "self_timer": ("Self-timer", "off" if not run.self_timer_s
                       else format_span(run.self_timer_s), "adds to every frame"),
        "start_after": ("First frame after", "at once" if not run.start_after_s
                        else format_span(run.start_after_s), "from the press on the remote"),
        "light_curve": ("Light to come", format_light_curve(run.light),
                        "0 min 12 EV; 40 min 9 EV; 1:10 4 EV; or steady"),
        "declination": ("Stars at", "none" if declination is None
                        else f"{n.format_number(declination)}°",
                        "degrees from the sky's equator, south negative; none for no stars"),
        "star_px": ("Longest trail", f"{n.format_number(run.star_px)} px", "of a star"),
        "temperature": ("As cold as", f"{n.format_number(run.temperature_c, 0)} °C",
                        "about the batteries"),
        "burst": ("Held for", format_span(run.burst_s), ""),
        "bursts_an_hour": ("Bursts", f"{n.format_number(run.bursts_an_hour)} an hour", ""),
        "moment": ("The moment lasts", f"{n.format_number(run.moment_s, 4)} s",
                   "0.1 s, 1/20 or 50 ms"),
        "frames": ("Exposures", str(run.frames), ""),
        "passes": ("Something passes", format_passes(run.passes_s),
                   "cars, lamps or waves: every 8 s, 120 an hour; none"),
        "trail": ("Trail wanted", "none" if trail is None else f"{n.format_number(trail)} %",
                  "of the frame width; none for no wish"),
    }  # fmt: skip
