"""Every constant of the job, with its unit and where it comes from.

"Common practice" marks a fact of the trade with no published source;
"from memory" marks a value written down without the source at hand.
"""

# Light meters, ISO 2720:1974.
REFLECTED_K_CD_S_M2 = 12.5
INCIDENT_C_LX_S = 250.0

# Optical density, ISO 5-2: one stop halves the light.
GREY_REFLECTANCE = 0.18

# Exposure verdicts, in stops. Common practice, no source.
# A sixth and a third of a stop, each with room for the rounding of marked values.
BALANCED_WITHIN_STOPS = 0.18
TOLERABLE_WITHIN_STOPS = 0.36
RUINED_FROM_STOPS = 1.0

# Strobing guide: at 24 fps and 180 degrees a feature should take about 7 s to cross
# the frame (panning tables of the American Cinematographer Manual, from memory).
PAN_GUIDE_CROSSING_S = 7.0
PAN_GUIDE_FPS = 24.0
PAN_GUIDE_ANGLE_DEG = 180.0
COMFORTABLE_GAP_PERCENT = (
    100.0 / (PAN_GUIDE_CROSSING_S * PAN_GUIDE_FPS) * (1.0 - PAN_GUIDE_ANGLE_DEG / 360.0)
)
# Twice the guide is where edges visibly jump. Common practice, no source.
STROBING_GAP_PERCENT = 2.0 * COMFORTABLE_GAP_PERCENT

# A nanometre a second is standing still.
STILL_BELOW_M_S = 1e-9

# Share of a lamp's ripple that is still unseen in most pictures. Common practice, no source.
FLICKER_SAFE_RIPPLE = 0.05

# Neutral density. Common practice, no source.
STACK_LIMIT = 3
INFRARED_FROM_STOPS = 6.0
STACK_VIGNETTE_BELOW_MM = 24.0
GLASS_SEARCH_LIMIT = 24
VARIABLE_ND_STEP_DENSITY = 0.1

# Below the upper base a dual-base body is noisier than at it, most in the step just under it.
# Common practice, no source.
UPPER_BASE_SHADOW_STOPS = 1.34
# From this far apart two bases count as a pair. Common practice, no source.
BASE_PAIR_APART_STOPS = 1.5

# Full-frame diagonal, for equivalent focal lengths: 36 x 24 mm.
FULL_FRAME_DIAGONAL_MM = 43.2666

# Eyes: from here on neutral density tempts people to look at the sun. Common practice, no source.
SUN_CAUTION_ND_STOPS = 9.0

# Zebra half width on a card. Common practice, no source.
ZEBRA_HALF_WIDTH_PERCENT = 1.0
# Half width on skin, which is not one tone. Common practice, no source.
ZEBRA_SKIN_HALF_WIDTH_PERCENT = 2.0

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
MOST_READINGS = 24
TINT_RANGE_CC = (-100.0, 100.0)
BIAS_RANGE_MIRED = (-200.0, 200.0)
RATE_RANGE_FPS = (1 / 86_400, 2000.0)
TIME_RANGE_S = (1e-7, 86_400.0)
F_NUMBER_RANGE = (0.5, 128.0)
ISO_RANGE = (1.0, 10_000_000.0)
DENSITY_RANGE = (0.0, 8.0)

# A mile an hour in metres a second: 1609.344 m over 3600 s, exact.
MPH_M_S = 0.44704

# Focus. Bellows loss is counted from this magnification on. Common practice, no source.
BELLOWS_FROM_MAGNIFICATION = 0.1
AIRY_WAVELENGTH_UM = 0.55
# Stops beyond two pixels from which diffraction is worth a word. Common practice, no source.
DIFFRACTION_SEEN_STOPS = 1.5

# A lean of this many degrees begins to show on uprights. Common practice, no source.
LEAN_SEEN_FROM_DEG = 2.0
# Smaller than this share of the picture's height nobody sees it lean. Common practice, no source.
LEAN_SEEN_FROM_SHARE = 0.1

# Limits of what can be entered about a subject and its surroundings.
SIZE_RANGE_M = (0.0001, 10_000.0)
LAMP_RANGE_HZ = (10.0, 200_000.0)

# Placing tones. Common practice, no source.
# Room kept between the brightest tone and the clip: by those who never clip, and by those
# who expose as far right as the log holds.
HIGHLIGHT_MARGIN_STOPS = 0.1
FAR_RIGHT_MARGIN_STOPS = 0.3
# Far right still keeps grey and the key under these levels, or nothing matches in the edit.
FAR_RIGHT_GREY_PERCENT = 71.0
FAR_RIGHT_KEY_PERCENT = 85.0
# From this much over grey a profile counts as a log with room to pull.
LOG_HEADROOM_STOPS = 4.0
SLIGHTLY_UNDER_STOPS = 0.5
DUSK_DARKENED_STOPS = 2.0
# A scene with nothing bright in its readings is taken to hold a white card.
UNREAD_WHITE_STOPS = 2.32
# A highlight meter puts the brightest part of the frame so far under the clip.
HIGHLIGHT_METER_STOPS = 0.5
# What counts as a highlight to it, and how wide the spot is, in percent of the frame.
HIGHLIGHT_METER_PERCENT = 0.5
SPOT_METER_PERCENT = 2.5

# Noise. The shadow people judge by, in stops from grey: common practice, no source.
SHADOW_STOPS = -3.0
# Electrons a square micrometre of photosite holds, read noise at low and at high gain in
# electrons, and the part of the signal photosites differ by: typical of recent sensors,
# from memory of EMVA Standard 1288 data sheets.
WELL_E_UM2 = 1200.0
READ_LOW_E = 4.0
READ_HIGH_E = 1.6
PRNU_SHARE = 0.005
# Tones drown where the noise is as large as they are (EMVA Standard 1288: SNR of one).
DROWNED_SNR = 1.0
# From so many code values a stop the steps of a flat sky are seen. Common practice, no source.
BANDING_CODES_A_STOP = 20.0

# Interval runs. Room left in a cycle for what nobody timed: common practice, no source.
CYCLE_MARGIN_S = 0.2
# Cameras take a noise-reduction frame from this exposure time on. Common practice, no source.
NOISE_FRAME_FROM_S = 1.0
# A shutter may fill so much of the interval while the light goes. Common practice, no source.
RAMP_SHUTTER_SHARE = 0.8
# What a camera waiting draws of what it draws at work, where it is not known.
# Common practice, no source.
IDLE_SHARE = 0.4
# Batteries give less in the cold: a hundredth less a degree under 20 °C, at least 40 % of what
# is printed on them. Common practice, no source.
COLD_FROM_C, COLD_SHARE_A_C, COLD_LEAST = 20.0, 0.01, 0.4
# A battery is planned to be used up to here. Common practice, no source.
BATTERY_USED_SHARE = 0.9
# A camera's reading after a frame, before it hears the next start, where its card is unknown.
WRITE_UNKNOWN_S = 0.5
# Long exposures. Hot pixels show from here on. Common practice, no source.
HOT_PIXELS_FROM_S = 8.0
# Between two frames combined later, a fast card provided. Common practice, no source.
FRAME_GAP_S = 0.2
# Somebody presses so long after the moment began. Common practice, no source.
REACTION_S = 0.25
# A drive that shows the moment this surely is enough. Common practice, no source.
ENOUGH_CHANCE = 0.9

# White balance, in mired. Common practice, no source.
MIXED_SEEN_MIRED = 40.0
OFF_SEEN_MIRED = 25.0
