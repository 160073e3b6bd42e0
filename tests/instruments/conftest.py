import numpy as np
import pytest

from fairwitness.instruments.bay import Bay
from fairwitness.instruments.control_unit import ControlUnit
from fairwitness.instruments.scope_link import ScopeLink
from fairwitness.instruments.scope_stand_in import Scope, ScopeStandIn
from fairwitness.simulate.garage import ENGINES, build
from fairwitness.simulate.health import Fault


class Clock:
    """A clock that moves when it is told to."""

    def __init__(self) -> None:
        self.now = 100.0

    def __call__(self) -> float:
        return self.now

    def pass_s(self, seconds: float) -> None:
        self.now += seconds


@pytest.fixture
def clock():
    return Clock()


@pytest.fixture
def bay(clock):
    faults = (Fault("injector_open_circuit", (3,)),)
    return Bay(build(ENGINES["drover-2.0"], faults, rng=np.random.default_rng(1)), seed=1, clock=clock)


@pytest.fixture
def stand_in(bay, clock):
    served = ScopeStandIn(Scope(bay, clock=clock))
    yield served
    served.close()


@pytest.fixture
def link(stand_in):
    connected = ScopeLink(stand_in.address, time_out_ms=1500)
    yield connected
    connected.close()


@pytest.fixture
def unit(bay, request):
    answering = ControlUnit(bay, channel=f"test-{request.node.nodeid}")
    answering.channel = f"test-{request.node.nodeid}"
    yield answering
    answering.close()
