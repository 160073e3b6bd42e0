"""How far to trust the tool: the latest study, this shop's own or the one that ships."""

from __future__ import annotations

import json
from typing import Any

from django.conf import settings
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from fairwitness.core.errors import PackageError
from fairwitness.server.trust.files import ELSEWHERE, KNOWN, OWN, SHIPPED
from fairwitness.server.trust.schemas import TrustSerializer

NOT_TOLD = {"hits": 0, "count": 0, "share": None, "low": 0.0, "high": 1.0}


class TrustView(APIView):
    """The figures of the latest study."""

    @extend_schema(operation_id="trust_read", responses=TrustSerializer)
    def get(self, request: Request) -> Response:
        """Accuracy on cases of another model, and accuracy, calibration and minutes over simulated vehicles."""
        return Response(latest())


def latest() -> dict[str, Any]:
    """The study of this shop where there is one, else the one that ships.

    Raises
    ------
    PackageError
        The file is no study.
    """
    own = settings.DATA / OWN
    path = own if own.is_file() else SHIPPED
    try:
        reported: dict[str, Any] = json.loads(path.read_text())
        elsewhere, known = json.loads(ELSEWHERE.read_text()), json.loads(KNOWN.read_text())
        figures = {"sound_accused": NOT_TOLD, **reported["figures"]}  # studies of 0.1.0 did not tell it
        return {
            **{"worlds": "known", "combinations": [], "trusted_from": None},
            **reported,
            "figures": figures,
            "own": path is own,
            "saved": reported["saved"],
            "elsewhere": elsewhere,
            "known": known,
        }
    except (OSError, ValueError, KeyError) as error:
        raise PackageError(
            "The study cannot be read.", where=path.name, remedy="Run fairwitness study --kind policies again."
        ) from error
