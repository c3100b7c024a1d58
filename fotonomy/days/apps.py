"""The app of days; its rows belong to the shoot."""

from django.apps import AppConfig


class DaysConfig(AppConfig):
    """Pages over a shoot's places, days and scenes."""

    name = "fotonomy.days"
