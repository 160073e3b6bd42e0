"""Engines of the shop: variants inherit, cases take from them, changes are kept, packages come back whole."""

import pytest
from django.core.exceptions import PermissionDenied
from django.utils import timezone

from fairwitness.core.errors import EngineError, ObservationError
from fairwitness.core.model.wiring import CircuitOf
from fairwitness.server.cases.evidence import access_of, concluded, core_case
from fairwitness.server.cases.known_engines import suggest, usual_orders
from fairwitness.server.engines.minutes import keep_minutes
from fairwitness.server.engines.models import EngineRecord
from fairwitness.server.engines.packing import packed, unpack
from fairwitness.server.engines.records import Described, describe, differences, engine_of, whole_block

BLOCK = {
    "cylinders": 4,
    "firing_order": [1, 3, 4, 2],
    "fuel": "petrol",
    "ignition": "coil_on_plug",
    "injection": "port",
}
WIRING = [
    {
        "part": "injector",
        "places": [
            {"name": "fuse box", "fuse": "12"},
            {"name": "rail connector", "connector": "X7", "pin": "3", "colour": "white-red"},
            {"name": "injector plug", "connector": "X31", "pin": "1", "unplugs": True, "is_part": True},
            {"name": "unit plug", "connector": "X1", "pin": "44", "minutes": 15.0},
        ],
    }
]
NAME = "Hollin Drover 2.0"


def wrote(by, label=NAME, record=None, block=None, **more):
    told = Described(label=label, block=BLOCK if block is None else block, **more)
    return describe(told, by=by, at=timezone.now(), record=record)


def test_a_variant_inherits_and_says_what_differs(technician):
    wrote(technician, block={**BLOCK, "injector_ohms": 14.0, "wiring": WIRING})
    late = wrote(
        technician, "Hollin Drover 2.0 late", variant_of=NAME, years="from 2019", code="HD20B",
        block={"injector_ohms": 12.2, "fuel": "petrol"},
    )  # fmt: skip
    assert late.block == {"injector_ohms": 12.2}
    whole = whole_block(late)
    assert (whole["firing_order"], whole["injector_ohms"], whole["label"]) == ([1, 3, 4, 2], 12.2, late.label)
    assert [(d.key, d.here, d.there) for d in differences(late)] == [("injector_ohms", 12.2, 14.0)]


def test_a_case_takes_wiring_prohibitions_and_data_from_the_record_of_its_name(case, technician):
    plain = engine_of(case)
    wrote(technician, block={**BLOCK, "wiring": WIRING, "prohibited": ["sparks"], "compression_ratio": 10.5})
    known = engine_of(case)
    assert plain.wiring == ()
    assert [p.pin for p in known.circuit(CircuitOf.INJECTOR, 3)] == ["", "3", "1", "44"]
    assert known.extra["compression_ratio"] == 10.5
    assert core_case(case).engine.wiring == known.wiring
    sparks = {o.id for o in concluded(case).plan.offers if o.id.startswith("spark_check")}
    assert not sparks


def test_what_a_case_states_itself_comes_first_and_bans_add_up(case, technician):
    case.engine |= {"injector_ohms": 15.0, "prohibited": ["brake_torque"]}
    wrote(technician, block={**BLOCK, "injector_ohms": 12.0, "prohibited": ["sparks"]})
    known = engine_of(case)
    assert known.injector_ohms == 15.0
    assert known.extra["prohibited"] == ["brake_torque", "sparks"]


def test_a_case_that_names_its_own_way_along_the_circuit_keeps_it(case, technician):
    case.engine |= {"injector_path": ["fuse", "unit"]}
    wrote(technician, block={**BLOCK, "wiring": WIRING})
    assert [p.name for p in engine_of(case).circuit(CircuitOf.INJECTOR, 3)] == ["fuse", "unit"]


def test_a_record_of_another_make_up_gives_nothing(case, technician):
    wrote(technician, block={**BLOCK, "firing_order": [1, 2, 4, 3], "injector_ohms": 12.0})
    assert engine_of(case).injector_ohms is None


def test_the_plan_names_connector_pin_and_colour(case, technician):
    wrote(technician, block={**BLOCK, "wiring": WIRING})
    probes = {str(o.probe.parameters) for o in concluded(case).plan.offers if o.probe}
    assert probes
    assert any("rail connector" in probe for probe in probes)


def test_a_change_keeps_what_stood_there_before(technician, other_technician):
    record = wrote(technician, notes="idles at 750")
    wrote(other_technician, record=record, notes="idles at 800")
    (change,) = record.changes.all()
    assert (change.before["notes"], record.notes, record.by) == ("idles at 750", "idles at 800", other_technician)


def test_usual_values_without_words_or_value_are_left_out(technician):
    record = wrote(technician, usual=[{"words": "idle", "value": "750 rpm"}, {"words": "", "value": "x"}])
    assert record.usual == [{"words": "idle", "value": "750 rpm"}]


@pytest.mark.parametrize(
    ("told", "said"),
    [
        ({"label": " "}, "has a name"),
        ({"label": NAME.upper()}, "already"),
        ({"label": "x", "variant_of": "y"}, "There is no engine"),
        ({"label": "x", "block": {**BLOCK, "firing_order": [1, 3, 4]}}, "firing order"),
        ({"label": "x", "block": {**BLOCK, "wiring": [{"part": "wheel"}]}}, "of which part"),
        ({"label": "x", "usual": [{"words": "w" * 200, "value": "1"}]}, "short lines"),
    ],
)
def test_what_cannot_be_is_refused_whole(technician, told, said):
    wrote(technician)
    with pytest.raises(EngineError, match=said):
        wrote(technician, **told)
    assert EngineRecord.objects.count() == 1


def test_no_engine_is_a_variant_of_itself(technician):
    first = wrote(technician)
    wrote(technician, "late", variant_of=NAME, block={})
    with pytest.raises(EngineError, match="variant of itself"):
        wrote(technician, record=first, variant_of="late")


def test_a_reader_writes_nothing_down(reader):
    with pytest.raises(PermissionDenied):
        wrote(reader)


def test_a_package_of_engines_comes_back_whole(technician, other_technician):
    wrote(technician, block={**BLOCK, "wiring": WIRING}, notes="n", usual=[{"words": "idle", "value": "750 rpm"}])
    wrote(technician, "a late one", variant_of=NAME, years="2019", block={"injector_ohms": 12.0})
    keep_minutes(NAME, "relative_compression", 25, by=technician, at=timezone.now())
    sent = packed(EngineRecord.objects.all())
    EngineRecord.objects.filter(label="a late one").delete()
    EngineRecord.objects.all().delete()
    unpack(sent, by=other_technician, at=timezone.now())
    assert packed(EngineRecord.objects.all()) == sent


@pytest.mark.parametrize(
    "wrong",
    [None, {}, {"resources": 3}, {"resources": [{"name": "engines", "data": [{"label": 1}]}]},
     {"resources": [{"name": "engines", "data": [{"label": "a", "engine": {}, "variant_of": "a"}]}]},
     {"resources": [{"name": "engines", "data": [{"label": "a", "engine": BLOCK}, {"label": "b", "engine": {}}]}]}],
)  # fmt: skip
def test_what_is_no_package_of_engines_leaves_nothing_behind(technician, wrong):
    with pytest.raises(EngineError):
        unpack(wrong, by=technician, at=timezone.now())
    assert not EngineRecord.objects.exists()


def test_a_few_letters_find_a_record_first_and_by_its_code(case, technician):
    wrote(technician, code="HD20", block={**BLOCK, "injector_ohms": 13.0})
    assert suggest("hd2")[0]["engine"]["injector_ohms"] == 13.0
    assert [row["label"] for row in suggest("drover")] == [NAME]


@pytest.mark.parametrize(("cylinders", "orders"), [(4, 2), (6, 3), (8, 2), (12, 1), (7, 0)])
def test_usual_firing_orders_are_offered_by_the_count(cylinders, orders):
    offered = usual_orders(cylinders)
    assert len(offered) == orders
    assert all(sorted(o["firing_order"]) == list(range(1, cylinders + 1)) for o in offered)


@pytest.mark.parametrize("minutes", [0, 601, float("nan"), True])
def test_minutes_that_cannot_be(technician, minutes):
    with pytest.raises(ObservationError):
        keep_minutes(NAME, "relative_compression", minutes, by=technician, at=timezone.now())


def test_minutes_of_the_record_are_those_of_the_case(case, technician):
    keep_minutes(NAME, "relative_compression", 25, by=technician, at=timezone.now())
    assert access_of(case)["relative_compression"] == 25
    keep_minutes(NAME, "relative_compression", None, by=technician, at=timezone.now())
    assert "relative_compression" not in access_of(case)
