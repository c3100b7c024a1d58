"""Constants of the job that several rooms use, with their units and where they come from.

A constant used in one module stands there, beside its use.

"Common practice" marks a fact of the trade with no published source;
"from memory" marks a value written down without the source at hand.
"""

# Exposure verdicts, in stops. Common practice, no source.
# A sixth and a third of a stop, each with room for the rounding of marked values.
BALANCED_WITHIN_STOPS = 0.18
TOLERABLE_WITHIN_STOPS = 0.36

# A limit, a depth and an aim that a person gave in numbers count as met within so many stops: as
# near as the marks of the gear are apart. Findings and planner go by the same. Common practice.
LIMIT_MET_STOPS, DEPTH_MET_STOPS, AIM_MET_STOPS = 0.02, 0.05, 1 / 3

# A nanometre a second is standing still.
STILL_BELOW_M_S = 1e-9

# Neutral density. Common practice, no source.
INFRARED_FROM_STOPS = 6.0
STACK_VIGNETTE_BELOW_MM = 24.0
# Wider than this (full-frame equivalent) a variable ND shows a dark cross, and a polariser darkens
# one part of the sky.
CROSSED_BELOW_MM = 28.0

# From this far apart two bases count as a pair. Common practice, no source.
BASE_PAIR_APART_STOPS = 1.5

# Full-frame diagonal, for equivalent focal lengths: 36 x 24 mm.
FULL_FRAME_DIAGONAL_MM = 43.2666

# Limits of what can be entered: beyond them a number is a slip of the hand.
EV_RANGE = (-12.0, 24.0)
SPEED_RANGE_M_S = (0.0, 3000.0)
DISTANCE_RANGE_M = (0.01, 100_000.0)
FOCAL_RANGE_MM = (1.0, 3000.0)
SCREEN_RANGE_S = (0.04, 36_000.0)
HANDLE_RANGE_S = (0.0, 3600.0)
WHITE_RANGE_K = (1000.0, 20_000.0)
READING_RANGE_STOPS = (-15.0, 15.0)
SHARE_RANGE_PERCENT = (0.01, 100.0)
TINT_RANGE_CC = (-100.0, 100.0)
BIAS_RANGE_MIRED = (-200.0, 200.0)
RATE_RANGE_FPS = (1 / 86_400, 2000.0)
TIME_RANGE_S = (1e-7, 86_400.0)
F_NUMBER_RANGE = (0.5, 128.0)
ISO_RANGE = (1.0, 10_000_000.0)
DENSITY_RANGE = (0.0, 8.0)

# A mile an hour in metres a second: 1609.344 m over 3600 s, exact.
MPH_M_S = 0.44704

# Limits of what can be entered about a subject and its surroundings.
SIZE_RANGE_M = (0.0001, 10_000.0)
LAMP_RANGE_HZ = (10.0, 200_000.0)

# Interval runs. Room left in a cycle for what nobody timed: common practice, no source.
CYCLE_MARGIN_S = 0.2
# A battery is planned to be used up to here. Common practice, no source.
BATTERY_USED_SHARE = 0.9
# Somebody presses so long after the moment began. Common practice, no source.
REACTION_S = 0.25

# Takes of a setup that cards and batteries are reckoned for: common practice, no source.
USUAL_TAKES = 3
