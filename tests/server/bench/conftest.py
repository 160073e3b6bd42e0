import pytest

from fairwitness.server.bench.session import BENCHES


@pytest.fixture(autouse=True)
def fast(settings):
    settings.BENCH_PACE = 25.0
    yield
    for bench in list(BENCHES._sessions.values()):
        bench.clear()
    BENCHES._sessions.clear()
