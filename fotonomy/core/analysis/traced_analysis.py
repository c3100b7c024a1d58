"""The numbers of an analysis by name, for those who lead from them to their workings."""

from dataclasses import replace
from typing import Any

from fotonomy.core.analysis.setup import Analysis
from fotonomy.core.traced_numbers import Names, with_names

# Records of a plan that hold its numbers. Gear, settings and the noise model keep their own.
_RESULTS = (
    "Analysis", "Budget", "BudgetLine", "Placing", "Motion", "Flicker", "Focus", "Reach", "Shake",
    "Passing", "Level", "Tone", "Zebra", "Noise", "White", "Source", "Gel", "Clip", "IntervalRun",
    "Three", "Cycle", "Part", "Intervalometer", "Power", "Stars", "Strikes", "RampPlan", "RampStep",
    "Burst", "DriveChoice", "VideoChoice", "LongExposure", "LampPass",
)  # fmt: skip


def is_result(record: Any) -> bool:
    """True for a record of what a plan comes to."""
    return type(record).__name__ in _RESULTS


def named_analysis(analysis: Analysis, names: Names) -> Analysis:
    """An analysis whose numbers know the addresses of their workings, and that names others so."""
    named: Analysis = with_names(replace(analysis, names=names), names, "", is_result)
    return named
