"""Clip and card, interval runs, bursts and long exposures."""

from typing import Any

from fotonomy.core.analysis import interval as iv
from fotonomy.core.analysis.interval import IntervalRun
from fotonomy.core.analysis.setup import Analysis
from fotonomy.core.motion.cadence import pixels_of
from fotonomy.core.optics import star_trails as sr
from fotonomy.core.stills import burst as bu
from fotonomy.core.stills import clip as cl
from fotonomy.core.stills import energy as en
from fotonomy.core.stills import interval as st
from fotonomy.core.stills import lightning as li
from fotonomy.core.stills import long_exposure as lo
from fotonomy.core.stills.intervalometer import Intervalometer
from fotonomy.core.tiles import Tile
from fotonomy.core.working.quantity import Function, of_property, table


def _by_kind(
    video: Function | None, run: Function, single: Function | None = None
) -> dict[str, Any]:
    """One function for video and bursts, one for interval runs, one for a long exposure."""

    def chosen(analysis: Analysis, _: str) -> Function | None:
        kind = analysis.setup.kind
        if kind.traits.has_interval:
            return run
        return single if kind.traits.long_frame else video

    forms = dict.fromkeys(one for one in (video, run, single) if one is not None)
    return {"choose": chosen, "forms": tuple(forms)}


def _size(analysis: Analysis, _: str) -> Function | None:
    return cl.stills_mb if analysis.setup.records_stills else cl.video_mb


_SIZES = {
    "mb_s": "derived.data_rate_mb_s", "still_mb": "derived.file_mb",
    "interval_s": "derived.interval_s",
    "screen_frames": "clip.screen_frames", "handle_frames": "clip.handle_frames",
    "record_s": "clip.record_s", "capture_fps": "setup.frame_rate", "size_mb": "clip.size_mb",
    "each_mb": "derived.file_mb", "file_mb": "derived.file_mb",
}  # fmt: skip
_CODEC = "Codecs vary with what is in the picture: ten percent either way is usual."
CLIP = table(
    Tile.CLIP.value,
    given=_SIZES,
    rows=(
        ("clip.screen_s", "screen", "s", "How long the clip is on screen.", "smpte-12",
         _by_kind(cl.on_screen_s, cl.on_screen_s)),
        ("clip.screen_frames", "n_screen", "",
         "Frames that are shown: whole ones that cover the time.", "smpte-12", {}),
        ("clip.event_s", "event", "s", "How long has to be recorded for it, without handles.",
         "definition", _by_kind(cl.event_s, cl.run_event_s, cl.frames_open_s)),
        ("clip.handle_frames", "n_handle", "", "Frames of one handle.", "smpte-12", {}),
        ("clip.handle_s", "handle", "s", "How long a handle is, before and after what is wanted.",
         "you", _by_kind(None, cl.run_handle_s)),
        ("clip.record_s", "recorded", "s", "How long is recorded, handles and all.", "definition",
         {**_by_kind(cl.record_s, cl.run_record_s, cl.frames_open_s),
          "given": {**_SIZES, "event_s": "clip.event_s", "handle_s": "clip.handle_s"}}),
        ("clip.record_frames", "n", "", "Frames that are recorded, handles and all.", "definition",
         _by_kind(cl.record_frames, cl.record_frames)),
        ("clip.speed_percent", "speed", "%", "How fast it plays, in percent of life.", "smpte-12",
         _by_kind(cl.speed_percent, cl.run_speed_percent)),
        ("clip.size_mb", "size", "MB", "How large one take is.", "decimal",
         {"choose": _size, "forms": (cl.stills_mb, cl.video_mb), "sure": _CODEC}),
        ("clip.card_gb", "card", "GB", "How large the card is.", "gear", {}),
        ("clip.takes_per_card", "takes", "", "Whole takes that fit on the card.", "decimal",
         {"formula": cl.takes_per_card, "sure": _CODEC}),
        ("derived.data_rate_mb_s", "rate", "Mb/s", "Megabits a second, as your kit says.", "gear",
         {"formula": iv.data_rate_mb_s}),
        ("derived.file_mb", "each", "MB", "How large one picture is, as your kit says.", "gear",
         {"formula": iv.each_mb}),
        ("derived.interval_s", "interval", "s", "From one frame's start to the next.", "you",
         {"formula": st.interval_of}),
    ),
)  # fmt: skip


def _written(analysis: Analysis, _: str) -> Function | None:
    run = analysis.run
    return iv.written_s if isinstance(run, IntervalRun) and run.write_known else None


_STARS = {
    "pitch_mm": "setup.delivered_pitch_mm", "declination_deg": "run.stars.declination_deg",
    "sensor_width_mm": "setup.format.sensor_width_mm", "px": "run.stars.allowed_px",
    "crop": "derived.crop", "pitch_um": "derived.photosite_um",
    "frame_crossing_s": "run.stars.frame_crossing_s",
    "speed_percent": "clip.speed_percent",
}  # fmt: skip
_CYCLE = {
    **_SIZES, "deaf_s": "run.cycle.deaf_s", "frames": "run.frames",
    "write_mb_s": "run.card.write_mb_s",
    "card_gb": "run.card.size_gb", "noise_frame_s": "run.cycle.noise_frame_s",
    "self_timer_s": "run.cycle.self_timer_s", "exposure_s": "run.cycle.exposure_s",
    "every_s": "setup.run.passes_s", "write_s": "run.write_s",
}  # fmt: skip
_POWER = "Batteries age, and a body's draw varies with what it does: a fifth either way."
RUN = table(
    "",
    given=_CYCLE,
    rows=(
        ("run.frames", "n", "", "Frames of the run, with those of the handles.", "definition",
         "run", {}),
        ("run.three.event_s", "event", "s", "How long the event lasts.", "definition", "run",
         {"sure": "Event, interval and clip belong together: two of them give the third."}),
        ("run.three.interval_s", "interval", "s", "From one frame's start to the next.",
         "definition", "run", {"formula": st.interval_of}),
        ("run.three.screen_s", "screen", "s", "How long the clip is on screen.", "definition",
         "run", {}),
        ("run.three.frames", "n", "", "Frames that fill the clip.", "smpte-12", "run",
         {"formula": st.frames_for,
          "given": {"screen_s": "setup.wanted_screen_s"}}),
        ("run.covers_s", "covers", "s", "From the first frame's start to the last one's.",
         "definition", "run", {"formula": st.span_s}),
        ("run.lasts_s", "lasts", "s", "From the press on the remote to the end of the last write.",
         "definition", "run", {"formula": of_property(IntervalRun.lasts_s)}),
        ("run.size_gb", "size", "GB", "How much the run puts on the card.", "decimal", "run",
         {"formula": iv.run_gb}),
        ("run.fitting_frames", "fit", "", "Frames that fit on the card.", "decimal", "run",
         {"formula": iv.fitting_frames, "given": {**_CYCLE, "still_mb": "derived.file_mb"}}),
        ("run.clock_shift_s", "clock", "s", "By how much the clock is moved on or back meanwhile.",
         "definition", "run", {}),
        ("run.buffer_frames", "buffer", "", "Frames the camera holds until the card has them.",
         "gear", "cycle", {}),
        ("run.write_s", "write", "s", "How long the card takes for one frame.", "decimal", "cycle",
         {"choose": _written, "forms": (iv.written_s,),
          "sure": "Half a second where the card's speed is not known."}),
        ("run.cycle.deaf_s", "deaf", "s", "How long the camera hears no start.", "definition",
         "cycle", {"formula": st.deaf_s}),
        ("run.cycle.idle_s", "spare", "s", "What is left of each interval; below zero it does not "
         "fit.", "definition", "cycle", {"formula": of_property(st.Cycle.idle_s)}),
        ("run.cycle.shortest_s", "shortest", "s", "The shortest interval that fits.", "definition",
         "cycle", {"formula": st.shortest_s}),
        ("run.cycle.interval_s", "interval", "s", "From one frame's start to the next.",
         "definition", "cycle", {"formula": st.interval_of}),
        ("run.cycle.exposure_s", "t", "s", "How long each frame is exposed.", "definition",
         "cycle", {}),
        ("run.cycle.write_s", "write", "s", "How long the card takes for one frame.", "decimal",
         "cycle", {}),
        ("run.cycle.margin_s", "margin", "s", "Room for what nobody timed.", "practice", "cycle",
         {}),
        ("run.cycle.noise_frame_s", "noise frame", "s", "A dark frame as long as the exposure.",
         "gear", "cycle", {}),
        ("run.cycle.self_timer_s", "self timer", "s", "The self-timer before each frame.", "you",
         "cycle", {}),
        ("run.cycle.parts.*.at_s", "from", "s", "When this part of the cycle begins.",
         "definition", "cycle", {}),
        ("run.cycle.parts.*.lasts_s", "lasts", "s", "How long this part of the cycle lasts.",
         "definition", "cycle", {}),
        ("run.intervalometer.delay_s", "delay", "s", "The remote's delay.", "gear", "cycle", {}),
        ("run.intervalometer.exposure_s", "hold", "s",
         "How long the remote holds the shutter, in its own steps.", "gear", "cycle", {}),
        ("run.intervalometer.interval_s", "field", "s",
         "The remote's interval field, in its own steps and by its own way of counting.", "gear",
         "cycle", {}),
        ("run.intervalometer.count", "count", "", "The remote's count.", "gear", "cycle", {}),
        ("run.intervalometer.frames", "n", "", "Frames that are wanted.", "definition", "cycle",
         {}),
        ("run.intervalometer.first_s", "first", "s", "When the first frame starts.", "gear",
         "cycle", {}),
        ("run.intervalometer.step_s", "step", "s", "What really lies between two starts.", "gear",
         "cycle", {}),
        ("run.intervalometer.waits_s", "waits", "s", "Delay the remote adds of itself.", "gear",
         "cycle", {}),
        ("run.intervalometer.last_s", "last", "s", "When the last frame starts.", "definition",
         "cycle", {"formula": of_property(Intervalometer.last_s)}),
        ("run.intervalometer.stop_s", "stop", "s", "When to stop a remote without a count.",
         "definition", "cycle", {"formula": of_property(Intervalometer.stop_s)}),
        ("run.power.needs_wh", "needs", "Wh", "Energy the run needs.", "definition", "cycle",
         {"sure": _POWER}),
        ("run.power.has_wh", "has", "Wh", "Energy the batteries give in this cold.", "practice",
         "cycle", {"sure": _POWER}),
        ("run.power.printed_wh", "printed", "Wh", "Energy printed on the batteries.", "gear",
         "cycle", {}),
        ("run.power.share_left", "share", "", "How much of it the cold leaves.", "practice",
         "cycle", {"formula": en.cold_share,
                   "given": {"temperature_c": "setup.run.temperature_c"}, "sure": _POWER}),
        ("run.power.lasts_s", "lasts", "s", "How long the batteries would last.", "definition",
         "cycle", {"sure": _POWER}),
        ("run.power.pack_needs_wh", "needs", "Wh", "Energy what hangs on the pack needs.",
         "definition", "cycle", {"sure": _POWER}),
        ("run.power.pack_has_wh", "has", "Wh", "Energy the packs give in this cold.", "practice",
         "cycle", {"sure": _POWER}),
        ("run.power.short_wh", "short", "Wh", "Energy that is missing.", "definition", "cycle",
         {"formula": of_property(en.Power.short_wh)}),
        ("run.power.pack_short_wh", "short", "Wh", "Energy that is missing on the pack.",
         "definition", "cycle", {"formula": of_property(en.Power.pack_short_wh)}),
        ("run.stars.declination_deg", "δ", "°", "How far from the equator of the sky they are.",
         "you", "ramp", {}),
        ("run.stars.allowed_px", "allowed", "px", "How long a trail may be.", "you", "ramp", {}),
        ("run.stars.trail_px", "trail", "px", "How long a star's trail gets in one frame.",
         "sidereal", "ramp", {"formula": iv.trail_px, "given": _STARS,
         "sure": "Near the middle of the picture; wide lenses draw longer trails in the corners."}),
        ("run.stars.longest_s", "longest", "s", "The longest exposure that keeps stars points.",
         "sidereal", "ramp", {"formula": sr.longest_s, "given": _STARS}),
        ("run.stars.rule_500_s", "rule of 500", "s", "The rule of 500, for comparison.",
         "practice", "ramp", {"formula": sr.rule_500_s, "given": _STARS}),
        ("run.stars.npf_s", "NPF", "s", "The NPF rule, for comparison.", "npf", "ramp",
         {"formula": sr.npf_s, "given": _STARS}),
        ("run.stars.frame_crossing_s", "crossing", "s", "How long a star needs across the frame.",
         "sidereal", "ramp", {"formula": iv.sky_crossing_s, "given": _STARS}),
        ("run.stars.screen_crossing_s", "on screen", "s", "The same on screen.", "definition",
         "ramp", {"formula": iv.sky_on_screen_s, "given": _STARS}),
        ("run.stars.step_percent", "step", "%", "How far a star goes from frame to frame.",
         "definition", "ramp", {"formula": iv.sky_step_percent, "given": _STARS}),
        ("run.stars.average_frames", "n", "", "Frames to average for shadows inside your limit.",
         "emva-1288", "ramp", {"sure": "Tried in doublings up to 64."}),
        ("derived.crop", "crop", "", "How much smaller than full frame the picture is.",
         "definition", "ramp", {"formula": iv.crop_factor,
                                "given": {"diagonal_mm": "setup.format.diagonal_mm"}}),
        ("derived.photosite_um", "pitch", "µm", "How wide a photosite is.", "gear", "ramp",
         {"formula": iv.photosite_um}),
        ("run.strikes.frame_share", "share", "", "Chance of a strike in one frame.", "poisson",
         "ramp", {"formula": li.frame_share, "given": {**_CYCLE, "exposure_s": "setup.time_s"}}),
        ("run.strikes.expected", "strikes", "", "Strikes during the run on average.", "poisson",
         "ramp", {"formula": li.expected_strikes}),
        ("run.strikes.with_strike", "with", "", "Frames that hold a strike on average.",
         "poisson", "ramp", {"formula": li.frames_with}),
        ("run.strikes.empty", "empty", "", "Frames that stay empty on average.", "poisson",
         "ramp", {"formula": li.frames_without}),
        ("run.strikes.evening_share", "evening", "", "Chance of at least one in the run.",
         "poisson", "ramp",
         {"formula": li.evening_share, "given": {**_CYCLE, "exposure_s": "setup.time_s"}}),
        ("run.strikes.between_share", "between", "", "Strikes that fall while nothing is open.",
         "poisson", "ramp",
         {"formula": li.between_share, "given": {**_CYCLE, "exposure_s": "setup.time_s"}}),
        ("run.strikes.trigger_frames", "trigger", "", "Frames a trigger would take.", "practice",
         "ramp", {"formula": li.trigger_frames}),
        ("run.strikes.size_gb", "size", "GB", "How much the run puts on the card.", "decimal",
         "ramp", {"formula": iv.run_gb, "given": {**_CYCLE, "still_mb": "derived.file_mb"}}),
        ("run.strikes.trigger_gb", "size", "GB", "How much a trigger would put on it.", "decimal",
         "ramp", {"formula": li.trigger_gb}),
        ("run.ramp.largest_step_stops", "step", "stops",
         "The largest change of brightness from one frame to the next.", "model", "ramp",
         {"sure": "Every frame is looked at; steps up to a third of a stop pass unseen."}),
        ("run.ramp.limit_at_s", "until", "s", "When the light leaves what the settings can follow.",
         "model", "ramp", {}),
        ("run.ramp.end_miss_stops", "miss", "stops", "How far off the last frame is.", "model",
         "ramp", {}),
        ("run.ramp.*", "ramp", "", "A number of the ramp.", "model", "ramp", {}),
        ("run.ramp.steps.*.*", "ramp", "", "When a setting changes on the way.", "model", "ramp",
         {}),
        ("run.floating.*", "floating", "", "The same for a camera left to itself.", "model",
         "ramp", {}),
        ("run.floating.steps.*.*", "floating", "", "The same for a camera left to itself.",
         "model", "ramp", {}),
    ),
)  # fmt: skip


def _choice(of: str) -> tuple[tuple[object, ...], ...]:
    given = {
        **_SIZES, "speed_m_s": "setup.mover.speed_m_s", "rate_fps": f"run.{of}.rate_fps",
        "moment_s": "setup.run.moment_s", "bursts_an_hour": "setup.run.bursts_an_hour",
        "frames_a_burst": f"run.{of}.frames_a_burst", "field_m": "motion.field_width_m",
        "lasts_s": "setup.run.burst_s",
    }  # fmt: skip
    return (
        (f"run.{of}.rate_fps", "r", "fps", "Pictures a second of this drive.", "gear", {}),
        (f"run.{of}.spacing_m", "spacing", "m", "How far the subject moves between two frames.",
         "definition", {"formula": bu.spacing_m, "given": given}),
        (f"run.{of}.spacing_percent", "spacing", "%", "The same in percent of the frame's width.",
         "definition", {"formula": bu.spacing_percent, "given": given}),
        (f"run.{of}.chance", "chance", "", "Chance of a frame inside the moment.", "definition",
         {"formula": bu.chance_of, "given": given,
          "sure": "For a press that does not know when the moment comes."}),
        (f"run.{of}.frames_a_burst", "n", "", "Frames of one burst, as the buffer fills.",
         "gear", {}),
        (f"run.{of}.full_after_s", "full after", "s", "How long until it slows.", "definition",
         {"formula": of_property(bu.Buffer.full_after_s), "given": {"self": f"run.{of}.buffer"},
          "sure": "As good as the buffer and the card's speed in your kit."}),
        (f"run.{of}.clears_s", "clears", "s", "How long it writes afterwards.", "definition",
         {"formula": bu.Buffer.clears_s, "given": {**given, "self": f"run.{of}.buffer"}}),
        (f"run.{of}.frames_an_hour", "n_hour", "", "Frames of an hour's bursts.", "definition",
         {"formula": bu.frames_an_hour, "given": given}),
        (f"run.{of}.gb_an_hour", "size", "GB", "What an hour's bursts put on the card.", "decimal",
         {"formula": bu.stills_gb_an_hour, "given": given}),
        (f"run.{of}.lean_deg", "lean", "°", "How far uprights lean.", "geometry", {}),
        (f"run.{of}.drive.*", "drive", "", "What your kit says of this drive.", "gear", {}),
        (f"run.{of}.buffer.*", "buffer", "", "The buffer, by your kit and the card.", "gear", {}),
    )  # fmt: skip


BURST = table(
    Tile.BURST.value,
    rows=(
        *_choice("present"), *_choice("advised"), *_choice("choices.*"),
        ("run.video.rate_fps", "r", "fps", "The fastest video this body records.", "gear", {}),
        ("run.video.megapixels", "size", "", "Megapixels of that video.", "gear", {}),
        ("run.video.bits", "bits", "", "Bits of that video.", "gear", {}),
        ("run.video.spacing_m", "spacing", "m", "How far the subject moves between its frames.",
         "definition", {"formula": bu.spacing_m, "given": {"speed_m_s": "setup.mover.speed_m_s"}}),
        ("run.video.chance", "chance", "", "Chance of a frame inside the moment.", "definition",
         {"formula": bu.chance_of, "given": {"moment_s": "setup.run.moment_s"}}),
        ("run.video.gb_an_hour", "size", "GB", "What an hour of it puts on the card.", "decimal",
         {}),
        ("run.still_megapixels", "size", "", "Megapixels of a still.", "gear", {}),
        ("run.moment_s", "τ", "s", "How long the moment lasts.", "you", {}),
        ("run.lasts_s", "lasts", "s", "How long the burst is held.", "you", {}),
        ("run.before_frames", "before", "", "Frames kept from before the press.", "definition", {}),
    ),
)  # fmt: skip
_LONG = {
    "crossing_s": "motion.crossing_s", "passes_s": "setup.run.passes_s",
    "trail_percent": "setup.run.trail_percent", "passing": "run.passing",
}  # fmt: skip
LONG = table(
    Tile.TRAIL.value,
    given=_LONG,
    rows=(
        ("run.frames", "n", "", "How many exposures make the picture.", "you", {}),
        ("run.time_s", "t", "s", "How long each exposure is.", "you", {}),
        ("run.open_s", "open", "s", "How long the shutter is open in all.", "definition",
         {"formula": cl.frames_open_s,
          "given": {"record_frames": "run.frames"}}),
        ("run.gap_s", "gap", "s", "Between two exposures.", "practice", {}),
        ("run.lasts_s", "lasts", "s", "From the first start to the end of the work.",
         "definition", {}),
        ("run.each_percent", "trail", "%", "Length of the trail of one exposure, in percent of "
         "the picture's width.", "definition",
         {"formula": lo.trail_percent, "given": {**_LONG, "lasts_s": "run.time_s"}}),
        ("run.whole_percent", "trail", "%", "Length of the trail over all exposures.",
         "definition",
         {"formula": lo.trail_percent, "given": {**_LONG, "lasts_s": "derived.whole_s"}}),
        ("derived.whole_s", "whole", "s", "From the first start to the last end.", "definition",
         {"formula": lo.whole_s,
          "given": {"frames": "run.frames", "gap_s": "run.gap_s"}}),
        ("run.hole_percent", "hole", "%", "What is missing of the trail between two exposures.",
         "definition",
         {"formula": lo.trail_percent, "given": {**_LONG, "lasts_s": "run.gap_s"}}),
        ("run.hole_px", "hole_px", "px", "The same in delivered pixels.", "definition",
         {"formula": pixels_of, "given": {"percent": "run.hole_percent"}}),
        ("run.passing", "pass", "", "How many pass on average while it is open.", "poisson",
         {"formula": lo.passing_of}),
        ("run.empty_chance", "empty", "", "Chance that none passes.", "poisson",
         {"formula": lo.empty_chance}),
        ("run.uneven_share", "uneven", "", "How much their number varies.", "poisson",
         {"formula": lo.uneven_share}),
        ("run.wanted_s", "t", "s", "The exposure that gives the wanted trail.", "definition",
         {"formula": lo.wanted_s}),
        ("run.lamps.*.clips_stops", "clips", "stops", "How far this lamp clips.", "definition", {}),
        ("run.lamps.*.less_stops", "less", "stops", "How much less light its own pass needs.",
         "practice", {}),
        ("run.lamps.*.iris", "N", "", "The iris that would hold it.", "definition", {}),
    ),
)  # fmt: skip
