"""The application as Django knows it."""

from django.apps import AppConfig


class CapturesConfig(AppConfig):
    name = "fairwitness.server.captures"
    label = "captures"
