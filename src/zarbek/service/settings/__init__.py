"""Django's settings. The only reader of the environment; defaults stand beside their names."""

from __future__ import annotations

import os
import secrets
from pathlib import Path

from zarbek import __version__

BASE = Path(__file__).resolve().parent.parent
HOME = Path(os.environ.get("ZARBEK_HOME", ".zarbek")).resolve()
DEBUG = False
PORT = int(os.environ.get("ZARBEK_PORT", "8080"))


def _secret_key() -> str:
    """The key in the state folder, made at first use and readable by its owner only."""
    if key := os.environ.get("ZARBEK_SECRET_KEY"):
        return key
    path = HOME / "secret-key"
    if not path.is_file():
        HOME.mkdir(parents=True, exist_ok=True)
        descriptor = os.open(path, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600)
        with os.fdopen(descriptor, "w") as handle:
            handle.write(secrets.token_urlsafe(48))
    return path.read_text().strip()


def _database_password() -> str:
    """The one that is given, else that of the portal's own database, which was made with it."""
    path = HOME / "db-password"
    return os.environ.get("ZARBEK_DB_PASSWORD") or (path.read_text().strip() if path.is_file() else "")


SECRET_KEY = _secret_key()
ALLOWED_HOSTS = os.environ.get("ZARBEK_HOSTS", "127.0.0.1,localhost,[::1]").split(",")
CSRF_TRUSTED_ORIGINS = [o for o in os.environ.get("ZARBEK_ORIGINS", "").split(",") if o]
#: The address under which readers reach the portal, for links in notices and feeds.
PUBLIC_URL = os.environ.get("ZARBEK_PUBLIC_URL", f"http://127.0.0.1:{PORT}")
#: Addresses of proxies in front of the portal, whose word counts for who asks and by which scheme;
#: from anybody else such headers are nothing.
PROXIES = [p.strip() for p in os.environ.get("ZARBEK_PROXIES", "").split(",") if p.strip()]
INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.staticfiles",
    "rest_framework",
    "csp",
    "django_tasks",
    "django_tasks_db",
    "zarbek.service.accounts",
    "zarbek.service.catalog",
    "zarbek.service.content",
    "zarbek.service.publishing",
    "zarbek.service.links",
    "zarbek.service.findings",
    "zarbek.service.sources",
    "zarbek.service.addresses",
    "zarbek.service.notices",
    "zarbek.service.search",
    "zarbek.service.tryit",
    "zarbek.service.reference",
    "zarbek.service.supplements",
    "zarbek.service.web",
]
MIDDLEWARE = [
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "csp.middleware.CSPMiddleware",
]
ROOT_URLCONF = "zarbek.service.web.urls"
WSGI_APPLICATION = "zarbek.service.web.wsgi.application"
TEMPLATES = [{"BACKEND": "django.template.backends.django.DjangoTemplates", "APP_DIRS": True}]
DATABASES = {
    "default": {
        "ENGINE": "zarbek.service.common.mariadb",
        "NAME": os.environ.get("ZARBEK_DB_NAME", "zarbek"),
        "USER": os.environ.get("ZARBEK_DB_USER", "zarbek"),
        "PASSWORD": _database_password(),
        "HOST": os.environ.get("ZARBEK_DB_HOST", "127.0.0.1"),
        "PORT": os.environ.get("ZARBEK_DB_PORT", "3307"),
        "CONN_MAX_AGE": 300,
        "CONN_HEALTH_CHECKS": True,
        "OPTIONS": {"charset": "utf8mb4", "isolation_level": "read committed"},
        "TEST": {"CHARSET": "utf8mb4", "COLLATION": "utf8mb4_nopad_bin"},
    }
}
TASKS = {"default": {"BACKEND": "django_tasks_db.DatabaseBackend", "QUEUES": ["default", "chores", "outside"]}}
#: Long names are unique by a key that InnoDB holds: 3,072 bytes.
SILENCED_SYSTEM_CHECKS = ["mysql.W003"]
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"
USE_TZ = True
TIME_ZONE = "UTC"
MEDIA_ROOT = HOME / "files"
SEARCH_INDEX = HOME / "index"
#: Figures of each process, as prometheus-client shares them; it reads this when it is loaded.
METRICS = Path(os.environ.setdefault("PROMETHEUS_MULTIPROC_DIR", str(HOME / "metrics")))
METRICS.mkdir(parents=True, exist_ok=True)
#: Long texts as HTML, for 30 days or until 1,000 others are newer.
RENDERINGS = HOME / "renderings"
CACHES = {
    "default": {"BACKEND": "django.core.cache.backends.locmem.LocMemCache"},
    "renderings": {
        "BACKEND": "django.core.cache.backends.filebased.FileBasedCache",
        "LOCATION": RENDERINGS,
        "TIMEOUT": 30 * 86400,
        "KEY_PREFIX": __version__,  # Another one may set texts in another way.
        "OPTIONS": {"MAX_ENTRIES": 1000},
    },
}
STATIC_URL = "/static/"
CONSOLE_DIST = BASE / "web" / "dist"
STATICFILES_DIRS = [CONSOLE_DIST / "static"] if (CONSOLE_DIST / "static").is_dir() else []
STATIC_ROOT = None
WHITENOISE_USE_FINDERS = True
WHITENOISE_AUTOREFRESH = False
WHITENOISE_MAX_AGE = 31_536_000
DATA_UPLOAD_MAX_MEMORY_SIZE = 4 * 2**20
MAX_UPLOAD_BYTES = int(os.environ.get("ZARBEK_MAX_UPLOAD_MIB", "512")) * 2**20
FILE_UPLOAD_MAX_MEMORY_SIZE = 2**20
#: Whether cookies go over TLS only: as the public address has it, unless it is said.
_SECURE = os.environ.get("ZARBEK_SECURE_COOKIES", "1" if PUBLIC_URL.startswith("https://") else "0") == "1"
SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = _SECURE
SESSION_COOKIE_HTTPONLY = True
SESSION_COOKIE_SAMESITE = "Lax"
CSRF_COOKIE_SAMESITE = "Lax"
SECURE_CONTENT_TYPE_NOSNIFF = True
SECURE_REFERRER_POLICY = "same-origin"
X_FRAME_OPTIONS = "DENY"
#: Folders below which local git repositories may be registered as sources.
LOCAL_SOURCES = [p for p in os.environ.get("ZARBEK_LOCAL_SOURCES", "").split(os.pathsep) if p]
#: Whether this is no portal but what one reader sees of a working tree.
PREVIEW = False
#: How hard documents are compressed (RFC 1951), 0 for not at all: they stay for years, but where they go in an hour.
PACK_LEVEL = 1
PORTAL_NAME = os.environ.get("ZARBEK_NAME", "Zarbek reference")
STALE_RUN_SECONDS = 30
#: Hosts, ``*`` for any text, that may be reached although they lie in a private network.
ALLOWED_PRIVATE = [h for h in os.environ.get("ZARBEK_ALLOW_PRIVATE", "").split(",") if h]
#: The same of git repositories: hosts in a private network that may be fetched from.
PRIVATE_GIT_HOSTS = [h for h in os.environ.get("ZARBEK_GIT_HOSTS", "").split(",") if h]
#: Seconds between two requests to one host, and between two looks at one address.
URL_PAUSE_S = float(os.environ.get("ZARBEK_URL_PAUSE_S", "1"))
URL_AGAIN_S = float(os.environ.get("ZARBEK_URL_AGAIN_S", "86400"))
URL_TIMEOUT_S = float(os.environ.get("ZARBEK_URL_TIMEOUT_S", "15"))
EMAIL_HOST = os.environ.get("ZARBEK_SMTP_HOST", "")
EMAIL_PORT = int(os.environ.get("ZARBEK_SMTP_PORT", "25"))
EMAIL_HOST_USER = os.environ.get("ZARBEK_SMTP_USER", "")
EMAIL_HOST_PASSWORD = os.environ.get("ZARBEK_SMTP_PASSWORD", "")
EMAIL_USE_TLS = os.environ.get("ZARBEK_SMTP_TLS", "") == "1"
EMAIL_TIMEOUT = 20
#: Seconds between two mails to a team.
DIGEST_S = float(os.environ.get("ZARBEK_DIGEST_S", "86400"))
DEFAULT_FROM_EMAIL = os.environ.get("ZARBEK_MAIL_FROM", "zarbek@localhost")
#: Whether anybody may see how much there is and happens, private projects' part included.
OPEN_FIGURES = os.environ.get("ZARBEK_OPEN_FIGURES", "") == "1"
#: What people know the provider of identities by; empty where nobody signs in there.
OIDC_ISSUER = os.environ.get("ZARBEK_OIDC_ISSUER", "")
OIDC_NAME = os.environ.get("ZARBEK_OIDC_NAME", "the company's account") if OIDC_ISSUER else ""
OIDC_RP_CLIENT_ID = os.environ.get("ZARBEK_OIDC_CLIENT_ID", "")
OIDC_RP_CLIENT_SECRET = os.environ.get("ZARBEK_OIDC_CLIENT_SECRET", "")
OIDC_RP_SIGN_ALGO = os.environ.get("ZARBEK_OIDC_SIGNED_BY", "RS256")
OIDC_RP_SCOPES = os.environ.get("ZARBEK_OIDC_SCOPES", "openid email profile groups")
OIDC_USE_PKCE = True
OIDC_TIMEOUT = 10
LOGIN_REDIRECT_URL = "/"
#: The claim that names groups, and the group of those who administer the portal; empty where the portal says who does.
OIDC_GROUPS_CLAIM = os.environ.get("ZARBEK_OIDC_GROUPS_CLAIM", "groups")
OIDC_ADMINISTRATORS = os.environ.get("ZARBEK_OIDC_ADMINISTRATORS", "")
#: After so many seconds the provider is asked again, and after so many days without its word tokens rest.
OIDC_SESSION_S = int(os.environ.get("ZARBEK_OIDC_SESSION_S", "28800"))
OIDC_TRUST_DAYS = int(os.environ.get("ZARBEK_OIDC_TRUST_DAYS", "30"))
AUTHENTICATION_BACKENDS = ["django.contrib.auth.backends.ModelBackend"]
if OIDC_ISSUER:
    AUTHENTICATION_BACKENDS.append("zarbek.service.accounts.provider.ProviderBackend")
#: Who may read a project that is published for the first time: public, inside or teams.
NEW_PROJECTS = os.environ.get("ZARBEK_NEW_PROJECTS", "public")
MAX_RUN_ATTEMPTS = 4
#: How many projects a worker publishes at once.
PUBLISHERS = int(os.environ.get("ZARBEK_PUBLISHERS", "2"))
#: Under which a worker's process claims its jobs; given by who starts it.
WORKER_ID = os.environ.get("ZARBEK_WORKER_ID", f"by-hand-{os.getpid()}")
#: Seconds that a stage of a run may take, and a job that is none; what takes longer is ended.
STAGE_LIMIT_S = float(os.environ.get("ZARBEK_STAGE_LIMIT_S", "3600"))
STAGE_LIMITS_S = {"link": 2 * STAGE_LIMIT_S, "report": 2 * STAGE_LIMIT_S}
JOB_LIMIT_S = float(os.environ.get("ZARBEK_JOB_LIMIT_S", "900"))
#: What gathering a fetched repository may take: seconds, MiB of memory a process, MiB of files.
GATHER_LIMIT_S = float(os.environ.get("ZARBEK_GATHER_LIMIT_S", "1800"))
GATHER_MEMORY_MIB = int(os.environ.get("ZARBEK_GATHER_MEMORY_MIB", "4096"))
GATHER_FILES_MIB = int(os.environ.get("ZARBEK_GATHER_FILES_MIB", "4096"))
#: For how many days bundles of runs that have ended are kept, their logs, and events that were sent.
KEEP_BUNDLES_DAYS = int(os.environ.get("ZARBEK_KEEP_BUNDLES_DAYS", "30"))
KEEP_LOGS_DAYS = int(os.environ.get("ZARBEK_KEEP_LOGS_DAYS", "365"))
KEEP_EVENTS_DAYS = int(os.environ.get("ZARBEK_KEEP_EVENTS_DAYS", "90"))
#: Where material is unpacked while it is read.
WORK_ROOT = HOME / "work"

#: Of everything but the console's page, which brings its own: data, which is no page and runs nothing.
CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": ["'none'"],
        "base-uri": ["'none'"],
        "form-action": ["'none'"],
        "frame-ancestors": ["'none'"],
        "sandbox": [True],
    }
}
REST_FRAMEWORK = {
    "DEFAULT_AUTHENTICATION_CLASSES": [
        "zarbek.service.accounts.authentication.TokenAuthentication",
        "zarbek.service.accounts.authentication.BrowserSession",
    ],
    "DEFAULT_PERMISSION_CLASSES": ["rest_framework.permissions.AllowAny"],
    "DEFAULT_RENDERER_CLASSES": ["zarbek.service.common.rendering.MsgspecRenderer"],
    "DEFAULT_PARSER_CLASSES": ["zarbek.service.common.request_validation.StrictJson"],
    "EXCEPTION_HANDLER": "zarbek.service.web.problems.handle_exception",
    "UNAUTHENTICATED_USER": "django.contrib.auth.models.AnonymousUser",
}
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": "django.contrib.auth.password_validation.MinimumLengthValidator", "OPTIONS": {"min_length": 12}},
    {"NAME": "django.contrib.auth.password_validation.UserAttributeSimilarityValidator"},
    {"NAME": "django.contrib.auth.password_validation.CommonPasswordValidator"},
]
PASSWORD_HASHERS = [
    "django.contrib.auth.hashers.ScryptPasswordHasher",
    "django.contrib.auth.hashers.PBKDF2PasswordHasher",
]
LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "formatters": {"line": {"format": "%(asctime)s %(levelname)s %(name)s: %(message)s"}},
    "handlers": {"stderr": {"class": "logging.StreamHandler", "formatter": "line"}},
    "loggers": {"django_tasks_db": {"level": "ERROR"}, "django.request": {"level": "ERROR"}},
    "root": {"handlers": ["stderr"], "level": os.environ.get("ZARBEK_LOG_LEVEL", "WARNING")},
}
