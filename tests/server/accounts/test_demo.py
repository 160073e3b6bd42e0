import pytest
from django.core.management import CommandError, call_command

from fairwitness.server.accounts.demo import DEMO_ACCOUNTS, make_accounts
from fairwitness.server.accounts.models import User
from fairwitness.server.cases.models import StoredCase
from fairwitness.simulate.depot import JOBS
from fairwitness.simulate.depot_lives import LIVED


def test_accounts_are_made_once(db):
    make_accounts()
    make_accounts()
    assert User.objects.count() == len(DEMO_ACCOUNTS)
    assert {u.role for u in User.objects.all()} == {"technician", "lead", "reader"}


def test_demo_data_needs_demo_mode(db, settings):
    settings.DEMO = False
    with pytest.raises(CommandError):
        call_command("load_demo")
    assert not User.objects.exists()


def test_demo_data_is_loaded_once(db, settings):
    settings.DEMO = True
    call_command("load_demo", verbosity=0)
    call_command("load_demo", verbosity=0)
    assert StoredCase.objects.filter(shelf=False).count() == len(JOBS) + len(LIVED)
    assert StoredCase.objects.filter(shelf=True).count() == 1
    assert StoredCase.objects.filter(fuel_state="disabled").count() == sum(j.fuel_left_off for j in JOBS) == 3


def test_the_demo_is_loaded_and_served_by_one_process(db, settings, monkeypatch, capsys):
    settings.DEMO = True
    served = []
    monkeypatch.setattr(
        "uvicorn.run", lambda application, **how: served.append((StoredCase.objects.count(), how["port"]))
    )
    call_command("load_demo", verbosity=0)
    call_command("demo", "--port", "8123")
    assert served == [(len(JOBS) + len(LIVED) + 1, 8123)]  # and the good engine on the shelf
    assert "http://127.0.0.1:8123" in capsys.readouterr().out


def test_without_demo_mode_nothing_is_served(db, settings, monkeypatch):
    settings.DEMO = False
    monkeypatch.setattr("uvicorn.run", lambda *a, **how: pytest.fail("served"))
    with pytest.raises(CommandError):
        call_command("demo")
