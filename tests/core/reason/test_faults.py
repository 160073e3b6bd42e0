import pytest

from fairwitness.core.case import TroubleCode
from fairwitness.core.engine import Fuel, Ignition, Injection, even_engine
from fairwitness.core.reason.faults import Cause
from fairwitness.core.reason.hypotheses import hypotheses
from tests.core.reason.evidence import case


def prior(found, fault, cylinders):
    return next(h.prior for h in found if h.fault == fault and h.cylinders == cylinders)


def test_priors_sum_to_one(four):
    assert sum(h.prior for h in hypotheses(case(four))) == pytest.approx(1.0)


def test_gaskets_blow_between_neighbours_only(four):
    places = {h.cylinders for h in hypotheses(case(four)) if h.fault == "head_gasket_leak"}
    assert places == {(1, 2), (2, 3), (3, 4)}


def test_a_shared_coil_takes_both_its_cylinders():
    engine = even_engine((1, 3, 4, 2), ignition=Ignition.WASTE_SPARK)
    places = {h.cylinders for h in hypotheses(case(engine)) if h.fault == "coil_primary_open"}
    assert places == {(1, 4), (2, 3)}


def test_diesels_have_no_ignition_faults():
    engine = even_engine(
        (1, 3, 4, 2),
        fuel=Fuel.DIESEL,
        ignition=Ignition.COMPRESSION_IGNITION,
        injection=Injection.COMMON_RAIL,
    )
    assert not any(h.cause is Cause.IGNITION for h in hypotheses(case(engine)))


def test_codes_nudge_and_do_not_decide(four):
    plain = hypotheses(case(four))
    misfire = hypotheses(case(four, codes=(TroubleCode("P0303"),)))
    circuit = hypotheses(case(four, codes=(TroubleCode("p0203"),)))
    assert prior(misfire, "plug_shorted", (3,)) > prior(plain, "plug_shorted", (3,))
    assert prior(circuit, "injector_open_circuit", (3,)) > 2 * prior(plain, "injector_open_circuit", (3,))
    assert prior(circuit, "injector_open_circuit", (3,)) < 0.5


@pytest.mark.parametrize("code", ["", "P03", "P0300", "P0313", "Q0303", "P0303X", "<b>"])
def test_other_codes_change_nothing(four, code):
    assert hypotheses(case(four, codes=(TroubleCode(code),))) == hypotheses(case(four))
