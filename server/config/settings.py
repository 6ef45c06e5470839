"""Settings. Everything that differs between machines comes from the environment; the defaults suit one machine."""

import os
from datetime import timedelta
from pathlib import Path
from urllib.parse import urlsplit

from csp.constants import NONE, SELF
from django.core.exceptions import ImproperlyConfigured

ROOT = Path(__file__).resolve().parents[2]
RUN = Path(os.environ.get("GREYLATCH_RUN", ROOT / ".run"))
DEBUG = os.environ.get("GREYLATCH_DEBUG") == "1"
PUBLIC_ADDRESS = os.environ.get("GREYLATCH_ADDRESS", "http://127.0.0.1:8800").rstrip("/")
BEHIND_TLS = PUBLIC_ADDRESS.startswith("https://")


def _secret_key() -> str:
    """From the environment or a file that the start command made; there is no built-in one that could be shared by mistake."""
    key = os.environ.get("GREYLATCH_SECRET_KEY")
    file = RUN / "secret-key"
    if not key and file.exists():
        key = file.read_text().strip()
    if not key:
        raise ImproperlyConfigured(f"Set GREYLATCH_SECRET_KEY, or let bin/start make {file}.")
    return key


SECRET_KEY = _secret_key()
ALLOWED_HOSTS = [urlsplit(PUBLIC_ADDRESS).hostname or "127.0.0.1", "127.0.0.1", "localhost"]
CSRF_TRUSTED_ORIGINS = [PUBLIC_ADDRESS]

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "qsessions",
    "django.contrib.gis",
    "django.contrib.staticfiles",
    "axes",
    "csp",
    "ninja",
    "jobs",
    "library",
    "sheets",
    "editions",
    "people",
    "services",
]
MIDDLEWARE = [
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "config.compression.CompressWhatShrinks",
    "csp.middleware.CSPMiddleware",
    "qsessions.middleware.SessionMiddleware",
    "people.sessions.addressed",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "config.gate.Gate",  # before anything that would read a body, the check of its token among them
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
]
ROOT_URLCONF = "config.urls"
WSGI_APPLICATION = "config.wsgi.application"
TEMPLATES = [
    {
        "BACKEND": "django.template.backends.django.DjangoTemplates",
        "DIRS": [ROOT / "web" / "dist"],
        "APP_DIRS": True,
        "OPTIONS": {"context_processors": []},
    }
]

DATABASES = {
    "default": {
        "ENGINE": "django.contrib.gis.db.backends.postgis",
        "NAME": os.environ.get("GREYLATCH_DB_NAME", "greylatch"),
        "USER": os.environ.get("GREYLATCH_DB_USER", "greylatch"),
        "PASSWORD": os.environ.get("GREYLATCH_DB_PASSWORD", ""),
        "HOST": os.environ.get("GREYLATCH_DB_HOST", "127.0.0.1"),
        "PORT": os.environ.get("GREYLATCH_DB_PORT", "5432"),
        "CONN_MAX_AGE": 60,
        "CONN_HEALTH_CHECKS": True,
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"

REDIS = os.environ.get("GREYLATCH_REDIS", "redis://127.0.0.1:6379/0")
# The database knows what is to be done; a message only wakes a worker, so it is taken out of the queue at once, and losing one
# or getting it twice does no harm (see jobs.work).
CELERY_BROKER_URL = REDIS
CELERY_TASK_IGNORE_RESULT = True
CELERY_WORKER_PREFETCH_MULTIPLIER = 1
CELERY_BROKER_CONNECTION_RETRY_ON_STARTUP = True
CELERY_BROKER_CONNECTION_MAX_RETRIES = None
CELERY_BROKER_TRANSPORT_OPTIONS = {"socket_connect_timeout": 2, "socket_timeout": 10, "max_retries": 1}
CELERY_TASK_PUBLISH_RETRY_POLICY = {"max_retries": 1, "interval_start": 0, "interval_step": 0.2, "interval_max": 0.2}
CELERY_WORKER_HIJACK_ROOT_LOGGER = False
JOB_KINDS = {
    "import": "library.tasks.KIND",
    "redelivery": "library.tasks.REDELIVERY",
    "publish": "editions.tasks.KIND",
    "fetch": "services.tasks.FETCH",
    "refresh": "services.tasks.REFRESH",
    "cut": "library.cutting.KIND",
}
JOB_SILENCE_SECONDS = int(os.environ.get("GREYLATCH_JOB_SILENCE", "45"))
CELERY_BEAT_SCHEDULE = {
    "sweep": {"task": "jobs.tasks.sweep_all", "schedule": max(2.0, JOB_SILENCE_SECONDS / 3)},
    "refresh": {"task": "services.tasks.refresh_due", "schedule": 60.0},
}
CELERY_BEAT_SCHEDULE_FILENAME = str(RUN / "beat")

TILE_CACHE = RUN / "tile-cache"
CACHES = {
    "default": {"BACKEND": "django.core.cache.backends.dummy.DummyCache"},
    "tiles": {
        "BACKEND": "config.sharded_cache.ShardedFileCache",
        "LOCATION": TILE_CACHE,
        "TIMEOUT": None,
        "OPTIONS": {"MAX_ENTRIES": 200_000},
    },
}

MEDIA_ROOT = Path(os.environ.get("GREYLATCH_FILES", RUN / "files"))
# Files lie in a folder, or in a bucket of an S3-compatible storage that all machines reach; keys and region come from the
# environment or the machine, as boto3 looks for them.
BUCKET = os.environ.get("GREYLATCH_S3_BUCKET")
S3 = {
    "bucket_name": BUCKET, "endpoint_url": os.environ.get("GREYLATCH_S3_ENDPOINT"), "file_overwrite": False, "default_acl": None,
}  # fmt: skip
STORAGES = {
    "default": (
        {"BACKEND": "storages.backends.s3.S3Storage", "OPTIONS": S3}
        if BUCKET
        else {"BACKEND": "django.core.files.storage.FileSystemStorage"}
    ),
    "staticfiles": {"BACKEND": "django.contrib.staticfiles.storage.StaticFilesStorage"},
}
STATIC_URL = "/static/"
WEB_DIST = ROOT / "web" / "dist"
STATICFILES_DIRS = [WEB_DIST] if WEB_DIST.exists() else []
STATIC_ROOT = RUN / "static"
WHITENOISE_USE_FINDERS = True
WHITENOISE_IMMUTABLE_FILE_TEST = r"^/static/assets/.+-[A-Za-z0-9_-]{8}\.\w+$"

MAX_UPLOAD = int(os.environ.get("GREYLATCH_MAX_UPLOAD", 2 * 1024**3))
DATA_UPLOAD_MAX_MEMORY_SIZE = 8 * 1024**2
FILE_UPLOAD_MAX_MEMORY_SIZE = 2 * 1024**2
FILE_UPLOAD_PERMISSIONS = 0o600
FILE_UPLOAD_HANDLERS = ["config.uploads.NamelessUpload"]
DATA_UPLOAD_MAX_NUMBER_FILES = 1
# Those of an address count too: what is asked of a ramp names each of its stops, of which there may be 24.
DATA_UPLOAD_MAX_NUMBER_FIELDS = 40
# Whose services datasets may be fetched from: hosts, or *.host for all below it, or * for every public one. Addresses within a
# private network are never fetched, but for those that are named with their port.
SERVICES = tuple(filter(None, os.environ.get("GREYLATCH_SERVICES", "").lower().replace(",", " ").split()))
SERVICES_INSIDE = tuple(filter(None, os.environ.get("GREYLATCH_SERVICES_INSIDE", "").lower().replace(",", " ").split()))
QUOTA = int(os.environ.get("GREYLATCH_QUOTA", 20 * 1024**3))
SCRATCH = RUN / "scratch"
DERIVED = RUN / "derived"

AUTH_PASSWORD_VALIDATORS = [
    {"NAME": "django.contrib.auth.password_validation.MinimumLengthValidator", "OPTIONS": {"min_length": 10}},
    {"NAME": "django.contrib.auth.password_validation.CommonPasswordValidator"},
]
LOGIN_URL = "/"
# Sessions know whose they are and from where they are used, so that a person can end one.
SESSION_ENGINE = "qsessions.backends.db"
PASSWORD_RESET_TIMEOUT = 24 * 3600
AUTHENTICATION_BACKENDS = ["axes.backends.AxesStandaloneBackend", "django.contrib.auth.backends.ModelBackend"]
# Proxies in front of the web server whose word on where a request comes from is believed.
TRUSTED_PROXIES = int(os.environ.get("GREYLATCH_PROXIES", "0"))
AXES_FAILURE_LIMIT = 10
AXES_COOLOFF_TIME = timedelta(minutes=2)
AXES_LOCKOUT_PARAMETERS = "people.sign_in.limits"
AXES_CLIENT_IP_CALLABLE = "people.sign_in.client_address"
AXES_USERNAME_CALLABLE = "people.sign_in.counted_name"
AXES_RESET_ON_SUCCESS = True
# Trying on during the rest does not make it longer: nobody can be kept out for good.
AXES_RESET_COOL_OFF_ON_FAILURE_DURING_LOCKOUT = False
AXES_ENABLE_ADMIN = False
AXES_VERBOSE = False

# The interface loads nothing from elsewhere. MUI and OpenLayers write style elements, hence the one exception.
CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": [SELF],
        "img-src": [SELF, "data:", "blob:"],
        "style-src": [SELF, "'unsafe-inline'"],
        "font-src": [SELF],
        "connect-src": [SELF],
        "worker-src": [SELF, "blob:"],
        "object-src": [NONE],
        "base-uri": [SELF],
        "form-action": [SELF],
        "frame-src": [SELF],
        "frame-ancestors": [NONE],
    }
}
X_FRAME_OPTIONS = "DENY"
SECURE_CONTENT_TYPE_NOSNIFF = True
SECURE_REFERRER_POLICY = "same-origin"
SECURE_PROXY_SSL_HEADER = ("HTTP_X_FORWARDED_PROTO", "https") if BEHIND_TLS else None
SECURE_HSTS_SECONDS = 31_536_000 if BEHIND_TLS else 0
SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = BEHIND_TLS
SESSION_COOKIE_HTTPONLY = True
SESSION_COOKIE_SAMESITE = CSRF_COOKIE_SAMESITE = "Lax"
# The browser's script reads this cookie to send the token back in a header.
CSRF_COOKIE_HTTPONLY = False

# Debian 12 ships GDAL 3.6. No spatial reference comes from a stranger: shapes reach GeoDjango as WKB with a fixed SRID.
# What a locked-out person is told is said by people.api itself, not by a middleware.
SILENCED_SYSTEM_CHECKS = ["gis.W001", "axes.W002"]
LANGUAGE_CODE = "en"
TIME_ZONE = "UTC"
USE_TZ = True
LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "formatters": {"line": {"format": "{asctime} {levelname} {name} {message}", "style": "{"}},
    "handlers": {"stderr": {"class": "logging.StreamHandler", "formatter": "line"}},
    "root": {"handlers": ["stderr"], "level": "INFO"},
    # Every sign-in would be told of four times, and every file that is written; what is refused is told of as a warning.
    "loggers": {"axes": {"level": "WARNING"}, "pyogrio": {"level": "WARNING"}},
}
