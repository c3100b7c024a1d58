"""How units go into each other: what formulas on paper leave to the units themselves."""

MM_A_M = 1000.0
UM_A_MM = 1000.0
MS_A_S = 1000.0
MB_A_GB = 1000.0
BITS_A_BYTE = 8
# A percent is a hundredth, a mired a millionth over a kelvin.
PERCENT = 100.0
MIRED_K = 1e6

WHOLE_TURN_DEG, HALF_TURN_DEG = 360.0, 180.0

CONVERSIONS = frozenset({
    "MM_A_M", "UM_A_MM", "MS_A_S", "MB_A_GB", "BITS_A_BYTE", "PERCENT", "MIRED_K",
})  # fmt: skip
