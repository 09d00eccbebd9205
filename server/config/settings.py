"""Settings. Everything that may differ between machines is read here from the environment, once."""

import os
from pathlib import Path

BASE = Path(__file__).resolve().parents[2]
DATA = Path(os.environ.get("CALADO_DATA", BASE / "var")).resolve()
WEB_BUILD = Path(os.environ.get("CALADO_WEB", BASE / "web" / "dist")).resolve()


def _secret() -> str:
    """Return the key kept in the data folder, made at the first start; nothing secret is in the code."""
    file = DATA / "secret"
    DATA.mkdir(parents=True, exist_ok=True)
    if not file.exists():
        file.touch(mode=0o600)
        file.write_text(os.urandom(32).hex())
    return file.read_text()


SECRET_KEY = _secret()
DEBUG = False
# attack: a foreign name that resolves to this machine (DNS rebinding) is not served
ALLOWED_HOSTS = ["localhost", "127.0.0.1", "[::1]"]

INSTALLED_APPS = [
    "django.contrib.contenttypes",
    "django_tasks",
    "django_tasks_db",
    "ninja",
    "server.projects",
    "server.jobs",
]
MIDDLEWARE = [
    "django.middleware.security.SecurityMiddleware",
    "server.config.middleware.content_policy",
    "server.config.middleware.same_origin",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "django.middleware.common.CommonMiddleware",
    "server.config.heavy.heavy_in_turn",
]
TEST_RUNNER = "tools.runner.Runner"
ROOT_URLCONF = "server.config.urls"
WSGI_APPLICATION = "server.config.wsgi.application"

DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.sqlite3",
        # opening the file anew, with its pragmas, costs 1.5 ms a request
        "CONN_MAX_AGE": None,
        "NAME": DATA / "calado.sqlite3",
        # a file too: a shared database in memory locks whole tables, which the real one never does
        "TEST": {"NAME": DATA / "test.sqlite3"},
        # IMMEDIATE: four writers at once gave no error in 800 writes, without it 283
        # synchronous=FULL: what was answered as saved survives a power cut
        "OPTIONS": {
            "transaction_mode": "IMMEDIATE",
            "timeout": 20,
            "init_command": "PRAGMA journal_mode=WAL; PRAGMA synchronous=FULL; PRAGMA busy_timeout=20000;",
        },
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"
# clips have a lane of their own, so that nothing quick waits behind them
TASKS = {"default": {"BACKEND": "django_tasks_db.DatabaseBackend", "QUEUES": ["default", "clips"]}}

USE_TZ = True
TIME_ZONE = "UTC"
STATIC_URL = "/static/"
WHITENOISE_ROOT = WEB_BUILD if WEB_BUILD.is_dir() else None
WHITENOISE_INDEX_FILE = True
# the build's names carry a hash of their content
WHITENOISE_IMMUTABLE_FILE_TEST = r"^/assets/"

DATA_ROOT = DATA
MEDIA_ROOT = DATA / "shots"
CACHE_ROOT = DATA / "cache"
MATTE_ROOT = DATA / "mattes"
TABLE_ROOT = DATA / "tables"
SOLVED_ROOT = DATA / "solved"
EXPORT_ROOT = DATA / "exports"
FILE_UPLOAD_TEMP_DIR = DATA / "incoming"
UPLOAD_ROOT = DATA / "uploads"
MOTION_ROOT = DATA / "motions"
FILE_UPLOAD_HANDLERS = ["server.config.uploads.BoundedUpload"]
DATA_UPLOAD_MAX_MEMORY_SIZE = 20 * 2**20
CACHE_LIMIT_BYTES = 8 * 2**30
#: of the disk, what caches leave free
DISK_RESERVE_BYTES = 2**30
for folder in (MEDIA_ROOT, CACHE_ROOT, MATTE_ROOT, EXPORT_ROOT, FILE_UPLOAD_TEMP_DIR, UPLOAD_ROOT):
    folder.mkdir(parents=True, exist_ok=True)

LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "handlers": {"console": {"class": "logging.StreamHandler"}},
    "root": {"handlers": ["console"], "level": "WARNING"},
}
