"""The app below all pages."""

from django.apps import AppConfig


class WebConfig(AppConfig):
    """Its templates and files are found by Django."""

    name = "fotonomy.web"
    label = "fotonomy_web"
