"""The application as Django knows it."""

from django.apps import AppConfig


class AccountsConfig(AppConfig):
    name = "fairwitness.server.accounts"
    label = "accounts"
