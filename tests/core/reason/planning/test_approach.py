"""Schools: what is believed, what is proven how, what is offered to the owner."""

import numpy as np

from fairwitness.core.diagnose import conclude
from fairwitness.core.messages.rendering import render
from fairwitness.core.model.measurement import Evidence, Measured
from fairwitness.core.reason.knowledge.fault_spec import Cause
from fairwitness.core.reason.knowledge.faults import CATALOGUE
from fairwitness.core.reason.planning.approach import Approach, ByHand, Repair, ScanData
from fairwitness.core.reason.planning.what_if import imagined
from fairwitness.core.reason.report.repair import offers
from tests.core.reason.evidence import case, measured, shares_in_order


def counts(engine):
    line = Evidence(
        line="CON", source="observation:0", alternatives=(shares_in_order(engine, {3: 0.2}),), sigmas=np.full(4, 0.1)
    )
    return Measured(test="misfire_counts", observation=0, lines=(line,))


def ill(engine, approach):
    reported = conclude(case(engine), (measured(engine, {}), counts(engine)), approach=approach)
    return 1 - reported.posterior.of_cause(Cause.NONE)


def test_scan_values_weigh_less_for_who_trusts_raw_signals_only(four):
    weights = [ill(four, Approach(scan_data=how)) for how in (ScanData.RAW_ONLY, ScanData.WEIGHED, ScanData.ENOUGH)]
    assert weights == sorted(weights)
    assert weights[0] < weights[2]


def test_readings_without_a_record_can_be_weighed_down(four):
    swap = imagined("swap:coil", "moved", (3,), four)

    def coil(how):
        reported = conclude(case(four), (measured(four, {}), swap), approach=Approach(by_hand=how))
        return reported.posterior.of_cylinder(3, Cause.IGNITION)

    assert coil(ByHand.WEIGHED) < coil(ByHand.TRUSTED)


def test_both_ways_to_repair_are_offered_with_reasons_the_preferred_one_first():
    part, whole = offers(("plug_gap_wide",), Repair.PART)
    assert render(part.words).startswith("The part")
    assert render(whole.why)
    assert offers(("plug_gap_wide",), Repair.SET)[0] == whole


def test_a_wire_or_a_leak_has_no_set():
    assert offers(("coil_control_open",), Repair.SET) == ()
    assert all(f.repair.part and f.repair.whole and f.repair.why for f in CATALOGUE if f.repair is not None)
