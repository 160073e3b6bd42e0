"""The application as Django knows it."""

from django.apps import AppConfig


class ImportsConfig(AppConfig):
    name = "fairwitness.server.imports"
    label = "imports"
