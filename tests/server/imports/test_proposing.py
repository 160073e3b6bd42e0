import json

import numpy as np
import pytest

from fairwitness.server.captures.models import RememberedColumn, StoredCapture
from tests.conftest import cranking
from tests.formats.instrument_files import MANNERS, Columns
from tests.formats.test_file_guess import FOUR
from tests.server.imports.sending import keep, look

pytestmark = pytest.mark.django_db


@pytest.fixture
def client(as_user, technician):
    return as_user(technician)


@pytest.fixture
def scope_file():
    return MANNERS["lab_scope"](Columns(cranking(FOUR, {3: 0.05}, rate_hz=2000.0), through_leads=True))


def plan_of(guess, **columns):
    uses = []
    for c in guess["columns"]:
        use = {k: c[k] for k in ("role", "unit", "sync", "lead")} | {"column": c["name"]}
        use["cylinder"] = 1 if c["sync"] else c["cylinder"]
        uses.append(use | columns.get(c["name"], {}))
    return json.dumps(
        {"test": guess["test"], "engine_state": guess["engine_state"], "columns": uses, "fuel_disabled": True}
    )


def test_a_scope_file_is_proposed_with_its_clamp(client, case, scope_file):
    guess = look(client, case, scope_file).json()
    clamp = guess["columns"][1]
    assert (clamp["role"], clamp["unit"]) == ("starter_current", "mV")
    assert (clamp["lead"]["kind"], clamp["lead"]["per_volt"]) == ("clamp", 1000.0)
    offered = [o for o in clamp["leads"] if o["role"] == "starter_current"]
    assert [o["words"] for o in offered if o["fits"]] == ["clamp 1 mV/A"]
    assert (guess["test"], guess["engine_state"]) == ("relative_compression", "cranking")
    assert not StoredCapture.objects.exists()
    assert not RememberedColumn.objects.exists()


def test_what_is_kept_is_in_amperes_and_says_what_it_came_through(client, case, scope_file):
    guess = look(client, case, scope_file).json()
    kept = keep(client, case, scope_file, plan_of(guess))
    about = client.get(f"/api/captures/{kept['capture']}/").json()
    assert (about["channels"][0]["unit"], about["channels"][0]["lead"]) == ("A", "clamp 1 mV/A")
    assert not any("reads like" in r for r in about["reasons"])
    case.refresh_from_db()
    assert "ylinder 3" in case.headline


def test_an_unknown_clamp_leaves_volts_and_compares_by_shares(client, case, scope_file):
    guess = look(client, case, scope_file).json()
    unknown = {"kind": "clamp", "unit": "A", "per_volt": None, "zero_v": 0.0, "reference": None}
    plan = plan_of(guess, **{guess["columns"][1]["name"]: {"lead": unknown}})
    kept = keep(client, case, scope_file, plan)
    about = client.get(f"/api/captures/{kept['capture']}/").json()
    assert (about["channels"][0]["unit"], about["channels"][0]["lead"]) == ("mV", "clamp, not known which")
    assert any("compared by the shape" in r for r in about["reasons"])


def test_the_next_file_of_the_same_columns_is_what_was_said_of_the_first(client, case, scope_file):
    guess = look(client, case, scope_file).json()
    name = guess["columns"][1]["name"]
    ten = {"kind": "clamp", "unit": "A", "per_volt": 100.0, "zero_v": 0.0, "reference": None}
    keep(client, case, scope_file, plan_of(guess, **{name: {"lead": ten}}))
    again = look(client, case, scope_file).json()["columns"][1]
    assert again["lead"]["per_volt"] == 100.0
    assert again["remembered"].startswith("as ")
    assert name in again["remembered"]


def test_a_memory_gives_way_to_a_trace_that_cannot_be_it(client, case, scope_file):
    guess = look(client, case, scope_file).json()
    names = [c["name"] for c in guess["columns"]]
    keep(client, case, scope_file, plan_of(guess))
    t = np.arange(20_000) / 10_000
    inside = t % 0.1
    rows = zip(1e3 * t, 700 * np.where(inside < 0.003, inside / 0.003, 0), 12.5 + 0.05 * np.sin(t), strict=True)
    lines = ";".join(names) + "\n(ms);(mV);(V)\n" + "\n".join(f"{a:.4f};{b:.3f};{c:.3f}" for a, b, c in rows)
    other = look(client, case, lines.encode()).json()["columns"]
    assert other[1]["role"] == "coil_current"
    assert other[1]["remembered"] == ""


@pytest.mark.parametrize(
    "lead",
    [
        {"kind": "clamp", "unit": "bar", "per_volt": 10.0},
        {"kind": "clamp", "unit": "A", "per_volt": 0.0},
        {"kind": "string", "unit": "A", "per_volt": 10.0},
    ],
)
def test_a_lead_that_cannot_be_is_refused_and_nothing_is_kept(client, case, scope_file, lead):
    guess = look(client, case, scope_file).json()
    plan = plan_of(guess, **{guess["columns"][1]["name"]: {"lead": lead}})
    answer = keep(client, case, scope_file, plan)
    assert answer["sentence"]
    assert not StoredCapture.objects.exists()
