"""The answers of the bench: what each is called, and in which order a kind has them."""

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
