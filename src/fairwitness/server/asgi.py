"""The application for an ASGI server: pages and API over HTTP, live traces over WebSocket."""

from __future__ import annotations

import os
import warnings

from channels.auth import AuthMiddlewareStack
from channels.routing import ProtocolTypeRouter, URLRouter
from channels.security.websocket import AllowedHostsOriginValidator
from django.core.asgi import get_asgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "fairwitness.server.settings")
# Static files are small and come from disk; that they are read synchronously is known and does no harm.
warnings.filterwarnings("ignore", message="StreamingHttpResponse must consume synchronous iterators")
plain = get_asgi_application()

# What needs the applications loaded:
from django.conf import settings  # noqa: E402

from fairwitness.server.bench.elsewhere import BenchElsewhere  # noqa: E402
from fairwitness.server.bench.live import LIVE_ROUTES  # noqa: E402
from fairwitness.server.bodies import Application, GuardedBodies  # noqa: E402
from fairwitness.server.warming import after_first_answer  # noqa: E402

http: Application = plain
live: Application = AllowedHostsOriginValidator(AuthMiddlewareStack(URLRouter(LIVE_ROUTES)))
if settings.BENCH_SOCKET is not None:
    http, live = (BenchElsewhere(inner, settings.BENCH_SOCKET) for inner in (http, live))
application = ProtocolTypeRouter({"http": GuardedBodies(http), "websocket": live})
after_first_answer()
