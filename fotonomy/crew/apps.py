"""The app of the crew; its rows belong to the shoot."""

from django.apps import AppConfig


class CrewConfig(AppConfig):
    """Pages over who sees a shoot, logs on it and plans it."""

    name = "fotonomy.crew"
