"""The application as Django knows it."""

from django.apps import AppConfig


class SheetsConfig(AppConfig):
    name = "fairwitness.server.sheets"
    label = "sheets"
