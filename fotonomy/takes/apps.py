"""The app of takes afterwards; its rows belong to the field pages."""

from django.apps import AppConfig


class TakesConfig(AppConfig):
    """Pages over what was shot."""

    name = "fotonomy.takes"
