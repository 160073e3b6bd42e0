import pytest
from django.contrib.auth.models import AnonymousUser
from django.core.exceptions import PermissionDenied

from fairwitness.server.accounts.models import Role, User
from fairwitness.server.accounts.permissions import ALLOWED, may, require, require_withdraw


def test_each_role_may_what_it_says():
    assert may(User(role=Role.READER), "read")
    assert not may(User(role=Role.READER), "add_evidence")
    assert may(User(role=Role.TECHNICIAN), "add_evidence")
    assert not may(User(role=Role.TECHNICIAN), "withdraw_any")
    assert may(User(role=Role.LEAD), "withdraw_any")
    assert set(ALLOWED) == set(Role.values)


def test_what_is_not_named_is_denied():
    assert not may(User(role=Role.LEAD), "sell_the_yard")
    assert not may(User(role="visitor"), "read")
    assert not may(User(role=Role.LEAD, is_active=False), "read")
    assert not may(AnonymousUser(), "read")
    with pytest.raises(PermissionDenied, match="may not add evidence"):
        require(User(role=Role.READER), "add_evidence")


def test_one_withdraws_ones_own_and_a_lead_anyones():
    technician, lead = User(pk=1, role=Role.TECHNICIAN), User(pk=2, role=Role.LEAD)
    require_withdraw(technician, 1)
    require_withdraw(lead, 1)
    with pytest.raises(PermissionDenied):
        require_withdraw(technician, 2)
