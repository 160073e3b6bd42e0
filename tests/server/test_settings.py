from django.conf import settings


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
