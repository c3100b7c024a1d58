"""The answers of the bench: what each is called, and which findings belong to it."""

from enum import StrEnum


class Tile(StrEnum):
    """One answer to what is set: a verdict, a drawing, a line of figures."""

    RUN = "run"
    CYCLE = "cycle"
    BURST = "burst"
    TRAIL = "trail"
    LIGHT = "light"
    RAMP = "ramp"
    MOTION = "motion"
    LEVEL = "level"
    PICTURE = "picture"
    FOCUS = "focus"
    NOISE = "noise"
    WHITE = "white"
    CLIP = "clip"

    @property
    def label(self) -> str:
        """Its name on the page."""
        return _NAMES[self][0]

    @property
    def note(self) -> str:
        """What it is about, in a few words."""
        return _NAMES[self][1]


_NAMES = {
    Tile.RUN: ("Run", "event, interval, clip"),
    Tile.CYCLE: ("Cycle", "and card and power"),
    Tile.BURST: ("Burst", "the moment, the buffer"),
    Tile.TRAIL: ("Trail", "how long, how full"),
    Tile.LIGHT: ("Light", "every stop, in and out"),
    Tile.RAMP: ("Light to come", "and stars"),
    Tile.MOTION: ("Motion", "smear and gaps"),
    Tile.LEVEL: ("Level", "where tones land"),
    Tile.PICTURE: ("Picture", "a model"),
    Tile.FOCUS: ("Focus", "what is sharp"),
    Tile.NOISE: ("Noise", "in the shadows"),
    Tile.WHITE: ("White", "balance, in mired"),
    Tile.CLIP: ("Clip", "card and clock"),
}

VIDEO = (Tile.LIGHT, Tile.MOTION, Tile.LEVEL, Tile.PICTURE, Tile.FOCUS, Tile.NOISE, Tile.WHITE,
         Tile.CLIP)  # fmt: skip
INTERVAL = (Tile.RUN, Tile.CYCLE, Tile.LIGHT, Tile.RAMP, Tile.LEVEL, Tile.MOTION, Tile.PICTURE,
            Tile.FOCUS, Tile.NOISE, Tile.WHITE)  # fmt: skip
BURST = (Tile.BURST, *VIDEO)
LONG_EXPOSURE = (Tile.TRAIL, *VIDEO)

# The tile a finding belongs to, by how its id begins: the first that the kind has.
_OF_FINDING: tuple[tuple[str, tuple[Tile, ...]], ...] = (
    ("run.cycle", (Tile.CYCLE,)),
    ("run.card", (Tile.CYCLE,)),
    ("run.count", (Tile.CYCLE,)),
    ("run.power", (Tile.CYCLE,)),
    ("run.pack", (Tile.CYCLE,)),
    ("run.interval_rounded", (Tile.CYCLE,)),
    ("run.light", (Tile.RAMP,)),
    ("run.ramp", (Tile.RAMP,)),
    ("run.iso_auto", (Tile.RAMP,)),
    ("run.stars", (Tile.RAMP,)),
    ("run.choppy", (Tile.MOTION,)),
    ("run.", (Tile.RUN,)),
    ("weather.cold", (Tile.CYCLE, Tile.CLIP)),
    ("weather.", (Tile.RUN, Tile.LIGHT)),
    ("burst.", (Tile.BURST,)),
    ("trail.", (Tile.TRAIL,)),
    ("shutter.bulb", (Tile.TRAIL, Tile.CYCLE)),
    ("shutter.", (Tile.MOTION,)),
    ("flicker.", (Tile.MOTION,)),
    ("motion.", (Tile.MOTION,)),
    ("support.", (Tile.MOTION,)),
    ("frame_rate.", (Tile.MOTION,)),
    ("level.", (Tile.LEVEL,)),
    ("profile.", (Tile.LEVEL,)),
    ("focus.", (Tile.FOCUS,)),
    ("focal.", (Tile.FOCUS,)),
    ("lens.", (Tile.FOCUS,)),
    ("noise.", (Tile.NOISE,)),
    ("iso.", (Tile.NOISE,)),
    ("white.", (Tile.WHITE,)),
    ("recording.", (Tile.CLIP, Tile.RUN)),
    ("clip.", (Tile.CLIP, Tile.RUN)),
)


def tile_of(finding_id: str, tiles: tuple[Tile, ...]) -> Tile:
    """The tile of these that a finding colours; what belongs to no other is about the light."""
    for start, among in _OF_FINDING:
        if finding_id.startswith(start):
            found = next((tile for tile in among if tile in tiles), None)
            if found is not None:
                return found
    return Tile.LIGHT
