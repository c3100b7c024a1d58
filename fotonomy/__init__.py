"""Plans location footage: the light, the motion, the level and the clip of every setup."""

__version__ = "0.3.0"
