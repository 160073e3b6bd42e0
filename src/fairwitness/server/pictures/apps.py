"""The application as Django knows it."""

from django.apps import AppConfig


class PicturesConfig(AppConfig):
    name = "fairwitness.server.pictures"
    label = "pictures"
