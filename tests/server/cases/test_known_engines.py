from fairwitness.server.cases.known_engines import suggest


def test_own_engines_come_first(case):
    found = suggest("drov")
    assert [f["label"] for f in found] == ["Hollin Drover 2.0"]
    assert found[0]["own"]
    assert found[0]["engine"]["firing_order"] == [1, 3, 4, 2]


def test_common_orders_are_offered(db):
    assert any(f["engine"]["cylinders"] == 8 for f in suggest("v8"))
    assert suggest("zeppelin") == []
