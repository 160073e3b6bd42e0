"""The bench over HTTP: parse, one verb of the session, answer with its state."""

from __future__ import annotations

import time
from collections.abc import Callable
from datetime import UTC, datetime

from django.shortcuts import get_object_or_404
from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from fairwitness.core.model.capture import CaptureTest
from fairwitness.instruments.j1979 import PIDS
from fairwitness.server.accounts.permissions import person
from fairwitness.server.bench import schemas, services
from fairwitness.server.bench.session import BenchSession
from fairwitness.server.bench.words import describe, tests_for
from fairwitness.server.cases.models import StoredCase
from fairwitness.server.parsing import validated
from fairwitness.simulate.garage import ENGINES
from fairwitness.simulate.health import EFFECTS, WHOLE_ENGINE
from fairwitness.simulate.running import LOADS

MEASURE = dict.fromkeys(("GET", "POST", "DELETE"), "add_evidence")
UNITS = {pid.name: pid.unit for pid in PIDS.values()}


def _state(bench: BenchSession) -> Response:
    case = services.case_of(bench)
    return Response(describe(bench, title=case.title if case else ""))


def _done(request: Request, verb: Callable[[BenchSession], object]) -> Response:
    bench = services.bench_of(person(request))
    verb(bench)
    return _state(bench)


class BenchView(APIView):
    """The bench of whoever asks."""

    needs = MEASURE

    @extend_schema(operation_id="bench_read", responses=schemas.BenchSerializer)
    def get(self, request: Request) -> Response:
        """How things stand."""
        return _done(request, lambda bench: None)

    @extend_schema(operation_id="bench_clear", request=None, responses={200: schemas.BenchSerializer})
    def delete(self, request: Request) -> Response:
        """Everything off, the vehicle out."""
        return _done(request, lambda bench: bench.clear())


class ChoicesView(APIView):
    """What can be put in the bay and done there."""

    needs = MEASURE

    @extend_schema(operation_id="bench_choices", responses=schemas.ChoicesSerializer)
    def get(self, request: Request) -> Response:
        """Vehicles, faults, tests, loads."""
        bench = services.bench_of(person(request))
        engine = bench.in_bay.vehicle.engine if bench.in_bay else next(iter(ENGINES.values()))
        faults = [
            {"fault": f, "words": f.replace("_", " "), "per_cylinder": f not in WHOLE_ENGINE} for f in sorted(EFFECTS)
        ]
        return Response(
            {
                "vehicles": services.garage(),
                "faults": faults,
                "tests": tests_for(engine),
                "loads": [load for load in LOADS if load != "none"],
                "inbox": services.inbox() is not None,
            }
        )


class VehicleView(APIView):
    """The bay."""

    needs = MEASURE

    @extend_schema(operation_id="bench_vehicle", request=schemas.ChooseSerializer, responses=schemas.BenchSerializer)
    def post(self, request: Request) -> Response:
        """Choose a vehicle and what is wrong with it."""
        given = validated(schemas.ChooseSerializer, request.data)
        data = given
        case = get_object_or_404(StoredCase, pk=data["case"]) if data["case"] is not None else None
        services.put_in_bay(
            person(request),
            case=case,
            engine=data["vehicle"],
            fault=data["fault"],
            hot=data["hot"],
            at=timezone.now(),
        )
        return _state(services.bench_of(person(request)))


class RevealView(APIView):
    """What was hidden."""

    needs = MEASURE

    @extend_schema(operation_id="bench_reveal", request=None, responses=schemas.BenchSerializer)
    def post(self, request: Request) -> Response:
        """Say what is wrong with the vehicle."""
        services.reveal(person(request))
        return _state(services.bench_of(person(request)))


class ScopeView(APIView):
    """The scope."""

    needs = MEASURE

    @extend_schema(operation_id="bench_scope", request=schemas.SwitchSerializer, responses=schemas.BenchSerializer)
    def post(self, request: Request) -> Response:
        """Connect or let go."""
        on = _switched(request)
        return _done(request, lambda bench: bench.connect_scope() if on else bench.disconnect_scope())


class PlugView(APIView):
    """The stand-in's mains plug."""

    needs = MEASURE

    @extend_schema(operation_id="bench_plug", request=None, responses=schemas.BenchSerializer)
    def post(self, request: Request) -> Response:
        """Pull it, to see what happens."""
        return _done(request, lambda bench: bench.pull_plug())


class ScanView(APIView):
    """The scan link."""

    needs = MEASURE

    @extend_schema(operation_id="bench_scan", request=schemas.SwitchSerializer, responses=schemas.BenchSerializer)
    def post(self, request: Request) -> Response:
        """Connect or let go."""
        on = _switched(request)
        return _done(request, lambda bench: bench.connect_scan() if on else bench.disconnect_scan())

    @extend_schema(operation_id="bench_scan_read", responses=schemas.ScanSerializer)
    def get(self, request: Request) -> Response:
        """Live values, codes and counts, read now."""
        bench = services.bench_of(person(request))
        link = bench.scan_link()
        cylinders = bench.in_bay.vehicle.engine.cylinders if bench.in_bay else 0
        return Response(
            {
                "live": [{"name": n, "value": v, "unit": UNITS[n]} for n, v in link.live().items()],
                "codes": [{"code": c, "status": s} for c, s in link.codes().items()],
                "counts": [{"cylinder": c, "count": n} for c, n in link.misfires(cylinders).items()],
            }
        )


class CodesView(APIView):
    """Trouble codes."""

    needs = MEASURE

    @extend_schema(operation_id="bench_codes_clear", request=None, responses={200: schemas.BenchSerializer})
    def delete(self, request: Request) -> Response:
        """Clear them, also those the testing set; the case says so."""
        return _state(services.clear_codes(person(request), at=timezone.now()))

    @extend_schema(operation_id="bench_codes_keep", request=None, responses={201: schemas.KeptInCaseSerializer})
    def post(self, request: Request) -> Response:
        """Read them and keep them in the case, also that there are none."""
        return Response({"case": services.keep_codes(person(request), at=timezone.now()).pk}, status=201)


class CountsView(APIView):
    """Misfire counts."""

    needs = MEASURE

    @extend_schema(operation_id="bench_counts_keep", request=None, responses={201: schemas.KeptHereSerializer})
    def post(self, request: Request) -> Response:
        """Read them and keep them in the case."""
        kept = services.keep_counts(person(request), at=timezone.now())
        return Response({"id": kept.pk, "case": kept.case_id}, status=201)


class FuelView(APIView):
    """The fuel."""

    needs = MEASURE

    @extend_schema(operation_id="bench_fuel", request=schemas.SwitchSerializer, responses=schemas.BenchSerializer)
    def post(self, request: Request) -> Response:
        """On, or off for cranking; recorded in the case."""
        services.set_fuel(person(request), disabled=not _switched(request), at=timezone.now())
        return _state(services.bench_of(person(request)))


class EngineView(APIView):
    """The engine under its own power."""

    needs = MEASURE

    @extend_schema(
        operation_id="bench_engine", request=schemas.EngineSwitchSerializer, responses=schemas.BenchSerializer
    )
    def post(self, request: Request) -> Response:
        """Start or stop it."""
        given = validated(schemas.EngineSwitchSerializer, request.data)
        on, load = given["on"], given["load"]
        return _done(request, lambda bench: bench.start_engine(load=load) if on else bench.stop_engine())


class SetUpView(APIView):
    """A set-up card."""

    needs = MEASURE

    @extend_schema(operation_id="bench_set_up", request=schemas.SetUpSerializer, responses=schemas.BenchSerializer)
    def post(self, request: Request) -> Response:
        """Clip on and set the scope for a test."""
        given = validated(schemas.SetUpSerializer, request.data)
        test, suspects = CaptureTest(given["test"]), tuple(given["suspects"])
        return _done(request, lambda bench: bench.set_up(test, suspects))


class GoView(APIView):
    """Crank or run."""

    needs = MEASURE

    @extend_schema(operation_id="bench_go", request=schemas.GoSerializer, responses=schemas.BenchSerializer)
    def post(self, request: Request) -> Response:
        """Begin the capture; the whole card must be ticked."""
        given = validated(schemas.GoSerializer, request.data)
        return _done(request, lambda bench: bench.go(given["ticked"]))


class WatchView(APIView):
    """A long watch."""

    needs = MEASURE

    @extend_schema(operation_id="bench_watch", request=schemas.GoSerializer, responses=schemas.BenchSerializer)
    def post(self, request: Request) -> Response:
        """Run the engine and watch until something is lost; the whole card must be ticked."""
        given = validated(schemas.GoSerializer, request.data)
        return _done(request, lambda bench: bench.watch(given["ticked"]))


class StopView(APIView):
    """An early end."""

    needs = MEASURE

    @extend_schema(operation_id="bench_stop", request=None, responses=schemas.BenchSerializer)
    def post(self, request: Request) -> Response:
        """Stop recording; what is there can be kept."""
        return _done(request, lambda bench: bench.stop())


class KeepView(APIView):
    """The capture."""

    needs = MEASURE

    @extend_schema(operation_id="bench_keep", request=None, responses={201: schemas.KeptHereSerializer})
    def post(self, request: Request) -> Response:
        """Keep it in the case with its set-up."""
        kept = services.keep(person(request), at=timezone.now())
        return Response({"id": kept.pk, "case": kept.case_id}, status=201)


class BalanceView(APIView):
    """A guided power balance."""

    needs = MEASURE

    @extend_schema(operation_id="bench_balance", request=schemas.SwitchSerializer, responses=schemas.BenchSerializer)
    def post(self, request: Request) -> Response:
        """Begin, or stop and give the cylinder back."""
        on = _switched(request)
        return _done(request, lambda bench: bench.start_balance() if on else bench.guided.stop())


class BalanceKeepView(APIView):
    """Its drops."""

    needs = MEASURE

    @extend_schema(operation_id="bench_balance_keep", request=None, responses={201: schemas.KeptHereSerializer})
    def post(self, request: Request) -> Response:
        """Keep them in the case."""
        kept = services.keep_balance(person(request), at=timezone.now())
        return Response({"id": kept.pk, "case": kept.case_id}, status=201)


class InboxView(APIView):
    """The watched folder."""

    needs = MEASURE

    @extend_schema(operation_id="bench_inbox", responses=schemas.InboxSerializer)
    def get(self, request: Request) -> Response:
        """Files that wait there."""
        services.bench_of(person(request))
        box = services.inbox()
        files = box.waiting(now=time.time()) if box else ()
        return Response(
            {
                "on": box is not None,
                "files": [
                    {"name": f.name, "size": f.size, "modified": datetime.fromtimestamp(f.modified, UTC)} for f in files
                ],
            }
        )


def _switched(request: Request) -> bool:
    given = validated(schemas.SwitchSerializer, request.data)
    return bool(given["on"])
