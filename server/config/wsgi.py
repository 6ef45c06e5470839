"""What the web server runs."""

import os

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "config.settings")
application = get_wsgi_application()

from config.warm import warm  # noqa: E402 (Django has to be ready)

warm()
