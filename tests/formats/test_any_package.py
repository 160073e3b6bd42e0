"""Any well-formed package ends in a document, whatever was recorded and entered."""

import json
import tempfile
from pathlib import Path

import numpy as np
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from fairwitness.core.diagnose import diagnose
from fairwitness.core.model.capture import CaptureTest, Role
from fairwitness.core.model.engine import Fuel, Ignition, Injection, InjectorDrive
from fairwitness.core.procedures.registry import OBSERVATION_TESTS
from fairwitness.formats.case_package import read_package
from fairwitness.formats.diagnosis_document import diagnosis_document
from tests.formats.packages import descriptor, package, resource

ORDERS = ((1,), (1, 2), (1, 3, 2), (1, 3, 4, 2), (1, 2, 4, 5, 3), (1, 5, 3, 6, 2, 4), (1, 8, 4, 3, 6, 5, 7, 2))
UNITS = ("A", "mA", "V", "mV", "kV", "bar", "kPa", "Pa", "psi")
ROWS, CRANK_HZ = 2400, 400.0

engines = st.builds(
    lambda order, fuel, injection, drive: {
        "cylinders": len(order),
        "firing_order": list(order),
        "fuel": fuel.value,
        "ignition": (Ignition.COMPRESSION_IGNITION if fuel is Fuel.DIESEL else Ignition.COIL_ON_PLUG).value,
        "injection": (Injection.COMMON_RAIL if fuel is Fuel.DIESEL else injection).value,
        **({"injector_drive": drive.value} if drive is not None else {}),
    },
    st.sampled_from(ORDERS),
    st.sampled_from([Fuel.PETROL, Fuel.DIESEL, Fuel.LPG]),
    st.sampled_from([Injection.PORT, Injection.DIRECT, Injection.CARBURETTOR]),
    st.none() | st.sampled_from([InjectorDrive.SATURATED, InjectorDrive.PEAK_AND_HOLD, InjectorDrive.PIEZO]),
)
numbers = st.floats(-1e6, 1e6, allow_nan=False) | st.integers(-5, 2000)
values = st.one_of(
    numbers,
    st.booleans(),
    st.none(),
    st.sampled_from(
        ["", "hot", "cold", "injector", "coil_primary", "coil_feed", "key_on", "open", "wet", "most", "part"]
    ),
    st.dictionaries(st.sampled_from(["1", "2", "3", "8", "x"]), numbers, max_size=3),
    st.lists(st.dictionaries(st.sampled_from(["cylinder", "rpm_before", "rpm_after", "bar"]), numbers), max_size=3),
)
KEYS = (
    "item", "cylinder", "ohms", "open", "temperature", "volts", "engine_state", "unplugged", "measured_at", "dry",
    "wet", "unit", "short_percent", "long_percent", "bank", "counts", "revolutions", "outcome", "readings", "drops",
    "kpa", "percent", "from", "to", "moved", "load", "happened", "minutes",
)  # fmt: skip
SOUND = (
    {"test": "resistance", "item": "injector", "cylinder": 1, "temperature": "cold", "ohms": 14.0},
    {"test": "resistance", "item": "coil_primary", "cylinder": 2, "temperature": "hot", "open": True},
    {"test": "voltage", "item": "coil_feed", "cylinder": 1, "volts": 12.4, "engine_state": "key_on"},
    {"test": "voltage", "item": "injector_control", "cylinder": 2, "volts": 0.0, "unplugged": True},
    {"test": "compression_gauge", "unit": "bar", "dry": {"1": 12.0, "2": 5.0}},
    {"test": "fuel_trim", "short_percent": 12, "long_percent": 9},
    {"test": "vacuum", "inhg": 18.0, "engine_state": "running"},
)
"""Readings as they are entered; one or two of their fields may then be anything."""
anything = st.dictionaries(st.sampled_from(KEYS), values, max_size=6)
observations = st.one_of(
    st.sampled_from(SOUND),
    st.builds(lambda told, odd: {**told, **dict(list(odd.items())[:2])}, st.sampled_from(SOUND), anything),
    st.builds(lambda test, data: {"test": test, **data}, st.sampled_from(sorted(OBSERVATION_TESTS)), anything),
)
channels = st.tuples(
    st.sampled_from(list(Role)),
    st.sampled_from(UNITS),
    st.none() | st.integers(1, 8),
    st.booleans(),
    st.sampled_from(["noise", "flat", "square", "humps", "ramp"]),
)
STARTER = (Role.STARTER_CURRENT, "A", None, False, "crank")
MARK = (Role.COIL_CONTROL, "V", 1, True, "mark")
cranks = st.tuples(
    st.sampled_from([CaptureTest.RELATIVE_COMPRESSION, CaptureTest.CRANKCASE_PULSE, CaptureTest.CYLINDER_PRESSURE]),
    st.just("cranking"),
    st.builds(lambda more: [STARTER, MARK, *more], st.lists(channels, max_size=1)),
    st.sampled_from([CRANK_HZ, 2 * CRANK_HZ]),
    st.integers(0, 99),
)
captures = cranks | st.tuples(
    st.sampled_from(list(CaptureTest)),
    st.sampled_from(["cranking", "running", "key_on", "off"]),
    st.lists(channels, min_size=1, max_size=3),
    st.sampled_from([100.0, 1000.0, 20_000.0]),
    st.integers(0, 99),
)


def column(kind, rng):
    at = np.arange(ROWS)
    turning = at > 160
    shapes = {
        "crank": turning * (150 + 30 * np.sin(2 * np.pi * at * 7 / CRANK_HZ)) + rng.normal(0, 1, ROWS),
        "mark": 5.0 * (turning & ((at * 7 / CRANK_HZ) % 4 < 0.1)),
        "noise": rng.normal(0, 1, ROWS),
        "flat": np.full(ROWS, 12.0),
        "square": 5.0 * ((at // 20) % 2),
        "humps": 100 + 20 * np.sin(2 * np.pi * at / 25) + rng.normal(0, 1, ROWS),
        "ramp": (at % 40) / 8.0,
    }
    return shapes[kind]


def captured(index, made, engine):
    test, state, drawn, rate, seed = made
    rng = np.random.default_rng(seed)
    fields = [{"name": "time", "type": "number", "unit": "s", "role": "time"}]
    table = [np.arange(ROWS) / rate]
    for i, (role, unit, cylinder, sync, kind) in enumerate(drawn):
        field = {"name": f"c{i}", "type": "number", "unit": unit, "role": role.value, "sync": sync}
        if cylinder is not None and cylinder in engine["firing_order"]:
            field["cylinder"] = cylinder
        fields.append(field)
        table.append(column(kind, rng))
    path = f"captures/{index}.csv"
    text = ",".join(f["name"] for f in fields) + "\n"
    text += "\n".join(",".join(f"{v:.6g}" for v in row) for row in np.column_stack(table)) + "\n"
    about = {"test": test.value, "engine_state": state}
    return resource(name=f"c{index}", path=path, schema={"fields": fields}, fair_witness=about), path, text


@settings(max_examples=60, deadline=None, suppress_health_check=[HealthCheck.too_slow])
@given(engine=engines, seen=st.lists(captures, max_size=3), told=st.lists(observations, max_size=5))
def test_it_ends_in_a_document(engine, seen, told):
    made = [captured(i, one, engine) for i, one in enumerate(seen)]
    described = descriptor(*(r for r, _, _ in made), engine=engine, observations=told)
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "case.zip"
        path.write_bytes(package(described, {p: text for _, p, text in made}))
        case = read_package(path)
    document = json.loads(json.dumps(diagnosis_document(diagnose(case)), allow_nan=False))
    assert document["verdict"]["status"]
    assert len(document["captures"]) == len(made)
    total = sum(h["probability"] for h in document["hypotheses"])
    assert abs(total - 1.0) < 1e-6
