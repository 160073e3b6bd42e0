"""The application as Django knows it."""

from django.apps import AppConfig


class EnginesConfig(AppConfig):
    name = "fairwitness.server.engines"
    label = "engines"
