"""Rows of shoots: a shoot, its places and days, its setups, and the log of what was changed."""

from fotonomy.shoots.models.change import Change
from fotonomy.shoots.models.crew import CrewLink, Guest, Holding, Member, SafetyTold
from fotonomy.shoots.models.day import (
    MAINS_HZ,
    Day,
    DayWeather,
    LightReading,
    Outline,
    Place,
    Scene,
    Way,
    horizon_of,
)
from fotonomy.shoots.models.deleted import Deleted
from fotonomy.shoots.models.setup import Setup, setup_name
from fotonomy.shoots.models.shoot import Actor, Role, Shoot, methods

__all__ = [
    "MAINS_HZ",
    "Actor",
    "Change",
    "CrewLink",
    "Day",
    "DayWeather",
    "Deleted",
    "Guest",
    "Holding",
    "LightReading",
    "Member",
    "Outline",
    "Place",
    "Role",
    "SafetyTold",
    "Scene",
    "Setup",
    "Shoot",
    "Way",
    "horizon_of",
    "methods",
    "setup_name",
]
