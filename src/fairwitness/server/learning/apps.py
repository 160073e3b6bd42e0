"""The application as Django knows it."""

from django.apps import AppConfig


class LearningConfig(AppConfig):
    name = "fairwitness.server.learning"
    label = "learning"
