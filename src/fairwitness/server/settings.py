"""Few settings, each with a safe default. ``FAIRWITNESS_DATA`` names the folder of the database and the secret.

Reading them makes nothing: the folder is made by whoever serves from it.
"""

from __future__ import annotations

import os
from pathlib import Path

from fairwitness.server import configuration
from fairwitness.server.keeping import folder

PROJECT = Path(__file__).resolve().parents[3]
DATA = Path(os.environ.get("FAIRWITNESS_DATA", PROJECT / "var"))

DEMO = configuration.switch(os.environ, "FAIRWITNESS_DEMO")
"""Shows demo accounts one click away and allows plain HTTP cookies."""

SECRET_KEY = os.environ.get("FAIRWITNESS_SECRET") or folder.secret_of(DATA)
DEBUG = False
ALLOWED_HOSTS = configuration.hosts(os.environ, "FAIRWITNESS_HOSTS", "127.0.0.1,localhost")

PROXIES = int(configuration.number(os.environ, "FAIRWITNESS_PROXIES", 0, least=0, most=9))
"""Proxies in front, whose word on the address of a client and on HTTPS is believed."""
SECURE_PROXY_SSL_HEADER = ("HTTP_X_FORWARDED_PROTO", "https") if PROXIES else None
CSRF_TRUSTED_ORIGINS = configuration.origins(os.environ, "FAIRWITNESS_ORIGINS")
"""Addresses a proxy serves the pages under."""
SECURE_HSTS_SECONDS = int(configuration.number(os.environ, "FAIRWITNESS_HSTS_DAYS", 0, least=0, most=800) * 86_400)
"""So long browsers come by HTTPS only; 0 while it is being tried."""

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "rest_framework",
    "drf_spectacular",
    "fairwitness.server.accounts",
    "fairwitness.server.cases",
    "fairwitness.server.captures",
    "fairwitness.server.imports",
    "fairwitness.server.bench",
    "fairwitness.server.pictures",
    "fairwitness.server.prices",
    "fairwitness.server.sheets",
    "fairwitness.server.learning",
    "fairwitness.server.engines",
]
MIDDLEWARE = [
    "fairwitness.server.keeping.logs.numbered",
    "fairwitness.server.headers.known_hosts",
    "django.middleware.security.SecurityMiddleware",
    "fairwitness.server.headers.content_security_policy",
    "fairwitness.server.headers.nothing_left_behind",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
]
ROOT_URLCONF = "fairwitness.server.urls"
ASGI_APPLICATION = "fairwitness.server.asgi.application"
WSGI_APPLICATION = "fairwitness.server.wsgi.application"
TEMPLATES = [{"BACKEND": "django.template.backends.django.DjangoTemplates", "APP_DIRS": True}]

DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.sqlite3",
        "NAME": DATA / "fairwitness.sqlite3",
        "OPTIONS": {
            "timeout": 20,
            "transaction_mode": "IMMEDIATE",
            "init_command": (
                "PRAGMA page_size=16384;PRAGMA journal_mode=WAL;PRAGMA synchronous=FULL;PRAGMA "
                "busy_timeout=20000;PRAGMA wal_autocheckpoint=4000;"
            ),
        },
        "TEST": {"NAME": os.environ.get("FAIRWITNESS_TEST_DB", str(DATA / "test.sqlite3"))},
    }
}
CACHES = {"default": {"BACKEND": "django.core.cache.backends.filebased.FileBasedCache", "LOCATION": DATA / "attempts"}}
"""Wrong passwords count together in all processes; nothing else is cached here."""
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"

AUTH_USER_MODEL = "accounts.User"
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": "django.contrib.auth.password_validation.MinimumLengthValidator", "OPTIONS": {"min_length": 12}},
    {"NAME": "django.contrib.auth.password_validation.CommonPasswordValidator"},
    {"NAME": "django.contrib.auth.password_validation.UserAttributeSimilarityValidator"},
]

USE_TZ = True
TIME_ZONE = "UTC"
LANGUAGE_CODE = "en"

STATIC_URL = "/static/"
_PACKED = Path(__file__).parent / "interface"
WEB_DIST = _PACKED if _PACKED.is_dir() else PROJECT / "web" / "dist"
"""The built interface: inside an installed package, or of a checkout."""
WHITENOISE_ROOT = WEB_DIST if WEB_DIST.is_dir() else None
WHITENOISE_MAX_AGE = 3600
WHITENOISE_IMMUTABLE_FILE_TEST = r"^/assets/.+-[\w-]{8}\.\w+$"
"""What carries the hash of its content in its name never changes, and is asked for once."""

PLAIN_HTTP = configuration.switch(os.environ, "FAIRWITNESS_PLAIN_HTTP")
"""Cookies over plain HTTP too: in a workshop's own network without a proxy."""
CSRF_COOKIE_SECURE = SESSION_COOKIE_SECURE = not DEMO and not PLAIN_HTTP
SESSION_COOKIE_NAME = "__Host-session" if SESSION_COOKIE_SECURE else "session"
"""A browser takes the first one over HTTPS only, and from this very host."""
SESSION_COOKIE_AGE = 12 * 3600
"""Seconds; a working day, for machines that several people share."""
SESSION_COOKIE_HTTPONLY = True
SESSION_COOKIE_SAMESITE = CSRF_COOKIE_SAMESITE = "Lax"
CSRF_FAILURE_VIEW = "fairwitness.server.problems.csrf_failed"
SECURE_CONTENT_TYPE_NOSNIFF = True
SECURE_REFERRER_POLICY = "same-origin"
X_FRAME_OPTIONS = "DENY"

UPLOAD_BYTES_MAX = 384 * 1024 * 1024
RECORDING_BYTES_MAX = 1536 * 1024 * 1024
DATA_UPLOAD_MAX_MEMORY_SIZE = 4 * 1024 * 1024
FILE_UPLOAD_MAX_MEMORY_SIZE = 8 * 1024 * 1024
DATA_UPLOAD_MAX_NUMBER_FIELDS = 200

SCOPE_ADDRESS = os.environ.get("FAIRWITNESS_SCOPE", "")
"""VISA resource of a real scope; empty: the stand-in."""
CAN_INTERFACE = os.environ.get("FAIRWITNESS_CAN_INTERFACE", "")
CAN_CHANNEL = os.environ.get("FAIRWITNESS_CAN_CHANNEL", "")
"""Such as socketcan and can0 for a real vehicle; empty: the stand-in on a virtual bus."""
INBOX = Path(os.environ["FAIRWITNESS_INBOX"]) if os.environ.get("FAIRWITNESS_INBOX") else None
"""A folder scope software saves files in; off where it is not named."""
BENCH_SOCKET = Path(os.environ["FAIRWITNESS_BENCH_SOCKET"]) if os.environ.get("FAIRWITNESS_BENCH_SOCKET") else None
"""Where the process listens that holds the benches, if it is not this one; ``fairwitness serve --workers`` sets it."""
BENCH_PACE = configuration.number(os.environ, "FAIRWITNESS_BENCH_PACE", 1.0, least=0.1, most=1000)
"""Simulated seconds per second; above 1 in tests."""

BACKUPS = Path(os.environ["FAIRWITNESS_BACKUPS"]) if os.environ.get("FAIRWITNESS_BACKUPS") else None
"""A folder, better on another disk, that a backup is made into every day; none where it is not named."""
BACKUPS_KEPT = int(configuration.number(os.environ, "FAIRWITNESS_BACKUPS_KEPT", 14, least=1, most=1000))

LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "filters": {"numbered": {"()": "fairwitness.server.keeping.logs.WithNumber"}},
    "formatters": {
        "line": {"format": "{asctime} {levelname} [{number}] {name}: {message}", "style": "{"},
        "json": {"()": "fairwitness.server.keeping.logs.JsonLine"},
    },
    "handlers": {
        "terminal": {"class": "logging.StreamHandler", "formatter": "line", "filters": ["numbered"]},
        "errors": {
            "class": "logging.handlers.RotatingFileHandler",
            "filename": DATA / "errors.log",
            "maxBytes": 4_000_000,
            "backupCount": 3,
            "delay": True,
            "level": "ERROR",
            "formatter": "json",
            "filters": ["numbered"],
        },
    },
    "loggers": {
        "django": {"handlers": ["terminal", "errors"], "level": "ERROR", "propagate": False},
        "fairwitness": {"handlers": ["terminal", "errors"], "level": "INFO"},
    },
}

REST_FRAMEWORK = {
    "DEFAULT_AUTHENTICATION_CLASSES": ["rest_framework.authentication.SessionAuthentication"],
    "DEFAULT_PERMISSION_CLASSES": ["fairwitness.server.accounts.permissions.RoleAllows"],
    "DEFAULT_RENDERER_CLASSES": ["fairwitness.server.spoken.SpokenRenderer"],
    "DEFAULT_PARSER_CLASSES": ["fairwitness.server.parsing.CarefulJSONParser"],
    "DEFAULT_SCHEMA_CLASS": "drf_spectacular.openapi.AutoSchema",
    "EXCEPTION_HANDLER": "fairwitness.server.problems.handle",
    "NUM_PROXIES": PROXIES,
}
SPECTACULAR_SETTINGS = {
    "TITLE": "Fair Witness",
    "DESCRIPTION": "Which cylinder misfires, and why.",
    "VERSION": "1",
    "SERVE_INCLUDE_SCHEMA": False,
    "SERVE_PERMISSIONS": ["fairwitness.server.accounts.permissions.RoleAllows"],
    "COMPONENT_SPLIT_REQUEST": True,
    "POSTPROCESSING_HOOKS": [
        "drf_spectacular.hooks.postprocess_schema_enums",
        "fairwitness.server.described.with_refusals",
    ],
    "ENUM_NAME_OVERRIDES": {
        "VerdictStatus": "fairwitness.server.cases.schemas.VERDICT_STATUSES",
        "EngineTemperature": "fairwitness.server.cases.circumstance_schemas.TEMPERATURE_CHOICES",
        "ChannelRole": "fairwitness.server.imports.schemas.CHANNEL_ROLES",
        "PersonRole": "fairwitness.server.accounts.models.Role",
        "FindingState": "fairwitness.server.cases.schemas.FINDING_STATES",
        "PartName": "fairwitness.server.cases.life_schemas.PART_CHOICES",
        "CircuitPart": "fairwitness.server.engines.schemas.CIRCUIT_PARTS",
        "CodeOrigin": "fairwitness.server.cases.visit_schemas.ORIGINS",
    },
}
