"""Sums of the crank: degrees and milliseconds, events, teeth, duty, and the sample rate a test needs."""

from __future__ import annotations

from collections.abc import Mapping

from fairwitness.core.calculators.record import Calculator, Quantity
from fairwitness.core.messages.catalogue import phrase
from fairwitness.core.model.engine import CYCLE_DEG, CYLINDERS_MAX, REVOLUTION_DEG

SECONDS_PER_MINUTE = 60.0
RPM = Quantity(
    key="rpm", words=phrase("calculator.rpm", "Engine speed"), unit="rpm", low=20.0, high=20000.0, case="rpm"
)
CYLINDERS = Quantity(
    key="cylinders", words=phrase("calculator.cylinders", "Cylinders"), unit="", low=1, high=CYLINDERS_MAX,
    case="cylinders",
)  # fmt: skip
TEETH = Quantity(
    key="teeth", words=phrase("calculator.teeth", "Teeth, the missing ones counted"), unit="", low=1, high=720,
    case="teeth",
)  # fmt: skip


def degrees_per_ms(rpm: float) -> float:
    """Degrees of crank in a millisecond."""
    return rpm * REVOLUTION_DEG / SECONDS_PER_MINUTE / 1000


def _to_ms(*, degrees: float, rpm: float) -> Mapping[str, float]:
    return {"milliseconds": degrees / degrees_per_ms(rpm)}


def _to_degrees(*, milliseconds: float, rpm: float) -> Mapping[str, float]:
    return {"degrees": milliseconds * degrees_per_ms(rpm)}


def _interval(*, cylinders: float, rpm: float) -> Mapping[str, float]:
    degrees = CYCLE_DEG / cylinders
    milliseconds = degrees / degrees_per_ms(rpm)
    return {
        "degrees": degrees,
        "milliseconds": milliseconds,
        "events_per_s": 1000 / milliseconds,
        "cycle_ms": CYCLE_DEG / degrees_per_ms(rpm),
    }


def _teeth(*, teeth: float, missing: float, rpm: float) -> Mapping[str, float]:
    degrees = REVOLUTION_DEG / teeth
    return {
        "degrees": degrees,
        "gap_degrees": degrees * (missing + 1),
        "teeth_per_s": (teeth - missing) * rpm / SECONDS_PER_MINUTE,
        "tooth_ms": degrees / degrees_per_ms(rpm),
    }


def _duty(*, pulse_ms: float, dead_ms: float, peer_ms: float, rpm: float) -> Mapping[str, float]:
    return {
        "duty": 100 * pulse_ms * degrees_per_ms(rpm) / CYCLE_DEG,
        "share": 100 * max(pulse_ms - dead_ms, 0.0) / (peer_ms - dead_ms) if peer_ms > dead_ms else float("nan"),
    }


def _sample_rate(*, feature_ms: float, points: float, seconds: float) -> Mapping[str, float]:
    rate = points / (feature_ms / 1000)
    return {"rate_khz": rate / 1000, "samples": rate * seconds / 1e6}


CALCULATORS = (
    Calculator(
        id="degrees_to_ms",
        title=phrase("calculator.to_ms", "Degrees into milliseconds"),
        needed=phrase("calculator.to_ms_needed", "beside any trace"),
        given=(
            Quantity(
                key="degrees", words=phrase("calculator.degrees", "Degrees of crank"), unit="°", low=-7200, high=7200
            ),
            RPM,
        ),
        found=(Quantity(key="milliseconds", words=phrase("calculator.time", "Time"), unit="ms"),),
        formula="t = φ / (6 · n), in s, ° and rpm",
        source="definition: 360 ° a revolution, 60 s a minute",
        example={"degrees": 180.0, "rpm": 3000.0},
        compute=_to_ms,
    ),
    Calculator(
        id="ms_to_degrees",
        title=phrase("calculator.to_degrees", "Milliseconds into degrees"),
        needed=phrase("calculator.to_degrees_needed", "beside any trace"),
        given=(
            Quantity(
                key="milliseconds", words=phrase("calculator.time", "Time"), unit="ms", low=-60000, high=60000
            ),
            RPM,
        ),
        found=(Quantity(key="degrees", words=phrase("calculator.degrees", "Degrees of crank"), unit="°"),),
        formula="φ = 6 · n · t, in °, rpm and s",
        source="definition: 360 ° a revolution, 60 s a minute",
        example={"milliseconds": 1.0, "rpm": 1000.0},
        compute=_to_degrees,
    ),
    Calculator(
        id="event_interval",
        title=phrase("calculator.interval", "From one firing to the next"),
        needed=phrase("calculator.interval_needed", "when humps or sparks are counted by eye"),
        given=(CYLINDERS, RPM),
        found=(
            Quantity(key="degrees", words=phrase("calculator.apart", "Apart"), unit="°"),
            Quantity(key="milliseconds", words=phrase("calculator.time", "Time"), unit="ms"),
            Quantity(key="events_per_s", words=phrase("calculator.events", "Events"), unit="/s"),
            Quantity(key="cycle_ms", words=phrase("calculator.cycle", "A whole cycle"), unit="ms"),
        ),
        formula="φ = 720 ° / z,  t = 120 / (n · z)",
        source="fact of the four-stroke cycle: two revolutions",
        example={"cylinders": 4.0, "rpm": 750.0},
        compute=_interval,
        beware=phrase("calculator.interval_beware", "Of engines that fire evenly."),
    ),
    Calculator(
        id="wheel_teeth",
        title=phrase("calculator.wheel", "Teeth of a crank wheel into degrees"),
        needed=phrase("calculator.wheel_needed", "beside a crank or cam sensor"),
        given=(
            TEETH,
            Quantity(
                key="missing", words=phrase("calculator.missing", "of them missing"), unit="", low=0, high=10,
                case="missing",
            ),
            RPM,
        ),
        found=(
            Quantity(key="degrees", words=phrase("calculator.per_tooth", "Per tooth"), unit="°"),
            Quantity(key="gap_degrees", words=phrase("calculator.gap", "Tooth to tooth across the gap"), unit="°"),
            Quantity(key="teeth_per_s", words=phrase("calculator.teeth_rate", "Teeth seen"), unit="/s"),
            Quantity(key="tooth_ms", words=phrase("calculator.tooth_time", "Tooth to tooth"), unit="ms"),
        ),
        formula="φ = 360 ° / z,  gap = (m + 1) · φ",
        source="geometry",
        example={"teeth": 60.0, "missing": 2.0, "rpm": 1000.0},
        compute=_teeth,
    ),
    Calculator(
        id="duty",
        title=phrase("calculator.duty", "Duty and injected share of an injector"),
        needed=phrase("calculator.duty_needed", "when one pulse is shorter or longer than its peers"),
        given=(
            Quantity(key="pulse_ms", words=phrase("calculator.pulse", "This pulse"), unit="ms", low=0.0, high=500.0),
            Quantity(key="peer_ms", words=phrase("calculator.peer", "Pulse of its peers"), unit="ms", low=0.0,
                     high=500.0),
            Quantity(key="dead_ms", words=phrase("calculator.dead", "Dead time"), unit="ms", low=0.0, high=10.0),
            RPM,
        ),
        found=(
            Quantity(key="duty", words=phrase("calculator.duty_found", "Duty, one injection a cycle"), unit="%"),
            Quantity(key="share", words=phrase("calculator.share", "Fuel beside its peers"), unit="%"),
        ),
        formula="duty = t · n / 120,  share = (t − t₀) / (t_peer − t₀)",
        source="Heywood, Internal Combustion Engine Fundamentals, ch. 7.3: fuel is proportional to open time; the dead "
        "time from memory: 0.5 to 1.5 ms",
        example={"pulse_ms": 3.0, "peer_ms": 4.0, "dead_ms": 1.0, "rpm": 2400.0},
        compute=_duty,
    ),
    Calculator(
        id="sample_rate",
        title=phrase("calculator.rate", "Sample rate a test needs"),
        needed=phrase("calculator.rate_needed", "before recording with an instrument of one's own"),
        given=(
            Quantity(
                key="feature_ms", words=phrase("calculator.feature", "Shortest thing to be seen"), unit="ms",
                low=0.0001, high=10000.0,
            ),
            Quantity(key="points", words=phrase("calculator.points", "Samples on it"), unit="", low=2, high=1000),
            Quantity(key="seconds", words=phrase("calculator.length", "Recorded for"), unit="s", low=0.001, high=3600),
        ),
        found=(
            Quantity(key="rate_khz", words=phrase("calculator.rate_found", "At least"), unit="kHz"),
            Quantity(key="samples", words=phrase("calculator.samples", "Samples of each channel"), unit="million"),
        ),
        formula="f = points / duration; more than 2 points on a period can show it at all",
        source="Shannon, Proc. IRE 37 (1949): twice the highest frequency; ten points on a shape: common practice",
        example={"feature_ms": 0.05, "points": 10.0, "seconds": 2.0},
        compute=_sample_rate,
    ),
)  # fmt: skip
