"""Settings of a workshop: safe where nothing is said, refused at the start where they cannot be."""

import os
import subprocess
import sys

import pytest
from django.core.exceptions import ImproperlyConfigured

from fairwitness.server import configuration


def test_what_is_said_is_taken_and_what_is_not_is_usual():
    given = {"N": " 2 ", "ON": "1", "OFF": "0", "H": "shop.example, [::1],127.0.0.1", "O": "https://shop.example:8443"}
    assert configuration.number(given, "N", 0, least=0, most=9) == 2
    assert configuration.number(given, "M", 7, least=0, most=9) == 7
    assert [configuration.switch(given, n) for n in ("ON", "OFF", "NONE")] == [True, False, False]
    assert configuration.hosts(given, "H", "localhost") == ["shop.example", "[::1]", "127.0.0.1"]
    assert configuration.hosts({}, "H", "localhost") == ["localhost"]
    assert configuration.origins(given, "O") == ["https://shop.example:8443"]
    assert configuration.origins({}, "O") == []


@pytest.mark.parametrize(
    ("read", "text"),
    [
        (lambda g: configuration.number(g, "X", 0, least=0, most=9), "many"),
        (lambda g: configuration.number(g, "X", 0, least=0, most=9), "12"),
        (lambda g: configuration.number(g, "X", 0, least=0, most=9), "nan"),
        (lambda g: configuration.switch(g, "X"), "yes"),
        (lambda g: configuration.hosts(g, "X", "localhost"), "https://shop.example"),
        (lambda g: configuration.hosts(g, "X", "localhost"), "shop.example:8000"),
        (lambda g: configuration.hosts(g, "X", "localhost"), "a b"),
        (lambda g: configuration.hosts(g, "X", "localhost"), ","),
        (lambda g: configuration.origins(g, "X"), "shop.example"),
        (lambda g: configuration.origins(g, "X"), "https://shop.example/path"),
    ],
)
def test_nonsense_is_refused_and_names_its_setting(read, text):
    with pytest.raises(ImproperlyConfigured, match=r"^X"):
        read({"X": text})


def loaded(tmp_path, **given):
    """What the settings are in a process of their own."""
    env = {k: v for k, v in os.environ.items() if not k.startswith(("FAIRWITNESS", "DJANGO"))}
    code = (
        "from fairwitness.server import settings as s; "
        "print(s.SESSION_COOKIE_SECURE, s.SECURE_PROXY_SSL_HEADER, s.CSRF_TRUSTED_ORIGINS, s.SECURE_HSTS_SECONDS)"
    )
    env |= {"FAIRWITNESS_DATA": str(tmp_path), **given}
    return subprocess.run([sys.executable, "-c", code], env=env, capture_output=True, text=True, check=False)


def test_behind_a_proxy_its_word_on_https_is_believed_and_only_then(tmp_path):
    assert loaded(tmp_path).stdout == "True None [] 0\n"
    proxied = loaded(
        tmp_path, FAIRWITNESS_PROXIES="1", FAIRWITNESS_ORIGINS="https://shop.example", FAIRWITNESS_HSTS_DAYS="30"
    )
    assert proxied.stdout == "True ('HTTP_X_FORWARDED_PROTO', 'https') ['https://shop.example'] 2592000\n"


@pytest.mark.parametrize("given", [{"FAIRWITNESS_PROXIES": "-1"}, {"FAIRWITNESS_HOSTS": "http://x"}])
def test_the_program_does_not_start_on_nonsense(tmp_path, given):
    refused = loaded(tmp_path, **given)
    assert refused.returncode != 0
    assert next(iter(given)) in refused.stderr.splitlines()[-1]


def test_reading_the_settings_makes_nothing(tmp_path):
    folder = tmp_path / "not yet"
    assert loaded(tmp_path, FAIRWITNESS_DATA=str(folder)).returncode == 0
    assert not folder.exists()
