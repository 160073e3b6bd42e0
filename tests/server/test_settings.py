import re

import pytest
from django.conf import settings
from django.db import connection
from whitenoise.middleware import WhiteNoiseMiddleware

from fairwitness.core.errors import PeopleError
from fairwitness.server.accounts import bay_codes, people


def test_cookies_are_secure_outside_the_demo():
    assert settings.DEMO is False
    assert settings.SESSION_COOKIE_SECURE
    assert settings.CSRF_COOKIE_SECURE
    assert settings.SESSION_COOKIE_HTTPONLY


def test_writers_wait_for_each_other():
    options = settings.DATABASES["default"]["OPTIONS"]
    assert options["transaction_mode"] == "IMMEDIATE"
    assert "journal_mode=WAL" in options["init_command"]


def test_no_address_outside_is_allowed_by_default():
    assert set(settings.ALLOWED_HOSTS) <= {"127.0.0.1", "localhost", "testserver"}
    assert settings.DEBUG is False


@pytest.mark.parametrize("path", ["/", "/api/session/", "/api/schema/", "/assets/index.js", "/board/1"])
def test_a_name_that_is_not_ours_is_answered_nowhere(client, db, path):
    answer = client.get(path, HTTP_HOST="evil.example")
    assert answer.status_code == 400
    assert answer.json()["code"] == "unknown_host"


def test_what_was_acknowledged_is_on_the_disk(transactional_db):
    with connection.cursor() as cursor:
        assert cursor.execute("PRAGMA synchronous").fetchone()[0] == 2


def test_a_session_ends_with_the_day():
    assert settings.SESSION_COOKIE_AGE <= 24 * 3600


def test_the_cookie_of_a_session_is_of_this_host_alone(client, technician):
    client.force_login(technician)
    held = client.cookies["__Host-session"]
    assert held["secure"]
    assert held["path"] == "/"
    assert not held["domain"]


def test_what_the_api_answered_does_not_stay_in_a_shared_browser(client, technician):
    client.force_login(technician)
    assert client.get("/api/cases/")["Cache-Control"] == "no-store"


@pytest.mark.parametrize("password", ["elevensigns", "password1234", "technician-otto"])
def test_short_common_and_telling_passwords_are_refused(db, password):
    with pytest.raises(PeopleError):
        people.add("technician-otto", role="technician", password=password)


def test_what_the_browser_says_of_passwords_and_codes_is_what_the_server_asks():
    told = (settings.PROJECT / "web" / "src" / "people" / "rules.ts").read_text()
    said = {name: int(number) for name, number in re.findall(r"const (\w+) = (\d+)", told)}
    asked = next(v["OPTIONS"]["min_length"] for v in settings.AUTH_PASSWORD_VALIDATORS if "OPTIONS" in v)
    assert said == {"PASSWORD_LETTERS_MIN": asked, "CODE_DIGITS": bay_codes.DIGITS}


@pytest.mark.parametrize(
    ("name", "for_good"),
    [("assets/BoardView-BV6OTbLu.js", True), ("assets/mono-a_iSGKL1.woff2", True), ("worker.js", False),
     ("assets/plain.js", False), ("manifest.webmanifest", False)],
)  # fmt: skip
def test_what_carries_its_hash_is_asked_for_once_and_nothing_else(tmp_path, settings, rf, name, for_good):
    file = tmp_path / name
    file.parent.mkdir(exist_ok=True)
    file.write_text("x")
    settings.WHITENOISE_ROOT = tmp_path
    answer = WhiteNoiseMiddleware(lambda request: pytest.fail("not served"))(rf.get(f"/{name}"))
    assert ("immutable" in answer["Cache-Control"]) is for_good
