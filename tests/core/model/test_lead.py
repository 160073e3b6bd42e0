import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from fairwitness.core.errors import CaptureError
from fairwitness.core.messages.rendering import render
from fairwitness.core.model.capture import Role
from fairwitness.core.model.lead import Lead, LeadKind, Reference, lead_block, read_lead
from fairwitness.core.model.lead_presets import PRESETS, fits_level, fitting, presets_of

CLAMP = Lead(kind=LeadKind.CLAMP, unit="A", per_volt=1000.0)
TRANSDUCER = Lead(kind=LeadKind.TRANSDUCER, unit="bar", per_volt=5.0, zero_v=0.5, reference=Reference.GAUGE)


@pytest.mark.parametrize(
    ("lead", "written", "unit", "measured", "into"),
    [
        (CLAMP, 180.0, "mV", 180.0, "A"),
        (CLAMP, 0.18, "V", 180.0, "A"),
        (TRANSDUCER, 0.5, "V", 0.0, "bar"),
        (TRANSDUCER, 4.5, "V", 20.0, "bar"),
        (Lead(kind=LeadKind.ATTENUATOR, per_volt=20.0), 3.0, "V", 60.0, "V"),
        (Lead(kind=LeadKind.PICK_UP, unit="kV", per_volt=10.0), 1.2, "V", 12.0, "kV"),
        (Lead(kind=LeadKind.CLAMP, unit="A"), 180.0, "mV", 180.0, "mV"),
    ],
)
def test_volts_become_what_was_measured_and_stay_volts_where_nobody_knows(lead, written, unit, measured, into):
    samples, now = lead.measured(np.array([written], np.float32), unit)
    assert (float(samples[0]), now) == (pytest.approx(measured, rel=1e-6, abs=1e-6), into)
    assert samples.dtype == np.float32


def test_a_column_in_amperes_came_through_no_lead_any_more():
    with pytest.raises(CaptureError, match="reckoned the lead in already"):
        CLAMP.measured(np.zeros(3), "A")


@pytest.mark.parametrize(
    "bad",
    [
        {"kind": LeadKind.CLAMP, "unit": "bar"},
        {"kind": LeadKind.TRANSDUCER, "unit": "A"},
        {"kind": LeadKind.CLAMP, "unit": "A", "per_volt": 0.0},
        {"kind": LeadKind.CLAMP, "unit": "A", "per_volt": float("nan")},
        {"kind": LeadKind.CLAMP, "unit": "A", "per_volt": 1e12},
        {"kind": LeadKind.CLAMP, "unit": "A", "zero_v": float("inf")},
    ],
)
def test_leads_that_cannot_be_are_refused(bad):
    with pytest.raises(CaptureError):
        Lead(**bad)


@given(
    kind=st.sampled_from(["clamp", "transducer", "pick_up", "nonsense", 3, None]),
    unit=st.sampled_from(["A", "bar", "kV", "V", "furlong", 4]),
    per_volt=st.one_of(st.none(), st.floats(), st.text(), st.booleans()),
)
def test_what_a_file_says_of_a_lead_is_a_lead_or_nothing(kind, unit, per_volt):
    lead = read_lead({"kind": kind, "unit": unit, "per_volt": per_volt})
    assert lead is None or read_lead(lead_block(lead)) == lead


def test_every_lead_says_what_it_is_and_survives_a_file():
    words = [render(p.lead.said) for p in PRESETS.values()]
    assert len(set(words)) == len(words)
    assert "clamp 1 mV/A" in words
    assert all(read_lead(lead_block(p.lead)) == p.lead for p in PRESETS.values())


def test_the_clamp_is_the_one_whose_starter_could_be_built():
    found = fitting(Role.STARTER_CURRENT, 0.18, presets_of(Role.STARTER_CURRENT))
    assert [one.per_volt for one in found] == [1000.0, None]


def test_two_clamps_may_fit_an_injector():
    found = fitting(Role.INJECTOR_CURRENT, 0.1, presets_of(Role.INJECTOR_CURRENT))
    assert [one.per_volt for one in found] == [100.0, 10.0, None]


def test_a_role_without_a_known_range_fits_any_level():
    assert fits_level(Role.INTAKE_PRESSURE, 1e9)
    assert not fits_level(Role.CYLINDER_PRESSURE, 1.0)
