"""Looking at a capture over HTTP: windows of samples, cycles, folds, readings. Samples travel as binary."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

import numpy as np
from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from fairwitness.core.errors import CaptureError, TableError
from fairwitness.core.model.engine import CYCLE_DEG
from fairwitness.core.signal.cycle_folding import averaged
from fairwitness.core.signal.pressure.reference import Reference
from fairwitness.server.captures import looking, schemas
from fairwitness.server.captures.custody import watched
from fairwitness.server.captures.models import StoredCapture

POINTS_MAX = 20_000
POINTS_USUAL = 2_000
BINS_USUAL, BINS_MAX = 720, 4_096
NO_CYCLES = {
    "available": False, "sync": "", "certain": False, "from_deg": 0.0,
    "starts_s": [], "ends_s": [], "windows": [], "odd_first": [], "oddness": [],
}  # fmt: skip


class WindowView(APIView):
    """A stretch of samples."""

    @extend_schema(
        operation_id="window_read",
        parameters=[
            OpenApiParameter("from_s", OpenApiTypes.FLOAT),
            OpenApiParameter("to_s", OpenApiTypes.FLOAT),
            OpenApiParameter("points", OpenApiTypes.INT),
            OpenApiParameter("corner_hz", OpenApiTypes.FLOAT),
        ],
        responses={(200, "application/octet-stream"): OpenApiTypes.BINARY},
    )
    def get(self, request: Request, capture_id: int) -> HttpResponse:
        """All channels in turn: float32 samples, or lows and highs in turn. Headers say where the first lies."""
        stored = get_object_or_404(StoredCapture, pk=capture_id)
        last = max(stored.samples - 1, 0) / max(stored.rate_hz, 1e-9)
        begin_s = _number(request, "from_s", 0.0, last)
        end_s = _number(request, "to_s", last, last)
        points = max(int(_number(request, "points", POINTS_USUAL, POINTS_MAX)), 2)
        begin, end = int(begin_s * stored.rate_hz), int(end_s * stored.rate_hz) + 1
        corner = _number(request, "corner_hz", 0.0, stored.rate_hz)
        with watched(stored):
            values, step = looking.window(stored, (begin, end), points, corner)
        answer = HttpResponse(values.astype("<f4").tobytes(), content_type="application/octet-stream")
        answer["X-Channels"] = str(values.shape[0])
        answer["X-First-Sample"] = str(begin // step * step if step > 1 else begin)
        answer["X-Step"] = str(step)
        return answer


class CyclesView(APIView):
    """Where the cycles of a capture lie."""

    @extend_schema(operation_id="cycles_read", responses=schemas.CyclesSerializer)
    def get(self, request: Request, capture_id: int) -> Response:
        """Cycles, windows of the cylinders, and which cycles are the odd ones."""
        stored = _capture(capture_id)
        try:
            with watched(stored):
                view = looking.cycles_of(stored)
                scores = looking.oddness_of(stored, view)
        except CaptureError as error:
            return Response({**NO_CYCLES, "why_not": error.sentence})
        return Response(
            {
                "available": True,
                "why_not": "",
                "sync": view.sync,
                "certain": view.certain,
                "from_deg": view.from_deg,
                "starts_s": view.cycles.starts_s.tolist(),
                "ends_s": view.cycles.ends_s.tolist(),
                "windows": [{"cylinder": w.cylinder, "from_deg": w.from_deg, "to_deg": w.to_deg} for w in view.windows],
                "odd_first": np.argsort(-scores, kind="stable").tolist(),
                "oddness": scores.tolist(),
            }
        )


class FoldView(APIView):
    """A channel folded by cycle."""

    @extend_schema(
        operation_id="fold_read",
        parameters=[OpenApiParameter("bins", OpenApiTypes.INT), OpenApiParameter("average", OpenApiTypes.BOOL)],
        responses={(200, "application/octet-stream"): OpenApiTypes.BINARY},
    )
    def get(self, request: Request, capture_id: int, position: int) -> HttpResponse:
        """Float32 lows and highs per cycle and column; with ``average``, the median cycle and its spread."""
        stored = _capture(capture_id)
        bins = int(min(max(_number(request, "bins", BINS_USUAL, BINS_MAX), 36), BINS_MAX))
        with watched(stored):
            folded = looking.folded(stored, position, looking.cycles_of(stored), bins)
        shown = averaged(folded) if request.query_params.get("average") in ("1", "true") else folded
        answer = HttpResponse(shown.astype("<f4").tobytes(), content_type="application/octet-stream")
        answer["X-Rows"] = str(shown.shape[0])
        return answer


BAR = 1e5


class PressureView(APIView):
    """Computed pressure beside a measured one."""

    @extend_schema(operation_id="pressure_read", responses=schemas.PressureReferenceSerializer(many=True))
    def get(self, request: Request, capture_id: int) -> Response:
        """A sound cylinder's cycle on the folded axis, and where its valves belong and were found."""
        stored = _capture(capture_id)
        with watched(stored):
            view = looking.cycles_of(stored)
            computed = looking.pressure_references(stored, view)
        return Response([_reference(r, tdc, view.from_deg) for r, tdc in computed])


def _reference(reference: Reference, tdc_deg: float, from_deg: float) -> dict[str, Any]:
    """Turned so that it begins where the folded axis begins."""
    steps = reference.values.size
    turn = round((from_deg - tdc_deg + CYCLE_DEG / 2) / CYCLE_DEG * steps)

    def on_axis(deg: float | None) -> float | None:
        return None if deg is None else round((deg + tdc_deg - from_deg) % CYCLE_DEG + from_deg, 1)

    return {
        "position": reference.channel,
        "cylinder": reference.cylinder,
        "values": np.round(np.roll(reference.values, -turn), 4).tolist(),
        "peak_bar": round(reference.peak_pa / BAR, 2),
        "measured_peak_bar": round(reference.measured_peak_pa / BAR, 2),
        "marks": [
            {"name": m.name, "usual_at": on_axis(m.usual_deg), "measured_at": on_axis(m.measured_deg),
             "usual_deg": m.usual_deg, "measured_deg": m.measured_deg}
            for m in reference.marks
        ],
    }  # fmt: skip


class ReadingView(APIView):
    """What lies between two cursors."""

    @extend_schema(
        operation_id="reading_read",
        parameters=[OpenApiParameter("from_s", OpenApiTypes.FLOAT), OpenApiParameter("to_s", OpenApiTypes.FLOAT)],
        responses=schemas.ReadingSerializer,
    )
    def get(self, request: Request, capture_id: int, position: int) -> Response:
        """Measured on the samples themselves, not on the picture."""
        stored = _capture(capture_id)
        from_s, to_s = (moment(request, name) for name in ("from_s", "to_s"))
        with watched(stored):
            reading = looking.reading(stored, position, from_s, to_s)
        return Response({**asdict(reading), "hertz": reading.hertz})


class SnapView(APIView):
    """The nearest edge or peak."""

    @extend_schema(
        operation_id="snap_read",
        parameters=[
            OpenApiParameter("at_s", OpenApiTypes.FLOAT),
            OpenApiParameter("reach_s", OpenApiTypes.FLOAT),
            OpenApiParameter("kind", OpenApiTypes.STR, enum=["edge", "peak"]),
        ],
        responses=schemas.SnapSerializer,
    )
    def get(self, request: Request, capture_id: int, position: int) -> Response:
        """Where a cursor belongs."""
        stored = _capture(capture_id)
        kind = "peak" if request.query_params.get("kind") == "peak" else "edge"
        with watched(stored):
            at = looking.snapped(stored, position, moment(request, "at_s"), abs(moment(request, "reach_s")), kind)
        return Response({"at_s": at})


def moment(request: Request, name: str) -> float:
    """A time in seconds of the query.

    Raises
    ------
    CaptureError
        It is not there, or no number.
    """
    try:
        value = float(request.query_params[name])
    except (KeyError, ValueError):
        raise CaptureError(f"{name} is not a number.", where="cursor") from None
    if not np.isfinite(value):
        raise CaptureError(f"{name} is not a number.", where="cursor")
    return value


def _number(request: Request, name: str, usual: float, most: float) -> float:
    try:
        value = float(request.query_params.get(name, usual))
    except ValueError:
        raise TableError(f"{name} is not a number.", where="window") from None
    if not np.isfinite(value):
        raise TableError(f"{name} is not a number.", where="window")
    return min(max(value, 0.0), most)


def _capture(capture_id: int) -> StoredCapture:
    return get_object_or_404(StoredCapture, pk=capture_id)
