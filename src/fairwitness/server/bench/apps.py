"""The application as Django knows it."""

from django.apps import AppConfig


class BenchConfig(AppConfig):
    name = "fairwitness.server.bench"
    label = "bench"
