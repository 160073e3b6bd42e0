"""People, cases and clients for the server's tests."""

from __future__ import annotations

import pytest
from django.test import Client
from django.utils import timezone

from fairwitness.core.model.engine import even_engine
from fairwitness.server.accounts.models import Role, User
from fairwitness.server.cases.services import Intake, open_case
from fairwitness.server.imports import foreman, staging

PASSWORD = "a-long-test-word"


def person(name: str, role: Role) -> User:
    return User.objects.create_user(name, password=PASSWORD, first_name=name.title(), last_name="Test", role=role)


@pytest.fixture(autouse=True)
def quick_passwords(settings):
    """Most tests make people, and hashing a password well takes the better part of a second."""
    settings.PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]


@pytest.fixture(autouse=True)
def own_count_of_attempts(settings):
    """Tests of other processes guess passwords too."""
    settings.CACHES = {"default": {"BACKEND": "django.core.cache.backends.locmem.LocMemCache"}}


@pytest.fixture(autouse=True)
def no_foreman(monkeypatch, tmp_path):
    """Staged files lie in a folder of their own, and are kept where a test says so, by no other process."""

    def folder():
        (tmp_path / "staging").mkdir(exist_ok=True)
        return tmp_path / "staging"

    monkeypatch.setattr(staging, "folder", folder)
    monkeypatch.setattr(foreman, "ensure", lambda *_: None)


@pytest.fixture
def technician(db):
    return person("tess", Role.TECHNICIAN)


@pytest.fixture
def other_technician(db):
    return person("otto", Role.TECHNICIAN)


@pytest.fixture
def lead(db):
    return person("leda", Role.LEAD)


@pytest.fixture
def reader(db):
    return person("rita", Role.READER)


@pytest.fixture
def case(technician):
    intake = Intake(title="Bus 3 shakes", vehicle="Bus 3", engine=even_engine((1, 3, 4, 2), label="Hollin Drover 2.0"))
    return open_case(intake, by=technician, at=timezone.now())


@pytest.fixture
def as_user():
    def client(user: User | None) -> Client:
        browser = Client()
        if user is not None:
            browser.force_login(user)
        return browser

    return client
