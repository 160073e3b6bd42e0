import os

import pytest

from fairwitness.core.errors import InstrumentError
from fairwitness.instruments.inbox import Inbox


@pytest.fixture
def folder(tmp_path):
    inside = tmp_path / "inbox"
    inside.mkdir()
    (tmp_path / "secret.csv").write_text("a,b\n1,2\n")
    (inside / "one.csv").write_text("t,v\n0,1\n")
    (inside / "two.CSV").write_text("t,v\n0,2\n")
    (inside / "notes.doc").write_text("no")
    (inside / ".hidden.csv").write_text("no")
    (inside / "empty.csv").write_text("")
    (inside / "large.csv").write_text("x" * 5000)
    (inside / "linked.csv").symlink_to(tmp_path / "secret.csv")
    for number, name in enumerate(("one.csv", "two.CSV")):
        os.utime(inside / name, (1000 + number, 1000 + number))
    return inside


def test_complete_files_of_a_known_kind_are_offered_newest_first(folder):
    assert [f.name for f in Inbox(folder, bytes_max=1000).waiting(now=9e9)] == ["two.CSV", "one.csv"]


def test_a_file_still_being_written_is_not_offered(folder):
    assert [f.name for f in Inbox(folder, bytes_max=1000).waiting(now=1000.9)] == ["one.csv"]


def test_it_copies_what_it_offers(folder, tmp_path):
    Inbox(folder, bytes_max=1000).copy("one.csv", tmp_path / "copy")
    assert (tmp_path / "copy").read_bytes() == (folder / "one.csv").read_bytes() == b"t,v\n0,1\n"


@pytest.mark.parametrize(
    "name", ["../secret.csv", "/etc/passwd", "linked.csv", "large.csv", "nothing.csv", "", "..", "notes.doc", "a/b.csv"]
)
def test_nothing_outside_the_folder_can_be_read(folder, name, tmp_path):
    with pytest.raises(InstrumentError):
        Inbox(folder, bytes_max=1000).copy(name, tmp_path / "copy")
    assert not (tmp_path / "copy").exists()


def test_a_pipe_is_neither_offered_nor_waited_for(folder, tmp_path):
    os.mkfifo(folder / "endless.csv")
    box = Inbox(folder, bytes_max=1000)
    assert "endless.csv" not in [f.name for f in box.waiting(now=9e9)]
    with pytest.raises(InstrumentError):
        box.copy("endless.csv", tmp_path / "copy")


def test_a_folder_that_is_not_there_is_told(tmp_path):
    with pytest.raises(InstrumentError, match="not there"):
        Inbox(tmp_path / "nowhere", bytes_max=10)
