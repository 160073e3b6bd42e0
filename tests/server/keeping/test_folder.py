"""The folder of a workshop is made once, closed to others, and keeps its secret."""

import stat

from fairwitness.server.keeping.folder import prepare, secret_of


def test_a_folder_is_closed_to_others_and_keeps_its_secret(tmp_path):
    folder = tmp_path / "deep" / "shop"
    prepare(folder)
    first = secret_of(folder)
    prepare(folder)
    assert secret_of(folder) == first
    assert len(first) > 50
    assert stat.S_IMODE(folder.stat().st_mode) == 0o700
    assert stat.S_IMODE((folder / "secret").stat().st_mode) == 0o600


def test_where_nothing_was_prepared_nobody_can_guess_the_secret(tmp_path):
    assert secret_of(tmp_path) != secret_of(tmp_path)
    assert not list(tmp_path.iterdir())
