"""The application as Django knows it."""

from django.apps import AppConfig


class PricesConfig(AppConfig):
    name = "fairwitness.server.prices"
    label = "prices"
