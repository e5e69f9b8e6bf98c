"""Settings. Everything that differs between machines comes from `FOLIANT_...` in the environment."""

import os
from datetime import timedelta
from pathlib import Path

from django.core.management.utils import get_random_secret_key

BASE = Path(__file__).resolve().parents[2]
DATA = Path(os.environ.get("FOLIANT_DATA", BASE / "data"))
os.umask(0o077)  # the database, the fonts and the key are nobody else's on this machine
DATA.mkdir(parents=True, exist_ok=True)


def _secret_key() -> str:
    """The key of this installation: from the environment, or made once and kept beside the data."""
    if key := os.environ.get("FOLIANT_SECRET_KEY"):
        return key
    file = DATA / "secret-key"
    if not file.exists():
        file.touch(mode=0o600)
        file.write_text(get_random_secret_key())
    return file.read_text()


SECRET_KEY = _secret_key()
DEBUG = os.environ.get("FOLIANT_DEBUG") == "1"
DEMO = os.environ.get("FOLIANT_DEMO") == "1"
"""In the demo setting a button on the first page signs in as the demo maker."""

ALLOWED_HOSTS = os.environ.get("FOLIANT_HOSTS", "localhost,127.0.0.1,[::1]").split(",")
CSRF_TRUSTED_ORIGINS = [origin for origin in os.environ.get("FOLIANT_ORIGINS", "").split(",") if origin]

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.messages",
    "whitenoise.runserver_nostatic",
    "django.contrib.staticfiles",
    "django_tasks_db",
    "axes",
    "foliant.workshop",
]
MIDDLEWARE = [
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "foliant.site.csp.ContentSecurityPolicy",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "django.contrib.messages.middleware.MessageMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "foliant.workshop.sound.SoundText",
    "foliant.workshop.asking.AskedBy",
    "axes.middleware.AxesMiddleware",
]
ROOT_URLCONF = "foliant.site.urls"
WSGI_APPLICATION = "foliant.site.wsgi.application"
TEMPLATES = [
    {
        "BACKEND": "django.template.backends.django.DjangoTemplates",
        "APP_DIRS": True,
        "OPTIONS": {
            "context_processors": [
                "django.template.context_processors.request",
                "django.contrib.auth.context_processors.auth",
                "django.contrib.messages.context_processors.messages",
                "foliant.workshop.context.site",
            ],
        },
    }
]
DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.sqlite3",
        "NAME": DATA / "foliant.sqlite3",
        "CONN_MAX_AGE": 60,  # opening it takes a tenth of what a small request does
        "OPTIONS": {
            "transaction_mode": "IMMEDIATE",
            "timeout": 20,
            "init_command": "PRAGMA auto_vacuum=INCREMENTAL; PRAGMA journal_mode=WAL; PRAGMA synchronous=FULL;",
        },
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"
TASKS = {"default": {"BACKEND": "django_tasks_db.DatabaseBackend", "QUEUES": []}}  # a queue for each machine there is

# Guessing passwords: after so many wrong ones an account, or an address, is told to wait before anything is hashed.
AUTHENTICATION_BACKENDS = ["axes.backends.AxesStandaloneBackend", "django.contrib.auth.backends.ModelBackend"]
AXES_HANDLER = "axes.handlers.cache.AxesCacheHandler"
SILENCED_SYSTEM_CHECKS = ["axes.W001"]  # one process serves all pages, so its memory knows every attempt
AXES_FAILURE_LIMIT = 10
AXES_COOLOFF_TIME = timedelta(minutes=5)
AXES_LOCKOUT_PARAMETERS = ["username", "ip_address"]
AXES_RESET_ON_SUCCESS = True
AXES_RESET_COOL_OFF_ON_FAILURE_DURING_LOCKOUT = False
AXES_LOCKOUT_CALLABLE = "foliant.workshop.views.locked_out"
AXES_VERBOSE = False

AUTH_PASSWORD_VALIDATORS = [
    {"NAME": "django.contrib.auth.password_validation.UserAttributeSimilarityValidator"},
    {"NAME": "django.contrib.auth.password_validation.MinimumLengthValidator"},
    {"NAME": "django.contrib.auth.password_validation.CommonPasswordValidator"},
]
LOGIN_URL = "enter"
LOGIN_REDIRECT_URL = "projects"
LOGOUT_REDIRECT_URL = "enter"

LANGUAGE_CODE = "en"
TIME_ZONE = "UTC"
USE_TZ = True

MEDIA_ROOT = DATA / "media"

STATIC_URL = "static/"
STATIC_ROOT = DATA / "static"
STATIC_ROOT.mkdir(exist_ok=True)
STORAGES = {
    "default": {"BACKEND": "django.core.files.storage.FileSystemStorage"},
    "staticfiles": {"BACKEND": "django.contrib.staticfiles.storage.StaticFilesStorage"},
}
WHITENOISE_USE_FINDERS = True
WHITENOISE_AUTOREFRESH = DEBUG

HTTPS = os.environ.get("FOLIANT_HTTPS") == "1"
"""Whether makers come by HTTPS, through a proxy that says so in X-Forwarded-Proto."""

if HTTPS:
    SECURE_PROXY_SSL_HEADER = ("HTTP_X_FORWARDED_PROTO", "https")
    SECURE_SSL_REDIRECT = SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = True
    SECURE_HSTS_SECONDS = 31_536_000
    SECURE_HSTS_INCLUDE_SUBDOMAINS = SECURE_HSTS_PRELOAD = True

SECURE_CONTENT_TYPE_NOSNIFF = True
SECURE_REFERRER_POLICY = "same-origin"
X_FRAME_OPTIONS = "DENY"
DATA_UPLOAD_MAX_MEMORY_SIZE = 4_000_000

# Where the simulated machines listen that stand in for those of the shop that ships: a port for jobs, the next one for
# the buttons on the front; each in the order of the shop.
SIMULATED_HOST = "127.0.0.1"
SIMULATED_PORT = int(os.environ.get("FOLIANT_MACHINE_PORT", "7801"))
MACHINE_NETWORKS = os.environ.get("FOLIANT_MACHINE_NETWORKS", "10.0.0.0/8,172.16.0.0/12,192.168.0.0/16").split(",")
"""The networks in which makers' own machines may stand: Foliant connects to no other address that a maker types."""

LOOK_EVERY = float(os.environ.get("FOLIANT_LOOK_EVERY", "0.2"))
"""How often, in s, what feeds a machine and what packs looks for work."""

MACHINE_RATE = float(os.environ.get("FOLIANT_MACHINE_RATE", "20"))
"""How many simulated seconds the simulated machines live through in a real one."""

LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "formatters": {"line": {"format": "{asctime} {levelname} {name}: {message}", "style": "{"}},
    "handlers": {"console": {"class": "logging.StreamHandler", "formatter": "line"}},
    "loggers": {"foliant": {"handlers": ["console"], "level": "WARNING"}},
}
"""Faults of ours go to the server's own output with their trace and the number that the maker was told."""
