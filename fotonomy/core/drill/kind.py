"""What is practised, in words, and the lane of the bench it belongs to."""

from enum import StrEnum

from fotonomy.core.tiles import Tile

LEVELS = (1, 2, 3)
# Grain is judged in the shadows, lifted as an edit lifts them.
LIFTED_STOPS = 2.0


class Cut(StrEnum):
    """What a small cut of a frame shows beside a question.

    What moves before what is behind it, or shadows that were lifted.
    """

    MOVING = "moving"
    SHADOWS = "shadows"

    @property
    def words(self) -> str:
        """What one looks at."""
        if self is Cut.MOVING:
            return "a small cut of each frame"
        return f"shadows of each frame, lifted by {LIFTED_STOPS:g} stops"


class Kind(StrEnum):
    """What is practised."""

    SET_IT = "set-it"
    WHICH_ONE = "which-one"
    HOW_MANY_STOPS = "how-many-stops"
    WHAT_PAYS = "what-pays"
    NAME_THE_DANGER = "name-the-danger"
    PLACE_THE_FACE = "place-the-face"
    ND_FOR_THIS = "nd-for-this"
    INTERVAL_FOR_THAT = "interval-for-that"
    READ_THE_LIGHT = "read-the-light"
    HOLD_OR_FLOAT = "hold-or-float"
    WILL_IT = "will-it"
    STARS = "stars"
    METHOD = "method"
    PLAN_A_DAY = "plan-a-day"
    SPOT_THE_PROGRAM = "spot-the-program"

    @property
    def label(self) -> str:
        """In words."""
        return _LABELS[self][0]

    @property
    def about(self) -> str:
        """What is learnt, in a sentence."""
        return _LABELS[self][1]

    @property
    def tile(self) -> Tile:
        """The lane of the bench it belongs to."""
        return _TILES[self]


_LABELS = {
    Kind.SET_IT: ("Set it", "Balance a scene by turning what may move."),
    Kind.WHICH_ONE: ("Which one", "Tell two pictures or drawings apart."),
    Kind.HOW_MANY_STOPS: ("How many stops", "Count from one setting to another."),
    Kind.WHAT_PAYS: ("What pays", "Find what gives the light that a choice takes."),
    Kind.NAME_THE_DANGER: ("Name the danger", "See what a plan will ruin."),
    Kind.PLACE_THE_FACE: ("Place the face", "Put a tone at its mark, and set the zebras."),
    Kind.ND_FOR_THIS: ("ND for this", "Work out the glass a scene needs."),
    Kind.INTERVAL_FOR_THAT: ("Interval for that", "Fit event, interval and clip together."),
    Kind.READ_THE_LIGHT: ("Read the light", "Say how bright a scene is before you meter."),
    Kind.HOLD_OR_FLOAT: ("Hold or float", "Choose what the camera may move."),
    Kind.WILL_IT: ("Will it strobe, lean, flicker", "Judge movement and lamps before the take."),
    Kind.STARS: ("Points or trails", "Keep stars points, or let them draw."),
    Kind.METHOD: ("Method for the light", "Choose how to expose against the light."),
    Kind.PLAN_A_DAY: ("Plan a day", "Put five shots where their light is."),
    Kind.SPOT_THE_PROGRAM: ("Spot the program", "Find the wrong entry before the run fails."),
}
_TILES = {
    Kind.SET_IT: Tile.LIGHT,
    Kind.WHICH_ONE: Tile.PICTURE,
    Kind.HOW_MANY_STOPS: Tile.LIGHT,
    Kind.WHAT_PAYS: Tile.LIGHT,
    Kind.NAME_THE_DANGER: Tile.PICTURE,
    Kind.PLACE_THE_FACE: Tile.LEVEL,
    Kind.ND_FOR_THIS: Tile.LIGHT,
    Kind.INTERVAL_FOR_THAT: Tile.RUN,
    Kind.READ_THE_LIGHT: Tile.LIGHT,
    Kind.HOLD_OR_FLOAT: Tile.LIGHT,
    Kind.WILL_IT: Tile.MOTION,
    Kind.STARS: Tile.RUN,
    Kind.METHOD: Tile.LEVEL,
    Kind.PLAN_A_DAY: Tile.RAMP,
    Kind.SPOT_THE_PROGRAM: Tile.CYCLE,
}
