"""The application as Django knows it."""

from django.apps import AppConfig


class CasesConfig(AppConfig):
    name = "fairwitness.server.cases"
    label = "cases"
