from fairwitness.core.model.capture import CaptureTest, EngineState, SetUp
from fairwitness.formats.set_up import read_set_up, set_up_block


def test_a_set_up_survives():
    set_up = SetUp(
        test=CaptureTest.RELATIVE_COMPRESSION,
        engine_state=EngineState.CRANKING,
        load="none",
        fuel_disabled=True,
        ignition_disabled=False,
        temperature="cold",
    )
    assert read_set_up(set_up_block(set_up)) == set_up


def test_what_is_not_known_is_not_recorded():
    odd = {"test": "seance", "engine_state": 7, "fuel_disabled": "yes", "temperature": ""}
    assert read_set_up(odd) == SetUp()
    assert read_set_up("nonsense") == SetUp()
