"""Drawings that explain a word: those of the bench, of one invented setup a kind."""

from functools import lru_cache

from fotonomy.core.analysis.setup import Analysis, analyse
from fotonomy.core.curves.transfer_functions import ParametricLog
from fotonomy.core.gear.accessories import Battery, Card, Remote
from fotonomy.core.gear.body import Body, DriveMode, RecordingFormat, RecordingRate, ShutterStyle
from fotonomy.core.gear.filters import Filter, FilterKind
from fotonomy.core.gear.lens import Lens
from fotonomy.core.gear.profile import Profile
from fotonomy.core.motion.shutter import Shutter
from fotonomy.core.photometry.exposure_value import Ev100
from fotonomy.core.spec.kind import Kind
from fotonomy.core.spec.setup import Setup
from fotonomy.core.spec.stills import LightPoint, Ramp, Run
from fotonomy.core.tiles import Tile
from fotonomy.figures.svg import Size
from fotonomy.figures.tiles import tile_figure

SIZE = Size(340, 132)

_BODY = Body(
    name="Camera",
    formats=(
        RecordingFormat(
            name="4K", width_px=3840, height_px=2160, sensor_width_mm=36.0, sensor_height_mm=20.25,
            rates=(RecordingRate(25, 50), RecordingRate(50, 75), RecordingRate(100, 100)),
            bits=10, readout_ms=15.0,
        ),
    ),
    drive_modes=(DriveMode("high", 12, buffer_frames=60),),
    shutter_style=ShutterStyle.BOTH, angles_deg=(90, 180, 360), iso_lowest=100, iso_highest=25600,
    power_w=8.0, idle_w=3.0,
)  # fmt: skip
_LENS = Lens(name="Lens", focal_shortest_mm=24, focal_longest_mm=70, widest_f=2.8, smallest_f=22,
             thread_mm=82)  # fmt: skip
_FLAT = Profile(
    name="Flat log", clip_percent=92, base_iso=(500,),
    curve=ParametricLog(name="Flat log", a=5, b=0.05, c=0.2898, d=0.39146, e=5.72084, f=0.045006,
                        cut=0.012),
)  # fmt: skip
_VIDEO = Setup(
    title="Walker", project_fps=25, mains_hz=50, mains_lamps=True, light=Ev100(12.0),
    subject="walker", subject_speed_m_s=1.4, subject_distance_m=4.0, subject_size_m=0.5,
    subject_depth_m=0.3, body=_BODY, lens=_LENS, profile=_FLAT, focal_mm=50, frame_rate=25,
    glass=(Filter(name="ND 0.9", kind=FilterKind.ND, stops=2.99, thread_mm=82),),
    shutter=Shutter(angle_deg=180), iris=5.6, iso=500, nd_density=0.9,
)  # fmt: skip
_DEVICES = (
    Remote(name="Remote", most_count=999), Card(name="Card", size_gb=128, write_mb_s=80),
    Battery(name="Battery", energy_wh=16),
)  # fmt: skip
_KINDS = {
    Tile.RUN: Kind.INTERVAL, Tile.CYCLE: Kind.INTERVAL, Tile.RAMP: Kind.INTERVAL,
    Tile.BURST: Kind.BURST, Tile.TRAIL: Kind.LONG_EXPOSURE,
}  # fmt: skip


@lru_cache(maxsize=4)
def _example(kind: Kind) -> Analysis:
    """One invented setup of a kind, analysed."""
    changes: dict[Kind, dict[str, object]] = {
        Kind.INTERVAL: {
            "frame_rate": 1 / 6, "shutter": Shutter(time_s=0.5), "light": Ev100(7.0),
            "devices": _DEVICES, "wanted_screen_s": 12.0,
            "run": Run(ramp=Ramp.PLANNED, light_curve=(LightPoint(0, 7.0), LightPoint(1800, 3.0))),
        },
        Kind.BURST: {
            "frame_rate": 12, "shutter": Shutter(time_s=1 / 1000), "light": Ev100(13.0),
            "nd_density": 0.0, "devices": _DEVICES, "run": Run(),
        },
        Kind.LONG_EXPOSURE: {
            "shutter": Shutter(time_s=8), "light": Ev100(1.0), "iris": 11, "iso": 100,
            "nd_density": 0.0, "subject": "car", "subject_speed_m_s": 14.0,
            "subject_distance_m": 200.0, "devices": _DEVICES,
            "run": Run(passes_s=6.0),
        },
    }  # fmt: skip
    spec = {f: getattr(_VIDEO, f) for f in _VIDEO.__dataclass_fields__}
    return analyse(Setup(**{**spec, "kind": kind, **changes.get(kind, {})}))


@lru_cache(maxsize=32)
def word_figure(drawing: str) -> str:
    """The drawing a word of the glossary names, "" for one that names none."""
    if not drawing:
        return ""
    tile = Tile(drawing)
    return tile_figure(tile, _example(_KINDS.get(tile, Kind.REAL_TIME)), SIZE)
