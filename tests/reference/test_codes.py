"""Trouble codes that name a cylinder against SAE J2012 / ISO 15031-6 [P].

P0301 to P0312: cylinder 1 to 12 misfire detected. P0201 to P0212: injector circuit of cylinder 1 to 12.
P0351 to P0362: ignition coil A to L primary or secondary circuit.
"""

import pytest

from fairwitness.core.model.case import TroubleCode
from fairwitness.core.model.engine import even_engine
from fairwitness.core.reason.inference.hypotheses import hypotheses
from tests.core.reason.evidence import case

TWELVE = even_engine((1, 7, 5, 11, 3, 9, 6, 12, 2, 8, 4, 10))


def raised_by(code):
    plain = {h.placed: h.prior for h in hypotheses(case(TWELVE))}
    with_code = hypotheses(case(TWELVE, codes=(TroubleCode(code),)))
    return {h.cylinders for h in with_code if len(h.cylinders) == 1 and h.prior > 1.05 * plain[h.placed]}


@pytest.mark.parametrize("cylinder", range(1, 13))
def test_each_family_names_its_cylinder(cylinder):
    for code in (f"P03{cylinder:02d}", f"P02{cylinder:02d}", f"P03{50 + cylinder}"):
        assert raised_by(code) == {(cylinder,)}


def test_random_misfire_names_nobody():
    assert raised_by("P0300") == set()
