"""The application for an ASGI server."""

from __future__ import annotations

import os
import warnings

from django.core.asgi import get_asgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "fairwitness.server.settings")
# Static files are small and come from disk; that they are read synchronously is known and does no harm.
warnings.filterwarnings("ignore", message="StreamingHttpResponse must consume synchronous iterators")
application = get_asgi_application()
